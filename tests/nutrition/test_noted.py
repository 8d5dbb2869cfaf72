"""What somebody noted in words of their own, looked for by name."""

import re

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.food.names import all_names
from nutrition.food.own import OwnFood, with_own
from nutrition.food.table import foods, using
from nutrition.limits.eater import Eater
from nutrition.limits.noted import named_in, noted_words
from nutrition.reading.recipe import read_line
from nutrition.swaps.offers import Workbench

#: note, line, whether the line names it (common sense of a reader).
ROWS = (
    ("mango", "1 ripe mango, cubed", True),
    ("mangoes", "2 tbsp mango chutney", True),
    ("severe kiwi allergy", "2 kiwis", True),
    ("kiwi", "1 lime", False),
    ("eggs", "1 eggplant", False),
    ("oats", "1 cup rolled oats", True),
    ("oats", "200 g goat cheese", False),
    ("blue cheese", "60 g blue cheese, crumbled", True),
    ("blue cheese", "60 g cheddar cheese", False),
    ("liver", "200 g calf's liver", True),
    ("liver", "1 tbsp olive oil", False),
    ("oral allergy syndrome: raw apples, hazelnuts", "1 apple", True),
    ("cilantro", "1/2 cup fresh coriander leaves", True),
    ("aubergine", "1 eggplant", True),
    ("bread", "1/2 cup bread crumbs", True),
    ("none known", "1 cup nothing in particular", False),
)


class Noted(SimpleTestCase):
    def test_rows(self):
        for note, text, is_named in ROWS:
            with self.subTest(note=note, line=text):
                found = named_in(noted_words(note), [read_line(text, 1)])
                self.assertEqual(any(each.lines for each in found), is_named)

    def test_the_list_of_a_label_names_it(self):
        sauce = OwnFood("own:s", "Green sauce", "", "label", {}, ingredients="water, kiwi puree, sea salt (iodized)")
        with using(with_own([sauce])):
            line = Line("100 g green sauce", food_id="own:s")
            named = {word: bool(named_in([word], [line])[0].lines) for word in ("kiwi", "mango", "water salt")}
        self.assertEqual(named, {"kiwi": True, "mango": False, "water salt": False})

    def test_a_line_that_may_be_it_names_it(self):
        mango = next(food_id for food_id in foods().ids if foods().description(food_id) == "Mangos, raw")
        (found,) = named_in(["mango"], [Line("1 large fruit", sure="check", others=(mango,))])
        self.assertEqual(found.lines, (0,))

    @given(st.integers(0, 7000))
    def test_every_food_names_its_own_words(self, row):
        food_id = foods().ids[row]
        for word in noted_words(foods().description(food_id)):
            self.assertTrue(named_in([word], [Line("", food_id)])[0].lines, word)

    def test_what_is_noted_is_never_offered(self):
        """Held against a plain search for the word, over every food of the table."""
        bench = Workbench(Dish("", 1, (read_line("1 apple", 1),)), Eater(), dislikes=["Oats; severe: Mangoes"])
        for food_id in foods().ids:
            is_named = re.search(r"\b(oats?|mango(e?s)?)\b", " ".join(all_names(food_id)).lower()) is not None
            self.assertEqual(bool(bench.forbidden(food_id)), is_named, foods().description(food_id))
