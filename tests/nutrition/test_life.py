"""What goes by age: DRI 2005 and NASEM 2019, from memory; below 18 no plan drafts an adult's figure."""

from django.test import SimpleTestCase

from nutrition.limits.life import needs_at
from nutrition.limits.plans import PLANS, Facts, missing_for, targets_for
from nutrition.notes import Problem

#: Figures that go by a cut-off of food or by what the clinic set, and not by an adult's formula.
FOR_ALL_AGES = {"low-fodmap", "low-protein", "child", "fructose", "fluid"}


class Children(SimpleTestCase):
    def test_no_adult_formula(self):
        for key in PLANS:
            for facts in (Facts(22, 1500, (key,), (), 7), Facts(60, 2000, (key,), (), 17.9), Facts(22, 1500, (key,))):
                drafted = {target.nutrient for target in targets_for(key, facts)}
                if key in FOR_ALL_AGES:
                    continue
                allowed = {"sodium_mg"} if key == "low-sodium" and facts.age_years else set()
                self.assertLessEqual(drafted, allowed, (key, facts.age_years))
                if targets_for(key, Facts(70, 2000, (key,), (), 40)) and not drafted:
                    self.assertTrue(missing_for(key, facts), key)

    def test_adults_are_as_before(self):
        for key in PLANS:
            if key == "child":
                continue
            known, unknown = Facts(70, 2000, (key,), (), 40), Facts(70, 2000, (key,))
            self.assertEqual(targets_for(key, known), targets_for(key, unknown), key)

    def test_needs_by_age(self):
        for age, per_kg, grams, sodium in (
            (1, 1.05, 13, 1200), (3.9, 1.05, 13, 1200), (4, 0.95, 19, 1500), (8.9, 0.95, 19, 1500), (9, 0.95, 34, 1800),
            (13.9, 0.95, 34, 1800), (14, 0.85, None, 2300), (17.9, 0.85, None, 2300),
        ):  # fmt: skip
            needs = needs_at(age)
            self.assertEqual((needs.protein_g_per_kg, needs.protein_g, needs.sodium_mg), (per_kg, grams, sodium), age)
        for age in (None, 0, 0.9, 18, 70):
            self.assertIsNone(needs_at(age))

    def test_an_age_nobody_has(self):
        for age in (-1, 121):
            with self.assertRaises(Problem) as caught:
                Facts(age_years=age)
            self.assertIn("0 to 120", str(caught.exception))
