"""What a line may not be taken for: coats that hide wheat, promises the food does not keep, lines nobody can read."""

import re
from dataclasses import replace

from django.test import SimpleTestCase

from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.dish.naming import description_of
from nutrition.dish.standing import standing
from nutrition.food.nutrients import INDEX
from nutrition.food.table import RETIRED, Foods, foods, using
from nutrition.food.tags import ALLERGENS, CHECK, CONTAINS
from nutrition.limits.avoid import find
from nutrition.reading.promises import broken_by, said_in
from nutrition.reading.recipe import read_line
from nutrition.sheet.analysis import analyze_lines
from nutrition.swaps.rules import catalog, food_called
from nutrition.swaps.sides import sides
from nutrition.tables import read_table


def verdicts(line):
    return {finding.tag: finding.verdict for finding in find([line])}


def of_food(description):
    food_id = foods().by_description(description).id
    return verdicts(Line("food", food_id, Grams.exactly(100), "weight", "sure", words_hold=False))


class Coats(SimpleTestCase):
    """USDA FNDDS: "fried" and "coated" animals wear flour, batter or crumbs; from memory."""

    def test_coated_rows_of_the_table(self):
        for description in (
            "Fish, cod, fried", "Fish, cod, baked or broiled, coated", "Shrimp, fried", "Chicken wing, baked, coated",
            "Pork, chop, coated, lean only eaten", "Fish, fish sticks, frozen, prepared", "Chicken nuggets, from frozen",
            "Beef, steak, country fried", "Chicken breast tenders, breaded, uncooked", "Chicken patty, frozen, uncooked",
            "Salmon nuggets, breaded, frozen, heated", "Mozzarella sticks, breaded, baked, or fried", "Fried okra",
            "Turkey, nuggets", "Soybean curd, breaded, fried", "Corn dog", "Fish, stick", "Veal cordon bleu",
        ):  # fmt: skip
            with self.subTest(description):
                found = of_food(description)
                self.assertEqual((found.get("wheat"), found.get("gluten")), (CONTAINS, CONTAINS))
                self.assertIn("egg", found)
                self.assertIn("milk", found)

    def test_plain_frying_wears_no_coat(self):
        for description in (
            "Egg, whole, cooked, fried", "Plantains, yellow, fried, Latino restaurant", "Tofu, fried",
            "Mushrooms, white, stir-fried", "Chicken, drumstick, meat and skin, raw", "Fish, cod, Atlantic, raw",
        ):  # fmt: skip
            self.assertNotEqual(of_food(description).get("wheat"), CONTAINS, description)

    def test_words_of_a_line(self):
        for text in ("6 fish fingers", "200 g breaded cod", "4 chicken schnitzel", "12 chicken nuggets", "300 g battered haddock",
                     "200 g scampi in breadcrumbs", "4 turkey goujons", "1 chicken katsu"):  # fmt: skip
            with self.subTest(text):
                found = verdicts(read_line(text))
                self.assertEqual((found.get("wheat"), found.get("gluten")), (CONTAINS, CONTAINS))
                self.assertTrue({"egg", "milk"} <= set(found))


class Doubts(SimpleTestCase):
    def test_a_doubtful_line_rules_nothing_out(self):
        for text in ("200 g breaded cod", "3 tbsp dragon sauce", "1 jar sandwich filler", "100 g breadcrumbs, gluten-free",
                     "100 g crispy crunchies", "100 g cheddar (vegan)"):  # fmt: skip
            line = read_line(text)
            self.assertEqual(line.sure, "check", text)
            self.assertEqual(set(verdicts(line)), set(ALLERGENS), text)

    def test_what_the_candidates_hold_is_said_as_it_is(self):
        found = verdicts(read_line("200 g breaded cod"))
        self.assertEqual((found["fish"], found["lupin"]), (CONTAINS, CHECK))

    def test_only_its_kind_is_open(self):
        """Almond drink, sweetened or not, holds no milk: which of its kinds it is changes nothing there."""
        self.assertEqual(read_line("1 cup almond milk").sure, "check")
        self.assertNotIn("milk", verdicts(read_line("1 cup almond milk")))


class Promises(SimpleTestCase):
    """A promise is kept by the food taken, or the line asks, wherever it stands. Common practice."""

    def test_kept_or_asked(self):
        for text in (
            "300 g pasta, gluten-free", "200 g flour, gluten-free", "2 tbsp mayonnaise (vegan)", "3 tbsp jam (sugar-free)",
            "500 g mince, 5 % fat", "500 g cod, salted", "1 cup yogurt, vegan", "200 g cream cheese (dairy-free)",
            "100 g butter, plant-based", "400 g cod, breaded", "2 tbsp honey, vegan", "250 g cheddar, fat-free",
            "400 g pork sausages, vegetarian", "1 cup whole milk, lactose-free", "1 cup yogurt (10 % fat)",
            "200 g cheddar, reduced fat", "2 tbsp ketchup (no added sugar)", "200 g cucumbers, pickled",
        ):  # fmt: skip
            with self.subTest(text):
                line = read_line(text)
                if line.sure == "check":
                    self.assertTrue(line.ask)
                else:
                    self.assertEqual(broken_by(foods().by_id(line.food_id), said_in(text)), [], description_of(line))

    def test_never_the_opposite_food(self):
        """Where no food of the family keeps it, none is taken; what it was read as may still be offered."""
        for text in (
            "100 g breadcrumbs (gluten-free)", "2 tbsp honey, vegan", "200 g cheddar, vegan", "1 cup yogurt, vegan",
            "2 tbsp ketchup (no added sugar)", "300 g cod, smoked", "100 g cranberries, dried, unsweetened",
        ):  # fmt: skip
            line = read_line(text)
            self.assertEqual((line.food_id, line.sure), (None, "check"), text)
            self.assertGreater(line.grams, 0)

    def test_kept(self):
        for text in (
            "250 g unsalted butter", "250 g butter, unsalted", "300 g gluten-free pasta", "200 g rice, gluten-free",
            "1 cup 2% milk", "1 tsp smoked paprika", "200 g carrots, unsalted", "500 g ground beef, 90% lean", "500 g ground beef, 3% fat", "400 g salmon, smoked",
            "200 g lentils, vegan", "2 tbsp olive oil (dairy-free)", "1 cup skim milk",
        ):  # fmt: skip
            with self.subTest(text):
                self.assertNotEqual(read_line(text).sure, "check", read_line(text).ask)


class Amounts(SimpleTestCase):
    def test_a_weight_of_all_is_not_of_each(self):
        for text, grams in (
            ("4 chicken breasts (about 600 g total), each cut in 3", 600), ("4 chicken breasts (150 g each)", 600),
            ("4 chicken breasts (600 g in total)", 600), ("2 chicken breasts (about 6 oz each)", 340),
            ("4 salmon fillets, 120 g each", 480), ("3 potatoes (500 g altogether), each halved", 500),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertAlmostEqual(read_line(text).grams, grams, delta=1)

    def test_sums_of_measures(self):
        self.assertAlmostEqual(read_line("1 cup+2 tbsp flour").grams, 125 * 18 / 16, delta=1)


class WhatSwapsMean(SimpleTestCase):
    def test_dry_and_full_foods_are_named(self):
        """A rule of so many grams for so many means what is bought: dry grain over 300 kcal, the canned coconut milk."""
        energy = lambda food_id: foods().per_100g[foods().by_id(food_id).row, INDEX["energy_kcal"]]  # noqa: E731
        for name in (
            "barley",
            "buckwheat groats",
            "millet",
            "quinoa",
            "white rice",
            "brown rice",
            "red lentils",
            "pasta",
        ):
            self.assertGreater(energy(food_called(name)), 300, name)
        self.assertGreater(energy(food_called("coconut milk")), 150)
        for rule in catalog():
            for food_id, _ in rule.to:
                if foods().by_id(food_id).category == "Pasta, noodles, cooked grains":
                    self.fail(f"{rule.id} names a cooked grain: {foods().by_id(food_id).description}")
        for name in (side.name for side in sides()):
            self.assertNotEqual(foods().by_id(food_called(name)).category, "Pasta, noodles, cooked grains")


class DryMatter(SimpleTestCase):
    """Names that mean a dry good stand for one: nothing cooked, canned or diluted in its place. Dry grains and pulses hold
    about 88 g of dry matter in 100 g, cooked ones 25 to 45 (USDA FoodData Central, from memory)."""

    #: What is bought dry when nothing else is said.
    DRY = re.compile(
        r"^(?:dried |dry |white |brown |basmati |jasmine |long grain |arborio |pearl |red |green |whole wheat |egg )*"
        r"(?:rice|barley|buckwheat|buckwheat groat|millet|quinoa|bulgur|couscous|farro|spelt|oat|rolled oat|polenta|cornmeal|semolina|"
        r"pasta|spaghetti|penne|noodle|lentil|split pea|chana dal|flour|cornstarch|sugar|milk powder)$"
    )

    def dry_matter(self, food):
        return sum(float(foods().per_100g[food.row, INDEX[key]]) for key in ("protein_g", "fat_g", "carbohydrate_g"))

    def test_names(self):
        seen = [
            (name, foods().by_description(row["food"]))
            for row in read_table("cooks_names.tsv")
            for name in row["names"].split("|")
            if self.DRY.match(name)
        ]
        self.assertGreater(len(seen), 30)
        self.assertEqual([(name, food.description) for name, food in seen if self.dry_matter(food) < 75], [])

    def test_swaps_and_additions_of_dry_goods(self):
        for rule in catalog():
            for food_id, _ in rule.to:
                food = foods().by_id(food_id)
                if food.category == "Cereal Grains and Pasta" and "cooked" not in food.description:
                    self.assertGreater(self.dry_matter(food), 70, rule.id)
        for name in (side.name for side in sides()):
            if self.DRY.match(name):
                self.assertGreater(self.dry_matter(foods().by_id(food_called(name))), 75, name)


class FoodsThatLeft(SimpleTestCase):
    def test_a_retired_food_keeps_its_values_and_asks(self):
        line = read_line("20 g unsalted butter")
        row = foods().by_id(line.food_id).row
        text = {name: [values[row]] for name, values in foods().text.items()}
        one = slice(row, row + 1)
        shelf = ("per_100g", "at_least_per_100g", "at_most_per_100g")
        gone = Foods(
            text | {"ids": ["usda:sr/old-butter"], "kinds": [RETIRED]}, *(getattr(foods(), n)[one] for n in shelf)
        )
        old = replace(line, food_id="usda:sr/old-butter")
        with using(foods().joined(gone)):
            kept = standing(old)
            self.assertEqual((kept.food_id, kept.sure), ("usda:sr/old-butter", "check"))
            self.assertIn("last known values", str(kept.ask))
            self.assertEqual(
                analyze_lines([kept], 1).amount("energy_kcal"), analyze_lines([line], 1).amount("energy_kcal")
            )
            self.assertEqual(read_line("20 g unsalted butter").food_id, line.food_id)

    def test_a_food_nobody_knows_is_unknown_and_not_zero(self):
        kept = standing(replace(read_line("20 g butter"), food_id="usda:sr/dodo"))
        self.assertEqual((kept.food_id, kept.sure), (None, "check"))
        self.assertIn("usda:sr/dodo", str(kept.ask))
        self.assertEqual(analyze_lines([kept], 1).interval("sodium_mg"), (0.0, float("inf")))
