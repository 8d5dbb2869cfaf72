"""Plans in full on a person's page: settings, the day, the course, tallies; and what bench and card make of them."""

from datetime import date

from django.urls import reverse

from bench import actions as bench_actions
from bench.sight import look
from nutrition.limits.roles import ROLES, WHOLE
from people import actions as people_actions
from people.models import Person, PersonTally
from people.regimen import regimen_of
from tests.web.base import PracticeTest, make_person, make_recipe

POT = "Gluten-free keto bean pot\nServes 4\n2 tbsp soy sauce\n500 g potatoes\n200 ml white wine\n3 cloves garlic\n1 tsp salt\nMethod\nSimmer an hour."


class PlansPage(PracticeTest):
    def follow(self, person, **data):
        return self.client.post(reverse("people:plans", args=[person.pk]), data)

    def test_every_plan_can_be_chosen(self):
        response = self.client.get(reverse("people:plans", args=[self.person.pk]))
        for words in ("on peritoneal dialysis", "Low FODMAP", "Vegan", "Lupin", "Whose list of tree nuts?"):
            self.assertContains(response, words)

    def test_an_older_choice_keeps_its_confirmed_targets(self):
        """A plan that gained a setting since it was chosen stands as it was."""
        choice = self.person.plans.get()
        choice.schools = {"sodium": "guidelines"}
        choice.save()
        self.client.post(reverse("people:confirm_all", args=[self.person.pk]))
        self.follow(self.person, **{"low-sodium": "on", "low-sodium:sodium": "guidelines", "low-sodium:label": "us"})
        self.assertFalse(self.person.targets.get().is_draft)

    def test_a_refused_setting_stays_on_the_page(self):
        response = self.follow(self.person, **{"low-protein": "on", "low-protein:exchanges": "many"})
        self.assertContains(response, "see the setting marked below", status_code=422)

    def test_free_of_plans_need_no_number(self):
        self.follow(self.person, **{"free-of:egg": "on", "vegan": "on"})
        page = self.client.get(self.person.get_absolute_url())
        self.assertContains(page, "Kept out")
        self.assertContains(page, "an allergen kept out")


class Day(PracticeTest):
    def share(self, **data):
        return self.client.post(reverse("people:shares", args=[self.person.pk]), data)

    def test_parts_of_a_meal_are_theirs_to_set(self):
        url = reverse("people:role_shares", args=[self.person.pk])
        usual = {f"role-{key}": f"{100 * role.share:g}" for key, role in ROLES.items() if key != WHOLE}
        self.client.post(url, usual | {"role-side": "40"})
        self.person.refresh_from_db()
        self.assertEqual(self.person.role_shares, {"side": 0.4})  # only what is not as usual
        [gate] = regimen_of(self.person, "side").eater.gates("dinner")
        self.assertAlmostEqual(gate.high.limit, 0.4 * 0.35 * 2300)
        answer = self.client.post(url, usual | {"role-side": "most of it"})
        self.assertContains(answer, "most of it", status_code=422)
        self.person.refresh_from_db()
        self.assertEqual(self.person.role_shares, {"side": 0.4})
        self.client.post(url, usual)
        self.person.refresh_from_db()
        self.assertEqual(self.person.role_shares, {})

    def test_shares_move_the_posts(self):
        self.share(breakfast="20", lunch="30", dinner="40", snack="10")
        self.person.refresh_from_db()
        [gate] = regimen_of(self.person).eater.gates("dinner")
        self.assertAlmostEqual(gate.high.limit, 0.4 * 2300)
        self.assertContains(self.client.get(self.person.get_absolute_url()), "≤ 920")

    def test_refusals_in_words(self):
        for data, words in (
            ({"breakfast": "50", "lunch": "50", "dinner": "50", "snack": "10"}, "add up to 160 %"),
            ({"breakfast": "lots", "lunch": "30", "dinner": "35", "snack": "10"}, "“lots” was typed for breakfast"),
            ({"breakfast": "-5", "lunch": "60", "dinner": "35", "snack": "10"}, "0 to 100 is expected"),
        ):
            response = self.share(**data)
            self.assertContains(response, words, status_code=422)
            self.assertContains(response, f'value="{data["breakfast"]}"', status_code=422)


class Course(PracticeTest):
    def setUp(self):
        super().setUp()
        self.fay = make_person(self.ana, "Fay", {"low-fodmap": {}})

    def date_it(self, **data):
        return self.client.post(reverse("people:course", args=[self.fay.pk]), data)

    def test_dated(self):
        self.date_it(started_on="2026-11-02", strict_weeks="4")
        choice = self.fay.plans.get()
        self.assertEqual(choice.course()[1].first, date(2026, 11, 30))
        self.assertContains(self.client.get(self.fay.get_absolute_url()), "Nov 30")

    def test_refused(self):
        for data, words in (
            ({"started_on": "2026-11-02", "strict_weeks": "12"}, "2 to 6 weeks"),
            ({"started_on": "spring", "strict_weeks": "4"}, "“spring”"),
        ):
            self.assertContains(self.date_it(**data), words, status_code=422)
        self.assertIsNone(self.fay.plans.get().started_on)

    def test_a_group_under_test_has_no_gate(self):
        people_actions.set_plans(self.fay, {"low-fodmap": {"phase": "reintroduction", "lactose": "free"}}, self.ana)
        self.assertNotIn("lactose_g", [t.nutrient for t in self.fay.targets.all()])


class Tallies(PracticeTest):
    def add(self, **data):
        fields = {"name": "Beads", "formula_text": "protein / 2", "rounding": "nearest", "step": "0.5"} | data
        return self.client.post(reverse("people:add_tally", args=[self.person.pk]), fields)

    def test_kept_and_counted(self):
        self.add(free="carrots", daily="10")
        tally = PersonTally.objects.get()
        self.assertEqual((tally.formula, tally.daily, tally.set_by), ({"protein_g": 0.5}, 10.0, self.ana))
        page = self.client.get(self.attempt.get_absolute_url())
        self.assertContains(page, "beads")
        self.assertContains(page, "10 a day allowed")
        self.assertContains(page, "free: Carrots")

    def test_refusals_keep_what_was_typed(self):
        for data, words in (
            ({"formula_text": "protein * fat"}, "only numbers may stand there"),
            ({"daily": "-3"}, "0 or more"),
            ({"free": "qqqqq"}, "not a food of the tables"),
            ({"step": "-1"}, "0 (no rounding)"),
        ):
            response = self.add(**data)
            self.assertContains(response, words, status_code=422)
            self.assertContains(response, 'value="Beads"', status_code=422)
        self.assertFalse(PersonTally.objects.exists())

    def test_removed(self):
        self.add()
        self.client.post(reverse("people:delete_tally", args=[PersonTally.objects.get().pk]))
        self.assertFalse(PersonTally.objects.exists())


class SheetOnTheBench(PracticeTest):
    def setUp(self):
        super().setUp()
        plans = {"gluten-free": {}, "kidney": {}, "low-fodmap": {}, "very-low-carb": {}}
        self.eve = make_person(self.ana, "Eve", plans, weight_kg=60, circumstances=["warfarin", "no_alcohol"])
        recipe = make_recipe(self.ana, POT)
        self.pot, self.first = bench_actions.take_to_bench(recipe, self.eve, "dinner", self.ana)

    def edit(self, **data):
        self.first.refresh_from_db()
        url = reverse("bench:edit", args=[self.pot.pk, self.first.pk])
        data = {"version": self.first.version, **data}
        return self.client.post(url, data, headers={"HX-Request": "true"})

    def key(self, words):
        return next(row.key for row in self.pot.written.lines if words in row.text)

    def sheet(self):
        self.first.refresh_from_db()
        step = bench_actions.standing_edit(self.first)
        return look(self.pot, step, regimen_of(self.eve).eater, attempt=self.first).sheet

    def test_findings_claims_cautions_conflicts(self):
        page = self.client.get(self.first.get_absolute_url())
        for words in (
            "“gluten-free”", "does not hold", "Some alcohol stays in the dish", "contains", "potassium portions",
            "Settle it on the page of Eve", "Ordinary soy sauce is brewed with wheat",
        ):  # fmt: skip
            self.assertContains(page, words)

    def test_boiling_twice_moves_potassium(self):
        before = self.sheet().analysis.amount("potassium_mg")
        response = self.edit(act="state", line=self.key("potatoes"), state="boiled-twice")
        self.assertContains(response, "cut small, boiled twice in fresh water")
        after = self.sheet()
        self.assertLess(after.analysis.amount("potassium_mg"), 0.7 * before)
        least, most = after.analysis.interval("potassium_mg")
        self.assertLess(least, most)
        self.edit(act="state", line=self.key("potatoes"), state="as it is")
        self.assertAlmostEqual(self.sheet().analysis.amount("potassium_mg"), before)

    def test_a_state_that_makes_no_sense_is_refused(self):
        response = self.edit(act="state", line=self.key("salt"), state="simmered-60")
        self.assertContains(response, "cannot be simmered 1 hour", status_code=422)

    def test_a_swap_takes_the_words_with_it(self):
        from nutrition.food.table import foods

        self.edit(act="food", line=self.key("soy sauce"), food_id=foods().by_description("Vinegar, cider").id)
        self.assertNotIn("wheat", [finding.tag for finding in self.sheet().allergens])

    def test_why(self):
        self.edit(act="state", line=self.key("potatoes"), state="boiled-cubed")
        response = self.client.get(reverse("bench:why", args=[self.pot.pk, self.first.pk, "potassium_mg"]))
        for words in ("500 g potatoes", "50 %", "USDA FoodData Central", "working value, common practice", "the post"):
            self.assertContains(response, words)
        gone = self.client.get(reverse("bench:why", args=[self.pot.pk, self.first.pk, "joules"]))
        self.assertEqual(gone.status_code, 404)

    def test_the_cooks_scale_wins_until_the_dish_changes(self):
        url = reverse("bench:keep", args=[self.pot.pk, self.first.pk])
        self.client.post(url, {"name": "Try 1", "notes": "", "cooked": "820 g"})
        self.assertEqual((self.sheet().cooked.likely, self.sheet().cooked.is_measured), (205, True))
        self.edit(act="amount", line=self.key("potatoes"), amount="300 g")
        self.assertFalse(self.sheet().cooked.is_measured)
        response = self.client.post(url, {"name": "Try 1", "notes": "creamy", "cooked": "a lot"})
        self.assertContains(response, "is not a number of grams", status_code=422)
        self.assertContains(response, "creamy", status_code=422)

    def test_card(self):
        page = self.client.get(reverse("handouts:card", args=[self.first.pk]))
        for words in (
            "Wheat: contains", "Against traces", "toaster", "Cook, cool, keep", "Good to know", "The labels decide",
            "It is called “keto”", "Not settled", "Never star fruit",
        ):  # fmt: skip
            self.assertContains(page, words)
        self.assertNotContains(page, " safe ")

    def test_pdf_of_the_full_card(self):
        response = self.client.get(reverse("handouts:card_pdf", args=[self.first.pk]))
        self.assertTrue(response.content.startswith(b"%PDF"))

    def test_compare_lists_what_is_watched(self):
        response = self.client.get(reverse("bench:compare", args=[self.pot.pk, self.first.pk]))
        self.assertContains(response, "Fructans and GOS")


class Circumstances(PracticeTest):
    def test_recorded_and_shown(self):
        data = {"name": "Imre", "circumstances": ["insulin", "warfarin"]}
        self.client.post(reverse("people:edit", args=[self.person.pk]), data)
        self.assertEqual(Person.objects.get(pk=self.person.pk).circumstances, ["insulin", "warfarin"])
        self.assertContains(self.client.get(self.person.get_absolute_url()), "Takes warfarin")
