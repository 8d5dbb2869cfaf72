"""The office: who joins and leaves, what is written down, what may be taken along, and what is erased."""

import json
import re
from datetime import timedelta

import pgtrigger
from allauth.mfa.adapter import get_adapter
from allauth.mfa.models import Authenticator
from allauth.mfa.totp.internal import auth as totp
from django.core import mail
from django.db import DatabaseError, transaction
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from accounts.models import Practice, User
from accounts.permissions import KITCHEN, OWNER, PRACTITIONER, STAFF, STUDENT
from accounts.scope import within
from bench.models import Bench, Edit
from handouts import actions as handout_actions
from handouts.models import Release
from nutrition.dish.codec import VERSION
from office import actions
from office.models import Invitation
from people import actions as people_actions
from people.history import EVENTS, history_of
from people.models import Person
from records.models import Entry
from tests.web.base import PracticeTest, finished_cook, made_release

#: Long enough, and in Django's own list of common passwords.
COMMON = "qwerty123456"


class Members(PracticeTest):
    def post(self, name, *args, **data):
        return self.client.post(reverse(f"office:{name}", args=args), data)

    def invited(self, **asked):
        asked = {"email": "new@example.org", "role": STUDENT, "credential": ""} | asked
        answer = self.post("invite", **asked)
        return re.search(r"/office/join/([\w-]+)/", answer.content.decode())[1]

    def test_somebody_joins_by_a_link_once(self):
        token = self.invited()
        self.assertNotIn(token, str(list(Invitation.objects.values_list())))
        page = reverse("office:join", args=[token])
        self.client.logout()
        self.assertContains(self.client.get(page), "Ana House")
        short = self.client.post(page, {"name": "Nia", "password": "short"})
        self.assertContains(short, "12 characters", status_code=422)
        common = self.client.post(page, {"name": "Nia", "password": COMMON})
        self.assertContains(common, "too common", status_code=422)
        self.assertFalse(User.objects.filter(email="new@example.org").exists())
        self.client.post(page, {"name": "Nia", "password": "a longer password"})
        new = User.objects.get(email="new@example.org")
        self.assertEqual((new.role, new.practice, new.name), (STUDENT, self.ana.practice, "Nia"))
        self.assertEqual(self.client.post(page, {"name": "X", "password": "a longer password"}).status_code, 410)

    def test_an_old_or_withdrawn_link_admits_nobody(self):
        token = self.invited()
        invitation = Invitation.objects.get()
        self.post("withdraw", invitation.pk)
        self.assertEqual(Client().get(reverse("office:join", args=[token])).status_code, 410)
        Invitation.objects.update(expires_at=timezone.now() - timedelta(days=1))
        self.assertEqual(Client().get(reverse("office:join", args=[token])).status_code, 410)
        self.assertEqual(Client().get(reverse("office:join", args=["guess"])).status_code, 404)

    def test_a_practitioner_needs_a_license(self):
        answer = self.post("invite", email="new@example.org", role=PRACTITIONER, credential="")
        self.assertContains(answer, "has a license", status_code=422)

    def test_roles_change_but_never_ones_own_and_never_the_last_owner(self):
        cy = User.objects.create_user("cy@example.org", "a long password", name="Cy", practice=self.ana.practice)
        self.post("change_member", cy.pk, role=KITCHEN, credential="", seen=actions.member_stamp(cy))
        cy.refresh_from_db()
        self.assertEqual(cy.role, KITCHEN)
        self.post("change_member", self.ana.pk, role=STAFF, credential="")
        self.post("set_active", self.ana.pk)
        self.ana.refresh_from_db()
        self.assertEqual((self.ana.role, self.ana.is_active), (OWNER, True))

    def test_a_role_changed_elsewhere_is_not_written_over(self):
        cy = User.objects.create_user("cy@example.org", "a long password", name="Cy", practice=self.ana.practice)
        seen = actions.member_stamp(cy)
        actions.change_member(cy, STUDENT, "", self.ana)
        answer = self.client.post(
            reverse("office:change_member", args=[cy.pk]), {"role": KITCHEN, "seen": seen}, follow=True
        )
        self.assertContains(answer, "changed in another tab")

    def test_a_closed_account_signs_in_no_more_and_its_work_stays(self):
        cy = User.objects.create_user("cy@example.org", "a long password", name="Cy", practice=self.ana.practice)
        theirs = Client()
        theirs.post(reverse("account_login"), {"login": "cy@example.org", "password": "a long password"})
        self.assertEqual(theirs.get(reverse("today")).status_code, 200)
        self.post("set_active", cy.pk)
        self.assertEqual(theirs.get(reverse("today")).status_code, 302)
        theirs.post(reverse("account_login"), {"login": "cy@example.org", "password": "a long password"})
        self.assertEqual(theirs.get(reverse("today")).status_code, 302)
        self.post("set_active", cy.pk)
        theirs.post(reverse("account_login"), {"login": "cy@example.org", "password": "a long password"})
        self.assertEqual(theirs.get(reverse("today")).status_code, 200)


class HowThePracticeWantsIt(PracticeTest):
    def post(self, **changes):
        sent = {
            "name": "Ana House",
            "time_zone": "Europe/Oslo",
            "idle_minutes": "20",
            "keep_log_months": "36",
        } | changes
        return self.client.post(reverse("office:practice"), sent)

    def test_kept(self):
        self.assertEqual(self.post(links_ask="on").status_code, 302)
        practice = Practice.objects.get(pk=self.ana.practice_id)
        self.assertEqual((practice.idle_minutes, practice.keep_log_months, practice.links_ask), (20, 36, True))
        self.assertEqual((practice.time_zone, practice.needs_second_factor), ("Europe/Oslo", False))
        self.assertEqual(Entry.objects.first().act, "practice.changed")

    def test_refused_in_words(self):
        for changes, words in (
            ({"idle_minutes": "2"}, "from 5"),
            ({"idle_minutes": ""}, "minutes"),
            ({"keep_log_months": "3"}, "12 to 240"),
            ({"time_zone": "Europe/Olso"}, "Europe/Oslo"),
        ):
            with self.subTest(changes):
                self.assertContains(self.post(**changes), words, status_code=422)
        self.assertEqual(Practice.objects.get(pk=self.ana.practice_id).keep_log_months, 0)


class OwnAccount(PracticeTest):
    def setUp(self):
        super().setUp()
        self.client.logout()
        self.client.post(reverse("account_login"), {"login": "ana@example.org", "password": "a long password"})

    def test_a_forgotten_password_comes_by_letter(self):
        visitor = Client()
        visitor.post(reverse("account_reset_password"), {"email": "ana@example.org"})
        link = re.search(r"/account/password/reset/\S+", mail.outbox[0].body)[0]
        form = visitor.get(link, follow=True)
        new = {"password1": "quite another one", "password2": "quite another one"}
        visitor.post(form.request["PATH_INFO"], new)
        self.ana.refresh_from_db()
        self.assertTrue(self.ana.check_password("quite another one"))
        self.assertEqual(Client().get(link, follow=True).context["token_fail"], True)

    def test_an_unknown_address_is_told_the_same(self):
        answer = Client().post(reverse("account_reset_password"), {"email": "none@example.org"}, follow=True)
        self.assertContains(answer, "Look into your letters")

    def test_a_second_factor_is_asked_for_and_kept_sealed(self):
        asked = self.client.get(reverse("mfa_activate_totp"))["Location"]  # the password once more
        page = self.client.post(asked, {"password": "a long password"}, follow=True)
        secret = page.context["form"].secret
        code = totp.format_hotp_value(totp.hotp_value(secret, int(timezone.now().timestamp()) // 30))
        self.client.post(reverse("mfa_activate_totp"), {"code": code})
        kept = Authenticator.objects.get(user=self.ana, type="totp")
        self.assertNotIn(secret, str(kept.data))
        self.assertEqual(get_adapter().decrypt(kept.data["secret"]), secret)
        visitor = Client()
        answer = visitor.post(reverse("account_login"), {"login": "ana@example.org", "password": "a long password"})
        self.assertRedirects(answer, reverse("mfa_authenticate"))
        self.assertEqual(visitor.get(reverse("today")).status_code, 302)
        codes = Authenticator.objects.get(user=self.ana, type="recovery_codes").wrap().get_unused_codes()
        visitor.post(reverse("mfa_authenticate"), {"code": codes[0]})
        self.assertEqual(visitor.get(reverse("today")).status_code, 200)

    def test_a_practice_may_ask_everybody_for_one(self):
        Practice.objects.filter(pk=self.ana.practice_id).update(needs_second_factor=True)
        answer = self.client.get(reverse("today"))
        self.assertRedirects(answer, reverse("mfa_activate_totp"), fetch_redirect_response=False)

    def test_sessions_elsewhere_are_seen_and_ended(self):
        other = Client()
        other.post(reverse("account_login"), {"login": "ana@example.org", "password": "a long password"})
        self.assertContains(self.client.get(reverse("office:own")), "other place")
        self.client.post(reverse("office:end_sessions"))
        self.assertEqual(other.get(reverse("today")).status_code, 302)
        self.assertEqual(self.client.get(reverse("today")).status_code, 200)

    def test_who_does_not_click_is_signed_out(self):
        self.client.get(reverse("today"))
        session = self.client.session
        session["clicked"] -= 31 * 60
        session.save()
        self.assertEqual(self.client.get(reverse("today")).status_code, 302)

    def test_a_name_is_ones_own_to_change(self):
        self.client.post(reverse("office:own"), {"name": "Ana  Maria"})
        self.ana.refresh_from_db()
        self.assertEqual(self.ana.name, "Ana Maria")


class Log(PracticeTest):
    def acts(self):
        return list(Entry.objects.values_list("act", "person"))

    def test_what_was_done_and_seen_is_written_down(self):
        target = self.person.targets.first()
        self.client.get(reverse("people:person", args=[self.person.pk]))
        self.client.get(reverse("bench:try", args=[self.bench.pk, self.attempt.pk]))
        self.client.post(reverse("people:confirm_target", args=[target.pk]))
        self.client.post(reverse("people:edit", args=[self.person.pk]), {"name": "Imre", "dislikes": "liver"})
        acts = self.acts()
        self.assertEqual(acts.count(("person.seen", self.person.pk)), 1)  # once in a quarter of an hour
        for act in ("target.confirmed", "person.changed", "person.plans", "bench.taken"):
            self.assertIn((act, self.person.pk), acts)
        entry = Entry.objects.get(act="target.confirmed")
        self.assertEqual((entry.by, entry.by_name, entry.address), (self.ana, "Ana", "127.0.0.1"))
        self.assertTrue(entry.request)

    def test_no_name_of_a_person_stands_in_it(self):
        finished = finished_cook(self.attempt, self.ana)
        release = made_release(finished.result, self.ana)
        handout_actions.give_link(release, 30, "Imre", self.ana)
        self.assertNotIn("Imre", str(list(Entry.objects.values_list("act", "thing", "details"))))

    def test_the_database_lets_no_entry_change(self):
        for change in (lambda: Entry.objects.update(thing="x"), lambda: Entry.objects.all().delete()):
            with self.assertRaises(DatabaseError), transaction.atomic():
                change()

    def test_filtered_and_taken_along(self):
        self.client.post(reverse("people:edit", args=[self.person.pk]), {"name": "Imre", "dislikes": "=1+1"})
        page = self.client.get(reverse("office:log"), {"act": "person", "by": self.ana.pk})
        self.assertContains(page, "changed Imre: dislikes")
        self.assertNotContains(page, "took a dish to the bench")
        taken = self.client.get(reverse("office:log"), {"as": "csv"}).content.decode()
        self.assertIn("person.changed", taken)
        self.assertEqual(Entry.objects.first().act, "log.exported")
        self.assertEqual(self.client.get(reverse("office:log"), {"since": "yesterday"}).status_code, 422)

    def test_sign_ins_and_refusals_are_in_it(self):
        visitor = Client()
        visitor.post(reverse("account_login"), {"login": "ana@example.org", "password": "wrong wrong wrong"})
        visitor.post(reverse("account_login"), {"login": "ana@example.org", "password": "a long password"})
        self.assertEqual([act for act, _ in self.acts()][:2], ["signed_in", "sign_in_failed"])

    def test_history_tells_before_and_after(self):
        target = self.person.targets.first()
        was, target.maximum = target.maximum, 1500.0
        people_actions.save_target(target, self.ana)
        self.client.post(reverse("people:edit", args=[self.person.pk]), {"name": "Imre", "weight_kg": "71.5"})
        told = [(each.what, each.by, change) for each in history_of(self.person) for change in each.changes]
        self.assertIn(("who they are", "Ana", ("weight", "nothing", "71.5")), told)
        self.assertIn(("the target for sodium", "Ana", ("at most", f"{was:g}", "1500")), told)
        self.assertContains(self.client.get(reverse("office:person_log", args=[self.person.pk])), "71.5")

    def test_history_cannot_be_changed(self):
        for event in EVENTS[:3]:
            with self.assertRaises(DatabaseError), transaction.atomic():
                event.objects.all().delete()

    def test_old_entries_go_when_the_practice_says_so(self):
        with pgtrigger.ignore("records.Entry:stands"):
            Entry.objects.update(at=timezone.now() - timedelta(days=800))
        self.assertEqual(actions.tidy_log(self.ana.practice), 0)
        self.ana.practice.keep_log_months = 24
        self.assertGreater(actions.tidy_log(self.ana.practice), 0)
        self.assertFalse(Entry.objects.exists())

    def test_handing_over(self):
        cy = User.objects.create_user("cy@example.org", "a long password", name="Cy", practice=self.ana.practice)
        cook = User.objects.create_user(
            "k@example.org", "a long password", name="Kit", role=KITCHEN, practice=self.ana.practice
        )
        page = reverse("office:hand_over", args=[self.person.pk])
        self.client.post(page, {"to": cy.pk})
        self.person.refresh_from_db()
        self.assertEqual(self.person.in_care_of, cy)
        self.assertContains(self.client.get(self.person.get_absolute_url()), "looked after by Cy")
        student = User.objects.create_user(
            "s@example.org", "a long password", name="Stu", role=STUDENT, practice=self.ana.practice
        )
        for each in (cook, student):
            self.assertContains(self.client.post(page, {"to": each.pk}, follow=True), "cannot look after")
        self.assertEqual(self.client.post(page, {"to": self.bo.pk}).status_code, 404)


class Kitchen(PracticeTest):
    def test_the_kitchen_sees_no_diagnosis(self):
        """No plan's name on any page the kitchen may open."""
        cook = User.objects.create_user(
            "k@example.org", "a long password", name="Kit", role=KITCHEN, practice=self.ana.practice
        )
        people_actions.set_plans(self.person, {"kidney-dialysis": {}, "gluten-free": {}}, self.ana)
        finished = finished_cook(self.attempt, self.ana)
        self.sign_in(cook)
        begun = self.client.post(reverse("kitchen:begin", args=[self.attempt.pk]))["Location"]
        pages = [
            reverse("today"), reverse("kitchen:cooks"), begun, reverse("kitchen:cooked", args=[finished.pk]),
            reverse("kitchen:taste", args=[finished.pk]), reverse("kitchen:sheet", args=[self.bench.pk]),
            reverse("recipes:recipe", args=[self.recipe.pk]), reverse("kitchen:lessons"),
            reverse("kitchen:finish", args=[begun.strip("/").split("/")[1]]),
        ]  # fmt: skip
        for page in pages:
            answer = self.client.get(page)
            with self.subTest(page):
                self.assertEqual(answer.status_code, 200)
                for word in ("dialysis", "Dialysis", "Gluten-free", "kidney", "Kidney"):
                    self.assertNotIn(word, answer.content.decode())


class Everything(PracticeTest):
    def setUp(self):
        super().setUp()
        finished = finished_cook(self.attempt, self.ana)
        self.release = made_release(finished.result, self.ana)
        handout_actions.give_link(self.release, 30, "Imre", self.ana)

    def test_everything_about_a_person_can_be_taken_along(self):
        page = reverse("office:export", args=[self.person.pk])
        self.assertContains(self.client.get(page), "Barley soup")
        found = json.loads(self.client.get(page, {"as": "json"}).content)
        self.assertEqual(found["person"]["name"], "Imre")
        self.assertEqual(found["dishes"][0]["as_written"]["v"], VERSION)
        self.assertEqual(len(found["cards"]), 1)
        self.assertEqual(len(found["cooks"]), 1)
        self.assertGreater(len(found["history"]), 2)

    def test_a_released_card_is_not_taken_away(self):
        with self.assertRaises(DatabaseError), transaction.atomic():
            Release.objects.all().delete()
        with self.assertRaises(DatabaseError), transaction.atomic():
            self.bench.delete()

    def test_erased_means_no_name_in_text_json_or_history(self):
        from django.apps import apps

        page = reverse("office:erase", args=[self.person.pk])
        self.assertEqual(self.client.post(page, {"typed_name": "Imra"}).status_code, 422)
        self.assertTrue(Person.objects.filter(pk=self.person.pk).exists())
        number = self.person.pk
        self.assertEqual(self.client.post(page, {"typed_name": "Imre"}).status_code, 302)
        self.assertFalse(Bench.objects.filter(person=number).exists())
        self.assertFalse(Edit.objects.filter(attempt__bench__person=number).exists())
        for model in (model for model in apps.get_models() if model._meta.managed and not model._meta.proxy):
            with self.subTest(model.__name__):
                self.assertNotIn("Imre", str(list(model._base_manager.values_list())))
        self.assertIn(("person.erased", number), list(Entry.objects.values_list("act", "person")))
        self.assertTrue(Entry.objects.filter(act="card.released", person=number).exists())

    def test_others_are_left_alone(self):
        with within(self.ana.practice):
            other = Person.objects.create(name="Ife")
            people_actions.set_plans(other, {"heart": {}}, self.ana)
        before = len(history_of(other))
        self.client.post(reverse("office:erase", args=[self.person.pk]), {"typed_name": "Imre"})
        self.assertEqual(len(history_of(other)), before)
        self.assertGreater(before, 0)
