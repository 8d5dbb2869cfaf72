"""Eight at once, and killed in the middle: one object comes of it, or nothing at all."""

import inspect
from importlib import import_module
from threading import Barrier, Thread
from unittest.mock import patch

from django.db import connection
from django.test import SimpleTestCase, TransactionTestCase

from accounts.models import User
from accounts.scope import within
from bench import actions as bench_actions
from bench.models import Bench, Try
from kitchen import actions as kitchen_actions
from kitchen.models import Cook
from nutrition.notes import Problem
from people import actions as people_actions
from people.models import Person
from recipes import parts
from recipes.models import PartUse
from tests.web.base import PracticeTest, make_person, make_practice, make_recipe

AT_ONCE = 8
#: What only reads; everything else in the rooms' verbs is one transaction.
READERS = {
    "standing_edit", "taps_of", "pot_of", "food_ids", "waiting", "behind", "behind_anywhere", "opened", "swaps_of",
    "lessons_for", "learned", "swap_words", "find",
}  # fmt: skip
VERBS = (
    "bench.actions", "bench.lessons", "bench.renewal", "handouts.actions", "kitchen.actions", "people.actions",
    "recipes.actions", "recipes.parts", "meals.actions",
)  # fmt: skip


class OneTransaction(SimpleTestCase):
    def test_every_verb_is_one_transaction(self):
        for name in VERBS:
            module = import_module(name)
            for verb, function in inspect.getmembers(module, inspect.isfunction):
                if function.__module__ == name and not verb.startswith("_") and verb not in READERS:
                    with self.subTest(f"{name}.{verb}"):
                        # transaction.atomic wraps; nothing else in these modules does.
                        self.assertTrue(hasattr(function, "__wrapped__"))


class Races(TransactionTestCase):
    def setUp(self):
        self.ana = make_practice("Ana House", "ana@example.org", "RD")
        with within(self.ana.practice):
            self.person = make_person(self.ana)
            self.recipe = make_recipe(self.ana)

    def all_at_once(self, *verbs):
        """Each verb in a thread and on a connection of its own, all from one moment on; what came of each."""
        barrier, found = Barrier(len(verbs)), [None] * len(verbs)

        def run(at, verb):
            with within(self.ana.practice):
                barrier.wait(30)
                try:
                    found[at] = verb()
                except Exception as problem:
                    found[at] = problem
                finally:
                    connection.close()

        threads = [Thread(target=run, args=each) for each in enumerate(verbs)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join(60)
        for each in found:
            if isinstance(each, Exception) and not isinstance(each, Problem):
                raise each
        return found

    def test_a_dish_is_taken_to_the_bench_once(self):
        take = lambda: bench_actions.take_to_bench(self.recipe, self.person, "dinner", self.ana)  # noqa: E731
        found = self.all_at_once(*[take] * AT_ONCE)
        with within(self.ana.practice):
            self.assertEqual((Bench.objects.count(), Try.objects.count()), (1, 1))
        self.assertEqual({bench.pk for bench, _ in found}, {found[0][0].pk})

    def test_a_try_is_begun_once(self):
        with within(self.ana.practice):
            _, attempt = bench_actions.take_to_bench(self.recipe, self.person, "dinner", self.ana)
        found = self.all_at_once(*[lambda: kitchen_actions.begin(attempt, self.ana)] * AT_ONCE)
        with within(self.ana.practice):
            self.assertEqual(Cook.objects.count(), 1)
        self.assertEqual(len({cook.pk for cook in found}), 1)

    def test_two_recipes_never_take_each_other_in(self):
        with within(self.ana.practice):
            sauce = make_recipe(self.ana, "Sauce\nServes 2\n400 g canned tomatoes\nMethod\nSimmer it.")
        found = self.all_at_once(
            *[lambda: parts.use_part(self.recipe, sauce, "half", self.ana)] * (AT_ONCE // 2),
            *[lambda: parts.use_part(sauce, self.recipe, "half", self.ana)] * (AT_ONCE // 2),
        )
        with within(self.ana.practice):
            self.assertEqual(PartUse.objects.count(), 1)
        refused = [each for each in found if isinstance(each, Problem)]
        self.assertEqual({each.code for each in refused}, {"recipes.loop"})

    def test_plans_set_at_once_are_one_set(self):
        wanted = ({"gluten-free": {}}, {"kidney": {}}, {"heart": {}}, {"vegan": {}}) * (AT_ONCE // 4)

        def follow(plans):
            person = Person.objects.get(pk=self.person.pk)
            return lambda: people_actions.set_plans(person, plans, User.objects.get(pk=self.ana.pk))

        with within(self.ana.practice):
            self.all_at_once(*[follow(plans) for plans in wanted])
            keys = [choice.key for choice in self.person.plans.all()]
            plans = {target.plan for target in self.person.targets.all()}
        self.assertEqual(len(keys), 1)
        self.assertLessEqual(plans, {*keys, ""})


class KilledInTheMiddle(PracticeTest):
    def test_a_person_is_not_kept_without_plans(self):
        with (
            patch("people.actions.draft_beside", side_effect=RuntimeError("killed")),
            self.assertRaises(RuntimeError),
        ):
            people_actions.add_person(Person(name="Ife"), {"low-sodium": {}}, self.ana)
        self.assertFalse(Person.objects.filter(name="Ife").exists())

    def test_a_weight_is_not_kept_without_its_targets_and_saving_again_repairs(self):
        person = make_person(self.ana, "Ife", {"kidney": {}}, weight_kg="60.0")
        person.refresh_from_db()
        before = {(t.nutrient, t.maximum) for t in person.targets.all()}
        with patch("people.actions.targets_for", side_effect=RuntimeError("killed")), self.assertRaises(RuntimeError):
            people_actions.change_person(person, {"weight_kg": 90}, {"weight_kg": person.weight_kg}, self.ana)
        person.refresh_from_db()
        self.assertEqual(float(person.weight_kg), 60.0)
        self.assertEqual({(t.nutrient, t.maximum) for t in person.targets.all()}, before)
        self.assertTrue(
            people_actions.change_person(person, {"weight_kg": 90}, {"weight_kg": person.weight_kg}, self.ana)
        )
        self.assertNotEqual({(t.nutrient, t.maximum) for t in person.targets.all()}, before)
