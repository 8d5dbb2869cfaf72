"""What the words of a line promise, its food keeps, wherever they stand; else the line asks.

The lines of words_that_bind.tsv were written before they were read. The moved words are laws: for every cook's name of
a kind and every word that can go with it, before the noun, behind a comma, in parentheses, in American and British.
"""

import itertools
import math
import re

from django.test import SimpleTestCase

from nutrition.food.contents import hits_of_food
from nutrition.food.names import normalized
from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods
from nutrition.food.tags import CONTAINS
from nutrition.reading.promises import said_in
from nutrition.reading.recipe import read_line, words_of_food
from nutrition.tables import read_table
from tests import sampled
from tests.nutrition import rows_beside


def of(food, key):
    """Per 100 g; what is not known is not low."""
    value = float(foods().per_100g[food.row, INDEX[key]])
    return math.inf if math.isnan(value) else value


def says(words):
    return lambda food: bool(re.search(words, food.description, re.I))


def at_most(key, most, words="(?!)"):
    return lambda food: of(food, key) <= most or says(words)(food)


def holds_none_of(*tags):
    return lambda food: not any(hit.verdict == CONTAINS and hit.tag in tags for hit in hits_of_food(food.id))


def is_dry(food):
    return says(r"dried|dry|dehydrated|Spices|desiccated")(food) or sum(
        of(food, key) for key in ("protein_g", "fat_g", "carbohydrate_g")
    ) >= 50  # fmt: skip


#: Sections of cooks_names.tsv, the words that say one thing, and whether a food keeps it (common practice; labels:
#: 21 CFR 101.61 and 101.62, Regulation (EU) 1924/2006, from memory).
MOVED = (
    ({"Dairy and eggs"}, ("fat-free", "0% fat", "nonfat"), at_most("fat_g", 1.0, "nonfat|fat free|skim")),
    ({"Dairy and eggs"}, ("reduced-fat", "low-fat"), at_most("fat_g", 4, "reduced|low|light|half|part.skim|[12]%")),
    ({"Dairy and eggs"}, ("lactose-free",), at_most("lactose_g", 0.1, "lactose")),
    ({"Dairy and eggs", "Fats and oils", "Stocks, sauces, condiments", "Meat and poultry"}, ("vegan", "plant-based"),
     holds_none_of("milk", "egg", "fish", "meat")),
    ({"Dairy and eggs", "Fats and oils", "Nuts and seeds", "Stocks, sauces, condiments"},
     ("unsalted", "no salt added", "salt-free"), at_most("sodium_mg", 80, r"unsalted|without salt|no salt|^Egg, .*raw")),
    ({"Stocks, sauces, condiments", "Meat and poultry"}, ("reduced-salt", "low-sodium"),
     at_most("sodium_mg", 140, "reduced|low|less|unsalted|without salt|no salt")),
    ({"Stocks, sauces, condiments", "Sweet things"}, ("sugar-free", "no added sugar"),
     at_most("sugars_g", 0.6, "sugar|low calorie|diet|unsweetened")),
    ({"Flours, starches, leaveners", "Grains, pasta, bread", "Stocks, sauces, condiments"}, ("gluten-free", "free from gluten"),
     holds_none_of("wheat", "gluten")),
    ({"Stocks, sauces, condiments", "Dairy and eggs"}, ("dairy-free",), lambda food: holds_none_of("milk")(food) or says("soy")(food)),
    ({"Stocks, sauces, condiments", "Flours, starches, leaveners"}, ("egg-free",), holds_none_of("egg")),
    ({"Fruit", "Vegetables"}, ("dried", "dehydrated"), is_dry),
    ({"Fruit", "Vegetables", "Pulses and soy", "Fish and shellfish"}, ("canned", "tinned"),
     lambda food: not says(r", raw|frozen|dried")(food)),
    ({"Fruit"}, ("in heavy syrup",), says("syrup")),
    ({"Fruit", "Vegetables", "Herbs and spices"}, ("pickled",), says("pickle|vinegar|kimchi|kraut|caper|jalapeno, canned")),
    ({"Fruit", "Vegetables"}, ("fresh",), lambda food: not says("canned|dried|pickled|smoked|powder|Spices")(food)),
    ({"Vegetables", "Pulses and soy", "Meat and poultry", "Grains, pasta, bread"}, ("cooked", "boiled"),
     lambda food: not says(r"\braw\b|uncooked|\bdry\b")(food)),
    ({"Vegetables", "Fish and shellfish", "Meat and poultry"}, ("deep-fried", "fried"), says("fried|fries|fry|saut|chips")),
    ({"Fish and shellfish", "Meat and poultry"}, ("smoked",), says("smoke|bacon|ham|salami|sausage|lox|cured|kipper|kielbasa")),
    ({"Fish and shellfish", "Meat and poultry"}, ("breaded", "in breadcrumbs"), says("bread|batter|coat|fried|nugget|patt|stick")),
    ({"Nuts and seeds"}, ("salted",), lambda food: says("salt")(food) and of(food, "sodium_mg") > 100),
    ({"Nuts and seeds"}, ("roasted",), says("roast|toast")),
    ({"Pulses and soy"}, ("dried", "dry"), is_dry),
    ({"Pulses and soy"}, ("sprouted",), says("sprout")),
    ({"Grains, pasta, bread"}, ("whole-wheat", "wholemeal", "whole grain"), says("whole|graham|brown|oat|bulgur|quinoa|buckwheat|rye|popcorn|spelt|wild|corn|germ")),
)  # fmt: skip
PLACES = ("200 g {word} {name}", "200 g {name}, {word}", "200 g {name} ({word})")


class Contract(SimpleTestCase):
    def test_words_moved_about_a_line(self):
        """Over 5,000 lines of 300 foods; a sixth of them is asked unless everything is."""
        lines = []
        for row in read_table("cooks_names.tsv"):
            name = row["names"].split("|")[0]
            if said_in(name):
                continue  # it says something of its own, which may speak against the word
            for sections, words, keeps in MOVED:
                if row["section"] not in sections:
                    continue
                for word, place in (*itertools.product(words[:1], PLACES), *itertools.product(words[1:], PLACES[1:2])):
                    lines.append((name, place.format(word=word, name=name), keeps))
        self.assertGreater(len({name for name, _, _ in lines}), 300)
        self.assertGreater(len(lines), 5000)
        wrong = []
        for _, text, keeps in sampled(lines, 900):
            line = read_line(text)
            if line.sure != "check" and not keeps(foods().by_id(line.food_id)):
                wrong.append((line.text, line.sure, foods().by_id(line.food_id).description))
        self.assertEqual(wrong, [])

    def test_lines_written_before_they_were_read(self):
        """At least 92 % of foods and 96 % of weights right, none sure and wrong, one right line in eight asks at most."""
        rows = rows_beside(__file__, "words_that_bind.tsv")
        foods_right = weights_right = weights = right = asks = 0
        wrong, not_asked = [], []
        for row in rows:
            line = read_line(row["text"], 4)
            food = foods().by_id(line.food_id).description if line.food_id else ""
            is_food = bool(food and row["food"] != "-" and re.search(row["food"], food, re.I))
            is_weight = not row["grams"] or (
                line.grams is not None and abs(line.grams - float(row["grams"])) <= 0.15 * float(row["grams"]) + 0.1
            )
            foods_right += is_food
            weights += bool(row["grams"])
            weights_right += bool(row["grams"]) and is_weight
            if line.sure != "check" and not (is_food and is_weight):
                wrong.append((row["text"], food, line.grams))
            elif line.sure != "check" and row["open"]:
                not_asked.append((row["text"], food))
            if is_food and is_weight and not row["open"]:
                right, asks = right + 1, asks + (line.sure == "check")
        named = sum(row["food"] != "-" for row in rows)
        self.assertEqual((wrong, not_asked), ([], []))
        self.assertGreater(foods_right / named, 0.92)
        self.assertGreater(weights_right / weights, 0.96)
        self.assertLess(asks / right, 0.125)

    def test_every_cooks_name_keeps_what_it_promises(self):
        """A name may not stand for a food that breaks it, unless it asks. Berries from the freezer are berries."""
        wrong = [
            (name, food.description, [said.words for said in broken])
            for row in read_table("cooks_names.tsv")
            for name in row["names"].split("|")
            if row["sure"] == "sure" and (food := foods().by_description(row["food"]))
            if (broken := [said for said in said_in(name) if said.promise.soft != "yes" and not said.is_kept(food)])
        ]
        self.assertEqual(wrong, [])

    def test_what_is_remembered_is_what_bound(self):
        """A practice that says which gluten-free flour it has does not change what plain flour is."""
        self.assertEqual(words_of_food("200 g flour, gluten-free"), normalized("gluten-free flour"))
        gluten_free = foods().by_description("Flour, gluten-free blend, rice based").id
        aliases = {words_of_food("200 g flour, gluten-free"): gluten_free}
        self.assertEqual(read_line("300 g flour (gluten-free)", aliases=aliases).food_id, gluten_free)
        self.assertNotEqual(read_line("300 g flour", aliases=aliases).food_id, gluten_free)

    def test_what_else_stands_behind_plus_is_never_lost_unasked(self):
        for text in (
            "1 cup flour plus 2 tbsp cocoa powder",
            "200 g unsalted butter plus 1 tbsp olive oil",
            "100 g sugar plus 1 egg",
        ):
            self.assertEqual(read_line(text).sure, "check", text)
        for text in ("1 cup flour plus 2 tbsp", "1 cup plus 2 tbsp flour"):
            self.assertAlmostEqual(read_line(text).grams, 141, delta=1)
            self.assertNotEqual(read_line(text).sure, "check", text)

    def test_other_parts_of_the_line_bind_nothing(self):
        for text, plain in (
            ("2 cups spinach, washed and dried", "2 cups spinach"), ("500 g chicken thighs, for frying", "500 g chicken thighs"),
            ("300 g potatoes, to be boiled in salted water", "300 g potatoes"), ("2 carrots, cut into small cubes", "2 carrots"),
            ("400 g cod, patted dry", "400 g cod"), ("3 tomatoes, roasted until soft", "3 tomatoes"),
        ):  # fmt: skip
            self.assertEqual(read_line(text).food_id, read_line(plain).food_id, text)
