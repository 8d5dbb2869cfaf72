"""What must hold for any dish and any person, tried with hypothesis."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from nutrition.dish.cooking import kept, methods, methods_for
from nutrition.dish.dish import Dish
from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.food import units
from nutrition.food.nutrients import KEYS
from nutrition.food.table import foods
from nutrition.food.tags import CONTAINS, TAGS
from nutrition.limits.avoid import find
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target, gates_for
from nutrition.limits.plans import PLANS, Facts, choose, targets_for
from nutrition.limits.tallies import ROUNDINGS, Tally, rounded
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.counting import count
from nutrition.sheet.examine import examine
from nutrition.sheet.verdicts import OPEN, judge

FEW = settings(max_examples=50, deadline=None)


def line_of(row, grams, state=""):
    food = foods().food(row)
    return Line(food.description, food.id, Grams.exactly(grams), "weight", "sure", state=state)


any_row = st.integers(0, len(foods()) - 1)
any_line = st.builds(line_of, any_row, st.floats(0.5, 800))
dishes = st.lists(any_line, min_size=1, max_size=8)
limits = st.floats(0.1, 5000)
some_key = st.sampled_from(["sodium_mg", "potassium_mg", "protein_g", "lactose_g", "oligosaccharide_load"])
some_targets = st.lists(st.builds(lambda key, most: Target(key, maximum=most, plan="A"), some_key, limits), max_size=6)


def contained(lines):
    return {finding.tag for finding in find(lines, TAGS) if finding.verdict == CONTAINS}


class Allergens(SimpleTestCase):
    @FEW
    @given(dishes, any_line)
    def test_adding_a_line_never_lowers_a_contains(self, lines, more):
        self.assertLessEqual(contained(lines), contained([*lines, more]))

    @FEW
    @given(dishes)
    def test_order_does_not_matter(self, lines):
        self.assertEqual(contained(lines), contained(lines[::-1]))

    @FEW
    @given(any_line, st.sampled_from(["gluten-free", "dairy-free", "vegan"]))
    def test_calling_it_free_never_takes_a_finding_away(self, line, words):
        called = replace(line, text=f"{words} {line.text}")
        self.assertLessEqual({f.tag for f in find([line], TAGS)}, {f.tag for f in find([called], TAGS)})


class Gates(SimpleTestCase):
    @FEW
    @given(dishes, some_targets)
    def test_a_line_without_food_never_opens_a_gate(self, lines, targets):
        unknown = Line("a mystery")
        for verdict in judge(gates_for(targets), analyze_lines([*lines, unknown], 2)):
            self.assertNotEqual(verdict.state, OPEN)

    @FEW
    @given(dishes, some_targets, any_row)
    def test_what_it_may_be_never_opens_a_gate(self, lines, targets, other):
        gates = gates_for(targets)
        sure = {v.gate.nutrient: v.state for v in judge(gates, analyze_lines(lines, 2))}
        doubt = replace(lines[0], sure="check", others=(foods().ids[other],))
        for verdict in judge(gates, analyze_lines([doubt, *lines[1:]], 2)):
            if verdict.state == OPEN:
                self.assertEqual(sure[verdict.gate.nutrient], OPEN)

    @FEW
    @given(some_targets, some_targets)
    def test_the_tightest_post_is_never_looser_than_either_plan(self, ones, others):
        together = {gate.nutrient: gate.high.limit for gate in gates_for([*ones, *others])}
        for alone in (ones, others):
            for gate in gates_for(alone):
                self.assertLessEqual(together[gate.nutrient], gate.high.limit)

    @FEW
    @given(st.sampled_from(sorted(PLANS)), st.sampled_from(sorted(PLANS)), st.floats(30, 150), st.floats(1200, 3500))
    def test_any_two_plans_combine(self, first, second, weight, energy):
        facts = Facts(weight, energy, (first, second))
        plans = {key: choose(key, {}) for key in (first, second)}
        targets = tuple(t for key in plans for t in targets_for(key, facts, plans[key]))
        eater = Eater(facts, plans, targets)
        for gate in eater.gates("dinner"):
            highs = [
                t.maximum * 0.35 for t in targets if t.nutrient == gate.nutrient and t.scope == "day" and t.maximum
            ]
            for high in highs:
                self.assertLessEqual(gate.high.limit, high * 1.000001)
            if gate.is_conflict:
                self.assertTrue(any(gate.nutrient in c.nutrients for c in eater.conflicts()))


class Sheets(SimpleTestCase):
    EATER = Eater(
        Facts(60, 1900, ("kidney", "diabetes", "gluten-free")),
        {key: choose(key, {}) for key in ("kidney", "diabetes", "gluten-free")},
    )

    @FEW
    @given(dishes, st.floats(1, 12), st.floats(0.1, 20))
    def test_scaling_leaves_everything_said_of_a_serving(self, lines, serves, factor):
        recipe = Dish("x", serves, tuple(lines))
        bigger = recipe.scaled(factor)
        one, other = (examine(r, self.EATER) for r in (recipe, bigger))
        self.assertAlmostEqual(one.cooked.likely, other.cooked.likely, delta=1e-6 * one.cooked.likely + 1e-9)
        self.assertEqual([f.tag for f in one.allergens], [f.tag for f in other.allergens])
        for a, b in zip(one.counts, other.counts, strict=True):
            self.assertAlmostEqual(a.exact, b.exact, delta=1e-6 * a.exact + 1e-9)

    @FEW
    @given(dishes, st.floats(0.05, 0.95))
    def test_splitting_a_line_changes_nothing_said(self, lines, share):
        first, *rest = lines
        parts = [first.scaled(s) for s in (share, 1 - share)]
        one, other = (examine(Dish("", 3, tuple(each)), self.EATER) for each in (lines, [*parts, *rest]))
        self.assertEqual([(f.tag, f.verdict) for f in one.allergens], [(f.tag, f.verdict) for f in other.allergens])
        self.assertEqual([c.key for c in one.cautions], [c.key for c in other.cautions])
        np.testing.assert_allclose(one.analysis.at_most, other.analysis.at_most, rtol=1e-6, atol=1e-9)


class Cooking(SimpleTestCase):
    @FEW
    @given(any_line, st.sampled_from(sorted(methods())))
    def test_what_is_left_lies_between_its_bounds(self, line, key):
        left = kept(line.food_id, key)
        self.assertEqual(left.shape, (3, len(KEYS)))
        self.assertTrue((left >= 0).all() and (left <= 1).all())
        self.assertTrue((left[0] <= left[1] + 1e-9).all() and (left[1] <= left[2] + 1e-9).all())

    @FEW
    @given(any_line)
    def test_cooking_only_takes_away(self, line):
        for method in methods_for(line.food_id):
            raw, done = analyze_lines([line], 1), analyze_lines([replace(line, state=method.key)], 1)
            self.assertTrue((done.amounts <= raw.amounts + 1e-6).all())
            self.assertTrue((done.at_least <= done.amounts + 1e-6).all())
            self.assertTrue((done.amounts <= done.at_most + 1e-4).all())


class Tallies(SimpleTestCase):
    @FEW
    @given(dishes, st.dictionaries(some_key, st.floats(-2, 2).filter(bool), min_size=1, max_size=3))
    def test_the_exact_figure_lies_between_its_bounds(self, lines, formula):
        counted = count(Tally("t", "T", formula), lines, analyze_lines(lines, 2))
        self.assertLessEqual(counted.least, counted.exact + 1e-6 * abs(counted.exact) + 1e-9)
        self.assertLessEqual(counted.exact, counted.most + 1e-4 * abs(counted.most) + 1e-6)

    @FEW
    @given(st.floats(0, 1000), st.sampled_from([0.1, 0.25, 0.5, 1, 5]), st.sampled_from(sorted(ROUNDINGS)))
    def test_rounding_moves_less_than_a_step(self, amount, step, rounding):
        figure = rounded(amount, Tally("t", "T", {"protein_g": 1}, step=step, rounding=rounding))
        self.assertLessEqual(abs(figure - amount), step * (0.5 if rounding == "nearest" else 1) + 1e-6)

    @FEW
    @given(dishes)
    def test_a_free_food_never_adds(self, lines):
        assume(len(lines) > 1)
        analysis = analyze_lines(lines, 2)
        plain = count(Tally("t", "T", {"protein_g": 1}), lines, analysis)
        freed = count(Tally("t", "T", {"protein_g": 1}, free_foods=frozenset({lines[0].food_id})), lines, analysis)
        self.assertLessEqual(freed.exact, plain.exact + 1e-9)


class RoundTrips(SimpleTestCase):
    @FEW
    @given(st.floats(0.01, 1e5))
    def test_units_come_back(self, amount):
        self.assertAlmostEqual(units.sodium_mg(units.salt_g(amount)), amount, delta=1e-6 * amount)
        self.assertAlmostEqual(units.fahrenheit(units.celsius(amount)), amount, delta=1e-6 * amount)
        for key in units.ATOMIC_WEIGHT:
            self.assertAlmostEqual(units.mmol(amount, key) * units.ATOMIC_WEIGHT[key], amount, delta=1e-6 * amount)
        for unit in ("oz", "lb", "kg"):
            self.assertAlmostEqual(units.to_grams(amount, unit) / units.to_grams(1, unit), amount, delta=1e-6 * amount)
