"""What a practice looks like from outside: every page, every row, one analysis to the last digit. Printed as JSON.

DATABASE_URL=… python -m tests.web.look_around EMAIL
"""

import json
import os
import sys

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "opengate.settings.test")


def look_around(email):
    from django.test import Client
    from django.test.utils import setup_test_environment
    from django.urls import reverse

    from accounts.models import User
    from accounts.scope import within
    from bench.models import Bench
    from handouts.models import Release
    from kitchen.models import Cook
    from nutrition.sheet.analysis import analyze
    from office.keeping import rows_of_tables
    from people.models import Person
    from recipes.models import Recipe

    rows = rows_of_tables()
    setup_test_environment()
    user = User.objects.get(email=email)
    client = Client()
    with within(user.practice):
        read = Recipe.objects.filter(is_read=True)
        dishes = {str(recipe.pk): [float(x).hex() for x in analyze(recipe.dish).amounts] for recipe in read}
        pages = [reverse(name) for name in (
            "today", "people:people", "recipes:recipes", "bench:benches", "kitchen:cooks", "kitchen:lessons",
            "handouts:handouts", "pantry:pantry", "office:members", "office:log",
        )]  # fmt: skip
        pages += [each.get_absolute_url() for kind in (Person, Recipe, Cook, Release) for each in kind.objects.all()]
        pages += [attempt.get_absolute_url() for bench in Bench.objects.all() for attempt in bench.tries.all()]
    client.force_login(user, backend="allauth.account.auth_backends.AuthenticationBackend")
    return {"rows": rows, "dishes": dishes, "pages": {page: client.get(page).status_code for page in pages}}


if __name__ == "__main__":
    import django

    django.setup()
    print(json.dumps(look_around(sys.argv[1])))
