"""Which food of its family a line means: lines of many kitchens, the everyday names of the whole table, words no table has."""

import re

import numpy as np
from django.test import SimpleTestCase

from nutrition.food.names import cook_name, normalized
from nutrition.food.table import RETIRED, foods
from nutrition.reading.choice import food_named
from nutrition.reading.deciding import COLUMNS, DECIDES, MINDED
from nutrition.reading.matching import matcher
from nutrition.reading.other_words import in_our_words
from nutrition.reading.questions import is_in_question
from nutrition.reading.recipe import read_line
from nutrition.sheet.analysis import weighed
from nutrition.tables import read_table
from tests import sampled
from tests.nutrition import rows_beside


def described(line):
    return foods().by_id(line.food_id).description.lower() if line.food_id else ""


class LinesOfKitchens(SimpleTestCase):
    """Share of foods and weights right, and of plain lines that ask, at least and at most."""

    FLOORS = {"a": (0.97, 0.94, 0.09), "b": (0.91, 0.90, 0.12), "c": (0.73, 0.82, 0.25), "d": (0.95, 0.98, 0.08)}

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.read = [(row, read_line(row["text"], 4)) for row in rows_beside(__file__, "lines_of_kitchens.tsv")]

    @staticmethod
    def is_right(row, line):
        said, may_be_none = row["food"].rstrip("|-"), row["food"].endswith("-")
        return (bool(said) and re.search(said, described(line)) is not None) if line.food_id else may_be_none

    def test_foods_and_weights(self):
        for which, (foods_right, weights_right, asked) in self.FLOORS.items():
            mine = [(row, line) for row, line in self.read if row["set"] == which]
            right = [self.is_right(row, line) for row, line in mine]
            weights = []
            for row, line in mine:
                if row["grams"] != "?":
                    least, _, most = row["grams"].partition("..")
                    span = 0.9 * float(least), 1.1 * float(most or least)
                    weights.append(line.grams is not None and span[0] <= line.grams <= span[1])
            plain = [line.sure == "check" for row, line in mine if row["open"] != "open"]
            with self.subTest(which):
                self.assertGreater(len(mine), 70)
                self.assertGreaterEqual(np.mean(right), foods_right)
                self.assertGreaterEqual(np.mean(weights), weights_right)
                self.assertLessEqual(np.mean(plain), asked)

    #: What the table of names has as a near stand-in: likely, and by that not the food itself.
    STANDS_IN = ("2 tbsp pomegranate molasses", "1 lb andouille")

    #: Likely and wrong at the first look at "c": near foods that the table of names has stand in.
    STAND_IN = ("2 tbsp pomegranate molasses", "1 lb andouille")

    def test_a_wrong_food_is_neither_sure_nor_likely(self):
        wrong = [
            (row["text"], line) for row, line in self.read if not self.is_right(row, line) and line.sure != "check"
        ]
        self.assertEqual({text: line.sure for text, line in wrong}, dict.fromkeys(self.STAND_IN, "likely"))


class EverydayNames(SimpleTestCase):
    """Each food of the table by what a cook calls it; a twelfth is asked unless everything is."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        table = foods()
        rows = [row for row in range(len(table)) if table.text["kinds"][row] != RETIRED]
        cls.read = [(row, read_line(f"100 g {cook_name(table.ids[row])}")) for row in sampled(rows, 600)]

    def test_it_is_found_or_stands_among_what_is_asked(self):
        found = [line.food_id == foods().ids[row] or foods().ids[row] in line.others for row, line in self.read]
        self.assertGreater(np.mean(found), 0.85)

    def test_what_decides_lies_in_the_span(self):
        """Two rows of one name are within what nobody minds, or the line is asked about: all but one in thirty."""
        outside = []
        for row, line in self.read:
            if line.sure == "check" or line.food_id == foods().ids[row]:
                continue
            least, most = (side[0, COLUMNS] for side in weighed([line]).spans(1))
            truth = foods().known[row][COLUMNS]
            minded = np.maximum(MINDED, 0.15 * truth)
            if ((truth < least - minded) | (truth > most + minded)).any():
                outside.append((foods().descriptions[row], described(line)))
        self.assertLess(len(outside) / len(self.read), 0.035, outside)


class OpenWords(SimpleTestCase):
    def test_a_word_no_table_has_leaves_the_food_in_question(self):
        """ "Moonfruit jam" may be anything: unknown to every gate, or no food at all."""
        for row in sampled([row for row in read_table("cooks_names.tsv") if row["sure"] == "sure"], 150):
            name = row["names"].split("|")[0]
            for text in (f"100 g quondar {name}", f"100 g {name} quondar"):
                line = read_line(text)
                self.assertTrue(
                    line.sure == "check" and (line.food_id is None or is_in_question(line)), (text, described(line))
                )

    def test_a_food_that_says_more_of_the_words_and_not_all_is_in_question(self):
        for text in (
            "100 g quondar asian pears",
            "100 g quondar lightly salted butter, whipped",
            "1 cup quondar milk, 2 %",
        ):
            line = read_line(text)
            self.assertTrue(line.food_id is None or is_in_question(line), (text, described(line), str(line.ask)))

    def test_what_a_food_lies_in_is_never_the_food(self):
        for name in ("sweetcorn", "anchovies", "tuna", "artichoke hearts", "peaches", "sardines", "zhoog"):
            for liquid in ("water", "olive oil", "brine", "spring water", "juice", "syrup"):
                line = read_line(f"1 x 400 g can {name} in {liquid}, drained")
                self.assertNotRegex(described(line), r"^(?:beverages, water|oil,|water|syrup|sugars)", (name, liquid))

    def test_two_foods_are_not_one(self):
        self.assertTrue(is_in_question(read_line("1 tbsp butter and honey")))

    def test_words_that_say_nothing_elsewhere_may_name_a_food(self):
        for text, *may_be in (
            ("1 banana split", "Banana split", "Bananas, raw"),
            ("200 g Spanish rice", "Spanish rice, fat added"),
        ):
            line = read_line(text)
            ids = {foods().by_description(each).id for each in may_be}
            self.assertEqual((line.sure, ids <= {line.food_id, *line.others}), ("check", True), text)

    def test_a_name_alone_is_read_as_a_line_is(self):
        for row in sampled(read_table("cooks_names.tsv"), 200):
            name = row["names"].split("|")[0]
            self.assertEqual(food_named(name).row, matcher().match(name).row, name)

    def test_a_made_thing_is_not_what_it_is_made_of(self):
        """Each was read as its main ingredient, some of them surely."""
        for text, is_found in (
            ("100 g pudding, rice", "Pudding, rice"),
            ("100 g apple crisp", "Crisp, apple"),
            ("100 g egg white sandwich", "Egg white sandwich"),
            ("100 g veggie burger on bun", "Veggie burger, on bun"),
            ("100 g white chili", "Chili, white"),
            ("100 g candied sweet potato", "Sweet potato, candied"),
            ("100 g canned shrimp", "Shrimp, canned"),
            ("100 g canned oysters", "Oysters, canned"),
            ("100 g peppers, hot", "Peppers, hot, raw"),
            ("100 g Mexican baking chocolate", "Baking chocolate, mexican, squares"),
        ):
            line = read_line(text)
            self.assertEqual((described(line), line.sure != "sure"), (is_found.lower(), True), text)


class OtherWords(SimpleTestCase):
    def test_no_name_a_cook_has_is_read_otherwise(self):
        """What a cook calls a food here already is left alone, or read as other words for the same food."""
        names = [name for row in read_table("cooks_names.tsv") for name in row["names"].split("|")]
        wrong = [(name, read) for name in names if (read := in_our_words(name)) != name]
        self.assertEqual([each for each in wrong if food_named(each[0]).row != food_named(each[1]).row], [])
        self.assertEqual(in_our_words("200 g chana dal, soaked"), "200 g chana dal, soaked")

    def test_an_english_word_needs_company(self):
        for text in ("1 dose of salt", "2 tsp til", "100 g noix", "1 tbsp sale"):
            self.assertEqual(in_our_words(text), text)
        self.assertEqual(in_our_words("50 g de noix, hachées"), "50 g  walnuts, chopped")

    def test_every_row_is_read(self):
        """Each word means a food, a measure or a way of cutting that the reading knows."""
        unread = []
        for row in read_table("kitchen_words.tsv"):
            means = row["means"]
            if means == "-":
                continue
            line = read_line(f"100 g {means}")
            says_more = (
                normalized(f"2 {means} butter") != normalized("2 butter") and read_line(f"2 {means} butter").food_id
            )
            if not line.food_id and not says_more and not line.others:
                unread.append((row["words"], means))
        self.assertEqual(unread, [])


class Deciding(SimpleTestCase):
    def test_each_nutrient_that_decides_has_a_difference_one_minds(self):
        self.assertTrue(all(minded > 0 for minded in DECIDES.values()))
        self.assertEqual(len(COLUMNS), len(DECIDES))
