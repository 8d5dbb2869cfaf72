"""The bench: edits, undo, stale forms, tries, comparing; and the card."""

import re

from django.urls import reverse

from bench import actions
from bench.models import Bench, Try
from bench.sight import compare, look
from nutrition.dish.cooking import RINSED
from nutrition.dish.naming import description_of
from nutrition.food.table import foods
from people.regimen import regimen_of
from tests.web.base import PracticeTest, make_person, make_recipe
from ui import rails

HTMX = {"HX-Request": "true"}


class BenchTest(PracticeTest):
    def edit(self, act, version=None, **data):
        self.attempt.refresh_from_db()
        url = reverse("bench:edit", args=[self.bench.pk, self.attempt.pk])
        data = {"act": act, "version": self.attempt.version if version is None else version} | data
        return self.client.post(url, data, headers=HTMX)

    def step(self):
        self.attempt.refresh_from_db()
        return actions.standing_edit(self.attempt)

    def sight(self, **kwargs):
        return look(self.bench, self.step(), regimen_of(self.person).eater, attempt=self.attempt, **kwargs)

    def key(self, text):
        return next(row.key for row in self.bench.written.lines if row.text == text)


class Edits(BenchTest):
    def test_amount_moves_line_gate_and_total_together(self):
        before = self.sight().gauges[0].verdict
        response = self.edit("amount", line=self.key("1 tsp salt"), amount="¼ tsp")
        after = self.sight().gauges[0].verdict
        self.assertAlmostEqual(before.amount - after.amount, 4.5 * 387.58 / 4, delta=2)
        self.assertContains(response, rails.holds(after))
        self.assertContains(response, "less")
        self.assertContains(response, 'id="workspace"')

    def test_food(self):
        food = foods().by_description("Stock, chicken, unsalted")
        self.edit("food", line=self.key("4 cups chicken stock"), food_id=food.id)
        row = next(r for r in self.sight().threads if r.key == self.key("4 cups chicken stock"))
        self.assertEqual(
            (row.change, description_of(row.now), row.now.grams), ("swapped", food.description, row.written.grams)
        )

    def test_what_decides_stands_at_each_food_a_line_may_be(self):
        self.edit("add", text="100 g butter")
        key = self.sight().threads[-1].key
        page = self.client.get(self.attempt.get_absolute_url(), {"line": key})
        for words in ("645 mg sodium", "11 mg sodium"):
            self.assertContains(page, words)

    def test_drop_add_put_back(self):
        salt = self.key("1 tsp salt")
        self.edit("drop", line=salt)
        self.assertEqual(next(r.change for r in self.sight().threads if r.key == salt), "dropped")
        self.edit("add", text="1 tbsp lemon juice")
        self.assertEqual(self.sight().threads[-1].change, "added")
        self.edit("put_back", line=salt)
        rows = self.sight().threads
        self.assertEqual([r.change for r in rows], ["kept"] * 5 + ["added"])
        self.assertEqual([r.key for r in self.step().dish.lines], [f"w{i}" for i in range(5)] + ["n1"])

    def test_draining(self):
        line = self.key("1 (400 g) can chickpeas")
        self.assertContains(self.client.get(self.attempt.get_absolute_url(), {"line": line}), RINSED)
        self.edit("state", line=line, state=RINSED)
        row = next(r for r in self.sight().threads if r.key == line)
        self.assertEqual(([words for _, words, stands in row.states if stands], row.now.grams), ([RINSED], 240.0))

    def test_retype(self):
        line = self.key("2 carrots")
        self.edit("retype", line=line, text="300 g parsnips")
        row = next(r for r in self.sight().threads if r.key == line)
        self.assertEqual((description_of(row.now), row.now.grams), ("Parsnips, raw", 300.0))

    def test_servings(self):
        heavy = self.sight().now.serving_grams
        self.edit("serves", serves="8")
        self.assertAlmostEqual(self.sight().now.serving_grams, heavy / 2)
        self.assertEqual(self.sight().serving_changed, -50)

    def test_the_words_of_an_offer_stand_apart(self):
        """What follows the name of an offer (what it is made of, minutes, warnings) begins with a space on the page."""
        seen = 0
        for line in self.recipe.dish.lines:
            page = self.client.get(self.attempt.get_absolute_url(), {"line": line.key}).content.decode()
            for words in re.findall(r'<span class="offer-text">(.*?)<span class="fence">', page, re.S):
                seen += words.count('<span class="small')
                self.assertNotRegex(words, r'\S<span class="small')
        self.assertGreater(seen, 3)

    def test_doubtful_line_offers_what_it_may_be(self):
        response = self.client.get(self.attempt.get_absolute_url(), {"line": self.key("4 cups chicken stock")})
        self.assertContains(response, "Stock, chicken, unsalted")
        self.assertContains(response, "Salted, reduced sodium or unsalted?")

    def test_refusals_say_why_and_keep_what_was_typed(self):
        salt = self.key("1 tsp salt")
        for act, data, words in (
            ("amount", {"line": salt, "amount": "-5"}, "below zero"), ("amount", {"line": salt, "amount": "0"}, "above 0"),
            ("amount", {"line": salt, "amount": "1000000000 cups"}, "not understood"), ("amount", {"line": "w99", "amount": "5"}, "not in this try"),
            ("food", {"line": salt, "food_id": "none"}, "Search for it again"), ("add", {"text": " "}, "Nothing was typed"),
            ("add", {"text": "y" * 900}, "at most 300"), ("state", {"line": salt, "state": "rinsed"}, "cannot be"),
            ("serves", {"serves": "0"}, "cannot be"), ("serves", {"serves": "lots"}, "not a number"), ("dance", {}, "not understood"),
            ("undo", {}, "nothing left to undo"), ("put_back", {"line": "n1"}, "nothing written"),
        ):  # fmt: skip
            with self.subTest(act=act, **data):
                response = self.edit(act, **data)
                self.assertContains(response, words, status_code=422)
                if act in ("amount", "add") and data.get("line") != "w99":
                    self.assertContains(
                        response, f'value="{next(v for k, v in data.items() if k != "line")}"', status_code=422
                    )
        self.assertEqual(self.step().number, 0)

    def test_last_line_stays(self):
        for row in self.bench.written.lines[:-1]:
            self.edit("drop", line=row.key)
        self.assertContains(self.edit("drop", line=self.bench.written.lines[-1].key), "last line", status_code=422)

    def test_without_scripts_the_same_address_serves(self):
        url = reverse("bench:edit", args=[self.bench.pk, self.attempt.pk])
        data = {"act": "drop", "line": self.key("1 tsp salt"), "version": self.attempt.version}
        self.assertRedirects(self.client.post(url, data), self.attempt.get_absolute_url())


class UndoAndStale(BenchTest):
    def test_undo_redo_across_reloads(self):
        salt = self.key("1 tsp salt")
        self.edit("amount", line=salt, amount="3 g")
        self.edit("amount", line=salt, amount="1 g")
        grams = lambda: next(r.grams for r in self.step().dish.lines if r.key == salt)  # noqa: E731
        self.edit("undo")
        self.assertEqual(grams(), 3)
        self.edit("undo")
        self.assertEqual(grams(), 6)
        self.edit("redo")
        self.assertEqual(grams(), 3)
        self.edit("amount", line=salt, amount="2 g")
        self.assertContains(self.edit("redo"), "nothing to do again", status_code=422)

    def test_a_stale_form_is_refused_with_both_texts(self):
        salt = self.key("1 tsp salt")
        old = self.attempt.version
        self.edit("amount", line=salt, amount="3 g")
        response = self.edit("amount", version=old, line=salt, amount="½ tsp")
        self.assertContains(response, "changed elsewhere", status_code=409)
        self.assertContains(response, "½ tsp", status_code=409)
        self.assertEqual(next(r.grams for r in self.step().dish.lines if r.key == salt), 3)
        self.assertEqual(self.edit("undo", version=old).status_code, 409)
        self.assertEqual(self.edit("amount", version="x", line=salt, amount="1").status_code, 409)


class Tries(BenchTest):
    def test_branch_keep_finish(self):
        self.edit("drop", line=self.key("1 tsp salt"))
        self.client.post(reverse("bench:branch", args=[self.bench.pk, self.attempt.pk]))
        second = Try.objects.latest("pk")
        self.assertEqual((second.parent, len(actions.standing_edit(second).dish.lines)), (self.attempt, 4))
        self.client.post(reverse("bench:branch", args=[self.bench.pk, second.pk]), {"from": "written"})
        self.assertEqual(len(actions.standing_edit(Try.objects.latest("pk")).dish.lines), 5)
        url = reverse("bench:keep", args=[self.bench.pk, second.pk])
        self.client.post(url, {"name": "No salt", "notes": "Flat.", "finished": "yes"})
        second.refresh_from_db()
        self.assertEqual((second.name, second.notes, second.is_finished), ("No salt", "Flat.", True))
        self.assertContains(self.client.get(reverse("today")), "Flat.")

    def test_taking_the_same_dish_again_finds_its_bench(self):
        data = {"recipe": self.recipe.pk, "person": self.person.pk, "meal": "lunch"}
        self.assertRedirects(self.client.post(reverse("bench:take"), data), self.attempt.get_absolute_url())
        self.assertEqual(Bench.objects.count(), 1)

    def test_meal(self):
        dinner = self.sight().gauges[0].verdict.gate.high.limit
        self.client.post(reverse("bench:meal", args=[self.bench.pk]), {"meal": "snack", "try": self.attempt.pk})
        self.bench.refresh_from_db()
        self.assertAlmostEqual(self.sight().gauges[0].verdict.gate.high.limit, dinner / 3.5)

    def test_compare_warns_of_a_smaller_serving(self):
        self.edit("serves", serves="8")
        url = reverse("bench:compare", args=[self.bench.pk, self.attempt.pk])
        self.assertContains(self.client.get(url), "only a smaller serving")
        sight = self.sight()
        for row in compare(sight.written, sight.now, "100g"):
            self.assertAlmostEqual(row.written, row.now, places=6)
        sodium = next(r for r in compare(sight.written, sight.now) if r.nutrient.key == "sodium_mg")
        self.assertEqual(sodium.percent, -50)
        self.assertContains(self.client.get(url, {"per": "100g"}), "100 g of the dish")

    def test_person_without_targets(self):
        nobody = make_person(self.ana, "Nil", {})
        _, attempt = actions.take_to_bench(self.recipe, nobody, "dinner", self.ana)
        self.assertContains(self.client.get(attempt.get_absolute_url()), "has no target yet")
        self.assertContains(self.client.get(reverse("handouts:card", args=[attempt.pk])), "No limit is set")


class Card(BenchTest):
    def test_amounts_on_the_card_are_those_of_the_try(self):
        self.edit("amount", line=self.key("1 tsp salt"), amount="½ tsp")
        response = self.client.get(reverse("handouts:card", args=[self.attempt.pk]))
        self.assertContains(response, "½ tsp salt")
        self.assertNotContains(response, "1 tsp salt")
        self.assertContains(response, "Salt: 3.0 g instead of 6.0 g")

    def test_says_drafts_open_questions_and_who_confirmed(self):
        url = reverse("handouts:card", args=[self.attempt.pk])
        self.assertContains(self.client.get(url), "1 of 1 limits below has not been confirmed")
        self.assertContains(self.client.get(url), "Not settled:")
        self.client.post(reverse("people:confirm_all", args=[self.person.pk]))
        self.assertContains(self.client.get(url), "Limits confirmed by Ana, RD")

    def test_lines_that_do_not_count_are_named(self):
        self.edit("add", text="2 tbsp zhoug")
        self.assertContains(self.client.get(reverse("handouts:card", args=[self.attempt.pk])), "Not counted:")

    def test_pdf(self):
        response = self.client.get(reverse("handouts:card_pdf", args=[self.attempt.pk]))
        self.assertEqual(response["Content-Type"], "application/pdf")
        self.assertTrue(response.content.startswith(b"%PDF-"))
        self.assertGreater(len(response.content), 8000)
        self.assertIn("barley-soup-imre.pdf", response["Content-Disposition"])


class Rails(BenchTest):
    def verdict(self):
        return self.sight().gauges[0].verdict

    def test_posts_stand_in_one_line(self):
        places = set()
        for serves in ("2", "4", "30"):
            self.edit("serves", serves=serves)
            places.add(rails.rail(self.verdict()).high_post)
        self.assertEqual(len(places), 1)

    def test_words(self):
        self.assertRegex(rails.margin(self.verdict()), r"^[\d,]+ over$")
        self.edit("serves", serves="30")
        self.assertRegex(rails.margin(self.verdict()), r"^[\d,]+ to spare$")
        self.edit("add", text="2 tbsp zhoug")
        self.assertEqual(self.verdict().state, "unsure")
        self.assertEqual(rails.margin(self.verdict()), "1 line without food or weight")
        self.assertIn("+", rails.holds(self.verdict()))

    def test_a_plus_only_where_it_can_be_seen(self):
        self.edit("serves", serves="12")
        for line in self.step().dish.lines:
            if line.sure == "check":  # what is still open is drawn as long as it could be
                self.edit("food", line=line.key, food_id=line.food_id)
        self.edit("add", text="handful of fresh coriander")
        self.assertNotIn("+", rails.holds(self.verdict()))
        self.assertIsNone(rails.rail(self.verdict()).unknown_from)
        self.edit("add", text="salt to taste")
        self.assertIn("+", rails.holds(self.verdict()))
        self.assertIsNotNone(rails.rail(self.verdict()).unknown_from)

    def test_off_the_rail_gets_a_factor(self):
        self.edit("serves", serves="1")
        drawn = rails.rail(self.verdict(), written=10_000)
        self.assertTrue(drawn.value_factor.startswith("×"))
        self.assertTrue(drawn.written_factor.startswith("×"))
        self.assertLessEqual(drawn.value, drawn.size.width)


class NotesInTwoTabs(PracticeTest):
    def test_notes_written_elsewhere_are_not_written_over(self):
        keep = reverse("bench:keep", args=[self.bench.pk, self.attempt.pk])
        seen = self.attempt.kept_stamp
        typed = {"name": "Less salt", "cooked": "", "seen": seen}
        self.assertEqual(self.client.post(keep, typed | {"notes": "needs lemon"}).status_code, 302)
        answer = self.client.post(keep, typed | {"notes": "needs mint"})
        self.assertContains(answer, "needs mint", status_code=409)
        self.assertContains(answer, "needs lemon", status_code=409)
        self.attempt.refresh_from_db()
        self.assertEqual(self.attempt.notes, "needs lemon")

    def test_a_refused_name_is_kept_in_its_box(self):
        keep = reverse("bench:keep", args=[self.bench.pk, self.attempt.pk])
        answer = self.client.post(keep, {"name": "Softer", "notes": "", "cooked": "heavy"})
        self.assertContains(answer, 'value="Softer"', status_code=422)


class PutAway(PracticeTest):
    def test_out_of_the_way_and_back(self):
        url, name = reverse("bench:put_away", args=[self.bench.pk]), str(self.bench.recipe)
        self.assertContains(self.client.get("/bench/"), self.bench.get_absolute_url())
        self.client.post(url)
        self.assertNotContains(self.client.get("/bench/"), self.bench.get_absolute_url())
        self.assertNotContains(self.client.get("/"), self.attempt.get_absolute_url())
        away = self.client.get("/bench/?away=1")
        self.assertContains(away, name)
        self.assertEqual(self.client.get(self.attempt.get_absolute_url()).status_code, 200)
        self.client.post(url, {"back": "1"})
        self.assertContains(self.client.get("/bench/"), self.bench.get_absolute_url())

    def test_taken_again_it_is_on_the_bench(self):
        actions.put_away(self.bench, self.ana)
        again, _ = actions.take_to_bench(self.recipe, self.person, "dinner", self.ana)
        self.assertEqual((again.pk, again.put_away_at), (self.bench.pk, None))

    def test_whom_one_worked_with_last_is_chosen(self):
        other = make_person(self.ana, "Zora", {"heart": {}})
        _, attempt = actions.take_to_bench(self.recipe, other, "dinner", self.ana)
        for each, person in ((self.attempt, self.person), (attempt, other)):
            self.client.get(each.get_absolute_url())
            for page in ("/bench/", self.recipe.get_absolute_url()):
                self.assertRegex(self.client.get(page).content.decode(), rf'value="{person.pk}"\s+selected>')


class Reminders(PracticeTest):
    def test_one_stands_at_the_line_that_gave_cause(self):
        line = next(row for row in self.bench.written.lines if "stock" in row.text)
        substitute = foods().by_description("Salt substitute, potassium chloride").id
        actions.set_food(self.attempt, self.attempt.version, line.key, substitute, self.ana)
        page = self.client.get(f"{self.attempt.get_absolute_url()}?line={line.key}")
        self.assertEqual(list(page.context["sight"].raised), [line.key])
        self.assertContains(page, '<p class="caution small">')
        self.assertContains(page, "mind</span>")


class Fence(PracticeTest):
    def test_what_is_shut_stands_first(self):
        states = [
            gauge.verdict.state for gauge in self.client.get(self.attempt.get_absolute_url()).context["sight"].fence
        ]
        self.assertEqual(states, sorted(states, key=("shut", "unsure", "open").index))
        self.assertIn("shut", states)


class Roles(PracticeTest):
    def test_a_salad_comes_to_the_bench_as_one_and_can_be_told_otherwise(self):
        recipe = make_recipe(self.ana, "Carrot salad\nServes 4\n500 g carrots, grated\n2 tbsp olive oil\nMethod\nToss.")
        bench, attempt = actions.take_to_bench(recipe, self.person, "dinner", self.ana)
        self.assertEqual(bench.role, "salad")
        page = self.client.get(attempt.get_absolute_url())
        self.assertContains(page, "leaves")
        self.assertTrue(all(gauge.verdict.gate.low is None for gauge in page.context["sight"].gauges))
        self.client.post(reverse("bench:meal", args=[bench.pk]), {"meal": "dinner", "role": "whole", "try": attempt.pk})
        bench.refresh_from_db()
        self.assertEqual((bench.meal, bench.role), ("dinner", "whole"))
        self.client.post(
            reverse("bench:meal", args=[bench.pk]), {"meal": "lunch", "role": "nonsense", "try": attempt.pk}
        )
        bench.refresh_from_db()
        self.assertEqual((bench.meal, bench.role), ("lunch", "whole"))

    def test_the_card_is_held_to_the_same(self):
        self.bench.role = "side"
        self.bench.save()
        page = self.client.get(reverse("handouts:card", args=[self.attempt.pk]))
        self.assertContains(page, "at dinner, as side")
