#!/usr/bin/env python3
"""Time and queries of an edit on the bench, in the server, with a 25-line dish; memory of a worker.

    DATABASE_URL=$(bin/pg start) .venv/bin/python benchmarks/bench_edit.py

Runs inside a transaction that is rolled back: nothing stays in the database.
"""

import os
import resource
import statistics
import sys
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
os.environ["DJANGO_SETTINGS_MODULE"] = "opengate.settings.test"

import django  # noqa: E402

django.setup()

from django.db import connection, transaction  # noqa: E402
from django.test import Client  # noqa: E402
from django.test.utils import CaptureQueriesContext, setup_test_environment  # noqa: E402

from accounts.models import Practice, User  # noqa: E402
from accounts.scope import within  # noqa: E402
from bench import actions  # noqa: E402
from nutrition.reading.page import from_text  # noqa: E402
from people import actions as people_actions  # noqa: E402
from people.models import Person  # noqa: E402
from recipes import actions as recipe_actions  # noqa: E402

STEW = (ROOT / "demo" / "recipes" / "fish-stew.txt").read_text()
EDITS = 200


def main():
    setup_test_environment()
    with transaction.atomic():
        practice = Practice.objects.create(name="Benchmark")
        user = User.objects.create_user("benchmark@example.org", "-", name="B", credential="RD", practice=practice)
        with within(practice):
            person = Person(name="P", weight_kg=70, energy_kcal=2000)
            person.save()
            people_actions.set_plans(
                person,
                {"kidney": {}, "diabetes": {}, "low-sodium": {}, "gluten-free": {}, "free-of:tree_nut": {}},
                user,
            )
            recipe = recipe_actions.bring_in(from_text(STEW), STEW, user)
            recipe_actions.let_in(recipe)
            bench, attempt = actions.take_to_bench(recipe, person, "dinner", user)
        client = Client()
        client.force_login(user, backend="allauth.account.auth_backends.AuthenticationBackend")
        url = f"/bench/{bench.pk}/try/{attempt.pk}/edit/"
        key, runs, queries = bench.written.lines[0].key, [], 0
        for number in range(EDITS + 5):
            data = {"act": "amount", "line": key, "amount": f"{20 + number} g", "version": attempt.version + number}
            with CaptureQueriesContext(connection) as asked:
                started = time.perf_counter()
                response = client.post(url, data, headers={"HX-Request": "true"})
                runs.append(time.perf_counter() - started)
            assert response.status_code == 200, response.content[:500]
            sign_in = ("django_session", "accounts_user")  # who asks is read once for every page
            own = [q for q in asked.captured_queries if not any(word in q["sql"] for word in ("SAVEPOINT", *sign_in))]
            queries = max(queries, len(own))
        runs = runs[5:]
        gates = response.content.count(b"data-gate")
        print(f"bench edit, {len(bench.written.lines)} lines, {gates} gates, {EDITS} edits:")
        print(
            f"  median {1000 * statistics.median(runs):.0f} ms, p95 {1000 * statistics.quantiles(runs, n=100)[94]:.0f} ms   wanted < 120 ms"
        )
        print(f"  {queries} queries at most   wanted <= 12")
        print(
            f"  {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB resident with reader and table   wanted < 400 MB"
        )
        transaction.set_rollback(True)


if __name__ == "__main__":
    main()
