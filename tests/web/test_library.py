"""The library searched, tagged, put away, duplicated; each question within its budget at many dishes."""

from datetime import date

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse

from accounts.models import User
from bench import actions as bench_actions
from bench.lessons import decide
from kitchen.models import Tasting
from meals import actions as meal_actions
from recipes import actions
from recipes.models import Recipe, Worked
from recipes.search import searched
from tests.web.base import PracticeTest, finished_cook, make_person, make_recipe

RICE = "Herb rice\nServes 4\n300 g white rice\n10 g parsley\nMethod\nSimmer for 15 minutes."
TOAST = "Cheese toast\nServes 2\n4 slices white bread (30 g each)\n100 g cheddar\nMethod\nGrill for 5 minutes."
CAKE = "Ginger cake\nServes 8\n200 g plain flour\n2 eggs\n100 g sugar\n100 g butter\nMethod\nBeat for 10 minutes.\nBake at 180 °C for 30 minutes."


class Library(PracticeTest):
    def setUp(self):
        super().setUp()
        self.rice, self.toast, self.cake = (make_recipe(self.ana, text) for text in (RICE, TOAST, CAKE))

    def titles(self, **asked):
        return [recipe.title for recipe in searched(**asked)]

    def get(self, **asked):
        return self.client.get(reverse("recipes:recipes"), asked)

    def test_by_words_of_the_title_and_of_the_foods_all_of_them(self):
        self.assertEqual(self.titles(words="rice"), ["Herb rice"])
        self.assertEqual(self.titles(words="cheddar"), ["Cheese toast"])
        self.assertEqual(self.titles(words="parsley herb"), ["Herb rice"])
        self.assertEqual(self.titles(words="parsley toast"), [])
        self.assertEqual(len(self.titles()), 4)

    def test_what_nobody_said_the_servings_of_is_found_by_its_title(self):
        self.toast.serves = None
        self.toast.save()
        Worked.objects.filter(recipe=self.toast).delete()
        self.assertEqual(self.titles(words="cheese toast"), ["Cheese toast"])
        self.assertEqual(self.titles(words="toast rice"), [])

    def test_by_part_of_a_meal_minutes_and_order(self):
        self.assertEqual(self.titles(role="dessert"), ["Ginger cake"])
        quick = self.titles(most_minutes=10)
        self.assertIn("Herb rice", quick)
        self.assertNotIn("Ginger cake", quick)
        self.assertEqual(self.titles(order="newest")[0], "Ginger cake")
        self.assertEqual(self.titles(order="quickest")[-1], "Ginger cake")

    def test_tags(self):
        self.client.post(reverse("recipes:tags", args=[self.rice.pk]), {"tags": "Weekday,  freezer , weekday"})
        self.rice.refresh_from_db()
        self.assertEqual(self.rice.tags, ["weekday", "freezer"])
        answer = self.get(tag="freezer")
        self.assertContains(answer, "Herb rice")
        self.assertNotContains(answer, "Cheese toast")
        self.assertContains(self.get(tag="nothing"), "No recipe of the library answers to that.")

    def test_folders(self):
        address = reverse("recipes:tags", args=[self.rice.pk])
        self.client.post(address, {"tags": "", "folder": "  Winter   suppers "})
        self.rice.refresh_from_db()
        self.assertEqual(self.rice.folder, "Winter suppers")
        self.assertEqual(self.titles(folder="Winter suppers"), ["Herb rice"])
        self.assertEqual(list(Recipe.folders()), [("Winter suppers", 1)])
        self.assertContains(self.client.get(reverse("recipes:folders")), "Winter suppers")
        self.assertContains(self.get(folder="Winter suppers"), "Herb rice")
        self.assertNotContains(self.get(folder="Winter suppers"), "Cheese toast")
        self.client.post(address, {"tags": "weekday"})  # a form drawn before there were folders
        self.rice.refresh_from_db()
        self.assertEqual(self.rice.folder, "Winter suppers")

    def test_by_what_was_decided_the_latest_counts_and_by_marks(self):
        _, attempt = bench_actions.take_to_bench(self.rice, self.person, "dinner", self.ana)
        self.assertEqual(self.titles(decided="keep"), [])
        self.assertIn("Herb rice", self.titles(decided="uncooked"))
        decide(attempt, "keep", "good", self.ana)
        self.assertEqual(self.titles(decided="keep"), ["Herb rice"])
        decide(attempt, "give up", "It stuck.", self.ana)
        self.assertEqual(self.titles(decided="keep"), [])
        self.assertEqual(self.titles(decided="give up"), ["Herb rice"])
        cook = finished_cook(attempt, self.ana)
        self.assertNotIn("Herb rice", self.titles(decided="uncooked"))
        for taster, mark in (("Imre", 9.0), ("Ana", 6.0)):
            Tasting(cook=cook, taster=taster, taste=mark).save()
        self.assertEqual(self.titles(least_mark=7), ["Herb rice"])  # 7.5 of 10
        self.assertEqual(self.titles(least_mark=8), [])
        self.assertEqual(self.titles(order="liked")[0], "Herb rice")
        self.assertContains(self.get(decided="give up", mark="7"), "Herb rice")
        self.assertNotContains(self.get(decided="keep"), "Herb rice")

    def test_whoever_sees_no_bench_is_told_nothing_of_tries(self):
        _, attempt = bench_actions.take_to_bench(self.rice, self.person, "dinner", self.ana)
        decide(attempt, "give up", "It stuck.", self.ana)
        cook = User.objects.create_user(
            "ki@example.org", "a long password", name="Ki", role="kitchen", practice=self.ana.practice
        )
        self.sign_in(cook)
        answer = self.get(decided="give up")
        self.assertContains(answer, "Cheese toast")
        self.assertNotContains(answer, "whatever became of it")

    def test_fits_everybody_of_a_household(self):
        """The toast has milk in it: through for nobody who has a household with Noor, who keeps milk out."""
        self.person.household = "Harbor"
        self.person.save()
        noor = make_person(self.ana, "Noor", {"free-of:milk": {}}, household="Harbor")
        alone = make_person(self.ana, "Solo", {})
        self.assertContains(self.get(fits=alone.pk), "Cheese toast")
        answer = self.get(fits=f"home-{noor.pk}")
        self.assertContains(answer, "everybody of Harbor")
        self.assertNotContains(answer, "Cheese toast")
        self.assertContains(answer, "Herb rice")
        self.assertContains(self.get(fits="home-999"), "Cheese toast")  # nobody: nothing is asked

    def test_deleting_tells_what_it_would_touch(self):
        address = reverse("recipes:delete", args=[self.rice.pk])
        self.assertContains(self.client.get(address), "Nothing else uses it.")
        occasion = meal_actions.begin(date(2026, 12, 24), "dinner", "", "", self.ana)
        row = meal_actions.add_recipe(occasion, None, self.rice)
        answer = self.client.get(address)
        self.assertContains(answer, "It stands on these tables")
        self.assertContains(answer, "December 24, 2026")
        bench_actions.take_to_bench(self.rice, self.person, "dinner", self.ana)
        answer = self.client.get(address)
        self.assertContains(answer, "So it cannot be deleted.")
        self.assertContains(answer, str(self.person))
        self.client.post(address)
        self.assertTrue(Recipe.objects.filter(pk=self.rice.pk).exists())
        self.rice.benches.all().delete()
        self.client.post(address)
        self.assertFalse(Recipe.objects.filter(pk=self.rice.pk).exists())
        row.refresh_from_db()
        self.assertEqual(row.kept.title, "Herb rice")  # the table keeps it

    def test_put_away_is_out_of_every_list_and_comes_back_whole(self):
        from recipes.library import library

        address = reverse("recipes:put_away", args=[self.rice.pk])
        self.client.post(address)
        self.assertNotIn("Herb rice", self.titles())
        self.assertEqual(self.titles(is_away=True), ["Herb rice"])
        self.assertNotIn(self.rice.pk, library().pks)
        self.assertContains(self.get(away="1"), "Herb rice")
        self.client.post(address, {"back": "1"})
        self.assertIn("Herb rice", self.titles())

    def test_a_duplicate_is_a_dish_of_its_own(self):
        answer = self.client.post(reverse("recipes:duplicate", args=[self.rice.pk]), follow=True)
        self.assertContains(answer, "Herb rice (copy)")
        copy = Recipe.objects.get(title="Herb rice (copy)")
        self.assertEqual([line.text for line in copy.dish.lines], [line.text for line in self.rice.dish.lines])
        actions.rewrite(copy, "200 g white rice", "Boil.")
        self.assertEqual(len(Recipe.objects.get(pk=self.rice.pk).dish.lines), 2)

    def test_a_reader_finds_and_writes_nothing(self):
        Worked.objects.all().delete()
        reader = User.objects.create_user(
            "re@example.org", "a long password", name="Re", role="reader", practice=self.ana.practice
        )
        self.sign_in(reader)
        self.assertContains(self.get(fits=self.person.pk), "Herb rice")
        self.assertFalse(Worked.objects.exists())

    def test_what_cannot_be_read_is_not_asked_for(self):
        answer = self.get(minutes="soon", role="pudding", order="by moon", fits="x", page="-1")
        self.assertContains(answer, "Herb rice")

    def test_a_search_costs_as_many_queries_at_many_as_at_few(self):
        def queries():
            with CaptureQueriesContext(connection) as found:
                self.get(q="rice", order="quickest")
            return len(found)

        queries()
        few = queries()
        for number in range(6):
            make_recipe(self.ana, RICE.replace("Herb", f"Herb {number}"))
        queries()
        self.assertLessEqual(queries(), few)

    def test_the_one_box_finds_by_food_and_what_fits_first(self):
        find = lambda words: self.client.post(reverse("find"), {"q": words}).context  # noqa: E731
        self.assertEqual([recipe.title for recipe, _ in find("cheddar")["recipes"]], ["Cheese toast"])
        self.client.get(self.bench.get_absolute_url(), follow=True)  # Imre is whom one worked with last
        context = find("rice")
        self.assertEqual(context["fits_for"], self.person)
        self.assertEqual([(recipe.title, state) for recipe, state in context["recipes"]], [("Herb rice", "open")])
