#!/usr/bin/env python3
"""Time of offers for a line, of the way through a long dish with many gates, of a no with its reasons, and of random
dishes of 5 to 80 lines; seconds of CPU of one core.

    .venv/bin/python benchmarks/way_through.py [--check] [--random SEED]
"""

import random
import sys
import time
from dataclasses import replace
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from goals import Goals  # noqa: E402

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
#: (how many ways, seconds of CPU wanted)
ASKED = ((1, 0.7), (5, 3))
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
    goals, work = Goals(), bench()
    offers_for(work, 0)
    started = time.perf_counter()
    for position in range(len(work.lines)):
        offers_for(work, position)
    goals.say("offers for a line, mean", 1000 * (time.perf_counter() - started) / len(work.lines), "ms", most=30)
    candidates = len(options_of(work, Wish()))
    print(f"{len(work.lines)} lines, {len(work.gates)} gates, {candidates} candidates")
    for ways, wanted in ASKED:
        outcome, spent = asked(work, ways)
        shut = sum(v.state != OPEN for way in outcome.ways for v in way.verdicts)
        what = f"{len(outcome.ways)} of {ways} ways, {shut} gates not open in them"
        goals.say(what, spent, "s of CPU", most=wanted, digits=2, more=outcome.note)
    wall = Target("potassium_mg", maximum=200, scope="serving")
    outcome, spent = asked(replace(work, eater=replace(work.eater, targets=(*work.eater.targets, wall))), 1)
    goals.say("no way, and why", spent, "s of CPU", most=3, digits=2, more=outcome.note)
    return goals.end()


def asked(work, ways, certain=True):
    """The outcome, and the seconds of CPU it took."""
    fresh = replace(work)  # nothing remembered of an earlier question
    started = time.process_time()
    outcome = ways_for(fresh, Wish(ways=ways, certain=certain))
    return outcome, time.process_time() - started


#: Plans of the eaters of random dishes.
EATERS = (
    ("heart", "low-sodium"), ("diabetes", "heart"), ("kidney", "diabetes"), ("kidney", "diabetes", "heart"),
    ("low-fodmap", "low-sodium"), ("weight", "diabetes", "heart"), ("kidney", "heart", "gluten-free"),
)  # fmt: skip


def random_dishes(seed):
    """Dishes of lines thrown together from the cases of felt.py: nothing a cook would cook, and hard for that."""
    from felt import cases  # the cases are read only when they are asked for

    rng = random.Random(seed)
    pool = [line for dish, *_ in cases() for line in dish.lines if line.is_weighed]
    pot = read_recipe(from_text("Big pot\nServes 8\n500 g potatoes\nMethod\nSimmer."))
    for count in (5, 10, 20, 30, 50, 80):
        for keys in rng.sample(EATERS, 3):
            lines = [replace(line, sure="sure", others=(), key="") for line in rng.choices(pool, k=count)]
            serves = max(4, round(sum(line.grams for line in lines) / 450))
            facts, plans = Facts(70, 2000, keys, age_years=50), {key: choose(key, {}) for key in keys}
            targets = tuple(t for key in keys for t in targets_for(key, facts, plans[key]))
            dish = replace(pot.with_lines(keyed(lines)), serves=serves)
            yield Workbench(dish, Eater(facts, plans, targets), "dinner"), keys


def at_random(seed):
    for work, keys in random_dishes(seed):
        outcome, spent = asked(work, 1, certain=False)
        changes = f"{len(outcome.ways[0].changes)} changes" if outcome.ways else "no way"
        proven = "proven" if outcome.ways and outcome.ways[0].is_proven else ""
        print(f"{len(work.lines):3} lines {len(work.gates):2} gates {spent:5.2f} s  {changes:10} {proven:6} "
              f"{' + '.join(keys)}  {outcome.note}")  # fmt: skip


if __name__ == "__main__":
    if sys.argv[1:2] == ["--random"]:
        at_random(int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    else:
        sys.exit(main())
