"""Labels, times, heats, portions of salt and reading grades against published figures; the source stands in each row."""

from django.test import SimpleTestCase

from nutrition.dish.dish import Dish
from nutrition.food.table import foods
from nutrition.giving.ceilings import ceiling, goods_of, most_behind, step_above
from nutrition.giving.reading_level import grade, syllables
from nutrition.limits.gates import Target, gates_for
from nutrition.reading.recipe import read_line
from nutrition.reading.steps import heat_of, waits_of
from nutrition.stove.spending import allowances, measure
from tests.reference.test_rules import table


class LabelRounding(SimpleTestCase):
    def test_figures_of_a_label(self):
        for row in table("label_figures.tsv"):
            with self.subTest(**row):
                printed = float(row["printed"])
                self.assertEqual(step_above(row["nutrient"], printed), float(row["next"]))
                self.assertEqual(most_behind(row["nutrient"], printed), float(row["most_behind"]))

    def test_every_ceiling_is_a_figure_and_the_highest_that_fits(self):
        for key in ("sodium_mg", "saturated_fat_g", "sugars_g", "potassium_mg"):
            for tenth in range(5, 9000, 37):
                room = tenth / 10
                printed = ceiling(key, room)
                if printed is None:
                    self.assertGreater(most_behind(key, 0.0), room)
                    continue
                self.assertLessEqual(most_behind(key, printed), room + 1e-9)
                self.assertGreater(most_behind(key, step_above(key, printed)), room)

    def test_label_servings(self):
        # Reference amounts of 21 CFR 101.12(b): canned beans 130 g, cheese 30 g, bread 50 g, dry pasta 55 g, soy sauce 1 tbsp.
        for description, grams in (
            ("Chickpeas (garbanzo beans, bengal gram), mature seeds, canned, drained solids", 130),
            ("Cheese, Cheddar", 30),
            ("Pasta, dry, enriched", 55),
            ("Soy sauce made from soy and wheat (shoyu)", 17),
            ("Tomatoes, red, ripe, canned, packed in tomato juice", 130),
            ("Soup, chicken broth, ready-to-serve", 240),
            ("Soup, chicken broth cubes, dry", 4),
            ("Milk, evaporated, whole", 30),
            ("Tomato juice, canned, with salt added", 240),
        ):
            self.assertEqual(goods_of(foods().by_description(description).id).grams, grams, description)
        for description in (
            "Carrots, raw",
            "Rice, white, long-grain, regular, raw, enriched",
            "Salt, table",
            "Melons, honeydew, raw",
            "Tamarinds, raw",
        ):
            self.assertIsNone(goods_of(foods().by_description(description).id), description)


class Stove(SimpleTestCase):
    def test_times_and_heats(self):
        for row in table("stove.tsv"):
            with self.subTest(**row):
                waits = ",".join(f"{w.seconds}-{w.most_seconds}" for w in waits_of(row["words"]))
                self.assertEqual(waits, row["waits"])
                setting, inside = heat_of(row["words"])
                shown = f"{setting.c}/{setting.fan_c}/{setting.f}/{setting.gas}" if setting else ""
                self.assertEqual(shown, row["oven"])
                self.assertEqual("" if inside is None else str(inside), row["inside"])


class SaltToSpend(SimpleTestCase):
    def test_five_grams_of_salt_are_two_grams_of_sodium(self):
        # WHO 2012: 2,000 mg sodium a day is 5 g salt; the USDA table has 387.58 mg of sodium in a gram of it.
        gates = gates_for([Target("sodium_mg", maximum=2000, scope="serving")])
        found = allowances(Dish("", 1, (read_line("200 g white sugar"),)), gates)[0]
        self.assertAlmostEqual(found.room, 2000 / 387.58, delta=0.1)
        self.assertEqual(found.grams, 0)  # a limit is no goal: none was planned

    def test_a_teaspoon(self):
        # rules of the trade: 1 tsp of table salt is 6 g.
        self.assertEqual(measure(foods().by_description("Salt, table").id, 6.0), "1 tsp")


class ReadingGrade(SimpleTestCase):
    def test_the_formula_by_hand(self):
        # Kincaid et al. 1975: 0.39 words a sentence + 11.8 syllables a word - 15.59. 24 words, 4 sentences, 28 syllables.
        text = "Stir the pot and let it cook. Add the salt at the end. Taste it, then stop. Serve it warm with rice and butter today."
        words = 25
        count = sum(syllables(w) for w in text.replace(",", "").replace(".", "").split())
        self.assertEqual(len(text.split()), words)
        self.assertAlmostEqual(grade(text), 0.39 * words / 4 + 11.8 * count / words - 15.59, delta=0.06)
        self.assertEqual(count, 27)

    def test_harder_words_read_harder(self):
        easy = "Cook the rice. Drain it well. Put it on the plate. " * 3
        hard = (
            "Subsequently incorporate phosphorus-containing constituents, ascertaining concentrations appropriately. "
            * 3
        )
        self.assertLess(grade(easy), 3)
        self.assertGreater(grade(hard), 12)
