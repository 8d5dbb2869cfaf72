"""The method on the bench and on the reading page: what is left behind is answered, a step is written anew, a release waits."""

from django.urls import reverse

from bench import actions as bench_actions
from bench.sight import look
from bench.ways import workbench_of
from handouts.card import build
from handouts.checklist import DONE, TO_DO, checklist, readiness_of
from nutrition.reading.eaten import questions_of
from nutrition.reading.page import from_text
from people.regimen import regimen_of
from recipes import actions as recipe_actions
from tests.web.base import PracticeTest, make_person, make_recipe

TOFU = """Glazed tofu
Serves 2
300 g tofu
3 tbsp fish sauce
1 tbsp honey
1 lime
Method
Marinate the tofu in the fish sauce and honey for an hour.
Discard the marinade and fry the tofu.
Cut the lime.
"""
HTMX = {"HX-Request": "true"}


class MethodTest(PracticeTest):
    def setUp(self):
        super().setUp()
        self.person = make_person(self.ana, "Wanda", {"low-sodium": {}})
        self.dish = make_recipe(self.ana, TOFU)
        self.bench, self.try_ = bench_actions.take_to_bench(self.dish, self.person, "dinner", self.ana)

    def edit(self, act, **data):
        self.try_.refresh_from_db()
        url = reverse("bench:edit", args=[self.bench.pk, self.try_.pk])
        return self.client.post(url, {"act": act, "version": self.try_.version} | data, headers=HTMX)

    def standing(self):
        self.try_.refresh_from_db()
        return bench_actions.standing_edit(self.try_).dish

    def page(self, **query):
        return self.client.get(self.try_.get_absolute_url(), query)


class OnTheBench(MethodTest):
    def test_the_steps_lead_to_their_lines(self):
        page = self.page().content.decode()
        tofu = next(line.key for line in self.bench.written.lines if line.text == "300 g tofu")
        self.assertIn('id="method"', page)
        self.assertIn(f"line={tofu}", page)
        self.assertIn("is-lit", self.page(line=tofu).content.decode())

    def test_what_is_left_behind_is_answered_where_it_stands(self):
        self.assertContains(self.page(), "Step 2 pours off fish sauce and honey")
        response = self.edit("eaten", eaten="2 poured_off yes")
        self.assertContains(response, 'aria-pressed="true">poured off: 5 to 40 % counts')
        self.assertEqual([each.said for each in questions_of(self.standing())], ["yes"])
        self.edit("eaten", eaten="2 poured_off no")
        self.assertEqual([each.said for each in questions_of(self.standing())], ["no"])
        self.edit("undo")
        self.assertEqual([each.said for each in questions_of(self.standing())], ["yes"])

    def test_it_is_answered_at_the_line_too(self):
        sauce = next(line.key for line in self.bench.written.lines if line.text == "3 tbsp fish sauce")
        lime = next(line.key for line in self.bench.written.lines if line.text == "1 lime")
        for key, count in ((sauce, 4), (lime, 2)):
            self.assertEqual(self.page(line=key).content.decode().count("poured off: 5 to 40 % counts") * 2, count)

    def test_an_answer_to_what_is_not_asked_changes_nothing(self):
        for said in ("1 poured_off yes", "", "x y z", "2 bone no"):
            refused = self.edit("eaten", eaten=said)
            self.assertContains(refused, "does not say any more", status_code=422)
        self.assertEqual(self.try_.edits.count(), 1)

    def test_a_step_is_written_anew_and_undone(self):
        self.assertContains(self.page(step="3"), 'name="text"')
        response = self.edit("step", step="3", text="Cut the lime into wedges and serve.")
        self.assertContains(response, "was: Cut the lime.")
        self.assertEqual(self.standing().steps[2], "Cut the lime into wedges and serve.")
        self.assertEqual(self.try_.edits.last().summary, "step 3: Cut the lime into wedges and serve.")
        self.assertEqual(self.try_.edits.last().made_by, self.ana)
        self.edit("undo")
        self.assertEqual(self.standing().steps, self.bench.written.steps)

    def test_what_it_says_is_read_at_once(self):
        response = self.edit("step", step="3", text="Cut the lime and scatter with roasted peanuts.")
        self.assertContains(response, "adds roasted peanut")
        self.edit("step", step="2", text="Fry it all.")
        self.assertEqual(questions_of(self.standing()), ())

    def test_one_is_left_out_put_back_and_added(self):
        self.edit("step", step="3", leave="1", text="Cut the lime.")
        self.assertEqual(self.standing().steps, self.bench.written.steps[:2])
        self.edit("step", step="3", back="1", text="")
        self.assertEqual(self.standing().steps, self.bench.written.steps)
        self.edit("step", step="4", text="Rest for five minutes.")
        self.edit("step", step="4", text="Rest for six minutes.")
        self.assertEqual(self.standing().steps[3:], ("Rest for six minutes.",))
        self.edit("step", step="4", leave="1")
        self.assertEqual(self.standing().steps, self.bench.written.steps)

    def test_bad_input_is_told_and_kept(self):
        long = "Stir. " * 900
        refused = self.edit("step", step="2", text=long)
        self.assertContains(refused, "Part it into two.", status_code=422)
        self.assertContains(refused, "Stir. Stir.", status_code=422)
        self.assertContains(self.edit("step", step="9", text=" "), "An empty step was sent.", status_code=422)
        stale = self.client.post(
            reverse("bench:edit", args=[self.bench.pk, self.try_.pk]),
            {"act": "step", "version": 99, "step": "1", "text": "Stir it."},
            headers=HTMX,
        )
        self.assertContains(stale, "“Stir it.”", status_code=409)
        self.assertEqual(self.try_.edits.count(), 1)

    def test_the_same_words_are_no_edit(self):
        self.edit("step", step="1", text=self.bench.written.steps[0])
        self.assertEqual(self.try_.edits.count(), 1)

    def test_after_a_swap_the_method_tells_it_with_what_was(self):
        key = next(line.key for line in self.bench.written.lines if line.text == "1 tbsp honey")
        response = self.edit("retype", line=key, text="1 tbsp maple syrup")
        self.assertContains(response, "was: Marinate the tofu in the fish sauce and honey for an hour.")

    def test_without_steps_it_says_so(self):
        bare = make_recipe(self.ana, "Plate\nServes 2\n2 apples\n100 g cheddar")
        _, attempt = bench_actions.take_to_bench(bare, self.person, "snack", self.ana)
        self.assertContains(self.client.get(attempt.get_absolute_url()), "came without steps")


class Preparations(MethodTest):
    def test_its_foods_stand_together_under_its_name_and_its_step_before_all(self):
        cake = make_recipe(
            self.ana,
            "Squares\nServes 8\n200 g flour\n3 eggs\n100 g sugar\nMethod\nBeat the eggs with the sugar.\nFold in the flour and bake.",
        )
        bench, attempt = bench_actions.take_to_bench(cake, self.person, "snack", self.ana)
        eggs = next(line.key for line in bench.written.lines if line.text == "3 eggs")
        workbench = workbench_of(bench, bench.written, regimen_of(self.person).eater)
        bench_actions.take_offer(attempt, attempt.version, eggs, "egg-binds-mix", workbench, self.ana)
        dish = bench_actions.standing_edit(attempt).dish
        self.assertEqual(
            dish.steps[:2],
            (
                "For the flax gel, stir the flaxseed, ground, into the water and let it stand for 10 minutes.",
                "Beat the flax gel with the sugar.",
            ),
        )
        seen = look(bench, bench_actions.standing_edit(attempt), regimen_of(self.person).eater)
        self.assertEqual([thread.line.heading for thread in seen.threads], ["", "Flax gel", "Flax gel", ""])
        self.assertContains(self.client.get(attempt.get_absolute_url()), "was: Beat the eggs with the sugar.")


class OnTheReadingPage(PracticeTest):
    def setUp(self):
        super().setUp()
        self.recipe_ = recipe_actions.bring_in(from_text(TOFU), TOFU, self.ana)
        self.address = reverse("recipes:reading", args=[self.recipe_.pk])

    def say(self, **typed):
        return self.client.post(reverse("recipes:eaten", args=[self.recipe_.pk]), typed)

    def test_two_answers_and_what_follows(self):
        self.assertContains(self.client.get(self.address), "Step 2 pours off fish sauce and honey")
        self.assertRedirects(self.say(step="2", how="poured_off", said="yes"), self.address)
        self.recipe_.refresh_from_db()
        self.assertEqual([each.said for each in questions_of(self.recipe_.dish)], ["yes"])
        self.assertContains(self.client.get(self.address), 'aria-pressed="true">poured off: 5 to 40 % counts')

    def test_what_is_not_asked_is_refused_in_words(self):
        self.assertContains(self.say(step="1", how="bone", said="yes"), "does not say any more", status_code=422)

    def test_the_bench_takes_the_answer_over(self):
        self.say(step="2", how="poured_off", said="no")
        recipe_actions.let_in(self.recipe_)
        bench, _ = bench_actions.take_to_bench(self.recipe_, make_person(self.ana, "Imke", {}), "dinner", self.ana)
        self.assertEqual([each.said for each in questions_of(bench.written)], ["no"])


class Released(MethodTest):
    def item(self):
        ready = readiness_of(self.try_)
        return next((each for each in checklist(build(self.try_, ready), ready).items if each.key == "used"), None)

    def test_it_waits_for_a_line_that_no_step_uses(self):
        self.assertIsNone(self.item())
        self.edit("step", step="3", leave="1")
        self.try_.refresh_from_db()
        self.assertEqual((self.item().state, self.item().words), (TO_DO, "No step says what is done with 1 lime."))
        self.client.post(
            reverse("handouts:release", args=[self.try_.pk]), {"accept-unnamed": "squeezed at the table", "save": "1"}
        )
        self.assertEqual(self.item().state, DONE)
        self.assertIn("squeezed at the table", self.item().words)
