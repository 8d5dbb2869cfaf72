"""Food words to foods: names, questions, search, a practice's own names."""

from django.test import SimpleTestCase

from nutrition.dish.naming import description_of
from nutrition.food.names import normalized, singular
from nutrition.food.table import foods
from nutrition.reading.choice import nearer
from nutrition.reading.matching import matcher
from nutrition.reading.recipe import read_line
from nutrition.tables import read_table


def matched(words, hints=""):
    match = nearer(matcher().match(words, hints), words, hints, ())
    return (foods().descriptions[match.row] if match.row >= 0 else None), match.sure


class Names(SimpleTestCase):
    def test_at_least_500_names(self):
        self.assertGreater(sum(len(row["names"].split("|")) for row in read_table("cooks_names.tsv")), 500)

    def test_every_name_finds_its_own_food(self):
        wrong = []
        for row in read_table("cooks_names.tsv"):
            for name in row["names"].split("|"):
                found, _ = matched(name)
                if (found or "").lower() != row["food"].lower():
                    wrong.append((name, found, row["food"]))
        self.assertLessEqual(len(wrong), 6, wrong)

    def test_a_question_is_never_sure(self):
        for row in read_table("cooks_names.tsv"):
            if row["ask"]:
                self.assertEqual(row["sure"], "check", row["names"])
                self.assertNotEqual(matched(row["names"].split("|")[0])[1], "sure", row["names"])

    def test_british_and_american(self):
        for uk, us in (
            ("aubergine", "eggplant"), ("courgettes", "zucchini"), ("plain flour", "all-purpose flour"),
            ("caster sugar", "granulated sugar"), ("cornflour", "cornstarch"), ("spring onions", "scallions"),
            ("bicarbonate of soda", "baking soda"), ("beetroot", "beets"), ("icing sugar", "powdered sugar"),
            ("rocket", "arugula"), ("fresh coriander", "cilantro"), ("beef mince", "ground beef"), ("swede", "rutabaga"),
            ("prawns", "shrimp"), ("rapeseed oil", "canola oil"), ("wholemeal flour", "whole wheat flour"),
        ):  # fmt: skip
            self.assertEqual(matched(uk)[0], matched(us)[0], uk)

    def test_near_names_stay_apart(self):
        for a, b in (
            ("unsalted butter", "butter"), ("peanut butter", "butter"), ("coconut milk", "milk"), ("ground coriander", "coriander"),
            ("red pepper", "black pepper"), ("cornflour", "corn"), ("potato starch", "potato"), ("chicken stock cube", "chicken stock"),
            ("lemon juice", "lemon zest"), ("sweet potato", "potato"), ("buckwheat flour", "whole wheat flour"), ("egg white", "egg yolk"),
            ("cooked rice", "rice"), ("smoked salmon", "salmon"), ("low-sodium soy sauce", "soy sauce"), ("almond milk", "almonds"),
        ):  # fmt: skip
            self.assertNotEqual(matched(a)[0], matched(b)[0], a)

    def test_lean_grades(self):
        for words, grade in (
            ("80/20 ground beef", "80%"),
            ("beef mince 5% fat", "95%"),
            ("ground beef 88% lean", "90%"),
        ):
            self.assertIn(grade, matched(words)[0])
        self.assertIn("85% lean", matched("ground beef", "ground beef, 85% lean")[0])

    def test_leftover_words_that_matter_are_asked(self):
        for words in ("hazelnut butter", "gluten-free soy sauce substitute", "mushroom ketchup"):
            self.assertEqual(matched(words)[1], "check", words)

    def test_own_names_come_first(self):
        food = foods().by_description("Quark, low fat")
        match = matcher().match("Granny's curds", aliases={normalized("Granny's curds"): food.id})
        self.assertEqual((match.row, match.sure), (food.row, "likely"))

    def test_singular(self):
        for plural, one in (
            ("tomatoes", "tomato"),
            ("berries", "berry"),
            ("leaves", "leaf"),
            ("asparagus", "asparagus"),
        ):
            self.assertEqual(singular(plural), one)


class Guesses(SimpleTestCase):
    """What is guessed is never shown as sure."""

    def test_a_measure_nobody_knows_is_no_piece(self):
        for text in ("1 tray mushrooms", "1 joint beef", "4 medallions beef", "1 plate pasta", "3 scoops ice cream", "2 spoons sugar",
                     "1 side of salmon", "1 wheel brie"):  # fmt: skip
            self.assertEqual(read_line(text, 4).sure, "check", text)
        self.assertIsNone(read_line("3 wedges ice cream", 4).grams, "a class's average piece says nothing of a wedge")

    def test_a_scoop_is_a_span_until_its_label_says(self):
        """Ice cream: dishers of 60 to 140 ml at 132 g a cup (USDA portions); whey: 3 scoops are 86 g (USDA SR)."""
        for text, least, most in (("3 scoops ice cream", 100, 240), ("1 scoop whey protein", 12, 45)):
            line = read_line(text, 4)
            self.assertEqual(line.sure, "check", text)
            self.assertTrue(least <= line.weight.least < line.weight.most <= most, (text, line.weight))
        whey = read_line("1 scoop whey protein", 4).weight
        self.assertTrue(whey.least <= 86 / 3 <= whey.most)

    def test_a_can_is_not_the_fresh_food(self):
        for text in (
            "1 (15 oz) can beets",
            "1 can potatoes",
            "1 tin carrots",
            "1 can asparagus",
            "1 can mixed vegetables",
        ):
            line = read_line(text, 4)
            self.assertIn("canned", description_of(line), text)
            self.assertNotEqual(line.sure, "sure", text)
        self.assertEqual(read_line("1 can lychees", 4).sure, "check")

    def test_what_is_mixed_in_is_asked_for(self):
        self.assertEqual(read_line("500 ml water mixed with 1 stock cube", 4).sure, "check")
        self.assertEqual(read_line("500 ml water", 4).sure, "sure")


class Search(SimpleTestCase):
    def first(self, words):
        return [foods().descriptions[row] for row in matcher().search(words, 5)]

    def test_finds(self):
        self.assertIn("Squash, summer, zucchini, includes skin, raw", self.first("courgette"))
        self.assertTrue(any("Quinoa" in d for d in self.first("quinoa")))

    def test_forgives_typos(self):
        self.assertTrue(any("roccoli" in d for d in self.first("brocoli")))

    def test_completes_what_is_being_typed(self):
        self.assertTrue(any("Parsnips" in d for d in self.first("parsn")))

    def test_a_word_that_is_one_stands_before_longer_ones_that_begin_with_it(self):
        for word, other in (("bread", "breadfruit"), ("cheese", "cheesefurter"), ("egg", "eggplant"), ("pea", "peach")):
            with self.subTest(word):
                names = [name.lower() for name in self.first(word)[:4]]
                self.assertFalse([name for name in names if other in name], names)

    def test_nothing_for_nothing(self):
        self.assertEqual(matcher().search("  "), [])
