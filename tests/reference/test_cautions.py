"""Reminders, promises of titles, sittings and food safety against published advice: each row names its source."""

from django.test import SimpleTestCase

from nutrition.dish.cooking import cooked_weight, methods
from nutrition.food.table import foods
from nutrition.limits.gates import Target, gates_for
from nutrition.limits.plans import PLANS, Facts, targets_for
from nutrition.reading.recipe import read_line
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.cautions import cautions_for
from nutrition.sheet.claims import Serving, claims_in
from nutrition.sheet.safety import safety_of
from nutrition.sheet.verdicts import OPEN, SHUT, state_of
from tests.reference.test_rules import table


def lines_of(text):
    return [read_line(line, 4) for line in text.split(" | ")]


class Reminders(SimpleTestCase):
    def test_rows(self):
        for row in table("cautions.tsv"):
            lines = lines_of(row["lines"])
            who = row["who"].split()
            plans = tuple(key for key in who if key in PLANS)
            limited = {
                t.nutrient for plan in plans for t in targets_for(plan, Facts(70, 2000, plans)) if t.maximum is not None
            }
            circumstances = [key for key in who if key not in PLANS]
            steps = row["steps"].split(" | ") if row["steps"] else []
            shown = {c.key for c in cautions_for(lines, plans, limited, circumstances, analyze_lines(lines, 4), steps)}
            with self.subTest(lines=row["lines"], who=row["who"], key=row["key"]):
                self.assertEqual(row["key"] in shown, row["shown"] == "yes")


class PromisesOfTitles(SimpleTestCase):
    def test_rows(self):
        for row in table("claims_said.tsv"):
            lines = lines_of(row["lines"])
            dish = Serving(lines, analyze_lines(lines, 4), cooked_weight(lines).per_serving(4), row["title"])
            claims = {claim.key: claim for claim in claims_in(dish)}
            with self.subTest(title=row["title"], lines=row["lines"]):
                self.assertIn(row["claim"], claims)
                holds = {True: "yes", False: "no", None: "open"}[claims[row["claim"]].holds]
                self.assertEqual(holds, row["holds"], claims[row["claim"]].why)


class Sittings(SimpleTestCase):
    """Low FODMAP: one sitting of one food."""

    def test_rows(self):
        for row in table("fodmap_sittings.tsv"):
            [gate] = gates_for([Target(row["group"], maximum=1.0, scope="serving", plan="low-fodmap")])
            least, most = analyze_lines([read_line(row["line"], 1)], 1).interval(row["group"])
            state = {OPEN: "open", SHUT: "shut"}.get(state_of(gate, least, most), "unsure")
            with self.subTest(line=row["line"], group=row["group"]):
                self.assertEqual(state, row["state"], (least, most))


class Safety(SimpleTestCase):
    def test_rows(self):
        for row in table("food_safety.tsv"):
            safety = safety_of([read_line(row["line"], 4)], row["where"])
            advice = " ".join(text for text, _ in safety.advice).lower()
            with self.subTest(line=row["line"], where=row["where"]):
                inside = str(safety.inside[0].inside_f) if safety.inside else ""
                self.assertEqual((inside, str(safety.keep_days)), (row["inside_f"], row["keep_days"]))
                if row["advice"]:
                    self.assertIn(row["advice"], advice)
                else:
                    self.assertNotRegex(advice, "botulism|boil hard")


class WhatMayBeDone(SimpleTestCase):
    """Which ways of cooking are offered for a food: rules of the trade of kidney diets; marinades are what is poured off."""

    CASES = (
        ("400 g dried white beans", "boiled-pulses", True),
        ("200 g dried lentils", "boiled-pulses", True),
        ("1 can chickpeas", "boiled-pulses", False),
        ("500 g chicken breast", "boiled-meat", True),
        ("500 g beef chuck", "boiled-meat", True),
        ("200 g bacon", "boiled-meat", False),
        ("1 can green beans", "boiled-canned", True),
        ("1 can peas", "boiled-canned", True),
        ("300 g carrots", "boiled-canned", False),
        ("1 can peaches", "boiled-fruit", True),
        ("3 apples", "boiled-fruit", True),
        ("100 g raisins", "boiled-fruit", False),
        ("2 tbsp soy sauce", "poured-off", True),
        ("200 g tomato sauce", "poured-off", False),
        ("400 g canned tomatoes", "poured-off", False),
        ("1 cup ketchup", "poured-off", False),
        ("200 g cheddar", "poured-off", False),
        ("2 tbsp lemon juice", "poured-off", True),
        ("200 g yogurt", "poured-off", True),
    )

    def test_offered(self):
        for text, key, is_offered in self.CASES:
            self.assertEqual(methods()[key].suits(read_line(text).food_id), is_offered, (text, key))

    def test_what_boiling_leaves_of_pulses_stands_within_the_rows_of_the_table(self):
        """USDA rows: 100 g raw kidney or black beans give about 240 g boiled; their potassium, raw against boiled."""
        for raw, boiled in (
            (
                "Beans, kidney, all types, mature seeds, raw",
                "Beans, kidney, all types, mature seeds, cooked, boiled, without salt",
            ),
            ("Beans, black, mature seeds, raw", "Beans, black, mature seeds, cooked, boiled, without salt"),
        ):
            left = 2.4 * foods().value(boiled, "potassium_mg") / foods().value(raw, "potassium_mg")
            least, _, most = methods()["boiled-pulses"].kept["potassium_mg"]
            self.assertTrue(least <= left <= most, (raw, left))
