#!/usr/bin/env python3
"""10,000 mutated imports and 10,000 mutated forms and addresses: each is answered, and none by a 500.

    DATABASE_URL=$(bin/pg start) .venv/bin/python benchmarks/mutations.py [--check] [--count N] [--seed N]

Runs inside a transaction that is rolled back. Prints what was answered, and the first of what fell over; `--check` exits
with 1 when anything did.
"""

import argparse
import collections
import json
import logging
import os
import random
import sys
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
os.environ["DJANGO_SETTINGS_MODULE"] = "opengate.settings.test"

import django  # noqa: E402

django.setup()

from django.core.files.uploadedfile import SimpleUploadedFile  # noqa: E402
from django.core.management import call_command  # noqa: E402
from django.db import transaction  # noqa: E402
from django.test import Client  # noqa: E402
from django.test.utils import setup_test_environment  # noqa: E402
from django.urls import reverse  # noqa: E402

from accounts.scope import within  # noqa: E402
from bench import actions as bench_actions  # noqa: E402
from kitchen import actions as kitchen_actions  # noqa: E402
from tests.web.base import finished_cook, made_release, make_person, make_practice, make_recipe  # noqa: E402

RECIPES = [path.read_text() for path in sorted((ROOT / "demo" / "recipes").glob("*.txt"))]
JSONS = [
    json.dumps({"@type": "Recipe", "name": "Pot", "recipeYield": y, "recipeIngredient": ["1 cup flour", "2 eggs"],
                "recipeInstructions": s})
    for y in ("4", 4, ["4", "4 servings"], {"value": 3}) for s in ("Stir.", ["Stir.", {"text": "Bake 5 min"}], None)
]  # fmt: skip
ODD = ["\x00", "\u00ad", "½", "1/0", "9" * 400, "<b>", "</script>", '{"', "[" * 50, "\ud83c", "é" * 90, "-", "1e999", "\u202e", "'", '"',
       "%s", "{{ 7*7 }}", "\n\n\n", "\t", "NaN", "Infinity", "٣", "²", "serves 0", "makes -4", "±", " or ", "plus", "(", ")"]  # fmt: skip


def mutated(text, chance):
    """The text with a few things cut, doubled, moved, or put in."""
    for _ in range(chance.randint(1, 6)):
        at, to = sorted((chance.randrange(len(text) + 1), chance.randrange(len(text) + 1)))
        to = min(to, at + 40)
        piece = text[at:to]
        way = chance.randrange(5)
        if way == 1:
            piece = text[at:to] * chance.randint(2, 30)
        elif way == 2:
            piece = chance.choice(ODD) + text[at:to]
        elif way == 3:
            piece = text[at:to][::-1]
        elif way == 4:
            piece = text[at:to].upper()
        text = text[:at] + (piece if way else "") + text[to:]
        text = text[:5000]
    return text


def main():
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--check", action="store_true")
    parser.add_argument("--count", type=int, default=10_000)
    parser.add_argument("--seed", type=int, default=26)
    asked = parser.parse_args()
    logging.disable(logging.CRITICAL)
    setup_test_environment()
    call_command("migrate", verbosity=0)
    fallen = mutate(asked.count, asked.seed)
    for where, sent in fallen[:5]:
        print("fell over:", where, repr(sent)[:400])
    print(f"{len(fallen)} of {2 * asked.count} fell over")
    return 1 if asked.check and fallen else 0


def mutate(count, seed):
    """So many imports, and so many forms and addresses. What fell over: (where, what was sent)."""
    chance = random.Random(seed)
    fallen = []
    with transaction.atomic():
        user = make_practice("Mutations", "mutations@example.org", "RD")
        client = Client(raise_request_exception=False)
        client.force_login(user, backend="allauth.account.auth_backends.AuthenticationBackend")
        with within(user.practice):
            person, recipe = make_person(user), make_recipe(user)
            bench, attempt = bench_actions.take_to_bench(recipe, person, "dinner", user)
            release = made_release(finished_cook(attempt, user).result, user)
            cook = kitchen_actions.begin(bench_actions.start_try(bench, None, user), user)
        answers, started, slowest = collections.Counter(), time.perf_counter(), 0.0
        for _ in range(count):
            text, began = mutated(chance.choice(RECIPES + JSONS), chance), time.perf_counter()
            with transaction.atomic():
                if chance.random() < 0.3:
                    body = text.encode("utf-8", "surrogatepass")
                    sent = {"file": SimpleUploadedFile("recipe", body if chance.random() < 0.7 else body[::2])}
                else:
                    sent = {"text": text.encode("utf-8", "replace").decode()}
                answer = client.post(reverse("recipes:import"), sent)
                transaction.set_rollback(True)
            slowest = max(slowest, time.perf_counter() - began)
            answers[answer.status_code] += 1
            if answer.status_code >= 500:
                fallen.append(("import", text))
        print(
            f"imports {dict(answers)}, {time.perf_counter() - started:.0f} s, the slowest {slowest:.2f} s", flush=True
        )
        edit = reverse("bench:edit", args=[bench.pk, attempt.pk])
        shapes = [
            (edit, {"act": ("amount", "food", "retype", "add", "serves", "state", "offer", "undo"), "line": ("w0", "w2"), "version": ("1", "2"),
                    "amount": ("1 tsp", "3 g"), "text": ("2 eggs",), "serves": ("4",), "food_id": ("curated:quark-low-fat",),
                    "state": ("drained",), "offer": ("salt-salty-drop",)}),
            (reverse("bench:keep", args=[bench.pk, attempt.pk]), {"name": ("A",), "notes": ("b",), "cooked": ("900",), "finished": ("yes",)}),
            (reverse("people:edit", args=[person.pk]), {"name": ("Imre",), "weight_kg": ("70",), "energy_kcal": ("2000",), "allergies": ("",)}),
            (reverse("people:add_target", args=[person.pk]), {"nutrient": ("sodium_mg",), "minimum": ("1",), "maximum": ("5",), "scope": ("day",),
                                                             "source": ("own",)}),
            (reverse("people:add_tally", args=[person.pk]), {"name": ("B",), "formula_text": ("protein_g / 2",), "step": ("0.5",), "rounding": ("up",)}),
            (reverse("kitchen:tap", args=[cook.pk]), {"kind": ("weighed", "more", "spent", "added", "skipped"), "key": ("w0", "salt"), "grams": ("5",),
                                                     "food_id": ("curated:quark-low-fat",), "token": ("t",), "step": ("1",)}),
            (reverse("kitchen:timer", args=[cook.pk]), {"label": ("t",), "minutes": ("5",), "step": ("1",), "token": ("t",)}),
            (reverse("handouts:release", args=[attempt.pk]), {"portion": ("a",), "keep_days": ("2",), "freeze_months": ("2",), "release": ("1",)}),
            (reverse("handouts:give_link", args=[release.pk]), {"days": ("30",), "for_whom": ("x",), "word": ("",)}),
            (reverse("recipes:reading", args=[recipe.pk]), {"title": ("A",), "serves": ("4",), "serving_grams": ("300",), "kind": ("stew",)}),
            (reverse("pantry:add_rule"), {"replaces": ("butter",), "job": ("fat",), "to": ("olive oil * 0.8",), "source": ("own",)}),
            (reverse("office:practice"), {"name": ("M",), "time_zone": ("",), "idle_minutes": ("30",), "keep_log_months": ("0",)}),
            (reverse("find"), {"q": ("oats",)}),
        ]  # fmt: skip
        pages = [attempt.get_absolute_url(), reverse("bench:compare", args=[bench.pk, attempt.pk]), reverse("office:log"), reverse("recipes:recipes"),
                 reverse("kitchen:stove", args=[cook.pk]), reverse("kitchen:lessons"), reverse("handouts:shopping", args=[attempt.pk]),
                 reverse("pantry:choose"), reverse("bench:table", args=[bench.pk, attempt.pk])]  # fmt: skip
        names = [
            "line",
            "watch",
            "order",
            "q",
            "page",
            "with",
            "per",
            "step",
            "times",
            "by",
            "act",
            "since",
            "size",
            "print",
        ]
        answers, started = collections.Counter(), time.perf_counter()
        for _ in range(count):
            with transaction.atomic():
                if chance.random() < 0.7:
                    address, fields = chance.choice(shapes)
                    sent = {
                        name: mutated(chance.choice(values) or "x", chance)
                        if chance.random() < 0.4
                        else chance.choice(values)
                        for name, values in fields.items()
                        if chance.random() < 0.9
                    }
                    answer = client.post(address, {k: v.encode("utf-8", "replace").decode() for k, v in sent.items()})
                else:
                    address = chance.choice(pages)
                    sent = {
                        chance.choice(names): mutated(chance.choice(["1", "sodium_mg", "w2", "share"]), chance)
                        for _ in range(3)
                    }
                    answer = client.get(
                        address, {k: v.encode("utf-8", "replace").decode()[:300] for k, v in sent.items()}
                    )
                transaction.set_rollback(True)
            answers[answer.status_code] += 1
            if answer.status_code >= 500:
                fallen.append((address, sent))
        print(f"forms and addresses {dict(answers)}, {time.perf_counter() - started:.0f} s")
        transaction.set_rollback(True)
    return fallen


if __name__ == "__main__":
    sys.exit(main())
