"""The rules of the trade against published figures: each row of the tables beside this file names its source."""

from datetime import date, timedelta
from pathlib import Path

import numpy as np
from django.test import SimpleTestCase

from nutrition.dish.cooking import CookedWeight, cooked_weight, kept
from nutrition.food.nutrients import INDEX, KEYS
from nutrition.food.table import foods
from nutrition.food.tags import ALLERGENS, CONTAINS, NOTHING, TAGS
from nutrition.limits.avoid import find
from nutrition.limits.measured import Measurement
from nutrition.limits.plans import PLANS, Facts, choose, targets_for
from nutrition.reading.recipe import read_line
from nutrition.sheet.analysis import Analysis
from nutrition.sheet.claims import Serving, content_claim
from nutrition.sheet.safety import safety_of


def table(name):
    """Rows of a tab-separated table beside this file."""
    lines = (Path(__file__).parent / name).read_text(encoding="utf-8").splitlines()
    header, *rows = [line.split("\t") for line in lines if line and not line.startswith("#")]
    return [dict(zip(header, row, strict=True)) for row in rows]


def pairs(text):
    return dict(pair.split("=") for pair in text.split(";") if pair)


TODAY = date(2026, 11, 26)


def person_of(text):
    """What else is known of a person, as Facts take it."""
    known = pairs(text)
    if "measured" in known:
        key, _, rest = known["measured"].partition(":")
        value, _, days = rest.partition("@")
        known["measured"] = (Measurement(key, float(value), TODAY - timedelta(days=int(days))),)
    return {name: float(value) if name in ("height_cm", "fluid_ml") else value for name, value in known.items()}


def number(text):
    return float(text) if text else None


class PublishedTargets(SimpleTestCase):
    def test_rows(self):
        for row in table("plans.tsv"):
            with self.subTest(**row):
                plans = (row["plan"], *row["with"].split())
                facts = Facts(
                    number(row["weight_kg"]), number(row["energy_kcal"]), plans, (), number(row["age_years"]),
                    **person_of(row["person"]), today=TODAY,
                )  # fmt: skip
                found = [
                    t for t in targets_for(row["plan"], facts, pairs(row["schools"])) if t.nutrient == row["nutrient"]
                ]
                if not row["minimum"] and not row["maximum"]:
                    self.assertEqual(found, [])
                    continue
                target = found[0]
                self.assertEqual(target.scope, row["scope"])
                for side, expected in ((target.minimum, row["minimum"]), (target.maximum, row["maximum"])):
                    self.assertEqual(None if side is None else round(side, 2), number(expected))
                self.assertTrue(target.source)

    def test_every_plan_is_checked(self):
        checked = {row["plan"] for row in table("plans.tsv")}
        without_numbers = {"gluten-free", "dairy-free", "vegetarian", "vegan", "gout", "halal", "kosher"}
        words_only = {"reflux", "texture"}
        self.assertEqual(
            {key for key in PLANS if not key.startswith("free-of:")} - without_numbers - words_only, checked
        )
        for key in without_numbers:
            self.assertTrue(PLANS[key].avoids_of(choose(key, {})), key)
        for key in words_only:
            self.assertTrue(PLANS[key].cautions, key)


class AllergensOfALine(SimpleTestCase):
    def test_rows(self):
        for row in table("allergens.tsv"):
            with self.subTest(**row):
                findings = find([read_line(row["line"], 4)], [row["tag"]])
                self.assertEqual(findings[0].verdict if findings else NOTHING, row["verdict"])


class AllergensOfPhrases(SimpleTestCase):
    """allergen_phrases.tsv: nothing held is missed; what is shown though nothing is there stays under 3 %."""

    def test_rows(self):
        missed, false, asked = [], [], 0
        for row in table("allergen_phrases.tsv"):
            shown = {finding.tag: finding.verdict for finding in find([read_line(row["line"], 4)], TAGS)}
            contains, check, none = (row[column].split() for column in ("contains", "check", "none"))
            if "*" in none:
                none = {*ALLERGENS, *none} - {*contains, *check, "*"}
            asked += len(none)
            missed += [(row["line"], tag) for tag in contains if shown.get(tag) != CONTAINS]
            missed += [(row["line"], tag) for tag in check if tag not in shown]
            false += [(row["line"], tag) for tag in none if tag in shown]
        self.assertEqual(missed, [])
        self.assertGreater(asked, 2000)
        self.assertLess(len(false), 0.03 * asked, false)


def serving(amounts):
    """An analysis of one serving that holds just these amounts, all known."""
    values = np.zeros(len(KEYS))
    for key, amount in amounts.items():
        values[INDEX[key]] = float(amount)
    by_line = np.vstack([values, np.zeros(len(KEYS))])
    return Analysis(values, values, values, by_line, by_line > np.inf, (), 100.0, np.ones(len(KEYS)))


class ContentClaims(SimpleTestCase):
    def test_rows(self):
        for row in table("claims.tsv"):
            with self.subTest(**row):
                grams = float(row["grams"])
                cooked = CookedWeight(grams, grams, grams, "weighed", True)
                # Two groups of foods, 50 g of each: what a main dish is made of (21 CFR 101.13(m)).
                lines = [read_line("100 g rice"), read_line("100 g carrots")]
                dish = Serving(lines, serving(pairs(row["amounts"])), cooked)
                claim = content_claim(row["claim"], dish, row["region"])
                self.assertEqual(claim.holds, row["holds"] == "true", claim.why)
                self.assertTrue(claim.source)

    def test_a_main_dish_has_two_groups_of_foods(self):
        """21 CFR 101.13(m): 6 oz, and at least 40 g each of foods of two of the four groups."""
        cooked = CookedWeight(300, 300, 300, "weighed", True)
        for texts, is_main in (
            (["100 g rice", "100 g carrots"], True),
            (["200 g rice"], False),
            (["150 g rice", "50 g carrots"], False),
            (["100 g cheddar", "100 g chickpeas"], True),
            (["100 g carrots", "100 g apples"], False),
        ):
            lines = [read_line(text) for text in texts]
            self.assertEqual(Serving(lines, serving({}), cooked).is_main_dish, is_main, texts)


class WhatCookingLeaves(SimpleTestCase):
    def test_rows(self):
        for row in table("cooking.tsv"):
            with self.subTest(**row):
                line = read_line(row["line"])
                least, likely, most = kept(line.food_id, row["method"])[:, INDEX[row["nutrient"]]]
                share, within = float(row["share"]), float(row["within"])
                self.assertAlmostEqual(likely, share, delta=within)
                self.assertTrue(least - 1e-9 <= likely <= most + 1e-9)

    def test_canned_beans(self):
        """Duyff, Mount and Jones 2011: drained −36 %, drained and rinsed −41 % sodium, by the weight of the beans."""
        white = "Beans, white, canned, "
        full = foods().value(white + "solids and liquids", "sodium_mg")
        for state, less in (("drained solids", 0.36), ("drained, rinsed", 0.41)):
            left = foods().value(white + state, "sodium_mg") / full
            self.assertAlmostEqual(1 - left, less, delta=0.08)

    def test_cooked_weights(self):
        """USDA Agriculture Handbook 102, in the manner of: grams cooked per gram raw."""
        for text, low, high in (
            ("300 g white rice", 2.8, 3.0),
            ("300 g spaghetti", 2.1, 2.3),
            ("300 g dried kidney beans", 2.3, 2.5),
            ("500 g chicken thighs", 0.70, 0.75),
            ("500 g carrots", 0.85, 0.95),
        ):
            line = read_line(text)
            factor = cooked_weight([line]).likely / line.grams
            self.assertTrue(low <= round(factor, 2) <= high, (text, factor))

    def test_the_cooks_scale_wins(self):
        weight = cooked_weight([read_line("300 g white rice")], measured=777)
        self.assertEqual((weight.least, weight.likely, weight.most, weight.is_measured), (777, 777, 777, True))


class DerivedValues(SimpleTestCase):
    def test_published(self):
        """Per 100 g: lactose (UK and US tables), alcohol (USDA), phenylalanine (50 mg a gram of protein)."""
        for food, key, expected, delta in (
            ("Milk, whole", "lactose_g", 4.8, 0.1),
            ("Cheese, Cheddar", "lactose_g", 0.1, 0.1),
            ("Butter, without salt", "lactose_g", 0.1, 0.1),
            ("Alcoholic beverage, wine, table, white", "alcohol_g", 10.3, 0.4),
            ("Alcoholic beverage, wine, table, red", "alcohol_g", 10.6, 0.4),
            ("Vanilla extract", "alcohol_g", 34.4, 1.0),
            ("Egg, whole, raw, fresh", "phenylalanine_mg", 12.56 * 50, 1),
            ("Rice, white, long-grain, regular, raw, enriched", "lactose_g", 0.0, 0.001),
        ):
            with self.subTest(food):
                self.assertAlmostEqual(foods().value(food, key), expected, delta=delta)

    def test_phenylalanine_of_usda_rows(self):
        """USDA amino acids, from memory: egg 680, milk 155, wheat flour 520, potato 90 mg per 100 g lie in the range."""
        for food, measured in (
            ("Egg, whole, raw, fresh", 680),
            ("Wheat flour, white, all-purpose, enriched, bleached", 520),
        ):
            row = foods().by_description(food).row
            column = INDEX["phenylalanine_mg"]
            self.assertTrue(foods().at_least_per_100g[row, column] <= measured <= foods().at_most_per_100g[row, column])


class InsideTemperatures(SimpleTestCase):
    def test_usda_chart(self):
        """USDA FSIS Safe Minimum Internal Temperature Chart."""
        for text, fahrenheit, celsius, rest in (
            ("500 g chicken thighs", 165, 74, 0),
            ("500 g ground turkey", 165, 74, 0),
            ("500 g ground beef", 160, 71, 0),
            ("500 g pork loin", 145, 63, 3),
            ("500 g salmon fillet", 145, 63, 0),
            ("4 eggs", 160, 71, 0),
        ):
            with self.subTest(text):
                hottest = safety_of([read_line(text)]).inside[0]
                self.assertEqual((hottest.inside_f, hottest.inside_c), (fahrenheit, celsius))
                self.assertEqual(hottest.rest_min, rest)

    def test_dried_kidney_beans(self):
        """FDA Bad Bug Book: boil hard, 30 minutes."""
        advice = " ".join(text for text, _ in safety_of([read_line("300 g dried kidney beans")]).advice)
        self.assertIn("boil hard for 30 minutes", advice)

    def test_garlic_in_oil_keeps_four_days(self):
        from nutrition.dish.cooking import treated

        line = treated(read_line("3 cloves garlic"), "infused-oil")
        self.assertIn("botulism", " ".join(text for text, _ in safety_of([line]).advice))
        self.assertNotIn("botulism", " ".join(text for text, _ in safety_of([read_line("3 cloves garlic")]).advice))


class HowMany(SimpleTestCase):
    def test_enough_rows(self):
        rows = [row for name in ("plans", "allergens", "claims", "cooking") for row in table(f"{name}.tsv")]
        self.assertGreaterEqual(len(rows), 120)
        self.assertTrue(all(row["source"] for row in rows))
