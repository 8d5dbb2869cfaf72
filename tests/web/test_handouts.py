"""Release: nothing goes out unchecked, nothing that went out changes, a link opens one card and nothing else."""

import re
import zlib
from datetime import timedelta

from django.db import DatabaseError, transaction
from django.http import QueryDict
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from bench import actions as bench_actions
from handouts import actions
from handouts.card import build
from handouts.checklist import BLOCKED, DONE, TO_DO, checklist, label_rows, readiness_of
from handouts.forms import LayoutForm, LinkForm, ReadinessForm
from handouts.layout import layout_of
from handouts.models import HandoutLink, Release
from nutrition.notes import Problem
from people import actions as people_actions
from tests.web.base import PracticeTest, finished_cook, made_release, make_person, make_recipe, sure_of


def page_width(pdf):
    """Points across a page, wherever the PDF keeps that."""
    streams = re.findall(rb"stream\r?\n(.*?)\r?\nendstream", pdf, re.S)
    plain = pdf + b"".join(zlib.decompressobj().decompress(each) for each in streams if each[:1] == b"\x78")
    return round(float(re.search(rb"/MediaBox\s*\[\s*0\s+0\s+([\d.]+)", plain)[1]))


class Ready(PracticeTest):
    def setUp(self):
        super().setUp()
        self.cook = finished_cook(self.attempt, self.ana, {"kind": "spent", "key": "salt", "grams": 1.0, "step": 1})
        self.cooked = self.cook.result
        self.url = reverse("handouts:release", args=[self.cooked.pk])

    def items(self, attempt=None):
        attempt = attempt or self.cooked
        ready = readiness_of(attempt)
        return {item.key: item for item in checklist(build(attempt, ready), ready).items}

    def make_sure(self, attempt, typed):
        form = QueryDict(mutable=True)
        form.update(typed)
        return actions.make_sure(attempt, ReadinessForm(form).made_sure(), self.ana)

    def confirm(self):
        for target in self.person.targets.all():
            people_actions.confirm(target, self.ana)


class Layouts(Ready):
    def headings(self):
        page = self.client.get(reverse("handouts:card", args=[self.cooked.pk])).content.decode()
        return re.findall(r"<h2>([^<]*)</h2>", page)

    def lay_out(self, **chosen):
        url = reverse("handouts:lay_out", args=[self.person.pk])
        form = LayoutForm(layout=layout_of(self.person))
        data = {name: form[name].initial for name in form.fields}
        data = {name: "on" if value is True else value for name, value in (data | chosen).items() if value is not False}
        self.person.refresh_from_db()
        return self.client.post(url, data | {"version": self.person.version})

    def test_as_usual_nothing_changes(self):
        before = self.headings()
        self.assertEqual(self.lay_out().status_code, 302)
        self.assertEqual(self.headings(), before)

    def test_parts_go_and_change_places(self):
        self.assertIn("Shopping list", self.headings())
        self.lay_out(**{"on-shopping": False, "at-allergens": 1, "at-steps": 2})
        found = self.headings()
        self.assertNotIn("Shopping list", found)
        self.assertLess(found.index("Allergens"), found.index("Steps"))

    def test_what_warns_cannot_be_left_out(self):
        self.person.card = {"off": ["allergens", "care", "keeping", "steps", "shopping", "of another version"]}
        self.assertEqual(layout_of(self.person).off, {"shopping"})

    def test_whose_rules_are_quoted(self):
        self.assertIn("FDA Food Code", self.card_text())
        self.lay_out(region="eu", look="large")
        text = self.card_text()
        self.assertNotIn("FDA Food Code", text)
        self.assertIn("UK Food Standards Agency", text)
        self.assertIn("75 °C", text)
        self.assertIn("card-large", text)

    def card_text(self):
        return self.client.get(reverse("handouts:card", args=[self.cooked.pk])).content.decode()

    def test_an_old_page_lays_nothing_out(self):
        old = self.person.version
        self.lay_out(region="eu")
        url = reverse("handouts:lay_out", args=[self.person.pk])
        self.assertEqual(self.client.post(url, {"region": "us", "version": old}).status_code, 409)
        self.person.refresh_from_db()
        self.assertEqual(self.person.card["region"], "eu")


class TheChecklist(Ready):
    def test_a_plan_does_not_go_out(self):
        self.assertEqual(self.items(self.attempt)["cooked"].state, BLOCKED)

    def test_as_planned_it_goes_out_and_says_so_until_it_was_cooked(self):
        self.confirm()
        ready = self.make_sure(self.attempt, sure_of(self.attempt, as_planned="on"))
        self.assertTrue(ready.is_as_planned)
        self.assertEqual(self.items(self.attempt)["cooked"].state, DONE)
        release = made_release(self.attempt, self.ana, as_planned="on")
        self.assertIn("As planned, not cooked yet", release.body)
        today = self.client.get(reverse("today"))
        self.assertContains(today, "Out as planned, nobody has cooked it yet")
        finished_cook(self.attempt, self.ana)
        self.assertNotContains(self.client.get(reverse("today")), "Out as planned, nobody has cooked it yet")

    def test_a_cooked_dish_never_says_as_planned(self):
        self.confirm()
        release = made_release(self.cooked, self.ana, as_planned="on")
        self.assertNotIn("As planned", release.body)

    def test_changed_since_it_was_cooked(self):
        key = self.sodium_line(self.cooked).key
        bench_actions.set_amount(self.cooked, self.cooked.version, key, "5 g", self.ana)
        self.cooked.refresh_from_db()
        self.assertEqual(self.items()["cooked"].state, BLOCKED)

    def test_saying_which_food_it_was_is_no_change(self):
        row = next(row for row in self.cooked.edits.get().dish.lines if row.others)
        bench_actions.set_food(self.cooked, self.cooked.version, row.key, row.others[0], self.ana)
        self.cooked.refresh_from_db()
        self.assertEqual(self.items()["cooked"].state, DONE)
        bench_actions.set_food(self.cooked, self.cooked.version, row.key, "curated:quark-low-fat", self.ana)
        self.cooked.refresh_from_db()
        self.assertEqual(self.items()["cooked"].state, BLOCKED)

    def test_each_item_has_its_own_state(self):
        items = self.items()
        self.assertEqual(
            {key: items[key].state for key in ("cooked", "labels", "portion", "keeping", "targets")},
            {"cooked": DONE, "labels": TO_DO, "portion": TO_DO, "keeping": TO_DO, "targets": BLOCKED},
        )
        self.confirm()
        self.assertEqual(self.items()["targets"].state, DONE)

    def test_a_gate_that_is_not_open_needs_a_reason(self):
        person = make_person(self.ana, "Lena", {"low-sodium": {"sodium": "aha"}})
        _, attempt = bench_actions.take_to_bench(self.recipe, person, "dinner", self.ana)
        cooked = finished_cook(attempt, self.ana).result
        self.assertEqual(self.items(cooked)["gates"].state, TO_DO)
        self.make_sure(cooked, {"accept-sodium_mg": "a feast day, agreed with the clinic"})
        self.assertEqual(self.items(cooked)["gates"].state, DONE)
        limits = {gauge.nutrient: words for gauge, words in build(cooked, readiness_of(cooked)).limits}
        self.assertRegex(limits["sodium_mg"], r"^outside the limit of at most 525 mg: [\d,]+ mg over$")
        self.make_sure(cooked, {"prints_reasons": "on"})
        limits = {gauge.nutrient: words for gauge, words in build(cooked, readiness_of(cooked)).limits}
        self.assertTrue(limits["sodium_mg"].endswith("over; accepted: a feast day, agreed with the clinic"))

    def test_what_is_kept_out_is_never_accepted(self):
        person = make_person(self.ana, "Lena", {"gluten-free": {}})
        _, attempt = bench_actions.take_to_bench(self.recipe, person, "dinner", self.ana)
        cooked = finished_cook(attempt, self.ana).result
        self.make_sure(cooked, {"accept-gluten": "only a little"})
        self.assertEqual(self.items(cooked)["gates"].state, BLOCKED)
        self.assertIn("Gluten: contains", self.items(cooked)["gates"].words)

    def test_a_label_that_names_what_is_kept_out(self):
        person = make_person(self.ana, "Lena", {"free-of:celery": {}})
        _, attempt = bench_actions.take_to_bench(self.recipe, person, "dinner", self.ana)
        cooked = finished_cook(attempt, self.ana).result
        stock = next(row.key for row in cooked.edits.get().dish.lines if "stock" in row.text)
        self.assertEqual(self.items(cooked)["labels"].state, TO_DO)
        form = sure_of(cooked)
        form.setlist(f"holds-{stock}", ["celery"])
        self.make_sure(cooked, form)
        self.assertEqual(self.items(cooked)["label-holds"].state, BLOCKED)
        self.make_sure(cooked, sure_of(cooked))
        self.assertNotIn("label-holds", self.items(cooked))

    def test_each_label_is_read_for_what_it_may_hold_itself(self):
        text = "Crumb pot\nServes 2\n2 tsp Dijon mustard\n1 cup bread crumbs\n1 carrot\nMethod\nBake it."
        _, attempt = bench_actions.take_to_bench(make_recipe(self.ana, text), self.person, "dinner", self.ana)
        rows = {row.name: " ".join(map(str, row.look_for)) for row in label_rows(build(attempt), readiness_of(attempt))}
        self.assertNotIn("baked product", rows["2 tsp Dijon mustard"])
        self.assertIn("baked product", rows["1 cup bread crumbs"])

    def test_a_noted_allergy_that_a_line_names(self):
        person = make_person(self.ana, "Lena", {"low-sodium": {}}, allergies="severe: kiwi", dislikes="leeks")
        recipe = make_recipe(self.ana, "Kiwi and leek pot\nServes 2\n2 kiwis\n1 leek\nMethod\nStir.")
        bench, attempt = bench_actions.take_to_bench(recipe, person, "dinner", self.ana)
        cooked = finished_cook(attempt, self.ana).result
        item = self.items(cooked)["noted"]
        self.assertEqual(
            (item.state, item.words.split(". ")[0]), (BLOCKED, "Noted as an allergy and named here: kiwi in 2 kiwis")
        )
        page = self.client.get(reverse("bench:try", args=[bench.pk, attempt.pk]))
        self.assertContains(page, 'title="noted allergy: kiwi"')
        self.assertContains(page, 'title="will not eat leek"')
        card = self.client.get(reverse("handouts:card", args=[cooked.pk]))
        self.assertContains(card, "<b>Kiwi: named in 2 kiwis</b>", html=True)
        self.assertContains(card, "Lena will not eat leek: 1 leek.")
        person.allergies, person.dislikes = "durian", ""
        person.save()
        cooked.refresh_from_db()
        self.assertNotIn("noted", self.items(cooked))
        card = self.client.get(reverse("handouts:card", args=[cooked.pk]))
        self.assertContains(card, "Durian: named in no line")
        self.assertNotContains(card, "will not eat")

    def test_a_false_promise(self):
        self.recipe.title = "Gluten-free barley soup"
        self.recipe.save()
        self.cooked.bench.recipe.refresh_from_db()
        self.assertEqual(self.items()["claims"].state, BLOCKED)

    def test_keeping_longer_than_the_authorities_say(self):
        self.make_sure(self.cooked, {"keep_days": "9", "freeze_months": "2"})
        self.assertEqual(self.items()["keeping"].state, TO_DO)
        self.assertIn("Longer than the authorities", self.items()["keeping"].words)
        with self.assertRaisesRegex(Problem, "whole number"):
            self.make_sure(self.cooked, {"keep_days": "some", "freeze_months": "2"})

    def test_refused_while_anything_waits_and_nothing_typed_is_lost(self):
        page = self.client.post(self.url, {"portion": "two ladles", "release": "1"})
        self.assertContains(page, "Not released", status_code=422)
        self.assertContains(page, "two ladles", status_code=422)
        self.assertEqual(Release.objects.count(), 0)


class Released(Ready):
    def setUp(self):
        super().setUp()
        self.release = made_release(self.cooked, self.ana)

    def test_the_card_says_what_was_made_sure_of(self):
        page = self.client.get(self.release.get_absolute_url())
        for words in (
            "a soup plate",
            "Keeps 3 days",
            "Label read",
            "In the shop",
            "Shopping list",
            "What was changed, and why",
            "release 1",
        ):
            self.assertContains(page, words)
        self.assertContains(page, "Limits confirmed by Ana, RD")

    def test_only_a_released_card_goes_without_its_mark(self):
        preview = self.client.get(reverse("handouts:card", args=[self.cooked.pk]))
        self.assertContains(preview, "Preview, not released")
        self.assertNotContains(self.client.get(self.release.get_absolute_url()), "Preview, not released")

    def test_it_never_changes(self):
        before = self.release.body
        self.person.name = "Somebody Else"
        self.person.save()
        self.release.refresh_from_db()
        self.assertEqual(self.release.body, before)
        with self.assertRaisesRegex(DatabaseError, "never changes"), transaction.atomic():
            Release.objects.filter(pk=self.release.pk).update(body="other")

    def test_a_later_one_replaces_it_visibly(self):
        later = actions.release(self.cooked, self.ana)
        self.assertEqual(later.number, 2)
        self.assertContains(self.client.get(self.release.get_absolute_url()), "Replaced")
        self.assertNotContains(self.client.get(later.get_absolute_url()), "Replaced")

    def test_paper_in_both_sizes_and_every_print(self):
        for size, width in (("a4", 595), ("letter", 612)):
            for look in ("", "large", "plain"):
                pdf = self.client.get(
                    reverse("handouts:released_pdf", args=[self.release.pk]), {"size": size, "print": look}
                )
                self.assertEqual(pdf["Content-Type"], "application/pdf")
                self.assertEqual(page_width(pdf.content), width)

    def test_reasons_stand_beside_the_changes(self):
        card = build(self.cooked, readiness_of(self.cooked))
        salt = next((what, why) for what, why in card.changes if what.startswith("Salt"))
        self.assertIn("less sodium", salt[1])

    def test_diary(self):
        page = self.client.get(reverse("diary:diary", args=[self.bench.pk]))
        for words in ("Taken to the bench", "put on the stove", "dished up", "Release 1 went out"):
            self.assertContains(page, words)


class Links(Ready):
    def setUp(self):
        super().setUp()
        self.release = made_release(self.cooked, self.ana)
        answer = self.client.post(
            reverse("handouts:give_link", args=[self.release.pk]), {"days": "7", "for_whom": "Imre"}
        )
        self.address = re.search(r"/card/for/[\w-]+/", answer.content.decode())[0]
        self.link = HandoutLink.objects.get()
        self.client.logout()

    def test_opens_without_an_account_and_shows_the_card_only(self):
        page = self.client.get(self.address)
        self.assertContains(page, "Barley soup")
        self.assertEqual((page["Cache-Control"], page["Referrer-Policy"]), ("private, no-store", "no-referrer"))
        self.assertIn("noindex", page["X-Robots-Tag"])
        links = set(re.findall(r'(?:href|action|src)="([^"]+)"', page.content.decode()))
        inside = {link for link in links if not link.startswith(("/static/", "?print", self.address))}
        self.assertEqual(inside, set())
        self.assertEqual(self.client.get(f"{self.address}card.pdf")["Content-Type"], "application/pdf")
        self.link.refresh_from_db()
        self.assertEqual(self.link.opened, 1)

    def test_somebody_of_another_practice_sees_the_same(self):
        self.sign_in(self.bo)
        self.assertContains(self.client.get(self.address), "Barley soup")

    def test_the_token_is_kept_nowhere(self):
        token = self.address.split("/")[-2]
        self.assertEqual(len(token), 43)
        self.assertNotIn(token, str(HandoutLink.objects.values().get()))

    def test_guesses_find_nothing(self):
        token = self.address.split("/")[-2]
        for guess in (
            "x",
            token[:-1],
            f"{token}a",
            token.swapcase(),
            "0" * 43,
            self.link.token_digest,
            f"{self.link.pk}",
        ):
            self.assertEqual(self.client.get(f"/card/for/{guess}/").status_code, 404, guess)

    def test_expired(self):
        self.link.expires_at = timezone.now() - timedelta(seconds=1)
        self.link.save()
        for address in (self.address, f"{self.address}card.pdf"):
            page = self.client.get(address)
            self.assertContains(page, "This link has ended", status_code=410)
            self.assertNotContains(page, "Barley", status_code=410)

    def test_withdrawn(self):
        self.sign_in(self.ana)
        self.client.post(reverse("handouts:withdraw", args=[self.link.pk]))
        self.client.logout()
        self.assertContains(self.client.get(self.address), "This link has ended", status_code=410)

    def test_read_only(self):
        self.assertEqual(self.client.post(self.address).status_code, 405)

    def test_a_newer_card_is_said(self):
        actions.release(self.cooked, self.ana)
        self.assertContains(self.client.get(self.address), "There is a newer card")

    def test_refused(self):
        for days in ("", "0", "400", "soon"):
            with self.assertRaises(Problem):
                LinkForm({"days": days}).days()


class Shopping(Ready):
    def test_two_dishes_on_one_list(self):
        pot = "Onion pot\nServes 2\n3 carrots\n1 onion\nMethod\nStew it."
        _, other = bench_actions.take_to_bench(make_recipe(self.ana, pot), self.person, "dinner", self.ana)
        bench_actions.set_finished(other, True)
        url = reverse("handouts:shopping", args=[self.cooked.pk])
        self.assertContains(self.client.get(url), "Onion pot, Try 1")
        page = self.client.get(url, {"with": str(other.pk)})
        self.assertContains(page, "about 5")
        self.assertContains(page, "Barley soup; Onion pot")

    def test_scaled(self):
        url = reverse("handouts:shopping", args=[self.cooked.pk])
        self.assertContains(self.client.get(url), "about 2")
        self.assertContains(self.client.get(url, {"times": "3"}), "about 6")
        for typed in ("0", "-2", "many", "1000"):
            self.assertContains(self.client.get(url, {"times": typed}), "was read", status_code=422)


class LinksThatAsk(PracticeTest):
    def setUp(self):
        super().setUp()
        people_actions.set_plans(self.person, {"kidney-dialysis": {}}, self.ana)
        self.release = made_release(finished_cook(self.attempt, self.ana).result, self.ana)

    def opened(self, word="", shows_plans=False):
        _, token = actions.give_link(self.release, 30, "Imre", self.ana, word, shows_plans)
        return reverse("handouts:public", args=[token])

    def test_a_practice_may_want_a_word_for_every_link(self):
        self.ana.practice.links_ask = True
        self.ana.practice.save()
        give = reverse("handouts:give_link", args=[self.release.pk])
        self.assertContains(self.client.post(give, {"days": "30"}, follow=True), "asks for a word")
        self.assertContains(self.client.post(give, {"days": "30", "word": "1948"}), "/card/for/")

    def test_the_card_opens_with_the_word_alone(self):
        page, visitor = self.opened("Grey  Heron"), Client()
        self.assertNotContains(visitor.get(page), "Barley soup")
        self.assertContains(visitor.post(page, {"word": "heron"}), "That is not it", status_code=403)
        self.assertRedirects(visitor.post(page, {"word": "grey heron"}), page)
        self.assertContains(visitor.get(page), "Barley soup")
        self.assertNotContains(Client().get(page), "Barley soup")
        other = self.opened("another")
        self.assertNotContains(visitor.get(other), "Barley soup")

    def test_guessing_ends_the_link(self):
        page, visitor = self.opened("heron"), Client()
        for _ in range(actions.MOST_WRONG_WORDS - 1):
            self.assertEqual(visitor.post(page, {"word": "guess"}).status_code, 403)
        self.assertEqual(visitor.post(page, {"word": "guess"}).status_code, 410)
        self.assertEqual(visitor.post(page, {"word": "heron"}).status_code, 410)

    def test_no_diagnosis_stands_on_it_unless_chosen(self):
        self.assertIn("dialysis", self.release.body.lower())
        page = Client().get(self.opened())
        self.assertContains(page, "Barley soup")
        self.assertNotIn("dialysis", page.content.decode().lower())
        chosen = Client().get(self.opened(shows_plans=True))
        self.assertIn("dialysis", chosen.content.decode().lower())
