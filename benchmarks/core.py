#!/usr/bin/env python3
"""Speed of the core, on one core, in one run.

    .venv/bin/python benchmarks/core.py [--check]

Prints: loading the table; a matched 25-line recipe analyzed; the same sum line by line in pandas; a
batch of 10,000 recipes against 200 people; parsing and matching a 20-line paste; food search.
"""

import os

os.environ.setdefault("OMP_NUM_THREADS", "1")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import statistics
import subprocess
import sys
import time
from dataclasses import replace
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from goals import Goals  # noqa: E402

from nutrition.dish.dish import Dish, keyed  # noqa: E402
from nutrition.dish.grams import Grams  # noqa: E402
from nutrition.dish.line import Line  # noqa: E402
from nutrition.food.nutrients import KEYS  # noqa: E402
from nutrition.food.table import foods  # noqa: E402
from nutrition.limits.eater import Eater  # noqa: E402
from nutrition.limits.gates import Target, gates_for  # noqa: E402
from nutrition.limits.plans import Facts, choose, targets_for  # noqa: E402
from nutrition.limits.tallies import Tally  # noqa: E402
from nutrition.reading import lines  # noqa: E402
from nutrition.reading.matching import matcher  # noqa: E402
from nutrition.reading.method import read_method  # noqa: E402
from nutrition.reading.recipe import read_line, read_recipe  # noqa: E402
from nutrition.sheet.analysis import Weighed, analyze_many, analyze_weighed, weighed  # noqa: E402
from nutrition.sheet.examine import examine  # noqa: E402
from nutrition.sheet.verdicts import fit_many, judge  # noqa: E402

TARGETS = [
    Target("sodium_mg", maximum=800, scope="serving"),
    Target("protein_g", 15, 30, "serving"),
    Target("potassium_mg", maximum=900),
]
STEW = (ROOT / "demo" / "recipes" / "fish-stew.txt").read_bytes()
MANY, PROCESSES, TURNS = 10_000, 5, 20


def timed(function, repeat):
    started = time.perf_counter()
    for _ in range(repeat):
        function()
    return (time.perf_counter() - started) / repeat


def percentile(values, share):
    return statistics.quantiles(values, n=100)[share - 1]


goals = Goals()
say = goals.say


def loading():
    code = (
        "import time, numpy\nfrom nutrition.food import table\n"
        "t = time.perf_counter(); table.foods(); print(time.perf_counter() - t)"
    )
    runs = [
        float(subprocess.run([sys.executable, "-c", code], cwd=ROOT, capture_output=True, text=True, check=True).stdout)
        for _ in range(PROCESSES)
    ]
    say(f"food table loaded (median of {PROCESSES} processes)", 1000 * statistics.median(runs), "ms", most=150)


def recipe_of(rng, size):
    rows = rng.integers(0, len(foods()), size)
    grams = rng.uniform(1, 400, size)
    lines_ = (
        Line("x", foods().ids[row], Grams.exactly(float(g)), "weight", "sure")
        for row, g in zip(rows, grams, strict=True)
    )
    return Dish("", 4.0, keyed(list(lines_)))


def everything_on():
    """A person with six plans and an own tally."""
    keys = ("kidney", "diabetes", "heart", "low-fodmap", "gluten-free", "free-of:tree_nut")
    facts = Facts(70, 2000, keys)
    plans = {key: choose(key, {}) for key in keys}
    targets = tuple(target for key in keys for target in targets_for(key, facts, plans[key]))
    return Eater(facts, plans, targets, tallies=(Tally("own", "Own", {"protein_g": 0.5}),))


def analysis(rng):
    import pandas

    recipe = recipe_of(rng, 25)
    arrays = weighed(recipe.lines)
    gates = gates_for(TARGETS)
    analyze_weighed(arrays, 4)
    ours = timed(lambda: analyze_weighed(arrays, 4), 4000)
    whole = timed(lambda: judge(gates, analyze_weighed(weighed(recipe.lines), 4)), 2000)
    table, rows, grams = foods().known, arrays.rows, arrays.grams[1]
    gathered = table[rows]
    bare = timed(lambda: grams @ gathered, 4000)
    gather = timed(lambda: grams @ table[rows], 4000)
    say("matched 25-line recipe analyzed, one core", 1 / ours, "a second", least=2000)
    say(
        "  ... of bare products with its gather, which is",
        ours / gather,
        "x",
        most=20,
        digits=1,
        more=f"{gather * 1e6:.1f} µs",
    )
    say("  ... of bare products alone, each", ours / bare, "x", digits=1, more=f"{bare * 1e6:.1f} µs")
    say("  the same from its lines, with three gates judged", 1 / whole, "a second")

    eater = everything_on()
    called = replace(recipe, title="Keto gluten-free pot")
    examine(called, eater)
    full = timed(lambda: examine(called, eater), 100)
    say("  with allergens, claims, cautions, tallies, safety", 1000 * full, "ms", digits=1)

    frame = pandas.DataFrame(foods().known, columns=list(KEYS), index=foods().ids)

    def line_by_line():
        total = pandas.Series(0.0, index=list(KEYS))
        for line in recipe.lines:
            total = total + frame.loc[line.food_id] * line.grams / 100 / 4
        return total

    theirs = timed(line_by_line, 40)
    np.testing.assert_allclose(line_by_line().to_numpy(), analyze_weighed(arrays, 4).amounts, rtol=1e-3)
    say("  times as fast as line by line in pandas", theirs / ours, "x", least=50)


def batch(rng):
    recipes = []
    for _ in range(MANY):
        size = int(rng.integers(6, 26))
        grams = rng.uniform(1, 400, size)
        recipes.append(Weighed(rng.integers(0, len(foods()), size), np.array([grams, grams, grams]), ()))
    people = [
        gates_for([Target(t.nutrient, t.minimum, t.maximum * rng.uniform(0.6, 1.6), t.scope) for t in TARGETS])
        for _ in range(200)
    ]
    started = time.perf_counter()
    low, _, most = analyze_many(recipes, [4.0] * len(recipes))
    fit = fit_many(low, most, people)
    say(f"{MANY:,} recipes against 200 people, one batch", time.perf_counter() - started, "s", most=1, digits=2)
    print(f"{'':4}{(fit == 1).mean():.1%} open, {(fit == 0).mean():.1%} can't tell, {(fit == -1).mean():.1%} shut")


PASTE = [
    "2 tbsp olive oil", "1 large onion, finely chopped", "3 cloves garlic, crushed", "500g beef mince", "2 carrots, diced",
    "2 celery stalks, sliced", "1 x 400g tin chopped tomatoes", "2 tbsp tomato paste", "1 cup red lentils", "4 cups chicken stock",
    "1 tsp dried oregano", "1 bay leaf", "a glug of red wine", "salt and pepper to taste", "1 (15 oz) can kidney beans, drained and rinsed",
    "2 medium potatoes, peeled and cubed", "½ cup grated cheddar", "a handful of parsley", "1 tbsp Worcestershire sauce", "200g frozen peas",
]  # fmt: skip


def reading():
    lines.warm()
    matcher()
    read_line("1 cup milk")
    runs = []
    for i in range(TURNS):
        texts = [f"{text}{' ' * i}" for text in PASTE]  # the cache of lines must not help
        started = time.perf_counter()
        for text in texts:
            read_line(text, 4)
        runs.append(time.perf_counter() - started)
    say("20-line paste parsed, matched and weighed, warm (p95)", 1000 * percentile(runs, 95), "ms", most=400)


def method():
    """Ten steps, as words nobody has read yet; and again with other amounts, as at every edit."""
    dish = read_recipe(STEW, 8)
    steps = (dish.steps * 10)[:10]
    read_method(replace(dish, steps=steps))
    new = [replace(dish, steps=tuple(f"{step}{' ' * turn}" for step in steps)) for turn in range(1, TURNS + 1)]
    other = [dish.with_lines(line.scaled(1 + turn / 9) for line in dish.lines) for turn in range(1, TURNS + 1)]
    for what, dishes in (("ten steps read", new), ("  the same with other amounts", other)):
        started = time.process_time()
        for each in dishes:
            read_method(each)
        say(what, 1000 * (time.process_time() - started) / TURNS, "ms of CPU", most=5, digits=1)


def search():
    words = [
        "oat",
        "brocoli",
        "chicken thigh",
        "parsn",
        "tinned tomatoes",
        "unsalted butter",
        "zzqq",
        "cheese",
        "rapeseed oil",
        "choclate",
        "b",
        "whole wheat flour",
    ]
    runs = []
    for _ in range(TURNS):
        for word in words:
            started = time.perf_counter()
            matcher().search(word, 15)
            runs.append(time.perf_counter() - started)
    say("food search (p95)", 1000 * percentile(runs, 95), "ms", most=30, digits=1)


def main():
    rng = np.random.default_rng(20)
    loading()
    analysis(rng)
    batch(rng)
    reading()
    method()
    search()
    return goals.end()


if __name__ == "__main__":
    sys.exit(main())
