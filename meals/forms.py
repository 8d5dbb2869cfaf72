"""What the forms of a table send, read into values."""

from django import forms

from nutrition.food.table import foods
from nutrition.limits.gates import MEAL_SHARES
from nutrition.limits.plans import PLANS
from nutrition.limits.roles import ROLES
from ui.numbers import Asked, TypedNumber
from ui.posted import whole

_MEALS = [(meal, meal) for meal in MEAL_SHARES]
BATCHES = Asked("batches", 20, above=True, example="2")
PIECES = Asked("pieces a serving", 60, above=True, example="3")
WEIGHT = Asked("kg of body weight", 400, least=2, example="70")
ENERGY = Asked("kcal a day", 8000, least=300, example="2000")


class BeginForm(forms.Form):
    """A day, a meal, whose table, what it is called."""

    on = forms.DateField(
        error_messages={"required": "Choose a day.", "invalid": "A day is expected, as in 2026-12-24."}
    )
    meal = forms.ChoiceField(
        choices=_MEALS, error_messages={"required": "Choose a meal.", "invalid_choice": "“%(value)s” is no meal."}
    )
    serve_at = forms.TimeField(required=False, error_messages={"invalid": "A time is expected, as in 18:30."})
    household = forms.CharField(required=False, max_length=80)
    title = forms.CharField(required=False, max_length=120)


class LayForm(BeginForm):
    """A table for somebody's meal; `recipe`: a dish that is put on it for them."""

    recipe = forms.IntegerField(required=False, min_value=1)


class FactsForm(BeginForm):
    """The facts of a table that stands."""

    household = None


class ChangeForm(forms.Form):
    """One change of a table. `version`: of the table the page was drawn from; nothing that can be read is no version."""

    act = forms.CharField(required=False)
    words = forms.CharField(required=False, max_length=400, strip=False)

    def __init__(self, data):
        super().__init__(data)
        self.is_valid()
        self.version = whole(data.get("version"), -1)
        for name in ("seat", "dish", "recipe", "attempt", "release", "person", "left_over"):
            setattr(self, name, whole(data.get(name)))

    def value(self, name):
        return self.data.get(name, "")

    @property
    def count(self):
        """How many of a food, in halves."""
        return min(max(whole(self.value("halves"), 2), 1), 40) / 2

    @property
    def keys(self):
        return self.data.getlist("key")


class AtHomeForm(forms.Form):
    """How much of a food is at home, in words."""

    def __init__(self, data):
        super().__init__(data)
        self.food_id, self.typed = data.get("food_id", "")[:160], data.get("typed", "").strip()[:60]

    @property
    def is_known(self):
        return foods().has_id(self.food_id)


class PlanForm(forms.Form):
    """What is asked of a plan: the Monday, for the household too, with a snack; and another than the one found before."""

    monday = forms.DateField(
        error_messages={"required": "Choose a week.", "invalid": "A day is expected, as in 2026-11-23."}
    )
    household = forms.BooleanField(required=False)
    snack = forms.BooleanField(required=False)
    another = forms.IntegerField(required=False, min_value=1)


class CopyForm(forms.Form):
    """A day or a week of somebody, to another day or week, theirs or another's. `days`: one or seven."""

    to = forms.DateField(
        error_messages={"required": "Choose a day.", "invalid": "A day is expected, as in 2026-11-30."}
    )
    days = forms.TypedChoiceField(choices=[(1, "the day"), (7, "the week")], coerce=int)
    person = forms.IntegerField(required=False, min_value=1)


class DishForm(forms.Form):
    """A dish's part of the meal, its batches, the pieces of a serving."""

    role = forms.ChoiceField(
        choices=[(key, role.label) for key, role in ROLES.items()],
        error_messages={"invalid_choice": "“%(value)s” is no part of a meal."},
    )
    batches = TypedNumber(BATCHES, required=True)
    pieces = TypedNumber(PIECES, required=True)


class GuestForm(forms.Form):
    """A guest: what they are called here, and their limits."""

    guest = forms.CharField(required=False, max_length=80)
    plan = forms.MultipleChoiceField(required=False, choices=[(key, plan.label) for key, plan in PLANS.items()])
    weight_kg = TypedNumber(WEIGHT)
    energy_kcal = TypedNumber(ENERGY)
