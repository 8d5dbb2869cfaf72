"""Changing a line: amounts, foods, draining; and what is refused."""

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from nutrition.dish.cooking import AS_IS, DRAINED, RINSED, bring_to, state_of, states
from nutrition.dish.naming import description_of
from nutrition.food.measures import grams_per_ml, household_measure
from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods
from nutrition.notes import NOTHING, Problem
from nutrition.reading.edits import foods_to_choose, reread, with_amount, with_food
from nutrition.reading.recipe import read_line


class Amounts(SimpleTestCase):
    def setUp(self):
        self.sugar = read_line("1 cup sugar")

    def test_typed(self):
        for typed, grams in (
            ("450", 450),
            ("450 g", 450),
            ("12,5", 12.5),
            ("½ cup", 100),
            ("2 tbsp", 25),
            ("1 oz", 28.35),
        ):
            changed = with_amount(self.sugar, typed)
            self.assertAlmostEqual(changed.grams, grams, delta=0.1, msg=typed)
            self.assertTrue(changed.is_edited)

    def test_refused_in_words(self):
        for typed in ("", "-5", "0", "0 g", "lots", "1e9", "1000000000 cups", "−3 g"):
            with self.assertRaises(Problem) as caught:
                with_amount(self.sugar, typed)
            self.assertIn("Type", str(caught.exception).replace("type", "Type"), typed)

    def test_no_food_yet(self):
        with self.assertRaisesRegex(Problem, "Choose the food"):
            with_amount(read_line("2 tbsp zhoug"), "20 g")

    @given(st.floats(0.2, 40_000))
    def test_grams_are_taken_as_typed(self, grams):
        self.assertAlmostEqual(with_amount(self.sugar, f"{grams:.2f}").grams, grams, delta=0.006)


class Foods(SimpleTestCase):
    def test_keeps_the_weight(self):
        honey = foods().by_description("Honey")
        line = with_food(read_line("100 g sugar"), honey.id)
        self.assertEqual((description_of(line), line.grams, line.sure, line.ask), ("Honey", 100, "sure", NOTHING))

    def test_unknown_food(self):
        with self.assertRaisesRegex(Problem, "Search for it again"):
            with_food(read_line("100 g sugar"), "nope")

    def test_choices_begin_with_what_it_was_read_as(self):
        line = read_line("2 tbsp butter")
        self.assertEqual(foods_to_choose(line)[0], line.food_id)
        self.assertIn(foods().by_description("Butter, without salt").id, foods_to_choose(line))

    def test_reread(self):
        self.assertEqual(reread("700 g zucchini", 4).grams, 700)
        for text in ("", "x" * 400):
            with self.assertRaises(Problem):
                reread(text, 4)


class Draining(SimpleTestCase):
    def setUp(self):
        self.can = read_line("1 (400 g) can chickpeas")

    def sodium(self, line):
        return line.grams / 100 * foods().per_100g[foods().by_id(line.food_id).row, INDEX["sodium_mg"]]

    def test_there_and_back(self):
        rinsed = bring_to(self.can, RINSED)
        self.assertAlmostEqual(rinsed.grams, 240)
        self.assertEqual(state_of(rinsed.food_id), RINSED)
        back = bring_to(bring_to(rinsed, DRAINED), AS_IS)
        self.assertAlmostEqual(back.grams, self.can.grams)
        self.assertEqual(back.food_id, self.can.food_id)

    def test_sodium_falls_about_as_measured(self):
        # Duyff, Mount and Jones 2011: sodium per portion of beans falls 36 % drained, 41 % drained and rinsed;
        # the whole can's sodium falls further, for its liquid is gone.
        for state in (DRAINED, RINSED):
            self.assertLess(self.sodium(bring_to(self.can, state)), 0.64 * self.sodium(self.can))
        self.assertLess(self.sodium(bring_to(self.can, RINSED)), self.sodium(bring_to(self.can, DRAINED)))

    def test_only_what_comes_in_liquid(self):
        sugar = read_line("1 cup sugar")
        self.assertEqual(states(sugar.food_id), ())
        with self.assertRaisesRegex(ValueError, "cannot be drained"):
            bring_to(sugar, DRAINED)


class Measures(SimpleTestCase):
    def test_household_measure(self):
        for description, grams, measure in (
            ("Sugars, granulated", 100, "½ cup"), ("Salt, table", 3, "½ tsp"), ("Oil, olive, salad or cooking", 27.2, "2 tbsp"),
            ("Egg, whole, raw, fresh", 150, "about 3"), ("Turnips, raw", 200, "about 1½"),
        ):  # fmt: skip
            self.assertEqual(household_measure(foods().by_description(description), grams), measure)

    def test_densities_are_those_of_food(self):
        # Nothing in a kitchen is lighter than 0.02 g/ml (leaves) or heavier than 1.7 g/ml (syrup, salt).
        wrong = []
        for row in range(len(foods())):
            found = grams_per_ml(foods().food(row))
            if found and not 0.02 <= found[0] <= 1.7:
                wrong.append((foods().descriptions[row], found))
        self.assertEqual(wrong, [])
