"""What is not eaten: read of the steps, a span in every figure, asked about, and answered."""

from dataclasses import replace
from math import isclose, isinf

import numpy as np
from django.test import SimpleTestCase

from nutrition.dish.codec import from_data, to_data
from nutrition.dish.cooking import methods
from nutrition.dish.dish import keyed
from nutrition.giving.writing import write
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.notes import Problem
from nutrition.reading.done import on_offer
from nutrition.reading.eaten import questions_of, say
from nutrition.reading.method import read_method
from nutrition.reading.recipe import read_recipe
from nutrition.reading.whole import marked, whole_dish
from nutrition.sheet.analysis import analyze, analyze_lines
from nutrition.sheet.examine import examine
from nutrition.sheet.uncooked import uncooked
from nutrition.stove.cooked import LEFT, Tap, as_cooked, checked
from tests.nutrition.gold_methods import gold

MARINADE = """Tofu
Serves 2
300 g tofu
3 tbsp fish sauce
1 tbsp honey
Method
Marinate the tofu in the fish sauce and honey for an hour.
{}
"""
OUT = read_recipe(MARINADE.format("Discard the marinade and grill the tofu."))


class Figures(SimpleTestCase):
    #: (lines, steps, nutrient, what is done, least and most share of it that is eaten once somebody says so)
    CASES = (
        (("300 g tofu", "4 tbsp soy sauce"), ("Marinate the tofu in the soy sauce.", "Discard the marinade and grill the tofu."), "sodium_mg", "poured_off", 0.04, 0.45),
        (("350 g pasta", "2 tbsp salt"), ("Boil the pasta in plenty of water with the salt and drain.",), "sodium_mg", "poured_off", 0.02, 0.42),
        (("500 g squid", "1 l sunflower oil"), ("Deep-fry the squid in the oil and drain on paper.",), "fat_g", "left_in_pan", 0.02, 0.42),
        (("1 kg mussels in their shells", "1 leek"), ("Steam the mussels with the leek and serve.",), "protein_g", "shell", 0.12, 0.46),
        (("600 g cucumbers", "1 tsp salt"), ("Slice the cucumbers, salt them and squeeze them out.",), "sodium_mg", "pressed_out", 0.2, 0.95),
        (("1 kg chicken wings", "1 tbsp oil"), ("Roast the wings in the oil.",), "protein_g", "bone", 0.4, 0.63),
        (("300 g salt cod", "2 onions"), ("Soak the cod in cold water for a day.", "Simmer it with the onions."), "sodium_mg", "soaked_out", 0.2, 0.95),
    )  # fmt: skip

    def test_a_span_until_somebody_says_then_a_narrower_one_or_all(self):
        for lines, steps, key, how, low, high in self.CASES:
            dish = read_recipe("\n".join(("Pot", "Serves 2", *lines, "Method", *steps)))
            listed = analyze_lines(dish.lines, 2)
            [asked] = [each for each in questions_of(dish) if each.how == how]
            read, so, not_so = (
                analyze(each) for each in (dish, say(dish, asked.step, how, True), say(dish, asked.step, how, False))
            )
            with self.subTest(how, lines=lines):
                self.assertLess(read.amount(key), listed.amount(key))
                self.assertTrue(
                    isclose(read.interval(key)[1], listed.interval(key)[1]),
                    "what was only read takes nothing off the most",
                )
                least, most = so.interval(key)
                self.assertLess(most, listed.interval(key)[1])
                whole = listed.interval(key)[1]
                self.assertTrue(
                    low * whole * 0.8 <= least <= most <= high * whole * 1.05, (least / whole, most / whole)
                )
                self.assertTrue(np.allclose(not_so.amounts, listed.amounts))

    def test_a_marinade_that_is_boiled_down_is_eaten(self):
        down = read_recipe(MARINADE.format("Grill the tofu. Boil the marinade to a glaze and spoon it over."))
        self.assertEqual(questions_of(down), ())

    def test_a_gate_is_told_apart_by_the_answer(self):
        eater = Eater(targets=(Target("sodium_mg", maximum=1200, scope="serving"),))
        states = [
            examine(dish, eater).verdicts[0].state
            for dish in (
                read_recipe(MARINADE.format("Grill it all.")),
                OUT,
                say(OUT, 2, "poured_off", True),
                say(OUT, 2, "poured_off", False),
            )
        ]
        self.assertEqual(states, ["shut", "unsure", "open", "shut"])

    def test_what_decides_a_gate_is_among_the_doubts(self):
        sheet = examine(OUT, Eater(targets=(Target("sodium_mg", maximum=1200, scope="serving"),)))
        [doubt] = [each for each in sheet.doubts if each.decides]
        self.assertEqual(
            (sheet.dish.lines[doubt.position].text, str(doubt.ask)),
            ("3 tbsp fish sauce", "a step leaves some of it behind: how much of it is eaten?"),
        )

    def test_it_is_on_offer_only_where_a_step_does_it(self):
        self.assertIn("poured-off", {key for key, _, _ in on_offer(OUT, 1)})
        self.assertNotIn(
            "poured-off", {key for key, _, _ in on_offer(read_recipe(MARINADE.format("Grill it all.")), 1)}
        )


class Answers(SimpleTestCase):
    def test_one_question_for_all_lines_a_step_leaves_in_one_way(self):
        [asked] = questions_of(OUT)
        self.assertEqual(
            (asked.names, str(asked.words)),
            (("fish sauce", "honey"), "step 2 pours off fish sauce and honey"),
        )
        self.assertEqual(
            (str(asked.yes), str(asked.no)), ("poured off: 5 to 40 % counts", "it is eaten: all of it counts")
        )

    def test_it_is_kept_and_can_be_changed(self):
        so = from_data(to_data(say(OUT, 2, "poured_off", True)))
        self.assertEqual([each.said for each in questions_of(so)], ["yes"])
        self.assertEqual([each.said for each in questions_of(say(so, 2, "poured_off", False))], ["no"])
        self.assertEqual([line.eaten for line in so.lines], [(), ("poured-off",), ("poured-off",)])

    def test_nothing_is_answered_that_is_not_asked(self):
        for step, how in ((1, "poured_off"), (2, "bone"), (9, "poured_off")):
            with self.assertRaises(Problem):
                say(OUT, step, how, True)

    def test_with_the_step_goes_its_finding_alone(self):
        so = say(OUT, 2, "poured_off", True)
        without = type(so)(so.title, so.serves, so.lines, so.steps[:1])
        self.assertEqual(questions_of(without), ())
        self.assertTrue(np.allclose(analyze(without).amounts, analyze_lines(OUT.lines, 2).amounts))

    def test_whether_bones_were_weighed_settles_what_the_words_left_open(self):
        dish = read_recipe("Wings\nServes 2\n1 kg chicken drumsticks\nMethod\nRoast the drumsticks.")
        self.assertEqual((dish.lines[0].ask.name, dish.lines[0].sure), ("bone_or_shell", "check"))
        settled = say(dish, 1, "bone", True).lines[0]
        self.assertEqual((settled.ask.name, settled.sure), ("", "likely"))


class Written(SimpleTestCase):
    def test_a_line_in_grams_says_which_was_weighed(self):
        dish = read_recipe("Wings\nServes 2\n1 kg chicken wings\nMethod\nRoast the wings.")
        for is_so, words in ((True, "weighed with bone"), (False, "edible part")):
            [line] = say(dish, 1, "bone", is_so).lines
            file = write(dish.with_lines((replace(line, is_edited=True),)))
            self.assertEqual(file["recipeIngredient"], [f"1000 g chicken wing, {words}"])


class PartsThrownAway(SimpleTestCase):
    """A part that is thrown away takes the line with it only where it is that part, or was there for its taste."""

    CASES = (
        (("4 eggs", "100 g sugar"), "Separate the eggs and discard the whites. Whisk the yolks with the sugar.", []),
        (("1 kg mussels", "1 leek"), "Steam the mussels with the leek. Lift the mussels out and discard the shells.", []),
        (("4 chicken thighs", "1 carrot"), "Simmer the chicken with the carrot. Discard the skin and serve.", []),
        (("500 g plums", "80 g sugar"), "Stew the plums with the sugar, discarding the stones.", []),
        (("4 chicken thighs", "1 bay leaf"), "Simmer the chicken with the bay leaf. Discard the bay leaf and skin.", ["1 bay leaf"]),
        (("4 chicken thighs", "1 bay leaf"), "Simmer the chicken with the bay leaf. Pick out the bay leaf and throw it away.", ["1 bay leaf"]),
        (("4 chicken thighs", "1 bay leaf"), "Simmer the chicken with the bay leaf. Take out the bay leaf and discard it.", ["1 bay leaf"]),
        (("500 g pork bones", "300 g noodles"), "Simmer the bones in water. Discard the bones and add the noodles.", ["500 g pork bones"]),
    )  # fmt: skip

    def test_the_line_stays(self):
        for lines, step, out in self.CASES:
            with self.subTest(step):
                dish = read_recipe("\n".join(("Pot", "Serves 2", *lines, "Method", step)))
                found = [dish.lines[left.line].text for left in read_method(dish).leaves if left.how == "lifted_out"]
                self.assertEqual(found, out)

    def test_raw_yolks_are_still_said(self):
        lines, step, _ = self.CASES[0]
        dish = read_recipe("\n".join(("Cream", "Serves 2", *lines, "Method", step, "Chill and serve.")))
        self.assertEqual(uncooked("egg", dish.lines, dish.steps), (0,))

    def test_a_custard_through_a_sieve_is_no_whey(self):
        for step, how in (
            ("Warm the milk with the sugar. Strain the custard through a fine sieve.", []),
            ("Warm the milk with the sugar. Tie the peel in muslin and add it. Strain into cups.", []),
            ("Curdle the milk and strain off the whey.", ["strained_out"]),
        ):
            dish = read_recipe(f"Cups\nServes 2\n500 ml milk\n50 g sugar\nMethod\n{step}")
            with self.subTest(step):
                self.assertEqual([each.how for each in read_method(dish).leaves], how)


class AtTheStove(SimpleTestCase):
    """What stayed behind, weighed: exact where it is the line itself, refused where it is a mixture."""

    def test_bones_are_weighed_off(self):
        dish = read_recipe("Wings\nServes 2\n1 kg chicken wings\nMethod\nRoast the wings.")
        tap = checked(Tap(LEFT, dish.lines[0].key, 400.0), dish)
        cooked = as_cooked(dish, (tap, Tap(LEFT, dish.lines[0].key, 50.0)))
        listed = analyze_lines((dish.lines[0].at(550.0, dish.lines[0].rule),), 2)
        for amount in analyze(cooked).interval("protein_g"):
            self.assertAlmostEqual(amount, listed.amount("protein_g"))
        self.assertEqual(questions_of(cooked)[0].said, "no")

    def test_a_mixture_is_refused(self):
        for line in marked(OUT).lines[1:]:
            with self.assertRaises(Problem) as caught:
                checked(Tap(LEFT, line.key, 10.0), OUT)
            self.assertIn("no step leaves bones", str(caught.exception))

    def test_another_answer_stays(self):
        step = "Marinate the wings. Discard the marinade and roast the wings in the oil."
        dish = read_recipe(f"Wings\nServes 2\n1 kg chicken wings\n4 tbsp soy sauce\n2 tbsp oil\nMethod\n{step}")
        line = replace(dish.lines[0], eaten=("lain-in",))
        cooked = as_cooked(dish.with_lines((line, *dish.lines[1:])), (Tap(LEFT, line.key, 300.0),))
        self.assertIn("lain-in", cooked.lines[0].eaten)


class Pieces(SimpleTestCase):
    def test_a_piece_is_counted_as_what_is_eaten_of_it(self):
        dish = read_recipe(
            "Potatoes\nServes 2\n4 potatoes\nMethod\nBoil the potatoes in their skins, peel and mash them."
        )
        self.assertEqual((questions_of(dish), marked(dish).lines[0].leaves), ((), ()))
        weighed = read_recipe(
            "Potatoes\nServes 2\n1 kg potatoes\nMethod\nBoil the potatoes in their skins, peel and mash them."
        )
        self.assertEqual([each.how for each in questions_of(weighed)], ["peel"])


class Laws(SimpleTestCase):
    def test_reading_never_adds_and_never_opens(self):
        """Of every dish of the gold sets: no figure is more than the lines alone hold, and the most stays what it was."""
        for each in gold():
            dish = each.dish
            own = marked(dish).listed.lines
            alone, read = analyze_lines(dish.lines, dish.servings), analyze_lines(own, dish.servings)
            with self.subTest(each.title):
                self.assertTrue((read.amounts <= alone.amounts * 1.0001).all())
                self.assertTrue((read.at_least <= alone.at_least * 1.0001).all())
                same = np.isclose(read.at_most, alone.at_most, rtol=1e-4) | np.isinf(read.at_most)
                self.assertTrue(same.all())

    def test_an_answer_never_adds_either(self):
        for each in gold("first"):
            dish = each.dish.with_lines(keyed(each.dish.lines))
            for asked in questions_of(dish):
                so = analyze(say(dish, asked.step, asked.how, True))
                no = analyze(say(dish, asked.step, asked.how, False))
                with self.subTest(each.title, how=asked.how):
                    self.assertTrue((so.amounts <= no.amounts * 1.0001).all())
                    self.assertTrue((so.at_most <= no.at_most * 1.0001).all() or isinf(so.at_most.max()))

    def test_a_whole_dish_stays_the_same_whole(self):
        self.assertEqual(whole_dish(whole_dish(OUT)), whole_dish(OUT))

    def test_every_way_of_leaving_has_its_rows_and_its_sentences(self):
        for method in methods().values():
            if not method.left:
                continue
            least, likely, most = method.weight
            self.assertTrue(0 <= least <= likely <= most <= 1.2, method.key)
            for sides in method.kept.values():
                self.assertTrue(0 <= sides[0] <= sides[1] <= sides[2] <= 1, method.key)
