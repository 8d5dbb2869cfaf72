#!/usr/bin/env python3
"""Meals: a portion changed at a table of 12 dishes and 10 eaters; a library of 10,000 dishes against four people; a week planned from 300
dishes; seven dishes in one oven. Wanted: p95 < 150 ms; < 1 s; < 5 s of CPU for one, < 15 s for four.

    DATABASE_URL=$(bin/pg start) .venv/bin/python benchmarks/tables.py [--check]

Runs inside a transaction that is rolled back: nothing stays in the database.
"""

import random
import statistics
import sys
import time
from datetime import date

import numpy as np
from django.db import connection
from django.test.utils import CaptureQueriesContext
from goals import Goals
from stage import ROOT, brought_in, somebody, staged

from meals import actions
from meals.models import Occasion
from nutrition.limits.eater import Eater
from nutrition.limits.plans import PLANS, Facts, targets_for
from nutrition.meals.library import Guest, fits, held, shelf
from nutrition.meals.oven import timeline
from nutrition.meals.planned import Asked, Candidate, Diner
from nutrition.meals.planner import plan
from nutrition.meals.suits import meals_for
from nutrition.meals.table import Served
from nutrition.reading.recipe import read_recipe
from recipes import library
from recipes.models import Recipe, Worked

TEXTS = [path.read_text() for path in sorted((ROOT / "demo" / "recipes").glob("*.txt")) if "Serves" in path.read_text()]
FOLLOWED = [
    ("kidney",),
    ("low-sodium", "heart"),
    ("diabetes",),
    ("gluten-free",),
    ("free-of:milk",),
    ("low-fodmap",),
    (),
    ("vegetarian",),
    ("low-carb",),
    ("free-of:egg",),
]
CHANGES, MANY, PLANNED, DAYS = 200, 10_000, 300, 7
#: Whose weeks are planned.
WEEKS = (("low-sodium", "heart"), ("diabetes",), ("kidney",), ("kidney", "diabetes"))
goals = Goals()


def eater(keys):
    facts = Facts(weight_kg=70, energy_kcal=2000, plans=tuple(keys))
    return Eater(
        facts, {key: PLANS[key].choose({}) for key in keys}, tuple(t for key in keys for t in targets_for(key, facts))
    )


def cpu(work):
    started = time.process_time()
    found = work()
    return found, time.process_time() - started


def at_the_table(client, user):
    recipes = [brought_in(text, user) for text in TEXTS[:12]]
    occasion = actions.begin(date(2027, 1, 1), "dinner", "", "", user)
    for number, keys in enumerate(FOLLOWED):
        actions.seat_person(Occasion.objects.get(pk=occasion.pk), None, somebody(f"P{number}", keys, user), user)
    for recipe in recipes:
        actions.add_recipe(Occasion.objects.get(pk=occasion.pk), None, recipe)
    seats, dishes, chance = list(occasion.seats.all()), list(occasion.dishes.all()), random.Random(7)
    runs = []

    def portion():
        seat, dish, words = chance.choice(seats), chance.choice(dishes), f"{chance.randint(1, 60)}/20"
        version = Occasion.objects.get(pk=occasion.pk).version
        data = {"act": "portion", "seat": seat.pk, "dish": dish.pk, "words": words, "version": version}
        started = time.perf_counter()
        answer = client.post(f"/meals/{occasion.pk}/change/", data, headers={"HX-Request": "true"})
        runs.append(time.perf_counter() - started)
        assert answer.status_code == 200, answer.content[:300]
        return answer

    for _ in range(CHANGES + 10):
        portion()
    runs = runs[10:]
    with CaptureQueriesContext(connection) as asked:
        size = len(portion().content) // 1024
    what = f"a portion at a table of {len(recipes)} × {len(FOLLOWED)}"
    goals.say(
        f"{what}, median",
        1000 * statistics.median(runs[:CHANGES]),
        "ms",
        more=f"{len(asked)} queries, {size} kB",
    )
    goals.say("  p95", 1000 * statistics.quantiles(runs[:CHANGES], n=100)[94], "ms", most=150)


def in_the_library(practice, user):
    some = [held(read_recipe(text)) for text in TEXTS]
    whole = shelf([some[number % len(some)] for number in range(MANY)], ["whole"] * MANY)
    guests = [Guest(eater(keys)) for keys in FOLLOWED[:4]]
    _, seconds = cpu(lambda: fits(whole, guests, "dinner"))
    _, product = cpu(lambda: np.minimum(whole.spread[:, 2] @ np.ones((whole.spread.shape[2], 4), np.float32), 1))
    beside = f"{seconds / max(product, 1e-6):.0f} × one bare product"
    goals.say(f"{MANY:,} dishes against four, in the core", 1000 * seconds, "ms", more=beside)
    stamp = library.foods_stamp()
    recipes = Recipe.objects.bulk_create(
        [
            Recipe(title=f"Dish {number}", serves=4, is_read=True, created_by=user, practice=practice)
            for number in range(MANY)
        ]
    )
    rows = [library.packed(each.spread) for each in some]
    Worked.objects.bulk_create([
        Worked(recipe=recipe, practice=practice, of=recipe.changed_at, stamp=stamp, spread=rows[n % len(some)], contains=list(some[n % len(some)].contains),
               check_label=list(some[n % len(some)].check), flags=library.packed_flags(some[n % len(some)].flags), names=list(some[n % len(some)].names))
        for n, recipe in enumerate(recipes)
    ])  # fmt: skip
    started = time.perf_counter()
    library.fitting(guests, "dinner")
    goals.say(
        f"{MANY:,} dishes against four, with the database", time.perf_counter() - started, "s", most=0.8, digits=2
    )


def planned():
    rng, dishes = random.Random(5), []
    for number in range(PLANNED):
        dish = read_recipe(TEXTS[number % len(TEXTS)])
        dish = dish.with_lines(line.scaled(rng.uniform(0.6, 1.4)) for line in dish.lines)
        meals = meals_for(dish.kind, dish.title, "whole") or frozenset(["dinner"])
        dishes.append(Candidate(str(number), Served(dish), meals, rng.uniform(10, 60), rng.uniform(-1, 1)))
    for keys in WEEKS:
        asked = Asked([Diner("one", eater(keys))], dishes, days=DAYS, meals=("breakfast", "lunch", "dinner", "snack"))
        found, seconds = cpu(lambda asked=asked: plan(asked))
        what, came = (
            f"a week from {PLANNED} dishes, {' and '.join(keys)}",
            f"{len(found.choices)} places, proven: {found.is_proven}",
        )
        goals.say(what, seconds, "s of CPU", most=5, digits=1, more=came)
    four = [Diner(str(number), eater(keys)) for number, keys in enumerate(FOLLOWED[:4])]
    found, seconds = cpu(lambda: plan(Asked(four, dishes, days=DAYS, shared=frozenset(["dinner"]))))
    came = f"{len(found.choices)} places"
    goals.say("a household of four, one dinner for all", seconds, "s of CPU", most=15, digits=1, more=came)


def main():
    with staged() as stage:
        stage.client.get("/meals/")
        from opengate import wsgi  # noqa: F401 - loads and freezes what the server does

        at_the_table(stage.client, stage.user)
        in_the_library(stage.practice, stage.user)
    planned()
    served = [Served(read_recipe(text), "main") for text in TEXTS[:7]]
    timeline(served)
    _, seconds = cpu(lambda: timeline(served, 2))
    goals.say("seven dishes in one oven", 1000 * seconds, "ms", most=100)
    return goals.end()


if __name__ == "__main__":
    sys.exit(main())
