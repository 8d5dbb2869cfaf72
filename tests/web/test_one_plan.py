"""A plan that is defined in a test alone: in the form, on the person, on the bench and on the card, with no other edit."""

from unittest.mock import patch

from django.urls import reverse

from bench import actions as bench_actions
from nutrition.limits.plans import PLANS
from people.models import Person
from tests.nutrition.test_door import LOW_ZINC
from tests.web.base import PracticeTest, make_recipe

SOUP = "Low-zinc barley soup\nServes 4\n1 cup pearl barley\n1 stalk celery\n2 carrots\nMethod\nSimmer for an hour."


class OnePlanOneModule(PracticeTest):
    def setUp(self):
        super().setUp()
        patched = patch.dict(PLANS, {LOW_ZINC.key: LOW_ZINC})
        patched.start()
        self.addCleanup(patched.stop)

    def test_it_goes_all_the_way_by_itself(self):
        form = self.client.get(reverse("people:add"))
        for words in (
            "Low zinc",
            "Invented shelf",
            "Invented for a test: little zinc, no celery.",
            "How much zinc a day?",
        ):
            self.assertContains(form, words)
        self.client.post(reverse("people:add"), {"name": "Zora", "low-zinc": "on", "low-zinc:zinc": "6"})
        zora = Person.objects.get(name="Zora")
        self.assertEqual([(t.plan, t.nutrient, t.maximum) for t in zora.targets.all()], [("low-zinc", "zinc_mg", 6.0)])
        page = self.client.get(zora.get_absolute_url())
        for words in ("Low zinc", "Zinc", "Celery"):
            self.assertContains(page, words)
        _, attempt = bench_actions.take_to_bench(make_recipe(self.ana, SOUP), zora, "dinner", self.ana)
        bench = self.client.get(attempt.get_absolute_url())
        for words in ("Low zinc", "Zinc points", "Celery", "contains", "low-zinc"):
            self.assertContains(bench, words)
        card = self.client.get(reverse("handouts:card", args=[attempt.pk]))
        for words in ("Low zinc", "Zinc is mostly in what was invented for a test.", "Celery: contains"):
            self.assertContains(card, words)
