"""Several dishes before several eaters: sums by hand, laws that hold for any table, portions against counting out.

Figures by hand from USDA SR Legacy rows: rice, white, long-grain, cooked 130 kcal, 35 mg potassium, 1 mg sodium; carrots, raw 41 kcal,
320 mg potassium, 69 mg sodium; salt 38,758 mg sodium; each per 100 g.
"""

import itertools
import json
import tempfile
from dataclasses import replace
from pathlib import Path

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from nutrition.food.nutrients import INDEX
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.limits.plans import PLANS, Facts, targets_for
from nutrition.meals.contact import contacts
from nutrition.meals.fitting import fitting
from nutrition.meals.pairing import pairings, to_blame
from nutrition.meals.portions import ONE, Portion, read_portion
from nutrition.meals.room import foods_as_eaten, of_one, room_for
from nutrition.meals.splitting import splits
from nutrition.meals.table import NOT_EATEN, Seat, Served, lay, plain
from nutrition.meals.together import together, ways_for_all
from nutrition.notes import Problem
from nutrition.reading.recipe import read_recipe
from nutrition.sheet.verdicts import OPEN, SHUT, UNSURE
from tests.nutrition.test_cli import run

CARROTS = Served(read_recipe("Carrot salad\nServes 4\n500 g carrots, grated\nMethod\nToss."), "salad")
RICE = Served(read_recipe("Boiled rice\nServes 4\n600 g cooked white rice\n2 g salt\nMethod\nBoil."), "side")
CURRY = Served(
    read_recipe(
        "Squash and cream pot\nServes 4\n800 g butternut squash, diced\n2 onions, chopped\n1 tbsp oil\n200 ml heavy cream\n1 tsp salt\nMethod\n"
        "Soften the onions in the oil.\nAdd the squash and 300 ml water and simmer for 20 minutes.\nStir in the cream and salt."
    ),
    "main",
)


def per_meal(nutrient, most=None, least=None):
    return Target(nutrient, minimum=least, maximum=most, scope="meal")


def seat(*portions, name="Ada", targets=(), plans=(), **more):
    keys = {key: PLANS[key].choose({}) for key in plans}
    return Seat(name, Eater(Facts(), keys, tuple(targets)), tuple(map(Portion.of, portions)), **more)


class ByHand(SimpleTestCase):
    def test_a_meal_is_the_sum_of_its_portions(self):
        [place] = lay(
            [CARROTS, RICE], [seat(0.5, 2, targets=[per_meal("potassium_mg", 400), per_meal("sodium_mg", 400)])]
        ).places
        potassium, sodium = place.verdicts
        self.assertAlmostEqual(potassium.amount, 0.5 * 1.25 * 320 + 2 * 1.5 * 35, delta=1)  # 305
        self.assertAlmostEqual(sodium.amount, 0.5 * 1.25 * 69 + 2 * (1.5 * 1 + 0.5 * 387.58), delta=1)  # 433.7
        self.assertEqual((potassium.state, sodium.state, place.state), (OPEN, SHUT, SHUT))
        self.assertAlmostEqual(place.left("potassium_mg"), 95, delta=1)
        self.assertEqual(to_blame(place, "sodium_mg")[0], 1)
        self.assertIsNone(to_blame(place, "potassium_mg"))

    def test_a_crossing_says_what_a_portion_takes_of_the_meal(self):
        [place] = lay(
            [CARROTS, RICE], [seat(1, 1, targets=[per_meal("potassium_mg", 500), per_meal("sodium_mg", 1000)])]
        ).places
        self.assertEqual(
            [str(each.why) for each in place.crossings], ["80% of the meal’s potassium", "20% of the meal’s sodium"]
        )
        self.assertEqual([each.state for each in place.crossings], [OPEN, OPEN])

    def test_a_limit_of_a_day_is_shared_out_and_floors_are_asked_of_the_whole_meal_only(self):
        limits = [Target("potassium_mg", maximum=2000), Target("energy_kcal", minimum=2000)]
        [place] = lay([CARROTS, RICE], [seat(1, 1, targets=limits)], "lunch").places
        potassium, energy = place.verdicts
        self.assertAlmostEqual(potassium.gate.high.limit, 600)
        self.assertEqual((energy.state, potassium.state), (SHUT, OPEN))  # 246 of 600 kcal
        self.assertEqual({each.state for each in place.crossings}, {OPEN})

    def test_a_limit_of_a_serving_is_asked_of_each_dish(self):
        limit = Target("sodium_mg", maximum=140, scope="serving")
        [place] = lay([CARROTS, RICE], [seat(2, 0.5, targets=[limit])]).places
        self.assertEqual([each.state for each in place.crossings], [OPEN, SHUT])  # 86 and 195 mg, whatever the portion
        self.assertEqual(place.verdicts, ())

    def test_grams_of_a_dish_nobody_weighed_are_a_span(self):
        weighed = replace(RICE, cooked_serving_g=200)
        exact, about = (read_portion("100 g", each.measured) for each in (weighed, CURRY))
        self.assertEqual((exact.least, exact.likely, exact.most), (0.5, 0.5, 0.5))
        self.assertLess(about.least, about.likely)
        [place] = lay([CURRY], [Seat("Ada", Eater(targets=(per_meal("potassium_mg", 999),)), (about,))]).places
        self.assertLess(place.verdicts[0].at_least, place.verdicts[0].amount)

    def test_how_much_there_is_to_go_round(self):
        table = lay([CARROTS, replace(RICE, batches=2)], [seat(1, 3), seat(0.5, 4.5)])
        self.assertEqual([table.spare(0), table.spare(1)], [2.5, 0.5])
        self.assertEqual(lay([plain("1 slice of bread, 35 g")], [seat(3)]).spare(0), 0.0)

    def test_what_pays_for_a_dish_over_its_share(self):
        [place] = lay([CARROTS, RICE], [seat(1, 1, targets=[per_meal("potassium_mg", 500)])]).places
        [found] = pairings(lay([CARROTS, RICE], [place.seat]), place)
        self.assertEqual((found.dish, found.share), (0, 0.2))
        self.assertAlmostEqual(found.part, 0.8, places=2)
        self.assertIsNone(found.payer)  # rice leaves 14 % of its 25; the 55 % nobody serves leave more
        heavier = replace(RICE, role="main")
        table = lay([CARROTS, heavier], [place.seat])
        [found] = pairings(table, table.places[0])
        self.assertEqual(found.payer, 1)

    def test_nothing_pays_where_the_meal_is_over(self):
        table = lay([CARROTS, RICE], [seat(2, 1, targets=[per_meal("potassium_mg", 500)])])
        self.assertEqual(pairings(table, table.places[0]), [])


class WhatIsLeft(SimpleTestCase):
    def fits(self, targets, **more):
        [place] = lay([RICE], [seat(1, targets=targets, **more)]).places
        return place, {each.food.one: each.count for fits in room_for(place).values() for each in fits}

    def test_foods_fit_to_the_last_half(self):
        place, found = self.fits([per_meal("sodium_mg", 500)])
        for food in foods_as_eaten():
            holds = of_one(food.one).at_most[INDEX["sodium_mg"]]
            count = found.get(food.one, 0.0)
            self.assertLessEqual(count * holds, place.left("sodium_mg") + 1e-6, food.one)
            if count < food.most:
                self.assertGreater((count + 0.5) * holds, place.left("sodium_mg"), food.one)
        self.assertEqual(found["slice of white bread"], 2.0)  # 305 mg left, 143 mg a slice

    def test_nothing_that_is_kept_out_or_noted_is_offered(self):
        _, found = self.fits(
            [per_meal("sodium_mg", 900)], plans=["free-of:milk", "gluten-free"], noted=("kiwi",), disliked=("orange",)
        )
        names = set(found)
        self.assertFalse(
            names & {"small glass of milk", "slice of white bread", "thin slice of cheddar", "kiwi", "orange"}
        )
        self.assertIn("slice of gluten-free bread", names)

    def test_nothing_is_left_of_a_meal_past_a_limit_and_nothing_is_said_without_limits(self):
        self.assertEqual(self.fits([per_meal("sodium_mg", 100)])[1], {})
        self.assertEqual(self.fits([])[1], {})

    def test_an_unknown_leaves_nothing(self):
        unknown = Served(read_recipe("Odd pot\nServes 2\n100 g flurbl\n100 g rice\nMethod\nBoil."))
        [place] = lay([unknown], [seat(1, targets=[per_meal("sodium_mg", 2000)])]).places
        self.assertEqual((place.verdicts[0].state, room_for(place)), (UNSURE, {}))

    def test_every_food_as_eaten_is_in_the_table_and_known_where_it_counts(self):
        for food in foods_as_eaten():
            unit = of_one(food.one)
            self.assertFalse(unit.unweighed, food.one)
            for key in ("energy_kcal", "sodium_mg", "potassium_mg", "phosphorus_mg", "protein_g", "carbohydrate_g"):
                self.assertTrue(unit.interval(key)[1] < 1e6, (food.one, key))


class OnePotForSome(SimpleTestCase):
    def table(self, *seats):
        return lay([CURRY], seats)

    def test_their_part_is_taken_out_before_what_they_cannot_have(self):
        crumbed = Served(replace(CURRY.dish, kind="bake"), "main")
        table = lay([crumbed], [seat(1, name="Ines", plans=["free-of:milk"]), seat(1, name="Bo")])
        [split] = splits(table, 0)
        self.assertEqual((split.step, split.part, split.seats), (3, 0.25, (0,)))
        by_then = 800 + sum(line.grams for line in CURRY.dish.lines[1:3])
        self.assertAlmostEqual(split.grams, by_then / 4, delta=1)
        said = " ".join(str(each) for each in split.words(table))
        self.assertIn("Before step 3", said)
        self.assertIn("the part of Ines", said)
        cream = CURRY.dish.lines[3].grams
        self.assertIn(f"{0.75 * cream:.0f} g of heavy cream", said)

    def test_what_can_wait_waits_until_all_is_done(self):
        table = self.table(seat(1, name="Ines", plans=["free-of:milk"]), seat(1, name="Bo"))
        [split] = splits(table, 0)
        self.assertIsNone(split.step)
        self.assertIn("Leave heavy cream out of the pot", str(split.words(table)[0]))

    def test_both_pots_together_are_the_dish_less_what_was_left_out(self):
        table = self.table(seat(1.5, plans=["free-of:milk"]), seat(1), seat(0.5, plans=["dairy-free"]))
        [split] = splits(table, 0)
        self.assertEqual(split.seats, (0, 2))
        for at, line in enumerate(CURRY.dish.lines):
            theirs = 0.0 if at in split.without else 0.5
            self.assertAlmostEqual(
                sum(each.grams for pot in (split.theirs, split.rest) for each in pot.lines if each.text == line.text),
                line.grams * (0.5 + theirs),
            )
        self.assertAlmostEqual(split.theirs.servings + split.rest.servings, 4)

    def test_eaten_from_their_own_pot_the_gate_is_open(self):
        ines = seat(1, name="Ines", plans=["free-of:milk"])
        [split] = splits(self.table(ines, seat(1)), 0)
        [place] = self.table(replace(ines, without={0: frozenset(split.without)})).places
        self.assertEqual([each.state for each in place.kept], [OPEN])

    def test_too_much_of_one_thing_splits_a_pot_too(self):
        table = self.table(seat(1, targets=[per_meal("sodium_mg", 200)]), seat(1))
        [split] = splits(table, 0)
        self.assertEqual([CURRY.dish.lines[at].text for at in split.without], ["1 tsp salt"])

    def test_nothing_worth_eating_is_no_split(self):
        self.assertEqual(splits(lay([RICE], [seat(1, targets=[per_meal("energy_kcal", 50)]), seat(1)]), 0), [])
        self.assertEqual(splits(self.table(seat(4, plans=["free-of:milk"])), 0), [])  # nobody is left for the rest
        self.assertEqual(splits(self.table(seat(0, plans=["free-of:milk"]), seat(1)), 0), [])

    def test_traces(self):
        table = lay(
            [CURRY, CARROTS],
            [seat(0, 1, name="Ines", plans=["free-of:milk"]), seat(1, 1, name="Bo", plans=["vegetarian"])],
        )
        [found] = contacts(table)
        self.assertEqual((found.tag, found.seats, found.first, found.after), ("milk", (0,), (1,), (0,)))
        self.assertIn("cook Carrot salad first, before Squash and cream pot", str(found.words(table)[1]))
        self.assertEqual(contacts(lay([CARROTS], [seat(1, plans=["free-of:milk"])])), [])


class Fitting(SimpleTestCase):
    def test_against_counting_out(self):
        """The nearest portions among all quarters up to twice as much, counted out."""
        cases = (
            ([1, 1], [per_meal("sodium_mg", 150)]),
            ([1, 2], [per_meal("potassium_mg", 300), per_meal("energy_kcal", 400, 250)]),
            ([2, 1], [per_meal("sodium_mg", 200), per_meal("potassium_mg", 450, 300)]),
            ([1, 1], [per_meal("sodium_mg", 1)]),
        )
        for now, limits in cases:
            [place] = lay([CARROTS, RICE], [seat(*now, targets=limits)]).places
            steps = [[quarter / 4 for quarter in range(int(8 * portion) + 1)] for portion in now]

            def cost(portions, now=now):
                moved = sum(1.1 * max(new - old, 0) + max(old - new, 0) for new, old in zip(portions, now, strict=True))
                return moved + 0.6 * sum(not each for each in portions)

            through = [
                each
                for each in itertools.product(*steps)
                if all(
                    v.state == OPEN
                    for v in lay([CARROTS, RICE], [replace(place.seat, portions=tuple(map(Portion.of, each)))])
                    .places[0]
                    .verdicts
                )
            ]
            found = fitting(place)
            if not through:
                self.assertTrue(found.misses)
                continue
            self.assertEqual(found.misses, ())
            self.assertAlmostEqual(cost([each.likely for each in found.portions]), min(map(cost, through)), places=5)
            self.assertIn(tuple(each.likely for each in found.portions), through)

    def test_where_none_fit_the_nearest_say_what_they_miss(self):
        """One serving of carrots, 51 kcal and 400 mg, is all that 52 kcal let in: 800 of the 1,200 mg are missing."""
        limits = [per_meal("potassium_mg", None, 1200), per_meal("energy_kcal", 52)]
        [place] = lay([CARROTS], [seat(1, targets=limits)]).places
        found = fitting(place)
        [miss] = found.misses
        self.assertEqual((miss.gate.nutrient, miss.side), ("potassium_mg", "low"))
        self.assertAlmostEqual(miss.by, 800, delta=1)

    def test_what_is_kept_out_gets_none(self):
        [place] = lay(
            [CURRY, CARROTS], [seat(1, 1, plans=["free-of:milk"], targets=[per_meal("potassium_mg", 500)])]
        ).places
        self.assertEqual([each.likely for each in fitting(place).portions], [0.0, 1.0])


class ForEverybody(SimpleTestCase):
    def test_what_the_other_dishes_leave_is_shared_out_over_the_portion(self):
        ada = seat(0.5, 1, name="Ada", targets=[per_meal("sodium_mg", 400)])
        bo = seat(2, 0, name="Bo", targets=[per_meal("sodium_mg", 2000, 100)])
        gates = {g.nutrient: g for g in together(lay([CURRY, RICE], [ada, bo]), 0).gates("dinner")}
        self.assertAlmostEqual(gates["sodium_mg"].high.limit, (400 - 195.3) / 0.5, delta=2)  # less than the 1,000 of Bo
        self.assertAlmostEqual(gates["sodium_mg"].low.limit, 50)
        self.assertIn("Ada", gates["sodium_mg"].source)

    def test_a_way_for_all_opens_each_meal(self):
        seats = [
            seat(1, 1, name="Ada", targets=[per_meal("sodium_mg", 500)]),
            seat(1, 0.5, name="Bo", plans=["free-of:milk"]),
        ]
        outcome = ways_for_all(lay([CURRY, RICE], seats), 0)
        self.assertTrue(outcome.solved)
        way = outcome.ways[0]
        mended = Served(replace(CURRY.dish, lines=way.lines, serves=way.serves), "main")
        after = lay([mended, RICE], seats)
        self.assertEqual([v.state for place in after.places for v in (*place.verdicts, *place.kept)], [OPEN, OPEN])

    def test_limits_that_cannot_meet_are_named(self):
        seats = [
            seat(1, targets=[per_meal("energy_kcal", 100)], name="Ada"),
            seat(1, targets=[per_meal("energy_kcal", None, 900)], name="Bo"),
        ]
        outcome = ways_for_all(lay([CURRY], seats), 0)
        self.assertFalse(outcome.solved)
        self.assertTrue(outcome.conflict or outcome.note)


portion = st.integers(0, 12).map(lambda quarters: quarters / 4)


class Laws(SimpleTestCase):
    limits = (per_meal("sodium_mg", 500), per_meal("potassium_mg", 700, 100), per_meal("energy_kcal", 600))

    def amounts(self, dishes, *portions, eater=()):
        [place] = lay(dishes, [seat(*portions, targets=eater or self.limits)]).places
        return place, [v.amount for v in place.verdicts]

    @given(portion, portion, st.integers(1, 3))
    @settings(max_examples=40, deadline=None)
    def test_portions_scale(self, a, b, times):
        _, once = self.amounts([CARROTS, CURRY], a, b)
        _, more = self.amounts([CARROTS, CURRY], a * times, b * times)
        for x, y in zip(once, more, strict=True):
            self.assertAlmostEqual(x * times, y, places=6)

    @given(st.permutations(range(3)), st.lists(portion, min_size=3, max_size=3))
    @settings(max_examples=40, deadline=None)
    def test_the_order_of_dishes_changes_nothing(self, order, portions):
        dishes = [CARROTS, RICE, CURRY]
        place, amounts = self.amounts(dishes, *portions)
        turned, again = self.amounts([dishes[at] for at in order], *(portions[at] for at in order))
        for x, y in zip(amounts, again, strict=True):
            self.assertAlmostEqual(x, y, places=6)
        self.assertEqual([place.crossings[at].state for at in order], [each.state for each in turned.crossings])
        self.assertEqual(place.state, turned.state)

    def test_an_eater_without_limits_changes_nothing(self):
        ada = seat(1, 1, targets=self.limits)
        alone, among = lay([CARROTS, RICE], [ada]), lay([CARROTS, RICE], [seat(2, 1, name="Guest"), ada])
        self.assertEqual(alone.places[0].verdicts, among.places[1].verdicts)
        self.assertEqual((among.places[0].verdicts, among.places[0].state), ((), OPEN))

    def test_a_portion_of_nothing_is_as_if_the_dish_were_not_there(self):
        with_it, without = (
            lay([CARROTS, CURRY], [seat(1, 0, targets=self.limits, plans=["free-of:milk"])]),
            lay([CARROTS], [seat(1, targets=self.limits, plans=["free-of:milk"])]),
        )
        self.assertEqual(with_it.places[0].crossings[1].state, NOT_EATEN)
        self.assertEqual(with_it.places[0].state, without.places[0].state)
        for one, other in zip(with_it.places[0].verdicts, without.places[0].verdicts, strict=True):
            self.assertAlmostEqual(one.amount, other.amount)

    def test_the_same_dish_twice_is_the_dish_twice(self):
        _, twice = self.amounts([CURRY, CURRY], 1, 0.5)
        _, once = self.amounts([CURRY], 1.5)
        for x, y in zip(twice, once, strict=True):
            self.assertAlmostEqual(x, y, places=6)

    def test_a_meal_is_within_its_span(self):
        for key in ("kidney", "low-sodium", "diabetes"):
            targets = targets_for(key, Facts(weight_kg=70, energy_kcal=2000))
            [place] = lay([CARROTS, RICE, CURRY], [seat(1, 1, 1, targets=targets)]).places
            for verdict in place.verdicts:
                self.assertLessEqual(verdict.at_least, verdict.amount + 1e-9)
                self.assertLessEqual(verdict.amount, verdict.at_most + 1e-9)


class Portions(SimpleTestCase):
    def test_words(self):
        cut = replace(CURRY, pieces=3)
        for words, servings in (
            ("", 1),
            ("2", 2),
            ("half", 0.5),
            ("a half", 0.5),
            ("½", 0.5),
            ("1½", 1.5),
            ("one and a half", 1.5),
            ("two servings", 2),
            ("none", 0),
            ("0", 0),
            ("a third", 1 / 3),
            ("50 %", 0.5),
            ("half of it", 2),
            ("1/8 of the dish", 0.5),
            ("2 slices", 2 / 3),
            ("a slice", 1 / 3),
            ("double", 2),
            ("1 bowl", 1),
        ):
            with self.subTest(words):
                self.assertAlmostEqual(read_portion(words, cut.measured).likely, servings)
        self.assertIs(read_portion("", cut.measured), ONE)

    def test_what_cannot_be_read_is_said(self):
        for words, code in (
            ("a lot", "portion_unread"),
            ("-3", "portion_unread"),
            ("1/0", "portion_unread"),
            ("500", "portion_too_much"),
            ("9e9", "portion_unread"),
            ("5 miles", "portion_unread"),
            ("99999 kg", "portion_too_much"),
        ):
            with self.subTest(words), self.assertRaises(Problem) as raised:
                read_portion(words, CURRY.measured)
            self.assertEqual(raised.exception.code, f"meal.{code}")
            self.assertIn(words, str(raised.exception))

    def test_a_food_without_a_weight_is_asked_for_one(self):
        self.assertEqual(plain("1 slice of bread, 35 g").dish.lines[0].grams, 35)
        with self.assertRaises(Problem) as raised:
            plain("some flurbl")
        self.assertIn("Write it with its weight", str(raised.exception))


class CommandLine(SimpleTestCase):
    def run_meal(self, *arguments):
        return run("meal", *arguments)

    def test_dishes_and_eaters_in_and_a_table_out(self):
        eaters = [
            {"name": "Ines", "diet": ["kidney"], "weight-kg": 68, "portion": ["2=half"]},
            {"name": "Bo", "diet": "free-of:milk", "allergies": "kiwi"},
            {"name": "a guest"},
        ]
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "eaters.json"
            file.write_text(json.dumps(eaters))
            done = self.run_meal(
                "demo/recipes/leek-bake.txt",
                "demo/recipes/lentil-soup.txt",
                "--food",
                "1 slice of bread, 35 g",
                "--role",
                "2=soup",
                "--eaters",
                str(file),
                "--json",
            )
        self.assertEqual(done.returncode, 0, done.stderr)
        said = json.loads(done.stdout)
        self.assertEqual([each["role"] for each in said["dishes"]], ["whole", "soup", "bread"])
        self.assertEqual([each["name"] for each in said["eaters"]], ["Ines", "Bo", "a guest"])
        self.assertEqual([each["portion"] for each in said["eaters"][0]["dishes"]], [1, 0.5, 1])
        self.assertEqual(said["eaters"][1]["dishes"][0]["why"], "contains milk")
        self.assertEqual((said["eaters"][2]["gates"], said["eaters"][2]["verdict"]), ([], "open"))
        self.assertEqual(said["splits"][0]["for"], ["Bo"])
        baked = [task for task in said["oven"]["tasks"] if task["kind"] == "oven"]
        self.assertEqual(
            [(task["dish"], task["oven_c"], task["start"] - task["end"]) for task in baked], [(1, 190, 35)]
        )

    def test_a_way_over_the_whole_table(self):
        with tempfile.TemporaryDirectory() as folder:
            pot = Path(folder) / "pot.txt"
            pot.write_text("Carrots in salt\nServes 4\n800 g carrots\n2 tbsp butter\n2 tsp salt\nMethod\nSimmer.")
            asked = (str(pot), "--food", "1 slice of bread, 35 g", "--target", "sodium_mg<=500", "--whole")
            done, spoken = self.run_meal(*asked, "--json"), self.run_meal(*asked).stdout
        self.assertEqual(done.returncode, 0, done.stderr)
        said = json.loads(done.stdout)
        self.assertEqual((said["eaters"][0]["verdict"], said["whole"]["solved"]), ("shut", True))
        [eater] = said["whole"]["eaters"]
        self.assertNotEqual(eater["verdict"], "shut")
        self.assertEqual((len(eater["portions"]), eater["misses"]), (2, []))
        self.assertRegex(spoken, r"then Eater 1: (open|unsure), portions [\d.]+")

    def test_bad_input_is_one_line(self):
        soup = "demo/recipes/lentil-soup.txt"
        for arguments, words in (
            ((), "nothing to eat was named"),
            ((soup, "--portion", "2=half"), "1 to 1"),
            ((soup, "--portion", "1=a lot"), "a lot"),
            ((soup, "--role", "1=pudding"), "pudding"),
            ((soup, "--eaters", "none.json"), "none.json"),
            ((soup, "--food", "some flurbl"), "some flurbl"),
            ((soup, "--way", "3"), "1 to 1"),
            ((soup, "--without", "1=99"), "99"),
        ):
            with self.subTest(arguments):
                done = self.run_meal(*arguments)
                self.assertEqual(
                    (done.returncode, done.stdout, len(done.stderr.splitlines())), (2, "", 1), done.stderr[:300]
                )
                self.assertIn(words, done.stderr)
