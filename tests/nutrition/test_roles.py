"""What part of a meal a dish is: its share of the ceilings, what it leaves, and no floor.

Shares of a menu: common practice, written in limits/roles.py; the arithmetic here is done by hand.
"""

from django.test import SimpleTestCase

from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target, gates_for
from nutrition.limits.roles import ROLES, WHOLE, guess_role
from nutrition.reading.page import from_text
from nutrition.reading.recipe import read_recipe
from nutrition.sheet.examine import examine
from nutrition.sheet.verdicts import OPEN, SHUT
from nutrition.swaps.offers import Workbench
from nutrition.swaps.way_through import ways_for
from nutrition.swaps.wish import Wish
from ui import rails

CARROTS = """Carrot salad\nServes 4\n500 g carrots, grated\n2 tbsp olive oil\n1 lemon\nMethod\nToss."""
DAY = (
    Target("sodium_mg", maximum=2300, plan="low-sodium"),
    Target("protein_g", minimum=60, maximum=80, plan="kidney"),
    Target("energy_kcal", minimum=2000, maximum=2400),
    Target("fiber_g", minimum=28),
)


class Shares(SimpleTestCase):
    def test_a_part_has_its_share_of_the_ceilings_and_no_floor(self):
        whole = {gate.nutrient: gate for gate in gates_for(DAY, "dinner")}
        side = {gate.nutrient: gate for gate in gates_for(DAY, "dinner", role="side")}
        self.assertAlmostEqual(whole["sodium_mg"].high.limit, 2300 * 0.35)
        self.assertAlmostEqual(side["sodium_mg"].high.limit, 2300 * 0.35 * 0.25)
        self.assertAlmostEqual(side["sodium_mg"].high.of, 805)
        self.assertEqual({key for key, gate in side.items() if gate.low}, set())
        self.assertNotIn("fiber_g", side)
        self.assertIn("25% of that for a side", str(side["sodium_mg"].high.reason))

    def test_a_limit_of_a_serving_is_one_whatever_the_role(self):
        [gate] = gates_for([Target("sodium_mg", minimum=10, maximum=140, scope="serving")], "dinner", role="bread")
        self.assertEqual((gate.low.limit, gate.high.limit, gate.high.of), (10, 140, None))

    def test_a_breakfast_dish_or_a_snack_may_take_all_of_its_own_meal_and_a_part_of_another(self):
        for role, own_meal in (("breakfast", "breakfast"), ("snack", "snack")):
            with self.subTest(role):
                [gate] = gates_for(DAY[:1], own_meal, role=role, role_shares={role: 0.1})
                [whole] = gates_for(DAY[:1], own_meal)
                self.assertEqual(gate.high.limit, whole.high.limit)
                self.assertNotIn("of that for", str(gate.high.reason))
                [gate] = gates_for(DAY[:1], "dinner", role=role)
                self.assertAlmostEqual(gate.high.limit, 805 * ROLES[role].share)
        self.assertFalse(any(gate.low for gate in gates_for(DAY, "breakfast", role="breakfast")))

    def test_the_whole_meal_is_as_it_was(self):
        self.assertEqual(gates_for(DAY, "lunch"), gates_for(DAY, "lunch", role=WHOLE))
        self.assertEqual(ROLES[WHOLE].share, 1.0)

    def test_shares_of_ones_own(self):
        [gate] = gates_for(DAY[:1], "dinner", role="side", role_shares={"side": 0.4})
        self.assertAlmostEqual(gate.high.limit, 805 * 0.4)
        self.assertIn("40% of that for a side", str(gate.high.reason))
        [gate] = Eater(targets=DAY[:1], role="bread", role_shares={"side": 0.4}).gates("dinner")
        self.assertAlmostEqual(gate.high.limit, 805 * ROLES["bread"].share)

    def test_guesses(self):
        for kind, title, meal, role in (
            ("salad", "Carrot salad", "dinner", "salad"), ("stew", "Beef stew", "dinner", WHOLE), ("bread", "Rye loaf", "lunch", "bread"),
            ("cake", "Ginger cake", "dinner", "dessert"), ("cake", "Scones", "breakfast", WHOLE), ("sauce", "Tomato sauce", "dinner", "sauce"),
            ("sauce", "Cod in parsley sauce", "dinner", WHOLE), ("any", "Mango smoothie", "lunch", "drink"), ("any", "Berry compote", "dinner", "dessert"),
            ("salad", "Carrot salad", "snack", WHOLE), ("any", "Overnight oats with pear", "dinner", "breakfast"),
            ("any", "Seed crackers", "dinner", "snack"), ("any", "Overnight oats", "breakfast", WHOLE), ("any", "Poached pears", "dinner", "dessert"),
            ("stew", "Fish stew with oats", "dinner", WHOLE),
        ):  # fmt: skip
            self.assertEqual(guess_role(kind, title, meal), role, title)


class TheSameEverywhere(SimpleTestCase):
    def setUp(self):
        self.dish = read_recipe(from_text(CARROTS))

    def test_a_salad_is_not_shut_for_what_a_dinner_asks(self):
        whole = {v.gate.nutrient: v.state for v in examine(self.dish, Eater(targets=DAY), "dinner").verdicts}
        salad = {v.gate.nutrient: v for v in examine(self.dish, Eater(targets=DAY, role="salad"), "dinner").verdicts}
        self.assertEqual((whole["protein_g"], whole["energy_kcal"]), (SHUT, SHUT))
        self.assertEqual({v.state for v in salad.values()}, {OPEN})
        sodium = salad["sodium_mg"]
        self.assertLess(sodium.at_most, 161)  # a fifth of 805
        self.assertRegex(rails.margin(sodium), r"^leaves 7\d\d of 805$")

    def test_what_is_over_its_part_says_so(self):
        salty = read_recipe(from_text(CARROTS.replace("1 lemon", "1 lemon\n1 tsp salt")))
        [sodium] = examine(salty, Eater(targets=DAY[:1], role="salad"), "dinner").verdicts
        self.assertEqual(sodium.state, SHUT)
        self.assertTrue(rails.margin(sodium).endswith("over its part"), rails.margin(sodium))

    def test_a_way_adds_nothing_to_reach_a_meal(self):
        for role, added in ((WHOLE, True), ("salad", False)):
            outcome = ways_for(
                Workbench(self.dish, Eater(targets=DAY, role=role), "dinner"), Wish(ways=1, certain=False)
            )
            beside = [change for way in outcome.ways for change in way.changes if change.line >= len(self.dish.lines)]
            self.assertEqual(bool(beside) or not outcome.ways, added, role)
