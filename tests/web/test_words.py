"""The words of a recipe typed anew: lines deleted, added, split, joined, moved; steps too; two recipes pasted at once."""

from django.urls import reverse

from nutrition.dish.renewal import is_behind
from nutrition.food.table import foods
from nutrition.reading.recipe import read_recipe
from nutrition.sheet.as_food import printed_of
from recipes import actions
from recipes.models import Recipe
from tests.nutrition.test_found import LOAF, POT
from tests.web.base import PracticeTest, make_recipe


class Words(PracticeTest):
    def rewrite(self, words=None, steps=None, seen=""):
        recipe = Recipe.objects.get(pk=self.recipe.pk)
        data = {
            "words": recipe.words if words is None else words,
            "steps": "\n".join(recipe.steps) if steps is None else steps,
            "seen": seen,
        }
        return self.client.post(reverse("recipes:rewrite", args=[recipe.pk]), data)

    def texts(self):
        return [row.as_read.text for row in Recipe.objects.get(pk=self.recipe.pk).lines.all()]

    def test_title_and_servings_typed_beside_the_words_go_along(self):
        recipe = Recipe.objects.get(pk=self.recipe.pk)
        data = {"words": f"{recipe.words}\n2 parsnips", "steps": recipe.step_words, "seen": recipe.words_stamp,
                "title": "Another pot", "serves": "7", "serving_grams": "", "kind": recipe.kind}  # fmt: skip
        self.client.post(reverse("recipes:rewrite", args=[recipe.pk]), data)
        now = Recipe.objects.get(pk=recipe.pk)
        self.assertEqual((now.title, now.serves), ("Another pot", 7))
        self.assertIn("2 parsnips", now.words)
        refused = self.client.post(
            reverse("recipes:rewrite", args=[recipe.pk]),
            data | {"serves": "many", "seen": now.words_stamp, "words": "9 leeks"},
        )
        self.assertContains(refused, "9 leeks", status_code=422)
        self.assertContains(refused, 'value="many"', status_code=422)
        self.assertNotIn("9 leeks", Recipe.objects.get(pk=recipe.pk).words)

    def test_words_typed_and_only_saved_along_are_read_too(self):
        recipe = Recipe.objects.get(pk=self.recipe.pk)
        facts = {"title": recipe.title, "serves": "4", "serving_grams": "", "kind": recipe.kind}
        words = {"words": f"{recipe.words}\n2 parsnips", "steps": recipe.step_words, "seen": recipe.words_stamp}
        self.client.post(reverse("recipes:reading", args=[recipe.pk]), facts | words)
        self.assertIn("2 parsnips", Recipe.objects.get(pk=recipe.pk).words)
        # Boxes as an older page had them say nothing: what was mended since stands.
        self.client.post(reverse("recipes:reading", args=[recipe.pk]), facts | words | {"words": "1 leek"})
        self.assertIn("2 parsnips", Recipe.objects.get(pk=recipe.pk).words)

    def test_lines_that_stand_keep_what_was_accepted(self):
        first = self.recipe.lines.first()
        actions.set_amount(first, "222 g")
        self.rewrite(words=f"2 parsnips\n{first.as_read.text}\n1 tsp salt")
        rows = {row.as_read.text: row for row in Recipe.objects.get(pk=self.recipe.pk).lines.all()}
        self.assertEqual(list(rows), ["2 parsnips", first.as_read.text, "1 tsp salt"])
        self.assertEqual((rows[first.as_read.text].as_read.grams, rows[first.as_read.text].is_accepted), (222, True))
        self.assertEqual(rows[first.as_read.text].as_read.key, first.as_read.key)
        self.assertFalse(rows["2 parsnips"].is_accepted)

    def test_parts_and_steps(self):
        self.rewrite(
            words="For the pot:\n1 cup pearl barley\nFor the top:\n10 g parsley",
            steps="Boil the barley.\n\nScatter the parsley.",
        )
        recipe = Recipe.objects.get(pk=self.recipe.pk)
        self.assertEqual([row.as_read.heading for row in recipe.lines.all()], ["For the pot", "For the top"])
        self.assertEqual(recipe.steps, ["Boil the barley.", "Scatter the parsley."])
        self.assertEqual(recipe.words, "For the pot:\n1 cup pearl barley\n\nFor the top:\n10 g parsley")
        before = [row.pk for row in recipe.lines.all()]
        self.rewrite()
        self.assertEqual([row.pk for row in recipe.lines.all()], before)

    def test_a_new_line_never_takes_the_key_of_one_that_left(self):
        gone = self.recipe.lines.last()
        self.rewrite(words="\n".join(self.texts()[:-1]))
        self.rewrite(words="\n".join([*self.texts(), "2 parsnips"]))
        self.assertNotEqual(Recipe.objects.get(pk=self.recipe.pk).lines.last().as_read.key, gone.as_read.key)

    def test_benches_learn_of_it(self):
        self.rewrite(words="\n".join([*self.texts(), "2 parsnips"]))
        self.assertTrue(is_behind(self.bench.written, Recipe.objects.get(pk=self.recipe.pk).dish))

    def test_what_is_refused_stays_in_the_boxes(self):
        answer = self.rewrite(words="For the top:", steps="Keep these words.")
        self.assertContains(answer, "Keep these words.", status_code=422)
        seen = self.recipe.words_stamp
        self.rewrite(words="2 parsnips")
        answer = self.rewrite(words="3 leeks", seen=seen)
        self.assertContains(answer, "3 leeks", status_code=422)
        self.assertEqual(self.texts(), ["2 parsnips"])
        self.assertEqual(self.rewrite(words="\n".join(["1 leek"] * 300)).status_code, 422)


class OnlyInAStep(PracticeTest):
    def test_what_only_a_step_adds_is_asked_about_and_added(self):
        steps = "Simmer it all for an hour.\nScatter with flaked almonds."
        self.client.post(
            reverse("recipes:rewrite", args=[self.recipe.pk]), {"words": self.recipe.words, "steps": steps}
        )
        page = self.client.get(reverse("recipes:reading", args=[self.recipe.pk]))
        self.assertContains(page, "flaked almond")
        self.assertContains(page, "tree nuts")
        recipe = Recipe.objects.get(pk=self.recipe.pk)
        data = {"words": recipe.words, "steps": steps, "seen": recipe.words_stamp, "add": "20 g flaked almonds"}
        self.client.post(reverse("recipes:rewrite", args=[self.recipe.pk]), data)
        self.assertEqual(Recipe.objects.get(pk=self.recipe.pk).lines.last().as_read.text, "20 g flaked almonds")
        self.assertNotContains(
            self.client.get(reverse("recipes:reading", args=[self.recipe.pk])), "which no line names"
        )


class OneDoubt(PracticeTest):
    def test_several_lines_with_one_doubt_are_settled_once(self):
        text = (
            "Two stocks\nServes 2\n200 ml vegetable stock\n2 leeks\n300 ml vegetable stock, hot\n100 ml chicken stock"
        )
        self.client.post(reverse("recipes:import"), {"text": text})
        recipe = Recipe.objects.get(title="Two stocks")
        first, _, second, other = recipe.lines.all()
        unsalted = foods().by_description("Stock, vegetable, unsalted").id
        data = {"act": "food", "food_id": unsalted, "version": first.version}
        answer = self.client.post(reverse("recipes:line", args=[first.pk]), data, headers={"HX-Request": "true"})
        self.assertEqual(answer.headers["HX-Refresh"], "true")
        second.refresh_from_db()
        other.refresh_from_db()
        self.assertEqual((second.as_read.food_id, second.as_read.sure, second.is_settled), (unsalted, "sure", True))
        self.assertNotEqual(other.as_read.food_id, unsalted)
        self.assertContains(
            self.client.get(reverse("recipes:reading", args=[recipe.pk])), "1 more line with the same doubt"
        )


class WeightiestFirst(PracticeTest):
    def test_the_doubt_that_leaves_most_open_comes_first(self):
        text = "Pot\nServes 2\n1 kg carrots\n1 tsp butter\n1 litre vegetable stock"
        self.client.post(reverse("recipes:import"), {"text": text})
        recipe = Recipe.objects.get(title="Pot")
        page = self.client.get(reverse("recipes:reading", args=[recipe.pk]))
        self.assertEqual(
            [row.as_read.text for row in page.context["doubtful"]], ["1 litre vegetable stock", "1 tsp butter"]
        )


class AsAFood(PracticeTest):
    def test_a_recipe_is_offered_as_a_food_with_its_figures(self):
        stock = make_recipe(self.ana, "House stock\nServes 4\n200 g carrots\n1 l water\n2 g salt\nMethod\nSimmer it.")
        page = self.client.get(reverse("recipes:recipe", args=[stock.pk]))
        self.assertEqual(page.context["as_food"], "", "nobody has weighed it")
        stock.serving_grams = 280
        stock.save()
        page = self.client.get(reverse("recipes:recipe", args=[stock.pk]))
        link = page.context["as_food"]
        self.assertIn("salt_g=0.", link)
        form = self.client.get(f"{reverse('pantry:enter')}?{link}")
        self.assertContains(form, "House stock")
        self.assertContains(form, "our recipe “House stock”, as cooked")

    def test_what_rests_on_something_unknown_is_left_out(self):
        self.assertEqual(printed_of(read_recipe("X\nServes 2\n100 g xorbly powder\n1 leek"), 500), {})
        self.assertEqual(printed_of(read_recipe("X\nServes 2\n500 g carrots\n20 g butter"), 500), {}, "which butter?")
        known = printed_of(read_recipe("X\nServes 2\n500 g carrots\n500 ml water"), 1000)
        raw = float(foods().value("Carrots, raw", "potassium_mg"))
        self.assertAlmostEqual(known["potassium_mg"], raw / 2, delta=3)


class APart(PracticeTest):
    def test_a_line_that_names_a_recipe_becomes_it(self):
        gravy = make_recipe(self.ana, "Onion gravy\nServes 4\n2 onions\n300 ml water\nMethod\nSimmer them.")
        words = f"{self.recipe.words}\n½ quantity onion gravy"
        self.client.post(reverse("recipes:rewrite", args=[self.recipe.pk]), {"words": words, "steps": ""})
        page = reverse("recipes:reading", args=[self.recipe.pk])
        self.assertContains(self.client.get(page), "Use “Onion gravy” from your library")
        row = Recipe.objects.get(pk=self.recipe.pk).lines.last()
        self.client.post(reverse("recipes:line", args=[row.pk]), {"act": "part", "part": gravy.pk})
        recipe = Recipe.objects.get(pk=self.recipe.pk)
        self.assertEqual(recipe.parts.get().amount, "50 %")
        brought = [row.as_read for row in recipe.lines.all() if row.of_part_id]
        self.assertEqual(len(brought), 2)
        self.assertAlmostEqual(brought[0].grams, 110, delta=1)
        self.assertNotIn("gravy", recipe.words)

    def test_spoons_of_a_recipe_are_no_batches_of_it(self):
        gravy = make_recipe(self.ana, "Onion gravy\nServes 4\n2 onions\n300 ml water\nMethod\nSimmer them.")
        for words, most in (("2 tbsp onion gravy, own recipe", 0.25), ("12 onion gravy", 0)):
            data = {"words": f"{Recipe.objects.get(pk=self.recipe.pk).words}\n{words}", "steps": ""}
            self.client.post(reverse("recipes:rewrite", args=[self.recipe.pk]), data)
            row = Recipe.objects.get(pk=self.recipe.pk).lines.filter(of_part=None).last()
            answer = self.client.post(
                reverse("recipes:line", args=[row.pk]),
                {"act": "part", "part": gravy.pk},
                headers={"HX-Request": "true"},
            )
            brought = [row.as_read for row in Recipe.objects.get(pk=self.recipe.pk).lines.all() if row.of_part_id]
            if most:
                self.assertLess(sum(line.grams for line in brought), most * 520)
            else:
                self.assertContains(answer, "one batch")
                self.assertTrue(Recipe.objects.get(pk=self.recipe.pk).lines.filter(pk=row.pk).exists())


class TwoAtOnce(PracticeTest):
    def test_two_recipes_in_one_paste_become_two(self):
        answer = self.client.post(reverse("recipes:import"), {"text": f"{POT}\n\n{LOAF}"}, follow=True)
        self.assertContains(answer, "2 recipes were found")
        self.assertEqual(
            set(Recipe.objects.exclude(pk=self.recipe.pk).values_list("title", flat=True)), {"Leek pot", "Seed loaf"}
        )
