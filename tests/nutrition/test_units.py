"""Conversions against published figures, and there and back again."""

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from nutrition.food import units
from nutrition.food.nutrients import BY_KEY, MEASURED, rounded


class Published(SimpleTestCase):
    def test_nist_handbook_44_appendix_c(self):
        # NIST Handbook 44, Appendix C, General Tables of Units of Measurement.
        for quantity, unit, grams in ((1, "oz", 28.349523125), (1, "lb", 453.59237)):
            self.assertAlmostEqual(units.to_grams(quantity, unit), grams, places=6)
        for unit, ml in (
            ("cup", 236.588), ("tbsp", 14.787), ("tsp", 4.929), ("fl oz", 29.574), ("pint", 473.176),
            ("quart", 946.353), ("gallon", 3785.412),
        ):  # fmt: skip
            self.assertAlmostEqual(units.to_ml(1, unit), ml, places=3)

    def test_imperial(self):
        # UK Weights and Measures Act 1985: gallon 4.54609 dm3; pint an eighth, fluid ounce a twentieth of a pint.
        self.assertAlmostEqual(units.to_ml(1, "gallon", "uk"), 4546.09)
        self.assertAlmostEqual(units.to_ml(1, "pint", "uk") * 8, 4546.09)
        self.assertAlmostEqual(units.to_ml(20, "fl oz", "uk"), units.to_ml(1, "pint", "uk"))

    def test_label_measures(self):
        # 21 CFR 101.9(b)(5)(viii).
        self.assertEqual(units.LABEL_ML, {"cup": 240.0, "tbsp": 15.0, "tsp": 5.0, "fl oz": 30.0})
        self.assertEqual(units.LABEL_OZ_GRAMS, 28.0)

    def test_salt_and_sodium(self):
        # EU 1169/2011 Annex I: salt = sodium x 2.5.
        self.assertEqual(units.salt_g(2000), 5.0)
        self.assertEqual(units.sodium_mg(5), 2000.0)

    def test_mmol(self):
        # 2,300 mg of sodium is the "100 mmol" of the guidelines.
        self.assertEqual(round(units.mmol(2300, "sodium_mg")), 100)
        self.assertAlmostEqual(units.mmol(39.10, "potassium_mg"), 1.0)

    def test_oven(self):
        # Common practice: 350 F is 175-180 C, gas mark 4 is 180 C; a fan oven 20 C lower.
        self.assertEqual(units.oven_celsius(350), 175)
        self.assertEqual(units.oven_celsius(350, fan=True), 155)
        self.assertEqual(units.oven_fahrenheit(180), 350)
        self.assertAlmostEqual(units.celsius(165), 73.9, places=1)

    def test_small_measures(self):
        # Common practice: dash 1/8, pinch 1/16, smidgen 1/32 teaspoon.
        tsp = units.to_ml(1, "tsp")
        for unit, share in (("dash", 8), ("pinch", 16), ("smidgen", 32)):
            self.assertAlmostEqual(units.to_ml(share, unit), tsp)


class RoundTrips(SimpleTestCase):
    @given(st.floats(-60, 600))
    def test_temperature(self, degrees):
        self.assertAlmostEqual(units.celsius(units.fahrenheit(degrees)), degrees, places=6)

    @given(st.floats(0, 1e5))
    def test_salt(self, mg):
        self.assertAlmostEqual(units.sodium_mg(units.salt_g(mg)), mg, places=5)

    @given(st.floats(0.01, 1e4))
    def test_household_measure_is_near(self, ml):
        text = units.household(ml)
        number, unit = text.rsplit(" ", 1)
        glyphs = {
            "¼": 0.25,
            "½": 0.5,
            "¾": 0.75,
            "⅓": 1 / 3,
            "⅔": 2 / 3,
            "⅛": 0.125,
            "⅜": 0.375,
            "⅝": 0.625,
            "⅞": 0.875,
        }
        digits = "".join(c for c in number if c not in glyphs)
        value = (float(digits) if digits else 0) + sum(glyphs.get(c, 0) for c in number)
        self.assertAlmostEqual(
            value * units.ML[unit.rstrip("s") if unit != "tbsp" else unit], ml, delta=0.09 * ml + 0.35
        )


class Rounding(SimpleTestCase):
    def test_sodium_steps(self):
        # Interface rule: 1 mg under 100, then 5, then 10.
        for amount, shown in (
            (42.4, "42"),
            (99.4, "99"),
            (423, "425"),
            (1237, "1,240"),
            (0, "0"),
            (0.02, "<0.1"),
            (0.05, "<0.1"),
        ):
            self.assertEqual(rounded(amount, "mg"), shown)

    def test_exactly_half_a_step_is_not_nothing(self):
        self.assertEqual(rounded(0.5, "kcal"), "<1")

    @given(st.floats(1e-6, 1e6), st.sampled_from(["g", "mg", "kcal"]))
    def test_something_never_shows_as_nothing(self, amount, unit):
        self.assertNotEqual(rounded(amount, unit), "0")

    def test_registry(self):
        self.assertEqual(len(MEASURED), 25)
        # 21 CFR 101.9(c): daily values.
        for key, value in (("sodium_mg", 2300), ("potassium_mg", 4700), ("phosphorus_mg", 1250), ("fiber_g", 28)):
            self.assertEqual(BY_KEY[key].daily_value, value)
