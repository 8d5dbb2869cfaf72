"""Findings, conflicts, cautions, claims and tallies, each with dishes small enough to check by head."""

import itertools
from datetime import date
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
from django.test import SimpleTestCase

from nutrition.dish.cooking import CookedWeight, cooked_weight, treated, treatments
from nutrition.dish.dish import Dish
from nutrition.food.derived import FODMAP_KINDS, cut_off_g, derive
from nutrition.food.table import Foods
from nutrition.food.tags import CHECK, CONTAINS
from nutrition.limits.avoid import find
from nutrition.limits.conflicts import conflicts, set_aside
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.limits.plans import CIRCUMSTANCES, PLANS, Facts, avoids_of, choose, tallies_of
from nutrition.limits.plans.fodmap import course
from nutrition.limits.tallies import (
    POTASSIUM_PORTIONS,
    Tally,
    carbohydrate_portions,
    read_formula,
    rounded,
)
from nutrition.notes import Problem
from nutrition.reading.edits import with_food
from nutrition.reading.recipe import read_line
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.cautions import cautions_for
from nutrition.sheet.claims import Serving, claims_in, comparative
from nutrition.sheet.counting import count
from nutrition.sheet.examine import examine
from nutrition.sheet.verdicts import SHUT, UNSURE
from nutrition.tables import TABLES, Row, read_table


def lines(*texts):
    return [read_line(text, 4) for text in texts]


def eater(*plans, settled=None, targets=(), **facts):
    return Eater(Facts(plans=plans, **facts), {key: choose(key, {}) for key in plans}, targets, settled or {})


class Avoiding(SimpleTestCase):
    def test_a_swapped_food_speaks_for_itself(self):
        flour = read_line("200 g wheat flour")
        rice = next(row for row in read_table("cooks_names.tsv") if "rice flour" in row["names"].split("|"))["food"]
        from nutrition.food.table import foods

        swapped = with_food(flour, foods().by_description(rice).id)
        self.assertEqual(find([swapped], ["gluten"]), [])
        meant = with_food(flour, foods().by_description(rice).id, words_hold=True)
        self.assertEqual(find([meant], ["gluten"])[0].verdict, CONTAINS)

    def test_a_line_without_food_is_checked_for_everything(self):
        [finding] = find([read_line("1 cup zzyzx")], ["peanut"])
        self.assertEqual(finding.verdict, CHECK)

    def test_a_line_that_may_be_several_is_checked_for_each(self):
        plant = read_line("1 cup milk")
        self.assertTrue(find([plant], ["milk"]))

    def test_pine_nuts_by_list(self):
        nuts = lines("50 g pine nuts")
        self.assertEqual(find(nuts, ["tree_nut"], "us")[0].verdict, CONTAINS)
        self.assertEqual(find(nuts, ["tree_nut"], "eu")[0].verdict, CHECK)

    def test_also_check_stands_beside_contains(self):
        [finding] = find(lines("200 g pearl barley", "3 cups chicken stock"), ["gluten"])
        self.assertEqual((finding.verdict, finding.lines, finding.also_check), (CONTAINS, (0,), (1,)))

    def test_avoided_is_a_gate(self):
        pot = Dish("", 4, tuple(lines("2 tbsp soy sauce", "1 stock cube")))
        sheet = examine(pot, eater("gluten-free", "free-of:celery"))
        self.assertEqual([(item.tag, item.state) for item in sheet.avoided], [("gluten", SHUT), ("celery", UNSURE)])

    def test_who_keeps_what_out(self):
        kept_out = avoids_of({"vegan": {}, "dairy-free": {}})
        self.assertEqual([label for label, _ in kept_out["milk"]], ["vegan", "dairy-free"])


class Settling(SimpleTestCase):
    def test_salt_wanted_and_limited(self):
        target = Target("sodium_mg", maximum=2300, plan="low-sodium")
        both = eater("low-sodium", "very-low-carb", targets=(target,))
        self.assertEqual([c.topic for c in both.conflicts()], ["salt"])
        self.assertEqual(len(both.gates("dinner")), 1)
        settled = eater("low-sodium", "very-low-carb", targets=(target,), settled={"salt": "very-low-carb"})
        self.assertEqual(settled.gates("dinner"), [])

    def test_protein_before_and_on_dialysis(self):
        found = conflicts(["kidney", "kidney-dialysis"], [])
        self.assertIn("protein", [c.topic for c in found])
        self.assertEqual(
            set_aside(found, {"protein": "kidney-dialysis"}) & {("kidney", "protein_g")}, {("kidney", "protein_g")}
        )

    def test_settling_for_a_plan_that_has_no_part_changes_nothing(self):
        found = conflicts(["kidney", "kidney-dialysis"], [])
        self.assertEqual(set_aside(found, {"protein": "heart"}), set())

    def test_numbers_that_cannot_meet(self):
        targets = [Target("protein_g", minimum=80, plan="own"), Target("protein_g", maximum=40, plan="heart")]
        [conflict] = conflicts(["heart"], targets)
        self.assertEqual((conflict.topic, list(conflict.sides)), ("protein_g", ["own", "heart"]))

    def test_no_school_leaks(self):
        self.assertNotIn(
            "saturated_fat_g",
            [t.nutrient for t in PLANS["very-low-carb"].targets_of(Facts(70, 2000), choose("very-low-carb", {}))],
        )
        self.assertNotIn(
            "sodium_mg", [t.nutrient for t in PLANS["low-carb"].targets_of(Facts(70, 2000), choose("low-carb", {}))]
        )


class Reminders(SimpleTestCase):
    #: (line, plans, limited, circumstances, key expected, key when the person is another)
    CASES = (
        ("1 tsp salt substitute", ["kidney"], [], [], "potassium-chloride"),
        ("1 tsp salt substitute", [], ["potassium_mg"], [], "potassium-chloride"),
        ("1 tsp salt substitute", [], [], ["raises_potassium"], "potassium-chloride-medicine"),
        ("1 tsp cream of tartar", ["kidney-dialysis"], [], [], "cream-of-tartar"),
        ("1 star fruit", ["kidney-peritoneal"], [], [], "star-fruit"),
        ("4 slices bacon", ["kidney"], [], [], "phosphate-additives"),
        ("2 tbsp honey", ["diabetes"], [], [], "natural-sweeteners"),
        ("2 tbsp honey", [], [], ["under_one"], "honey-under-one"),
        ("50 g licorice candy", [], [], ["blood_pressure"], "licorice"),
        ("1 grapefruit", [], [], ["grapefruit"], "grapefruit"),
        ("300 g spinach", [], [], ["warfarin"], "vitamin-k"),
        ("100 g alfalfa sprouts", [], [], ["low_immunity"], "sprouts"),
        ("1 cup homemade mayonnaise", [], [], ["low_immunity"], "raw-egg"),
        ("1 cup rolled oats", ["gluten-free"], [], [], "oats-celiac"),
        ("1 tsp aspartame sweetener", ["low-protein"], [], [], "aspartame"),
        ("200 ml red wine", [], [], ["no_alcohol"], "alcohol"),
        ("200 ml red wine", [], [], ["insulin"], "alcohol-insulin"),
        ("1 cup rice", ["low-carb"], [], ["insulin"], "low-carb-medicine"),
        ("1 cup rice", ["very-low-carb"], [], ["sglt2"], "low-carb-sglt2"),
        ("1 cup rice", ["free-of:egg"], [], [], "free-of-not-light"),
        ("20 g sorbitol", ["low-fodmap"], [], [], "polyols-fodmap"),
    )  # fmt: skip

    def test_shown_to_whom_it_concerns_and_nobody_else(self):
        for text, plans, limited, circumstances, key in self.CASES:
            with self.subTest(text=text, key=key):
                dish = lines(text)
                analysis = analyze_lines(dish, 2)
                found = cautions_for(dish, plans, limited, circumstances, analysis)
                self.assertIn(key, [caution.key for caution in found])
                others = [caution.key for caution in cautions_for(dish, [], [], [], analysis)]
                self.assertNotIn(key, others)
                self.assertTrue(all(caution.source for caution in found))

    def test_every_rule_has_a_source_and_a_known_person(self):
        for row in read_table("cautions.tsv"):
            self.assertTrue(row["source"] and row["text"], row["key"])
            self.assertLessEqual(set(row["circumstances"].split()), set(CIRCUMSTANCES), row["key"])
        keys = {row["key"] for row in read_table("cautions.tsv") if row["for"] == "plans"}
        self.assertEqual({key for plan in PLANS.values() for key in plan.cautions}, keys)


class Claims(SimpleTestCase):
    def claims(self, title, *texts, serves=4, notes=""):
        dish = lines(*texts)
        return {
            c.key: c
            for c in claims_in(
                Serving(dish, analyze_lines(dish, serves), cooked_weight(dish).per_serving(serves), title, notes)
            )
        }

    def test_mistakes_practitioners_make(self):
        found = self.claims("Dairy-free shortbread", "200 g rice flour", "100 g butter")
        self.assertEqual((found["dairy-free"].holds, found["dairy-free"].lines), (False, (1,)))
        found = self.claims("Gluten-free oat bars", "2 cups rolled oats", "2 tbsp sugar")
        self.assertIsNone(found["gluten-free"].holds)
        found = self.claims("Gluten-free spelt loaf", "500 g spelt flour")
        self.assertFalse(found["gluten-free"].holds)
        found = self.claims("Diabetic-friendly bars", "300 g coconut sugar", "200 g rice flour")
        self.assertFalse(found["diabetic-friendly"].holds)
        found = self.claims("No salt added bean soup", "1 can white beans", "500 ml water")
        self.assertIn("says nothing of the total", found["no-salt-added"].why)
        found = self.claims("Keto rice bowl", "300 g rice")
        self.assertFalse(found["keto"].holds)
        found = self.claims("Kidney-friendly potato bake", "1.5 kg potatoes", "1 tsp salt")
        self.assertEqual((found["kidney-friendly"].holds, 0 in found["kidney-friendly"].lines), (False, True))

    def test_what_holds(self):
        found = self.claims("Vegan low-sodium rice salad", "300 g rice", "2 carrots", "1 tbsp olive oil")
        self.assertEqual((found["vegan"].holds, found["low-sodium"].holds), (True, True))

    def test_notes_are_read_and_unsalted_sides_are_not_claims(self):
        self.assertIn("egg-free", self.claims("Rice", "300 g rice", notes="Egg-free now."))
        self.assertEqual(self.claims("Rice", "300 g rice", notes="Good with unsalted butter."), {})

    def test_unknown_weight_leaves_it_open(self):
        found = self.claims("Low-sodium rice", "300 g rice", "1 cup zzyzx")
        self.assertIsNone(found["low-sodium"].holds)

    def test_comparative(self):
        self.assertEqual(comparative("sodium_mg", 400, 301), ())
        self.assertEqual(comparative("sodium_mg", 400, 300), ("reduced",))
        self.assertEqual(comparative("fat_g", 10, 7, "eu"), ("reduced",))
        self.assertEqual(comparative("sodium_mg", 0, 0), ())


class Tallying(SimpleTestCase):
    def test_45_grams(self):
        """45 g carbohydrate = 3 portions of 15 g = 4½ of 10 g (common practice)."""
        self.assertEqual(rounded(45 / 15, carbohydrate_portions(15)), 3.0)
        self.assertEqual(rounded(45 / 10, carbohydrate_portions(10)), 4.5)

    def test_formula(self):
        self.assertEqual(read_formula("carbohydrate / 15"), {"carbohydrate_g": 1 / 15})
        self.assertEqual(read_formula("energy_kcal × 0.02 − protein ÷ 4"), {"energy_kcal": 0.02, "protein_g": -0.25})
        for text, words in (
            ("", "No formula"), ("protein * fat", "only numbers"), ("protein / 0", "divides by zero"), ("4 + protein", "on its own"),
            ("__import__('os')", "something other"), ("protein +", "not understood"), ("joules / 2", "not a nutrient"),
            ("7", "on its own"), ("protein - protein", "names no nutrient"), ("x" * 400, "at most 300"),
        ):  # fmt: skip
            with self.subTest(text), self.assertRaisesRegex(Problem, words):
                read_formula(text)

    def test_free_and_one_free(self):
        dish = lines("200 g carrots", "2 apples", "1 apple")
        apples = frozenset({dish[1].food_id})
        full = Tally("t", "T", {"carbohydrate_g": 0.1}, step=0)
        analysis = analyze_lines(dish, 1)
        once = count(Tally("t", "T", {"carbohydrate_g": 0.1}, step=0, one_free=apples), dish, analysis)
        self.assertEqual(once.free_lines, (1,))
        self.assertLess(once.exact, count(full, dish, analysis).exact)
        free = count(Tally("t", "T", {"carbohydrate_g": 0.1}, step=0, free_foods=apples), dish, analysis)
        self.assertEqual(free.free_lines, (1, 2))
        self.assertIn("free:", free.arithmetic)

    def test_unknown_is_said(self):
        dish = lines("200 g carrots", "1 cup zzyzx")
        counted = count(POTASSIUM_PORTIONS, dish, analyze_lines(dish, 1))
        self.assertEqual((counted.is_settled, counted.unknown_lines), (False, (1,)))

    def test_refusals(self):
        for fields, words in (
            ({"daily": -1}, "0 or more"),
            ({"rounding": "sideways"}, "nearest"),
            ({"step": -2}, "0 .none."),
            ({"formula": {}}, "no nutrient"),
        ):
            with self.subTest(words), self.assertRaisesRegex(Problem, words):
                Tally(**{"key": "t", "label": "T", "formula": {"protein_g": 1}, **fields})

    def test_by_plan(self):
        found = {
            t.key: t
            for t in tallies_of({"diabetes": {"portion": "10", "count": "net"}, "low-protein": {"exchanges": "8"}})
        }
        self.assertEqual(found["carbohydrate_portions"].formula, {"net_carbohydrate_g": 0.1})
        self.assertEqual(found["protein_exchanges"].daily, 8.0)


class Fodmaps(SimpleTestCase):
    def test_at_least_200_foods_each_with_confidence(self):
        rows = read_table("fodmap.tsv")
        self.assertGreaterEqual(len(rows), 200)
        for row in rows:
            self.assertIn(row["confidence"], ("high", "medium", "low"))
            self.assertIn("memory", row["source"])

    def test_cut_offs_by_group(self):
        """Varney et al. 2017: 0.3 g in grains, legumes, nuts; 0.2 g in other foods; polyols 0.2 g; fructose 0.15, alone 0.4 g."""
        row = dict.fromkeys(FODMAP_KINDS.values(), "0")
        for group, kind, content, grams in (
            ("grain", "oligosaccharides_g", "3", 10), ("vegetable", "oligosaccharides_g", "2", 10),
            ("vegetable", "mannitol_g", "2", 10), ("fruit", "sorbitol_g", "1", 20),
            ("fruit", "excess_fructose_g", "4", 10), ("sweet", "excess_fructose_g", "3", 5),
        ):  # fmt: skip
            self.assertAlmostEqual(cut_off_g(Row({**row, "group": group, kind: content}), kind), grams)

    def test_loads_stack_and_infusing_takes_them_out(self):
        pair = lines("10 g onion", "10 g wheat flour")
        stacked = analyze_lines(pair, 1).amount("oligosaccharide_load")
        self.assertAlmostEqual(stacked, sum(analyze_lines([line], 1).amount("oligosaccharide_load") for line in pair))
        infused = treated(lines("3 cloves garlic")[0], "infused-oil")
        self.assertEqual(analyze_lines([infused], 1).interval("oligosaccharide_load"), (0.0, 0.0))

    def test_rinsed_pulses_hold_less(self):
        can = lines("1 can chickpeas")[0]
        loads = [
            analyze_lines([treated(can, key)], 4).amount("oligosaccharide_load") for key, _, _ in treatments(can)[:3]
        ]
        self.assertGreater(loads[0], loads[2])

    def test_the_course(self):
        stages = course(date(2026, 11, 2), 4)
        self.assertEqual((stages[0].first, stages[0].last), (date(2026, 11, 2), date(2026, 11, 29)))
        for before, after in itertools.pairwise(stages):
            self.assertEqual((after.first - before.last).days, 1)
        self.assertEqual(sum(stage.portion == "large" for stage in stages), 8)
        for weeks in (1, 7):
            with self.assertRaisesRegex(ValueError, "2 to 6 weeks"):
                course(date(2026, 11, 2), weeks)


class Tables(SimpleTestCase):
    def test_derived_columns_are_up_to_date(self):
        """tools/build_derived.py run again gives what is kept."""
        columns = derive(Foods.load(TABLES / "foods.npz"))
        with np.load(TABLES / "derived.npz") as stored:
            for name in ("least", "amount", "most"):
                np.testing.assert_array_equal(stored[name], getattr(columns, name))

    def test_another_table_is_refused(self):
        with TemporaryDirectory() as folder:
            path = Path(folder) / "derived.npz"
            np.savez(path, keys=np.array(["x"]), amount=np.zeros((1, 1)), least=np.zeros((1, 1)), most=np.zeros((1, 1)))
            with self.assertRaisesRegex(ValueError, "run tools/build_derived.py"):
                Foods.load(TABLES / "foods.npz", path)


class CookedWeights(SimpleTestCase):
    def test_small_serving_rule_needs_a_small_serving(self):
        weight = CookedWeight(100, 120, 140, "x").per_serving(4)
        self.assertEqual((weight.least, weight.likely, weight.most), (25, 30, 35))

    def test_starch_takes_water_from_the_pot_first(self):
        dry = cooked_weight(lines("200 g rice")).likely
        pot = cooked_weight(lines("200 g rice", "600 ml water")).likely
        self.assertAlmostEqual(dry, 580, delta=20)
        self.assertLess(pot, dry + 300)

    def test_methods_are_refused_where_they_make_no_sense(self):
        with self.assertRaisesRegex(ValueError, "cannot be"):
            treated(lines("2 eggs")[0], "simmered-60")
        self.assertEqual(treatments(read_line("1 cup zzyzx")), [])
