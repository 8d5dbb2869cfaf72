"""Steps, spending, label ceilings, shopping, as cooked, parts: the laws each must keep."""

import itertools
import math
from dataclasses import replace
from pathlib import Path
from unittest import mock

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from nutrition.dish.dish import Dish, keyed
from nutrition.dish.grams import Grams
from nutrition.dish.naming import description_of
from nutrition.dish.parts import Amount, amount_of_line, expand, loop, read_amount, shares, stamp
from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods
from nutrition.giving.ceilings import ceilings, most_behind, step_above
from nutrition.giving.packs import Size, packs_for
from nutrition.giving.shopping import AISLES, Wanted, aisle_of, shopping
from nutrition.limits.gates import Target, gates_for
from nutrition.notes import NOTHING, Problem
from nutrition.reading.course import course_of
from nutrition.reading.page import from_text
from nutrition.reading.recipe import read_line, read_recipe
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.verdicts import OPEN, SHUT, judge
from nutrition.stove.cooked import Tap, as_cooked, checked, differences, effort_of, limits_mark
from nutrition.stove.spending import allowances, divide
from nutrition.tables import read_table

DEMO = Path(__file__).resolve().parents[2] / "demo" / "recipes"


def dish(name):
    found = read_recipe((DEMO / f"{name}.txt").read_text())
    return found.with_lines(replace(line, sure="sure", others=(), ask=NOTHING) for line in found.lines)


def pot_of(*texts, serves=2):
    return Dish("", serves, keyed([read_line(text, serves) for text in texts]))


def lines_of(*texts):
    return list(pot_of(*texts).lines)


def gates(**most):
    return gates_for([Target(key, maximum=limit, scope="serving") for key, limit in most.items()])


class Steps(SimpleTestCase):
    def course(self, name):
        recipe = dish(name)
        return recipe, course_of(recipe.steps, recipe.lines)

    def uses(self, name, number):
        recipe, course = self.course(name)
        return {recipe.lines[use.line].text for use in course.steps[number - 1].uses}

    def test_what_goes_in(self):
        self.assertEqual(
            self.uses("leek-bake", 2), {"3 leeks, sliced", "2 tbsp butter", "2 tbsp plain flour", "500 ml whole milk"}
        )
        # "Brown the chicken" is not the chicken stock; the stock comes where it is named.
        self.assertNotIn("3 cups chicken stock", self.uses("paprika-chicken", 1))
        self.assertIn("3 cups chicken stock", self.uses("paprika-chicken", 3))
        # "The spices" are the spices.
        self.assertIn("2 tsp garam masala", self.uses("chickpea-curry", 1))
        # "Boiled without salt" takes no salt.
        self.assertNotIn("1 tsp salt", self.uses("chickpea-curry", 3))

    def test_a_part_keeps_to_its_own_steps(self):
        oil, sauce_oil = lines_of("1 tbsp olive oil", "2 tbsp olive oil")
        lines = [oil, replace(sauce_oil, heading="Sauce")]
        course = course_of(["Sauce: soften it in the oil.", "Brush with the oil."], lines)
        self.assertEqual([[use.line for use in step.uses] for step in course.steps], [[1], [0]])

    def test_a_heading_is_named_for_its_lines(self):
        lines = [replace(line, heading="For the yogurt sauce") for line in lines_of("100 g yogurt", "1 clove garlic")]
        course = course_of(["Fry the rice.", "Mix the sauce."], [read_line("1 cup rice"), *lines])
        self.assertEqual([[use.line for use in step.uses] for step in course.steps], [[0], [1, 2]])

    def test_no_line_is_forgotten(self):
        for path in DEMO.glob("*.txt"):
            source = from_text(path.read_text())
            recipe = read_recipe(source, source.serves or 4)
            course = course_of(recipe.steps, recipe.lines)
            named = {use.line for step in course.steps for use in step.uses}
            self.assertEqual(named | set(course.unnamed), set(range(len(recipe.lines))), path.stem)
            first = [use.line for step in course.steps for use in step.uses if use.is_first]
            self.assertEqual(len(first), len(set(first)), path.stem)

    @given(st.text(max_size=300))
    @settings(max_examples=150, deadline=None)
    def test_any_words_are_read_without_a_fall(self, text):
        course = course_of([text], [read_line("1 onion")])
        self.assertEqual(len(course.steps), 1)


class Spending(SimpleTestCase):
    def test_by_hand(self):
        # 2 servings of at most 600 mg; 500 g ricotta brings what it brings; the rest is room for salt at 387.58 mg/g.
        pot = pot_of("500 g ricotta", "1 tsp salt")
        held = 5 * foods().value("Cheese, ricotta, whole milk", "sodium_mg")
        (found,) = allowances(pot, gates(sodium_mg=600))
        self.assertAlmostEqual(found.room, (1200 - held) / 387.58, delta=0.1)
        self.assertLessEqual(found.grams, found.room)
        self.assertEqual(found.lines, (1,))

    def test_a_limit_is_no_goal(self):
        pot = pot_of("500 g potatoes", "1/4 tsp salt")
        (found,) = allowances(pot, gates(sodium_mg=2000))
        self.assertAlmostEqual(found.grams, 1.5, delta=0.1)
        self.assertGreater(found.room, 10)

    def test_where_none_was_planned_none_is_weighed_out(self):
        (found,) = allowances(pot_of("500 g potatoes"), gates(sodium_mg=600))
        self.assertEqual(found.grams, 0)
        self.assertGreater(found.room, 2)
        self.assertIn("The recipe has none", str(found.why))

    def test_potassium_salt_is_not_table_salt(self):
        for words in ("Salt substitute, potassium chloride", "Salt, half sodium half potassium"):
            line = replace(read_line("1 tsp salt"), key="w0", food_id=foods().by_description(words).id)
            pot = Dish("", 2, (line,))
            (found,) = allowances(pot, gates(sodium_mg=600, potassium_mg=700))
            self.assertEqual((found.lines, found.planned), ((), 0), words)
            self.assertEqual(as_cooked(pot, [Tap("spent", "salt", 2.0)]).lines[0], line, words)

    def test_different_fats_are_weighed_each_by_itself(self):
        plan = pot_of("40 g butter", "2 tbsp olive oil", "60 g honey", "50 g sugar", serves=4)
        wall = gates(saturated_fat_g=6, carbohydrate_g=40)
        self.assertEqual(allowances(plan, wall), [])
        self.assertEqual(as_cooked(plan, [Tap("spent", "fat", 60.0), Tap("spent", "sugar", 90.0)]), plan)
        for key in ("fat", "sugar"):
            with self.assertRaisesRegex(Problem, "each by itself"):
                checked(Tap("spent", key, 5.0), plan)
        fats = [one.spendable.key for one in allowances(pot_of("40 g butter", "20 g butter", serves=4), wall)]
        self.assertEqual(fats, ["fat"])

    def test_what_is_unknown_promises_nothing(self):
        (found,) = allowances(pot_of("2 tbsp zhoug", "1 tsp salt"), gates(sodium_mg=600))
        self.assertIsNone(found.grams)
        self.assertIn("zhoug", str(found.why))

    def test_no_room(self):
        (found,) = allowances(pot_of("100 g soy sauce", "1 tsp salt", serves=1), gates(sodium_mg=600))
        self.assertEqual(found.grams, 0)
        self.assertIn("no room", str(found.why))

    def test_nobody_counts_salt_where_sodium_is_free(self):
        self.assertEqual(allowances(pot_of("1 tsp salt", serves=1), gates(potassium_mg=600)), [])

    @given(st.floats(0.1, 40), st.integers(1, 9))
    @settings(max_examples=80, deadline=None)
    def test_the_parts_are_the_whole(self, grams, steps):
        course = course_of([f"Simmer for {n + 1} minutes." for n in range(steps)], [])
        parts = divide(grams, course)
        self.assertLessEqual(sum(parts.values()), grams + 1e-6)
        self.assertGreater(sum(parts.values()), grams - 0.1 - 1e-6)

    @given(st.floats(200, 2500))
    @settings(max_examples=40, deadline=None)
    def test_spending_all_of_it_never_shuts_an_open_gate(self, limit):
        pot = dish("leek-bake")
        wall = gates(sodium_mg=limit)
        (found,) = allowances(pot, wall)
        if not found.room:
            return
        others = [line for i, line in enumerate(pot.lines) if i not in found.lines]
        salt = replace(pot.lines[found.lines[0]], weight=Grams.exactly(found.room))
        self.assertEqual(judge(wall, analyze_lines([*others, salt], pot.serves))[0].state, OPEN)


class LabelCeilings(SimpleTestCase):
    def with_value(self, food_id, key, per_100g):
        """The table as if this food held so much; its own numbers come back afterwards."""
        table = foods()
        row, column = table.by_id(food_id).row, INDEX[key]
        patches = []
        for name in ("per_100g", "at_most_per_100g", "at_least_per_100g", "known"):
            changed = getattr(table, name).copy()
            changed[row, column] = per_100g
            patches.append(mock.patch.object(table, name, changed))
        return patches

    def state_at(self, pot, line, key, per_100g, wall):
        patches = self.with_value(pot.lines[line].food_id, key, per_100g)
        for patch in patches:
            patch.start()
        try:
            return judge(wall, analyze_lines(pot.lines, pot.serves))[0].state
        finally:
            for patch in patches:
                patch.stop()

    def test_at_the_ceiling_it_passes_one_step_above_it_does_not(self):
        tried = 0
        for name, key, limit in (
            ("chickpea-curry", "sodium_mg", 1400), ("barley-pilaf", "sodium_mg", 1400), ("paprika-chicken", "sodium_mg", 1400),
            ("chickpea-curry", "saturated_fat_g", 25), ("leek-bake", "sodium_mg", 800), ("fish-stew", "sodium_mg", 1500),
            ("paprika-chicken", "potassium_mg", 1200), ("orange-loaf", "saturated_fat_g", 11),
        ):  # fmt: skip
            pot, wall = dish(name), gates(**{key: limit})
            for found in ceilings(pot.lines, pot.serves, wall):
                if found.printed is None:
                    continue
                with self.subTest(dish=name, line=pot.lines[found.line].text, key=key):
                    worst = most_behind(key, found.printed) * 100 / found.goods.grams
                    above = most_behind(key, step_above(key, found.printed)) * 100 / found.goods.grams
                    self.assertNotEqual(self.state_at(pot, found.line, key, worst, wall), SHUT)
                    self.assertEqual(self.state_at(pot, found.line, key, worst * 0.9999, wall), OPEN)
                    self.assertNotEqual(self.state_at(pot, found.line, key, above * 1.01, wall), OPEN)
                    tried += 1
        self.assertGreaterEqual(tried, 12)

    def test_a_margin_lowers_the_ceiling(self):
        pot, wall = dish("barley-pilaf"), gates(sodium_mg=1400)
        plain, careful = (ceilings(pot.lines, pot.serves, wall, margin) for margin in (0.0, 0.2))
        for a, b in zip(plain, careful, strict=True):
            self.assertGreater(a.printed, b.printed)

    def test_nothing_is_promised_over_the_post_or_beside_the_unknown(self):
        pot = lines_of("2 tsp salt", "1 can chopped tomatoes")
        self.assertEqual(ceilings(pot, 1, gates(sodium_mg=1000)), [])
        pot = lines_of("2 tbsp zhoug", "1 can chopped tomatoes")
        self.assertEqual(ceilings(pot, 1, gates(sodium_mg=1000)), [])

    def test_fresh_food_needs_no_label(self):
        self.assertEqual(ceilings(lines_of("500 g carrots", "300 g rice"), 2, gates(sodium_mg=100)), [])


class ShoppingList(SimpleTestCase):
    def test_merged_scaled_by_aisle(self):
        soup = lines_of("2 onions", "1 tsp salt", "300 ml water")
        stew = lines_of("1 onion", "1 can chickpeas, drained")
        found = shopping([Wanted("Soup", soup, 2.0), Wanted("Stew", stew)])
        items = {item.name: item for _, items in found.aisles for item in items}
        self.assertAlmostEqual(items["onion"].grams, 5 * 110)
        self.assertEqual(items["onion"].for_dishes, ("Soup", "Stew"))
        self.assertNotIn("water", items)
        self.assertEqual(next(aisle for aisle, _ in found.aisles), "vegetables and fruit")

    def test_every_food_of_a_cook_has_an_aisle(self):
        found = {row["food"]: aisle_of(foods().by_description(row["food"]).id) for row in read_table("cooks_names.tsv")}
        self.assertLessEqual(set(found.values()), set(AISLES))
        self.assertLess(sum(aisle == "other" for aisle in found.values()), 0.08 * len(found))
        for food, aisle in (
            ("Basil, fresh", "vegetables and fruit"),
            ("Mustard greens, raw", "vegetables and fruit"),
            ("Salt, table", "spices, salt and oil"),
            ("Egg, whole, raw, fresh", "milk, eggs and cheese"),
            ("Soup, chicken broth, ready-to-serve", "stock, sauces and condiments"),
            ("Beef, ground, 95% lean meat / 5% fat, raw", "meat and poultry"),
        ):
            self.assertEqual(found[food], aisle, food)

    def test_what_is_drained_is_bought_in_its_can(self):
        (line,) = lines_of("1 x 400g tin chickpeas, drained")
        ((_, (item,)),) = shopping([Wanted("Stew", [line])]).aisles
        self.assertAlmostEqual(item.grams, 400, delta=1)
        self.assertIn("solids and liquids", foods().by_id(item.food_id).description)

    def test_what_is_at_home_is_not_bought(self):
        """Five onions are 550 g; 300 g are there, so 250 g are bought; salt is always there."""
        pot = lines_of("5 onions", "1 tsp salt", "200 g rice")
        onion, salt, rice = (line.food_id for line in pot)
        found = shopping([Wanted("Pot", pot)], {onion: 300.0, salt: math.inf, rice: 200.0})
        items = {item.food_id: item for _, items in found.aisles for item in items}
        self.assertAlmostEqual(items[onion].to_buy_g, items[onion].weight.most - 300)
        self.assertEqual([item.food_id for item in found.at_home], [rice, salt])
        self.assertEqual([item.food_id for _, items in found.to_buy for item in items], [onion])
        self.assertIsNone(items[salt].packs())

    def test_packs_hold_what_is_wanted_with_the_least_left_over(self):
        """By hand, over every size and count: waste as a share of what is wanted, and 0.15 for each pack more."""
        sizes = (Size("bag of 500 g", 500), Size("bag of 1 kg", 1000))
        for grams, said in (
            (480, "1 bag of 500 g"), (530, "1 bag of 500 g"), (535, "1 bag of 1 kg"), (1000, "1 bag of 1 kg"), (1400, "3 bags of 500 g"),
            (1900, "2 bags of 1 kg"), (1, "1 bag of 500 g"),
        ):  # fmt: skip
            with self.subTest(grams):
                found = packs_for(grams, sizes)
                self.assertEqual(str(found), said)
                self.assertGreaterEqual(found.grams, 0.94 * grams)
        self.assertIsNone(packs_for(0, sizes))
        self.assertIsNone(packs_for(300, ()))
        self.assertEqual(str(packs_for(1200, (Size("box of 12", 600),))), "2 boxes of 12")

    def test_how_shops_sell_what_a_cook_asks_for(self):
        """Sizes of labels anybody has in the cupboard: US cans of 15 oz, tins of 400 g, sticks of butter, a dozen eggs."""
        for words, us, eu in (
            ("1 can chickpeas", "1 can of 15 oz", "1 tin of 400 g"),
            ("100 g unsalted butter", "1 stick of 4 oz", "1 pack of 250 g"),
            ("8 eggs", "1 carton of 12", "1 box of 10"),
            ("700 ml vegetable stock", "1 carton of 32 oz", "1 carton of 1 l"),
            ("1 tsp ground cumin", "1 jar of 1.5 oz", "1 jar of 40 g"),
            ("250 g pearl barley", "1 bag of 1 lb", "1 bag of 500 g"),
            ("400 g spaghetti", "1 box of 1 lb", "1 pack of 500 g"),
            ("1 tbsp cider vinegar", "1 bottle of 16 fl oz", "1 bottle of 250 ml"),
            ("50 g breadcrumbs", "1 box of 15 oz", "1 bag of 200 g"),
            ("2 onions", "None", "None"),
            ("500 g cod fillets", "None", "None"),
        ):
            with self.subTest(words):
                ((_, (item,)),) = shopping([Wanted("Pot", lines_of(words))]).aisles
                self.assertEqual((str(item.packs("us")), str(item.packs("eu"))), (us, eu))

    def test_what_was_not_read_is_said(self):
        self.assertEqual(shopping([Wanted("Stew", lines_of("2 tbsp zhoug"))]).unread, ("2 tbsp zhoug",))
        with self.assertRaisesRegex(ValueError, "0 times"):
            shopping([Wanted("Stew", [], 0)])


class AsCooked(SimpleTestCase):
    plan = pot_of("500 g potatoes", "1 tsp salt", "2 tbsp butter", "1 onion")

    def cooked(self, *taps):
        return {line.key: line for line in as_cooked(self.plan, taps).lines}

    def test_each_tap(self):
        butter = self.plan.lines[2].grams
        rice = foods().by_description("Rice, white, long-grain, regular, raw, enriched").id
        done = self.cooked(
            Tap("weighed", "w0", 480.0), Tap("more", "w2", 5.0), Tap("skipped", "w3"), Tap("added", "", 30.0, rice)
        )
        self.assertEqual(done["w0"].grams, 480.0)
        self.assertAlmostEqual(done["w2"].grams, butter + 5)
        self.assertNotIn("w3", done)
        self.assertEqual([line.grams for key, line in done.items() if key.startswith("k")], [30.0])

    def test_what_was_added_twice_stands_twice(self):
        rice = foods().by_description("Rice, white, long-grain, regular, raw, enriched").id
        again = as_cooked(as_cooked(self.plan, [Tap("added", "", 30.0, rice)]), [Tap("added", "", 20.0, rice)]).lines
        self.assertEqual(sum(line.grams for line in again if line.food_id == rice), 50.0)
        self.assertEqual(len({line.key for line in again}), len(again))

    def test_another_food_speaks_for_itself(self):
        oil = foods().by_description("Oil, olive, salad or cooking").id
        line = self.cooked(Tap("other", "w2", None, oil))["w2"]
        self.assertEqual((line.food_id, line.words_hold), (oil, False))

    def test_salt_is_what_was_spent(self):
        self.assertAlmostEqual(self.cooked(Tap("spent", "salt", 1.2), Tap("spent", "salt", 0.8))["w1"].grams, 2.0)
        self.assertEqual(self.cooked(Tap("spent", "salt", 0.0))["w1"].grams, 0.0)
        added = as_cooked(pot_of("500 g potatoes"), [Tap("spent", "salt", 1.5)]).line("spent-salt")
        self.assertEqual(description_of(added), "Salt, table")

    def test_salt_added_at_the_stove_stands_beside_what_was_spent(self):
        salt = foods().by_description("Salt, table").id
        for taps in ([Tap("added", "", 3.0, salt), Tap("spent", "salt", 2.0)],
                     [Tap("spent", "salt", 2.0), Tap("added", "", 3.0, salt)]):  # fmt: skip
            held = [line.grams for line in self.cooked(*taps).values() if line.food_id == salt]
            self.assertEqual(sum(held), 5.0)

    def test_a_weight_never_settles_which_food_it_is(self):
        for text in ("1 can raspberries", "1 cup chicken stock", "1 tbsp butter and honey"):
            with self.subTest(text):
                (line,) = (pot := pot_of(text)).lines
                self.assertEqual((line.sure, line.is_food_open), ("check", True))
                (weighed,) = as_cooked(pot, [Tap("weighed", "w0", 250.0)]).lines
                self.assertEqual((weighed.sure, weighed.grams), ("check", 250.0))
                (said,) = as_cooked(pot, [Tap("other", "w0", 250.0, line.food_id)]).lines
                self.assertEqual((said.sure, said.is_food_open, said.words_hold), ("sure", False, True))
        # Only the weight was open: no household measure of a can of them.
        (line,) = (pot := pot_of("1 can lychees")).lines
        self.assertEqual((line.sure, line.grams), ("check", None))
        (weighed,) = as_cooked(pot, [Tap("weighed", "w0", 250.0)]).lines
        self.assertEqual((weighed.sure, weighed.grams), ("likely", 250.0))

    def test_nothing_tapped_is_the_plan(self):
        self.assertEqual(as_cooked(self.plan, []), self.plan)

    def test_taps_that_fit_no_more_change_nothing(self):
        done = as_cooked(self.plan, [Tap("skipped", "w0"), Tap("more", "w0", 9.0)])
        self.assertEqual(done.lines, self.plan.lines[1:])

    def test_refused_in_words(self):
        for tap, words in (
            (Tap("weighed", "w0", -1.0), "grams from 0"),
            (Tap("weighed", "w0", float("nan")), "No weight"),
            (Tap("more", "w0", 0.0), "grams from 0.01"),
            (Tap("less", "w3", 900.0), "only 110 g are in"),
            (Tap("weighed", "w9", 5.0), "not in this cook"),
            (Tap("other", "w0", None, "nothing/such"), "not in the table"),
            (Tap("spent", "gold", 1.0), "not counted out"),
            (Tap("sung", "w0", 1.0), "is expected"),
        ):
            with self.subTest(tap), self.assertRaisesRegex(Problem, words):
                checked(tap, self.plan)

    def test_what_made_the_difference(self):
        wall = gates(sodium_mg=800)
        done = as_cooked(self.plan, [Tap("weighed", "w1", 3.0)])
        (found,) = differences(self.plan, done, wall)
        self.assertEqual((found.name, found.cooked_g), ("Salt", 3.0))
        change = (3.0 - self.plan.lines[1].grams) * 387.58 / 2
        self.assertAlmostEqual(found.by_gate["sodium_mg"], change, delta=0.5)

    @given(
        st.lists(
            st.tuples(
                st.sampled_from(["weighed", "more", "less", "skipped", "spent"]), st.integers(0, 3), st.floats(0.1, 300)
            ),
            max_size=12,
        )
    )
    @settings(max_examples=80, deadline=None)
    def test_never_a_negative_weight(self, taps):
        played = [
            Tap(kind, "salt" if kind == "spent" else f"w{at}", None if kind == "skipped" else grams)
            for kind, at, grams in taps
        ]
        for line in as_cooked(self.plan, played).lines:
            self.assertGreaterEqual(line.weight.least, 0)
            self.assertLessEqual(line.weight.least, line.grams + 1e-9)
            self.assertLessEqual(line.grams, line.weight.most + 1e-9)


class Marks(SimpleTestCase):
    def mark(self, held, limit=100.0, avoided=()):
        line = replace(read_line("100 g salt"), weight=Grams.exactly(held))
        wall = gates(sodium_mg=limit * 387.58)
        return limits_mark(judge(wall, analyze_lines([line], 1)), avoided)

    def test_ladder(self):
        self.assertEqual([self.mark(grams) for grams in (50, 100, 110, 150, 400)], [10, 10, 4, 0, 0])

    def test_what_is_kept_out_makes_it_nothing(self):
        self.assertEqual(self.mark(50, avoided=(SHUT,)), 0)
        self.assertEqual(self.mark(50, avoided=(OPEN, "unsure")), 8.5)

    def test_effort(self):
        recipe = dish("paprika-chicken")
        effort = effort_of(recipe.lines, course_of(recipe.steps, recipe.lines))
        self.assertEqual((effort.ingredients, effort.steps, effort.minutes, effort.pans), (12, 5, 55, 1))


class Parts(SimpleTestCase):
    sauce = lines_of("400 g canned tomatoes", "1 onion", "1 tsp salt")

    def test_amounts(self):
        for typed, share, grams in (
            ("half", 0.5, None),
            ("1/3", 1 / 3, None),
            ("40 %", 0.4, None),
            ("250 g", None, 250),
            ("1.5 kg", None, 1500),
            ("2", 2, None),
            ("½", 0.5, None),
        ):
            found = read_amount(typed)
            self.assertAlmostEqual(found.share or 0, share or 0)
            self.assertEqual(found.grams, grams)
        for typed in ("", "some", "0", "-1", "1/0", "0 g", "900 kg", "half a cow", "30 times"):
            with self.subTest(typed), self.assertRaises(Problem):
                read_amount(typed)

    def test_spoons_batches_and_portions(self):
        for typed, expected in (
            ("2 tbsp", Amount(ml=2 * 14.78676478125)), ("250 ml", Amount(ml=250)), ("2 tablespoons", Amount(ml=2 * 14.78676478125)), ("a ladle", Amount(ml=120)),
            ("one batch", Amount(share=1)), ("the whole of it", Amount(share=1)), ("half a batch", Amount(share=0.5)), ("1½ batches", Amount(share=1.5)),
            ("2 portions", Amount(share=0.5)), ("1 lb", Amount(grams=453.59237)),
        ):  # fmt: skip
            with self.subTest(typed):
                self.assertEqual(read_amount(typed, 4), expected)
        with self.assertRaisesRegex(Problem, "how many portions"):
            read_amount("2 portions")

    def test_a_volume_of_a_part_is_a_wide_share_of_it_and_never_so_many_batches(self):
        share, rule = shares(read_amount(amount_of_line("2 tbsp sauce, own recipe")), self.sauce, measured_g=500)
        self.assertTrue(0.01 < share.least < share.likely < share.most < 0.09, share)
        self.assertIn("as nobody weighed it", str(rule))

    def test_what_a_line_says_of_a_recipe_of_ones_own(self):
        for text, amount in (
            ("2 tbsp pesto, own recipe", "2 tbsp"), ("one batch of pie dough", "one batch"), ("pie dough", "all"), ("1 pie crust", "1"),
            ("½ recipe dough", "½ recipe"), ("3 cups stock", "3 cups"),
        ):  # fmt: skip
            self.assertEqual(amount_of_line(text), amount)
        for text in ("1-2 tbsp pesto", "12 dumplings", "2 to 3 cups stock"):
            with self.subTest(text), self.assertRaises(Problem):
                amount_of_line(text)

    def test_half_a_part_holds_half(self):
        half = expand("Sauce", self.sauce, *shares(read_amount("half"), self.sauce))
        self.assertAlmostEqual(
            analyze_lines(half, 1).amount("sodium_mg"), analyze_lines(self.sauce, 2).amount("sodium_mg")
        )
        self.assertEqual({line.heading for line in half}, {"Sauce"})

    def test_a_weight_of_an_estimated_part_is_an_interval(self):
        share, rule = shares(read_amount("250 g"), self.sauce)
        self.assertLess(share.least, share.likely)
        self.assertLess(share.likely, share.most)
        self.assertIn("estimated", str(rule))
        exact, _ = shares(read_amount("250 g"), self.sauce, measured_g=500)
        self.assertEqual(exact, Grams.exactly(0.5))
        spread = analyze_lines(expand("Sauce", self.sauce, share, rule), 1).interval("sodium_mg")
        self.assertLess(spread[0], spread[1])

    def test_a_stamp_tells_a_change(self):
        same = stamp(self.sauce, ["Simmer."], None)
        self.assertEqual(same, stamp(list(self.sauce), ["Simmer."], None))
        self.assertNotEqual(same, stamp(self.sauce[:2], ["Simmer."], None))
        self.assertNotEqual(same, stamp(self.sauce, ["Simmer long."], None))
        self.assertNotEqual(same, stamp(self.sauce, ["Simmer."], 500.0))

    @given(
        st.dictionaries(st.integers(0, 8), st.sets(st.integers(0, 8), max_size=4), max_size=8),
        st.integers(0, 8),
        st.integers(0, 8),
    )
    @settings(max_examples=120, deadline=None)
    def test_a_loop_is_a_way_back(self, uses, dish_, part):
        way = loop(uses, dish_, part)
        if way:
            self.assertEqual((way[0], way[-1]), (part, dish_))
            for here, there in itertools.pairwise(way):
                self.assertIn(there, uses[here])
