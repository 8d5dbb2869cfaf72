"""The catalog, the engine of offers, balance, and the way through: by hand, by brute force, and by law."""

import itertools
import json
import re
import time
from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import mock

import numpy as np
from django.test import SimpleTestCase, tag
from hypothesis import given, settings
from hypothesis import strategies as st

from nutrition.dish.dish import Dish, keyed
from nutrition.dish.naming import description_of
from nutrition.food.measures import grams_per_ml
from nutrition.food.names import cook_name
from nutrition.food.table import foods
from nutrition.food.tags import CONTAINS
from nutrition.food.units import ML
from nutrition.giving.writing import write
from nutrition.limits.avoid import find
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.limits.plans import Facts, choose, targets_for
from nutrition.notes import Problem
from nutrition.reading.kinds import kind_of_dish
from nutrition.reading.method import method_of
from nutrition.reading.page import from_jsonld
from nutrition.reading.recipe import read_line, read_recipe
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.verdicts import OPEN, judge
from nutrition.swaps import balance, program
from nutrition.swaps.jobs import JOBS, jobs_of
from nutrition.swaps.offers import Workbench, offers_for
from nutrition.swaps.options import options_of
from nutrition.swaps.rules import catalog, food_called, own_rule, read_to, rules_for
from nutrition.swaps.states import as_held, dry_matter
from nutrition.swaps.way_through import Wish, after_steps, ways_for
from nutrition.tables import read_table

CURRY = (Path(__file__).resolve().parents[2] / "demo" / "recipes" / "chickpea-curry.txt").read_text()
CAKES = (Path(__file__).resolve().parents[2] / "demo" / "recipes" / "corn-cakes.txt").read_text()
STEW = (Path(__file__).resolve().parents[2] / "demo" / "recipes" / "fish-stew.txt").read_text()


def eater(*keys, targets=(), **facts):
    known = Facts(facts.get("weight_kg", 70), facts.get("energy_kcal", 2000), keys)
    plans = {key: choose(key, {}) for key in keys}
    return Eater(known, plans, (*targets, *(t for key in keys for t in targets_for(key, known, plans[key]))))


def bench_of(text, who, meal="dinner", **more):
    dish = read_recipe(text)
    return Workbench(dish.with_lines(replace(line, sure="sure", others=()) for line in dish.lines), who, meal, **more)


def small(*texts, serves=1, targets=(), **more):
    return Workbench(dish_of(*texts, serves=serves), eater(targets=targets), **more)


def dish_of(*texts, serves=1, kind="any"):
    return Dish("", serves, keyed([read_line(text, serves) for text in texts]), kind=kind)


class Catalog(SimpleTestCase):
    def test_at_least_250_rules_over_the_jobs(self):
        rules = catalog()
        self.assertGreaterEqual(len(rules), 250)
        self.assertEqual(len({rule.id for rule in rules}), len(rules))
        covered = {rule.job for rule in rules}
        self.assertLessEqual(covered, set(JOBS))
        self.assertGreaterEqual(len(covered), 13)

    def test_every_rule_is_sane_and_serves_its_test_line(self):
        for rule in catalog():
            with self.subTest(rule.id):
                self.assertTrue(rule.source)
                line = read_line(rule.test_line, 4)
                self.assertTrue(rule.words.search(description_of(line).lower()), (rule.test_line, description_of(line)))
                if rule.factor is None:
                    self.assertTrue(0.02 <= sum(ratio for _, ratio in rule.to) <= 30, rule.to)
                    for food_id, _ in rule.to:
                        self.assertIn(food_id, foods().ids)

    def test_what_rules_may_not_be(self):
        for text, words in (
            ("@less 1.5", "between 0 and 1"), ("@more 0.5", "between 1 and 5"), ("rice flour * 0", "more than 0"),
            ("rice flour * lots", "is not a ratio"), ("zzyzx * 1", "not a food"), (" * 1", "No food was named"),
        ):  # fmt: skip
            with self.subTest(text), self.assertRaisesRegex(Problem, words):
                read_to(text)
        with self.assertRaisesRegex(Problem, "in its own place"):
            own_rule("unsalted butter", "fat", "unsalted butter * 1", "", "", "", "own")
        with self.assertRaisesRegex(Problem, "not a job"):
            own_rule("unsalted butter", "shine", "olive oil * 1", "", "", "", "own")

    def test_an_own_rule_takes_part_at_once(self):
        rule = own_rule("unsalted butter", "fat", "pumpkin * 0.8", "¾ cup", "Bake longer.", "", "own-1")
        found = offers_for(small("100 g unsalted butter", "200 g flour", rules=(rule,)), 0)
        self.assertIn("own-1", [offer.id for offer in found.offers])


class InWhichState(SimpleTestCase):
    """A rule speaks of dry rice; the line may be of cooked. Rule of the trade: dry matter is exchanged, not water."""

    COOKED = (
        "632 g cooked rice", "400 g cooked spaghetti", "200 g cooked lentils", "300 g cooked quinoa", "250 g cooked bulgur",
        "240 g canned black beans, drained", "500 g boiled potatoes", "300 g cooked brown rice", "400 g cooked couscous",
        "1 can (400 g) chickpeas, drained", "300 g cooked barley", "200 g dried black beans", "200 g red lentils",
    )  # fmt: skip

    @staticmethod
    def ratio(rule, line):
        """Dry matter that comes in for the line's own."""
        return sum(dry_matter(food_id) * grams for food_id, grams in rule.to) / dry_matter(line.food_id)

    def test_dry_matter_is_kept_as_the_rule_has_it(self):
        checked, wrong = 0, []
        for text in self.COOKED:
            line = read_line(text, 4)
            for rule in rules_for(description_of(line), "any"):
                meant = read_line(rule.test_line, 4) if rule.test_line else None
                now = as_held(rule, line)
                if not rule.to or not meant or not meant.food_id or now is None:
                    continue
                was = self.ratio(rule, meant)
                checked += 1
                if was and not 0.5 < self.ratio(now, line) / was < 2:
                    wrong.append((text, rule.id, self.ratio(now, line), was))
        self.assertGreater(checked, 30)
        self.assertEqual(wrong, [])

    def test_nothing_raw_goes_where_it_was_cooked(self):
        for text in self.COOKED[:5]:
            found = offers_for(small(text, "1 onion", "1 tbsp olive oil"), 0)
            for offer in found.offers:
                for food_id, _ in offer.to:
                    self.assertNotRegex(
                        foods().description(food_id),
                        r"^(?:Rice|Pasta|Quinoa|Lentils|Barley|Bulgur).*(?:raw|dry|uncooked)",
                        text,
                    )

    def test_meat_that_was_roasted_is_no_dry_food(self):
        """A preparation that simmers its lentils gets them dry, whatever was done to the meat."""
        line = read_line("400 g cooked ground beef", 4)
        rule = next(each for each in catalog() if each.id == "groundbeef-protein-mix")
        was = dict(rule.to)
        self.assertTrue(all(was.get(food_id, ratio) == ratio for food_id, ratio in as_held(rule, line).to))

    def test_what_the_line_is_stays_what_it_is(self):
        line = read_line("632 g cooked rice", 4)
        rule = next(each for each in catalog() if each.id == "fortify-rice-butter")
        self.assertIn((line.food_id, 1.0), as_held(rule, line).to)


class WhatLinesDo(SimpleTestCase):
    def test_jobs(self):
        for text, kind, job in (
            ("1 tsp salt", "soup", "salty"), ("2 tbsp flour", "soup", "thickens"), ("2 eggs", "cake", "binds"),
            ("2 cups flour", "cake", "gluten's work"), ("1 tsp baking soda", "cake", "lifts"), ("1 cup sugar", "cake", "sweet"),
            ("1 cup heavy cream", "soup", "creamy"), ("500 g potatoes", "stew", "bulk"), ("500 g chicken breast", "stew", "protein"),
            ("1 tbsp vinegar", "any", "sour"), ("50 g walnuts", "salad", "crunch"), ("1 cup milk", "any", "milk"),
            ("1 onion", "stew", "savory"), ("2 tbsp olive oil", "any", "fat"), ("1 tsp turmeric", "any", "color"),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertIn(job, jobs_of(read_line(text), kind))

    def test_a_persons_own_jobs_win(self):
        self.assertEqual(jobs_of(read_line("2 eggs"), "cake", {"w1": ["color"]}, "w1"), ("color",))

    def test_kinds(self):
        for title, kind in (
            ("Red lentil soup", "soup"), ("Lemon loaf cake", "cake"), ("Lamb stew", "stew"), ("Potato salad", "salad"),
            ("Barley pilaf", "grain"), ("Herb gravy", "sauce"), ("Leek gratin", "bake"), ("Something", "any"),
        ):  # fmt: skip
            self.assertEqual(kind_of_dish(title, [], []), kind, title)


class Offering(SimpleTestCase):
    def test_effects_are_the_ordinary_analysis(self):
        bench = bench_of(CURRY, eater("low-sodium", "heart"))
        for offer in offers_for(bench, 8).offers:
            for effect in offer.effects:
                again = analyze_lines(offer.lines, bench.serves).amount(effect.nutrient)
                self.assertAlmostEqual(effect.after.amount, again)

    def test_allergens_in_and_out(self):
        bench = bench_of(CURRY, eater("heart"))
        milk = next(offer for offer in offers_for(bench, 8).offers if "hole milk" in str(offer.text))
        self.assertIn("milk", milk.allergens_added)

    def test_a_kept_out_line_is_swapped_never_lessened(self):
        bench = bench_of(CAKES, eater("gluten-free", "dairy-free"))
        flour = next(i for i, line in enumerate(bench.lines) if "flour" in line.text)
        found = offers_for(bench, flour).offers
        self.assertTrue(found)
        self.assertNotIn("less", [offer.kind for offer in found])
        self.assertIn("gluten", found[0].allergens_removed)

    def test_dislikes_are_not_offered(self):
        bench = bench_of(CURRY, eater("heart"), dislikes=["yogurt, oat"])
        texts = " ".join(str(offer.text).lower() for offer in offers_for(bench, 8).offers)
        self.assertNotIn("yogurt", texts)
        self.assertNotIn("oat", texts)

    def test_why_there_is_nothing(self):
        self.assertIn("settle that first", str(offers_for(small("1 cup zzyzx", "1 egg"), 0).none_because))
        self.assertIn("No rule is known", str(offers_for(small("1 tsp turmeric", "1 egg"), 0).none_because))

    def test_nothing_is_left_of_what_is_kept_out(self):
        """Every rule for macadamias leads to another nut or seed or drops them: eaten by nobody here, none is offered."""
        only = Workbench(dish_of("100 g macadamia nuts", "1 egg"), eater(), dislikes=["nuts, seeds, oats"])
        found = offers_for(only, 0)
        to = {
            foods().by_id(food_id).category for offer in found.offers if offer.kind == "swap" for food_id, _ in offer.to
        }
        self.assertNotIn("Nut and Seed Products", to)

    @settings(max_examples=40, deadline=None)
    @given(
        st.lists(st.sampled_from([row["test_line"] for row in read_table("swaps.tsv")]), min_size=2, max_size=5),
        st.lists(st.sampled_from(["gluten-free", "dairy-free", "vegan", "vegetarian", "free-of:egg", "free-of:soy",
                                  "free-of:tree_nut", "free-of:fish", "free-of:celery"]), min_size=1, max_size=3, unique=True),
    )  # fmt: skip
    def test_nothing_kept_out_is_ever_offered(self, texts, plans):
        bench = Workbench(dish_of(*texts, serves=4), eater(*plans))
        for offer in offers_for(bench, 0).offers:
            new = [line for line in offer.lines if line not in bench.lines]
            self.assertEqual([f.tag for f in find(new, bench.kept_out) if f.verdict == CONTAINS], [], offer.id)


class Balance(SimpleTestCase):
    def lines(self, *texts):
        return [read_line(text, 4) for text in texts]

    def measures(self, before, after, kind):
        return {warning.measure for warning in balance.check(self.lines(*before), self.lines(*after), kind)}

    def test_what_slumps_is_said(self):
        cake = ("250 g flour", "200 g sugar", "3 eggs", "150 g butter", "2 tsp baking powder", "200 ml milk")
        self.assertEqual(self.measures(cake, cake, "cake"), set())
        no_egg = tuple(text for text in cake if "eggs" not in text)
        self.assertIn("binds", self.measures(cake, no_egg, "cake"))
        self.assertIn("gluten", self.measures(cake, ("250 g rice flour", *cake[1:]), "cake"))
        self.assertIn("fat", self.measures(cake, tuple(t for t in cake if "butter" not in t), "cake"))
        self.assertIn("lifts", self.measures(cake, tuple(t for t in cake if "powder" not in t), "cake"))
        self.assertIn("sweet", self.measures(cake, (cake[0], "60 g sugar", *cake[2:]), "cake"))
        self.assertIn("water", self.measures(cake, (*cake, "600 g zucchini"), "cake"))

    def test_equivalents_hold(self):
        """1 tbsp flour = 1½ tsp starch; 1 egg = 1 tbsp flax and 3 tbsp water (rules of the trade, common practice)."""
        self.assertEqual(
            self.measures(("3 tbsp flour", "1 l milk"), ("4.5 tsp cornstarch", "1 l milk"), "sauce"), set()
        )
        self.assertNotIn(
            "binds",
            self.measures(("2 eggs", "200 g flour"), ("2 tbsp ground flaxseed", "6 tbsp water", "200 g flour"), "cake"),
        )
        self.assertNotIn("gluten", self.measures(("250 g flour",), ("250 g rice flour", "3 g xanthan gum"), "cake"))

    def test_every_remedy_can_be_read(self):
        warnings = balance.check(
            self.lines("250 g flour", "3 eggs", "150 g butter", "2 tsp baking powder", "1 tbsp salt"),
            self.lines("100 g rice flour"),
            "cake",
        )
        self.assertGreaterEqual(len(warnings), 4)
        for warning in warnings:
            if warning.remedy:
                self.assertTrue(read_line(warning.remedy, 4).is_weighed, warning.remedy)


class WayThrough(SimpleTestCase):
    def ways(self, text, who, meal="dinner", **wish):
        bench = bench_of(text, who, meal)
        return bench, ways_for(bench, Wish(**wish))

    def test_what_it_says_is_open_is_open(self):
        for text, plans in (
            (CURRY, ("low-sodium", "heart")),
            (CAKES, ("gluten-free", "dairy-free")),
            (STEW, ("low-sodium",)),
        ):
            bench, outcome = self.ways(text, eater(*plans))
            self.assertTrue(outcome.solved)
            for way in outcome.ways:
                verdicts = judge(bench.gates, analyze_lines(way.lines, bench.serves))
                self.assertEqual({v.state for v in verdicts} - {OPEN}, set())
                self.assertFalse([f for f in find(way.lines, bench.kept_out) if f.verdict == CONTAINS])

    def test_ways_differ_and_the_steps_lead_there(self):
        bench, outcome = self.ways(CURRY, eater("low-sodium", "heart"), ways=4)
        self.assertGreaterEqual(len(outcome.ways), 2)
        self.assertEqual(len({tuple(c.text for c in way.changes) for way in outcome.ways}), len(outcome.ways))
        for way in outcome.ways:
            placed = after_steps(bench, way, len(way.changes))
            amounts = (analyze_lines(lines, bench.serves).amounts for lines in (placed, way.lines))
            np.testing.assert_allclose(*amounts)

    def test_pins_are_never_touched(self):
        salt = next(i for i, line in enumerate(bench_of(CURRY, eater()).lines) if line.text == "1 tsp salt")
        _, outcome = self.ways(CURRY, eater("heart"), pinned=frozenset({salt}))
        for way in outcome.ways:
            self.assertNotIn(salt, [change.line for change in way.changes])

    def test_by_hand(self):
        """6 g salt in one serving holds 2,325 mg sodium: under 600 mg, at most 1.5 g of salt may stay."""
        bench = small("6 g salt", "300 g white rice", targets=(Target("sodium_mg", maximum=600, scope="serving"),))
        outcome = ways_for(bench, Wish(ways=1, pinned=frozenset({1})))
        left = sum(line.grams for line in outcome.ways[0].lines if "Salt, table" in (description_of(line) or ""))
        self.assertLessEqual(left, 600 / 387.58 + 0.01)

    def test_nothing_to_do_is_no_change(self):
        bench = small("300 g white rice", targets=(Target("sodium_mg", maximum=600, scope="serving"),))
        self.assertEqual(ways_for(bench, Wish(ways=1)).ways[0].changes, ())

    def test_brute_force_finds_nothing_cheaper_where_it_says_none(self):
        """Every offer of every line, alone and in pairs, at full amount: where the solver finds no way, none of them is one."""
        bench = small(
            "400 g potatoes",
            "1 tsp salt",
            targets=(
                Target("sodium_mg", maximum=100, scope="serving"),
                Target("potassium_mg", minimum=60000, scope="serving"),
            ),
        )
        self.assertFalse(ways_for(bench, Wish(ways=1, certain=False)).solved)
        per_line = [
            [(line,), *[offer.lines[i : i + len(offer.lines) - 1] for offer in offers_for(bench, i).offers]]
            for i, line in enumerate(bench.lines)
        ]
        for choice in itertools.product(*per_line):
            lines = [line for part in choice for line in part]
            verdicts = judge(bench.gates, analyze_lines(lines, 1)) if lines else []
            self.assertFalse(lines and all(v.state == OPEN for v in verdicts))

    def test_no_way_names_the_gates_and_the_nearest_miss(self):
        bench = small(
            "200 g chicken breast",
            targets=(
                Target("protein_g", minimum=50, scope="serving"),
                Target("phosphorus_mg", maximum=320, scope="serving"),
            ),
        )
        outcome = ways_for(bench, Wish(ways=1))
        self.assertFalse(outcome.solved)
        self.assertEqual({miss.nutrient for miss in outcome.conflict}, {"protein_g", "phosphorus_mg"})
        self.assertIn("The nearest dish misses", str(outcome.note))

    def test_a_smaller_serving_is_the_last_way_and_says_so(self):
        """600 g of rice, pinned, in two servings: 300 g hold about 1,095 kcal; under 900 only a smaller serving helps."""
        bench = small(
            "600 g white rice", "1 egg", serves=2, targets=(Target("energy_kcal", maximum=990, scope="serving"),)
        )
        outcome = ways_for(bench, Wish(pinned=frozenset({0})))
        [way] = outcome.ways
        self.assertEqual((way.changes[0].kind, way.changes[0].line), ("serving", -1))
        self.assertGreater(way.serves, 2)
        self.assertIn("instead of", str(way.changes[0].text))

    def test_plain_words_for_what_cannot_start(self):
        clash = (Target("protein_g", minimum=60, scope="serving"), Target("protein_g", maximum=20, scope="serving"))
        self.assertIn("contradict", str(ways_for(small("2 eggs", targets=clash)).note))
        limit = (Target("sodium_mg", maximum=10, scope="serving"),)
        self.assertIn(
            "Every line is pinned", str(ways_for(small("2 eggs", targets=limit), Wish(pinned=frozenset({0}))).note)
        )
        self.assertIn("settle the line first", str(ways_for(small("2 eggs", "1 cup zzyzx", targets=limit)).note))

    def test_written_out_it_analyzes_to_the_same_figures(self):
        bench, outcome = self.ways(STEW, eater("low-sodium", "gluten-free"))
        lines = outcome.ways[0].lines
        analysis = analyze_lines(lines, bench.serves)
        data = json.dumps(write(bench.dish.with_lines(lines)))
        again = read_recipe(data)
        np.testing.assert_allclose(analyze_lines(again.lines, again.serves).at_most, analysis.at_most, rtol=1e-9)
        self.assertEqual([f.tag for f in find(again.lines)], [f.tag for f in find(lines)])
        spoiled = data.replace('"weight": [', '"weight": [-')
        self.assertIsNone(from_jsonld(spoiled).exact)


class CommandLine(SimpleTestCase):
    def run_it(self, *arguments):
        import contextlib
        import io

        from nutrition.__main__ import main

        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(list(arguments))
        return code, out.getvalue(), err.getvalue()

    def setUp(self):
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "curry.txt"
        self.path.write_text(CURRY)

    def test_swaps(self):
        code, out, _ = self.run_it(
            "swaps", str(self.path), "--line", "9", "--diet", "heart", "--energy-kcal", "2000", "--json"
        )
        data = json.loads(out)
        self.assertEqual((code, data["none_because"]), (0, None))
        self.assertIn("creamy", data["jobs"])
        self.assertEqual(set(data["offers"][0]["effects"]["saturated_fat_g"]), {"before", "after", "verdict"})

    def test_way_through_and_write(self):
        out_path = self.path.with_name("out.json")
        code, out, _ = self.run_it(
            "way-through",
            str(self.path),
            "--target",
            "sodium_mg<=600",
            "--ways",
            "2",
            "--write",
            str(out_path),
            "--json",
        )
        data = json.loads(out)
        self.assertEqual((code, data["solved"], data["conflict"]), (0, True, None))
        code, out, _ = self.run_it("analyze", str(out_path), "--target", "sodium_mg<=600", "--json")
        again = json.loads(out)["gates"][0]
        self.assertEqual(again["verdict"], "open")
        self.assertAlmostEqual(again["amount"], data["ways"][0]["gates"][0]["amount"], places=2)

    def test_refusals(self):
        for arguments, words in (
            (("swaps", str(self.path), "--line", "40"), "lines 1 to 12"), (("way-through", str(self.path)), "there is no limit"),
            (("way-through", str(self.path), "--diet", "heart", "--ways", "9"), "1 to 5"),
            (("way-through", str(self.path), "--diet", "heart", "--pin", "0"), "lines 1 to 12"),
        ):  # fmt: skip
            code, _, err = self.run_it(*arguments)
            self.assertEqual((code, len(err.strip().splitlines())), (2, 1))
            self.assertTrue(re.search(words, err), err)


@tag("alone")
class Deadlines(SimpleTestCase):
    """Whatever is asked, an answer comes in about five seconds, and a search cut short is never called a proof."""

    def bench(self, count, *targets):
        texts = (
            "200 g chicken breast",
            "1 tsp salt",
            "300 g potatoes",
            "2 carrots",
            "100 ml cream",
            "50 g butter",
            "1 onion",
        )
        dish = Dish("Pot", count / 4, keyed([read_line(texts[n % len(texts)], 4) for n in range(count)]))
        return Workbench(dish, Eater(targets=targets), "dinner")

    def test_two_hundred_lines_are_refused_in_words(self):
        outcome = ways_for(self.bench(200, Target("sodium_mg", maximum=100, scope="serving")))
        self.assertIn("200 lines", str(outcome.note))

    def test_an_unsolvable_dish_is_answered_in_time(self):
        hard = [Target(key, minimum=low, scope="serving") for key, low in (("calcium_mg", 2500), ("iron_mg", 80))]
        started = time.monotonic()
        outcome = ways_for(self.bench(100, *hard, Target("energy_kcal", maximum=300, scope="serving")))
        self.assertLess(time.monotonic() - started, 12)  # twice what it takes on a quiet machine
        self.assertFalse(outcome.ways)
        self.assertTrue(outcome.conflict or "not proven" in str(outcome.note))

    def test_cut_short_is_not_decided(self):
        bench = self.bench(20, Target("calcium_mg", minimum=2500, scope="serving"))
        for wish in (Wish(most_seconds=0.0), Wish(seconds=0.0)):
            outcome = ways_for(bench, wish)
            self.assertEqual((outcome.ways, outcome.conflict), ((), ()))
            self.assertIn("not proven", str(outcome.note))


class ManyCandidates(SimpleTestCase):
    """With many options the relaxed program says which to try: what it finds is open, and about as little a change."""

    POOL = (
        "turnip",
        "celeriac",
        "zucchini",
        "cabbage",
        "white rice",
        "cod",
        "firm tofu",
        "canola oil",
        "lemon juice",
        "apple",
    )

    def work(self):
        bench = bench_of(CURRY, eater("heart", "low-sodium", energy_kcal=2000))
        own = [
            own_rule(cook_name(line.food_id), "bulk", name, "", "", "", f"{at}-{name}")
            for at, line in enumerate(bench.lines)
            for name in self.POOL
            if food_called(name) != food_called(cook_name(line.food_id))
        ]
        return replace(bench, rules=tuple(own))

    def test_as_little_a_change_as_all_of_them_would_give(self):
        work = self.work()
        self.assertGreater(len(options_of(work, Wish())), program.MANY_OPTIONS)
        few = ways_for(work, Wish(ways=1)).ways[0]
        with mock.patch.object(program, "MANY_OPTIONS", 10_000):
            every = ways_for(work, Wish(ways=1)).ways[0]
        self.assertEqual({v.state for v in few.verdicts}, {OPEN})
        self.assertLessEqual(few.cost, every.cost * (1 + 2 * program.GAP))

    def test_where_there_is_no_dish_nothing_is_made_up(self):
        work = self.work()
        wall = (Target("sodium_mg", maximum=1, scope="serving"), Target("protein_g", minimum=90, scope="serving"))
        outcome = ways_for(replace(work, eater=replace(work.eater, targets=wall)), Wish(ways=1))
        self.assertEqual(outcome.ways, ())
        self.assertTrue(outcome.conflict or outcome.note)


class Households(SimpleTestCase):
    """The ratio and what a cook measures agree within 15 %; spoons and cups weigh what USDA FoodData Central portions
    say."""

    FRACTIONS = {"¼": 0.25, "½": 0.5, "¾": 0.75, "⅓": 1 / 3, "⅔": 2 / 3, "⅛": 0.125}
    SPOONS = re.compile(r"^([\d¼½¾⅓⅔⅛]+) (tsp|tbsp|cup)s?(?: (?!of)[a-z ]+)? → ([\d¼½¾⅓⅔⅛]+) (tsp|tbsp|cup)s?\b")

    def number(self, text):
        return sum(self.FRACTIONS.get(part) or float(part) for part in re.findall(r"\d+|[¼½¾⅓⅔⅛]", text))

    def test_as_much_for_as_much(self):
        said = [rule for rule in catalog() if rule.to and rule.household.startswith("1:1")]
        said = [rule for rule in said if "by spoon" not in rule.household]
        self.assertGreater(len(said), 150)
        for rule in said:
            self.assertAlmostEqual(rule.keeps + sum(ratio for _, ratio in rule.to), 1, delta=0.15, msg=rule.id)

    def test_spoons_and_cups(self):
        checked = 0
        for rule in catalog():
            measured = self.SPOONS.match(rule.household)
            if not measured or len(rule.to) != 1:
                continue
            goes, comes = read_line(rule.test_line, 4).food_id, rule.to[0][0]
            weights = [grams_per_ml(foods().by_id(f), unit) for f, unit in ((goes, measured[2]), (comes, measured[4]))]
            if all(weights):
                was, now = (
                    self.number(number) * ML[unit] * weight[0]
                    for number, unit, weight in zip(
                        measured.groups()[::2], measured.groups()[1::2], weights, strict=True
                    )
                )
                self.assertAlmostEqual(now / was / rule.to[0][1], 1, delta=0.15, msg=rule.id)
                checked += 1
        self.assertGreater(checked, 15)


class KindsAndJobs(SimpleTestCase):
    """What a dish is, and what a food does in it. Common practice; tests/reference/kinds_of_dishes.tsv."""

    def test_kinds(self):
        table = Path(__file__).resolve().parent.parent / "reference" / "kinds_of_dishes.tsv"
        rows = table.read_text(encoding="utf-8").splitlines()
        rows = [row.split("\t") for row in rows if not row.startswith(("#", "title\t"))]
        wrong = []
        for title, lines, steps, kind in rows:
            read = kind_of_dish(title, steps.split(". "), [read_line(text, 4) for text in lines.split("|")])
            wrong += [(title, read, kind)] if read != kind else []
        self.assertGreater(len(rows), 40)
        self.assertEqual(wrong, [])

    def test_a_word_in_a_name_does_no_job(self):
        for text, kind, never in (
            ("1 tsp black pepper", "stew", "bulk"), ("100 g graham crackers", "bake", "protein"), ("1 tbsp rice vinegar", "salad", "bulk"),
            ("50 g cornstarch", "sauce", "bulk"), ("2 tbsp flaxseed oil", "salad", "binds"), ("4 hard boiled eggs", "cake", "binds"),
            ("200 g green beans", "stew", "protein"), ("2 tbsp lemon juice", "sauce", "sweet"), ("1 tbsp corn oil", "fry", "bulk"),
        ):  # fmt: skip
            self.assertNotIn(never, jobs_of(read_line(text, 4), kind), text)

    def test_a_topping_binds_nothing(self):
        crumbs = read_line("60 g breadcrumbs", 4)
        for kind, step, binds in (
            ("bake", "Mix the meat with the crumbs.", True), ("bake", "Scatter with the breadcrumbs and bake.", False),
            ("sauce", "Mix beef, breadcrumbs and egg.", True), ("stew", "Stir the mustard, then scatter over the crumbs.", False),
        ):  # fmt: skip
            for each in (
                use.does for use in method_of((step,), (crumbs, read_line("1 tbsp mustard", 4))).steps[0].uses[:1]
            ):
                self.assertEqual("binds" in jobs_of(crumbs, kind, does=each), binds, step)
