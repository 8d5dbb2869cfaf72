"""The table: laid, changed, refused in words, and nothing lost."""

import re
from dataclasses import replace
from datetime import date, timedelta
from unittest.mock import patch

from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from django.utils.timezone import localdate

from accounts.scope import within
from meals import actions
from meals.batches import left_over_for
from meals.days import week_of
from meals.models import AtHome, GivenWeek, Helping, Occasion, OnTable, Seat, WeekLink
from meals.sight import guests_of, table_of
from nutrition.dish.codec import to_data
from nutrition.notes import note
from nutrition.sheet.verdicts import OPEN, SHUT, UNSURE
from people import actions as people_actions
from recipes import actions as recipe_actions
from recipes.models import Recipe
from records.models import Entry
from tests.web.base import PracticeTest, finished_cook, made_release, make_person, make_recipe

POT = (
    "Squash and cream pot\nServes 4\n800 g butternut squash, diced\n1 onion, chopped\n1 tbsp olive oil\n200 ml heavy cream\n1 tsp salt\nMethod\n"
    "Soften the onion in the oil.\nAdd the squash and simmer for 20 minutes.\nStir in the cream and salt."
)


class TableTest(PracticeTest):
    """A dinner of a household of two, with the barley soup of the bench on it."""

    def setUp(self):
        super().setUp()
        self.imre = self.person
        self.imre.household = "Harbor"
        self.imre.save()
        self.noor = make_person(self.ana, "Noor", {"free-of:milk": {}}, household="Harbor")
        self.occasion = actions.begin(localdate() + timedelta(days=2), "dinner", "Harbor", "", self.ana)
        self.soup = actions.add_try(self.occasion, None, self.attempt)

    def seat(self, person):
        return Seat.objects.get(occasion=self.occasion, person=person)

    def sight(self):
        return table_of(Occasion.objects.get(pk=self.occasion.pk))

    def post(self, act, **data):
        version = data.pop("version", Occasion.objects.get(pk=self.occasion.pk).version)
        address = reverse("meals:change", args=[self.occasion.pk])
        return self.client.post(address, {"act": act, "version": version, **data}, headers={"HX-Request": "true"})

    def portion(self, words, person=None, dish=None):
        seat = self.seat(person or self.imre)
        return self.post("portion", seat=seat.pk, dish=(dish or self.soup).pk, words=words)

    def put(self, recipe):
        return actions.add_recipe(Occasion.objects.get(pk=self.occasion.pk), None, recipe)


class Laid(TableTest):
    def test_a_household_sits_down_together(self):
        answer = self.client.post(
            reverse("meals:begin"), {"on": "2026-12-24", "meal": "dinner", "household": "Harbor", "title": "Long night"}
        )
        occasion = Occasion.objects.get(title="Long night")
        self.assertRedirects(answer, occasion.get_absolute_url())
        self.assertEqual({str(seat) for seat in occasion.seats.all()}, {"Imre", "Noor"})
        self.assertEqual(Entry.objects.filter(act="meal.seated", person=self.noor.pk).count(), 2)

    def test_the_list_tells_what_is_to_come_and_what_was(self):
        actions.begin(localdate() - timedelta(days=3), "lunch", "", "Past lunch", self.ana)
        answer = self.client.get(reverse("meals:meals"))
        self.assertContains(answer, "1 dish, 2 at the table")
        self.assertContains(answer, "Past lunch")

    def test_a_meal_in_the_past_is_laid_and_said(self):
        answer = self.client.post(reverse("meals:begin"), {"on": "2020-02-02", "meal": "lunch"}, follow=True)
        self.assertContains(answer, "Sunday, February 2 is past")

    def test_bad_facts_come_back_in_words_with_what_was_typed(self):
        answer = self.client.post(reverse("meals:begin"), {"on": "soon", "meal": "dinner", "title": "Feast"})
        self.assertContains(answer, "A day is expected, as in 2026-12-24.", status_code=422)
        self.assertContains(answer, 'value="Feast"', status_code=422)
        self.assertContains(answer, 'value="soon"', status_code=422)

    def test_an_empty_table_says_what_to_do(self):
        occasion = actions.begin(date(2026, 12, 24), "lunch", "", "", self.ana)
        self.assertContains(self.client.get(occasion.get_absolute_url()), "Nothing stands on the table yet")

    def test_facts_are_kept(self):
        facts = {
            "on": "2026-12-25",
            "meal": "lunch",
            "serve_at": "13:15",
            "title": "Late lunch",
            "version": self.occasion.version,
        }
        self.client.post(reverse("meals:facts", args=[self.occasion.pk]), facts)
        self.occasion.refresh_from_db()
        self.assertEqual(
            (self.occasion.title, self.occasion.meal, f"{self.occasion.serve_at:%H:%M}"),
            ("Late lunch", "lunch", "13:15"),
        )


class Portions(TableTest):
    def test_a_portion_moves_the_gates(self):
        before = self.sight().columns[0].place.verdict("sodium_mg").amount
        answer = self.portion("half")
        self.assertEqual(answer.status_code, 200)
        self.assertAlmostEqual(self.sight().columns[0].place.verdict("sodium_mg").amount, before / 2)
        self.assertContains(answer, 'value="half"')
        self.assertEqual(Entry.objects.filter(act="meal.portion", person=self.imre.pk).count(), 1)

    def test_what_cannot_be_read_comes_back_as_typed(self):
        answer = self.portion("a good lot")
        # At the top, and where the finger is.
        self.assertContains(answer, "“a good lot” is no portion that can be read", count=2, status_code=422)
        self.assertContains(answer, 'value="a good lot"', status_code=422)
        self.assertFalse(Helping.objects.exists())

    def test_none_is_no_portion(self):
        self.portion("0")
        cell = self.sight().cells(0)[0]
        self.assertFalse(cell.is_eaten)
        self.assertEqual(self.sight().columns[0].place.verdict("sodium_mg").amount, 0)

    def test_a_stale_tab_changes_nothing_and_says_what_was_asked(self):
        self.portion("half")
        answer = self.post("portion", version=1, seat=self.seat(self.imre).pk, dish=self.soup.pk, words="2")
        self.assertContains(answer, "changed elsewhere", status_code=409)
        self.assertContains(answer, "“2”", status_code=409)
        self.assertEqual(Helping.objects.get().words, "half")

    def test_the_nearest_portions_are_taken_or_what_they_miss_is_said(self):
        self.portion("2")
        answer = self.post("fit", seat=self.seat(self.imre).pk)
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(self.sight().columns[0].place.verdict("sodium_mg").state, OPEN)
        with patch("meals.views.portions_that_fit", return_value=None):
            self.assertContains(
                self.post("fit", seat=self.seat(self.imre).pk), "No portions of these dishes", status_code=422
            )

    def test_how_much_there_is(self):
        self.portion("4")
        self.assertContains(self.client.get(self.occasion.get_absolute_url()), "5 of 4 eaten")
        self.post("dish", dish=self.soup.pk, role="soup", batches="2", pieces="1")
        self.assertContains(self.client.get(self.occasion.get_absolute_url()), "5 of 8 eaten")
        answer = self.post("dish", dish=self.soup.pk, role="soup", batches="none", pieces="1")
        self.assertContains(answer, "batches", status_code=422)


class Dishes(TableTest):
    def test_a_recipe_a_food_and_a_food_that_fits(self):
        pot = make_recipe(self.ana, POT)
        self.post("add", recipe=pot.pk)
        self.post("add", words="1 slice of bread, 35 g")
        self.post("add", food="pear", halves=3, seat=self.seat(self.noor).pk)
        sight = self.sight()
        self.assertEqual(
            [row.served.title for row in sight.rows][1:], ["Squash and cream pot", "1 slice of bread", "pear"]
        )
        self.assertEqual([each.likely for each in sight.columns[0].place.seat.portions], [1, 1, 1, 0])
        self.assertEqual(sight.columns[1].place.seat.portions[3].likely, 1.5)

    def test_a_food_says_what_it_was_read_as_and_what_is_not_settled(self):
        answer = self.post("add", words="2 slices of unsalted bread, 60 g")
        self.assertContains(answer, "read as Bread,")
        self.assertContains(answer, "not settled: 2 slices of unsalted bread, 60 g")
        self.assertContains(self.post("add", words="150 g apple"), "read as Apples, raw")

    def test_the_same_dish_twice_counts_twice(self):
        once = self.sight().columns[0].place.verdict("sodium_mg").amount
        actions.add_try(Occasion.objects.get(pk=self.occasion.pk), None, self.attempt)
        self.assertAlmostEqual(self.sight().columns[0].place.verdict("sodium_mg").amount, 2 * once)

    def test_a_food_without_weight_and_nothing_at_all_are_refused_in_words(self):
        self.assertContains(self.post("add", words="some flurbl"), "leaves open how much it is", status_code=422)
        self.assertContains(self.post("add", words="  "), "Nothing was chosen", status_code=422)
        self.assertEqual(OnTable.objects.count(), 1)

    def test_a_recipe_of_which_nobody_knows_the_servings(self):
        recipe = make_recipe(self.ana, POT)
        recipe.serves = None
        recipe.save()
        self.assertContains(self.post("add", recipe=recipe.pk), "Nobody has said how many", status_code=422)

    def test_a_try_changed_on_its_bench_is_changed_here(self):
        from bench import actions as bench_actions

        before = self.sight().columns[0].place.verdict("sodium_mg").amount
        bench_actions.drop(self.attempt, self.attempt.version, self.sodium_line().key, self.ana)
        self.assertLess(self.sight().columns[0].place.verdict("sodium_mg").amount, before)

    def test_a_recipe_deleted_while_it_stands_here_stays_as_it_was(self):
        row = self.put(make_recipe(self.ana, POT))
        before = self.sight().rows[1].served.analysis.amount("sodium_mg")
        Recipe.objects.get(pk=row.recipe_id).delete()
        answer = self.client.get(self.occasion.get_absolute_url())
        self.assertContains(answer, "Its recipe is gone from the library; this is how it stood.")
        self.assertAlmostEqual(self.sight().rows[1].served.analysis.amount("sodium_mg"), before)

    def test_taken_off_and_put_back_with_its_portions(self):
        self.portion("half")
        answer = self.post("away", dish=self.soup.pk)
        self.assertContains(answer, "put back")
        self.assertEqual(self.sight().rows, [])
        self.post("away", dish=self.soup.pk, back="1")
        self.assertEqual(self.sight().columns[0].place.seat.portions[0].likely, 0.5)

    def test_dishes_are_found_by_a_word_tries_first(self):
        make_recipe(self.ana, POT)
        answer = self.client.post(reverse("meals:find", args=[self.occasion.pk]), {"words": ""})
        self.assertContains(answer, "as tried for Imre")
        answer = self.client.post(reverse("meals:find", args=[self.occasion.pk]), {"words": "squash"})
        self.assertContains(answer, "Squash and cream pot")
        self.assertNotContains(answer, "Barley soup")
        self.assertContains(
            self.client.post(reverse("meals:find", args=[self.occasion.pk]), {"words": "zzz"}), "No dish is called"
        )


class Eaters(TableTest):
    def test_a_guest_with_limits_only(self):
        answer = self.post("seat", plan=["low-sodium", "free-of:egg"])
        self.assertContains(answer, "A guest")
        column = self.sight().columns[2]
        self.assertEqual(column.plans, ("Low sodium", "Free of egg"))
        self.assertAlmostEqual(column.place.verdict("sodium_mg").gate.high.limit, 805)

    def test_a_guest_of_whom_too_little_is_known_says_what(self):
        self.post("seat", guest="Ottilie", plan=["kidney"])
        column = self.sight().columns[2]
        self.assertTrue(any("body weight" in each for each in column.missing), column.missing)
        self.assertContains(self.client.get(self.occasion.get_absolute_url()), "body weight")

    def test_a_guest_who_weighs_a_ton_is_refused_with_what_was_typed(self):
        answer = self.post("seat", guest="Ottilie", weight_kg="1000")
        self.assertContains(answer, "kg of body weight", status_code=422)
        self.assertContains(answer, 'value="Ottilie"', status_code=422)

    def test_an_eater_without_limits_is_open_and_says_so(self):
        self.post("seat", guest="Bram")
        self.assertEqual(self.sight().columns[2].place.state, OPEN)
        self.assertContains(self.client.get(self.occasion.get_absolute_url()), "No limits known.")

    def test_nobody_sits_twice(self):
        self.assertContains(self.post("seat", person=self.noor.pk), "Noor sits at this table already", status_code=422)
        self.post("away", seat=self.seat(self.noor).pk)
        self.assertEqual([str(column.seat) for column in self.sight().columns], ["Imre"])
        self.post("seat", person=self.noor.pk)
        self.assertEqual([str(column.seat) for column in self.sight().columns], ["Imre", "Noor"])

    def test_a_noted_allergy_is_named(self):
        self.noor.allergies = "barley"
        self.noor.save()
        crossing = self.sight().columns[1].place.crossings[0]
        self.assertEqual((crossing.state, str(crossing.why)), (UNSURE, "noted allergy: barley is named"))

    def test_somebody_erased_is_nowhere_at_the_table(self):
        from office import actions as office_actions

        office_actions.erase(self.noor, "Noor", self.ana)
        self.assertNotContains(self.client.get(self.occasion.get_absolute_url()), "Noor")


class PortionsForAll(TableTest):
    """Portions first, then the dish: Imre has 600 mg of sodium at dinner, and a soup of more."""

    def test_whom_portions_open_and_whom_they_do_not(self):
        ines = make_person(self.ana, "Ines", {"low-sodium": {}}, household="Harbor")
        actions.seat_person(Occasion.objects.get(pk=self.occasion.pk), None, ines, self.ana)
        before = [column.place.state for column in self.sight().columns]
        self.assertEqual(before.count(SHUT), 2)
        self.assertContains(self.client.get(self.occasion.get_absolute_url()), "Portions that fit all")
        answer = self.post("fit_all")
        fitted = answer.context["fitted"]
        changed = {str(seat) for seat in fitted.portions}
        left = {str(each.seat) for each in fitted.left}
        self.assertEqual(changed | left, {"Imre", "Ines"})
        states = {str(column.seat): column.place.state for column in self.sight().columns}
        self.assertTrue(all(states[name] != SHUT for name in changed))
        self.assertTrue(all(states[name] == SHUT for name in left))

    def test_what_no_portions_mend_names_the_dish_to_change(self):
        """A meal that asks for 900 mg of protein in grams nobody can eat: no portions reach it."""
        target = self.imre.targets.first()
        target.minimum, target.maximum, target.scope, target.nutrient = 200, None, "meal", "protein_g"
        people_actions.save_target(target, self.ana)
        fitted = self.post("fit_all").context["fitted"]
        self.assertEqual(([str(each.seat) for each in fitted.left], fitted.portions), (["Imre"], {}))
        self.assertEqual(fitted.left[0].misses[0].side, "low")

    def test_a_stale_tab_changes_nothing(self):
        self.assertEqual(self.post("fit_all", version=1).status_code, 409)


class OverTheWholeTable(TableTest):
    """Imre has 600 mg of sodium at dinner and a soup of more; Noor drinks no milk, and the pot has cream in it."""

    def setUp(self):
        super().setUp()
        self.pot = self.put(make_recipe(self.ana, POT))

    def ask(self):
        return self.client.post(reverse("meals:whole", args=[self.occasion.pk]), headers={"HX-Request": "true"})

    def test_is_told_before_anything_changes_and_taken_at_once(self):
        before = [column.place.state for column in self.sight().columns]
        self.assertEqual(before, [SHUT, SHUT])
        self.assertContains(self.client.get(self.occasion.get_absolute_url()), "A way for everybody")
        answer = self.ask()
        found, errand = answer.context["found"], answer.context["errand"]
        self.assertContains(answer, "Lay the table so")
        self.assertEqual(found.shut, (2, 0))
        self.assertEqual([column.place.state for column in self.sight().columns], before)
        self.assertEqual(self.post("take_whole", errand=errand.pk).status_code, 200)
        after = {str(column.seat): column.place.state for column in self.sight().columns}
        self.assertEqual(after, {str(place.seat): place.states[1] for place in found.places})
        self.assertNotIn(SHUT, after.values())

    def test_nothing_of_a_person_is_kept_in_it_but_numbers(self):
        self.assertNotIn("Noor", str([kept["places"] for kept in [self.ask().context["errand"].result]]))

    def test_of_a_table_that_was_changed_since_nothing_is_taken(self):
        errand = self.ask().context["errand"]
        self.portion("half")
        self.assertEqual(self.post("take_whole", errand=errand.pk).status_code, 409)
        state = reverse("meals:whole_state", args=[self.occasion.pk, errand.pk])
        self.assertContains(self.client.get(state), "The table was changed since")
        self.assertEqual(self.post("take_whole", errand="0").status_code, 422)

    def test_where_all_are_through_nothing_has_to_change(self):
        self.post("away", dish=self.pot.pk)
        self.post("away", dish=self.soup.pk)
        self.post("add", words="1 slice of melon, 100 g")
        self.assertContains(self.ask(), "Nothing has to change.")

    def test_what_a_label_decides_is_said_and_never_called_through(self):
        self.post("away", dish=self.pot.pk)
        self.post("away", dish=self.soup.pk)
        self.put(make_recipe(self.ana, "Broth\nServes 2\n600 ml chicken stock\n300 g carrots\nMethod\nSimmer."))
        self.assertEqual(self.sight().columns[0].place.state, UNSURE)
        answer = self.ask()
        self.assertNotContains(answer, "Nothing has to change.")
        self.assertContains(answer, "A label, or what is not known, decides for")
        self.assertContains(answer, "Imre (sodium")

    def test_a_part_that_was_without_a_line_is_not_without_what_stands_in_for_it(self):
        [apart] = [each for each in self.sight().splits if each.row.row == self.pot]
        self.post("take_out", dish=self.pot.pk, seat=list(apart.seats), key=list(apart.keys))
        dish = self.sight().rows[1].served.dish
        other = dish.changed(apart.keys[0], lambda line: replace(line, text="squash", food_id=dish.lines[0].food_id))
        occasion = Occasion.objects.get(pk=self.occasion.pk)
        actions.change_dish(occasion, None, self.pot, other, dish)
        self.assertEqual(self.sight().splits, [])
        self.assertEqual(self.pot.helpings.get(seat=self.seat(self.noor)).without, [])


class OnePot(TableTest):
    def setUp(self):
        super().setUp()
        self.pot = self.put(make_recipe(self.ana, POT))

    def test_their_part_is_served_without_what_they_cannot_have(self):
        answer = self.client.get(self.occasion.get_absolute_url())
        self.assertContains(answer, "Leave heavy cream out of the pot.")
        [apart] = [
            each for each in self.sight().splits if each.row.row == self.pot and self.seat(self.noor).pk in each.seats
        ]
        self.assertEqual(self.sight().columns[1].place.crossings[1].state, SHUT)
        self.post("take_out", dish=self.pot.pk, seat=list(apart.seats), key=list(apart.keys))
        self.assertEqual(self.sight().columns[1].place.crossings[1].state, OPEN)
        self.assertEqual(
            self.sight().columns[0].place.crossings[1].takes, self.sight().columns[0].place.crossings[1].takes
        )
        self.post("take_out", dish=self.pot.pk, seat=self.seat(self.noor).pk)
        self.assertEqual(self.sight().columns[1].place.crossings[1].state, SHUT)

    def test_once_served_so_the_kitchen_still_reads_how(self):
        """What is to be done with the pot does not go from the kitchen's pages because it was decided."""
        [apart] = [each for each in self.sight().splits if each.row.row == self.pot]
        words = apart.words
        self.post("take_out", dish=self.pot.pk, seat=list(apart.seats), key=list(apart.keys))
        [apart] = [each for each in self.sight().splits if each.row.row == self.pot]
        self.assertEqual((apart.words, apart.is_taken), (words, True))
        for address in ("meals:table", "meals:clock"):
            self.assertContains(self.client.get(reverse(address, args=[self.occasion.pk])), "Leave heavy cream out")

    def test_on_paper_both_pots_have_their_amounts_and_the_step_where_they_part(self):
        """Four servings, one each for Imre and Noor: a quarter of 800 g of squash is Noor's, and none of the cream."""
        address = reverse("meals:pot", args=[self.occasion.pk, self.pot.pk])
        pot = self.client.get(address).context["pot"]
        self.assertEqual(pot.names, ["Noor"])
        squash, cream = pot.lines[0], pot.lines[3]
        self.assertEqual((squash.in_all, squash.of_each, squash.rest), (800, (200,), 600))
        self.assertEqual(cream.of_each, (0,))
        self.assertAlmostEqual(cream.in_all, cream.rest)
        self.assertAlmostEqual(cream.rest, 0.75 * cream.line.grams)
        self.assertEqual([number for number, _ in pot.steps], [1, 2, 3, 0])
        self.assertIn("Leave heavy cream out of the pot", pot.steps[-1][1])
        self.post("dish", dish=self.pot.pk, role="main", batches="2", pieces="1")
        self.assertEqual(self.client.get(address).context["pot"].lines[0].in_all, 1600)

    def test_on_paper_a_line_without_weight_is_no_zero_and_what_is_kept_out_is_none(self):
        """Two things nobody weighed: none of the one for Noor, a part of the other, and "0 g" of neither."""
        text = POT.replace("200 ml heavy cream", "flurbl, as you like it\nzhoug, as you like it")
        pot = self.put(make_recipe(self.ana, text))
        flurbl, zhoug = pot.kept.lines[3:5]
        self.assertFalse(flurbl.is_weighed or zhoug.is_weighed)
        self.post("take_out", dish=pot.pk, seat=self.seat(self.noor).pk, key=flurbl.key)
        answer = self.client.get(reverse("meals:pot", args=[self.occasion.pk, pot.pk]))
        lines = {each.line.key: each for each in answer.context["pot"].lines}
        self.assertEqual((lines[flurbl.key].left_out, lines[zhoug.key].left_out), ((True,), (False,)))
        self.assertContains(answer, "<b>none</b>", 1)
        self.assertContains(answer, "their part")
        self.assertContains(answer, "not weighed", 3)  # and the cream that a step still names
        self.assertNotIn("0 g of", " ".join(words for _, words in answer.context["pot"].steps))

    def test_the_rest_of_what_nobody_weighed_is_named_without_a_figure(self):
        said = [
            str(note("meal.goes_on", lines=lines)) for lines in ((("cream", None),), (("salt", 2.6), ("cream", 150.0)))
        ]
        self.assertEqual(
            said, ["The rest goes on with cream.", "The rest goes on with 2.6 g of salt and 150 g of cream."]
        )

    def test_a_part_that_is_taken_out_and_still_not_right_is_one_part(self):
        """Noor's is out before the onion by a slip; it is still shut for the cream, and stands once on paper, without the cream."""
        onion = self.pot.kept.lines[1].key
        self.post("take_out", dish=self.pot.pk, seat=self.seat(self.noor).pk, key=onion)
        pot = self.client.get(reverse("meals:pot", args=[self.occasion.pk, self.pot.pk])).context["pot"]
        self.assertEqual(pot.names, ["Noor"])
        squash, cream = pot.lines[0], pot.lines[3]
        self.assertEqual((squash.in_all, squash.of_each, cream.of_each), (800, (200,), (0,)))

    def test_what_nobody_who_eats_of_it_has_is_left_out_of_all_of_it(self):
        self.post("take_out", dish=self.pot.pk, seat=self.seat(self.noor).pk, key=self.pot.kept.lines[3].key)
        self.portion("4", self.noor, self.pot)
        self.portion("none", self.imre, self.pot)
        pot = self.client.get(reverse("meals:pot", args=[self.occasion.pk, self.pot.pk])).context["pot"]
        self.assertEqual(pot.lines[3].in_all, 0)
        self.assertIn("nobody who eats of it (Noor) has it", pot.steps[0][1])

    def test_one_way_for_everybody_is_cooked_for_this_table_alone(self):
        self.post("away", dish=self.soup.pk)
        answer = self.client.post(reverse("meals:way", args=[self.occasion.pk, self.pot.pk]))
        self.assertContains(answer, "one way for everybody")
        errand = answer.context["errand"]
        self.assertTrue(errand.result["ways"])
        self.post("take_way", dish=self.pot.pk, errand=errand.pk, way=1)
        sight = self.sight()
        self.assertEqual(sight.rows[0].note, "Changed for this table.")
        self.assertEqual([kept.state for kept in sight.columns[1].place.kept], [OPEN])
        self.assertEqual(
            to_data(Recipe.objects.get(pk=self.pot.recipe_id).dish)["lines"][3]["text"], "200 ml heavy cream"
        )
        self.post("as_in_the_library", dish=self.pot.pk)
        self.assertEqual(self.sight().columns[1].place.crossings[0].state, SHUT)

    def test_a_way_of_another_table_or_of_before_is_not_taken(self):
        answer = self.client.post(reverse("meals:way", args=[self.occasion.pk, self.pot.pk]))
        errand = answer.context["errand"]
        self.portion("half")
        self.assertEqual(
            self.post("take_way", dish=self.pot.pk, errand=errand.pk, way=1).status_code, 409 if errand.is_done else 422
        )
        self.assertEqual(self.post("take_way", dish=self.pot.pk, errand=errand.pk, way="x").status_code, 422)

    def test_meals_that_are_over_without_it_say_so(self):
        self.portion("20", self.imre, self.soup)
        answer = self.client.post(reverse("meals:way", args=[self.occasion.pk, self.pot.pk]))
        self.assertContains(answer, "Without Squash and cream pot these meals are over already")


class GivenOut(TableTest):
    """A week behind a private link: as it was given out, and nothing else."""

    def setUp(self):
        super().setUp()
        self.monday = self.occasion.on - timedelta(days=self.occasion.on.weekday())
        self.sheet = reverse("meals:sheet", args=[self.imre.pk, self.monday.isoformat()])
        self.address = self.give(days="7", for_whom="Imre")

    def give(self, **said):
        answer = self.client.post(reverse("meals:give_week", args=[self.imre.pk, self.monday.isoformat()]), said)
        found = re.search(r"/meals/for/[\w-]+/", answer.content.decode())
        return found[0] if found else answer

    def read(self, address="", **asked):
        return Client().get(address or self.address, asked)

    def test_opens_without_an_account_and_shows_the_week_only(self):
        page = self.read()
        self.assertContains(page, "Barley soup")
        self.assertEqual((page["Cache-Control"], page["Referrer-Policy"]), ("private, no-store", "no-referrer"))
        links = set(re.findall(r'(?:href|action|src)="([^"]+)"', page.content.decode()))
        self.assertEqual({link for link in links if not link.startswith(("/static/", "?large"))}, set())
        self.assertContains(self.read(large="1"), "is-large")
        self.assertContains(self.client.get(self.sheet), "opened 2 times")
        self.assertEqual(Client().post(self.address).status_code, 405)

    def test_it_stays_as_it_was_given_and_says_when_there_is_another(self):
        actions.add_food(Occasion.objects.get(pk=self.occasion.pk), None, "1 apple, 150 g")
        self.assertNotContains(self.read(), "apple")
        self.assertNotContains(self.read(), "newer sheet")
        second = self.give(days="7")
        self.assertContains(self.read(second), "apple")
        self.assertNotContains(self.read(second), "newer sheet")
        self.assertContains(self.read(), "newer sheet for this week")

    def test_it_says_when_a_limit_was_changed(self):
        from people import actions as people_actions

        self.assertNotContains(self.read(), "has changed a limit")
        target = self.imre.targets.first()
        target.maximum = 1500
        people_actions.save_target(target, self.ana)
        self.assertContains(self.read(), "has changed a limit")

    def test_it_says_who_stands_behind_the_limits_and_whoever_gives_it_what_is_over(self):
        from people import actions as people_actions

        self.assertContains(self.read(), "No limit has been confirmed by a licensed practitioner.")
        self.assertNotContains(self.client.get(self.sheet), "Over a limit")
        people_actions.confirm(self.imre.targets.first(), self.ana)
        actions.add_food(Occasion.objects.get(pk=self.occasion.pk), None, "2 tsp salt")
        self.assertContains(self.read(self.give(days="7")), f"Limits confirmed by {self.ana.signature}.")
        self.assertContains(self.client.get(self.sheet), "Over a limit")

    def test_a_word_an_end_and_a_withdrawal(self):
        asked = self.give(days="7", word="1948")
        self.assertContains(self.read(asked), "One thing more", status_code=200)
        self.assertNotContains(self.read(asked), "Barley")
        reader = Client()
        self.assertContains(reader.post(asked, {"word": "1947"}), "That is not it", status_code=403)
        self.assertContains(reader.post(asked, {"word": " 1948 "}, follow=True), "Barley soup")
        link = WeekLink.objects.order_by("pk").first()
        self.client.post(reverse("meals:withdraw_week", args=[link.pk]))
        page = self.read()
        self.assertContains(page, "This link has ended", status_code=410)
        self.assertNotContains(page, "Barley", status_code=410)
        self.assertEqual(self.read(self.address[:-3] + "x/").status_code, 404)

    def test_no_day_or_a_thousand_is_refused_in_words(self):
        for days in ("", "0", "a few", "1000"):
            with self.subTest(days):
                answer = self.give(days=days)
                self.assertEqual(answer.status_code, 302)
        self.assertEqual(WeekLink.objects.count(), 1)

    def test_erased_with_the_person(self):
        from office import actions as office_actions
        from office.exporting import everything_about

        self.assertIn("Barley soup", everything_about(self.imre)["weeks"][0]["sheet"])
        office_actions.erase(self.imre, self.imre.name, self.ana)
        self.assertEqual((GivenWeek.objects.count(), WeekLink.objects.count()), (0, 0))
        self.assertEqual(self.read().status_code, 404)


class AtHomeAlready(TableTest):
    """What the cupboard has is not bought; it counts for a household, and for its week."""

    def setUp(self):
        super().setUp()
        self.monday = self.occasion.on - timedelta(days=self.occasion.on.weekday())
        self.barley = next(line.food_id for line in self.recipe.dish.lines if "barley" in line.text)

    def say(self, typed, food_id="", person=None, **more):
        address = reverse("meals:at_home", args=[(person or self.imre).pk, self.monday.isoformat()])
        said = {"food_id": food_id or self.barley, "typed": typed}
        return self.client.post(address, said | more, headers={"HX-Request": "true"})

    def item(self, person=None, monday=None):
        address = reverse("meals:shopping", args=[(person or self.imre).pk, (monday or self.monday).isoformat()])
        found = self.client.get(address).context["found"]
        return next(item for _, items in found.aisles for item in items if item.food_id == self.barley)

    def test_less_is_bought_and_nothing_where_there_is_enough(self):
        wanted = self.item().to_buy_g
        self.say("50 g")
        self.assertAlmostEqual(self.item().to_buy_g, wanted - 50)
        self.say("5 kg")
        self.assertTrue(self.item().is_at_home)
        self.assertContains(self.say("5 kg"), "At home already")
        self.say("")
        self.assertEqual(self.item().to_buy_g, wanted)

    def test_of_a_week_or_always(self):
        self.say("50 g")
        later = actions.begin(self.occasion.on + timedelta(days=7), "dinner", "Harbor", "", self.ana)
        actions.add_recipe(later, None, self.recipe)
        next_week = self.monday + timedelta(days=7)
        self.assertEqual(self.item(monday=next_week).at_home, 0)
        self.say("Always")
        self.assertTrue(self.item().is_at_home and self.item(monday=next_week).is_at_home)
        self.say("none")
        self.assertFalse(self.item().is_at_home or self.item(monday=next_week).is_at_home)

    def test_it_is_the_household_s(self):
        self.say("always")
        self.assertTrue(self.item(self.noor).is_at_home)
        self.say("", person=self.noor)
        self.assertFalse(self.item().is_at_home)

    def test_what_cannot_be_read_is_said_and_kept(self):
        for words in ("a good few", "some", "-3"):
            with self.subTest(words):
                self.assertContains(self.say(words), words, status_code=422)
                carrot = next(line.food_id for line in self.recipe.dish.lines if "carrot" in line.text)
                self.assertContains(self.say(words, carrot), words, status_code=422)
        answer = self.say("a good deal")
        self.assertEqual(answer.status_code, 422)
        self.assertContains(answer, "a good deal", status_code=422)
        self.assertEqual(self.say("50 g", food_id="nothing").status_code, 404)
        self.assertEqual(AtHome.objects.count(), 0)


class FromACard(TableTest):
    """What went out on a card stands on a table as it went out."""

    def setUp(self):
        super().setUp()
        self.cook = finished_cook(self.attempt, self.ana)
        self.card = made_release(self.cook.result, self.ana)
        self.post("add", release=self.card.pk)
        self.row = OnTable.objects.get(release=self.card)

    def served(self):
        return next(row for row in self.sight().rows if row.row.pk == self.row.pk)

    def test_it_follows_no_edit_and_says_which_card_it_is(self):
        from bench import actions as bench_actions

        before = self.served().served.analysis.amount("sodium_mg")
        self.assertIn("card 1, as it went out", self.served().what)
        attempt = self.cook.result
        bench_actions.add(attempt, attempt.version, "2 tsp salt", self.ana)
        self.assertEqual(self.served().served.analysis.amount("sodium_mg"), before)
        # The same try beside it does follow.
        self.post("add", attempt=attempt.pk)
        other = next(row for row in self.sight().rows if row.row.attempt_id == attempt.pk)
        self.assertGreater(other.served.analysis.amount("sodium_mg"), before)
        self.assertEqual(self.served().served.analysis.amount("sodium_mg"), before)

    def test_a_recalled_card_says_so(self):
        from handouts import actions as handout_actions

        self.assertEqual(self.served().note, "")
        handout_actions.recall(self.card, "too salty", self.ana)
        self.assertIn("recalled", self.served().note)
        found = self.client.post(reverse("meals:find", args=[self.occasion.pk]))
        self.assertEqual(found.context["offered"].cards, [])

    def test_it_is_found_where_its_eater_sits(self):
        found = self.client.post(reverse("meals:find", args=[self.occasion.pk]))
        self.assertEqual(found.context["offered"].cards, [self.card])
        self.assertContains(found, "card 1 for Imre, as it went out on")

    def test_changed_for_this_table_it_goes_back_to_the_card(self):
        occasion = Occasion.objects.get(pk=self.occasion.pk)
        dish = self.served().served.dish
        actions.change_dish(occasion, None, self.row, dish.with_lines(dish.lines[:1]), dish)
        self.assertEqual(len(self.served().served.dish.lines), 1)
        self.assertNotIn("as it went out", self.served().what)
        self.post("as_in_the_library", dish=self.row.pk)
        self.assertEqual(self.served().served.dish.lines, dish.lines)

    def test_a_dish_changed_for_this_table_stays_changed_beside_the_same_dish(self):
        """The same recipe twice: once as it is in the library, once changed for this table."""
        first, second = self.put(self.recipe), self.put(self.recipe)
        occasion = Occasion.objects.get(pk=self.occasion.pk)
        actions.change_dish(occasion, None, second, second.kept.with_lines(second.kept.lines[:1]), second.kept)
        lines = {row.row.pk: len(row.served.dish.lines) for row in self.sight().rows}
        self.assertEqual((lines[first.pk], lines[second.pk]), (len(self.recipe.dish.lines), 1))

    def test_a_card_of_before_is_refused_in_words(self):
        card = self.card
        old = type(card)(
            bench=card.bench, attempt=card.attempt, number=9, title="Old", body=card.body, released_by=self.ana
        )
        old.save()
        answer = self.post("add", release=old.pk)
        self.assertContains(answer, "before dishes were kept with their cards", status_code=422)


class DaysAndWeeks(TableTest):
    monday = date(2027, 3, 1)

    def put_on(self, number, meal, recipe=None, words="", person=None):
        occasion = actions.begin_for(person or self.imre, self.monday + timedelta(days=number), meal, self.ana)
        fresh = Occasion.objects.get(pk=occasion.pk)
        return actions.add_recipe(fresh, None, recipe) if recipe else actions.add_food(fresh, None, words)

    def week(self):
        return week_of(self.imre, self.monday)

    def dishes(self, meal):
        return self.client.get(reverse("meals:day_dishes", args=[self.imre.pk, self.monday.isoformat(), meal]))

    def test_dishes_that_stay_within_what_the_day_leaves(self):
        """Imre has 600 mg of sodium at dinner; what a lunch has eaten of the day is not there for dinner."""
        broth = make_recipe(self.ana, "Bean stew\nServes 2\n400 g carrots\n1 tsp salt\nMethod\nSimmer.")
        mild = make_recipe(self.ana, "Mild stew\nServes 2\n400 g carrots\nMethod\nSimmer.")
        answer = self.dishes("dinner")
        self.assertContains(answer, "Mild stew")
        self.put_on(0, "lunch", broth)
        salty = self.week().days[0].day.left("sodium_mg")
        self.assertLess(salty, 1200)
        answer = self.dishes("dinner")
        self.assertContains(answer, "Mild stew")
        self.assertNotContains(answer, "Bean stew")
        self.assertNotContains(self.dishes("breakfast"), "Mild stew")
        address = reverse("meals:lay", args=[self.imre.pk])
        self.client.post(address, {"on": self.monday.isoformat(), "meal": "dinner", "recipe": mild.pk})
        sitting = self.week().days[0].sittings["dinner"]
        self.assertEqual([each.row.served.title for each in sitting.eaten], ["Mild stew"])
        noor = week_of(self.noor, self.monday).days[0]
        self.assertEqual(noor.sittings["dinner"].eaten, ())

    def test_what_they_will_not_eat_is_not_offered(self):
        make_recipe(self.ana, "Mild stew\nServes 2\n400 g carrots\nMethod\nSimmer.")
        self.assertContains(self.dishes("dinner"), "Mild stew")
        self.imre.dislikes = "carrots"
        self.imre.save()
        self.assertNotContains(self.dishes("dinner"), "Mild stew")

    def test_a_meal_that_is_none_is_not_found(self):
        self.assertEqual(self.dishes("elevenses").status_code, 404)

    def test_a_table_is_laid_once_for_a_meal_of_a_household(self):
        one, other = (actions.begin_for(person, self.monday, "dinner", self.ana) for person in (self.imre, self.noor))
        self.assertEqual(one, other)
        alone = make_person(self.ana, "Solo", {})
        self.assertEqual(
            [str(seat) for seat in actions.begin_for(alone, self.monday, "dinner", self.ana).seats.all()], ["Solo"]
        )

    def test_a_day_tells_its_meals_on_one_fence(self):
        self.put_on(0, "lunch", self.recipe)
        self.put_on(0, "dinner", words="200 g cooked white rice")
        answer = self.client.get(reverse("meals:day", args=[self.imre.pk, "2027-03-01"]))
        [(verdict, parts)] = answer.context["sight"].strips
        self.assertEqual([meal for meal, _ in parts], ["lunch", "dinner"])
        self.assertAlmostEqual(sum(amount for _, amount in parts), verdict.amount)
        self.assertContains(answer, "Barley soup")
        self.assertContains(answer, "Lay a table", count=2)

    def test_a_limit_of_each_meal_stands_at_the_meal(self):
        from people.models import PersonTarget

        target = PersonTarget(
            person=self.imre, nutrient="sodium_mg", maximum=100, scope="meal", source="own", set_by=self.ana
        )
        target.save()
        self.put_on(0, "lunch", self.recipe)
        sitting = self.week().days[0].sittings["lunch"]
        self.assertEqual([(v.gate.nutrient, v.gate.high.limit) for v in sitting.limits], [("sodium_mg", 100)])
        self.assertEqual((sitting.state, self.week().days[0].day.state), (SHUT, SHUT))
        self.assertContains(self.client.get(reverse("meals:day", args=[self.imre.pk, "2027-03-01"])), "mg over")

    def test_two_tables_of_one_meal_are_one_sitting(self):
        self.put_on(0, "lunch", self.recipe)
        once = self.week().days[0].day.verdicts[0].amount
        second = actions.begin(self.monday, "lunch", "Harbor", "Picnic", self.ana)
        actions.add_recipe(second, None, self.recipe)
        self.assertAlmostEqual(self.week().days[0].day.verdicts[0].amount, 2 * once)

    def test_a_week_sums_averages_and_repeats(self):
        self.put_on(0, "lunch", self.recipe)
        self.put_on(2, "lunch", self.recipe)
        sight = self.week()
        self.assertEqual(sight.repeats, [("Barley soup", 2)])
        [verdict] = sight.averages
        self.assertAlmostEqual(verdict.amount, sight.days[0].day.verdicts[0].amount)
        self.assertContains(
            self.client.get(reverse("meals:week_from", args=[self.imre.pk, "2027-03-03"])),
            "March 1 to March 7, 2027",
        )

    def test_a_week_without_dishes_says_what_to_do(self):
        self.assertContains(
            self.client.get(reverse("meals:week_from", args=[self.imre.pk, "2030-01-01"])),
            "Nothing is planned in this week",
        )

    def test_a_week_takes_as_many_queries_as_a_day(self):
        for number in range(6):
            for meal in ("lunch", "dinner"):
                self.put_on(number, meal, self.recipe)
        with CaptureQueriesContext(connection) as found:
            self.week()
        self.assertLessEqual(len(found), 14)

    def test_what_is_left_over_is_cooked_once_and_counted_once(self):
        source = self.put_on(0, "dinner", self.recipe)  # serves four, two eat
        thursday = actions.begin_for(self.imre, self.monday + timedelta(days=3), "lunch", self.ana)
        [(row, servings, batch)] = left_over_for(thursday)
        self.assertEqual((row, servings), (source, 2))
        answer = self.client.post(reverse("meals:find", args=[thursday.pk]), {"words": ""})
        self.assertContains(answer, "2 left over from Monday")
        self.client.post(
            reverse("meals:change", args=[thursday.pk]),
            {"act": "add", "left_over": row.pk, "version": Occasion.objects.get(pk=thursday.pk).version},
        )
        [(_, batch)] = self.week().batches
        self.assertEqual((batch.made, batch.eaten, batch.rest), (4, 4, 0))
        self.assertContains(self.client.get(thursday.get_absolute_url()), "Left over from another table")
        self.assertContains(
            self.client.get(source.occasion.get_absolute_url()), "A batch of 4: 2 here, 2 on Thursday, March 4."
        )

    def test_a_batch_past_its_days_goes_into_the_freezer(self):
        source = self.put_on(0, "dinner", self.recipe)
        late = actions.begin_for(self.imre, self.monday + timedelta(days=9), "lunch", self.ana)
        actions.add_left_over(Occasion.objects.get(pk=late.pk), None, source)
        self.assertContains(self.client.get(late.get_absolute_url()), "goes into the freezer")

    def test_a_date_nobody_can_read_is_today(self):
        answer = self.client.get(reverse("meals:day", args=[self.imre.pk, "soon"]))
        self.assertEqual(answer.context["on"], localdate())


class Provisions(TableTest):
    """Monday's soup for two, its rest on Thursday, an apple on Friday."""

    monday = date(2027, 3, 1)

    def setUp(self):
        super().setUp()
        monday = actions.begin_for(self.imre, self.monday, "dinner", self.ana)
        self.source = actions.add_recipe(Occasion.objects.get(pk=monday.pk), None, self.recipe)
        thursday = actions.begin_for(self.imre, self.monday + timedelta(days=3), "lunch", self.ana)
        actions.add_left_over(Occasion.objects.get(pk=thursday.pk), None, self.source)
        friday = actions.begin_for(self.imre, self.monday + timedelta(days=4), "snack", self.ana)
        actions.add_food(Occasion.objects.get(pk=friday.pk), None, "150 g apple")

    def get(self, name, **asked):
        return self.client.get(reverse(f"meals:{name}", args=[self.imre.pk, "2027-03-01"]), asked)

    def test_what_is_left_over_is_bought_once_and_a_food_as_often_as_it_is_eaten(self):
        found = self.get("shopping").context["found"]
        items = {item.food_id: item for _, items in found.aisles for item in items}
        carrots = next(line for line in self.recipe.dish.lines if "carrots" in line.text)
        self.assertAlmostEqual(items[carrots.food_id].grams, carrots.grams)
        [apples] = [item for item in items.values() if item.name.lower().startswith("apple")]
        self.assertAlmostEqual(apples.grams, 300)  # Imre and Noor

    def test_the_label_of_the_stock_has_the_lowest_figure_of_all_tables(self):
        alone = self.ceiling()
        lunch = actions.begin_for(self.imre, self.monday + timedelta(days=1), "snack", self.ana)
        actions.add_recipe(Occasion.objects.get(pk=lunch.pk), None, self.recipe)  # a tenth of the day, not a third
        self.assertLessEqual(self.ceiling(), alone)

    def ceiling(self):
        found = [
            c.room
            for _, items in self.get("shopping").context["found"].aisles
            for item in items
            for c in item.ceilings
            if c.nutrient == "sodium_mg"
        ]
        return min(found, default=9e9)

    def test_nothing_planned_is_nothing_to_buy(self):
        answer = self.client.get(reverse("meals:shopping", args=[self.imre.pk, "2030-01-01"]))
        self.assertContains(answer, "there is nothing to buy")

    def test_the_week_on_paper(self):
        answer = self.get("sheet")
        self.assertContains(answer, "Barley soup: 1 serving")
        self.assertContains(answer, "150 g apple")
        self.assertNotContains(answer, "is-large")
        self.assertContains(self.get("sheet", large="1"), "is-large")

    def test_the_calendar_file_reads_back(self):
        """RFC 5545, read by the icalendar package."""
        from icalendar import Calendar

        answer = self.get("calendar")
        self.assertEqual(answer["Content-Type"], "text/calendar; charset=utf-8")
        events = list(Calendar.from_ical(answer.content).walk("VEVENT"))
        self.assertEqual(
            [f"{each['dtstart'].dt:%Y-%m-%d %H:%M}" for each in events],
            ["2027-03-01 18:30", "2027-03-04 12:30", "2027-03-05 16:00"],
        )
        self.assertIn("Barley soup", events[0]["summary"])
        self.assertNotIn("sodium", answer.content.decode().lower())

    def test_a_week_is_copied_to_another_person_and_judged_anew(self):
        ida = make_person(self.ana, "Ida", {"free-of:gluten": {}})
        address = reverse("meals:copy", args=[self.imre.pk, "2027-03-01"])
        answer = self.client.post(address, {"to": "2027-03-10", "days": "7", "person": ida.pk}, follow=True)
        self.assertContains(answer, "3 dishes copied for Ida")
        week = week_of(ida, date(2027, 3, 8))
        self.assertEqual([day.on.day for day in week.planned], [8, 11, 12])
        self.assertEqual(week.days[0].sittings["dinner"].eaten[0].state, SHUT)  # barley
        self.assertEqual(week.batches, [])
        self.client.post(address, {"to": "2027-03-10", "days": "7", "person": ida.pk})
        self.assertEqual(
            len(week_of(ida, date(2027, 3, 8)).days[0].sittings["dinner"].eaten), 1
        )  # where something stands it stays

    def test_a_day_is_copied_with_its_portions(self):
        occasion = self.source.occasion
        actions.set_portions(
            Occasion.objects.get(pk=occasion.pk), None, {occasion.seats.get(person=self.imre): {self.source.pk: "half"}}
        )
        self.client.post(reverse("meals:copy", args=[self.imre.pk, "2027-03-01"]), {"to": "2027-03-20", "days": "1"})
        [day] = week_of(self.imre, date(2027, 3, 20), 1).days
        self.assertEqual([each.words for each in day.sittings["dinner"].eaten], ["half"])

    def test_a_copy_to_no_day_is_refused_in_words(self):
        answer = self.client.post(
            reverse("meals:copy", args=[self.imre.pk, "2027-03-01"]), {"to": "soon", "days": "1"}, follow=True
        )
        self.assertContains(answer, "A day is expected")


class WhatFits(TableTest):
    """The library before everybody at the table, and before one person."""

    def test_what_fits_everybody_stands_first_and_says_so(self):
        make_recipe(self.ana, POT)
        make_recipe(self.ana, "Plain rice\nServes 4\n300 g white rice\nMethod\nBoil.")
        answer = self.client.post(reverse("meals:find", args=[self.occasion.pk]), {"words": ""})
        found = [(each.title, state) for each, _, state in answer.context["offered"].recipes]
        self.assertEqual(found[0], ("Plain rice", OPEN))
        self.assertIn(("Squash and cream pot", SHUT), found)  # Noor and the cream

    def test_a_changed_recipe_is_worked_out_again(self):
        from recipes.library import fitting
        from recipes.models import Worked

        rice = make_recipe(self.ana, "Plain rice\nServes 4\n300 g white rice\nMethod\nBoil.")
        guests = guests_of(self.sight())
        self.assertEqual(fitting(guests, "dinner")[0][rice.pk].state, 2)
        made = Worked.objects.get(recipe=rice).of
        recipe_actions.rewrite(rice, "300 g white rice\n100 ml heavy cream", "Boil.")
        self.assertEqual(fitting(guests, "dinner")[0][rice.pk].state, -1)  # Noor
        self.assertGreater(Worked.objects.get(recipe=rice).of, made)

    def test_the_library_of_one_person(self):
        make_recipe(self.ana, POT)
        make_recipe(self.ana, "Plain rice\nServes 4\n300 g white rice\nMethod\nBoil.")
        answer = self.client.get(reverse("recipes:recipes"), {"fits": self.noor.pk})
        self.assertContains(answer, "Plain rice")
        self.assertNotContains(answer, "Squash and cream pot")

    def test_many_are_worked_out_a_part_at_a_time(self):
        for number in range(3):
            make_recipe(self.ana, f"Rice {number}\nServes 4\n300 g white rice\nMethod\nBoil.")
        with patch("recipes.library.AT_ONCE", 2):
            answer = self.client.post(reverse("meals:find", args=[self.occasion.pk]), {"words": ""})
        self.assertContains(answer, "2 more dishes have not been worked out yet")


class Planned(TableTest):
    """Imre's week from three recipes; his dinner of Monday stands."""

    monday = date(2027, 3, 1)
    RECIPES = (
        "Overnight oats with apple\nServes 1\n60 g rolled oats\n200 ml skim milk\n1 apple, grated\nMethod\nChill for 8 hours.",
        "Chicken and rice\nServes 2\n300 g chicken breast\n150 g rice\n1 tbsp olive oil\nMethod\nFry for 10 minutes.",
        "Carrot and bean stew\nServes 2\n400 g carrots\n240 g cooked white beans\n1 tbsp olive oil\nMethod\nSimmer for 30 minutes.",
    )

    def setUp(self):
        super().setUp()
        for text in self.RECIPES:
            make_recipe(self.ana, text)
        self.post("away", dish=self.soup.pk)

    def ask(self, **more):
        return self.client.post(
            reverse("meals:plan", args=[self.imre.pk]), {"monday": "2027-03-03", **more}, headers={"HX-Request": "true"}
        )

    def take(self, errand):
        return self.client.post(reverse("meals:take_plan", args=[self.imre.pk, errand.pk]), follow=True)

    def test_the_open_places_are_filled_within_every_limit_and_what_stands_stays(self):
        stands = actions.begin_for(self.imre, self.monday, "dinner", self.ana)
        actions.add_food(Occasion.objects.get(pk=stands.pk), None, "300 g cooked white rice")
        answer = self.ask()
        self.assertContains(answer, "A plan within every limit")
        choices = answer.context["errand"].result["choices"]
        self.assertEqual(len(choices), 20)
        self.assertNotIn((0, "dinner"), {(each["day"], each["meal"]) for each in choices})
        answer = self.take(answer.context["errand"])
        self.assertContains(answer, "dishes came onto tables")
        week = week_of(self.imre, self.monday)
        self.assertTrue(all(day.day.is_whole for day in week.days))
        self.assertEqual({verdict.state for day in week.days for verdict in day.day.verdicts}, {OPEN})

    def test_taking_it_twice_lays_nothing_twice(self):
        errand = self.ask().context["errand"]
        self.take(errand)
        count = OnTable.objects.count()
        self.assertContains(self.take(errand), "0 dishes came onto tables")
        self.assertEqual(OnTable.objects.count(), count)

    def test_another_is_another(self):
        first = self.ask().context["errand"]
        second = self.ask(another=first.pk).context["errand"]
        same = {(each["day"], each["meal"], each["key"]) for each in first.result["choices"]} & {
            (each["day"], each["meal"], each["key"]) for each in second.result["choices"]
        }
        self.assertEqual(same, set())

    def test_what_was_given_up_never_comes_and_what_was_kept_stands_before_its_recipe(self):
        from bench import actions as bench_actions
        from bench.models import Decision
        from meals.planning import candidates_for

        stew = Recipe.objects.get(title="Carrot and bean stew")
        _, attempt = bench_actions.take_to_bench(stew, self.imre, "dinner", self.ana)
        decision = Decision(attempt=attempt, choice=Decision.KEEP, reason="", decided_by=self.ana)
        decision.save()
        keys = {each.key for each in candidates_for([self.imre])}
        self.assertIn(f"try-{attempt.pk}", keys)
        self.assertNotIn(f"recipe-{stew.pk}", keys)
        Decision(attempt=attempt, choice=Decision.GIVE_UP, reason="", decided_by=self.ana).save()
        keys = {each.key for each in candidates_for([self.imre])}
        self.assertFalse({f"try-{attempt.pk}", f"recipe-{stew.pk}"} & keys)

    def test_marks_for_taste_count_beside_what_was_decided(self):
        """10 of 10 on what was kept (0.7) is liked at (0.7 + 1) / 2; 0 of 10 at (0.7 - 1) / 2; a stranger's mark is not theirs."""
        from bench import actions as bench_actions
        from bench.lessons import decide
        from kitchen.models import Cook, Tasting
        from meals.planning import candidates_for

        stew = Recipe.objects.get(title="Carrot and bean stew")
        _, attempt = bench_actions.take_to_bench(stew, self.imre, "dinner", self.ana)
        decide(attempt, "keep", "good", self.ana)
        cook = Cook(attempt=attempt, plan=bench_actions.standing_edit(attempt).dish, started_by=self.ana)
        cook.save()
        liked = lambda: next(e.liked for e in candidates_for([self.imre]) if e.key == f"try-{attempt.pk}")  # noqa: E731
        self.assertEqual(liked(), 0.7)
        Tasting(cook=cook, taster="A stranger", taste=0).save()
        self.assertEqual(liked(), 0.7)
        tasting = Tasting(cook=cook, taster=self.imre.name, taste=10)
        tasting.save()
        self.assertAlmostEqual(liked(), 0.85)
        tasting.taste = 0
        tasting.save()
        self.assertAlmostEqual(liked(), -0.15)

    def test_a_household_has_one_dinner_for_all(self):
        answer = self.ask(household="on")
        choices = answer.context["errand"].result["choices"]
        dinners = {
            each["day"]: {one["key"] for one in choices if (one["day"], one["meal"]) == (each["day"], "dinner")}
            for each in choices
        }
        self.assertEqual({len(keys) for keys in dinners.values()}, {1})
        self.take(answer.context["errand"])
        noor = week_of(self.noor, self.monday)
        self.assertTrue(all(day.sittings["dinner"].eaten for day in noor.days))
        self.assertContains(answer, "no dish of the library suits breakfast for Noor")  # milk is in the oats

    def test_a_day_that_cannot_be_is_left_open_with_the_reason(self):
        Recipe.objects.filter(title__startswith="Overnight").delete()
        answer = self.ask()
        self.assertContains(answer, "Monday: no dish of the library suits breakfast for Imre.")
        self.assertContains(answer, "No plan")

    def test_what_a_label_decides_is_said(self):
        from people import actions as people_actions

        people_actions.set_plans(self.imre, {"low-sodium": {}, "gluten-free": {}}, self.ana)
        self.assertContains(self.ask(), "check the label: gluten")  # oats

    def test_a_week_nobody_can_read_is_said(self):
        self.assertContains(self.ask(monday="soon"), "A day is expected", status_code=422)


class WhoWasHere(TableTest):
    """A person taken along, and a person erased, with their meals."""

    monday = date(2027, 3, 1)

    def test_everything_about_a_person_holds_their_meals(self):
        from office.exporting import everything_about

        self.portion("half", self.noor)
        [meal] = everything_about(self.noor)["meals"]
        self.assertEqual((meal["on"], meal["meal"]), (self.occasion.on, "dinner"))
        self.assertEqual([(each["dish"], each["portion"]) for each in meal["dishes"]], [("Barley soup", "half")])
        self.assertContains(self.client.get(reverse("office:export", args=[self.noor.pk])), "Barley soup: half")

    def test_erased_means_no_name_and_no_meal_of_theirs(self):
        from django.apps import apps

        from office import actions as office_actions

        zebedee = make_person(self.ana, "Zebedee", {"low-sodium": {}})
        alone = actions.begin_for(zebedee, self.monday, "lunch", self.ana)
        actions.add_food(Occasion.objects.get(pk=alone.pk), None, "150 g apple")
        actions.seat_person(Occasion.objects.get(pk=self.occasion.pk), None, zebedee, self.ana)
        version = Occasion.objects.get(pk=self.occasion.pk).version
        actions.set_facts(self.occasion, version, title="Birthday of Zebedee")
        self.client.post(reverse("meals:plan", args=[zebedee.pk]), {"monday": "2027-03-01"})
        self.client.post(reverse("meals:way", args=[self.occasion.pk, self.soup.pk]))
        self.client.post(reverse("meals:whole", args=[self.occasion.pk]))
        office_actions.erase(zebedee, "Zebedee", self.ana)
        self.assertFalse(Occasion.objects.filter(pk=alone.pk).exists())  # nobody else sat there
        self.assertTrue(Occasion.objects.filter(pk=self.occasion.pk).exists())
        for model in (model for model in apps.get_models() if model._meta.managed and not model._meta.proxy):
            with self.subTest(model.__name__):
                self.assertNotIn("Zebedee", str(list(model._base_manager.values_list())))


class Clock(TableTest):
    """A roast of an hour, on the table at half past six."""

    ROAST = "Roast\nServes 4\n800 g carrots\n1 tbsp oil\nMethod\nPreheat the oven to 200 °C.\nToss the carrots in the oil.\nRoast on the top shelf for 60 minutes."

    def page(self, **asked):
        return self.client.get(reverse("meals:clock", args=[self.occasion.pk]), asked)

    def test_who_starts_what_when(self):
        self.post("away", dish=self.soup.pk)
        self.put(make_recipe(self.ana, self.ROAST))
        answer = self.page()
        doings = {
            (each.dish, each.what): (f"{each.at:%H:%M}", each.until and f"{each.until:%H:%M}")
            for each in answer.context["clock"].doings
        }
        self.assertEqual(doings["Oven on", "200 °C, fan 180 °C, 400 °F, gas 6"], ("17:15", None))
        self.assertEqual(doings["Roast", "Toss the carrots in the oil."][1], "17:28")
        roast = "Roast on the top shelf for 60 minutes. Into the oven: 200 °C, fan 180 °C, 400 °F, gas 6, top shelf"
        self.assertEqual(doings["Roast", roast], ("17:28", "18:30"))
        self.assertNotContains(answer, "Preheat")

    def test_clashes_are_said_with_what_can_be_done_and_more_cooks_resolve_them(self):
        fry = "Fry\nServes 4\n800 g carrots\nMethod\nFry the carrots for 25 minutes."
        for _ in range(3):
            self.put(make_recipe(self.ana, fry))
        self.assertContains(self.page(), "want hands at once")
        self.assertNotContains(self.page(cooks="3"), "want hands at once")
        self.assertContains(self.page(cooks="99"), "Cook 4")

    def test_the_kitchen_sees_whose_pot_and_no_diagnosis(self):
        from accounts.models import User

        cook = User.objects.create_user(
            "kit@example.org", "a long password", name="Kit", role="kitchen", practice=self.ana.practice
        )
        self.put(make_recipe(self.ana, POT))
        self.sign_in(cook)
        answer = self.page()
        self.assertContains(answer, "Noor")
        self.assertNotContains(answer, "Low sodium")
        self.assertNotContains(answer, "Back to the table")

    def test_a_table_without_steps(self):
        occasion = actions.begin(date(2026, 12, 24), "lunch", "", "", self.ana)
        self.assertContains(
            self.client.get(reverse("meals:clock", args=[occasion.pk])), "No dish on this table has steps"
        )


class Kept(TableTest):
    def test_another_practice_finds_nothing(self):
        with within(self.bo.practice):
            other = make_recipe(self.bo, POT)
        self.assertEqual(self.post("add", recipe=other.pk).status_code, 404)
        self.sign_in(self.bo)
        self.assertEqual(self.client.get(self.occasion.get_absolute_url()).status_code, 404)

    def test_rows_of_another_table_are_refused_in_words(self):
        other = actions.begin(date(2026, 12, 24), "dinner", "Harbor", "", self.ana)
        dish = actions.add_food(other, None, "150 g apple")
        answer = self.post("portion", seat=self.seat(self.imre).pk, dish=dish.pk, words="2")
        self.assertContains(answer, "not on this table any more", status_code=422)

    def test_a_full_table_says_so(self):
        with patch("meals.actions.MOST_DISHES", 1):
            self.assertContains(self.post("add", words="150 g apple"), "room for 1 dishes", status_code=422)

    def test_nonsense_is_answered_in_words(self):
        for data in (
            {"act": "dance"},
            {"act": "portion", "seat": "x", "dish": "9" * 40},
            {"act": "away"},
            {"act": "take_way", "errand": "x"},
            {"act": "seat", "plan": "no-such"},
        ):
            with self.subTest(data):
                self.assertEqual(self.post(**data).status_code, 422)

    def test_cleared_away_and_nothing_else(self):
        version = Occasion.objects.get(pk=self.occasion.pk).version
        self.client.post(reverse("meals:clear", args=[self.occasion.pk]), {"version": version})
        self.assertFalse(Occasion.objects.exists())
        self.assertEqual(Recipe.objects.count(), 1)

    def test_a_table_of_twelve_and_ten_takes_as_many_queries_as_one_of_two(self):
        def queries():
            with CaptureQueriesContext(
                connection,
            ) as found:
                self.sight()
            return len(found)

        self.sight()
        few = queries()
        for number in range(8):
            actions.seat_guest(
                Occasion.objects.get(pk=self.occasion.pk), None, f"Guest {number}", ["low-sodium"], None, None
            )
        pot = make_recipe(self.ana, POT)
        for _ in range(11):
            self.put(pot)
        self.assertLessEqual(queries(), few + 2)  # recipes and their lines
        self.assertLessEqual(few, 12)
