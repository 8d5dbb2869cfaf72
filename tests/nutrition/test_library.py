"""A library against everybody at once: the same as looking at every dish by itself."""

import numpy as np
from django.test import SimpleTestCase

from nutrition.food.nutrients import INDEX
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.limits.plans import PLANS, Facts, targets_for
from nutrition.meals.day import day_of
from nutrition.meals.library import (
    SAID,
    Guest,
    brings,
    fits,
    for_everybody,
    guest_of_day,
    held,
    packed,
    shelf,
    unpacked,
)
from nutrition.meals.portions import Portion
from nutrition.meals.table import Seat, Served, lay
from nutrition.reading.recipe import read_recipe
from nutrition.sheet.examine import examine

TEXTS = (
    "Boiled rice\nServes 4\n300 g white rice\nMethod\nBoil.",
    "Salted rice\nServes 4\n300 g white rice\n2 tsp salt\nMethod\nBoil.",
    "Cheese toast\nServes 2\n4 slices white bread (30 g each)\n100 g cheddar\nMethod\nToast.",
    "Stock soup\nServes 4\n1 l vegetable stock\n400 g carrots\nMethod\nSimmer.",
    "Carrot salad\nServes 4\n500 g carrots\n1 tbsp olive oil\nMethod\nScatter with flaked almonds.",
    "Odd pot\nServes 2\n100 g flurbl\n200 g carrots\nMethod\nBoil.",
    "Kiwi bowl\nServes 2\n4 kiwis\n200 g plain yogurt\nMethod\nStir.",
)
DISHES = [read_recipe(text) for text in TEXTS]


def guest(*keys, never=(), disliked=(), **facts):
    known = Facts(plans=keys, **facts)
    return Guest(
        Eater(
            known,
            {key: PLANS[key].choose({}) for key in keys},
            tuple(t for key in keys for t in targets_for(key, known)),
            noted=tuple(never),
            disliked=tuple(disliked),
        ),
    )


GUESTS = (
    guest(),
    guest("low-sodium"),
    guest("free-of:milk"),
    guest("free-of:tree_nut"),
    guest("gluten-free", "low-sodium"),
    guest("kidney", weight_kg=70, energy_kcal=2000),
    guest(never=("kiwi",)),
    guest(disliked=("kiwi",)),
)


def one_by_one(dish, who):
    """As the sheet of one dish says it."""
    return SAID[examine(dish, who.eater, "dinner").state]


class AllAtOnce(SimpleTestCase):
    def test_the_same_as_one_by_one(self):
        found = fits(shelf([held(dish) for dish in DISHES], ["whole"] * len(DISHES)), GUESTS, "dinner")
        for row, dish in enumerate(DISHES):
            for column, who in enumerate(GUESTS):
                with self.subTest(dish.title, guest=column):
                    self.assertEqual(found[row, column], one_by_one(dish, who))
        self.assertEqual(set(np.unique(found)), {-1, 0, 1, 2})

    def test_as_a_part_of_a_meal_it_is_held_to_its_part(self):
        dishes = [held(DISHES[1])]
        whole, side = (
            fits(shelf(dishes, [role]), [guest("low-sodium")], "dinner")[0, 0] for role in ("whole", "sauce")
        )
        self.assertGreaterEqual(whole, side)

    def test_for_everybody_is_the_worst_of_all(self):
        found = fits(shelf([held(dish) for dish in DISHES], ["whole"] * len(DISHES)), GUESTS, "dinner")
        self.assertEqual(for_everybody(found).tolist(), found.min(axis=1).tolist())
        self.assertEqual(for_everybody(fits(shelf([held(DISHES[0])], ["whole"]), [], "dinner")).tolist(), [2])

    def test_what_a_day_leaves_is_asked_of_every_dish(self):
        """1,000 mg of sodium a day, 900 mg eaten at lunch: a dish with more than 100 mg is not through, whatever a dinner's share is;
        what brings the fiber that is still lacking comes first."""
        eater = Eater(targets=(Target("sodium_mg", maximum=1000), Target("fiber_g", minimum=30)))
        salt_g = 900 / 387.58  # table salt holds 38,758 mg of sodium in 100 g (USDA)
        lunch = Served(read_recipe(f"Salt\nServes 1\n{salt_g} g table salt"), "whole")
        [place] = lay([lunch], [Seat("One", eater, (Portion(1.0, 1.0, 1.0),))], "lunch").places
        today = day_of(eater, {"lunch": place})
        self.assertAlmostEqual(today.left("sodium_mg"), 100, delta=1)
        there = shelf([held(dish) for dish in DISHES], ["whole"] * len(DISHES))
        found = fits(there, [guest_of_day(today, "dinner")], "dinner")[:, 0]
        for row, dish in enumerate(DISHES):
            with self.subTest(dish.title):
                least, most = (there.spread[row, side, INDEX["sodium_mg"]] for side in (0, 2))
                left = today.left("sodium_mg")
                self.assertEqual(found[row], 2 if most <= left else -1 if least > left else 0)
        brought = brings(there, today)
        fiber = there.spread[:, 0, INDEX["fiber_g"]]
        self.assertTrue(np.allclose(brought, np.minimum(fiber / 30, 1), atol=1e-6))

    def test_what_is_kept_reads_back(self):
        dishes = [held(dish) for dish in DISHES]
        back = unpacked(packed(each.spread) for each in dishes)
        self.assertTrue(np.array_equal(back, np.array([each.spread for each in dishes])))
        self.assertTrue(np.isinf(back[5, 2]).any())  # nobody knows the most of a flurbl

    def test_contains_is_told_from_the_label(self):
        toast, soup = held(DISHES[2]), held(DISHES[3])
        self.assertIn("milk", toast.contains)
        self.assertNotIn("milk", toast.check)
        self.assertIn("gluten", soup.check)
