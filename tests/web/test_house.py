"""One dish in one shape: every way through the house says the same of it, to the last digit."""

import json
from dataclasses import replace

from django.urls import reverse
from hypothesis import Phase, given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as TriedOnMany

from accounts.scope import within
from bench import actions as bench_actions
from bench.models import Bench, Edit, FoundWay
from bench.renewal import behind_anywhere
from kitchen import actions as kitchen_actions
from kitchen.models import Cook
from nutrition.dish.codec import VERSION, from_data, line_from_data, to_data
from nutrition.dish.cooking import methods_for
from nutrition.dish.dish import Dish, keyed
from nutrition.dish.grams import Grams
from nutrition.dish.line import SURENESS, Line
from nutrition.food.nutrients import KEYS
from nutrition.food.table import foods
from nutrition.giving.writing import write
from nutrition.limits.eater import Eater
from nutrition.limits.plans import Facts, choose, targets_for
from nutrition.notes import Problem
from nutrition.reading.page import from_any
from nutrition.reading.recipe import read_recipe
from nutrition.reading.whole import whole_dish
from nutrition.sheet.analysis import analyze
from nutrition.sheet.examine import examine
from nutrition.swaps.rules import food_called
from recipes import actions as recipe_actions
from recipes import parts
from recipes.models import Recipe
from tests.web.base import PracticeTest, make_recipe

#: A method of tables/cooking_methods.tsv.
BOILED_TWICE = "boiled-twice"

#: Kidney and wheat, warfarin and a new-born: most of what a sheet can say is said to somebody like this.
WHOM = Eater(
    Facts(60, 1900, ("kidney", "gluten-free"), ("warfarin", "under_one", "raises_potassium")),
    {"kidney": {}, "gluten-free": {}},
    tuple(targets_for("kidney", Facts(60, 1900), choose("kidney", {}))),
)


#: Shrinking a whole dish through the house takes minutes; the failing dish is printed as it was found.
AS_FOUND = (Phase.explicit, Phase.generate)


@st.composite
def lines(draw):
    food = foods().food(draw(st.integers(0, len(foods()) - 1)))
    likely = draw(st.floats(0.1, 900))
    spread = draw(st.sampled_from([0.0, 0.0, 0.3]))
    state = draw(st.sampled_from(["", *(method.key for method in methods_for(food.id))]))
    return Line(
        text=draw(st.sampled_from([food.description, "a good handful of it", "½ cup, “heaped” & level <b>"])),
        food_id=food.id,
        weight=Grams(likely * (1 - spread), likely, likely * (1 + spread)),
        how="weight",
        sure=draw(st.sampled_from(SURENESS)),
        state=state,
        is_edited=draw(st.booleans()),
        words_hold=draw(st.booleans()),
        heading=draw(st.sampled_from(["", "For the sauce"])),
        advice=draw(st.sampled_from(["", "Stir it in off the heat."])),
    )


dishes = st.builds(
    lambda these, serves, kind: Dish("Invented pot", serves, keyed(these), ("Warm it.",), "uk", kind),
    st.lists(lines(), min_size=1, max_size=6),
    st.sampled_from([1.0, 4.0, 7.5]),
    st.sampled_from(["soup", "cake", "any"]),
)


def said_of(dish):
    """All a person is told by, as numbers and codes."""
    sheet = examine(dish, WHOM)
    return {
        "amounts": [(sheet.analysis.amount(key), sheet.analysis.interval(key)) for key in KEYS],
        "allergens": [(f.tag, f.verdict, f.lines, f.also_check, str(f.look_for)) for f in sheet.allergens],
        "avoided": [(item.tag, item.state) for item in sheet.avoided],
        "cautions": [(caution.key, caution.lines) for caution in sheet.cautions],
        "verdicts": [(verdict.gate.nutrient, verdict.state) for verdict in sheet.verdicts],
    }


class EveryWayThroughTheHouse(TriedOnMany, PracticeTest):
    def setUp(self):
        scope = within(self.ana.practice)
        scope.__enter__()
        self.addCleanup(scope.__exit__, None, None, None)

    def library(self, dish):
        """A dish written, and brought into the library again."""
        recipe = recipe_actions.bring_in(from_any(json.dumps(write(dish))), "", self.ana)
        recipe.is_read = True
        recipe.save()
        return Recipe.objects.get(pk=recipe.pk)

    @settings(max_examples=60, deadline=None, phases=AS_FOUND)
    @given(dishes)
    def test_written_and_read_and_stored(self, dish):
        expected = said_of(dish)
        self.assertEqual(said_of(read_recipe(json.dumps(write(dish)))), expected)
        self.assertEqual(from_data(json.loads(json.dumps(to_data(dish)))), dish)
        self.assertEqual(said_of(from_data(json.loads(json.dumps(to_data(dish))))), expected)

    @settings(max_examples=15, deadline=None, phases=AS_FOUND)
    @given(dishes)
    def test_library_bench_stove_and_as_cooked(self, dish):
        expected = said_of(dish)
        recipe = self.library(dish)
        self.assertEqual(said_of(recipe.dish), expected)
        bench, attempt = bench_actions.take_to_bench(recipe, self.person, "dinner", self.ana)
        self.assertEqual(said_of(Bench.objects.get(pk=bench.pk).written), expected)
        self.assertEqual(said_of(Edit.objects.get(attempt=attempt).dish), expected)
        cook = kitchen_actions.begin(attempt, self.ana)
        self.assertEqual(said_of(replace(Cook.objects.get(pk=cook.pk).plan, steps=dish.steps)), expected)
        kitchen_actions.finish(cook, self.ana, dish.serves)
        self.assertEqual(said_of(cook.result.edits.get().dish), expected)
        self.assertEqual(cook.result.edits.get().dish.steps, dish.steps)
        kept = said_of(read_recipe(json.dumps(write(cook.result.edits.get().dish))))
        self.assertEqual(kept["amounts"], expected["amounts"])

    @settings(max_examples=15, deadline=None, phases=AS_FOUND)
    @given(dishes)
    def test_a_part_brings_all_of_it(self, dish):
        whole = make_recipe(self.ana)
        parts.use_part(whole, self.library(dish), "all", self.ana)
        brought = Recipe.objects.get(pk=whole.pk).dish
        of_part = [line for line in brought.lines if line.key.startswith("p")]
        self.assertEqual(len(of_part), len(dish.lines))
        self.assertEqual(said_of(dish.with_lines(of_part)), said_of(dish))


class Bugs(PracticeTest):
    """What once changed on its way."""

    def test_a_potato_boiled_twice_stays_boiled_twice(self):
        dish = read_recipe("Potato pot\nServes 4\n1 kg potatoes\n1 tsp salt\nMethod\nBoil the potatoes.")
        boiled = dish.changed("w0", lambda line: replace(line, state=BOILED_TWICE))
        was = analyze(boiled).amount("potassium_mg")
        self.assertLess(was, 0.6 * analyze(dish).amount("potassium_mg"))
        text = json.dumps(write(boiled))
        self.client.post(reverse("recipes:import"), {"text": text})
        recipe = Recipe.objects.latest("pk")
        self.assertEqual(analyze(recipe.dish).amount("potassium_mg"), was)
        self.assertEqual(recipe.dish.lines[0].state, BOILED_TWICE)

    def test_a_pint_is_that_of_the_recipes_kitchen(self):
        text = "Rice pot\nServes 4\n1 pint whole milk\n200 g pudding rice\n2 tbsp caster sugar\n150 ml double cream"
        recipe = make_recipe(self.ana, text)
        self.assertEqual(recipe.kitchen, "uk")
        read = recipe.dish.lines[0].grams
        self.assertAlmostEqual(read, 586, delta=2)
        _, attempt = bench_actions.take_to_bench(recipe, self.person, "breakfast", self.ana)
        bench_actions.retype(attempt, 1, "w0", "1 pint whole milk", self.ana)
        self.assertEqual(bench_actions.standing_edit(attempt).dish.line("w0").grams, read)
        key = bench_actions.add(attempt, attempt.version, "1 pint whole milk", self.ana)
        self.assertEqual(bench_actions.standing_edit(attempt).dish.line(key).grams, read)
        bench_actions.set_amount(attempt, attempt.version, "w0", "1 pint", self.ana)
        self.assertEqual(bench_actions.standing_edit(attempt).dish.line("w0").grams, read)

    def test_the_kind_is_asked_once_and_may_be_corrected(self):
        text = (
            "Lemon cake\nServes 8\n200 g plain flour\n150 g sugar\n2 eggs\n120 g butter\nMethod\nBake for 40 minutes."
        )
        recipe = make_recipe(self.ana, text)
        self.assertEqual(recipe.kind, "cake")
        _, attempt = bench_actions.take_to_bench(recipe, self.person, "snack", self.ana)
        ground = foods().by_description("Nuts, almonds").id
        bench_actions.set_food(attempt, attempt.version, "w0", ground, self.ana)
        self.assertEqual(bench_actions.standing_edit(attempt).dish.kind, "cake")
        self.assertContains(self.client.get(attempt.get_absolute_url()), '/reading/">cake</a>')
        facts = {"title": "Lemon cake", "serves": "8", "serving_grams": "", "kind": "bake"}
        self.client.post(reverse("recipes:reading", args=[recipe.pk]), facts)
        recipe.refresh_from_db()
        self.assertEqual(recipe.dish.kind, "bake")

    def test_ways_stay_in_the_house(self):
        text = "Rice soup\nServes 2\n150 g white rice\n2 tsp salt\n1 tbsp butter\n1 onion\nMethod\nSimmer."
        recipe = make_recipe(self.ana, text)
        bench, attempt = bench_actions.take_to_bench(recipe, self.person, "dinner", self.ana)
        page = self.client.get(reverse("bench:way", args=[bench.pk, attempt.pk]), {"find": "1"})
        self.assertGreater(FoundWay.objects.filter(attempt=attempt).count(), 0)
        self.assertNotContains(page, "food_id")
        way = FoundWay.objects.filter(attempt=attempt).first()
        self.sign_in(self.bo)
        answer = self.client.post(reverse("bench:take_way", args=[bench.pk, attempt.pk]), {"way": way.pk})
        self.assertEqual(answer.status_code, 404)


class StepsOnTheCard(PracticeTest):
    def test_a_swap_is_worded_once_however_often_it_is_cooked(self):
        text = "Leek pot\nServes 2\n3 leeks\n500 ml chicken stock\n1 tsp salt\nMethod\nSimmer the leeks in the chicken stock."
        _, attempt = bench_actions.take_to_bench(make_recipe(self.ana, text), self.person, "dinner", self.ana)
        unsalted = foods().by_id(food_called("unsalted chicken stock"))
        bench_actions.set_food(attempt, attempt.version, "w1", unsalted.id, self.ana)
        for _ in range(2):
            cook = kitchen_actions.begin(attempt, self.ana)
            self.assertIn("unsalted chicken stock", cook.plan.steps[0])
            attempt = kitchen_actions.finish(cook, self.ana, 2.0).result
            card = self.client.get(reverse("handouts:card", args=[attempt.pk]))
            self.assertContains(card, "Was: Simmer the leeks in the ")
            printed = " ".join(card.content.decode().split())
            self.assertIn("<li> Simmer the leeks in the unsalted chicken stock. <span", printed)
            self.assertNotContains(card, "unsalted unsalted")


class BroughtUpToDate(PracticeTest):
    """A line corrected in the library, after the dish went to a bench."""

    def setUp(self):
        super().setUp()
        self.salt, self.carrots = self.sodium_line().key, self.bench.written.lines[4].key
        bench_actions.set_amount(self.attempt, 1, self.carrots, "100 g", self.ana)
        row = next(row for row in self.recipe.lines.all() if row.as_read.key == self.salt)
        recipe_actions.set_amount(row, "2 g")

    def test_bench_and_today_say_so(self):
        for url in (self.attempt.get_absolute_url(), reverse("today")):
            self.assertContains(self.client.get(url), "1 line changed")
        page = self.client.get(self.attempt.get_absolute_url())
        for words in (
            "was corrected after it came to this bench",
            "sodium",
            "for Imre",
            "Bring up to date",
            "1 tsp salt, 6.0 g",
            "Salt, 2.0 g",
        ):
            self.assertContains(page, words)

    def test_recipes_only_saved_again_hide_none(self):
        for number in range(20):
            same = make_recipe(self.ana, f"Pot {number}\nServes 2\n1 onion\nMethod\nStew it.")
            bench_actions.take_to_bench(same, self.person, "dinner", self.ana)
            same.touch()
        self.assertEqual([each.bench for each in behind_anywhere(4)], [self.bench])

    def test_ones_own_edits_stay(self):
        self.client.post(reverse("bench:renew", args=[self.bench.pk]))
        self.attempt.refresh_from_db()
        dish = bench_actions.standing_edit(self.attempt).dish
        self.assertEqual((dish.line(self.salt).grams, dish.line(self.carrots).grams), (2, 100))
        self.assertEqual(Bench.objects.get(pk=self.bench.pk).written.line(self.salt).grams, 2)
        self.assertNotContains(self.client.get(reverse("today")), "line changed")
        bench_actions.move(self.attempt, self.attempt.version, -1)
        self.assertEqual(bench_actions.standing_edit(self.attempt).dish.line(self.salt).grams, 6)

    def test_what_was_waved_off_and_the_steps_follow(self):
        text = "Leek pot\nServes 2\n3 leeks\n500 ml chicken stock\n1 tsp salt\nMethod\nSimmer the leeks in the chicken stock.\nSalt it.\nScatter with almonds."
        recipe = make_recipe(self.ana, text)
        bench, attempt = bench_actions.take_to_bench(recipe, self.person, "dinner", self.ana)
        unsalted = foods().by_id(food_called("unsalted chicken stock"))
        bench_actions.set_food(attempt, attempt.version, "w1", unsalted.id, self.ana)
        bench_actions.write_step(attempt, attempt.version, 2, "Taste, and leave the salt.", self.ana)
        almonds = next(line for line in whole_dish(bench_actions.standing_edit(attempt).dish).lines if line.step)
        bench_actions.wave_off(attempt, attempt.version, almonds.key, "none in the house", self.ana)
        row = next(row for row in recipe.lines.all() if row.as_read.text == "1 tsp salt")
        recipe_actions.set_amount(row, "2 g")
        self.client.post(reverse("bench:renew", args=[bench.pk]))
        attempt.refresh_from_db()
        dish = bench_actions.standing_edit(attempt).dish
        self.assertEqual(
            dish.steps[:2], ("Simmer the leeks in the unsalted chicken stock.", "Taste, and leave the salt.")
        )
        self.assertEqual(dish.waved, ((almonds.text, "none in the house"),))
        self.assertEqual(dish.line("w2").grams, 2)

    def test_what_was_cooked_stays(self):
        cook = kitchen_actions.begin(self.attempt, self.ana)
        kitchen_actions.finish(cook, self.ana, 4.0)
        self.client.post(reverse("bench:renew", args=[self.bench.pk]))
        self.assertEqual(cook.result.edits.get().dish.line(self.salt).grams, 6)


class Versions(PracticeTest):
    """The one way in and out of what is stored."""

    OLD = {
        "key": "w0", "text": "1 kg potatoes", "food_id": "sr/salt-table", "low": 900.0, "grams": 1000.0, "high": 1100.0,
        "how": "weight", "sure": "check", "rule": "stated in the line", "ask": "Which one?", "part": "Filling",
    }  # fmt: skip

    def test_an_old_version_is_read_for_ever(self):
        line = line_from_data(self.OLD)
        self.assertEqual(line.weight, Grams(900.0, 1000.0, 1100.0))
        self.assertEqual((line.heading, line.food_id, str(line.ask)), ("Filling", "usda:sr/salt-table", "Which one?"))
        self.assertEqual(from_data([self.OLD]).lines, (line,))
        self.assertEqual(from_data(to_data(from_data([self.OLD]))).lines, (line,))

    def test_an_unknown_version_is_refused_in_words(self):
        for data in ({"v": VERSION + 1, "lines": []}, {"lines": []}, "a dish", 7, None):
            with self.assertRaises(Problem) as caught:
                from_data(data)
            self.assertRegex(str(caught.exception), r"version|newer|cannot be read")

    def test_impossible_weights_are_refused(self):
        for weight in ([1, 2], [float("nan"), 1, 2], [-1, 1, 2], [1, 2, 1e12]):
            with self.assertRaises(Problem):
                line_from_data({"text": "salt", "weight": weight})

    def test_the_database_keeps_it_whole(self):
        kept = Recipe.objects.get(pk=self.recipe.pk).dish
        self.assertEqual(kept, self.bench.written)
        self.assertEqual(from_data(to_data(kept)), kept)
