"""A doubtful line is several dishes at once: what that does to the gates, and which doubts are worth a question."""

from dataclasses import replace

from django.test import SimpleTestCase

from nutrition.dish.dish import Dish, keyed
from nutrition.food.table import foods
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.reading.recipe import read_line
from nutrition.sheet.analysis import analyze
from nutrition.sheet.doubts import doubts_of
from nutrition.sheet.examine import examine
from nutrition.sheet.verdicts import OPEN, SHUT, UNSURE


def dish(*lines, serves=4):
    return Dish("Pot", serves, keyed([read_line(text, serves) for text in lines]))


def eater(**most):
    return Eater(targets=tuple(Target(key, maximum=limit, scope="serving", plan="own") for key, limit in most.items()))


def verdicts(sheet):
    return {verdict.gate.nutrient: verdict.state for verdict in sheet.verdicts}


class Spans(SimpleTestCase):
    def test_from_the_poorest_candidate_to_the_richest(self):
        """Every figure spans over what the line may be: USDA salted butter 643 mg sodium, unsalted 11."""
        line = read_line("100 g butter")
        self.assertEqual(line.sure, "check")
        low, high = analyze(dish("100 g butter", serves=1)).interval("sodium_mg")
        values = [foods().value(name, "sodium_mg") for name in ("Butter, salted", "Butter, without salt")]
        self.assertLessEqual(low, min(values))
        self.assertGreaterEqual(high, max(values))

    def test_settling_a_line_narrows_it(self):
        open_, settled = dish("100 g butter"), dish("100 g butter, unsalted")
        width = lambda it: analyze(it).interval("sodium_mg")[1] - analyze(it).interval("sodium_mg")[0]  # noqa: E731
        self.assertLess(width(settled), width(open_) / 10)

    def test_a_gate_turns_on_a_doubt_only_between_its_ends(self):
        stock = ("1 litre vegetable stock", "200 g carrots")
        for limit, state in ((5000, OPEN), (300, UNSURE), (1, SHUT)):
            self.assertEqual(verdicts(examine(dish(*stock), eater(sodium_mg=limit)))["sodium_mg"], state, limit)

    def test_a_piece_nobody_knows_may_weigh_next_to_nothing_or_twice_as_much(self):
        line = read_line("2 baby aubergines")
        self.assertEqual(line.sure, "check")
        self.assertLess(line.weight.least, 0.03 * line.weight.likely)
        self.assertAlmostEqual(line.weight.most, 2 * line.weight.likely)


class WhatDoubtsDecide(SimpleTestCase):
    def test_the_line_is_named_with_what_it_decides(self):
        sheet = examine(dish("1 litre vegetable stock", "1 tbsp oil"), eater(sodium_mg=300))
        first, *rest = sheet.doubts
        self.assertEqual((first.position, first.nutrients), (0, ("sodium_mg",)))
        self.assertIn("decides sodium", str(first.words))
        self.assertFalse([doubt for doubt in rest if doubt.nutrients])

    def test_a_doubt_that_decides_nothing_is_quiet(self):
        """Which butter changes no potassium to speak of, and its milk is certain."""
        sheet = examine(dish("20 g butter", "200 g carrots"), eater(potassium_mg=900))
        self.assertFalse([doubt for doubt in sheet.doubts if doubt.nutrients])
        self.assertEqual(str(sheet.doubts[0].words), "changes nothing here")

    def test_allergens_are_always_asked_about(self):
        (doubt,) = examine(dish("100 g cheddar, vegan"), Eater()).doubts
        self.assertIn("milk", doubt.tags)
        self.assertTrue(doubt.decides)

    def test_what_a_plan_keeps_out_is_asked_about_too(self):
        """A line that may be meat is no quiet doubt for who eats none, whatever its numbers do."""
        line = replace(
            read_line("100 g crispy crunchies"), food_id=None, others=(foods().by_description("Beef jerky").id,)
        )
        (doubt,) = doubts_of([line], 1, [], ("meat",))
        self.assertEqual((doubt.tags, doubt.decides), (("meat",), True))

    def test_some_doubts_decide_only_together(self):
        pot = dish(*["500 ml vegetable stock"] * 3, serves=2)
        low, high = analyze(pot).interval("sodium_mg")
        sheet = examine(pot, eater(sodium_mg=low + 0.5 * (high - low)))
        decided = {doubt.position for doubt in sheet.doubts if "sodium_mg" in doubt.nutrients}
        self.assertEqual(decided, {0, 1, 2})

    def test_a_line_without_food_decides_what_cannot_be_told(self):
        sheet = examine(dish("100 g xorbly powder", "200 g carrots"), eater(sodium_mg=600))
        self.assertEqual(verdicts(sheet)["sodium_mg"], UNSURE)
        self.assertEqual(sheet.doubts[0].nutrients, ("sodium_mg",))
