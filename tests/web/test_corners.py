"""Decisions of one line in the rooms that no test near them sees: each falls when its line is turned round (tests/mutations.tsv)."""

from datetime import date, timedelta
from unittest.mock import patch

from bench import actions
from bench.sight import look
from meals import actions as meal_actions
from meals.days import week_of
from meals.models import Occasion
from meals.planning import asked_for
from people import actions as people_actions
from people.models import PersonTarget
from people.regimen import held_to, regimen_of
from tests.web.base import PracticeTest, make_person, make_recipe

WEDNESDAY = date(2027, 3, 3)


class Corners(PracticeTest):
    def test_what_a_card_was_made_for_names_the_circumstances(self):
        noor = make_person(self.ana, "Noor", {}, circumstances=["warfarin"])
        self.assertIn("warfarin", held_to(regimen_of(noor))["circumstances"])

    def test_a_draft_that_was_removed_is_not_missed(self):
        self.assertFalse(regimen_of(self.person).is_behind)
        people_actions.remove_target(self.person.targets.get(), user=self.ana)
        self.assertFalse(regimen_of(self.person).is_behind)

    def test_the_weight_a_recipe_names_is_that_of_the_dish_as_written(self):
        recipe = make_recipe(self.ana)
        recipe.serving_grams = 432
        recipe.save()
        bench, attempt = actions.take_to_bench(recipe, self.person, "lunch", self.ana)

        def weight():
            edit = actions.standing_edit(attempt)
            return look(bench, edit, regimen_of(self.person).eater, attempt=attempt).sheet.cooked.likely

        self.assertEqual(weight(), 432)
        salt = next(line.key for line in bench.written.lines if line.text == "1 tsp salt")
        actions.set_amount(attempt, attempt.version, salt, "1/4 tsp", self.ana)
        self.assertNotEqual(weight(), 432)

    def test_the_mean_of_a_floor_is_that_of_whole_days(self):
        imre = make_person(self.ana, "Ida", {})
        floor = PersonTarget(person=imre, nutrient="protein_g", scope="day", minimum=60, source="the doctor")
        people_actions.save_target(floor, self.ana)
        dinner = meal_actions.begin_for(imre, WEDNESDAY, "dinner", self.ana)
        meal_actions.add_food(Occasion.objects.get(pk=dinner.pk), None, "300 g cooked white rice")
        week = week_of(imre, WEDNESDAY - timedelta(days=2))
        self.assertEqual([day.day.is_whole for day in week.planned], [False])
        self.assertNotIn("protein_g", [each.gate.nutrient for each in week.averages])

    def test_a_day_that_has_been_is_not_planned(self):
        monday = WEDNESDAY - timedelta(days=2)
        for today, first in ((WEDNESDAY, 2), (monday - timedelta(days=3), 0), (monday + timedelta(days=30), 7)):
            with self.subTest(today), patch("meals.planning.localdate", return_value=today):
                asked, _ = asked_for(self.person, monday, is_household=False, with_snack=False)
                self.assertEqual(asked.first, first)
