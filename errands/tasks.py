"""The queue: Procrastinate on the same PostgreSQL. `manage.py procrastinate worker` takes from it."""

from procrastinate.contrib.django import app

from .run import carry_out_by_number


@app.task(name="errand")
def run(errand, practice):
    carry_out_by_number(errand, practice)
