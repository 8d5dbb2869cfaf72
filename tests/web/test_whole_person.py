"""The whole person: bloods decide, medicines follow, what a plan would change is seen before, and what cannot be is refused."""

from datetime import timedelta

from django.urls import reverse
from django.utils.timezone import localdate

from accounts.permissions import READER
from bench import actions as bench_actions
from people import actions
from people.models import Person
from people.regimen import regimen_of
from tests.web.base import PracticeTest, finished_cook, made_release, make_person


class Whole(PracticeTest):
    def setUp(self):
        super().setUp()
        self.lu = make_person(self.ana, "Lu", {"kidney": {}}, weight_kg=60, energy_kcal=1900)

    def again(self):
        self.lu = Person.objects.get(pk=self.lu.pk)
        return self.lu

    def limits(self):
        return {t.nutrient: (t.minimum, t.maximum) for t in self.lu.targets.all()}

    def page(self):
        return self.client.get(self.lu.get_absolute_url())

    def measure(self, key="potassium_mmol_l", value="4.4", on=None, **more):
        data = {"key": key, "value": value, "on": (on or localdate()).isoformat(), "version": self.again().version}
        return self.client.post(reverse("people:measure", args=[self.lu.pk]), data | more)


class Bloods(Whole):
    def test_a_result_within_the_range_frees_and_says_so(self):
        self.assertEqual(self.limits()["potassium_mg"], (None, 2000))
        self.assertEqual(self.measure().status_code, 302)
        self.assertNotIn("potassium_mg", self.limits())
        page = self.page()
        self.assertContains(page, "not limited")
        self.assertContains(page, "last potassium 4.4 mmol/L on")
        self.assertEqual(self.measure(value="5.8").status_code, 302)
        self.assertEqual(self.limits()["potassium_mg"], (None, 2000))

    def test_a_result_that_grew_old_limits_again_when_drafted_again(self):
        actions.measure(self.again(), "potassium_mmol_l", 4.4, localdate(), self.ana)
        row = self.again().measured[0] | {"on": (localdate() - timedelta(days=100)).isoformat()}
        Person.objects.filter(pk=self.lu.pk).update(measured=[row])
        page = self.page()
        self.assertContains(page, "would draft otherwise by now")
        self.assertContains(page, "no limit stands")
        self.client.post(reverse("people:draft_again", args=[self.lu.pk]))
        self.assertEqual(self.limits()["potassium_mg"], (None, 2000))
        self.assertNotContains(self.page(), "would draft otherwise by now")

    def test_a_prescription_stands_whatever_the_blood_says(self):
        target = self.lu.targets.get(nutrient="potassium_mg")
        target.maximum = 2400
        actions.save_target(target, self.ana)
        self.measure()
        self.assertEqual(self.limits()["potassium_mg"], (None, 2400))
        self.assertContains(self.page(), "would now say no limit; this stands")

    def test_the_newest_weight_is_the_weight_and_drafts_follow(self):
        self.measure("weight_kg", "66")
        self.assertEqual((float(self.again().weight_kg), self.limits()["protein_g"]), (66, (36.3, 39.6)))
        self.measure("weight_kg", "80", localdate() - timedelta(days=30))
        self.assertEqual(float(self.again().weight_kg), 66)

    def test_a_weight_taken_back_leaves_the_one_before(self):
        before = self.limits()
        self.measure("weight_kg", "66")
        data = {"key": "weight_kg", "value": "66", "on": localdate().isoformat(), "version": self.again().version}
        self.client.post(reverse("people:take_back_measured", args=[self.lu.pk]), data)
        self.assertEqual((float(self.again().weight_kg), self.limits()), (60, before))

    def test_a_weight_that_was_cleared_comes_back_with_no_blood(self):
        self.measure("weight_kg", "66")
        actions.change_person(self.again(), {"weight_kg": None}, {}, self.ana)
        self.measure()
        self.assertIsNone(self.again().weight_kg)

    def test_a_weight_seldom_seen_asks(self):
        answer = self.measure("weight_kg", "6.6")
        self.assertContains(answer, "6.6 kg was typed, seldom seen", status_code=422)
        self.assertEqual(float(self.again().weight_kg), 60)
        self.assertEqual(self.measure("weight_kg", "6.6", is_meant="on").status_code, 302)

    def test_written_and_taken_back_is_nothing(self):
        before = self.limits(), self.lu.measured
        self.measure()
        data = {
            "key": "potassium_mmol_l",
            "value": "4.4",
            "on": localdate().isoformat(),
            "version": self.again().version,
        }
        self.client.post(reverse("people:take_back_measured", args=[self.lu.pk]), data)
        self.again()
        self.assertEqual((self.limits(), self.lu.measured), before)
        self.assertContains(self.client.get(reverse("office:person_log", args=[self.lu.pk])), "Potassium 4.4 mmol/L")

    def test_what_cannot_be_is_refused_at_its_field_and_kept(self):
        tomorrow = localdate() + timedelta(days=1)
        for value, on, said in (
            ("44", None, "1.5 to 9 mmol/L is expected"), ("four", None, "a number is expected"),
            ("4.4", tomorrow, "a date up to today is expected"), ("nan", None, "is expected"),
        ):  # fmt: skip
            answer = self.measure(value=value, on=on)
            self.assertContains(answer, said, status_code=422)
            self.assertContains(answer, f'value="{value}"', status_code=422)
        self.assertEqual(self.again().measured, [])

    def test_a_unit_mixed_up_asks_before_it_frees_anything(self):
        answer = self.measure("phosphate_mg_dl", "1.9")
        self.assertContains(answer, "it looks like mmol/L", status_code=422)
        self.assertIn("phosphorus_mg", self.limits())
        self.assertEqual(self.measure("phosphate_mg_dl", "1.9", is_meant="on").status_code, 302)
        self.assertNotIn("phosphorus_mg", self.limits())
        self.assertEqual(self.measure("phosphate_mmol_l", "1.9").status_code, 302)
        self.assertIn("phosphorus_mg", self.limits())
        self.assertEqual(self.measure("phosphate_mg_dl", "5.8").status_code, 302)

    def test_an_old_page_measures_nothing_twice(self):
        data = {"key": "potassium_mmol_l", "value": "4.4", "on": localdate().isoformat(), "version": self.lu.version}
        url = reverse("people:measure", args=[self.lu.pk])
        self.client.post(url, data)
        self.assertEqual(self.client.post(url, data).status_code, 302)
        self.assertEqual(self.client.post(url, data | {"value": "4.6"}).status_code, 422)
        self.assertEqual([row["value"] for row in self.again().measured], [4.4])

    def test_the_bench_says_what_is_not_limited(self):
        actions.measure(self.again(), "potassium_mmol_l", 4.4, localdate(), self.ana)
        _, attempt = bench_actions.take_to_bench(self.recipe, self.again(), "dinner", self.ana)
        page = self.client.get(attempt.get_absolute_url())
        self.assertContains(page, "not limited, last potassium 4.4 mmol/L")


class Facts(Whole):
    def edit(self, **fields):
        data = {"name": "Lu", "weight_kg": "60", "energy_kcal": "1900", **fields}
        return self.client.post(reverse("people:edit", args=[self.lu.pk]), data)

    def test_medicines_bring_their_cautions(self):
        self.edit(medicines="Lisinopril 10 mg, warfarin, zorvexil")
        facts = regimen_of(self.again()).eater.facts
        self.assertLessEqual({"raises_potassium", "warfarin"}, set(facts.circumstances))
        page = self.page()
        self.assertContains(page, "ACE inhibitor")
        self.assertContains(page, "not in the list here")

    def test_a_medicine_changes_what_cards_were_made_for(self):
        made_release(finished_cook(self.attempt, self.ana).result, self.ana)
        self.person.refresh_from_db()
        said = "made for other limits"
        self.assertNotContains(self.client.get(reverse("today")), said)
        actions.change_person(self.person, {"medicines": "spironolactone"}, {}, self.ana)
        self.assertContains(self.client.get(reverse("today")), said)

    def test_a_stage_that_another_plan_is_for_is_said(self):
        self.edit(kidney_stage="hemodialysis")
        self.assertContains(self.page(), "another plan in its place: “stage 5, on hemodialysis”")
        self.edit(kidney_stage="4")
        self.assertNotContains(self.page(), "another plan in its place")

    def test_a_stage_of_the_kidney_moves_the_protein(self):
        self.edit(kidney_stage="2")
        self.assertEqual(self.limits()["protein_g"], (None, 78))

    def test_refusals_stand_at_their_fields(self):
        for fields, said in (
            ({"height_cm": "17"}, "40 to 250 cm"), ({"fluid_ml": "50"}, "200 to 8,000 ml"),
            ({"sex": "male", "life_stage": "pregnant-2"}, "change one of them"),
            ({"life_stage": "pregnant-1", "born_on": "2021-01-01", "weight_kg": "18"}, "check the date of birth"),
        ):  # fmt: skip
            answer = self.edit(**fields)
            self.assertContains(answer, said, status_code=422)
        self.assertEqual(self.again().height_cm, None)

    def test_the_table_is_the_household(self):
        actions.change_person(self.person, {"household": "Quay 4"}, {}, self.ana)
        make_person(self.ana, "Mo", household="Quay 4")
        page = self.client.get(reverse("bench:table", args=[self.bench.pk, self.attempt.pk]))
        self.assertContains(page, "Quay 4")
        self.assertContains(page, "Mo")
        self.assertNotContains(page, "Lu</a>")


class Before(Whole):
    def foresee(self, **data):
        return self.client.post(reverse("people:foresee", args=[self.lu.pk]), data)

    def test_what_plans_would_change_is_what_they_change(self):
        for chosen in (
            {"kidney": "on", "kidney:phosphorus": "1000"},
            {"low-sodium": "on"},
            {"kidney": "on", "diabetes": "on"},
            {},
        ):
            answer = self.foresee(**chosen)
            foreseen = {
                (t.plan, t.nutrient, t.minimum and round(t.minimum, 2), t.maximum and round(t.maximum, 2))
                for t in answer.context["foreseen"].eater.targets
            }
            before = self.limits()
            self.assertEqual(self.limits(), before)
            self.client.post(reverse("people:plans", args=[self.lu.pk]), chosen | {"version": self.again().version})
            after = {(t.plan, t.nutrient, t.minimum, t.maximum) for t in self.lu.targets.all()}
            self.assertEqual(foreseen, after, chosen)

    def test_what_a_plan_leaves_behind_is_foreseen(self):
        target = self.lu.targets.get(nutrient="potassium_mg")
        target.maximum = 2400
        actions.save_target(target, self.ana)
        actions.confirm(self.lu.targets.get(nutrient="potassium_mg"), self.ana)
        actions.remove_target(self.lu.targets.get(nutrient="phosphorus_mg"), None, self.ana)
        for chosen in ({"kidney-dialysis": "on"}, {"kidney": "on"}, {}):
            foreseen = {
                (t.nutrient, t.minimum, t.maximum) for t in self.foresee(**chosen).context["foreseen"].eater.targets
            }
            self.client.post(reverse("people:plans", args=[self.lu.pk]), chosen | {"version": self.again().version})
            after = {(t.nutrient, t.minimum, t.maximum) for t in self.lu.targets.all()}
            self.assertEqual(foreseen, after, chosen)

    def test_a_prescription_is_seen_to_stand(self):
        target = self.lu.targets.get(nutrient="potassium_mg")
        target.maximum = 2400
        actions.save_target(target, self.ana)
        answer = self.foresee(kidney="on", **{"kidney:potassium": "3000"})
        changed = {change.nutrient for change in answer.context["foreseen"].changes}
        self.assertNotIn("potassium_mg", changed)

    def test_plans_that_exclude_each_other_are_refused_in_words(self):
        wanted = {"kidney": "on", "kidney-dialysis": "on"}
        self.assertContains(self.foresee(**wanted), "Not together with Kidney, on hemodialysis")
        answer = self.client.post(reverse("people:plans", args=[self.lu.pk]), wanted)
        self.assertContains(answer, "Untick one of them", status_code=422)
        self.assertEqual({choice.key for choice in self.lu.plans.all()}, {"kidney"})

    def test_a_limit_below_the_floor_asks(self):
        url = reverse("people:add_target", args=[self.lu.pk])
        data = {"nutrient": "protein_g", "maximum": "20", "scope": "day", "source": "letter"}
        answer = self.client.post(url, data)
        self.assertContains(
            answer, "cannot be met together with at least 33 g of “Kidney, before dialysis”", status_code=422
        )
        self.assertEqual(self.client.post(url, data | {"is_meant": "on"}).status_code, 302)

    def test_readers_measure_nothing(self):
        self.ana.role = READER
        self.ana.save()
        self.assertIn(self.measure().status_code, (403, 404))
