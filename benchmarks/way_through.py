#!/usr/bin/env python3
"""Time of offers for a line and of the way through a long dish with many gates.

.venv/bin/python benchmarks/way_through.py
"""

import sys
import time
from dataclasses import replace
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from nutrition.dish.dish import keyed  # noqa: E402
from nutrition.food.names import cook_name  # noqa: E402
from nutrition.limits.eater import Eater  # noqa: E402
from nutrition.limits.gates import Target  # noqa: E402
from nutrition.limits.plans import Facts, choose, targets_for  # noqa: E402
from nutrition.reading.page import from_text  # noqa: E402
from nutrition.reading.recipe import read_line, read_recipe  # noqa: E402
from nutrition.sheet.verdicts import OPEN  # noqa: E402
from nutrition.swaps.offers import Workbench, offers_for  # noqa: E402
from nutrition.swaps.options import options_of  # noqa: E402
from nutrition.swaps.rules import food_called, own_rule  # noqa: E402
from nutrition.swaps.way_through import Wish, ways_for  # noqa: E402

#: Foods that rules of the practice's own put in place of every line, so that some 300 things could be done to the dish.
POOL = (
    "turnip", "celeriac", "cauliflower", "zucchini", "pumpkin", "cabbage", "broccoli", "asparagus", "white rice", "quinoa",
    "pearl barley", "cod", "tilapia", "chicken breast", "firm tofu", "egg white", "canola oil", "unsalted butter",
    "plain yogurt", "lemon juice", "unsalted chicken stock", "water", "shallot", "ginger", "apple",
)  # fmt: skip
OWN_A_LINE = 9
MORE = ("2 carrots, sliced", "200 g green beans", "1 red pepper, sliced", "2 tbsp butter", "1 tbsp flour")


def bench():
    recipe = read_recipe(from_text((ROOT / "demo" / "recipes" / "fish-stew.txt").read_text()))
    lines = [replace(line, sure="sure", others=()) for line in recipe.lines]
    lines += [replace(read_line(text, 8), sure="sure", others=()) for text in MORE]
    keys = ("kidney", "diabetes", "heart")
    facts = Facts(75, 2100, keys)
    plans = {
        key: choose(key, {"potassium": "3000", "phosphorus": "1000", "protein": "kdigo"} if key == "kidney" else {})
        for key in keys
    }
    own = (Target("sugars_g", maximum=25, scope="serving"), Target("added_sugars_g", maximum=20, scope="serving"),
           Target("cholesterol_mg", maximum=200, scope="serving"), Target("fat_g", maximum=45, scope="serving"))  # fmt: skip
    targets = (*(t for key in keys for t in targets_for(key, facts, plans[key])), *own)
    dish = recipe.with_lines(keyed(lines))
    own_rules = []
    for number, line in enumerate(lines):
        for step in range(OWN_A_LINE):
            to = POOL[(number * 5 + step * 3) % len(POOL)]
            if food_called(to) != line.food_id:
                own_rules.append(own_rule(cook_name(line.food_id), "bulk", to, "", "", "", f"{number}-{step}"))
    return Workbench(dish, Eater(facts, plans, targets), "dinner", rules=tuple(own_rules))


def main():
    work = bench()
    offers_for(work, 0)
    started = time.perf_counter()
    for position in range(len(work.lines)):
        offers_for(work, position)
    print(f"offers for a line, mean {1000 * (time.perf_counter() - started) / len(work.lines):.0f} ms")
    candidates = len(options_of(work, Wish()))
    print(f"{len(work.lines)} lines, {len(work.gates)} gates, {candidates} candidates")
    for ways, wanted in ((1, "< 1 s"), (5, "< 4 s")):
        started = time.perf_counter()
        outcome = ways_for(work, Wish(ways=ways))
        spent = time.perf_counter() - started
        shut = sum(v.state != OPEN for way in outcome.ways for v in way.verdicts)
        print(
            f"{len(outcome.ways)} of {ways} ways, {shut} gates not open in them: {spent:.2f} s   wanted {wanted}   {outcome.note}"
        )


if __name__ == "__main__":
    main()
