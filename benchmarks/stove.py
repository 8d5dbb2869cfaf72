#!/usr/bin/env python3
"""A tap at the stove, a card on paper, and every page over a year of records: 500 dishes, 3,000 tries, 2,000 cooks.

    DATABASE_URL=$(bin/pg start) .venv/bin/python benchmarks/stove.py [--check]

Runs inside a transaction that is rolled back: nothing stays in the database.
"""

import itertools
import statistics
import sys
import time
from datetime import timedelta

from django.db import connection
from django.http import QueryDict
from django.utils import timezone
from goals import Goals
from stage import somebody, staged

from bench.models import Bench, Decision, Edit, Try
from handouts import actions as handout_actions
from handouts.card import build
from handouts.checklist import label_rows, readiness_of
from handouts.forms import ReadinessForm
from handouts.paper import pdf_of
from handouts.tasks import card_of
from kitchen import actions
from kitchen.models import Cook, Tasting
from recipes.models import Recipe, RecipeLine

DISHES, TRIES, COOKS, TAPS = 500, 3000, 2000, 60


def year(practice, person, recipe, bench, user):
    """Copies of one dish, its tries and its cooks, spread over a year."""
    own = {"practice": practice}
    lines = list(recipe.lines.all())
    recipes = Recipe.objects.bulk_create(
        [
            Recipe(
                **own,
                title=f"Dish {n}",
                serves=4,
                steps=recipe.steps,
                kind=recipe.kind,
                is_read=True,
                changed_at=recipe.changed_at,
                created_by=user,
            )
            for n in range(DISHES)
        ]
    )
    for copy in recipes:
        for line in lines:
            line.pk, line.recipe = None, copy
        RecipeLine.objects.bulk_create(lines)
    people = [person]
    people += [somebody(f"Person {n}", ("kidney", "diabetes"), user) for n in range(39)]
    benches = Bench.objects.bulk_create(
        [Bench(**own, recipe=r, person=people[n % 40], written=bench.written) for n, r in enumerate(recipes)]
    )
    # One dish has had far more tries and cooks than the others: its pages are the slowest there are.
    owner = [benches[0]] * 40 + [benches[n % DISHES] for n in range(TRIES - 40)]
    tries = Try.objects.bulk_create([Try(**own, bench=b, name=f"Try {n}") for n, b in enumerate(owner)])
    Edit.objects.bulk_create(
        [Edit(**own, attempt=t, number=0, summary="started", dish=bench.written, made_by=user) for t in tries]
    )
    began = timezone.now() - timedelta(days=365)
    results = Try.objects.bulk_create([Try(**own, bench=t.bench, name=f"Cooked {t.pk}") for t in tries[:COOKS]])
    Edit.objects.bulk_create(
        [Edit(**own, attempt=t, number=0, summary="as cooked", dish=bench.written, made_by=user) for t in results]
    )
    cooks = Cook.objects.bulk_create(
        [
            Cook(**own, attempt=t, result=r, plan=bench.written, serves_cooked=4, started_by=user,
                 started_at=began + timedelta(hours=4 * n), finished_at=began + timedelta(hours=4 * n + 1), cooked_g=1800)
            for n, (t, r) in enumerate(zip(tries, results, strict=False))
        ]
    )  # fmt: skip
    Tasting.objects.bulk_create(
        [Tasting(**own, cook=c, taster=f"T{k}", taste=7, ease=6) for c in cooks for k in range(2)]
    )
    Decision.objects.bulk_create(
        [Decision(**own, attempt=c.attempt, choice="keep", reason="good", decided_by=user) for c in cooks[: COOKS - 30]]
    )
    return benches[0], tries[0], cooks[0], recipes[0]


def timed(call, times=5):
    call()
    runs = []
    for _ in range(times):
        started = time.perf_counter()
        call()
        runs.append(1000 * (time.perf_counter() - started))
    return runs


def main():
    goals = Goals()
    with staged("kidney", "diabetes", "low-sodium", "gluten-free") as stage:
        practice, user, client, bench = stage.practice, stage.user, stage.client, stage.bench
        busy, a_try, a_cook, a_recipe = year(practice, stage.person, stage.recipe, bench, user)
        pot = actions.begin(stage.attempt, user)
        form = QueryDict(mutable=True)
        form.update({"portion": "a plate", "keep_days": "2", "freeze_months": "2"})
        for row in label_rows(build(a_cook.result), readiness_of(a_cook.result)):
            form[f"read-{row.key}"] = "on"
        handout_actions.make_sure(a_cook.result, ReadinessForm(form).made_sure(), user)
        with connection.cursor() as cursor:
            cursor.execute("ANALYZE")
        numbers = itertools.count()

        def tap():
            data = {
                "kind": "more",
                "key": bench.written.lines[0].key,
                "grams": "1",
                "step": "1",
                "token": f"t{next(numbers)}",
            }
            assert client.post(f"/kitchen/{pot.pk}/tap/", data, headers={"HX-Request": "true"}).status_code == 200

        taps = timed(tap, TAPS)
        what = f"a tap at the stove, {len(bench.written.lines)} lines, {TAPS} taps"
        goals.say(f"{what}, median", statistics.median(taps), "ms")
        goals.say("  p95", statistics.quantiles(taps, n=100)[94], "ms", most=100)
        card = card_of(a_cook.result)
        pdf_of(*card, "a4", "")
        goals.say(
            "the card as PDF, set anew", statistics.median(timed(lambda: pdf_of(*card, "a4", ""), 3)), "ms", most=2000
        )
        kept = timed(lambda: client.get(f"/card/{a_cook.result_id}/card.pdf"), 4)
        goals.say("  ... as it was kept", statistics.median(kept[1:]), "ms", most=100)
        print(f"pages over {DISHES} dishes, {TRIES} tries, {COOKS} cooks:")
        for path in (
            "/", "/people/", f"/people/{stage.person.pk}/", "/recipes/", f"/recipes/{a_recipe.pk}/", "/bench/", f"/bench/{busy.pk}/try/{a_try.pk}/",
            f"/bench/{busy.pk}/try/{a_try.pk}/compare/", "/kitchen/", f"/kitchen/{pot.pk}/?step=1", f"/kitchen/{a_cook.pk}/cooked/",
            f"/kitchen/{a_cook.pk}/taste/", f"/kitchen/tasted/{busy.pk}/", "/kitchen/lessons/", "/card/", f"/card/{a_cook.result_id}/",
            f"/card/{a_cook.result_id}/release/", f"/diary/{busy.pk}/", "/pantry/", "/find/?q=dish",
        ):  # fmt: skip
            runs = timed(lambda path=path: client.get(path))
            goals.say(f"  {path}", statistics.median(runs), "ms", most=300)
    return goals.end()


if __name__ == "__main__":
    sys.exit(main())
