"""Sums with intervals: unknown is not zero, and the laws a sum must keep."""

import math
from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from nutrition.dish.dish import Dish
from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.food.nutrients import CORE_KEYS, INDEX, KEYS, MEASURED_KEYS
from nutrition.food.table import foods
from nutrition.reading.page import from_text
from nutrition.reading.recipe import read_line, read_recipe
from nutrition.sheet.analysis import analyze_lines, analyze_many, weighed
from nutrition.tables import read_table
from tools.build_foods import span_of


def line(description, grams, low=None, high=None):
    food = foods().by_description(description)
    weight = Grams(grams if low is None else low, grams, grams if high is None else high)
    return Line(description, food.id, weight, "weight", "sure")


NOWHERE = Line("2 tbsp zhoug")
any_line = st.builds(
    lambda row, grams: Line("x", foods().ids[row], Grams.exactly(grams), "weight", "sure"),
    st.integers(0, len(foods()) - 1),
    st.floats(0.1, 2000),
)
dishes = st.lists(any_line, min_size=1, max_size=12)


class Sums(SimpleTestCase):
    def test_worked_by_hand(self):
        # 6 g salt and 200 g whole milk over 2 servings: (6*387.58 + 200*0.38)/2 mg of sodium.
        result = analyze_lines([line("Salt, table", 6), line("Milk, whole", 200)], 2)
        self.assertAlmostEqual(result.amount("sodium_mg"), (6 * 387.58 + 200 * 0.38) / 2, delta=0.5)
        self.assertAlmostEqual(result.serving_grams, 103)
        self.assertAlmostEqual(float(result.shares("sodium_mg").sum()), 1.0)

    def test_vague_amounts_make_an_interval(self):
        result = analyze_lines([line("Salt, table", 3, 0, 6)], 4)
        least, most = result.interval("sodium_mg")
        self.assertEqual(least, 0)
        self.assertAlmostEqual(most, 6 * 387.58 / 4, delta=0.1)

    def test_unknown_is_a_ceiling_not_zero(self):
        table = foods()
        row = int(
            np.flatnonzero(
                table.is_unknown[:, INDEX["potassium_mg"]] & (table.at_most_per_100g[:, INDEX["potassium_mg"]] > 5)
            )[0]
        )
        unknown = Line("x", table.ids[row], Grams.exactly(100), "weight", "sure")
        result = analyze_lines([unknown], 1)
        self.assertGreater(result.interval("potassium_mg")[1], result.amount("potassium_mg"))
        self.assertEqual(result.unknown_lines("potassium_mg"), [0])

    def test_line_without_food_leaves_no_bound(self):
        result = analyze_lines([line("Milk, whole", 100), NOWHERE], 1)
        self.assertTrue(math.isinf(result.interval("sodium_mg")[1]))
        self.assertEqual(result.unweighed, (1,))

    def test_a_guess_never_lowers_the_ceiling(self):
        beef = read_line("1 lb ground beef", 4)
        self.assertEqual(beef.sure, "check")
        fattest = foods().value("Beef, ground, 70% lean meat / 30% fat, raw", "fat_g")
        result = analyze_lines([beef], 4)
        self.assertAlmostEqual(result.interval("fat_g")[1], fattest * beef.grams / 400, delta=0.01)
        self.assertLess(result.amount("fat_g"), result.interval("fat_g")[1])
        _, _, most = analyze_many([weighed([beef])], [4])
        np.testing.assert_allclose(most[0], result.at_most, rtol=1e-4)
        settled = analyze_lines([replace(beef, sure="sure")], 4)
        self.assertAlmostEqual(settled.interval("fat_g")[1], settled.amount("fat_g"), places=3)

    def test_servings_must_be_above_zero(self):
        for serves in (0, -1, float("nan")):
            with self.assertRaises(ValueError):
                analyze_lines([line("Milk, whole", 100)], serves)

    def test_batch_agrees_with_one_by_one(self):
        recipes = [
            [line("Milk, whole", 100), line("Salt, table", 2)],
            [line("Oats, whole grain, steel cut", 80), NOWHERE],
        ]
        low, middle, most = analyze_many([weighed(r) for r in recipes], [2, 4])
        for i, (lines, serves) in enumerate(zip(recipes, (2, 4), strict=True)):
            alone = analyze_lines(lines, serves)
            np.testing.assert_allclose(middle[i], alone.amounts, rtol=1e-4)
            np.testing.assert_allclose(low[i], alone.at_least, rtol=1e-4)
            np.testing.assert_allclose(most[i], alone.at_most, rtol=1e-4)


class Laws(SimpleTestCase):
    @settings(max_examples=60, deadline=None)
    @given(dishes, st.floats(1, 12), st.floats(0.1, 20))
    def test_scaling_a_recipe_leaves_a_serving_as_it_is(self, lines, serves, factor):
        recipe = Dish("x", serves, tuple(lines))
        bigger = recipe.scaled(factor)
        np.testing.assert_allclose(
            analyze_lines(bigger.lines, bigger.serves).amounts,
            analyze_lines(recipe.lines, serves).amounts,
            rtol=1e-6,
            atol=1e-9,
        )

    @settings(max_examples=60, deadline=None)
    @given(dishes, st.floats(0.05, 0.95))
    def test_splitting_a_line_changes_nothing(self, lines, share):
        first, *rest = lines

        def part(s):
            return first.scaled(s)

        split = analyze_lines([part(share), part(1 - share), *rest], 3)
        np.testing.assert_allclose(split.amounts, analyze_lines(lines, 3).amounts, rtol=1e-6, atol=1e-9)

    @settings(max_examples=60, deadline=None)
    @given(dishes, any_line)
    def test_adding_a_line_never_takes_away(self, lines, more):
        before, after = analyze_lines(lines, 2), analyze_lines([*lines, more], 2)
        self.assertTrue((after.at_most >= before.at_most - 1e-6).all())
        self.assertTrue((after.at_least >= before.at_least - 1e-6).all())

    @settings(max_examples=60, deadline=None)
    @given(dishes)
    def test_interval_holds_the_amount(self, lines):
        result = analyze_lines(lines, 2)
        self.assertTrue((result.at_least <= result.amounts + 1e-6).all())
        self.assertTrue((result.amounts <= result.at_most + 1e-4).all())


class Table(SimpleTestCase):
    def test_size(self):
        self.assertGreaterEqual(len(foods()), 6500)
        self.assertEqual(foods().per_100g.shape, (len(foods()), len(KEYS)))
        self.assertEqual(len(MEASURED_KEYS), 25)

    def test_ids_and_descriptions_are_unique(self):
        self.assertEqual(len(set(foods().ids)), len(foods()))
        self.assertEqual(len({d.lower() for d in foods().descriptions}), len(foods()))

    def test_ceiling_is_the_value_where_it_is_known(self):
        """But for what makers sell so differently that the curated row gives a span."""
        known, measured = ~foods().is_unknown, len(MEASURED_KEYS)
        alone = known[:, :measured].copy()
        spans = {row["description"] for row in read_table("curated_foods.tsv") if ".." in "".join(row.values())}
        wide = [foods().by_description(each).row for each in spans]
        self.assertGreater(len(wide), 30)
        self.assertTrue((foods().at_least_per_100g[wide] < foods().at_most_per_100g[wide]).any(axis=1).all())
        alone[wide] = False
        np.testing.assert_array_equal(
            foods().per_100g[:, :measured][alone], foods().at_most_per_100g[:, :measured][alone]
        )
        self.assertFalse(np.isnan(foods().at_most_per_100g).any())

    def test_derived_columns_lie_between_their_bounds(self):
        table = foods()
        self.assertTrue((table.at_least_per_100g <= table.known + 1e-3).all())
        self.assertTrue((table.known <= table.at_most_per_100g + 1e-3).all())

    def test_parts_are_never_more_than_the_whole(self):
        most = foods().at_most_per_100g
        for part, whole in (
            ("saturated_fat_g", "fat_g"),
            ("fiber_g", "carbohydrate_g"),
            ("sugars_g", "carbohydrate_g"),
        ):
            both = foods().per_100g[:, [INDEX[part], INDEX[whole]]]
            known = ~np.isnan(both).any(axis=1)
            self.assertTrue((both[known, 0] <= both[known, 1] * 1.05 + 0.51).all(), part)
            self.assertTrue((most[:, INDEX[part]] <= most[:, INDEX[whole]] * 1.05 + 0.51).all(), part)

    def test_every_food_has_a_source(self):
        for row in range(0, len(foods()), 97):
            self.assertTrue(foods().food(row).source)

    def test_commonest_foods_are_complete(self):
        table, columns = foods(), [INDEX[key] for key in CORE_KEYS]
        rows = {table.by_description(row["food"]).row for row in read_table("cooks_names.tsv")}
        self.assertGreaterEqual(len(rows), 600)
        gaps = [table.descriptions[row] for row in rows if table.is_unknown[row, columns].any()]
        self.assertEqual(gaps, [])

    def test_curated_rows_reached_the_table(self):
        for row in read_table("curated_foods.tsv"):
            food = foods().by_description(row["description"])
            if row["na"] not in ("", "?"):
                least, likely, most = span_of(row["na"])
                column = INDEX["sodium_mg"]
                self.assertAlmostEqual(foods().value(food.description, "sodium_mg"), likely, delta=0.5)
                self.assertAlmostEqual(foods().at_least_per_100g[food.row, column], least, delta=0.5)
                self.assertAlmostEqual(foods().at_most_per_100g[food.row, column], most, delta=0.5)
            self.assertTrue(row["source"])
            self.assertIn(row["confidence"], ("high", "medium", "low"))


class ReadingARecipe(SimpleTestCase):
    def test_parts_and_steps(self):
        recipe = read_recipe(from_text("Pie\nServes 4\n2 eggs\nFor the sauce:\n1 cup milk\nMethod\nStir it well."))
        self.assertEqual([line.heading for line in recipe.lines], ["", "For the sauce"])
        self.assertEqual(recipe.steps, ("Stir it well.",))

    def test_servings_are_never_assumed(self):
        with self.assertRaises(ValueError):
            read_recipe(from_text("Pie\n2 eggs\n1 cup milk"))
