"""The kitchen: taps, timers, spending, the scale, dishing up, tasting, decisions; and parts."""

import asyncio
import threading
from dataclasses import replace
from datetime import timedelta
from types import SimpleNamespace

from django.test import SimpleTestCase, override_settings
from django.urls import reverse
from django.utils import timezone

from bench import actions as bench_actions
from bench import lessons
from bench.models import Decision
from bench.sight import look
from kitchen import actions
from kitchen.models import Cook, Tap, Tasting
from kitchen.scale import LineScale, ScaleGone, read_line, steady_weight
from kitchen.stove import LEFT_BEHIND, as_cooked_of, look_at
from nutrition.dish.method import LEFT_IN_PAN, LEFT_OVER, REFUSE
from nutrition.food.table import foods
from nutrition.notes import Problem
from nutrition.sheet.analysis import analyze
from people.regimen import regimen_of
from recipes import actions as recipe_actions
from recipes import parts
from recipes.models import Recipe
from standins.scale import Plate, main
from tests.web.base import PracticeTest, finished_cook, make_recipe
from ui.numbers import Asked, read_number

HTMX = {"HX-Request": "true"}
LOAF = "Oat loaf\nServes 8\n200 g plain flour\n2 eggs\n1 tsp salt\nMethod\nMix it and bake at 180C for 40 minutes."
POT = "Potato pot\nServes 4\n1 kg potatoes\n1 tsp salt\n2 tbsp olive oil\nMethod\nBoil the potatoes with the salt for 20 minutes."
SAUCE = "Tomato sauce\nServes 4\n800 g canned tomatoes\n1 onion\n1 tsp salt\nMethod\nSimmer for 20 minutes."


class KitchenTest(PracticeTest):
    def setUp(self):
        super().setUp()
        self.cook = actions.begin(self.attempt, self.ana)
        self.salt = self.sodium_line().key

    def key(self, words):
        return next(row.key for row in self.bench.written.lines if words in row.text)

    def post(self, name, **data):
        return self.client.post(reverse(f"kitchen:{name}", args=[self.cook.pk]), data, headers=HTMX)

    def pot(self):
        return {line.key: line for line in actions.pot_of(self.cook).lines}


class AtTheStove(KitchenTest):
    def test_begin_goes_on_with_what_is_under_way(self):
        self.assertEqual(actions.begin(self.attempt, self.ana), self.cook)

    def test_steps_lines_and_words(self):
        page = self.client.get(reverse("kitchen:stove", args=[self.cook.pk]), {"step": "1"})
        self.assertContains(page, "Simmer it all for an hour.")
        self.assertContains(page, "Time it: simmer 1 h")
        self.cook.refresh_from_db()
        self.assertEqual(self.cook.at_step, 1)
        self.assertContains(self.client.get(reverse("kitchen:stove", args=[self.cook.pk])), "Step 1 of 1")

    def test_lines_no_step_names_are_laid_out_and_said(self):
        dish = make_recipe(self.ana, "Pot\nServes 2\n200 g rice\n2 carrots\nMethod\nSimmer the rice.")
        _, attempt = bench_actions.take_to_bench(dish, self.person, "dinner", self.ana)
        cook = actions.begin(attempt, self.ana)
        self.assertContains(
            self.client.get(reverse("kitchen:stove", args=[cook.pk]), {"step": "0"}), "no step names it", count=1
        )

    def test_a_tap_counts_once(self):
        carrots = self.key("carrots")
        for _ in range(2):
            response = self.post("tap", kind="weighed", key=carrots, grams="131.5", token="same-token", step="1")
            self.assertEqual(response.status_code, 200)
        self.assertEqual(Tap.objects.count(), 1)
        self.assertEqual(self.pot()[carrots].grams, 131.5)
        self.assertContains(response, "Carrot: 132 g weighed in")

    def test_two_browsers_add_up(self):
        carrots = self.key("carrots")
        before = self.pot()[carrots].grams
        self.post("tap", kind="more", key=carrots, grams="10", token="one")
        self.post("tap", kind="more", key=carrots, grams="5", token="two")
        self.assertEqual(self.pot()[carrots].grams, before + 15)

    def test_taken_back(self):
        self.post("tap", kind="skipped", key=self.key("carrots"), token="a")
        self.assertNotIn(self.key("carrots"), self.pot())
        self.post("tap", kind="back")
        self.assertIn(self.key("carrots"), self.pot())
        self.assertContains(self.post("tap", kind="back"), "nothing to take back", status_code=422)

    def test_refusals_keep_what_was_typed(self):
        for data, words in (
            ({"kind": "weighed", "grams": "a handful"}, "“a handful” is not a number of grams"),
            ({"kind": "weighed", "grams": "-5"}, "cannot be"),
            ({"kind": "weighed", "grams": "1e12"}, "cannot be"),
            ({"kind": "weighed", "grams": "nan"}, "cannot be"),
            ({"kind": "more", "grams": ""}, "No grams was typed"),
            ({"kind": "sung", "grams": "1"}, "is expected"),
        ):
            with self.subTest(**data):
                response = self.post("tap", key=self.key("carrots"), step="1", token="x", **data)
                self.assertContains(response, words, status_code=422)
        self.assertEqual(Tap.objects.count(), 0)

    def test_another_food(self):
        found = self.client.get(
            reverse("kitchen:foods", args=[self.cook.pk]), {"q": "parsnip", "key": self.key("carrots")}
        )
        self.assertContains(found, "Parsnips, raw")
        food = foods().by_description("Parsnips, raw")
        self.post("tap", kind="other", key=self.key("carrots"), food_id=food.id, token="p")
        self.assertEqual(self.pot()[self.key("carrots")].food_id, food.id)

    def test_something_else_went_in(self):
        found = self.client.get(reverse("kitchen:foods", args=[self.cook.pk]), {"q": "parsnip", "grams": "80"})
        self.assertContains(found, "Parsnips, raw, 80 g")
        food = foods().by_description("Parsnips, raw")
        self.post("tap", kind="added", food_id=food.id, grams="80", token="p")
        self.assertEqual(
            [(line.food_id, line.grams) for key, line in self.pot().items() if key.startswith("k")], [(food.id, 80.0)]
        )
        self.assertContains(
            self.post("tap", kind="added", food_id=food.id, grams="", token="q"), "No grams", status_code=422
        )

    def test_which_one_is_in_hand(self):
        stock = self.key("chicken stock")
        (_, _), (other, _) = look_at(self.cook, 0, stock).chosen.may_be[:2]
        self.post("tap", kind="other", key=stock, food_id=other, token="s")
        line = self.pot()[stock]
        self.assertEqual((line.food_id, line.sure, line.words_hold), (other, "sure", True))
        self.assertEqual(look_at(self.cook, 0, stock).chosen.may_be, [])

    def test_what_it_was_read_as_is_offered_too(self):
        pot = make_recipe(self.ana, "Berry pot\nServes 2\n1 can raspberries\nMethod\nWarm it through.")
        line = pot.lines.get()
        line.is_accepted = False
        line.save()
        _, attempt = bench_actions.take_to_bench(pot, self.person, "snack", self.ana)
        self.cook = actions.begin(attempt, self.ana)
        (key,) = self.pot()
        self.post("tap", kind="weighed", key=key, grams="231", token="w")
        self.assertEqual(self.pot()[key].sure, "check")
        (food, _), *_ = look_at(self.cook, 0, key).chosen.may_be
        self.post("tap", kind="other", key=key, food_id=food, token="o")
        self.assertEqual((self.pot()[key].sure, self.pot()[key].grams), ("sure", 231.0))

    def test_longer_is_only_time(self):
        before = self.pot()
        self.post("tap", kind="longer", minutes="5", step="1", token="l")
        self.assertEqual(Tap.objects.get().words, "5 min longer")
        self.assertEqual(self.pot(), before)


class Timers(KitchenTest):
    def test_it_runs_on_and_stops(self):
        self.post("timer", minutes="60", label="Simmer", step="1", token="t")
        self.post("timer", minutes="60", label="Simmer", step="1", token="t")
        timer = self.cook.timers.get()
        self.assertAlmostEqual((timer.ends_at - timezone.now()).total_seconds(), 3600, delta=5)
        self.assertContains(
            self.client.get(reverse("kitchen:stove", args=[self.cook.pk])), f'data-ends="{timer.ends_ms}"'
        )
        self.post("timer", timer=timer.pk, act="minute")
        timer.refresh_from_db()
        self.assertAlmostEqual((timer.ends_at - timezone.now()).total_seconds(), 3660, delta=5)
        self.post("timer", timer=timer.pk, act="stop")
        self.assertFalse(self.cook.timers.filter(stopped_at=None).exists())

    def test_a_minute_more_after_it_rang_counts_from_now(self):
        timer = actions.start_timer(self.cook, "rest", 60, 1)
        timer.ends_at = timezone.now() - timedelta(minutes=10)
        actions.change_timer(timer, "minute")
        self.assertAlmostEqual((timer.ends_at - timezone.now()).total_seconds(), 60, delta=2)

    def test_refused(self):
        for minutes, words in (("0", "from 1 second"), ("", "No minutes"), ("soon", "not a number")):
            self.assertContains(self.post("timer", minutes=minutes), words, status_code=422)
        self.assertEqual(self.post("timer", timer="99999", act="stop").status_code, 404)


class SaltToSpend(KitchenTest):
    def setUp(self):
        super().setUp()
        pot = make_recipe(self.ana, POT)
        self.bench, self.attempt = bench_actions.take_to_bench(pot, self.person, "dinner", self.ana)
        self.cook = actions.begin(self.attempt, self.ana)
        self.salt = self.sodium_line().key

    def test_counted_down_and_over_the_steps(self):
        (salt,) = look_at(self.cook, 1).counted
        self.assertGreater(salt.allowance.room, 0)
        self.post("tap", kind="spent", key="salt", grams="1.5", step="1", token="a")
        (salt,) = look_at(self.cook, 1).counted
        self.assertAlmostEqual(salt.left, salt.allowance.grams - 1.5)
        self.assertEqual(self.pot()[self.salt].grams, 1.5)

    def test_spread_by_hand(self):
        self.post("shares", kind="salt", **{"share-1": "2.5"})
        self.cook.refresh_from_db()
        (salt,) = look_at(self.cook, 1).counted
        self.assertEqual(salt.shares, {1: 2.5})
        self.assertContains(self.post("shares", kind="salt", **{"share-1": "much"}), "not a number", status_code=422)

    def test_too_much_shuts_and_says_so(self):
        (salt,) = look_at(self.cook, 1).counted
        response = self.post(
            "tap", kind="spent", key="salt", grams=f"{salt.allowance.room + 2:.1f}", step="1", token="a"
        )
        self.assertContains(response, "too much")
        self.assertEqual(look_at(self.cook, 1).gauges[0].verdict.state, "shut")

    def test_the_small_dish_stands_in_for_the_recipe(self):
        (salt,) = look_at(self.cook, 1).counted
        amount = look_at(self.cook, 1).gauges[0].verdict.amount
        self.post("tap", kind="spent", key="salt", grams="0.5", step="1", token="a")
        self.assertAlmostEqual(look_at(self.cook, 1).gauges[0].verdict.amount, amount, delta=1)
        self.assertAlmostEqual(amount, salt.allowance.grams * 387.58 / 4, delta=0.1 * amount)

    def test_what_went_in_is_asked_at_dishing_up(self):
        page = self.client.get(reverse("kitchen:finish", args=[self.cook.pk]))
        self.assertContains(page, "No salt was tapped at the stove")
        form = {"serves_cooked": "4", "spent-salt": "2.5"}
        self.client.post(reverse("kitchen:finish", args=[self.cook.pk]), form)
        self.cook.refresh_from_db()
        self.assertEqual({row.key: row.grams for row in self.cook.result.edits.get().dish.lines}[self.salt], 2.5)

    def test_less_than_was_tapped_is_refused(self):
        self.post("tap", kind="spent", key="salt", grams="3", step="1", token="a")
        page = self.client.post(
            reverse("kitchen:finish", args=[self.cook.pk]), {"serves_cooked": "4", "spent-salt": "1"}
        )
        self.assertContains(page, "3 g were tapped", status_code=422)


class LeftBehind(PracticeTest):
    """What stayed behind is weighed where it is the line's own: bones, and no marinade."""

    def cook(self, *lines):
        steps = "Marinate the wings in the soy sauce.\nDiscard the marinade and roast the wings."
        text = "\n".join(("Wings", "Serves 2", *lines, "Method", steps))
        _, attempt = bench_actions.take_to_bench(make_recipe(self.ana, text), self.person, "dinner", self.ana)
        return actions.begin(attempt, self.ana)

    def test_bones_and_no_marinade(self):
        cook = self.cook("1 kg chicken wings", "100 ml soy sauce")
        self.assertEqual([each.left_behind for each in look_at(cook, 1).in_hand], ["bones", ""])
        self.assertEqual(set(LEFT_BEHIND), {LEFT_IN_PAN, LEFT_OVER, *REFUSE})
        self.assertContains(self.client.get(reverse("kitchen:stove", args=[cook.pk]), {"step": "1"}), "Bones, g")
        url = reverse("kitchen:tap", args=[cook.pk])
        form = {"kind": "left", "step": "1", "grams": "20"}
        page = self.client.post(url, form | {"key": "w1", "token": "a"}, follow=True)
        self.assertContains(page, "no step leaves bones")
        self.client.post(url, form | {"key": "w0", "token": "b"})
        self.assertEqual([tap.kind for tap in cook.taps.all()], ["left"])


class DishedUp(KitchenTest):
    def test_what_went_in_becomes_a_version(self):
        salt = {"kind": "spent", "key": "salt", "grams": 2.0, "step": 1}
        cook = finished_cook(self.attempt, self.ana, salt, cooked_g="1500", serves_cooked="5", minutes_taken="75")
        rows = {row.key: row for row in cook.result.edits.get().dish.lines}
        self.assertEqual(rows[self.salt].grams, 2.0)
        self.assertEqual((cook.result.weighed_g, cook.result.parent), (1500.0, self.attempt))
        seen = as_cooked_of(cook)
        self.assertAlmostEqual(seen.sheet.cooked.likely, 300)
        self.assertEqual(seen.differences[0].name, "Salt")
        page = self.client.get(reverse("kitchen:cooked", args=[cook.pk]))
        self.assertContains(page, "Planned beside cooked")
        self.assertContains(page, "75 min taken")
        self.assertEqual(bench_actions.standing_edit(self.attempt).number, 0)

    def test_refused_with_what_was_typed(self):
        for data, words in (
            ({"cooked_g": "heavy", "serves_cooked": "4"}, "not a number of grams cooked"),
            ({"serves_cooked": ""}, "No pieces or portions"),
            ({"serves_cooked": "0"}, "cannot be"),
            ({"serves_cooked": "4", "minutes_taken": "20", "minutes_hands_on": "40"}, "only 20 in all"),
        ):
            with self.subTest(**data):
                page = self.client.post(reverse("kitchen:finish", args=[self.cook.pk]), {"notes": "kept words", **data})
                self.assertContains(page, words, status_code=422)
                self.assertContains(page, "kept words", status_code=422)
        self.assertIsNone(Cook.objects.get(pk=self.cook.pk).finished_at)

    def test_a_finished_cook_stands(self):
        finished_cook(self.attempt, self.ana)
        self.assertContains(self.post("tap", kind="skipped", key=self.salt), "finished", status_code=422)
        with self.assertRaisesRegex(Problem, "finished"):
            actions.set_shares(self.cook, "salt", {1: 2.0})
        self.assertEqual(self.client.get(reverse("kitchen:stove", args=[self.cook.pk])).status_code, 302)


class AtTheTable(KitchenTest):
    def setUp(self):
        super().setUp()
        finished_cook(self.attempt, self.ana)
        self.cook.refresh_from_db()

    def taste(self, **data):
        return self.client.post(reverse("kitchen:taste", args=[self.cook.pk]), data)

    def test_marks(self):
        self.taste(taster="Imre", taste="7.5", ease="8", missed="the crust")
        self.taste(taster="Imre", taste="6")
        self.taste(taster="His daughter", taste="9", notes="More please")
        self.assertEqual(list(Tasting.objects.values_list("taster", "taste")), [("Imre", 6.0), ("His daughter", 9.0)])
        page = self.client.get(reverse("kitchen:sheet", args=[self.bench.pk]))
        self.assertContains(page, "<b>7.5</b>")
        self.assertContains(page, "More please")

    def test_marks_refused(self):
        for data, words in (
            ({"taster": "", "taste": "5"}, "Who tasted?"),
            ({"taster": "Imre", "taste": "11"}, "from 0 to 10"),
            ({"taster": "Imre"}, "Nothing was said for Imre"),
        ):
            self.assertContains(self.taste(**data), words, status_code=422)
        self.assertEqual(Tasting.objects.count(), 0)

    def test_a_decision_needs_its_reason(self):
        url = reverse("kitchen:decide", args=[self.cook.pk])
        self.assertContains(self.client.post(url, {"choice": "give up"}), "Say why", status_code=422)
        self.assertContains(self.client.post(url, {"reason": "dull"}), "Nothing was decided", status_code=422)
        self.client.post(url, {"choice": "keep"})
        self.assertEqual(Decision.objects.get().choice, Decision.KEEP)


class Lessons(PracticeTest):
    def setUp(self):
        super().setUp()
        self.loaf, self.first = bench_actions.take_to_bench(make_recipe(self.ana, LOAF), self.person, "snack", self.ana)
        flour = next(row.key for row in self.loaf.written.lines if "flour" in row.text)
        self.starch = foods().by_description("Cornstarch").id
        bench_actions.set_food(self.first, 1, flour, self.starch, self.ana)
        self.first.refresh_from_db()
        lessons.decide(self.first, "give up", "It crumbled in the pan.", self.ana)

    def test_found_by_dish_job_and_reason(self):
        url = reverse("kitchen:lessons")
        for query in (
            {"q": "crumbled"},
            {"q": "oat loaf"},
            {"choice": "give up"},
            {"job": Decision.objects.get().swaps[0]["jobs"][0]},
        ):
            with self.subTest(**query):
                self.assertContains(self.client.get(url, query), "It crumbled in the pan.")
        self.assertNotContains(self.client.get(url, {"q": "delicious"}), "crumbled")

    def test_shown_when_the_same_swap_is_offered(self):
        flour = next(row.food_id for row in self.loaf.written.lines if "flour" in row.text)
        offer = SimpleNamespace(id="x", kind="swap", job="", to=((self.starch, 10.0),))
        self.assertEqual(lessons.lessons_for([offer], flour)["x"].reason, "It crumbled in the pan.")
        # For another job it is another matter; and a later decision takes the lesson back.
        offer.job = "sweet"
        self.assertEqual(lessons.lessons_for([offer], flour), {})
        offer.job = ""
        lessons.decide(self.first, "keep", "", self.ana)
        self.assertEqual(lessons.lessons_for([offer], flour), {})

    def test_shown_in_the_drawer(self):
        soup = make_recipe(
            self.ana, "Thick soup\nServes 4\n2 tbsp plain flour\n1 l vegetable stock\nMethod\nSimmer the soup."
        )
        pot, attempt = bench_actions.take_to_bench(soup, self.person, "dinner", self.ana)
        page = self.client.get(f"{attempt.get_absolute_url()}?line={pot.written.lines[0].key}")
        self.assertContains(page, "Given up in Oat loaf")


class Parts(PracticeTest):
    def setUp(self):
        super().setUp()
        self.sauce, self.loaf = make_recipe(self.ana, SAUCE), make_recipe(self.ana, LOAF)

    def use(self, recipe, part, amount):
        return self.client.post(reverse("recipes:use_part", args=[recipe.pk]), {"part": part.pk, "amount": amount})

    def sodium(self, recipe):
        dish = Recipe.objects.get(pk=recipe.pk).dish
        return analyze(dish).amount("sodium_mg") * dish.serves

    def test_half_of_it(self):
        before = self.sodium(self.loaf)
        self.use(self.loaf, self.sauce, "half")
        self.assertAlmostEqual(self.sodium(self.loaf), before + self.sodium(self.sauce) / 2, delta=0.1)
        self.loaf.refresh_from_db()
        self.assertEqual(self.loaf.all_steps[0], "Tomato sauce: Simmer for 20 minutes.")
        self.assertContains(self.client.get(self.loaf.get_absolute_url()), "Tomato sauce")

    def test_a_part_that_lost_its_weight_says_so(self):
        self.use(self.loaf, self.sauce, "250 g")
        for line in self.sauce.lines.all():
            line.as_read = replace(line.as_read, weight=None)
            line.save()
        page = self.client.get(self.loaf.get_absolute_url())
        self.assertContains(page, "grams of it cannot be taken")
        self.assertNotContains(page, "Take it in as it stands now")

    def test_changes_wait_until_they_are_accepted(self):
        self.use(self.loaf, self.sauce, "all")
        before = self.sodium(self.loaf)
        salt = next(row for row in self.sauce.lines.all() if row.as_read.text == "1 tsp salt")
        recipe_actions.set_amount(salt, "1 g")
        self.assertEqual(self.sodium(self.loaf), before)
        self.assertContains(self.client.get(self.loaf.get_absolute_url()), "Tomato sauce has changed")
        bench, _ = bench_actions.take_to_bench(self.loaf, self.person, "snack", self.ana)
        use = self.loaf.parts.get()
        self.client.post(reverse("recipes:part", args=[use.pk]), {"act": "accept"})
        self.assertLess(self.sodium(self.loaf), before)
        page = self.client.get(self.loaf.get_absolute_url())
        self.assertNotContains(page, "has changed</b>")
        # The bench keeps the dish as it was taken there, until somebody brings it up to date.
        self.assertContains(page, "Bring up to date")
        self.client.post(reverse("bench:renew", args=[bench.pk]))
        self.assertNotContains(self.client.get(self.loaf.get_absolute_url()), "Bring up to date")
        self.assertEqual(bench.tries.count(), 2)

    def test_out_again(self):
        before = self.sodium(self.loaf)
        self.use(self.loaf, self.sauce, "250 g")
        self.client.post(reverse("recipes:part", args=[self.loaf.parts.get().pk]), {"act": "out"})
        self.assertAlmostEqual(self.sodium(self.loaf), before)
        self.loaf.refresh_from_db()
        self.assertEqual(self.loaf.part_steps, [])

    def test_loops_are_refused_in_words(self):
        self.assertContains(self.use(self.loaf, self.loaf, "half"), "cannot be a part of itself", status_code=422)
        self.use(self.loaf, self.sauce, "half")
        page = self.use(self.sauce, self.loaf, "half")
        self.assertContains(page, "round in a circle: Oat loaf, which uses Tomato sauce", status_code=422)
        self.assertEqual(self.sauce.parts.count(), 0)

    def test_a_part_within_a_part(self):
        stew = make_recipe(self.ana)
        parts.use_part(self.loaf, self.sauce, "all", self.ana)
        parts.use_part(stew, self.loaf, "half", self.ana)
        self.assertIn("Oat loaf: Tomato sauce", {row.as_read.heading for row in stew.lines.all()})

    def test_refused_with_what_was_typed(self):
        page = self.use(self.loaf, self.sauce, "a smear")
        self.assertContains(page, "“a smear” was read", status_code=422)
        self.assertContains(page, 'value="a smear"', status_code=422)

    def test_a_part_in_use_is_not_deleted(self):
        self.use(self.loaf, self.sauce, "half")
        self.client.post(reverse("recipes:delete", args=[self.sauce.pk]))
        self.assertTrue(Recipe.objects.filter(pk=self.sauce.pk).exists())


class PlateOfTheScale(SimpleTestCase):
    def setUp(self):
        self.now = 100.0
        self.plate = Plate(clock=lambda: self.now, noise=lambda: 0.1)

    def test_settles_tares_and_creeps(self):
        self.plate.obey("load 200")
        self.assertTrue(self.plate.says().startswith("moving"))
        self.now += 1
        self.assertEqual(self.plate.says(), "steady 200.0 g")
        self.plate.obey("tare")
        self.assertEqual(self.plate.says(), "steady 0.0 g")
        self.plate.obey("add 30")
        self.now += 1
        self.assertEqual(self.plate.says(), "steady 30.0 g")
        self.now += 600
        self.assertEqual(self.plate.says(), "steady 30.5 g")

    def test_capacity_and_nonsense(self):
        self.plate.obey("load 9000")
        self.now += 1
        self.assertEqual(self.plate.says(), "over 5000 g")
        for line in ("load", "load x", "fly", ""):
            self.assertFalse(self.plate.obey(line))

    def test_lines_cut_short_are_not_read(self):
        for line in (b"", b"eady 212", b"steady g", b"\xff\xfe", b"steady 12.5"):
            self.assertIsNone(read_line(line))


class RunningScale:
    """The stand-in in a thread of the test, on a free port unless one is asked for."""

    def __init__(self, port=0):
        self.asked, self.port = port, None
        self.bound = threading.Event()
        self.loop = asyncio.new_event_loop()
        self.task = None
        self.thread = threading.Thread(target=self._run, daemon=True)

    def _run(self):
        asyncio.set_event_loop(self.loop)
        self.task = self.loop.create_task(main(self.asked, say=self._bound_to))
        try:
            self.loop.run_until_complete(self.task)
        except asyncio.CancelledError:
            pending = asyncio.all_tasks(self.loop)
            for each in pending:
                each.cancel()
            self.loop.run_until_complete(asyncio.gather(*pending, return_exceptions=True))

    def _bound_to(self, port):
        self.port = int(port)
        self.bound.set()

    @property
    def url(self):
        return f"socket://127.0.0.1:{self.port}"

    def __enter__(self):
        self.thread.start()
        if not self.bound.wait(30):
            raise AssertionError("the stand-in did not start")
        return self

    def __exit__(self, *exc):
        self.loop.call_soon_threadsafe(self.task.cancel)
        self.thread.join(5)


class TheScale(KitchenTest):
    def test_a_steady_weight_goes_into_a_line(self):
        with RunningScale() as scale, override_settings(SCALE_URL=scale.url, SCALE_IS_STANDIN=True):
            self.post("set_scale", act="load", grams="137.2")
            response = self.post("tap", kind="weighed", key=self.key("carrots"), token="w", **{"from": "scale"})
            self.assertEqual(response.status_code, 200)
            self.assertAlmostEqual(self.pot()[self.key("carrots")].grams, 137.2, delta=0.15)
            shown = self.client.get(reverse("kitchen:scale", args=[self.cook.pk])).json()
            self.assertEqual(shown["state"], "steady")
            self.post("set_scale", act="tare")
            self.assertAlmostEqual(steady_weight(LineScale(scale.url)).grams, 0, delta=0.15)
            empty = self.post("tap", kind="weighed", key=self.key("carrots"), token="e", **{"from": "scale"})
            self.assertContains(empty, "Put the food on it", status_code=422)

    def test_salt_is_spent_from_the_scale(self):
        with RunningScale() as scale, override_settings(SCALE_URL=scale.url, SCALE_IS_STANDIN=True):
            self.post("set_scale", act="load", grams="1.8")
            self.post("tap", kind="spent", key="salt", step="1", token="s", **{"from": "scale"})
        self.assertAlmostEqual(self.pot()[self.salt].grams, 1.8, delta=0.11)

    def test_gone_and_back(self):
        with RunningScale() as scale:
            url = scale.url
        with override_settings(SCALE_URL=url):
            self.assertEqual(self.client.get(reverse("kitchen:scale", args=[self.cook.pk])).json()["state"], "gone")
            refused = self.post("tap", kind="weighed", key=self.key("carrots"), token="w", **{"from": "scale"})
            self.assertContains(refused, "No scale answers", status_code=422)
            typed = self.post("tap", kind="weighed", key=self.key("carrots"), token="w", grams="120")
            self.assertEqual(typed.status_code, 200)
        with RunningScale() as scale, override_settings(SCALE_URL=scale.url):
            self.assertNotEqual(self.client.get(reverse("kitchen:scale", args=[self.cook.pk])).json()["state"], "gone")

    def test_none(self):
        with override_settings(SCALE_URL=""):
            self.assertEqual(self.client.get(reverse("kitchen:scale", args=[self.cook.pk])).json()["state"], "none")
            self.assertContains(
                self.post("tap", kind="weighed", key=self.key("carrots"), **{"from": "scale"}),
                "No scale is set up",
                status_code=422,
            )

    def test_only_the_stand_in_is_loaded_from_the_page(self):
        with RunningScale() as scale, override_settings(SCALE_URL=scale.url, SCALE_IS_STANDIN=False):
            self.post("set_scale", act="load", grams="500")
            self.assertAlmostEqual(steady_weight(LineScale(scale.url)).grams, 0, delta=0.15)

    def test_two_copies_side_by_side_have_a_scale_each(self):
        with RunningScale() as first, RunningScale(first.port) as second:
            self.assertNotEqual(first.port, second.port)
            LineScale(first.url).send("load 137.2")
            self.assertAlmostEqual(steady_weight(LineScale(first.url)).grams, 137.2, delta=0.2)
            self.assertAlmostEqual(steady_weight(LineScale(second.url)).grams, 0, delta=0.2)

    def test_a_name_that_is_no_scale(self):
        with self.assertRaises(ScaleGone):
            LineScale("socket://127.0.0.1:1").read()


class Hands(KitchenTest):
    def test_a_line_is_chosen_and_its_sizes_are_round(self):
        stove = look_at(self.cook, 0, self.key("carrots"))
        self.assertEqual(stove.chosen.key, self.key("carrots"))
        self.assertEqual(stove.chosen.sizes, (5, 10, 20))

    def test_the_try_is_judged_by_its_own_limits(self):
        sight = look(self.bench, bench_actions.standing_edit(self.attempt), regimen_of(self.person).eater)
        self.assertEqual([g.nutrient for g in sight.gauges], [g.nutrient for g in look_at(self.cook, 0).gauges])

    def test_number(self):
        self.assertEqual(read_number("12,5 g", Asked("grams", 100)), 12.5)
        with self.assertRaises(Problem):
            read_number("inf", Asked("grams", 100))


class Lists(PracticeTest):
    """What a list shows when there is more than it holds."""

    def test_a_pot_on_the_stove_is_never_pushed_out_by_older_cooks(self):
        old = timezone.now() - timedelta(days=30)
        Cook.objects.bulk_create(
            Cook(
                practice=self.ana.practice, attempt=self.attempt, plan=self.bench.written, started_by=self.ana, finished_at=old,
                started_at=old, serves_cooked=4,
            )
            for _ in range(130)
        )  # fmt: skip
        pot = actions.begin(self.attempt, self.ana)
        today = self.client.get(reverse("today"))
        self.assertEqual(list(today.context["on_the_stove"]), [pot])
        self.assertEqual(len(today.context["to_judge"]), 8)
        kitchen = self.client.get(reverse("kitchen:cooks"))
        self.assertContains(kitchen, "1 to 40 of 130")
        last = self.client.get(reverse("kitchen:cooks"), {"waiting": "4"})
        self.assertContains(last, "121 to 130 of 130")

    def test_a_second_cook_of_a_decided_try_waits_again(self):
        first = finished_cook(self.attempt, self.ana)
        actions.taste(first, "Imre", taste=8.0)
        lessons.decide(self.attempt, "keep", "good", self.ana)
        self.assertEqual(list(self.client.get(reverse("today")).context["to_judge"]), [])
        second = finished_cook(self.attempt, self.ana)
        self.assertEqual(list(self.client.get(reverse("today")).context["to_judge"]), [second])
        self.assertEqual(list(self.client.get(reverse("kitchen:cooks")).context["waits"]), [second])
        self.assertEqual(list(self.client.get(reverse("kitchen:cooks")).context["done"]), [first])


class Odd(PracticeTest):
    def test_numbers_and_names_no_table_can_hold_are_words_or_nothing(self):
        cook = actions.begin(self.attempt, self.ana)
        tap = reverse("kitchen:tap", args=[cook.pk])
        key = cook.plan.lines[0].key
        for odd in (
            {"step": "1" * 18},
            {"food_id": "curated:" * 60},
            {"token": "t" * 900},
            {"key": "k" * 300, "kind": "longer"},
        ):
            sent = {"kind": "more", "key": key, "grams": "5", "token": str(odd)} | odd
            self.assertIn(self.client.post(tap, sent).status_code, (302, 422), odd)
        timer = {"label": "t" * 300, "minutes": "5", "step": "1" * 18, "token": "x"}
        self.assertEqual(self.client.post(reverse("kitchen:timer", args=[cook.pk]), timer).status_code, 302)
