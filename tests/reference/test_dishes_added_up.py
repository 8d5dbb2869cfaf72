"""Everyday dishes added up by hand: no gate is open whose truth is shut, wherever the limit stands."""

from collections import defaultdict

import numpy as np
from django.test import SimpleTestCase

from nutrition.food.nutrients import INDEX
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.reading.recipe import read_recipe
from nutrition.sheet.analysis import analyze, weighed
from nutrition.sheet.verdicts import judge
from tests.nutrition import rows_beside

#: Column of the table -> the nutrient, and a difference in a whole line nobody minds.
COLUMNS = {"na": ("sodium_mg", 60), "k": ("potassium_mg", 150), "carb": ("carbohydrate_g", 6)}
#: Hand figures are rounded and foods vary: a truth is shut where it is a quarter above the limit.
ABOVE = 1.25


class DishesAddedUp(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        rows = defaultdict(list)
        for row in rows_beside(__file__, "dishes_added_up.tsv"):
            rows[row["dish"]].append(row)
        cls.rows = rows
        cls.dishes = {
            name: read_recipe("\n".join([name, "Serves 1", *(row["line"] for row in own), "Method", "Cook it all."]))
            for name, own in rows.items()
        }

    def test_no_gate_is_open_whose_truth_is_shut(self):
        judged = 0
        for name, dish in self.dishes.items():
            for column, (nutrient, minded) in COLUMNS.items():
                truth = sum(float(row[column]) for row in self.rows[name])
                limit = min(truth / ABOVE, truth - minded)
                if limit <= 0:
                    continue
                eater = Eater(targets=(Target(nutrient, maximum=limit, scope="serving"),))
                (verdict,) = judge(eater.gates("dinner"), analyze(dish))
                judged += 1
                with self.subTest(dish=name, nutrient=nutrient, truth=truth):
                    self.assertNotEqual(verdict.state, "open")
        self.assertGreater(judged, 100)

    def test_each_line_reaches_what_a_hand_adds_up(self):
        """What a line holds at most is not a quarter below the truth, unless it is asked about."""
        short = []
        for name, dish in self.dishes.items():
            for line, row in zip(dish.lines, self.rows[name], strict=True):
                if not line.is_weighed or line.sure == "check":
                    continue
                most = weighed([line]).spans(1)[1]
                for column, (nutrient, minded) in COLUMNS.items():
                    truth, held = float(row[column]), float(most[0, INDEX[nutrient]])
                    if held < truth / ABOVE and truth - held > minded:
                        short.append((row["line"], nutrient, held, truth))
        self.assertEqual(short, [])

    def test_most_lines_are_read(self):
        read = [line.is_weighed for dish in self.dishes.values() for line in dish.lines]
        self.assertGreater(np.mean(read), 0.95)
