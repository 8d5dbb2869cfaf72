"""One oven and so many hands: clashes worked out by hand, and laws that hold for any dishes.

Keeping hot: FDA Food Code 3-501.16 (57 °C / 135 °F). Times at another heat: by hand from Newton's law near its end.
"""

import itertools

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from nutrition.meals.oven import (
    HANDS,
    HOB,
    ONE_HEAT_C,
    OVEN,
    TO_ANOTHER_HEAT,
    WAIT,
    at_another_heat,
    said_of,
    stretches_of,
    timeline,
)
from nutrition.meals.table import Served
from nutrition.reading.recipe import read_recipe


def dish(steps, role="main", title="Dish", lines="500 g carrots\n1 tsp salt"):
    return Served(read_recipe(f"{title}\nServes 4\n{lines}\nMethod\n{steps}"), role)


def baked(c, minutes, role="main", title="Dish"):
    return dish(f"Lay the carrots on a tray.\nBake at {c} °C for {minutes} minutes.", role, title)


def oven_tasks(line):
    return [task for task in line.tasks if task.stretch.kind == OVEN]


class Steps(SimpleTestCase):
    def kinds(self, steps):
        return [
            (each.kind, each.minutes, each.c)
            for each in stretches_of(dish(steps).dish)
            if each.kind != HANDS or each.minutes > 4
        ]

    def test_heat_hob_rest_and_hands_are_told_apart(self):
        self.assertEqual(
            self.kinds(
                "Preheat the oven to 190 °C. Boil the carrots for 8 minutes.\nBake for 35 to 40 minutes.\nRest for 10 minutes."
            ),
            [(HOB, 8, None), (OVEN, 40, 190), (WAIT, 10, None)],
        )
        self.assertEqual(
            self.kinds("Knead for 10 minutes.\nLeave to rise for 1 hour.\nBake at 430 °F for 18 minutes."),
            [(HANDS, 10, None), (WAIT, 60, None), (OVEN, 18, 220)],
        )

    def test_who_stands_by(self):
        found = stretches_of(dish("Fry the carrots for 5 minutes.\nSimmer for 20 minutes.").dish)
        self.assertEqual(
            [(each.kind, each.needs_hands) for each in found if each.kind == HOB], [(HOB, True), (HOB, False)]
        )

    def test_the_shelf(self):
        self.assertEqual(
            [
                each.shelf
                for each in stretches_of(dish("Roast on the middle shelf at 200 °C for 30 minutes.").dish)
                if each.kind == OVEN
            ],
            ["middle"],
        )


class OneOven(SimpleTestCase):
    def test_alone_it_ends_with_the_serving_and_the_oven_is_hot_before(self):
        line = timeline([baked(180, 60)])
        [task] = oven_tasks(line)
        self.assertEqual((task.start, task.end, line.clashes), (60, 0, ()))
        [(minutes, setting)] = line.heats()
        self.assertEqual((minutes, setting.c), (75, 180))

    def test_the_bread_is_baked_before_what_cannot_wait(self):
        """A roast of 90 minutes at 160 °C and rolls of 20 at 220: the rolls come out ten minutes before the roast goes in."""
        line = timeline([baked(160, 90), baked(220, 20, "bread", "Rolls")])
        roast, rolls = line.placed
        self.assertEqual(roast.early, 0)
        self.assertGreaterEqual(rolls.tasks[-1].end, 90 + TO_ANOTHER_HEAT)
        self.assertLess(rolls.early, 90 + TO_ANOTHER_HEAT + 15)
        self.assertEqual(line.clashes, ())
        self.assertIn("Ready 1 h 40 min early", str(said_of(rolls, baked(220, 20, "bread"))[-1]))
        self.assertEqual([setting.c for _, setting in line.heats()], [220, 160])

    def test_near_heats_are_one_and_others_are_borrowed(self):
        self.assertEqual(
            [each.borrowed_c for each in timeline([baked(180, 60), baked(185, 40, "side")]).placed], [None, None]
        )
        roast, side = timeline([baked(180, 60), baked(200, 45, "side")]).placed
        [task] = (
            [task for task in side.tasks if task.stretch.kind == OVEN]
            if side.borrowed_c
            else [task for task in roast.tasks if task.stretch.kind == OVEN]
        )
        self.assertEqual({roast.borrowed_c, side.borrowed_c} - {None}, {task.stretch.c})
        self.assertEqual(task.stretch.minutes, 55 if side.borrowed_c else 50)

    def test_times_at_another_heat(self):
        # 45 min at 200 °C: 45 × (200 − 85) ÷ (180 − 85) = 54.5; 60 min at 180 °C: 60 × 95 ÷ 115 = 49.6
        self.assertEqual(
            (at_another_heat(45, 200, 180), at_another_heat(60, 180, 200), at_another_heat(30, 180, 180)), (55, 50, 30)
        )

    def test_what_nothing_can_resolve_is_said(self):
        """Two fries of an hour that bear ten minutes at most, at 150 and 240 °C."""
        dishes = [baked(150, 60), baked(240, 60)]
        line = timeline(dishes)
        self.assertEqual([(clash.kind, set(clash.dishes)) for clash in line.clashes], [(OVEN, {0, 1})])

    def test_no_more_dishes_than_shelves(self):
        dishes = [baked(180, 60, title=f"Dish {number}") for number in range(3)]
        self.assertEqual([clash.kind for clash in timeline(dishes).clashes], [OVEN])
        self.assertEqual(timeline(dishes, shelves=3).clashes, ())

    def test_bread_keeps_its_own_heat(self):
        line = timeline([baked(200, 60), baked(225, 30, "bread")])
        self.assertIsNone(line.placed[1].borrowed_c)


class Hands(SimpleTestCase):
    FRY = "Fry the carrots for 10 minutes."

    def test_two_pans_want_two_cooks(self):
        dishes = [dish(self.FRY, title="One"), dish(self.FRY, title="Two")]
        self.assertEqual(timeline(dishes, cooks=2).clashes, ())
        alone = timeline(dishes, cooks=1)
        self.assertEqual(
            alone.clashes, ()
        )  # fourteen minutes of hands each: one is ready a quarter of an hour early, and kept hot
        self.assertEqual(sorted(each.early for each in alone.placed), [0, 15])

    def test_minutes_of_hands(self):
        """Two lines taken in hand at two minutes each, two for the step, ten of frying."""
        line = timeline([dish("Fry the carrots and salt for 10 minutes.")])
        self.assertEqual(line.hands_on(0), 2 + 2 * 2 + 10)

    def test_a_dish_of_which_no_step_names_a_time(self):
        line = timeline([dish("Toss it all.", "salad"), baked(180, 20)])
        self.assertEqual(line.silent, (0,))

    def test_no_steps_at_all(self):
        self.assertEqual(timeline([Served(read_recipe("Fruit\nServes 2\n2 apples"))]).tasks, [])


steps = st.lists(
    st.sampled_from(
        [
            "Fry the carrots for 10 minutes.",
            "Bake at 180 °C for 40 minutes.",
            "Bake at 220 °C for 20 minutes.",
            "Simmer for 30 minutes.",
            "Rest for 15 minutes.",
            "Stir in the salt.",
        ]
    ),
    min_size=1,
    max_size=4,
)
dishes = st.lists(
    st.tuples(steps, st.sampled_from(["main", "side", "bread", "dessert", "salad"])), min_size=1, max_size=5
)


class Laws(SimpleTestCase):
    @given(dishes, st.integers(1, 3))
    @settings(max_examples=40, deadline=None)
    def test_a_plan_keeps_its_word(self, asked, cooks):
        served = [dish("\n".join(texts), role) for texts, role in asked]
        line = timeline(served, cooks)
        for placed, own in zip(line.placed, served, strict=True):
            self.assertEqual(
                [task.stretch.step for task in placed.tasks], [each.step for each in stretches_of(own.dish)]
            )
            for one, next_one in itertools.pairwise(placed.tasks):
                self.assertGreaterEqual(one.end, next_one.start)  # in order, never at once
            self.assertEqual(placed.tasks[-1].end, placed.early)
        for cook in range(cooks):
            spans = sorted((task.start, task.end) for task in line.tasks if task.cook == cook)
            self.assertTrue(all(one[1] >= other[0] for one, other in itertools.pairwise(reversed(spans))), spans)
        clashing = {frozenset(clash.dishes) for clash in line.clashes if clash.kind == OVEN}
        heated = oven_tasks(line)
        for one in heated:
            for other in heated:
                at_once = min(one.start, other.start) > max(one.end, other.end)
                if one.dish < other.dish and at_once and abs(one.stretch.c - other.stretch.c) > ONE_HEAT_C:
                    self.assertIn(frozenset((one.dish, other.dish)), clashing)

    @given(st.permutations(range(3)))
    @settings(max_examples=6, deadline=None)
    def test_the_order_of_dishes_changes_no_heat(self, order):
        served = [baked(160, 90), baked(220, 20, "bread", "Rolls"), dish("Simmer for 40 minutes.", "side")]
        one, other = timeline(served), timeline([served[at] for at in order])
        self.assertEqual(
            [(minutes, setting.c) for minutes, setting in one.heats()],
            [(minutes, setting.c) for minutes, setting in other.heats()],
        )
        self.assertEqual(len(one.clashes), len(other.clashes))
