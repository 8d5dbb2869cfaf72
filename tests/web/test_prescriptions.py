"""Prescriptions stay: plans draft beside them, removing can be undone, and cards that are out there know of changed limits."""

from datetime import date, timedelta

from django.urls import reverse
from django.utils.timezone import localdate

from handouts import actions as handout_actions
from handouts.models import Release
from people import actions
from people.history import history_of
from people.models import PersonTarget, PersonTargetEvent
from people.regimen import regimen_of
from tests.web.base import PracticeTest, finished_cook, made_release, make_person


def figures(person):
    """(plan, nutrient, maximum, minimum) of every target that stands."""
    return sorted((t.plan, t.nutrient, t.minimum, t.maximum) for t in PersonTarget.objects.filter(person=person))


class Standing(PracticeTest):
    def setUp(self):
        super().setUp()
        self.lu = make_person(self.ana, "Lu", {"kidney": {}}, weight_kg=60, energy_kcal=1900)

    def potassium(self):
        return self.lu.targets.get(nutrient="potassium_mg")

    def prescribe(self, maximum=2400):
        target = self.potassium()
        target.maximum, target.source = maximum, "Dr Amsel, letter of 3 May"
        actions.save_target(target, self.ana)
        actions.confirm(self.potassium(), self.ana)

    def page(self):
        return self.client.get(self.lu.get_absolute_url())

    def test_it_survives_every_edit(self):
        """A plan's setting, weight, energy, age, another plan, a medicine: the prescribed figure stands."""
        self.prescribe()
        self.lu.refresh_from_db()
        for change in (
            lambda: actions.set_plans(self.lu, {"kidney": {"phosphorus": "1000"}}, self.ana),
            lambda: actions.change_person(self.lu, {"weight_kg": 70, "energy_kcal": 2200}, {}, self.ana),
            lambda: actions.set_plans(self.lu, {"kidney": {"potassium": "3000"}, "diabetes": {}}, self.ana),
            lambda: actions.change_person(self.lu, {"circumstances": ["raises_potassium"]}, {}, self.ana),
            lambda: actions.change_person(self.lu, {"medicines": "spironolactone, lithium"}, {}, self.ana),
            lambda: actions.change_person(self.lu, {"kidney_stage": "2", "sex": "female"}, {}, self.ana),
            lambda: actions.measure(self.lu, "potassium_mmol_l", 4.1, localdate(), self.ana),
            lambda: actions.measure(self.lu, "weight_kg", 58.5, localdate(), self.ana),
            lambda: actions.redraft(self.lu, self.ana),
            lambda: actions.change_person(self.lu, {"born_on": date(1960, 5, 3)}, {}, self.ana),
            lambda: actions.set_plans(self.lu, {"kidney": {"potassium": "free"}, "diabetes": {}}, self.ana),
        ):
            change()
            self.lu.refresh_from_db()
            target = self.potassium()
            self.assertEqual((target.maximum, target.is_draft), (2400, False))
        phosphorus = self.lu.targets.get(nutrient="phosphorus_mg")
        self.assertTrue(phosphorus.is_draft)

    def test_what_was_typed_stands_though_nobody_confirmed_it(self):
        target = self.potassium()
        target.maximum = 2600
        actions.save_target(target, self.ana)
        actions.set_plans(self.lu, {"kidney": {"potassium": "3000"}}, self.ana)
        self.assertEqual((self.potassium().maximum, self.potassium().is_draft), (2600, True))

    def test_the_plan_says_beside_it_what_it_would_say(self):
        self.prescribe()
        page = self.page()
        self.assertContains(page, "would now say at most 2,000 mg a day; this stands")
        self.client.post(reverse("people:take_drafted", args=[self.potassium().pk]))
        target = self.potassium()
        self.assertEqual((target.maximum, target.is_draft, target.by_hand), (2000, True, False))
        self.assertNotContains(self.page(), "this stands")

    def test_the_history_tells_a_removal_as_one(self):
        self.prescribe()
        potassium = self.potassium()
        actions.remove_target(potassium, None, self.ana)
        actions.put_back(PersonTarget.every.get(pk=potassium.pk), self.ana)
        told = [(each.verb, each.changes) for each in history_of(self.lu) if each.what == "the target for potassium"]
        self.assertEqual([verb for verb, _ in told], ["put back", "removed", "confirmed", "changed", "added"])
        self.assertEqual(told[3][1][0], ("at most", "2000", "2400"))

    def test_a_weight_change_marks_what_rests_on_it(self):
        protein = self.lu.targets.get(nutrient="protein_g")
        actions.confirm(protein, self.ana)
        actions.change_person(self.lu, {"weight_kg": 80}, {}, self.ana)
        self.lu.refresh_from_db()
        self.assertIn(protein.pk, regimen_of(self.lu).proposals)
        self.assertContains(self.page(), "would now say at least 44 and at most 48 g a day")

    def test_drafting_twice_changes_nothing(self):
        before = figures(self.lu), PersonTargetEvent.objects.count()
        actions.redraft(self.lu, self.ana)
        actions.redraft(self.lu, self.ana)
        self.assertEqual((figures(self.lu), PersonTargetEvent.objects.count()), before)

    def test_a_plan_that_is_left_leaves_what_somebody_stands_behind(self):
        self.prescribe()
        actions.set_plans(self.lu, {}, self.ana)
        [target] = self.lu.targets.all()
        self.assertEqual((target.plan, target.maximum), ("", 2400))
        self.assertIn("set under", target.source)
        # Taken up again, the plan drafts the rest and leaves this one alone.
        self.lu.refresh_from_db()
        actions.set_plans(self.lu, {"kidney": {}}, self.ana)
        self.assertEqual([t.maximum for t in self.lu.targets.filter(nutrient="potassium_mg")], [2400])
        self.assertTrue(self.lu.targets.filter(nutrient="phosphorus_mg").exists())

    def test_a_confirmed_number_of_their_own_sets_drafts_aside(self):
        own = PersonTarget(
            person=self.lu, practice_id=self.lu.practice_id, nutrient="potassium_mg", maximum=3500, source="letter"
        )
        actions.save_target(own, self.ana)
        self.assertEqual(self.lu.targets.filter(nutrient="potassium_mg").count(), 2)
        actions.confirm(PersonTarget.objects.get(pk=own.pk), self.ana)
        [target] = self.lu.targets.filter(nutrient="potassium_mg")
        self.assertEqual(target.maximum, 3500)
        self.assertIn(target.pk, regimen_of(self.lu).proposals)

    def test_removed_and_put_back_is_nothing(self):
        self.prescribe()
        before, target = figures(self.lu), self.potassium()
        self.client.post(reverse("people:delete_target", args=[target.pk]))
        self.assertFalse(self.lu.targets.filter(nutrient="potassium_mg").exists())
        page = self.page()
        self.assertContains(page, "without 1 limit that was removed")
        # No change of weight or setting brings it back by itself.
        actions.change_person(self.lu, {"weight_kg": 61}, {}, self.ana)
        self.lu.refresh_from_db()
        actions.set_plans(self.lu, {"kidney": {"phosphorus": "900"}}, self.ana)
        self.assertFalse(self.lu.targets.filter(nutrient="potassium_mg").exists())
        actions.set_plans(self.lu, {"kidney": {}}, self.ana)
        self.lu.refresh_from_db()
        actions.change_person(self.lu, {"weight_kg": 60}, {}, self.ana)
        self.client.post(reverse("people:put_back", args=[target.pk]))
        self.assertEqual(figures(self.lu), before)
        self.assertFalse(self.potassium().is_draft)


class Ages(PracticeTest):
    def born(self, years):
        return localdate() - timedelta(days=round(years * 365.25) + 2)

    def test_a_child_gets_no_figure_of_adults(self):
        child = make_person(
            self.ana, "Nils", {"kidney": {}, "low-sodium": {}, "child": {}}, weight_kg=22, born_on=self.born(7)
        )
        self.assertEqual(
            figures(child),
            [
                ("child", "protein_g", 20.9, None),
                ("child", "sodium_mg", None, 1500),
                ("low-sodium", "sodium_mg", None, 1500),
            ],
        )
        self.assertContains(self.client.get(child.get_absolute_url()), "a pediatric dietitian sets")

    def test_so_light_a_person_is_asked_about(self):
        child = make_person(self.ana, "Nils", {"kidney": {}}, weight_kg=22, energy_kcal=1500)
        self.assertEqual(figures(child), [])
        self.assertContains(self.client.get(child.get_absolute_url()), "the date of birth")

    def test_the_date_of_birth_drafts_again(self):
        person = make_person(self.ana, "Nils", {"kidney": {}}, weight_kg=60, energy_kcal=1900)
        self.assertTrue(person.targets.filter(nutrient="protein_g").exists())
        response = self.client.post(
            reverse("people:edit", args=[person.pk]),
            {"name": "Nils", "weight_kg": "60", "energy_kcal": "1900", "born_on": self.born(16).isoformat()},
        )
        self.assertEqual(response.status_code, 302)
        self.assertEqual(figures(person), [])

    def test_dates_and_energies_that_cannot_be_meant(self):
        for typed, words in (
            ({"born_on": (localdate() + timedelta(days=2)).isoformat()}, "date of birth up to today"),
            ({"born_on": "1850-01-01"}, "date of birth up to today"),
            ({"energy_kcal": "700"}, "only under medical care"),
            ({"energy_kcal": "1000"}, "Tick the box if it is meant"),
            ({"weight_kg": "2.4"}, "For an infant, type the date of birth"),
            ({"weight_kg": "300"}, "seldom seen"),
            ({"weight_kg": "90", "born_on": self.born(7).isoformat()}, "seldom seen at that age"),
            ({"weight_kg": "28", "born_on": self.born(40).isoformat()}, "seldom seen at that age"),
        ):
            page = self.client.post(reverse("people:add"), {"name": "Wanda", "about": "one pot", **typed})
            self.assertContains(page, words, status_code=422)
            self.assertContains(page, "one pot", status_code=422)
        for typed in (
            {"energy_kcal": "1000", "is_little_meant": "on"},
            {"weight_kg": "300", "is_weight_meant": "on"},
            {"weight_kg": "2.4", "born_on": self.born(0.01).isoformat()},
            {"energy_kcal": "700", "born_on": self.born(1.5).isoformat()},
        ):
            page = self.client.post(reverse("people:add"), {"name": "Wanda", **typed})
            self.assertEqual(page.status_code, 302, typed)


class CardsOutThere(PracticeTest):
    def setUp(self):
        super().setUp()
        self.release = made_release(finished_cook(self.attempt, self.ana).result, self.ana)
        self.person.refresh_from_db()
        self.link, self.token = handout_actions.give_link(self.release, 30, "Imre", self.ana)

    def tighten(self, maximum=1500):
        target = self.person.targets.get()
        target.maximum = maximum
        actions.save_target(target, self.ana)

    def public(self):
        return self.client.get(f"/card/for/{self.token}/")

    def test_a_tightened_limit_reaches_today_the_card_and_the_link(self):
        words = ("made for other limits", "is held to something else", "has changed a limit")
        pages = lambda: (self.client.get("/"), self.client.get(self.release.get_absolute_url()), self.public())  # noqa: E731
        for page, said in zip(pages(), words, strict=True):
            self.assertNotContains(page, said)
        self.tighten()
        for page, said in zip(pages(), words, strict=True):
            self.assertContains(page, said)
        self.assertContains(
            self.client.get(self.release.get_absolute_url()), "Sodium: at most 1,500 mg a day (was at most 2,300"
        )
        self.tighten(2300)
        self.assertEqual(list(Release.objects.to_look_at()), [])

    def test_plans_medicines_and_allergies_count_too(self):
        for change in (
            lambda: actions.change_person(self.person, {"circumstances": ["warfarin"]}, {}, self.ana),
            lambda: actions.change_person(self.person, {"allergies": "kiwi"}, {}, self.ana),
            lambda: actions.set_plans(self.person, {"low-sodium": {}, "gluten-free": {}}, self.ana),
        ):
            change()
            self.person.refresh_from_db()
            self.assertTrue(self.release.has_other_limits())
        actions.set_plans(self.person, {"low-sodium": {}}, self.ana)
        self.person.refresh_from_db()
        actions.change_person(self.person, {"circumstances": [], "allergies": ""}, {}, self.ana)
        self.assertFalse(self.release.has_other_limits())

    def test_confirming_is_no_change(self):
        actions.confirm(self.person.targets.get(), self.ana)
        self.assertFalse(self.release.has_other_limits())

    def test_a_practice_may_keep_it_off_its_links(self):
        practice = self.ana.practice
        practice.links_tell_changes = False
        practice.save()
        self.tighten()
        self.assertNotContains(self.public(), "has changed a limit")

    def test_a_recalled_card_says_so_on_its_links(self):
        self.client.post(reverse("handouts:recall", args=[self.release.pk]), {"why": "new bloods"})
        self.assertContains(self.client.get(self.release.get_absolute_url()), "new bloods")
        page = self.public()
        self.assertContains(page, "Do not cook from this card", status_code=410)
        self.assertNotContains(page, "new bloods", status_code=410)
        self.tighten()
        self.assertEqual(list(Release.objects.to_look_at()), [])
