"""Labels of a practice's own: entered, found, taken, compared, retired; nobody else sees them."""

from dataclasses import replace

from django.urls import reverse

from accounts.models import Practice
from accounts.scope import within
from bench import actions as bench_actions
from nutrition.food.label import US, Label
from nutrition.food.table import RETIRED, foods, the_table
from nutrition.reading.recipe import read_line
from pantry import actions
from pantry.models import OwnLabel, aliases
from recipes.models import Recipe
from tests.web.base import PracticeTest, finished_cook, made_release

USUAL = "Soup, chicken broth, ready-to-serve"
STOCK = {"energy_kcal": "10", "fat_g": "0", "sodium_mg": "70", "carbohydrate_g": "1", "protein_g": "1.2"}


class Entering(PracticeTest):
    def enter(self, **typed):
        data = {"form": "us", "name": "Elmfold stock", "serving": "1 cup (240 g)", "food_id": foods().by_description(USUAL).id,
                "looked_at": "yes"} | STOCK | typed  # fmt: skip
        return self.client.post(reverse("pantry:enter"), data)

    def label(self):
        return OwnLabel.objects.get()

    def test_it_becomes_a_food_of_the_practice_alone(self):
        self.assertRedirects(
            self.enter(words="elmfold stock"), reverse("pantry:food", args=[f"own:label-{self.label().pk}"])
        )
        with within(Practice.objects.get(pk=self.ana.practice_id)):
            line = read_line("2 cups elmfold stock", aliases=aliases())
            self.assertEqual((line.food_id, line.sure), (self.label().food_id, "likely"))
            self.assertAlmostEqual(float(foods().value("Elmfold stock", "sodium_mg")), 70 / 2.4)
        with within(self.bo.practice):
            self.assertFalse(foods().has_id(self.label_id()))
            self.assertIs(foods(), the_table())

    def label_id(self):
        return f"own:label-{OwnLabel._base_manager.get().pk}"

    def test_bad_figures_are_asked_about_where_they_stand_and_nothing_typed_is_lost(self):
        answer = self.enter(sodium_mg="-5", fat_g="two", ingredients="Water, salt")
        self.assertEqual(answer.status_code, 422)
        self.assertContains(answer, "-5 sodium cannot be", status_code=422)
        self.assertContains(answer, "“two”", status_code=422)
        self.assertContains(answer, "Water, salt", status_code=422)
        self.assertContains(answer, "Elmfold stock", status_code=422)
        for typed, words in (
            ({"serving": "half a cup"}, "How many grams"), ({"name": ""}, "What is it called"), ({"fat_g": "2000"}, "Look at the unit"),
            ({"carbohydrate_g": ""}, "carbohydrate is missing"), ({"saturated_fat_g": "9"}, "of which it is a part"),
        ):  # fmt: skip
            self.assertContains(self.enter(**typed), words, status_code=422)
        self.assertFalse(OwnLabel.objects.exists())

    def test_a_form_just_opened_finds_no_fault(self):
        for query in ("", "?form=eu", "?form=us&name=Stock&fat_g=1"):
            self.assertNotContains(self.client.get(f"{reverse('pantry:enter')}{query}"), 'class="wrong"')
        self.assertContains(
            self.client.get(f"{reverse('pantry:enter')}?name=Elmfold+stock&salt_g=2&form=eu"), 'value="Elmfold stock"'
        )

    def test_a_label_unlike_the_food_it_stands_for_is_looked_at_again(self):
        answer = self.enter(sodium_mg="2100", looked_at="")
        self.assertContains(answer, "is it right?", status_code=422)
        self.assertContains(answer, "I looked again", status_code=422)
        self.assertEqual(self.enter(sodium_mg="2100").status_code, 302)

    def test_an_eu_label(self):
        self.enter(
            form="eu",
            serving="100 g",
            energy_kj="1950",
            energy_kcal="465",
            fat_g="19",
            carbohydrate_g="62",
            protein_g="7.9",
            salt_g="0,85",
        )
        self.assertEqual(self.label().printed["salt_g"], 0.85)

    def test_a_label_needs_no_food_to_stand_for(self):
        self.assertEqual(self.enter(food_id="").status_code, 302)
        page = self.client.get(reverse("pantry:food", args=[self.label().food_id]))
        self.assertContains(page, "Elmfold stock")
        self.assertContains(page, "unknown")

    def test_a_food_by_hand_names_the_table_it_is_from(self):
        self.enter(
            form="eu", serving="100 g", energy_kcal="40", found_in="Harbor clinic food table, 3rd edition, page 12"
        )
        self.assertIn("Harbor clinic food table, 3rd edition, page 12", self.label().source)

    def test_less_than_is_kept_and_shown_as_it_was_typed(self):
        self.enter(
            form="au",
            serving="100 g",
            energy_kj="42",
            protein_g="<1",
            fat_g="LESS THAN 0.1",
            sodium_mg="less than 5 mg",
        )
        self.assertEqual((self.label().printed["protein_g"], self.label().printed["sodium_mg"]), ("<1", "<5"))
        page = self.client.get(reverse("pantry:correct", args=[self.label().pk]))
        self.assertContains(page, 'value="&lt;1"')

    def test_a_volume_asks_what_it_weighs_unless_its_food_is_known(self):
        answer = self.enter(serving="100 ml", food_id="")
        self.assertContains(answer, "What do 100 ml of it weigh?", status_code=422)
        self.assertEqual(self.enter(serving="100 ml", food_id="", g_per_100_ml="92").status_code, 302)
        self.assertEqual(self.label().per_g, 92)

    def test_a_volume_of_a_known_food_is_weighed_by_it(self):
        self.enter(
            serving="8 fl oz",
            food_id=foods().by_description("Oil, olive, salad or cooking").id,
            fat_g="200",
            energy_kcal="1800",
            protein_g="0",
            carbohydrate_g="0",
        )
        self.assertTrue(210 < self.label().per_g < 225, self.label().per_g)

    def test_figures_of_what_is_made_of_it_are_asked_about(self):
        self.assertContains(
            self.enter(serving="100 g as prepared"), "as sold, as prepared, or drained", status_code=422
        )
        self.assertEqual(self.enter(serving="100 g as prepared", basis="as prepared").status_code, 302)
        self.assertEqual(self.label().as_food().description, "Elmfold stock, as prepared")

    def test_a_name_that_does_not_hold_is_asked_about_before_it_is_kept(self):
        answer = self.enter(name="Unsalted stock", ingredients="Water, sea salt", looked_at="")
        self.assertContains(answer, "and that does not hold", status_code=422)
        self.assertFalse(OwnLabel.objects.exists())

    def correct(self, **typed):
        data = {"form": "us", "name": "Elmfold stock", "serving": "1 cup (240 g)", "looked_at": "yes",
                "stands_for": foods().by_description(USUAL).id} | STOCK | typed  # fmt: skip
        return self.client.post(reverse("pantry:correct", args=[self.label().pk]), data)

    def test_what_was_mistyped_is_put_right_everywhere_and_how_it_read_is_kept(self):
        self.enter()
        food_id = self.label().food_id
        self.assertContains(self.client.get(reverse("pantry:correct", args=[self.label().pk])), 'value="70"')
        self.assertEqual(self.correct(sodium_mg="700", name="Elmfold broth").status_code, 302)
        with within(Practice.objects.get(pk=self.ana.practice_id)):
            self.assertAlmostEqual(float(foods().value("Elmfold broth", "sodium_mg")), 700 / 2.4, places=3)
        page = self.client.get(reverse("pantry:food", args=[food_id]))
        self.assertContains(page, "sodium 70 → 700")
        self.assertContains(page, "name Elmfold stock → Elmfold broth")
        self.assertContains(page, "Ana")

    def test_a_correction_that_changes_nothing_is_none(self):
        self.enter()
        self.correct()
        self.assertEqual((self.label().earlier, self.label().corrected_at), ([], None))

    def test_a_bad_correction_loses_nothing_and_changes_nothing(self):
        self.enter()
        answer = self.correct(fat_g="two", ingredients="Water, salt")
        self.assertContains(answer, "Water, salt", status_code=422)
        self.assertEqual(self.label().printed["fat_g"], 0)

    def test_who_reads_only_may_not(self):
        self.ana.role = "reader"
        self.ana.save()
        self.assertEqual(self.enter().status_code, 403)


class FoundAtOnce(PracticeTest):
    def test_a_kept_label_stands_among_the_foods_of_lines_read_before(self):
        self.client.post(reverse("recipes:import"), {"text": "Pot\nServes 2\n1 cup chicken stock\n2 leeks"})
        row = Recipe.objects.get(title="Pot").lines.first()
        label = Label(
            "Elmfold stock", US, 240, {key: float(value) for key, value in STOCK.items()}, stands_for=row.line.food_id
        )
        kept = actions.enter_label(label, "1 cup (240 g)", self.ana)
        page = self.client.get(reverse("recipes:line", args=[row.pk]), headers={"HX-Request": "true"})
        self.assertContains(page, f'value="{kept.food_id}"')
        self.assertContains(self.client.get(f"{reverse('pantry:choose')}?q=elmfold"), "Elmfold stock")


class OnTheBench(PracticeTest):
    def setUp(self):
        super().setUp()
        usual = foods().by_description(USUAL).id
        printed = {key: float(value) for key, value in STOCK.items()}
        make = lambda name, sodium: actions.enter_label(  # noqa: E731
            Label(name, US, 240, printed | {"sodium_mg": sodium}, "Water, celery, salt", "", usual),
            "1 cup (240 g)",
            self.ana,
        )
        self.low, self.high = make("Elmfold stock", 70), make("Harrow stock", 900)
        self.key = next(line.key for line in self.bench.written.lines if "stock" in line.text)

    def page(self, name="bench:jars", **data):
        return self.client.get(reverse(name, args=[self.bench.pk, self.attempt.pk]), {"line": self.key} | data)

    def test_two_jars_beside_each_other(self):
        answer = self.page()
        self.assertContains(answer, "Elmfold stock")
        self.assertContains(answer, "Harrow stock")
        order = [jar.food.id for jar, _ in answer.context["jars"]]
        self.assertLess(order.index(self.low.food_id), order.index(self.high.food_id))
        self.assertContains(answer, "Take this one")

    def test_a_line_that_is_not_there(self):
        self.assertEqual(self.page(line="w99").status_code, 404)

    def test_this_jar_instead_is_offered_and_taken(self):
        version = self.attempt.version
        url = reverse("bench:edit", args=[self.bench.pk, self.attempt.pk])
        self.client.post(
            url,
            {"act": "food", "line": self.key, "version": version, "food_id": self.low.food_id},
            headers={"HX-Request": "true"},
        )
        self.attempt.refresh_from_db()
        line = bench_actions.standing_edit(self.attempt).dish.line(self.key)
        self.assertEqual((line.food_id, line.sure), (self.low.food_id, "sure"))
        self.assertContains(self.page(name="bench:try"), "Which of these jars?")

    def test_retired_it_stays_where_it_was_and_is_offered_no_more(self):
        self.test_this_jar_instead_is_offered_and_taken()
        self.client.post(reverse("pantry:retire", args=[self.low.pk]))
        self.assertNotContains(self.page(), "Take this one</button>\n                </form>\n              Elmfold")
        with within(Practice.objects.get(pk=self.ana.practice_id)):
            food = foods().by_id(self.low.food_id)
            self.assertEqual(food.kind, RETIRED)
        self.assertEqual(self.page(name="bench:try").status_code, 200)

    def test_a_card_that_went_out_with_a_mistyped_label_says_so(self):
        self.test_this_jar_instead_is_offered_and_taken()
        with within(Practice.objects.get(pk=self.ana.practice_id)):
            cooked = finished_cook(self.attempt, self.ana).result
            release = made_release(cooked, self.ana)
        page = release.get_absolute_url()
        self.assertNotContains(self.client.get(page), "was corrected since")
        label = replace(self.low.label, printed=self.low.label.printed | {"sodium_mg": 700.0})
        with within(Practice.objects.get(pk=self.ana.practice_id)):
            actions.correct_label(self.low, label, "1 cup (240 g)", self.ana)
        self.assertContains(self.client.get(page), "the label of Elmfold stock was corrected since")

    def test_another_process_reads_what_was_entered_meanwhile(self):
        """Memory is compared by version: a label entered elsewhere is there at the next request."""
        with within(Practice.objects.get(pk=self.ana.practice_id)):
            held = len(foods())
        actions.enter_label(self.low.label, "1 cup", self.ana)
        with within(Practice.objects.get(pk=self.ana.practice_id)):
            self.assertEqual(len(foods()), held + 1)


class Costs(PracticeTest):
    def test_a_practice_without_labels_asks_nothing_more(self):
        with self.assertNumQueries(0), within(self.ana.practice):
            self.assertIs(foods(), the_table())
