"""What a way is made of and what it says: levers, measures of a kitchen, reasons, stand-ins, and the solver underneath.

Sources: common practice of kitchens for what no cook would do; the solver is held against counting every case out.
"""

import itertools
from dataclasses import replace
from math import inf
from unittest import mock

import numpy as np
from django.test import SimpleTestCase

from nutrition.dish.dish import keyed
from nutrition.dish.naming import description_of
from nutrition.food.contents import hits_of_food
from nutrition.food.table import foods
from nutrition.food.tags import CONTAINS
from nutrition.limits.avoid import hits_of_line
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.limits.plans import Facts, avoids_of, choose, targets_for
from nutrition.reading.page import from_text
from nutrition.reading.recipe import read_line, read_recipe
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.verdicts import OPEN, Verdict, judge
from nutrition.swaps import kitchen, program
from nutrition.swaps.built import built_for
from nutrition.swaps.changes import dish_after
from nutrition.swaps.clashes import clashes
from nutrition.swaps.jobs import jobs_of
from nutrition.swaps.offers import Workbench, offers_for
from nutrition.swaps.options import options_of
from nutrition.swaps.reasons import _missed
from nutrition.swaps.rules import food_called, read_to, rules_for
from nutrition.swaps.sides import BESIDE, sides
from nutrition.swaps.solver import FOUND, NONE, Rows, solve
from nutrition.swaps.told import told
from nutrition.swaps.way_through import ways_for
from nutrition.swaps.wish import Wish
from nutrition.tables import read_table

NOODLES = """Noodle pan\nServes 4\n300 g rice noodles\n400 g chicken breast, sliced\n4 tbsp soy sauce\n2 tbsp fish sauce
1 red pepper, sliced\n2 carrots, sliced\n2 tbsp sesame oil\nMethod\nFry the chicken.\nAdd the rest."""
HOTPOT = """Lamb and turnip hotpot\nServes 6\n1 kg lamb shoulder, diced\n500 g turnips\n500 g potatoes\n2 onions
700 ml lamb stock\n2 tbsp Worcestershire sauce\n1 tsp salt\n2 tbsp sunflower oil\nMethod\nBrown the lamb.\nSimmer for 2 hours."""
BUNS = """Cardamom buns\nServes 12\n500 g bread flour\n7 g dried yeast\n250 ml milk\n80 g butter\n2 eggs\n80 g sugar
1 tsp salt\n2 tsp cardamom\nMethod\nKnead and let rise.\nBake for 15 minutes."""


def bench(text, *keys, meal="dinner", **settings):
    plans = {key: choose(key, settings if key == "kidney" else {}) for key in keys}
    facts = Facts(70, 2000, keys, age_years=50)
    targets = tuple(target for key in keys for target in targets_for(key, facts, plans[key]))
    return Workbench(read_recipe(from_text(text)), Eater(facts, plans, targets), meal)


class Solver(SimpleTestCase):
    def test_as_counting_every_case_out(self):
        """Random programs of six yes-or-no choices in three rows."""
        rng = np.random.default_rng(11)
        for _ in range(40):
            costs, table = rng.uniform(-5, 5, 6), rng.uniform(-3, 3, (3, 6))
            most = rng.uniform(-1, 4, 3)
            rows = Rows()
            for row, limit in zip(table, most, strict=True):
                rows.add(enumerate(row), at_most=limit)
            cases = [np.array(case) for case in itertools.product((0.0, 1.0), repeat=6)]
            best = min((costs @ case for case in cases if (table @ case <= most + 1e-9).all()), default=None)
            answer = solve(costs, np.ones(6), np.ones(6), rows)
            if best is None:
                self.assertEqual(answer.ended, NONE)
            else:
                self.assertEqual((answer.ended, answer.is_proven), (FOUND, True))
                self.assertAlmostEqual(answer.cost, best, places=6)

    def test_entries_of_one_column_add_up(self):
        rows = Rows()
        rows.add([(0, 1.0), (0, 1.0)], at_most=3.0)
        self.assertAlmostEqual(solve(np.array([-1.0]), np.array([10.0]), None, rows).x[0], 1.5)

    def test_the_same_question_gets_the_same_answer(self):
        work = bench(HOTPOT, "kidney", "heart", potassium="3000")
        first, again = (ways_for(work, Wish(ways=3, certain=False)) for _ in range(2))
        self.assertTrue(first.ways)
        self.assertEqual([way.changes for way in first.ways], [way.changes for way in again.ways])

    def test_what_was_not_searched_to_its_end_is_not_called_the_least(self):
        work = bench(HOTPOT, "kidney", "heart", potassium="3000")
        with self.subTest("looked at one node"), self.settings():
            nodes, program.NODES = program.NODES, 1
            try:
                outcome = ways_for(work, Wish(ways=1, certain=False))
            finally:
                program.NODES = nodes
            said = str(outcome.note)
            self.assertTrue(all(way.is_proven for way in outcome.ways) or "Not proven" in said or "a lot" in said)


class Levers(SimpleTestCase):
    def test_no_two_ways_pull_the_same(self):
        for text, keys in ((NOODLES, ("low-sodium",)), (HOTPOT, ("heart",)), (HOTPOT, ("low-sodium",))):
            ways = ways_for(bench(text, *keys), Wish(ways=5, certain=False)).ways
            self.assertTrue(ways)
            self.assertEqual(len({frozenset(way.levers) for way in ways}), len(ways))

    def test_less_of_it_and_a_low_salt_one_are_two_levers(self):
        ways = ways_for(bench(NOODLES, "low-sodium"), Wish(ways=5, certain=False)).ways
        kinds = {change.kind for way in ways for change in way.changes if change.line == 2}
        self.assertEqual({"less", "swap"} & kinds, {"less", "swap"})


class AsACookWould(SimpleTestCase):
    def test_measures_of_a_kitchen(self):
        for text, grams, expected in (
            ("2 tsp salt", 7.1, "1¼ tsp"),
            ("3 tbsp soy sauce", 30.0, "2 tbsp"),
            ("4 eggs", 160.0, "about 3"),
            ("2 onions", 170.0, "about 1½"),
        ):
            line = read_line(text, 4)
            taken = kitchen.MEASURES_OF_A_KITCHEN[0](line, grams)
            self.assertEqual(kitchen.spoken(line.scaled(taken / line.grams)), expected, text)
        self.assertEqual(kitchen.MEASURES_OF_A_KITCHEN[0](read_line("400 g potatoes", 4), 283.0), 285.0)

    def test_a_clear_change_stays_one_when_it_is_rounded(self):
        line = read_line("2 tsp salt", 4)
        self.assertLess(kitchen.MEASURES_OF_A_KITCHEN[0](line, 0.84 * line.grams), 0.85 * line.grams)

    def test_the_title_keeps_what_it_names(self):
        for keys in (("heart",), ("kidney", "heart")):
            for way in ways_for(bench(HOTPOT, *keys, potassium="3000"), Wish(ways=5, certain=False)).ways:
                self.assertTrue(any("lamb" in description_of(line).lower() for line in way.lines), way.changes)

    def test_a_part_stays_and_the_rest_takes_its_place(self):
        leads = read_to("@keep 0.4 + cabbage * 0.4 + carrots * 0.2")
        self.assertEqual((leads.keeps, len(leads.to)), (0.4, 2))
        work = bench(HOTPOT, "kidney", potassium="3000")
        offer = next(o for o in offers_for(work, 0, 40).offers if o.id == "meat-protein-small-portion-cabbage")
        self.assertEqual(offer.to[0], (work.lines[0].food_id, 400.0))
        self.assertEqual(offer.lines[0].key, work.lines[0].key)

    def test_foods_nobody_puts_together(self):
        work = bench("Chicken tagine\nServes 4\n600 g chicken thighs\n500 ml chicken stock\nMethod\nSimmer.", "heart")
        cream = replace(read_line("100 ml heavy cream", 4), text="heavy cream")
        self.assertTrue(clashes(work, 1, cream))
        self.assertFalse(clashes(work, 1, read_line("100 ml water", 4)))

    def test_nothing_of_another_persons_diet(self):
        ways = ways_for(
            bench(NOODLES.replace("rice noodles", "egg noodles"), "heart"), Wish(ways=5, certain=False)
        ).ways
        self.assertFalse([way for way in ways if any("gluten" in description_of(line).lower() for line in way.lines)])

    def test_sides_say_what_to_do_with_them(self):
        for side in sides():
            self.assertTrue(side.how and side.grams > 0, side.name)
            food_called(side.name)
        work = bench(HOTPOT, "heart")
        beside = [o.new[0] for o in options_of(work, Wish()) if o.is_side]
        self.assertEqual({line.heading for line in beside}, {BESIDE})


class Reasons(SimpleTestCase):
    def test_each_change_says_what_would_be_shut_without_it(self):
        for text, keys in ((NOODLES, ("low-sodium",)), (HOTPOT, ("heart",)), (BUNS, ("dairy-free",))):
            work = bench(text, *keys)
            for way in ways_for(work, Wish(ways=3, certain=False)).ways:
                for change in way.changes:
                    said = str(change.why)
                    self.assertTrue(said, change.text)
                    lines = dish_after(work, [each for each in way.changes if each is not change])
                    shut = [v for v in judge(work.gates, analyze_lines(lines, way.serves)) if v.state != OPEN]
                    self.assertEqual("without it" in said, bool(shut) and "kept out" not in said, said)

    def test_what_only_may_be_too_much_is_said_as_that(self):
        post = Target("sodium_mg", maximum=600, scope="serving")
        [gate] = Eater(targets=(post,)).gates("dinner")
        for amount, most, words in (
            (500.0, 800.0, "may be 800 mg"),
            (700.0, 800.0, "700 mg"),
            (500.0, inf, "cannot be told"),
        ):
            said = _missed(Verdict(gate, amount, amount, most, "unsure", ()))
            self.assertEqual((said["amount"], said["post"]), (words, "at most 600 mg"))

    def test_tastings_shift_how_near_a_swap_is_and_say_so(self):
        work = bench(NOODLES, "low-sodium")
        soy, low = work.lines[2].food_id, food_called("low sodium soy sauce")
        plain, kept, given_up = (
            next(o for o in offers_for(replace(work, learned=learned), 2, 40).offers if o.id == "soysauce-savory-low-sodium-soy-sauce")
            for learned in ({}, {(soy, low): 0.05}, {(soy, low): -0.2})
        )  # fmt: skip
        self.assertGreater(kept.closeness, plain.closeness)
        self.assertLess(given_up.closeness, plain.closeness)
        way = ways_for(replace(work, learned={(soy, low): 0.1}), Wish(ways=1, certain=False)).ways[0]
        self.assertTrue(any("kept in a tasting of yours" in str(change.why) for change in way.changes), way.changes)

    def test_taste_and_work(self):
        work = bench(NOODLES, "low-sodium")
        way = ways_for(work, Wish(ways=1, certain=False)).ways[0]
        said = told(work, way.lines, way.serves, minutes=way.minutes)
        self.assertTrue(any(text.endswith("less salt") for text in said.taste), said.taste)

    def test_unknown_values_that_stand_in_the_way_are_named(self):
        work = bench("Pot\nServes 4\n500 g potatoes\n300 ml beef stock\nMethod\nSimmer.")
        line = replace(work.lines[1], weight=replace(work.lines[1].weight, most=work.lines[1].weight.likely * 20))
        dish = work.dish.with_lines(keyed([work.lines[0], line]))
        target = Target("sodium_mg", maximum=500, scope="serving")
        tight = Workbench(dish, Eater(targets=(target,)), "dinner")
        outcome = ways_for(tight, Wish(ways=1, pinned=frozenset((0, 1))))
        self.assertFalse(outcome.ways)
        outcome = ways_for(tight, Wish(ways=1, pinned=frozenset((1,))))
        self.assertFalse(outcome.ways)
        self.assertIn("beef stock", str(outcome.note))


#: Nothing a cook has stands in for it.
#: What a baby is fed with is no cook's to replace.
FOR_BABIES = ("curated:human-milk", "curated:infant-formula", "usda:fndds/infant-formula", "usda:fndds/baby-toddler")


class StandIns(SimpleTestCase):
    """Whatever a plan keeps out has something that takes over, in every kind of dish. Common practice."""

    PLANS = ("gluten-free", "dairy-free", "vegetarian", "vegan", "halal", "free-of:egg", "free-of:tree_nut",
             "free-of:peanut", "free-of:soy", "free-of:fish", "free-of:crustacean_shellfish", "free-of:sesame",
             "free-of:mustard", "free-of:celery")  # fmt: skip

    @staticmethod
    def stand_ins(line, out):
        return [
            rule
            for rule in rules_for(description_of(line), "any")
            if rule.to
            and not rule.keeps
            and not any(h.verdict == CONTAINS and h.tag in out for food_id, _ in rule.to for h in hits_of_food(food_id))
        ]

    def test_every_food_a_cook_calls_by_name(self):
        seen, without = set(), []
        for row in read_table("cooks_names.tsv"):
            line = read_line(f"100 g {row['names'].split('|')[0]}")
            if not line.food_id or line.food_id in seen:
                continue
            seen.add(line.food_id)
            held = {hit.tag for hit in hits_of_line(line) if hit.verdict == CONTAINS}
            for key in self.PLANS:
                out = frozenset(avoids_of({key: {}}))
                if held & out and not line.food_id.startswith(FOR_BABIES) and not self.stand_ins(line, out):
                    without.append((key, foods().by_id(line.food_id).description))
        self.assertGreater(len(seen), 600)
        self.assertEqual(without, [])

    def test_in_a_kind_of_dish_no_rule_was_written_for(self):
        work = bench(
            "Dumpling stew\nServes 4\n500 g carrots\n200 g plain flour\n1 l water\nMethod\nSimmer.", "gluten-free"
        )
        self.assertTrue([o for o in offers_for(work, 1).offers if o.kind == "swap"])

    def test_where_no_rule_stands_in_one_is_built_from_the_job(self):
        """Nothing kept out, the same job, much alike, and it says that nobody tasted it."""
        built = built_for(read_line("200 g cooked bulgur", 4), "grain")
        self.assertTrue(built)
        self.assertTrue(
            all("nobody" in r.do_differently.lower() or "try a little" in r.do_differently.lower() for r in built)
        )
        self.assertEqual(len({rule.id for rule in built}), len(built))
        self.assertEqual(built_for(replace(read_line("100 g bulgur", 4), food_id=None), "any"), [])
        work = bench("Malt pot\nServes 4\n500 g carrots\n200 g couscous\nMethod\nSimmer.", "gluten-free")
        with mock.patch("nutrition.swaps.offers.rules_for", return_value=[]):
            offers = [o for o in offers_for(work, 1).offers if o.kind == "swap"]
        self.assertTrue(offers)
        for offer in offers:
            held = {hit.tag for food_id, _ in offer.to for hit in hits_of_food(food_id) if hit.verdict == CONTAINS}
            self.assertFalse(held & work.kept_out, offer.text)
            self.assertIn("bulk", jobs_of(read_line(f"100 g {offer.lines[1].text}", 4), "stew"))
