"""Signatures of the foods, against a reading by hand; and the one choice they make, case by case."""

import importlib.util
from pathlib import Path

from django.test import SimpleTestCase

from nutrition.food.names import plain_name
from nutrition.food.signatures import family, signature, words_said
from nutrition.food.table import RETIRED, foods
from nutrition.reading.kin import kin_of
from nutrition.reading.recipe import read_line
from nutrition.tables import TABLES, read_table

#: Read by hand from the descriptions: food, nouns a line may call it by, nouns it may not, words that tell it from its family.
BY_HAND = (
    ("Fish, salmon, Atlantic, wild, raw", "salmon", "wild atlantic", "salmon atlantic wild"),
    ("Oil, corn, industrial and retail, all purpose salad or cooking", "oil", "corn salad", "oil corn"),
    ("Cheese, feta", "feta cheese", "", "feta"),
    ("Cheese, cream", "cheese", "cream", "cream"),
    ("Cheese, goat, soft type", "cheese", "goat", "goat soft"),
    ("Beans, kidney, all types, mature seeds, raw", "bean", "kidney", "kidney"),
    ("Beans, pinto, mature seeds, raw", "pinto bean", "", "pinto"),
    ("Squash, winter, spaghetti, raw", "squash", "spaghetti winter", "spaghetti"),
    ("Rice, white, long-grain, regular, raw, enriched", "rice", "white", "white rice"),
    ("Rice, brown, long-grain, raw", "rice", "brown", "brown rice"),
    ("Egg, white, raw, fresh", "egg", "white", "egg white"),
    ("Egg, whole, dried", "egg", "whole", "egg whole dried"),
    ("Prune juice, canned", "juice", "prune", "prune juice canned"),
    ("Soup, tomato, canned, condensed", "soup", "tomato", "soup tomato"),
    ("Tomato, paste, canned, without salt added", "paste tomato", "", "tomato paste"),
    ("Jams and preserves", "preserve", "", "jam preserve"),
    ("Nuts, pistachio nuts, raw", "pistachio nut", "", "pistachio"),
    ("Corn nuts", "nut", "corn", "corn"),
    ("Crustaceans, shrimp, raw", "shrimp", "", "shrimp"),
    ("Pork, fresh, ground, raw", "pork", "ground", "pork ground"),
    ("Crackers, matzo, plain", "matzo cracker", "plain", "matzo"),
    ("Veggie burger, on bun", "burger", "bun", "veggie burger"),
    ("Babyfood, vegetables, carrots, strained", "carrot babyfood", "strained", "babyfood carrot strained"),
    ("Spices, pepper, black", "pepper", "black", "pepper black"),
    ("Currants, red and white, raw", "currant", "white", "currant red white"),
)


class Signatures(SimpleTestCase):
    def test_as_read_by_hand(self):
        for description, heads, no_heads, tells in BY_HAND:
            with self.subTest(description):
                found = signature(foods().by_description(description).row)
                self.assertLessEqual(set(heads.split()), set(found.heads))
                self.assertFalse(set(no_heads.split()) & set(found.heads))
                self.assertLessEqual(set(tells.split()), found.tells)

    def test_every_food_has_one_of_its_own_words(self):
        table = foods()
        for row in range(len(table.base)):
            if table.text["kinds"][row] != RETIRED:
                found = signature(row)
                self.assertTrue(found.heads, table.descriptions[row])
                self.assertLessEqual({*found.heads, *found.tells}, words_said(row), table.descriptions[row])

    def test_they_are_what_the_tool_builds(self):
        path = Path(__file__).resolve().parents[2] / "tools" / "build_signatures.py"
        spec = importlib.util.spec_from_file_location("build_signatures", path)
        tool = importlib.util.module_from_spec(spec)
        spec.loader.exec_module(tool)
        built = [dict(zip(("food", "heads", "under", "tells"), row, strict=True)) for row in tool.rows_of(foods().base)]
        self.assertEqual(built, [dict(row) for row in read_table("signatures.tsv")], TABLES / "signatures.tsv")

    def test_a_family_is_of_one_noun(self):
        self.assertFalse([d for row in family("corn") if (d := foods().descriptions[row]).startswith("Oil")])
        self.assertFalse([d for row in family("kidney") if (d := foods().descriptions[row]).startswith("Beans")])


class OneChoice(SimpleTestCase):
    """What says all of a line's words wins over what only does not deny them. Each line was read as the second, many of them surely."""

    CASES = (
        ("100 g cashews, lightly salted", "Cashews, lightly salted", "Cashews, salted"),
        ("100 g egg salad sandwich on white", "Egg salad sandwich on white", "Egg, white, raw, fresh"),
        (
            "250 g cottage cheese, dry curd",
            "Cheese, cottage, dry curd",
            "Cheese, cottage, creamed, large or small curd",
        ),
        ("100 g pancake syrup, light", "Pancake syrup, light", "Syrups, table blends, pancake"),
        (
            "40 g oatmeal, reduced sugar",
            "Oatmeal, reduced sugar",
            "Cereals, oats, regular and quick, not fortified, dry",
        ),
        ("200 g beets, canned, reduced sodium, cooked", "Beets, canned, reduced sodium, cooked", "Beets, raw"),
        ("1 tbsp dried whole egg", "Egg, whole, dried", "Egg, white, dried"),
        ("150 g medium rye flour", "Rye flour, medium", "Rye flour, dark"),
        ("200 g currants, red and white", "Currants, red and white, raw", "Currants, zante, dried"),
        ("200 g red cabbage, pickled", "Cabbage, red, pickled", "Cabbage, kimchi"),
        ("100 g burrito, cheese only", "Burrito, cheese only", "Burrito, beef, cheese"),
        ("1 cup coffee, iced latte", "Coffee, Iced Latte", "Coffee, Latte"),
        ("100 g canned shrimp", "Shrimp, canned", "Crustaceans, shrimp, raw"),
        ("200 g spinach, cooked, with salt", "Spinach, cooked, boiled, drained, with salt", "Spinach, raw"),
    )

    def test_the_food_that_says_it_is_meant(self):
        for text, meant, not_this in self.CASES:
            with self.subTest(text):
                line = read_line(text, 4)
                self.assertEqual(foods().description(line.food_id), meant)
                self.assertNotEqual(foods().by_description(not_this).id, line.food_id)

    def test_salt_that_no_food_says_is_not_left_out(self):
        """Cooked lentils of the table are without salt: with salt they are no food, and unknown to the gate."""
        line = read_line("100 g lentils, cooked, with salt")
        self.assertEqual((line.sure, line.food_id), ("check", None))

    def test_what_is_made_for_babies_is_asked_about(self):
        for text in ("200 g strained yogurt", "100 g strained carrots"):
            line = read_line(text)
            self.assertEqual((line.sure, bool(line.ask)), ("check", True), text)

    def test_a_line_turned_round_and_of_nothing_else(self):
        """Once it raised: the noun of "crisp, apple" was taken for a word that says nothing."""
        self.assertEqual(foods().description(read_line("Crisp, apple").food_id), "Crisp, apple")

    def test_what_a_row_says_more_puts_it_behind(self):
        rows = family("pear")
        plain = kin_of(rows, {"pear"}, ())[0]
        self.assertTrue(plain.is_exact, plain.food.description)
        self.assertNotIn("asian", words_said(plain.row))


class NamesOnTheCard(SimpleTestCase):
    """A long description keeps what it says of cooking and salt: cooked salmon is never called raw."""

    def test_state_and_salt_stay(self):
        for description, kept in (
            ("Fish, salmon, coho, wild, cooked, dry heat", "cooked"),
            ("Collards, cooked, boiled, drained, with salt", "with salt"),
            ("Spinach, cooked, boiled, drained, without salt", "without salt"),
            ("Babyfood, cereal, mixed, with bananas, dry", "dry"),
        ):
            self.assertIn(kept, plain_name(description))
