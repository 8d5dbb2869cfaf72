"""Targets, posts, gates: the tightest wins, unknown never opens, conflicts are shown."""

import math

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given
from hypothesis import strategies as st

from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.food.nutrients import INDEX, KEYS
from nutrition.food.table import foods
from nutrition.limits.gates import MEAL_SHARES, Gate, Post, Target, gates_for
from nutrition.limits.plans import PLANS, Facts, choose, targets_for
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.verdicts import OPEN, SHUT, UNSURE, fit_many, judge, state_of


def gate(low=None, high=None):
    target = Target("sodium_mg", low, high, "serving")
    post = [None if limit is None else Post(limit, target, "dinner", 1.0) for limit in (low, high)]
    return Gate("sodium_mg", *post)


limits = st.one_of(st.none(), st.floats(0, 5000))
targets = st.builds(
    lambda key, a, b, scope: Target(key, min(a, b), max(a, b), scope),
    st.sampled_from(["sodium_mg", "protein_g"]), st.floats(0, 900), st.floats(0, 900), st.sampled_from(["day", "meal", "serving"]),
)  # fmt: skip


class States(SimpleTestCase):
    def test_ladder_around_a_maximum(self):
        for least, most, state in (
            (0, 599, OPEN), (0, 600, OPEN), (599, 601, UNSURE), (600, 600, OPEN), (601, 700, SHUT), (0, math.inf, UNSURE),
            (601, math.inf, SHUT),
        ):  # fmt: skip
            self.assertEqual(state_of(gate(high=600), least, most), state, (least, most))

    def test_ladder_around_a_minimum(self):
        for least, most, state in (
            (0, 9, SHUT),
            (10, 12, OPEN),
            (9, 11, UNSURE),
            (9, math.inf, UNSURE),
            (10, math.inf, OPEN),
        ):
            self.assertEqual(state_of(gate(low=10), least, most), state, (least, most))

    def test_range(self):
        for least, most, state in ((15, 24, OPEN), (14, 20, UNSURE), (20, 25, UNSURE), (1, 14, SHUT), (25, 30, SHUT)):
            self.assertEqual(state_of(gate(15, 24), least, most), state, (least, most))

    @given(limits, limits, st.floats(0, 5000), st.floats(0, 5000), st.floats(0, 5000))
    def test_more_unknown_never_opens(self, low, high, a, b, more):
        assume(low is not None or high is not None)
        assume(low is None or high is None or low <= high)
        least, most = min(a, b), max(a, b)
        narrow, wide = state_of(gate(low, high), least, most), state_of(gate(low, high), least, most + more)
        if wide == OPEN:
            self.assertEqual(narrow, OPEN)

    def test_unknown_line_keeps_the_gate_from_opening(self):
        milk = foods().by_description("Milk, whole").id
        lines = [Line("milk", milk, Grams.exactly(100), "weight", "sure"), Line("?")]
        (verdict,) = judge(gates_for([Target("sodium_mg", maximum=600, scope="serving")]), analyze_lines(lines, 1))
        self.assertEqual((verdict.state, verdict.unknown_lines), (UNSURE, (1,)))


class Several(SimpleTestCase):
    @given(st.lists(targets, min_size=1, max_size=6), st.sampled_from(sorted(MEAL_SHARES)))
    def test_the_tightest_post_is_never_looser_than_any_plan(self, many, meal):
        for together in gates_for(many, meal):
            for alone in gates_for([t for t in many if t.nutrient == together.nutrient], meal):
                self.assertIsNotNone(alone.high)
            for one in (t for t in many if t.nutrient == together.nutrient):
                (single,) = gates_for([one], meal)
                self.assertLessEqual(together.high.limit, single.high.limit)
                if single.low is not None:
                    self.assertGreaterEqual(together.low.limit, single.low.limit)

    @given(st.floats(1, 5000), st.sampled_from(sorted(MEAL_SHARES)))
    def test_what_a_day_asks_for_is_no_duty_of_a_snack(self, least, meal):
        of_a_day = gates_for([Target("protein_g", minimum=least)], meal)
        self.assertEqual(of_a_day == [], meal == "snack")
        (asked,) = gates_for([Target("protein_g", minimum=least, scope="meal", meal=meal)], meal)
        self.assertEqual(asked.low.limit, least)

    def test_owner_is_named(self):
        many = targets_for("low-sodium", Facts(), {"sodium": "aha"}) + targets_for("kidney", Facts())
        sodium = next(g for g in gates_for(many) if g.nutrient == "sodium_mg")
        self.assertEqual(sodium.high.target.plan, "low-sodium")
        self.assertAlmostEqual(sodium.high.limit, 1500 * 0.35)
        self.assertIn("1,500 mg a day, 35% of it at dinner", sodium.source)

    def test_a_range_names_its_source_once(self):
        (one,) = gates_for([Target("protein_g", 40, 60, "day", "Kidney", "letter")])
        self.assertEqual(one.source, "Kidney: 40 to 60 g a day, 35% of it at dinner (letter)")

    def test_conflict_is_shown_and_shut(self):
        many = [Target("protein_g", minimum=30, scope="serving"), Target("protein_g", maximum=20, scope="serving")]
        (both,) = gates_for(many)
        self.assertTrue(both.is_conflict)
        self.assertEqual(state_of(both, 25, 25), SHUT)

    def test_scope(self):
        for scope, expected in (("day", 175.0), ("meal", 500.0), ("serving", 500.0)):
            (one,) = gates_for([Target("sodium_mg", maximum=500, scope=scope)], "dinner")
            self.assertAlmostEqual(one.high.limit, expected)

    def test_target_of_another_meal_does_not_count(self):
        self.assertEqual(gates_for([Target("carbohydrate_g", 15, 20, "meal", meal="snack")], "dinner"), [])

    def test_refusals(self):
        for fields in (
            {"nutrient": "salt", "maximum": 1}, {"nutrient": "sodium_mg"}, {"nutrient": "sodium_mg", "maximum": -1},
            {"nutrient": "sodium_mg", "minimum": 5, "maximum": 1}, {"nutrient": "sodium_mg", "maximum": 1, "scope": "week"},
            {"nutrient": "sodium_mg", "maximum": float("nan")},
        ):  # fmt: skip
            with self.assertRaises(ValueError):
                Target(**fields)
        with self.assertRaises(ValueError):
            gates_for([], "brunch")

    def test_batch_agrees_with_one_by_one(self):
        rng = np.random.default_rng(7)
        least = rng.uniform(0, 900, (40, len(KEYS)))
        most = least + rng.uniform(0, 300, least.shape)
        people = [
            gates_for([Target("sodium_mg", maximum=500, scope="serving")]),
            gates_for([Target("protein_g", 100, 800, "serving")]),
        ]
        found = fit_many(least, most, people)
        number = {OPEN: 1, UNSURE: 0, SHUT: -1}
        for column, gates in enumerate(people):
            key = INDEX[gates[0].nutrient]
            for row in range(len(least)):
                self.assertEqual(found[row, column], number[state_of(gates[0], least[row, key], most[row, key])])


class Plans(SimpleTestCase):
    def one(self, key, nutrient, schools=None, **facts):
        return next(t for t in targets_for(key, Facts(**facts), schools) if t.nutrient == nutrient)

    def test_published_figures(self):
        # Dietary Guidelines for Americans 2020-2025; AHA; WHO 2012.
        for school, limit in (("guidelines", 2300), ("aha", 1500), ("who", 2000)):
            self.assertEqual(self.one("low-sodium", "sodium_mg", {"sodium": school}).maximum, limit)
        # KDOQI 2020: 0.55-0.60 g/kg, with diabetes 0.6-0.8; energy 25-35 kcal/kg. KDIGO 2024: 0.8 g/kg.
        protein = self.one("kidney", "protein_g", weight_kg=60)
        self.assertAlmostEqual(protein.minimum, 33)
        self.assertAlmostEqual(protein.maximum, 36)
        protein = self.one("kidney", "protein_g", weight_kg=60, plans=("kidney", "diabetes"))
        self.assertAlmostEqual(protein.maximum, 48)
        self.assertAlmostEqual(self.one("kidney", "protein_g", {"protein": "kdigo"}, weight_kg=60).maximum, 48)
        energy = self.one("kidney", "energy_kcal", weight_kg=60)
        self.assertEqual((energy.minimum, energy.maximum), (1500, 2100))
        # Common practice: 45-60 g carbohydrate at a main meal, 15-20 g a snack; 14 g fiber per 1,000 kcal.
        self.assertEqual(self.one("diabetes", "carbohydrate_g").maximum, 60)
        self.assertAlmostEqual(self.one("diabetes", "fiber_g", energy_kcal=2000).minimum, 28)

    def test_nothing_is_set_from_what_is_not_known(self):
        self.assertNotIn("protein_g", {t.nutrient for t in targets_for("kidney", Facts())})
        self.assertTrue(PLANS["kidney"].missing_of(Facts(), choose("kidney", {})))
        self.assertTrue(PLANS["diabetes"].missing_of(Facts(), choose("diabetes", {})))

    def test_every_plan_tells_its_sources(self):
        for plan in PLANS.values():
            self.assertTrue(plan.sources and plan.label and plan.summary)
            for target in targets_for(plan.key, Facts(70, 2000)):
                self.assertTrue(target.source)
                self.assertEqual(target.plan, plan.key)
            for school in plan.schools.values():
                self.assertIn(school.default, school.options)

    def test_impossible_facts_are_refused(self):
        for facts in ({"weight_kg": 0}, {"weight_kg": 700}, {"energy_kcal": 10}):
            with self.assertRaises(ValueError):
                Facts(**facts)

    def test_unknown_names_list_what_there_is(self):
        with self.assertRaisesRegex(ValueError, "low-sodium, kidney, kidney-dialysis"):
            choose("paleo", {})
        with self.assertRaisesRegex(ValueError, "guidelines, who, kdigo, aha"):
            choose("low-sodium", {"sodium": "none"})
