"""What the judge says reaches every screen and paper: additions, what is kept out, told steps, cards that stand no more."""

from datetime import date

from django.urls import reverse

from bench import actions
from handouts import actions as handout_actions
from handouts.card import build
from handouts.checklist import BLOCKED, DONE, checklist, readiness_of
from meals import actions as actions_of_meals
from meals.models import Occasion
from nutrition.reading.page import from_text
from nutrition.reading.whole import whole_dish
from people.models import Person
from recipes import actions as recipe_actions
from tests.web.base import PracticeTest, finished_cook, made_release, make_person, make_recipe
from tests.web.test_bench import HTMX

#: Nobody lists the butter and the cream; the salt is listed, the oil too.
BARE = (
    "Leek potatoes\nServes 4\n800 g potatoes\n2 leeks\n1 tbsp olive oil\n1/2 tsp salt\nMethod\n"
    "1. Soften the leeks in the oil.\n2. Add the potatoes, cover with water and simmer for 20 minutes.\n"
    "3. Mash with butter and a splash of cream, and salt it."
)


class Added(PracticeTest):
    """A dish whose steps add what no line lists, on the bench of somebody without milk."""

    def setUp(self):
        super().setUp()
        self.noor = make_person(self.ana, "Noor", {"free-of:milk": {}, "low-sodium": {}})
        self.dish = make_recipe(self.ana, BARE)
        self.bench_, self.try_ = actions.take_to_bench(self.dish, self.noor, "dinner", self.ana)

    def edit(self, act, **data):
        self.try_.refresh_from_db()
        url = reverse("bench:edit", args=[self.bench_.pk, self.try_.pk])
        return self.client.post(url, {"act": act, "version": self.try_.version, **data}, headers=HTMX)

    def standing(self):
        self.try_.refresh_from_db()
        return actions.standing_edit(self.try_).dish

    def added(self):
        return [line.text for line in whole_dish(self.standing()).added]

    def key(self, words):
        return next(line.key for line in whole_dish(self.standing()).added if line.text == words)

    def test_it_stands_on_the_bench_and_is_counted_nowhere(self):
        page = self.client.get(self.try_.get_absolute_url())
        self.assertContains(page, "adds <b>butter</b>")
        self.assertContains(page, "no line lists it")
        self.assertEqual(self.added(), ["butter", "cream"])
        self.assertEqual(len(self.standing().listed.lines), 4)

    def test_typed_it_is_a_line_like_any(self):
        self.edit("retype", line=self.key("butter"), text="30 g butter")
        self.assertEqual(self.added(), ["cream"])
        line = self.standing().listed.lines[-1]
        self.assertEqual((line.text, line.grams, line.step), ("30 g butter", 30, 0))

    def test_an_amount_is_enough(self):
        self.edit("amount", line=self.key("cream"), amount="50 g")
        self.assertEqual((self.added(), self.standing().listed.lines[-1].grams), (["butter"], 50))

    def test_waved_off_with_a_word_and_undone(self):
        self.assertEqual(self.edit("wave_off", line=self.key("cream"), why="  ").status_code, 422)
        self.assertEqual(self.added(), ["butter", "cream"])
        answer = self.edit("wave_off", line=self.key("cream"), why="a serving suggestion")
        self.assertContains(answer, "Not in it, though a step names it: cream (a serving suggestion).")
        self.assertEqual(self.added(), ["butter"])
        self.edit("undo")
        self.assertEqual(self.added(), ["butter", "cream"])

    def test_the_checklist_waits_for_it(self):
        def steps():
            self.try_.refresh_from_db()
            ready = readiness_of(self.try_)
            return next(item for item in checklist(build(self.try_, ready), ready).items if item.key == "steps")

        self.assertEqual(steps().state, BLOCKED)
        self.assertIn("butter", steps().words)
        self.edit("retype", line=self.key("butter"), text="30 g margarine")
        self.assertIn("Mash with margarine", self.standing().steps[2])
        self.edit("wave_off", line=self.key("cream"), why="left away")
        self.assertEqual((steps().state, steps().words), (DONE, "Every food the steps name stands in a line."))

    def test_after_a_swap_the_steps_stored_are_told_anew(self):
        oil = next(line for line in self.standing().lines if line.text == "1 tbsp olive oil")
        self.edit("retype", line=oil.key, text="1 tbsp sunflower oil")
        self.assertIn("sunflower oil", self.standing().steps[0])
        self.assertEqual(self.dish.dish.steps[0], "Soften the leeks in the oil.")


class Reading(PracticeTest):
    """The page of a recipe that is being read in."""

    def setUp(self):
        super().setUp()
        self.drawn = recipe_actions.bring_in(from_text(BARE), BARE, self.ana)
        self.page = reverse("recipes:reading", args=[self.drawn.pk])

    def wave(self, **typed):
        return self.client.post(reverse("recipes:wave_off", args=[self.drawn.pk]), typed)

    def waved(self):
        self.drawn.refresh_from_db()
        return self.drawn.waved

    def test_what_the_steps_add_is_shown(self):
        for words in ("butter", "cream"):
            self.assertContains(self.client.get(self.page), f"<b>{words}</b>")

    def test_it_is_waved_off_with_a_word(self):
        refused = self.wave(added="butter", why=" ")
        self.assertEqual((refused.status_code, self.waved()), (422, []))
        self.assertRedirects(self.wave(added="butter", why="margarine in fact"), self.page)
        self.assertEqual(self.waved(), [["butter", "margarine in fact"]])
        self.assertContains(self.client.get(self.page), "margarine in fact")

    def test_a_line_for_it_settles_it_too(self):
        page = self.client.get(self.page)
        seen = self.drawn.words_stamp
        typed = {"seen": seen, "words": self.drawn.words, "steps": self.drawn.step_words, "add": "30 g butter"}
        self.assertContains(page, seen)
        self.client.post(reverse("recipes:rewrite", args=[self.drawn.pk]), typed)
        self.drawn.refresh_from_db()
        self.assertEqual([line.text for line in whole_dish(self.drawn.dish).added], ["cream"])

    def test_only_what_a_step_adds(self):
        self.assertEqual(self.wave(added="saffron", why="none").status_code, 422)
        self.assertEqual(self.waved(), [])


class Allergies(PracticeTest):
    """A listed allergen written down in words is asked for as a tick, once."""

    def save(self, **typed):
        return self.client.post(reverse("people:add"), {"name": "Wanda", **typed})

    def test_asked_then_ticked(self):
        asked = self.save(allergies="walnuts, strawberries")
        self.assertEqual(asked.status_code, 422)
        self.assertContains(asked, "walnuts", status_code=422)
        self.assertFalse(Person.objects.filter(name="Wanda").exists())
        form = asked.context["form"]
        ticks = form.data.getlist("allergy_ticks")
        self.assertTrue(ticks)
        self.save(allergies="walnuts, strawberries", was_asked="on", allergy_ticks=ticks)
        wanda = Person.objects.get(name="Wanda")
        self.assertEqual([choice.key for choice in wanda.plans.all()], ticks)

    def test_the_note_alone_still_binds(self):
        self.save(allergies="milk", was_asked="on")
        wanda = Person.objects.get(name="Wanda")
        self.assertEqual(list(wanda.plans.all()), [])
        drawn = make_recipe(self.ana, BARE.replace("1 tbsp olive oil", "1 tbsp butter"))
        attempt = actions.take_to_bench(drawn, wanda, "dinner", self.ana)[1]
        sight = build(attempt, readiness_of(attempt)).sight
        self.assertEqual([(item.tag, item.state) for item in sight.sheet.avoided], [("milk", "shut")])
        self.assertContains(self.client.get(wanda.get_absolute_url()), "milk")


class OverAWeek(PracticeTest):
    """A reminder stands once under the week, with every dish that gives cause; what is kept out stands on its papers."""

    def test_each_reminder_is_said_once(self):
        imre = make_person(self.ana, "Ida", {"free-of:milk": {}}, circumstances=["warfarin"])
        for day, greens in ((1, "400 g kale"), (2, "400 g spinach")):
            text = f"{greens} pan\nServes 2\n{greens}\n1 tbsp olive oil\nMethod\nFry the greens in the oil."
            recipe, dinner = (
                make_recipe(self.ana, text),
                actions_of_meals.begin_for(imre, date(2027, 3, day), "dinner", self.ana),
            )
            actions_of_meals.add_recipe(Occasion.objects.get(pk=dinner.pk), None, recipe)
        page = self.client.get(reverse("meals:week_from", args=[imre.pk, "2027-03-01"]))
        [minds] = page.context["sight"].minds.values()
        self.assertEqual(minds, ["400 g kale pan", "400 g spinach pan"])
        self.assertContains(page, "Rich in vitamin K", count=1)
        self.assertContains(page, 'href="#to-mind"', count=2)
        for paper in ("sheet", "calendar", "shopping"):
            answer = self.client.get(reverse(f"meals:{paper}", args=[imre.pk, "2027-03-01"]))
            self.assertIn("Keeps out: milk", answer.content.decode().replace("\r\n ", ""), paper)


class Papers(PracticeTest):
    """What is kept out stands first; a card that stands no more says so in its body."""

    def setUp(self):
        super().setUp()
        self.noor = make_person(self.ana, "Noor", {"free-of:milk": {}, "low-sodium": {}}, allergies="kiwi")
        _, attempt = actions.take_to_bench(make_recipe(self.ana), self.noor, "dinner", self.ana)
        self.cooked = finished_cook(attempt, self.ana, {"kind": "spent", "key": "salt", "grams": 1.0, "step": 1}).result

    def test_kept_out_comes_first(self):
        body = self.client.get(reverse("handouts:card", args=[self.cooked.pk])).content.decode()
        said = body.index("card-keeps-out")
        self.assertIn("milk", body[said : said + 300])
        self.assertIn("kiwi", body[said : said + 300])
        self.assertLess(said, body.index("<h2>"))

    def test_a_recalled_card_says_so_on_every_paper(self):
        release = made_release(self.cooked, self.ana)
        opened = reverse("handouts:public", args=[handout_actions.give_link(release, 7, "Noor", self.ana)[1]])
        self.assertNotContains(self.client.get(opened), "card-recalled")
        handout_actions.recall(release, "Cumin held peanut.", self.ana)
        release.refresh_from_db()
        self.assertIn("card-recalled", release.stamped())
        self.assertNotIn("card-recalled", release.body)
        self.assertContains(self.client.get(reverse("handouts:released", args=[release.pk])), "card-recalled")
        self.assertContains(self.client.get(opened), "Do not cook from this card any more", status_code=410)

    def test_a_replaced_card_says_so_on_every_paper(self):
        release = made_release(self.cooked, self.ana)
        opened = reverse("handouts:public", args=[handout_actions.give_link(release, 7, "Noor", self.ana)[1]])
        handout_actions.release(self.cooked, self.ana)
        release.refresh_from_db()
        for address in (reverse("handouts:released", args=[release.pk]), opened):
            self.assertContains(self.client.get(address), "card-recalled")
            self.assertContains(self.client.get(address), "Outdated: card 2 has taken its place.")
