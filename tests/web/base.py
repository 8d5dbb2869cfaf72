"""Small builders, so that tests read as what happens."""

from dataclasses import replace

from django.http import QueryDict
from django.test import TestCase

from accounts.models import Practice, User
from accounts.permissions import OWNER
from accounts.scope import within
from bench import actions as bench_actions
from handouts import actions as handout_actions
from handouts.card import build
from handouts.checklist import label_rows, readiness_of
from handouts.forms import ReadinessForm
from kitchen import actions as kitchen_actions
from kitchen.forms import FinishForm
from nutrition.notes import NOTHING
from nutrition.reading.page import from_text
from people import actions as people_actions
from people.models import Person
from recipes import actions as recipe_actions
from records.log import forget_looks

SOUP = "Barley soup\nServes 4\n1 cup pearl barley\n4 cups chicken stock\n1 tsp salt\n1 (400 g) can chickpeas\n2 carrots\nMethod\nSimmer it all for an hour."


def make_practice(name, email, credential=""):
    practice = Practice.objects.create(name=name)
    return User.objects.create_user(
        email, "a long password", name=name.split()[0], credential=credential, practice=practice, role=OWNER
    )


def make_person(user, name="Imre", plans=None, **fields):
    person = Person(name=name, **fields)
    person.save()
    people_actions.set_plans(person, plans if plans is not None else {"low-sodium": {}}, user)
    return person


def make_recipe(user, text=SOUP):
    recipe = recipe_actions.bring_in(from_text(text), text, user)
    recipe_actions.let_in(recipe)
    return recipe


def finished_cook(attempt, user, *taps, **post):
    """A try cooked by these taps (keyword dicts) and dished up."""
    cook = kitchen_actions.begin(attempt, user)
    for each in taps:
        kitchen_actions.tap(cook, user, **each)
    form = FinishForm({"cooked_g": "1600", "serves_cooked": f"{cook.plan.serves:g}", **post})
    if not form.is_valid():
        raise AssertionError(form.errors)
    said = {name: value for name, value in form.cleaned_data.items() if not name.startswith("spent-")}
    kitchen_actions.finish(cook, user, said.pop("serves_cooked"), **said, spent=form.spent())
    return cook


#: Everything a person has to make sure of for the barley soup.
SURE = {"portion": "a soup plate", "keep_days": "3", "freeze_months": "2"}


def sure_of(attempt, **more):
    """What the form of the checklist sends when everything is made sure of."""
    card, ready = build(attempt), readiness_of(attempt)
    post = QueryDict(mutable=True)
    post.update(SURE | {f"accept-{g.nutrient}": "bread beside it" for g in card.sight.gauges} | more)
    for row in label_rows(card, ready):
        post[f"read-{row.key}"] = "on"
    return post


def made_release(attempt, user, **more):
    """A release of a cooked try, with the targets confirmed."""
    for target in attempt.bench.person.targets.all():
        people_actions.confirm(target, user)
    edit = attempt.edits.get(number=0)
    edit.dish = edit.dish.with_lines(replace(line, sure="sure", ask=NOTHING) for line in edit.dish.lines)
    edit.save()
    handout_actions.make_sure(attempt, ReadinessForm(sure_of(attempt, **more)).made_sure(), user)
    return handout_actions.release(attempt, user)


class PracticeTest(TestCase):
    """Signed in as Ana, RD, of one practice; Bo works in another."""

    @classmethod
    def setUpTestData(cls):
        cls.ana = make_practice("Ana House", "ana@example.org", "RD")
        cls.bo = make_practice("Bo House", "bo@example.org")
        with within(cls.ana.practice):
            cls.person = make_person(cls.ana)
            cls.recipe = make_recipe(cls.ana)
            cls.bench, cls.attempt = bench_actions.take_to_bench(cls.recipe, cls.person, "dinner", cls.ana)

    def setUp(self):
        forget_looks()  # who looked at whom in another test was rolled back with it
        self.client.force_login(self.ana, backend="allauth.account.auth_backends.AuthenticationBackend")
        scope = within(self.ana.practice)
        scope.__enter__()
        self.addCleanup(scope.__exit__, None, None, None)

    def sign_in(self, user):
        self.client.force_login(user, backend="allauth.account.auth_backends.AuthenticationBackend")

    def sodium_line(self, attempt=None):
        dish = bench_actions.standing_edit(attempt or self.attempt).dish
        return next(line for line in dish.lines if line.text == "1 tsp salt")
