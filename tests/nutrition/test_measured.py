"""Blood results and their units, medicines and what follows from them, water. Sources beside each check."""

from datetime import date, timedelta

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from nutrition.food.nutrients import INDEX
from nutrition.food.own import OwnFood, with_own
from nutrition.food.table import foods
from nutrition.limits.eater import Eater
from nutrition.limits.measured import FRESH_DAYS, Measurement, decide, last_of, measures
from nutrition.limits.medicines import medicines_in
from nutrition.limits.plans import CIRCUMSTANCES, PLANS, Facts, choose, targets_for
from nutrition.notes import Problem
from nutrition.tables import read_table

TODAY = date(2026, 11, 26)


class Bloods(SimpleTestCase):
    def test_units_of_one_thing_agree(self):
        """Phosphate 1.45 mmol/L is 4.5 mg/dL (30.974 g/mol); HbA1c 53 mmol/mol is 7.0 % (IFCC master equation)."""
        for key, value, expected in (
            ("phosphate_mmol_l", 1.453, 4.5), ("hba1c_mmol_mol", 53, 7.0), ("hba1c_mmol_mol", 42, 6.0),
            ("albumin_g_l", 38, 3.8),
        ):  # fmt: skip
            measure = measures()[key]
            self.assertAlmostEqual(value * measure.factor + measure.offset, expected, places=1)

    def test_the_ends_of_the_range_are_within(self):
        for value, side in ((3.4, "below"), (3.5, "within"), (5.0, "within"), (5.1, "above")):
            self.assertEqual(Measurement("potassium_mmol_l", value, TODAY).side, side)

    def test_a_result_of_tomorrow_frees_nothing(self):
        tomorrow = Measurement("potassium_mmol_l", 4.4, TODAY + timedelta(days=1))
        self.assertTrue(decide("potassium", [tomorrow], TODAY).is_limited)
        high = Measurement("potassium_mmol_l", 5.9, TODAY)
        self.assertTrue(decide("potassium", [high, tomorrow], TODAY).is_limited)

    def test_a_number_that_looks_like_the_other_unit(self):
        """Phosphate: usual 2.5 to 4.5 mg/dL, 0.81 to 1.45 mmol/L (KDIGO CKD-MBD 2017)."""
        for key, value, other in (
            ("phosphate_mg_dl", 1.2, "mmol/L"), ("phosphate_mg_dl", 1.9, "mmol/L"), ("phosphate_mmol_l", 3.9, "mg/dL"),
            ("phosphate_mg_dl", 4.0, ""), ("phosphate_mg_dl", 6.1, ""), ("phosphate_mmol_l", 1.1, ""),
            ("phosphate_mmol_l", 1.9, ""), ("potassium_mmol_l", 3.1, ""), ("albumin_g_dl", 2.9, ""), ("albumin_g_l", 29, ""),
        ):  # fmt: skip
            read = Measurement(key, value, TODAY).in_another_unit
            self.assertEqual(read.measure.unit if read else "", other, (key, value))

    def test_the_newest_counts_and_of_a_day_the_last_written(self):
        old, first, second = (
            Measurement("potassium_mmol_l", value, TODAY - timedelta(days=days))
            for value, days in ((5.9, 40), (4.1, 3), (4.2, 3))
        )
        self.assertEqual(last_of("potassium", [first, old, second]), second)
        self.assertIsNone(last_of("phosphate", [old]))

    @given(st.floats(2, 8.5), st.integers(0, 400))
    def test_only_a_fresh_result_that_is_not_high_frees(self, value, days):
        result = Measurement("potassium_mmol_l", value, TODAY - timedelta(days=days))
        decision = decide("potassium", [result], TODAY)
        self.assertEqual(decision.is_limited, days > FRESH_DAYS or round(value, 2) > 5.0)
        facts = Facts(60, measured=(result,), today=TODAY)
        limited = "potassium_mg" in {target.nutrient for target in targets_for("kidney", facts)}
        self.assertEqual(limited, decision.is_limited)
        asked = PLANS["kidney"].not_limited_of(facts, choose("kidney", {}))
        free = {each.nutrient for each in asked if not each.is_doubtful}
        self.assertEqual("potassium_mg" in free, not limited)

    def test_another_limit_is_never_called_not_limited(self):
        result = Measurement("potassium_mmol_l", 4.4, TODAY)
        facts = Facts(60, plans=("kidney",), measured=(result,), today=TODAY)
        own = targets_for("kidney", Facts(60), {"potassium": "2500"})
        bare = Eater(facts, {"kidney": {}}, tuple(targets_for("kidney", facts)))
        (found,) = (each for each in bare.not_limited() if each[1].nutrient == "potassium_mg")
        self.assertEqual(found[1].nutrient, "potassium_mg")
        self.assertIn("potassium 4.4 mmol/L on November 26, 2026, within the usual 3.5 to 5", str(found[1].why))
        self.assertEqual(Eater(facts, {"kidney": {}}, tuple(own)).not_limited(), [])

    def test_a_result_that_grew_old_is_said_where_no_limit_stands(self):
        """Drafted when the result was new; nobody has drafted since."""
        then = Facts(60, measured=(Measurement("potassium_mmol_l", 4.4, TODAY),), today=TODAY)
        later = Facts(60, measured=then.measured, today=TODAY + timedelta(days=100))
        eater = Eater(later, {"kidney": {}}, tuple(targets_for("kidney", then)))
        ((_, found),) = eater.not_limited()
        self.assertEqual((found.nutrient, found.is_doubtful), ("potassium_mg", True))
        self.assertIn("more than three months old", str(found.why))

    def test_what_cannot_be_is_refused_in_words(self):
        for key, value in (
            ("potassium_mmol_l", 44),
            ("phosphate_mg_dl", float("nan")),
            ("inr", -1),
            ("albumin_g_dl", 38),
        ):
            with self.assertRaises(Problem) as caught:
                Measurement(key, value, TODAY)
            self.assertIn("is expected", str(caught.exception))
        with self.assertRaises(Problem):
            Measurement("mood", 4, TODAY)


class Medicines(SimpleTestCase):
    def test_read_from_a_list(self):
        for text, expected in (
            ("Lisinopril 10 mg daily", {"raises_potassium"}),
            ("losartan/hydrochlorothiazide 50/12.5", {"raises_potassium"}),
            ("Warfarin as the clinic says, simvastatin 20 mg at night", {"warfarin", "grapefruit"}),
            ("tacrolimus", {"raises_potassium", "grapefruit", "low_immunity"}),
            ("insulin glargine 12 units", {"insulin"}),
            ("rosuvastatin", set()),
            ("lithium carbonate", {"lithium"}),
            ("", set()),
        ):
            found = {each for medicine in medicines_in(text) for each in medicine.circumstances}
            self.assertEqual(found, expected, text)

    def test_one_that_is_not_known_is_named_as_such(self):
        (unknown,) = medicines_in("Zorvexil 5 mg twice a day")
        self.assertEqual((unknown.words, unknown.kind), ("zorvexil", ""))

    def test_every_circumstance_is_one(self):
        for row in read_table("medicines.tsv"):
            self.assertLessEqual(set(row["circumstances"].split()), set(CIRCUMSTANCES), row["kind"])
            self.assertTrue(row["text"], row["kind"])

    @given(st.text(max_size=200))
    def test_nothing_raises(self, text):
        medicines_in(text)


class FreePlants(SimpleTestCase):
    """UK practice and MacDonald et al. 2011: which fruit and vegetables are free, which are counted."""

    def test_free_and_counted(self):
        for name, is_free in (
            ("Apples, raw, with skin", True), ("Carrots, raw", True), ("Strawberries, raw", True), ("Cabbage, raw", True),
            ("Cucumber, with peel, raw", True), ("Oranges, raw, all commercial varieties", True),
            ("Potatoes, flesh and skin, raw", False), ("Peas, green, raw", False), ("Spinach, raw", False),
            ("Corn, sweet, yellow, raw", False), ("Mushrooms, white, raw", False), ("Egg, whole, raw", False),
            ("Bread, white, commercially prepared", False), ("Lentils, raw", False),
        ):  # fmt: skip
            row = next((i for i, text in enumerate(foods().descriptions) if text.startswith(name)), None)
            if row is None:
                continue
            protein, counted = (float(foods().known[row, INDEX[key]]) for key in ("protein_g", "counted_protein_g"))
            self.assertEqual(counted, 0 if is_free else protein, name)

    def test_what_counts_is_never_more_than_there_is(self):
        known = foods().known
        self.assertTrue((known[:, INDEX["counted_protein_g"]] <= known[:, INDEX["protein_g"]] + 1e-6).all())


class Water(SimpleTestCase):
    """USDA Standard Reference, nutrient 255, g in 100 g, from memory; the table here has no column of it."""

    KNOWN = {
        "Egg, whole, raw": 76.2, "Apples, raw, with skin": 85.6, "Cheese, Cheddar": 36.8, "Sugars, granulated": 0.0,
        "Broccoli, raw": 89.3, "Bananas, raw": 74.9, "Nuts, almonds": 4.4, "Watermelon, raw": 91.5, "Butter, salted": 15.9,
        "Cucumber, with peel, raw": 95.2, "Mushrooms, white, raw": 92.5, "Fish, salmon, Atlantic, farmed, raw": 64.9,
        "Alcoholic beverage, wine, table, red": 86.5, "Alcoholic beverage, beer, regular, all": 92.0,
        "Lentils, mature seeds, cooked, boiled, without salt": 69.6, "Potatoes, flesh and skin, raw": 79.3,
    }  # fmt: skip

    def test_known_values(self):
        for name, grams in self.KNOWN.items():
            food = foods().by_description(name)
            self.assertAlmostEqual(foods().value(name, "water_g"), grams, delta=1.0, msg=name)
            least, most = (
                float(side[food.row, INDEX["water_g"]])
                for side in (foods().at_least_per_100g, foods().at_most_per_100g)
            )
            self.assertTrue(least - 0.5 <= grams <= most + 0.5, (name, least, most))

    def test_what_counts_as_fluid(self):
        """Liquid at room temperature: common practice of fluid limits."""
        for name, counts in (
            ("Chicken broth, ready-to-serve", True), ("Soup, tomato", True), ("Ice creams, vanilla", True),
            ("Gelatin dessert", True), ("Beer, light", True), ("Tomato juice, canned, without salt added", True),
            ("Watermelon, raw", False), ("Cheese, Cheddar", False), ("Yogurt, plain, whole milk", False),
            ("Coffee cake, yeast type", False), ("Lentils, mature seeds, cooked, boiled, without salt", False),
        ):  # fmt: skip
            row = next(
                (i for i, text in enumerate(foods().descriptions) if text.lower().startswith(name.lower()[:24])), None
            )
            if row is not None:
                self.assertEqual(bool(foods().at_most_per_100g[row, INDEX["fluid_ml"]] > 0), counts, name)

    def test_a_label_of_nobodys_kind_may_be_fluid(self):
        drink = OwnFood("own:drink", "Green something", "", "label", {"protein_g": 1, "fat_g": 1, "carbohydrate_g": 8})
        table = with_own([drink])
        row = table.by_id("own:drink").row
        self.assertTrue(table.is_unknown[row, INDEX["fluid_ml"]])
        self.assertGreater(float(table.at_most_per_100g[row, INDEX["fluid_ml"]]), 80)

    def test_water_and_the_rest_are_the_whole(self):
        """Nothing weighs more than itself: least water with the least solids stays within 100 g."""
        known = foods().known
        parts = ("water_g", "protein_g", "fat_g", "carbohydrate_g")
        self.assertLess(float(sum(known[:, INDEX[key]] for key in parts).max()), 106.1)
