"""People, plans and targets."""

import re

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse

from accounts.models import User
from people import actions as people_actions
from people.models import Person, PersonTarget, PlanChoice
from people.regimen import regimen_of
from people.search import searched
from tests.web.base import PracticeTest, make_person


def target_at(target, maximum):
    """The same target with another maximum, not saved."""
    found = PersonTarget.objects.get(pk=target.pk)
    found.maximum = maximum
    return found


class Adding(PracticeTest):
    def post(self, **data):
        return self.client.post(reverse("people:add"), {"name": "Wanda", **data})

    def test_with_two_plans(self):
        response = self.post(weight_kg="60", **{"kidney": "on", "kidney:protein": "kdigo", "diabetes": "on"})
        person = Person.objects.get(name="Wanda")
        self.assertRedirects(response, person.get_absolute_url())
        self.assertEqual({c.key for c in person.plans.all()}, {"kidney", "diabetes"})
        protein = person.targets.get(nutrient="protein_g")
        self.assertEqual((protein.maximum, protein.set_by, protein.is_draft), (48.0, self.ana, True))
        self.assertIn("KDIGO", protein.source)

    def test_refusals_keep_what_was_typed(self):
        for data, words in (
            ({"weight_kg": "0"}, "2 to 400 kg"), ({"weight_kg": "700"}, "2 to 400 kg"), ({"energy_kcal": "5"}, "300 to 8,000"),
            ({"name": "   "}, "required"), ({"low-sodium:sodium": "moon"}, "moon"),
        ):  # fmt: skip
            response = self.post(about="one pot only", **data)
            self.assertEqual(response.status_code, 422, data)
            self.assertContains(response, words, status_code=422)
            self.assertContains(response, "one pot only", status_code=422)
        self.assertFalse(Person.objects.filter(name="Wanda").exists())


class Plans(PracticeTest):
    def follow(self, person, **data):
        return self.client.post(reverse("people:plans", args=[person.pk]), data)

    def test_leaving_a_plan_takes_its_targets(self):
        self.follow(self.person)
        self.assertEqual(self.person.targets.count(), 0)

    def test_an_unchanged_plan_keeps_its_edited_targets(self):
        target = self.person.targets.get()
        target.maximum = 1800
        target.save()
        self.follow(self.person, **{"low-sodium": "on", "low-sodium:sodium": "guidelines", "diabetes": "on"})
        self.assertEqual(self.person.targets.get(plan="low-sodium").maximum, 1800)
        self.follow(self.person, **{"low-sodium": "on", "low-sodium:sodium": "aha"})
        self.assertEqual(self.person.targets.get().maximum, 1500)

    def test_weight_drafts_again_only_what_nobody_confirmed(self):
        person = make_person(self.ana, "Lu", {"kidney": {}}, weight_kg=50)
        protein = person.targets.get(nutrient="protein_g")
        self.client.post(reverse("people:confirm_target", args=[protein.pk]))
        self.client.post(reverse("people:edit", args=[person.pk]), {"name": "Lu", "weight_kg": "80"})
        self.assertEqual(person.targets.get(nutrient="protein_g").maximum, 30.0)
        self.assertEqual(person.targets.get(nutrient="energy_kcal").minimum, 2000.0)

    def test_what_is_missing_is_said(self):
        person = make_person(self.ana, "Lu", {"kidney": {}})
        self.assertContains(self.client.get(person.get_absolute_url()), "body weight: protein and energy")


class Targets(PracticeTest):
    def add(self, **data):
        fields = {"nutrient": "sodium_mg", "minimum": "", "maximum": "", "scope": "meal", "source": "letter"} | data
        return self.client.post(reverse("people:add_target", args=[self.person.pk]), fields)

    def test_own_number(self):
        self.add(maximum="550")
        own = self.person.targets.get(plan="")
        self.assertEqual((own.maximum, own.owner, own.set_by), (550.0, "Own", self.ana))

    def test_refused_at_the_field(self):
        for data, words in (
            ({"minimum": "9", "maximum": "5"}, "nothing could pass"), ({"maximum": "-4"}, "0 or more"), ({}, "No limit was typed"),
            ({"maximum": "5", "source": ""}, "Name the letter"), ({"maximum": "abc"}, "number"), ({"maximum": "nan"}, "number"),
        ):  # fmt: skip
            response = self.add(**data)
            self.assertEqual(response.status_code, 422, data)
            self.assertContains(response, words, status_code=422)
        self.assertEqual(self.person.targets.count(), 1)

    def test_a_conflict_is_shown_and_settled(self):
        self.add(minimum="2000")
        page = self.person.get_absolute_url()
        self.assertContains(self.client.get(page), "these cannot all be followed")
        self.assertTrue(regimen_of(self.person).eater.gates("dinner")[0].is_conflict)
        self.settle("sodium_mg", "own")
        self.assertContains(self.client.get(page), "settled, Own number leads")
        [gate] = regimen_of(self.person).eater.gates("dinner")
        self.assertEqual((gate.low.limit, gate.high), (2000.0, None))
        self.settle("sodium_mg", "")
        self.assertContains(self.client.get(page), "these cannot all be followed")

    def test_settling_what_is_not_there_is_refused(self):
        response = self.settle("sodium_mg", "own")
        self.assertContains(response, "not there any more", status_code=422)

    def settle(self, topic, leader):
        response = self.client.post(reverse("people:settle", args=[self.person.pk]), {"topic": topic, "leader": leader})
        self.person.refresh_from_db()
        return response

    def test_confirming_and_editing(self):
        target = self.person.targets.get()
        self.client.post(reverse("people:confirm_all", args=[self.person.pk]))
        target.refresh_from_db()
        self.assertEqual((target.confirmed_by, target.is_draft), (self.ana, False))
        data = {"nutrient": "sodium_mg", "maximum": "1900", "minimum": "", "scope": "day", "source": "letter"}
        self.client.post(reverse("people:edit_target", args=[target.pk]), data)
        target.refresh_from_db()
        self.assertEqual((target.maximum, target.is_draft), (1900.0, True))

    def test_a_stale_form_shows_both(self):
        target = self.person.targets.get()
        old = target.version
        people_actions.save_target(target_at(target, 1700), self.ana)
        data = {
            "nutrient": "sodium_mg",
            "maximum": "1900",
            "minimum": "",
            "scope": "day",
            "source": "letter",
            "version": old,
        }
        response = self.client.post(reverse("people:edit_target", args=[target.pk]), data)
        self.assertContains(response, "at most 1,700", status_code=409)
        self.assertContains(response, 'value="1900"', status_code=409)
        target.refresh_from_db()
        self.assertEqual(target.maximum, 1700)

    def test_what_was_changed_since_it_was_seen_is_not_confirmed(self):
        target = self.person.targets.get()
        seen = f"{target.pk}:{target.version}"
        people_actions.save_target(target_at(target, 1700), self.ana)
        for name, pk in (("people:confirm_all", self.person.pk), ("people:confirm_target", target.pk)):
            page = self.client.post(reverse(name, args=[pk]), {"seen": seen}, follow=True)
            self.assertContains(page, "changed in another tab")
            self.assertTrue(self.person.targets.get().is_draft)
        target = self.person.targets.get()
        self.client.post(
            reverse("people:confirm_all", args=[self.person.pk]), {"seen": f"{target.pk}:{target.version}"}
        )
        self.assertFalse(self.person.targets.get().is_draft)

    def test_only_the_licensed_confirm(self):
        cook = User.objects.create_user("cy@example.org", "a long password", name="Cy", practice=self.ana.practice)
        self.sign_in(cook)
        response = self.client.post(reverse("people:confirm_all", args=[self.person.pk]))
        self.assertContains(response, "Only a licensed practitioner", status_code=403)
        self.assertTrue(self.person.targets.get().is_draft)

    def test_removing(self):
        self.client.post(reverse("people:delete_target", args=[self.person.targets.get().pk]))
        self.assertEqual(self.person.targets.count(), 0)


class TwoTabs(PracticeTest):
    """Somebody has a person's page open in two tabs, or a colleague has."""

    def form_of(self, name):
        return self.sent(self.client.get(reverse(name, args=[self.person.pk])))

    def sent(self, answer):
        """What a browser would send of the form on a page, untouched."""
        page = answer.content.decode()
        form = page[page.index('<form method="post" class="plate"') :]
        fields = {}
        for tag in re.findall(r"<input[^>]*>", form):
            if 'type="checkbox"' not in tag or " checked" in tag:
                key, value = re.search(r'name="([^"]*)"', tag), re.search(r'value="([^"]*)"', tag)
                fields.setdefault(key[1], []).append(value[1] if value else "on" if "checkbox" in tag else "")
        for key, text in re.findall(r'<textarea name="([^"]*)"[^>]*>\s*([^<]*)</textarea>', form):
            fields[key] = [text]
        return fields

    def test_an_allergy_saved_in_one_tab_survives_a_stale_second_tab(self):
        first, second = self.form_of("people:edit"), self.form_of("people:edit")
        edit = reverse("people:edit", args=[self.person.pk])
        self.assertEqual(self.client.post(edit, first | {"allergies": "kiwi"}).status_code, 302)
        self.assertEqual(self.client.post(edit, second | {"weight_kg": "61.5"}).status_code, 302)
        self.person.refresh_from_db()
        self.assertEqual((self.person.allergies, float(self.person.weight_kg)), ("kiwi", 61.5))

    def test_the_same_field_changed_twice_is_shown_with_both_texts(self):
        first, second = self.form_of("people:edit"), self.form_of("people:edit")
        edit = reverse("people:edit", args=[self.person.pk])
        self.client.post(edit, first | {"allergies": "kiwi", "dislikes": "liver"})
        answer = self.client.post(edit, second | {"allergies": "mango"})
        self.assertContains(answer, "kiwi", status_code=409)
        self.assertContains(answer, "mango", status_code=409)
        self.person.refresh_from_db()
        self.assertEqual(self.person.allergies, "kiwi")
        self.assertEqual(self.client.post(edit, self.sent(answer)).status_code, 302)
        self.person.refresh_from_db()
        self.assertEqual((self.person.allergies, self.person.dislikes), ("mango", "liver"))

    def test_plans_ticked_on_an_old_page_take_nothing_away(self):
        plans = reverse("people:plans", args=[self.person.pk])
        first, second = self.form_of("people:plans"), self.form_of("people:plans")
        self.assertEqual(self.client.post(plans, first | {"gluten-free": "on"}).status_code, 302)
        answer = self.client.post(plans, second | {"vegan": "on"})
        self.assertContains(answer, "They now follow", status_code=409)
        self.assertEqual({choice.key for choice in self.person.plans.all()}, {"low-sodium", "gluten-free"})

    def test_a_day_shared_on_an_old_page_is_refused(self):
        version = self.person.version
        self.client.post(
            reverse("people:edit", args=[self.person.pk]), self.form_of("people:edit") | {"dislikes": "liver"}
        )
        typed = {"breakfast": "20", "lunch": "30", "dinner": "40", "snack": "10", "version": str(version)}
        answer = self.client.post(reverse("people:shares", args=[self.person.pk]), typed)
        self.assertContains(answer, "changed in another tab", status_code=422)

    def test_a_target_changed_meanwhile_is_not_taken_away(self):
        target = self.person.targets.first()
        seen = f"{target.pk}:{target.version}"
        people_actions.save_target(target, self.ana)
        self.client.post(reverse("people:delete_target", args=[target.pk]), {"seen": seen})
        self.assertTrue(self.person.targets.filter(pk=target.pk).exists())


class TheList(PracticeTest):
    """Found by what is typed, put away, begun anew; no name in an address."""

    def setUp(self):
        super().setUp()
        self.person.household = "Harbor"
        self.person.save()
        self.noor = make_person(self.ana, "Noor", {"free-of:milk": {}}, household="Harbor")
        self.solo = make_person(self.ana, "Solo", {"diabetes": {}})

    def found(self, **asked):
        answer = self.client.post(reverse("people:find"), asked, headers={"HX-Request": "true"})
        return [person.name for person in answer.context["page"]]

    def test_by_name_household_plan_and_order(self):
        self.assertEqual(self.found(q="noo"), ["Noor"])
        self.assertEqual(self.found(q="harbor"), ["Imre", "Noor"])
        self.assertEqual(self.found(q="harbor noor"), ["Noor"])
        self.assertEqual(self.found(plan="diabetes"), ["Solo"])
        self.assertEqual(self.found(order="newest")[0], "Solo")
        self.assertEqual(self.found(plan="no plan", order="by moon"), ["Imre", "Noor", "Solo"])
        answer = self.client.post(reverse("people:find"), {"q": "nobody of that name"})
        self.assertContains(answer, "Nobody answers to that.")

    def test_targets_are_counted_once_whatever_is_asked(self):
        [imre] = [p for p in searched(plan="low-sodium") if p.name == "Imre"]
        self.assertEqual((imre.count, imre.drafts), (1, 1))

    def test_a_page_is_sixty_at_the_same_cost(self):
        def queries():
            with CaptureQueriesContext(connection) as found:
                self.client.get(reverse("people:people"))
            return len(found)

        queries()
        few = queries()
        Person.objects.bulk_create(
            Person(name=f"Guest {number:03}", practice=self.ana.practice) for number in range(70)
        )
        self.assertLessEqual(queries(), few)
        answer = self.client.get(reverse("people:people"))
        self.assertContains(answer, "1 to 60 of 73")
        self.assertContains(self.client.get(reverse("people:people"), {"page": 2}), "61 to 73 of 73")

    def test_put_away_they_are_in_no_list_and_all_of_theirs_stays(self):
        address = reverse("people:put_away", args=[self.noor.pk])
        self.client.post(address)
        self.assertEqual(self.found(q="harbor"), ["Imre"])
        self.assertContains(self.client.get(reverse("people:people"), {"away": "1"}), "Noor")
        self.assertNotContains(self.client.get(reverse("bench:benches")), "Noor")
        self.assertNotContains(self.client.post(reverse("find"), {"q": "Noor"}), self.noor.get_absolute_url())
        self.assertEqual(PlanChoice.objects.filter(person=self.noor).count(), 1)
        history = self.client.get(reverse("office:person_log", args=[self.noor.pk]))
        self.assertContains(history, "put away")
        self.client.post(address, {"back": "1"})
        self.assertEqual(self.found(q="harbor"), ["Imre", "Noor"])

    def test_another_like_them_has_the_plans_and_nothing_of_the_body(self):
        """Prescriptions, allergies, weight and results are somebody's own."""
        kim = make_person(self.ana, "Kim", {"kidney": {}, "low-sodium": {}}, weight_kg=70, allergies="kiwi")
        people_actions.confirm(kim.targets.first(), self.ana)
        self.client.post(reverse("people:duplicate", args=[kim.pk]))
        new = Person.objects.get(name="Kim (copy)")
        self.assertEqual({choice.key for choice in new.plans.all()}, {"kidney", "low-sodium"})
        self.assertEqual((new.weight_kg, new.allergies, new.measured), (None, "", []))
        self.assertTrue(all(target.is_draft for target in new.targets.all()))
