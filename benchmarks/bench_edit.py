#!/usr/bin/env python3
"""Time and queries of an edit on the bench, in the server, with a 25-line dish; memory of a worker.

    DATABASE_URL=$(bin/pg start) .venv/bin/python benchmarks/bench_edit.py [--check]

Runs inside a transaction that is rolled back: nothing stays in the database.
"""

import itertools
import random
import resource
import statistics
import sys
import time

from django.db import connection
from django.test.utils import CaptureQueriesContext
from goals import Goals
from stage import staged

EDITS = 200


def timed(call):
    started = time.perf_counter()
    call()
    return 1000 * (time.perf_counter() - started)


def main():
    goals = Goals()
    with staged("kidney", "diabetes", "low-sodium", "gluten-free", "free-of:tree_nut") as stage:
        client, bench, attempt, page = stage.client, stage.bench, stage.attempt, stage.page
        client.get(page)
        from opengate import wsgi  # noqa: F401 - loads and freezes what the server does

        lines, version = bench.written.lines, itertools.count(attempt.version)
        salt = next(line for line in lines if "salt" in line.text.lower())

        def edit(line):
            grams = random.uniform(1, 60)
            data = {"act": "amount", "line": line.key, "amount": f"{grams:.1f} g", "version": next(version)}
            response = client.post(f"{page}edit/", data, headers={"HX-Request": "true"})
            assert response.status_code == 200, response.content[:500]
            return response

        def bare():
            assert client.get("/keys/").status_code == 200

        gates = edit(lines[0]).content.count(b"data-gate")
        print(
            f"{len(lines)} lines, {gates} gates, {EDITS} edits beside as many bare pages, without their commits (load.py has them):"
        )
        for what, line in (("an edit", lines[0]), ("an edit of the salt", salt)):
            pairs = [(timed(bare), timed(lambda line=line: edit(line))) for _ in range(EDITS)]
            runs = [own for _, own in pairs]
            goals.say(f"{what}, median", statistics.median(runs), "ms")
            goals.say("  p95", statistics.quantiles(runs, n=100)[94], "ms", most=120)
            goals.say("  in bare pages, median", statistics.median(own / plain for plain, own in pairs), "x", digits=1)
        goals.say("a bare page", statistics.median(plain for plain, _ in pairs), "ms", digits=1)
        with CaptureQueriesContext(connection) as asked:
            edit(lines[0])
        sign_in = ("django_session", "accounts_user")  # who asks is read once for every page
        own = [q for q in asked.captured_queries if not any(word in q["sql"] for word in ("SAVEPOINT", *sign_in))]
        goals.say("queries of an edit", len(own), "", most=12)
        resident = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
        goals.say("resident with reader and table", resident, "MB", most=400)
    return goals.end()


if __name__ == "__main__":
    sys.exit(main())
