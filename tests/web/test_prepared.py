"""Questions whose SQL is made once: they answer as they would if it were made each time, and in no other practice."""

import sys
import threading
from datetime import date
from inspect import signature

from django.db import connection
from django.test import TransactionTestCase
from django.utils import timezone

from accounts.models import User
from accounts.prepared import Prepared, prepared
from accounts.scope import NoPractice, only_numbered, within
from meals import actions as meal_actions
from people.models import Person
from people.regimen import _plans_of

from .base import PracticeTest, make_practice


def _everywhere():
    """Every prepared question of the rooms, by its place."""
    found = {
        f"{name}.{each.__name__}": each
        for name, module in sorted(sys.modules.items())
        if not name.startswith("tests.")
        for each in list(vars(module).values())
        if isinstance(each, Prepared) and each.__module__ == name
    }
    return found


def _kept(row):
    return {name: value for name, value in vars(row).items() if not name.startswith("_")}


class AsIfMadeAnew(PracticeTest):
    def setUp(self):
        super().setUp()
        self.occasion = meal_actions.begin(date(2027, 1, 1), "dinner", "", "", self.ana)
        meal_actions.seat_person(self.occasion, None, self.person, self.ana)
        meal_actions.add_try(self.occasion, None, self.attempt)
        self.values = {
            "person_id": self.person.pk,
            "person_ids": [self.person.pk, 0],
            "occasion_ids": [self.occasion.pk],
            "occasion_id": self.occasion.pk,
            "try_ids": [self.attempt.pk],
            "recipe_ids": [self.recipe.pk],
            "dish_ids": [self.occasion.dishes.get().pk],
            "row_id": 0,
            "bench_id": self.bench.pk,
            "try_id": self.attempt.pk,
            "number": 0,
        }

    def test_every_question_answers_as_without_being_prepared(self):
        found, answered = _everywhere(), set()
        self.assertGreater(len(found), 10)
        for name, question in found.items():
            values = [self.values[each] for each in signature(question.question).parameters]
            with self.subTest(name):
                plain = list(question.question(*values))
                self.assertEqual([*map(_kept, question(*values))], [*map(_kept, plain)])
                self.assertEqual([*map(_kept, question(*values))], [*map(_kept, plain)], "asked again")
                answered |= {name} if plain else set()
        self.assertLessEqual({"people.regimen._targets_of", "bench.views._tries_at"}, answered)

    def test_lists_of_any_length(self):
        outside = prepared(lambda person_ids: Person.objects.exclude(pk__in=person_ids))
        for given in ([self.person.pk], [], [0, self.person.pk, 0]):
            with self.subTest(given):
                inside = _plans_of(given)
                self.assertEqual(
                    [each.person_id for each in inside], [self.person.pk] if self.person.pk in given else []
                )
                self.assertEqual(outside(given), [] if self.person.pk in given else [self.person])

    def test_nothing_is_found_from_another_practice(self):
        for name, question in _everywhere().items():
            values = [self.values[each] for each in signature(question.question).parameters]
            with self.subTest(name):
                question(*values)
                with within(self.bo.practice):
                    self.assertEqual(question(*values), [])
                with only_numbered(None), self.assertRaises(NoPractice):
                    question(*values)

    def test_one_query_with_what_it_takes_along(self):
        from bench.views import _tries_at

        _tries_at(self.bench.pk, self.attempt.pk)
        with self.assertNumQueries(1):
            found = _tries_at.one_or_404(self.bench.pk, self.attempt.pk)
            self.assertEqual(found.bench.person.name, self.bench.person.name)

    def test_a_number_no_row_can_have_finds_nothing(self):
        for number in (2**31, 2**63, 10**30):
            answer = self.client.get(f"/bench/{self.bench.pk}/try/{number}/")
            self.assertEqual(answer.status_code, 404)


class Refused(PracticeTest):
    def test_what_belongs_to_no_practice(self):
        with self.assertRaisesRegex(TypeError, "leaves its practice"):
            prepared(lambda user_id: User.objects.filter(pk=user_id))(1)

    def test_a_value_the_sql_does_not_hold(self):
        with self.assertRaisesRegex(TypeError, "leaves its practice or one of its values"):
            prepared(lambda person_id: Person.objects.all())(1)

    def test_what_moves_by_itself(self):
        with self.assertRaisesRegex(TypeError, "another one next time"):
            prepared(lambda: Person.objects.filter(put_away_at__lt=timezone.now()))()


class OnAnotherThread(TransactionTestCase):
    def test_each_asks_over_its_own_connection(self):
        practice = make_practice("Two Ways", "two@example.test").practice
        with within(practice):
            Person(name="Imre").save()
        question, found = prepared(lambda: Person.objects.all()), []

        def ask():
            with within(practice):
                found.extend([[each.name for each in question()], connection.connection])
            connection.close()

        with within(practice):
            question()
        thread = threading.Thread(target=ask)
        thread.start()
        thread.join()
        self.assertEqual(found[0], ["Imre"])
        self.assertIsNot(found[1], connection.connection)
