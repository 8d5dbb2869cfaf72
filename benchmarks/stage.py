"""What the benchmarks of the server stand on: Django set up, and a practice with one dish on the bench, rolled back at the end."""

import os
import sys
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "opengate.settings.test")

import django  # noqa: E402

django.setup()

from django.db import transaction  # noqa: E402
from django.test import Client  # noqa: E402

from accounts.models import Practice, User  # noqa: E402
from accounts.scope import within  # noqa: E402
from bench import actions as bench_actions  # noqa: E402
from bench.models import Bench, Try  # noqa: E402
from nutrition.reading.page import from_text  # noqa: E402
from people import actions as people_actions  # noqa: E402
from people.models import Person  # noqa: E402
from recipes import actions as recipe_actions  # noqa: E402
from recipes.models import Recipe  # noqa: E402

STEW = (ROOT / "demo" / "recipes" / "fish-stew.txt").read_text()


@dataclass
class Stage:
    """Somebody of a practice, signed in at `client`, with a person and a dish of 25 lines on the bench for them."""

    practice: Practice
    user: User
    client: Client
    person: Person
    recipe: Recipe
    bench: Bench
    attempt: Try

    @property
    def page(self):
        return f"/bench/{self.bench.pk}/try/{self.attempt.pk}/"


def brought_in(text, user):
    """A recipe as it stands in the library once it is read."""
    recipe = recipe_actions.bring_in(from_text(text), text, user)
    recipe_actions.let_in(recipe)
    return recipe


def somebody(name, plans, user):
    """A person on these plans."""
    person = Person(name=name, weight_kg=70, energy_kcal=2000)
    person.save()
    people_actions.set_plans(person, {key: {} for key in plans}, user)
    return person


@contextmanager
def staged(*plans):
    """A Stage whose person follows these plans, inside its practice; nothing of it stays in the database."""
    with transaction.atomic():
        practice = Practice.objects.create(name="Benchmark")
        user = User.objects.create_user("benchmark@example.org", "-", name="B", credential="RD", practice=practice)
        client = Client(SERVER_NAME="localhost")
        client.force_login(user, backend="allauth.account.auth_backends.AuthenticationBackend")
        with within(practice):
            person, recipe = somebody("P", plans, user), brought_in(STEW, user)
            bench, attempt = bench_actions.take_to_bench(recipe, person, "dinner", user)
            yield Stage(practice, user, client, person, recipe, bench, attempt)
        transaction.set_rollback(True)
