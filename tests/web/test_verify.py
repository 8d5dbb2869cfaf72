"""Figures to be verified: said so on every screen, listed by use, settled one by one with the book in the hand."""

from django.urls import reverse

from nutrition.food.table import foods
from pantry.models import Verified
from tests.web.base import PracticeTest
from tests.web.test_permission_walk import ADDRESSES, Owned


class Screens(Owned):
    def test_no_screen_says_from_memory(self):
        """What nobody has held against its document is "to be verified" before a clinician."""
        said = []
        for name, (_, _, method) in ADDRESSES.items():
            if method == "get":
                answer = self.ask(name)
                if (
                    answer.status_code == 200
                    and "html" in answer.headers.get("Content-Type", "")
                    and "from memory" in answer.content.decode()
                ):
                    said.append(name)
        self.assertEqual(said, [])


class Settling(PracticeTest):
    def food(self):
        row = next(row for row, source in enumerate(foods().text["sources"]) if "from memory" in source)
        return foods().food(row)

    def settle(self, **typed):
        url = reverse("office:verify", args=[self.food().id])
        return self.client.post(url, {"found_in": "USDA SR Legacy 2018, food 1", **typed})

    def test_those_used_most_come_first(self):
        answer = self.client.get(reverse("office:figures"))
        uses = [used for _, used, _ in answer.context["page"]]
        self.assertEqual(uses, sorted(uses, reverse=True))
        self.assertGreater(uses[0], 0)
        self.assertContains(answer, "to be verified")

    def test_a_food_is_settled_with_work_edition_and_page(self):
        self.assertEqual(self.settle(sodium_mg="12,5").status_code, 302)
        kept = Verified.objects.get()
        self.assertEqual((kept.found, kept.set_by), ({"sodium_mg": 12.5}, self.ana))
        self.settle(sodium_mg="13")
        self.assertEqual(Verified.objects.get().found, {"sodium_mg": 13})
        self.assertContains(self.client.get(reverse("office:figures")), "settled: USDA SR Legacy 2018, food 1")

    def test_a_figure_that_differs_is_shown_beside_the_tables(self):
        self.settle(energy_kcal="9999")
        self.assertContains(self.client.get(reverse("office:verify", args=[self.food().id])), "Energy is")

    def test_what_is_refused_stays_in_the_boxes(self):
        answer = self.settle(found_in="", sodium_mg="12 or so", protein_g="3.5")
        self.assertContains(answer, "Which book, which edition", status_code=422)
        self.assertContains(answer, "12 or so", status_code=422)
        self.assertContains(answer, 'value="3.5"', status_code=422)
        self.assertFalse(Verified.objects.exists())
