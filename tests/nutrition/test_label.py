"""A label in the hand: US and EU forms, any serving, rounding as intervals, what the list says, and what cannot be."""

from django.test import SimpleTestCase

from nutrition.dish.dish import Dish, keyed
from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.food.label import EU, US, Label, grams_of_serving
from nutrition.food.nutrients import INDEX
from nutrition.food.own import with_own
from nutrition.food.table import foods, using
from nutrition.food.tags import ALLERGENS, CHECK, CONTAINS
from nutrition.limits.avoid import find
from nutrition.notes import Problem
from nutrition.reading.matching import matcher, search_foods
from nutrition.reading.recipe import read_line
from nutrition.sheet.analysis import analyze
from nutrition.swaps.rules import catalog, food_called

#: An invented jar of tomato sauce, as a US label prints it, per half cup (125 g).
SAUCE = {"energy_kcal": 70, "fat_g": 2.5, "saturated_fat_g": 0, "sodium_mg": 480, "carbohydrate_g": 11, "fiber_g": 2, "sugars_g": 8,
         "added_sugars_g": 3, "protein_g": 2}  # fmt: skip
#: An invented oat biscuit, as an EU label prints it, per 100 g.
BISCUIT = {"energy_kj": 1950, "energy_kcal": 465, "fat_g": 19, "saturated_fat_g": 8.2, "carbohydrate_g": 62, "sugars_g": 24, "fiber_g": 6.1,
           "protein_g": 7.9, "salt_g": 0.85}  # fmt: skip


def sauce(**changes):
    return Label("Millbrook tomato sauce", US, 125, SAUCE | changes)


class Figures(SimpleTestCase):
    def test_us_rounding_is_an_interval(self):
        """21 CFR 101.9(c): sodium above 140 mg to 10, fat below 5 g to 0.5, carbohydrate to 1; from memory."""
        spans = sauce().spans
        self.assertEqual([round(value, 1) for value in spans["sodium_mg"]], [380.0, 384.0, 388.0])
        self.assertEqual([round(value, 2) for value in spans["fat_g"]], [1.8, 2.0, 2.2])
        self.assertEqual([round(value, 2) for value in spans["carbohydrate_g"]], [8.4, 8.8, 9.2])

    def test_zero_hides_half_a_gram(self):
        self.assertEqual([round(value, 2) for value in sauce().spans["saturated_fat_g"]], [0.0, 0.0, 0.4])

    def test_salt_is_sodium(self):
        """Regulation (EU) 1169/2011 Annex I: salt = sodium × 2.5."""
        low, likely, high = Label("Biscuit", EU, 100, BISCUIT).spans["sodium_mg"]
        self.assertAlmostEqual(likely, 340)
        self.assertTrue(low < 340 < high < 345)

    def test_fiber_stands_outside_the_carbohydrate_in_the_eu(self):
        self.assertAlmostEqual(Label("Biscuit", EU, 100, BISCUIT).spans["carbohydrate_g"][1], 68.1)
        self.assertAlmostEqual(sauce().spans["carbohydrate_g"][1], 8.8)

    def test_without_fiber_the_carbohydrate_is_open_above(self):
        _, likely, high = Label("Biscuit", EU, 100, {k: v for k, v in BISCUIT.items() if k != "fiber_g"}).spans[
            "carbohydrate_g"
        ]
        self.assertEqual(likely, 62)
        self.assertGreater(high, 70)

    def test_kilojoules_serve_for_energy(self):
        spans = Label("Biscuit", EU, 100, {k: v for k, v in BISCUIT.items() if k != "energy_kcal"}).spans
        self.assertAlmostEqual(spans["energy_kcal"][1], 1950 / 4.184)

    def test_what_is_not_printed_is_unknown(self):
        with using(with_own([sauce().as_food("own:1")])):
            row = foods().by_id("own:1").row
            self.assertTrue(foods().is_unknown[row, INDEX["potassium_mg"]])
            self.assertGreater(foods().at_most_per_100g[row, INDEX["potassium_mg"]], 0)

    def test_what_is_not_printed_is_never_more_than_its_whole(self):
        label = Label("Stock", US, 240, {"energy_kcal": 10, "fat_g": 0, "carbohydrate_g": 1, "protein_g": 1})
        with using(with_own([label.as_food("own:2")])):
            most = foods().at_most_per_100g[foods().by_id("own:2").row]
            self.assertLessEqual(most[INDEX["saturated_fat_g"]], most[INDEX["fat_g"]])
            self.assertLessEqual(most[INDEX["added_sugars_g"]], most[INDEX["carbohydrate_g"]])

    def test_servings_as_printed(self):
        for words, grams in (
            ("½ cup (125 g)", 125),
            ("2 slices (56g)", 56),
            ("30", 30),
            ("100 ml", 100),
            ("1 bar / 42.5 g", 42.5),
        ):
            self.assertEqual(grams_of_serving(words), grams, words)
        with self.assertRaises(Problem):
            grams_of_serving("half a cup")


class Checks(SimpleTestCase):
    def refused(self, code, field, **changes):
        with self.assertRaises(Problem) as caught:
            sauce(**changes)
        self.assertEqual((caught.exception.code, caught.exception.note.value("field")), (f"food.{code}", field))
        self.assertTrue(str(caught.exception))

    def test_what_cannot_be_is_asked_at_the_field(self):
        self.refused("label_below_zero", "sodium_mg", sodium_mg=-5)
        self.refused("label_too_much", "fat_g", fat_g=2000)
        self.refused("label_part", "saturated_fat_g", saturated_fat_g=5)
        self.refused("label_part", "sugars_g", sugars_g=20)
        self.refused("label_parts_exceed", "per_g", protein_g=120)
        with self.assertRaises(Problem):
            Label("x", US, 0, SAUCE)
        with self.assertRaises(Problem):
            Label("x", US, 125, {"energy_kcal": 70})

    def test_energy_beside_its_parts(self):
        self.assertFalse(sauce().questions)
        (asked,) = sauce(energy_kcal=170).questions
        self.assertEqual(asked.code, "food.label_energy")

    def test_beside_the_food_it_stands_for(self):
        usual = foods().by_description("Spaghetti sauce").id
        label = Label("Sauce", US, 125, SAUCE | {"sodium_mg": 1900}, stands_for=usual)
        self.assertIn("food.label_unlike", [asked.code for asked in label.questions])

    def test_additives(self):
        label = Label(
            "Drink",
            US,
            240,
            SAUCE,
            ingredients="Water, phosphoric acid, potassium chloride, maltitol, aspartame (E951)",
        )
        self.assertEqual({kind for kind, _ in label.additives}, {"phosphate", "potassium", "polyol", "aspartame"})
        self.assertEqual(sauce().additives, ())


class InTheDish(SimpleTestCase):
    def setUp(self):
        label = Label("Cashew cheese, Elmfold", US, 30, {"energy_kcal": 90, "fat_g": 7, "carbohydrate_g": 5, "protein_g": 2, "sodium_mg": 150},
                      ingredients="Cashews, water, salt", may_contain="May contain soy.")  # fmt: skip
        scope = using(with_own([label.as_food("own:7")]))
        scope.__enter__()
        self.addCleanup(scope.__exit__, None, None, None)

    def test_the_list_speaks_of_allergens(self):
        line = Line("100 g cheese", "own:7", Grams.exactly(100), "weight", "sure", words_hold=False)
        found = {finding.tag: finding.verdict for finding in find([line])}
        self.assertEqual(found, {"tree_nut": CONTAINS, "soy": CHECK})
        self.assertLess(len(found), len(ALLERGENS))

    def test_it_speaks_before_the_words_of_the_line(self):
        printed = {"energy_kcal": 10, "fat_g": 0, "carbohydrate_g": 1, "protein_g": 1}
        stock = Label("Elmfold stock", US, 240, printed, ingredients="Water, carrots, salt")
        sauce = Label(
            "Elmfold brew", US, 15, printed, ingredients="Water, soybeans, salt", may_contain="May contain fish"
        )
        bare = Label("Elmfold mystery", US, 15, printed)
        with using(with_own([stock.as_food("own:8"), sauce.as_food("own:9"), bare.as_food("own:10")])):

            def holds(text, food_id):
                line = Line(text, food_id, Grams.exactly(9), "weight", "sure")
                return {finding.tag: finding.verdict for finding in find([line])}

            # What the words only send one to the label for has been read.
            self.assertEqual(holds("1 litre vegetable stock", "own:8"), {})
            # What they say it holds and the label does not list is looked at again; its traces are said.
            found = holds("2 tbsp soy sauce", "own:9")
            self.assertEqual((found["soy"], found["wheat"], found["fish"]), (CONTAINS, CHECK, CHECK))
            # What stands beside it is none of that label's business.
            self.assertEqual(holds("2 tbsp stock with butter", "own:8"), {"milk": CONTAINS})
            # A label whose list nobody typed says nothing.
            self.assertEqual(set(holds("2 tbsp of it", "own:10")), set(ALLERGENS))

    def test_what_additives_may_add_is_not_bounded_by_the_kind(self):
        """KCl is 52.4 % potassium; a list falls by weight (Regulation (EU) 1169/2011 Article 18): behind the salt it is at most the salt."""
        usual = foods().by_description("Soup, vegetable broth, ready to serve").id

        def most(ingredients, key="potassium_mg"):
            label = Label(
                "Stock",
                EU,
                100,
                {"energy_kcal": 5, "fat_g": 0, "carbohydrate_g": 1, "protein_g": 0, "salt_g": 1},
                ingredients,
                "",
                usual,
            )
            with using(with_own([label.as_food("own:5")])):
                return float(foods().at_most_per_100g[foods().by_id("own:5").row, INDEX[key]])

        plain = most("Water, salt")
        self.assertAlmostEqual(most("Water, salt, potassium chloride") - plain, 1.05 * 524.5, delta=10)
        self.assertGreater(most("Water, potassium chloride, salt") - plain, 50_000)
        self.assertGreater(
            most("Water, salt, sodium phosphates", "phosphorus_mg"), most("Water, salt", "phosphorus_mg") + 150
        )

    def test_a_name_that_sends_one_to_the_label_is_answered_by_it(self):
        printed = {"energy_kcal": 10, "fat_g": 0, "carbohydrate_g": 1, "protein_g": 1}
        stock = Label("Elmfold stock", US, 240, printed, ingredients="Water, carrots, leeks, salt")
        butter = Label("Almond butter", US, 32, printed, ingredients="Nuts, salt")
        with using(with_own([stock.as_food("own:8"), butter.as_food("own:9")])):

            def holds(food_id):
                line = Line("it", food_id, Grams.exactly(9), "weight", "sure", words_hold=False)
                return {finding.tag: finding.verdict for finding in find([line])}

            self.assertEqual(holds("own:8"), {})
            self.assertEqual(holds("own:9")["tree_nut"], CONTAINS)

    def test_figures_are_as_wide_as_their_rounding(self):
        line = Line("100 g cheese", "own:7", Grams.exactly(100), "weight", "sure")
        low, high = analyze(Dish("x", 1, keyed([line]))).interval("sodium_mg")
        self.assertAlmostEqual(low, 145 / 0.3, delta=0.1)
        self.assertAlmostEqual(high, 155 / 0.3, delta=0.1)

    def test_a_label_called_like_a_food_of_the_table_takes_nothing_over(self):
        printed = {"energy_kcal": 900, "fat_g": 100, "carbohydrate_g": 0, "protein_g": 0}
        names = ("Salt, table", "olive oil", "Butter, salted")
        own = [Label(name, US, 100, printed).as_food(f"own:x{at}") for at, name in enumerate(names)]
        before = [rule.to for rule in catalog()]
        with using(with_own(own)):
            self.assertTrue(foods().by_description("Salt, table").id.startswith("usda:"))
            self.assertFalse(read_line("1 tsp salt").food_id.startswith("own:"))
            self.assertEqual([rule.to for rule in catalog()], before)
            catalog.cache_clear()
            self.assertEqual([rule.to for rule in catalog()], before)
        self.assertFalse(food_called("olive oil").startswith("own:"))

    def test_it_is_found_by_name_and_the_table_is_not_indexed_again(self):
        self.assertEqual(search_foods("cashew cheese")[0].id, "own:7")
        within = matcher()
        with using(with_own([])):
            self.assertIs(matcher(), within)
        self.assertEqual(read_line("100 g cashew cheese", aliases={"cashew cheese": "own:7"}).food_id, "own:7")
