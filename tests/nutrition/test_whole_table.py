"""A way over a whole table: portions first, then dishes, and what of it cannot be."""

from dataclasses import replace

from django.test import SimpleTestCase

from nutrition.meals.table import Served, lay
from nutrition.meals.together import together
from nutrition.meals.whole import way_for_table
from nutrition.reading.recipe import read_recipe
from nutrition.sheet.verdicts import OPEN, SHUT, UNSURE

from .test_meals import CARROTS, CURRY, RICE, per_meal, seat

BEANS = Served(
    read_recipe(
        "Beans in tomato\nServes 4\n800 g canned white beans, drained and rinsed\n400 g tomatoes\n1 tbsp olive oil\n2 tsp salt\nMethod\n"
        "Soften the tomatoes in the oil.\nAdd beans and salt and simmer for 20 minutes."
    ),
    "main",
)


def states(table):
    return [place.state for place in table.places]


class PortionsFirst(SimpleTestCase):
    def test_a_table_that_is_through_stays(self):
        table = lay([CARROTS, RICE], [seat(1, 1, targets=[per_meal("sodium_mg", 2000)]), seat(1, 1, name="Guest")])
        found = way_for_table(table)
        self.assertTrue(found.is_nothing)
        self.assertEqual((found.lack, states(found.table)), ((0, 0, 0, 0), [OPEN, OPEN]))

    def test_where_portions_do_no_dish_changes(self):
        """Two servings of rice hold 391 mg of sodium (by hand in test_meals), the salad 86; one and three quarters are within 450."""
        ada = seat(1, 2, targets=[per_meal("sodium_mg", 450)])
        found = way_for_table(lay([CARROTS, RICE], [ada, seat(1, 1, name="Guest")]))
        self.assertEqual((dict(found.changed), [*found.portions], found.left), ({}, [0], {}))
        self.assertEqual([each.likely for each in found.portions[0]], [1, 1.75])
        self.assertEqual(states(found.table), [OPEN, OPEN])


class ThenDishes(SimpleTestCase):
    def test_a_dish_somebody_cannot_have_is_changed_for_all_rather_than_kept_from_them(self):
        noor = seat(1, 1, name="Noor", plans=["free-of:milk"])
        table = lay([CURRY, RICE], [seat(1, 1), noor])
        self.assertEqual(states(table), [OPEN, SHUT])
        found = way_for_table(table)
        self.assertEqual(([*found.changed], found.without, found.left), ([0], (), {}))
        self.assertEqual(states(found.table), [OPEN, OPEN])
        self.assertEqual(found.table.places[1].seat.portions[0].likely, 1)
        self.assertNotIn("cream", " ".join(line.text for line in found.table.dishes[0].dish.lines))

    def test_several_dishes_are_changed(self):
        """Each eats one of two dishes, which is past the limit, and the energy asked for leaves no portion to take away."""
        limits = [per_meal("sodium_mg", 400), per_meal("energy_kcal", None, 280)]
        table = lay([CURRY, BEANS], [seat(1, 0, targets=limits), seat(0, 1, name="Bo", targets=limits)])
        self.assertEqual(states(table), [SHUT, SHUT])
        found = way_for_table(table)
        self.assertEqual((sorted(found.changed), found.left), ([0, 1], {}))
        self.assertEqual(states(found.table), [OPEN, OPEN])
        self.assertEqual(states(table), [SHUT, SHUT])  # the table asked about stays as it was

    def test_where_all_are_past_a_limit_each_owes_its_part(self):
        """Of 605 and 1,570 mg with room for 400 in all, the curry may keep 605 / 2,175 of it; alone it could not open the meal."""
        table = lay([CURRY, BEANS], [seat(1, 1, targets=[per_meal("sodium_mg", 400, 100)])])
        curry, beans = (float(each.analysis.amount("sodium_mg")) for each in (CURRY, BEANS))
        [owed] = together(table, 0, shares_out=True).gates("dinner")
        self.assertAlmostEqual(owed.high.limit, 400 * curry / (curry + beans), delta=1)
        self.assertIsNone(owed.low)
        [alone] = together(table, 0).gates("dinner")
        self.assertEqual(alone.high.limit, 0)

    def test_what_a_part_was_without_is_in_it_where_all_eat_something_else(self):
        cream = next(at for at, line in enumerate(CURRY.dish.lines) if "cream" in line.text)
        keyed = replace(
            CURRY, dish=CURRY.dish.with_lines(replace(line, key=f"k{at}") for at, line in enumerate(CURRY.dish.lines))
        )
        noor = seat(1, 1, name="Noor", plans=["free-of:milk"], without={0: frozenset({cream})})
        ada = seat(1, 1, targets=[per_meal("sodium_mg", 300), per_meal("energy_kcal", None, 260)])
        found = way_for_table(lay([keyed, CARROTS], [noor, ada]))
        self.assertEqual(found.left, {})
        self.assertEqual(([*found.changed], found.table.places[0].seat.without), ([0], {}))
        self.assertEqual(states(found.table), [OPEN, OPEN])


class NotForAll(SimpleTestCase):
    def test_who_is_left_and_what_is_missed(self):
        bo = seat(1, 1, name="Bo", targets=[per_meal("energy_kcal", None, 5000)])
        ada = seat(1, 2, targets=[per_meal("sodium_mg", 450)])
        found = way_for_table(lay([CARROTS, RICE], [bo, ada]), seconds=20)
        self.assertEqual([*found.left], [0])
        [miss] = found.left[0]
        self.assertEqual((miss.gate.nutrient, miss.side), ("energy_kcal", "low"))
        self.assertEqual(found.table.places[1].state, OPEN)

    def test_what_a_serving_may_not_hold_is_past_a_limit_and_a_dish_is_changed_for_it(self):
        """605 mg of sodium in one serving where 500 are allowed: no portion makes a serving another one."""
        ada = seat(1, targets=[replace(per_meal("sodium_mg", 500), scope="serving")])
        table = lay([CURRY], [ada])
        self.assertEqual(states(table), [SHUT])
        self.assertEqual([*way_for_table(table, seconds=0).left], [0])
        found = way_for_table(table)
        self.assertEqual(([*found.changed], found.is_through), ([0], True))

    def test_what_a_label_decides_is_not_through(self):
        soup = Served(read_recipe("Soup\nServes 4\n1 l chicken stock\n500 g carrots\nMethod\nSimmer."), "main")
        found = way_for_table(lay([soup], [seat(1, targets=[per_meal("sodium_mg", 300)])]))
        self.assertEqual((states(found.table), found.is_through), ([UNSURE], False))

    def test_no_time_is_no_change_of_a_dish(self):
        noor = seat(1, 1, name="Noor", plans=["free-of:milk"])
        found = way_for_table(lay([CURRY, RICE], [noor]), seconds=0)
        self.assertEqual((dict(found.changed), found.without), ({}, ((0, 0),)))
