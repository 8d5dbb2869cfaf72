"""What must not fall over: limits of nothing, tallies of almost nothing, foods that left the table."""

import json
import re

from django.db import connection
from django.urls import reverse

from bench import actions as bench_actions
from bench.sight import look
from kitchen import actions as kitchen_actions
from kitchen.models import Tap
from nutrition.food.nutrients import KEYS
from nutrition.food.tags import CHECK
from people.models import PersonTally, PersonTarget
from people.regimen import regimen_of
from tests.web.base import finished_cook
from tests.web.test_permission_walk import ADDRESSES, Owned

#: Where the database keeps dishes and lines: table, column.
_KEPT = (
    ("recipes_recipeline", "as_read"),
    ("bench_bench", "written"),
    ("bench_edit", "dish"),
    ("bench_foundway", "stages"),
    ("kitchen_cook", "plan"),
)


class Pages(Owned):
    """Every page somebody may look at, of one whole case with something on the stove."""

    def setUp(self):
        super().setUp()
        self.cook = kitchen_actions.begin(bench_actions.start_try(self.bench, None, self.ana), self.ana)
        self.owned["cook"] = self.cook.pk

    def all_pages_answer(self):
        for name, (_, _, method) in ADDRESSES.items():
            if (
                method == "get"
                and not name.startswith(("account_", "mfa_"))
                and "scale" not in name
                and name != "metrics"
            ):
                answer = self.ask(name)
                with self.subTest(name):
                    # An offer that was there may be gone.
                    self.assertIn(answer.status_code, (200, 302, 404) if "preview" in name else (200, 302), name)


class Extremes(Pages):
    def test_at_most_nothing_of_everything(self):
        for key in KEYS:
            PersonTarget(
                person=self.person, nutrient=key, maximum=0.0, scope="serving", source="own", set_by=self.ana
            ).save()
        self.all_pages_answer()
        finished_cook(bench_actions.start_try(self.bench, self.attempt, self.ana), self.ana)
        self.all_pages_answer()

    def test_at_least_and_at_most_nothing(self):
        for key in KEYS:
            PersonTarget(
                person=self.person, nutrient=key, minimum=0.0, maximum=0.0, scope="day", source="own", set_by=self.ana
            ).save()
        self.all_pages_answer()

    def test_a_tally_in_steps_of_almost_nothing(self):
        page = f"{reverse('people:person', args=[self.person.pk])}"
        typed = {"name": "Beans", "formula_text": "protein_g", "rounding": "nearest", "free": "", "one_free_a_day": ""}
        answer = self.client.post(reverse("people:add_tally", args=[self.person.pk]), typed | {"step": "1e-320"})
        self.assertContains(answer, "from 0.001 to 100", status_code=422)
        for formula in ("protein_g * 1e308 * 10", "protein_g / 1e-320", "sodium_mg * 1e200"):
            answer = self.client.post(
                reverse("people:add_tally", args=[self.person.pk]), typed | {"step": "0.5", "formula_text": formula}
            )
            self.assertEqual(answer.status_code, 422, formula)
        self.assertEqual(self.client.get(page).status_code, 200)

    def test_a_tally_kept_before_there_was_a_least_step_poisons_nobody(self):
        PersonTally(
            person=self.person,
            name="Old",
            formula_text="protein_g",
            formula={"protein_g": 1.0},
            step=1e-320,
            set_by=self.ana,
        ).save()
        self.all_pages_answer()


class GoneFoods(Pages):
    """A food id that a later table lacks."""

    def setUp(self):
        super().setUp()
        self.stock = next(line.food_id for line in self.recipe.dish.lines if "stock" in line.text)
        kitchen_actions.tap(self.cook, self.ana, "added", grams=20.0, food_id=self.stock)
        with connection.cursor() as cursor:
            for table, column in _KEPT:
                cursor.execute(f"SELECT id, {column} FROM {table}")  # noqa: S608 - names of this file
                for pk, kept in cursor.fetchall():
                    text = kept if isinstance(kept, str) else json.dumps(kept)
                    gone = re.sub(re.escape(self.stock), "usda:sr/dodo-stock", text)
                    cursor.execute(f"UPDATE {table} SET {column} = %s::jsonb WHERE id = %s", [gone, pk])  # noqa: S608
        Tap.objects.filter(food_id=self.stock).update(food_id="usda:sr/dodo-stock")
        PersonTally.objects.update(free_foods=["usda:sr/dodo-stock"])
        from pantry.models import Alias

        Alias.objects.update(food_id="usda:sr/dodo-stock")

    def test_every_page_says_so_and_none_falls_over(self):
        self.all_pages_answer()
        page = self.client.get(reverse("bench:try", args=[self.bench.pk, self.attempt.pk]), {"line": "w2"})
        self.assertContains(page, "no longer in the table")
        self.assertContains(self.client.get(reverse("pantry:pantry")), "no longer in the table")

    def test_what_it_held_is_unknown_and_not_zero(self):
        self.attempt.refresh_from_db()
        self.bench.refresh_from_db()
        sight = look(
            self.bench, bench_actions.standing_edit(self.attempt), regimen_of(self.person).eater, attempt=self.attempt
        )
        least, most = sight.now.interval("sodium_mg")
        self.assertGreater(least, 0)
        self.assertEqual(most, float("inf"))
        said = {finding.tag: finding.verdict for finding in sight.sheet.allergens}
        self.assertEqual([said[tag] for tag in ("milk", "peanut", "fish")], [CHECK] * 3)

    def test_it_can_be_undone_and_replaced(self):
        edit = reverse("bench:edit", args=[self.bench.pk, self.attempt.pk])
        self.attempt.refresh_from_db()
        answer = self.client.post(
            edit,
            {"act": "food", "line": "w2", "food_id": "curated:quark-low-fat", "version": self.attempt.version},
        )
        self.assertEqual(answer.status_code, 302, answer.content[:300])
        self.attempt.refresh_from_db()
        answer = self.client.post(edit, {"act": "undo", "version": self.attempt.version})
        self.assertEqual(answer.status_code, 302)
        self.assertContains(
            self.client.get(reverse("bench:try", args=[self.bench.pk, self.attempt.pk]), {"line": "w2"}),
            "no longer in the table",
        )
