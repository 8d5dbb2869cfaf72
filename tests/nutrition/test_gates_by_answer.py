"""What an answer does to the gates is told before it is taken, and is what happens when it is."""

from dataclasses import replace
from unittest import TestCase

from nutrition.food.table import foods
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.notes import NOTHING
from nutrition.reading.edits import with_food
from nutrition.reading.recipe import read_recipe
from nutrition.sheet.analysis import analyze
from nutrition.sheet.jars import gates_by_answer
from nutrition.sheet.verdicts import judge

SALTED, UNSALTED = "Butter, salted", "Butter, without salt"


class AnAnswer(TestCase):
    def setUp(self):
        self.dish = read_recipe("Rolls\nServes 1\n100 g butter\n200 g wheat flour\nMethod\nBake it all.")
        self.ids = {name: foods().by_description(name).id for name in (SALTED, UNSALTED)}

    def told(self, most):
        eater = Eater(targets=(Target("sodium_mg", maximum=most, scope="serving"),))
        found = gates_by_answer(self.dish, 0, eater, list(self.ids.values()))
        return {name: str(found.get(food_id, "")) for name, food_id in self.ids.items()}, eater

    def test_it_says_which_gate_opens_and_which_shuts(self):
        told, _ = self.told(300)
        self.assertEqual(set(told), {SALTED, UNSALTED})
        self.assertNotEqual(told[SALTED], told[UNSALTED])
        self.assertIn("sodium", told[SALTED] + told[UNSALTED])

    def test_what_changes_no_gate_says_nothing(self):
        told, _ = self.told(5000)
        self.assertEqual(told, {SALTED: "", UNSALTED: ""})

    def test_it_is_what_happens_when_it_is_taken(self):
        for most in (100, 300, 640, 660, 2000):
            told, eater = self.told(most)
            before = [verdict.state for verdict in judge(eater.gates("dinner"), analyze(self.dish))]
            for name, food_id in self.ids.items():
                line = replace(with_food(self.dish.lines[0], food_id, kitchen=""), sure="sure", ask=NOTHING, others=())
                after = [
                    v.state
                    for v in judge(eater.gates("dinner"), analyze(self.dish.with_lines([line, *self.dish.lines[1:]])))
                ]
                with self.subTest(most=most, name=name):
                    self.assertEqual(bool(told[name]), before != after)
                    if before != after:
                        self.assertTrue(
                            told[name].startswith({"open": "opens", "shut": "shuts", "unsure": "cannot"}[after[0]]),
                            told,
                        )
