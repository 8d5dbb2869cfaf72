"""Plan for me: held against counting out on small days; laws that hold for any plan; a household with one dinner; no only when true."""

import itertools
import json
from unittest.mock import patch

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from nutrition.food.nutrients import INDEX
from nutrition.limits.eater import Eater
from nutrition.limits.gates import TOLERANCE, Target
from nutrition.limits.plans import PLANS, Facts, targets_for
from nutrition.meals import planner
from nutrition.meals.planned import Asked, Candidate, Diner, Fixed
from nutrition.meals.planner import plan
from nutrition.meals.room import of_one
from nutrition.meals.table import Served
from nutrition.reading.recipe import read_recipe
from tests.nutrition.test_cli import run

ANYWHERE = frozenset(["breakfast", "lunch", "dinner", "snack"])


def dish(key, *lines, meals=ANYWHERE, **more):
    return Candidate(key, Served(read_recipe(f"{key}\nServes 1\n" + "\n".join(lines))), frozenset(meals), **more)


RICE, CARROTS, CHICKEN = (
    dish("rice", "300 g cooked white rice"),
    dish("carrots", "250 g carrots", "1 g salt"),
    dish("chicken", "150 g cooked chicken breast", "1 g salt"),
)
BREAD, EGGS, CHEESE = (
    dish("bread", "100 g white bread"),
    dish("eggs", "150 g boiled egg"),
    dish("cheese", "60 g cheddar", "50 g white bread"),
)
SALTED = dish("salted", "200 g cooked white rice", "6 g salt")
SIX = (RICE, CARROTS, CHICKEN, BREAD, EGGS, CHEESE)


def diner(*targets, plans=(), never=()):
    return Diner(
        "Ada", Eater(Facts(), {key: PLANS[key].choose({}) for key in plans}, tuple(targets), noted=tuple(never))
    )


def totals(asked, found, day, who=0):
    """What somebody eats on a day, (3, nutrients)."""
    by_key = {each.key: each for each in asked.candidates}
    total = sum(
        (each.spread for each in asked.fixed if (each.day, each.diner) == (day, who)), np.zeros((3, len(INDEX)))
    )
    for choice in found.choices:
        if (choice.day, choice.diner) == (day, who):
            parts = [
                (by_key[choice.key].served.analysis, choice.servings),
                *((of_one(food.one), count) for food, count in choice.beside),
            ]
            total = total + sum(count * np.array([one.at_least, one.amounts, one.at_most]) for one, count in parts)
    return total


class AgainstCountingOut(SimpleTestCase):
    """Two meals, six dishes, five portions each, nothing beside: every choice counted out. The plan costs no more than the best."""

    cases = (
        (Target("sodium_mg", maximum=900),),
        (Target("sodium_mg", maximum=1500), Target("energy_kcal", minimum=700, maximum=900)),
        (Target("protein_g", minimum=50), Target("potassium_mg", maximum=1200)),
        (Target("carbohydrate_g", minimum=40, maximum=70, scope="meal"), Target("sodium_mg", maximum=1500)),
        (Target("protein_g", minimum=500),),
    )

    def cost(self, meals):
        """As the planner counts it: a dish, what is new of its foods, a quarter off one."""
        price = {each.key: 1 + 0.6 * 20 / 60 + 0.02 * len(each.served.dish.lines) for each in SIX}
        return sum(price[each.key] + 0.06 * abs(portion - 1) * 4 for each, portion in meals)

    def is_through(self, targets, meals):
        for target in targets:
            spans = [
                [portion * each.served.analysis.interval(target.nutrient)[side] for each, portion in meals]
                for side in (0, 1)
            ]
            held = [(sum(spans[0]), sum(spans[1]))] if target.scope == "day" else list(zip(*spans, strict=True))
            for least, most in held:
                if (target.maximum and most > target.maximum * (1 + TOLERANCE)) or (
                    target.minimum and least < target.minimum * (1 - TOLERANCE)
                ):
                    return False
        return True

    def test_small_days(self):
        portions = [quarters / 4 for quarters in range(2, 7)]
        for targets in self.cases:
            through = [
                meals
                for pair in itertools.permutations(SIX, 2)
                for sizes in itertools.product(portions, repeat=2)
                if self.is_through(targets, meals := tuple(zip(pair, sizes, strict=True)))
            ]
            with patch.object(planner, "PLAIN_AT_ONCE", 0):
                found = plan(Asked([diner(*targets)], SIX, meals=("lunch", "dinner")))
            with self.subTest(targets):
                if not through:
                    self.assertEqual((found.choices, len(found.stuck)), ((), 1))
                    self.assertTrue(found.stuck[0].is_proven)
                    self.assertEqual(found.stuck[0].misses[0].gate.nutrient, "protein_g")
                    continue
                by_key = {each.key: each for each in SIX}
                chosen = tuple((by_key[choice.key], choice.servings) for choice in found.choices)
                self.assertTrue(self.is_through(targets, chosen), chosen)
                self.assertLessEqual(self.cost(chosen), min(map(self.cost, through)) * (1 + planner.BEST_WITHIN))


limits = st.lists(
    st.sampled_from([Target("sodium_mg", maximum=1500), Target("potassium_mg", maximum=1800), Target("energy_kcal", minimum=1200, maximum=1900), Target("protein_g", minimum=40, maximum=90), Target("carbohydrate_g", minimum=20, maximum=90, scope="meal")]),
    unique_by=lambda target: target.nutrient, max_size=4,
)  # fmt: skip


class Laws(SimpleTestCase):
    @given(limits, st.integers(1, 3), st.booleans())
    @settings(max_examples=15, deadline=None)
    def test_every_day_is_within_every_limit(self, targets, days, is_milk_out):
        asked = Asked([diner(*targets, plans=["free-of:milk"] if is_milk_out else ())], SIX, days=days)
        found = plan(asked)
        stuck = {each.day for each in found.stuck}
        for day in range(days):
            chosen = [choice for choice in found.choices if choice.day == day]
            if day in stuck:
                self.assertEqual(chosen, [])
                continue
            self.assertEqual(sorted(choice.meal for choice in chosen), ["breakfast", "dinner", "lunch"])
            # No dish twice on a day, but where nothing else would do: then the plan calls itself unproven.
            self.assertTrue(len({choice.key for choice in chosen}) == 3 or not found.is_proven)
            held = totals(asked, found, day)
            for target in targets:
                if target.scope == "day":
                    self.assertLessEqual(held[2, INDEX[target.nutrient]], (target.maximum or 9e9) + 1e-6)
                    self.assertGreaterEqual(held[0, INDEX[target.nutrient]], (target.minimum or 0) - 1e-6)
        if is_milk_out:
            self.assertNotIn("cheese", {choice.key for choice in found.choices})

    def test_a_locked_place_stays_and_counts(self):
        salty = np.array(
            [
                each * 1.0
                for each in (
                    SALTED.served.analysis.at_least,
                    SALTED.served.analysis.amounts,
                    SALTED.served.analysis.at_most,
                )
            ]
        )
        asked = Asked([diner(Target("sodium_mg", maximum=2600))], SIX, fixed=[Fixed(0, "lunch", 0, salty, ("salted",))])
        found = plan(asked)
        self.assertEqual({choice.meal for choice in found.choices}, {"breakfast", "dinner"})
        self.assertLessEqual(totals(asked, found, 0)[2, INDEX["sodium_mg"]], 2600 + 1e-6)
        tight = plan(Asked([diner(Target("sodium_mg", maximum=2000))], SIX, fixed=asked.fixed))
        self.assertEqual([miss.gate.nutrient for miss in tight.stuck[0].misses], ["sodium_mg"])

    def test_what_stands_and_nobody_knows_stops_no_plan(self):
        odd = dish("odd", "100 g flurbl", "100 g cooked white rice").served.analysis
        fixed = [Fixed(0, "lunch", 0, np.array([odd.at_least, odd.amounts, odd.at_most]), ("odd",))]
        found = plan(Asked([diner(Target("sodium_mg", maximum=2000))], SIX, fixed=fixed))
        self.assertEqual((len(found.choices), found.stuck), (2, ()))

    def test_work_is_bounded_and_what_was_not_searched_is_not_called_proven(self):
        many = [dish(f"dish {number}", f"{200 + number} g carrots", meals=["lunch", "dinner"]) for number in range(40)]
        found = plan(Asked([diner(Target("protein_g", minimum=400))], many, days=6, meals=("lunch", "dinner")))
        self.assertEqual([each.is_proven for each in found.stuck], [True] * planner.MOST_THOROUGH + [False] * 3)

    def test_nothing_to_fill_is_an_empty_plan(self):
        self.assertEqual(plan(Asked([diner()], SIX, days=0)).choices, ())

    def test_what_a_label_decides_is_said_with_the_choice(self):
        oats = dish("oats", "80 g rolled oats", "200 ml water")
        found = plan(Asked([diner(plans=["gluten-free"])], [oats], meals=("breakfast",)))
        self.assertEqual([choice.by_label for choice in found.choices], [("gluten",)])
        self.assertEqual(plan(Asked([diner()], [oats], meals=("breakfast",))).choices[0].by_label, ())

    def test_twice_the_same_is_better_than_nothing(self):
        found = plan(Asked([diner(Target("sodium_mg", maximum=2000))], [RICE], meals=("lunch", "dinner")))
        self.assertEqual(([choice.key for choice in found.choices], found.stuck), (["rice", "rice"], ()))
        self.assertFalse(found.is_proven)

    def test_without_a_dish_that_suits_a_place_the_place_is_named(self):
        [stuck] = plan(Asked([diner()], [dish("dinner only", "200 g carrots", meals=["dinner"])])).stuck
        self.assertEqual((stuck.meal, stuck.misses, stuck.is_proven), ("breakfast", (), True))

    def test_what_is_noted_and_disliked_never_comes(self):
        found = plan(Asked([diner(never=("carrot", "egg"))], SIX, days=2))
        self.assertFalse({"carrots", "eggs"} & {choice.key for choice in found.choices})

    def test_what_nobody_knows_is_planned_where_it_decides_nothing_only(self):
        odd = dish("odd", "100 g flurbl", "100 g cooked white rice", liked=1.0)
        asked = Asked([diner(Target("sodium_mg", maximum=2000))], [odd, *SIX])
        self.assertNotIn("odd", {choice.key for choice in plan(asked).choices})


class Wishes(SimpleTestCase):
    def keys(self, *candidates, **more):
        return [choice.key for choice in plan(Asked([diner()], candidates, meals=("dinner",), **more)).choices]

    def test_the_liked_one_comes(self):
        self.assertEqual(self.keys(RICE, dish("loved", "300 g cooked white rice", liked=1.0)), ["loved"])

    def test_variety_over_days(self):
        self.assertEqual(len(set(self.keys(*SIX, days=6))), 6)

    def test_little_work_on_a_day_without_time(self):
        slow, quick = dish("slow", "300 g carrots", minutes=90, liked=0.6), dish("quick", "300 g carrots", minutes=10)
        self.assertEqual(self.keys(slow, quick, days=1), ["quick"])
        self.assertEqual(self.keys(slow, quick, days=1, free_minutes={0: 120}), ["slow"])

    def test_what_is_left_over_makes_no_work(self):
        left = dish("left", "300 g carrots", minutes=60, left=2.0)
        self.assertEqual(self.keys(left, dish("new", "300 g carrots", minutes=60), days=1), ["left"])

    def test_another_one_is_another_one(self):
        first = self.keys(*SIX, days=1)
        self.assertNotEqual(self.keys(*SIX, days=1, not_again=frozenset([(0, "dinner", first[0])])), first)


class CommandLine(SimpleTestCase):
    recipes = (
        "demo/recipes/pear-oats.txt",
        "demo/recipes/lentil-soup.txt",
        "demo/recipes/cod-tray.txt",
        "demo/recipes/barley-pilaf.txt",
    )

    def test_days_from_recipes(self):
        done = run("plan", *self.recipes, "--days", "2", "--diet", "low-sodium", "--json")
        self.assertEqual(done.returncode, 0, done.stderr)
        said = json.loads(done.stdout)
        self.assertTrue(said["solved"])
        self.assertEqual(
            [(each["day"], each["meal"]) for each in said["choices"]],
            [(day, meal) for day in (1, 2) for meal in ("breakfast", "lunch", "dinner")],
        )
        self.assertEqual({each["dish"] for each in said["choices"] if each["meal"] == "breakfast"}, {1})

    def test_what_cannot_be_is_said_with_what_the_nearest_misses(self):
        done = run("plan", *self.recipes, "--target", "sodium_mg<=1", "--json")
        said = json.loads(done.stdout)
        self.assertFalse(said["solved"])
        self.assertEqual(said["stuck"][0]["misses"][0]["nutrient"], "sodium_mg")

    def test_bad_input_is_one_line(self):
        for arguments, words in (
            (("--days", "2"), "paths of recipes"),
            ((self.recipes[0], "--days", "99"), "--days 99"),
            ((self.recipes[0], "--meals", "brunch"), "brunch"),
            ((self.recipes[0], "--suits", "1=tea"), "tea"),
        ):
            with self.subTest(arguments):
                done = run("plan", *arguments)
                self.assertEqual((done.returncode, done.stdout, len(done.stderr.splitlines())), (2, "", 1), done.stderr)
                self.assertIn(words, done.stderr)


class Household(SimpleTestCase):
    """Four at one dinner: kidney, low sodium, free of milk, and a child without limits; each with a day of their own around it."""

    def diners(self):
        kidney, sodium = (
            list(targets_for(key, Facts(weight_kg=70, energy_kcal=2000))) for key in ("kidney", "low-sodium")
        )
        return [
            diner(*[t for t in kidney if t.nutrient in ("potassium_mg", "sodium_mg")], plans=["kidney"]),
            diner(*sodium),
            diner(plans=["free-of:milk"]),
            diner(),
        ]

    def test_one_dinner_and_four_days(self):
        asked = Asked(self.diners(), SIX, days=2, shared=frozenset(["dinner"]))
        found = plan(asked)
        self.assertEqual(found.stuck, ())
        for day in range(2):
            self.assertEqual(
                len({choice.key for choice in found.choices if (choice.day, choice.meal) == (day, "dinner")}), 1
            )
            for who in range(4):
                self.assertEqual(
                    len([choice for choice in found.choices if (choice.day, choice.diner) == (day, who)]), 3
                )
            held = totals(asked, found, day, 0)
            self.assertLessEqual(held[2, INDEX["potassium_mg"]], 2000 + 1e-6)
        self.assertNotIn(
            "cheese", {choice.key for choice in found.choices if choice.diner == 2 or choice.meal == "dinner"}
        )
