"""Bringing recipes in, and reading them line by line."""

import json

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from nutrition.food.table import foods
from pantry.models import Alias
from recipes.models import Recipe
from tests.web.base import SOUP, PracticeTest

HTMX = {"HX-Request": "true"}


class Bringing(PracticeTest):
    def paste(self, text):
        return self.client.post(reverse("recipes:import"), {"text": text})

    def upload(self, data, name="page.html"):
        return self.client.post(reverse("recipes:import"), {"text": "", "file": SimpleUploadedFile(name, data)})

    def test_paste(self):
        response = self.paste("Oat cakes\nMakes 8\nFor the cakes:\n2 cups oats\n1 stick butter\nMethod\nBake.")
        recipe = Recipe.objects.get(title="Oat cakes")
        self.assertRedirects(response, reverse("recipes:reading", args=[recipe.pk]))
        self.assertEqual(
            [(line.as_read.heading, line.as_read.sure) for line in recipe.lines.all()],
            [("For the cakes", "likely"), ("For the cakes", "check")],
        )
        self.assertFalse(recipe.is_read)

    def test_upload_jsonld(self):
        data = json.dumps(
            {"@type": "Recipe", "name": "Tea bread", "recipeYield": "10", "recipeIngredient": ["300 g raisins"]}
        )
        self.upload(data.encode(), "bread.json")
        self.assertEqual(Recipe.objects.get(title="Tea bread").serves, 10)

    def test_refusals_keep_what_was_typed_and_save_nothing(self):
        count = Recipe.objects.count()
        for text, words in (
            ("", "Nothing was pasted"), ("only words", "No ingredient lines"), ('{"broken', "breaks at"),
            ("x\n" * 700_000, "characters were pasted"),
        ):  # fmt: skip
            response = self.paste(text)
            self.assertEqual(response.status_code, 422)
            self.assertContains(response, words, status_code=422)
            if text:
                self.assertIn(text[:8].split("\n")[0].replace('"', "&quot;"), response.content.decode())
        response = self.upload(b"\x89PNG\r\n\x1a\n\x00\x00" * 50, "cat.png")
        self.assertContains(response, "The file is a picture", status_code=422)
        self.assertEqual(Recipe.objects.count(), count)

    def test_odd_texts_come_in_as_text(self):
        for text in (
            "<b>Soup</b> 🍲\nServes 2\n1 cup milk 🥛",
            "حساء\nServes 2\n1 cup milk\n٢ كوب ماء",
            "Soup\nServes 2\n10000000000 cups flour\n0 eggs",
        ):
            response = self.client.post(reverse("recipes:import"), {"text": text}, follow=True)
            self.assertEqual(response.status_code, 200)
            self.assertNotContains(response, "<b>Soup</b>")


class Reading(PracticeTest):
    def setUp(self):
        super().setUp()
        self.client.post(
            reverse("recipes:import"), {"text": "Pot\n1 cup zhoug\n2 tbsp butter\n1 cup milk\nsalt to taste"}
        )
        self.pot = Recipe.objects.get(title="Pot")
        self.lines = {line.as_read.text: line for line in self.pot.lines.all()}

    def do(self, written, /, **data):
        return self.client.post(reverse("recipes:line", args=[self.lines[written].pk]), data, headers=HTMX)

    def fresh(self, text):
        return self.pot.lines.get(pk=self.lines[text].pk)

    def test_doubtful_lines_come_first(self):
        page = self.client.get(reverse("recipes:reading", args=[self.pot.pk])).content.decode()
        self.assertLess(page.index("1 cup zhoug"), page.index('id="settled"'))
        self.assertIn("salted or unsalted?", page.lower())

    def test_accept(self):
        self.assertContains(self.do("2 tbsp butter", act="accept"), "accepted")
        line = self.fresh("2 tbsp butter")
        self.assertEqual(
            (line.is_accepted, line.as_read.sure, line.line.sure, str(line.line.ask)), (True, "check", "sure", "")
        )

    def test_a_line_without_food_cannot_be_accepted(self):
        self.assertContains(self.do("1 cup zhoug", act="accept"), "no food or no weight")

    def test_a_choice_is_remembered_for_the_practice(self):
        food = foods().by_description("Sauce, pesto, ready-to-serve, refrigerated")
        self.do("1 cup zhoug", act="food", food_id=food.id)
        self.assertEqual(Alias.objects.get().food_id, food.id)
        self.client.post(reverse("recipes:import"), {"text": "Other\nServes 2\n2 tbsp zhoug"})
        line = Recipe.objects.get(title="Other").lines.get()
        self.assertEqual((line.line.food_id, line.line.sure), (food.id, "likely"))

    def test_what_is_salted_here_is_asked_again_elsewhere(self):
        unsalted = foods().by_description("Butter, without salt")
        self.do("2 tbsp butter", act="food", food_id=unsalted.id)
        self.client.post(reverse("recipes:import"), {"text": "Other\nServes 2\n2 tbsp butter"})
        line = Recipe.objects.get(title="Other").lines.get().as_read
        self.assertEqual((line.food_id, line.sure), (unsalted.id, "check"))
        self.assertIn(foods().by_description("Butter, salted").id, line.others)

    def test_an_answer_settles_every_line_of_the_same_doubt_here(self):
        self.client.post(reverse("recipes:import"), {"text": "Rolls\nServes 2\n2 tbsp butter\n1 cup milk\n50 g butter"})
        first, _, second = Recipe.objects.get(title="Rolls").lines.all()
        page = self.client.get(reverse("recipes:reading", args=[first.recipe_id]))
        self.assertContains(page, "unsalted butter")
        self.assertContains(page, "mg sodium")
        url = reverse("recipes:line", args=[first.pk])
        self.assertContains(self.client.post(url, {"act": "answer", "food_id": "nothing"}, headers=HTMX), "refused")
        unsalted = foods().by_description("Butter, without salt").id
        self.client.post(url, {"act": "answer", "food_id": unsalted, "version": first.version}, headers=HTMX)
        for row in (first, second):
            row.refresh_from_db()
            self.assertEqual((row.line.food_id, row.line.sure, row.answers), (unsalted, "sure", ()))
        self.assertFalse(Alias.objects.exists())

    def test_a_choice_settles_salted_or_not_in_its_own_recipe_alone(self):
        self.client.post(reverse("recipes:import"), {"text": "Rolls\nServes 2\n50 g butter\n60 g butter"})
        unsalted = foods().by_description("Butter, without salt").id
        first, second = Recipe.objects.get(title="Rolls").lines.all()
        self.client.post(reverse("recipes:line", args=[first.pk]), {"act": "food", "food_id": unsalted}, headers=HTMX)
        second.refresh_from_db()
        elsewhere = self.fresh("2 tbsp butter").as_read
        self.assertEqual((second.as_read.food_id, second.is_settled), (unsalted, True))
        self.assertEqual((elsewhere.food_id, elsewhere.sure, elsewhere.is_food_open), (unsalted, "check", True))

    def test_a_food_that_was_meant_is_weighed_in_the_recipes_kitchen(self):
        text = "Rice pot\nServes 2\n1 pint milk\n2 courgettes\n1 tin chopped tomatoes\n100 g caster sugar"
        self.client.post(reverse("recipes:import"), {"text": text})
        row = Recipe.objects.get(title="Rice pot").lines.first()
        self.assertEqual(row.recipe.kitchen, "uk")
        skim = next(each.food_id for each in row.answers if "skim" in each.words or "fat free" in each.words)
        self.client.post(reverse("recipes:line", args=[row.pk]), {"act": "answer", "food_id": skim}, headers=HTMX)
        row.refresh_from_db()
        self.assertAlmostEqual(row.as_read.grams, 568.26 * 245 / 236.588, delta=3)

    def test_a_line_that_is_no_ingredient(self):
        self.do("1 cup zhoug", act="none", version=self.lines["1 cup zhoug"].version)
        self.assertEqual(self.pot.lines.count(), len(self.lines) - 1)
        for written in ("2 tbsp butter", "1 cup milk"):
            self.do(written, act="none")
        response = self.do("salt to taste", act="none")
        self.assertContains(response, "refused")
        self.assertEqual(self.pot.lines.count(), 1)

    def test_a_food_that_was_meant_is_weighed_by_itself(self):
        """A cup of pesto weighs what a cup of pesto does, not what was guessed; what is typed in grams stays."""
        food = foods().by_description("Sugars, powdered")
        self.do("1 cup milk", act="food", food_id=food.id)
        self.assertAlmostEqual(self.fresh("1 cup milk").as_read.grams, 120, delta=10)
        self.do("2 tbsp butter", act="amount", amount="40 g")
        self.do("2 tbsp butter", act="food", food_id=food.id)
        self.assertEqual(self.fresh("2 tbsp butter").as_read.grams, 40)

    def test_amount_and_retype(self):
        self.do("2 tbsp butter", act="amount", amount="40 g")
        self.assertEqual(self.fresh("2 tbsp butter").as_read.grams, 40)
        self.do("1 cup milk", act="retype", text="1 cup skim milk")
        self.assertEqual(self.fresh("1 cup milk").as_read.text, "1 cup skim milk")

    def test_refused_amount_keeps_what_was_typed(self):
        for typed in ("-3", "0", "1e12", "some"):
            response = self.do("2 tbsp butter", act="amount", amount=typed)
            self.assertContains(response, f'value="{typed}"')
            self.assertContains(response, "refused")
        self.assertEqual(self.fresh("2 tbsp butter").as_read.grams, self.lines["2 tbsp butter"].as_read.grams)

    def test_a_stale_form_shows_both(self):
        old = self.lines["2 tbsp butter"].version
        self.do("2 tbsp butter", act="amount", amount="40 g")
        response = self.do("2 tbsp butter", act="amount", amount="55 g", version=old)
        self.assertContains(response, "changed in another tab")
        self.assertContains(response, "“55 g”")
        self.assertEqual(self.fresh("2 tbsp butter").as_read.grams, 40)

    def test_servings_are_asked_for(self):
        response = self.client.post(reverse("recipes:finish_reading", args=[self.pot.pk]))
        self.assertContains(response, "never assumed", status_code=422)
        for typed in ("0", "-4", "many", "9999"):
            response = self.client.post(
                reverse("recipes:reading", args=[self.pot.pk]),
                {"title": "Pot", "serves": typed, "serving_grams": "", "done": "1"},
            )
            self.assertEqual(response.status_code, 422, typed)
            self.assertContains(response, f'value="{typed}"', status_code=422)

    def test_to_taste_follows_the_servings(self):
        self.assertIsNone(self.fresh("salt to taste").as_read.grams)
        self.client.post(
            reverse("recipes:reading", args=[self.pot.pk]), {"title": "Pot", "serves": "4", "serving_grams": "310"}
        )
        self.assertAlmostEqual(self.fresh("salt to taste").as_read.weight.most, 6.0, places=1)
        self.pot.refresh_from_db()
        self.assertEqual(self.pot.serving_grams, 310)

    def test_into_the_library(self):
        data = {"title": "Pot", "serves": "4", "serving_grams": "", "done": "1"}
        response = self.client.post(reverse("recipes:reading", args=[self.pot.pk]), data, follow=True)
        self.assertContains(response, "is in the library")
        self.assertContains(response, "without food or weight")

    def test_taken_away(self):
        self.client.post(reverse("recipes:delete", args=[self.pot.pk]))
        self.assertFalse(Recipe.objects.filter(pk=self.pot.pk).exists())
        self.client.post(reverse("recipes:delete", args=[self.recipe.pk]))
        self.assertTrue(Recipe.objects.filter(pk=self.recipe.pk).exists())

    def test_soup_reads_as_text_says(self):
        self.assertEqual([line.as_read.text for line in self.recipe.lines.all()], SOUP.split("\n")[2:7])
