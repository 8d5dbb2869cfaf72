"""What the bench's forms send, read into values. Refusals are said by the verbs, with what was typed kept."""

from django import forms

from nutrition.limits.gates import MEAL_SHARES
from nutrition.limits.roles import ROLES
from ui.numbers import Asked, TypedNumber, read_number
from ui.posted import said, whole

SERVINGS = Asked("servings", 500, above=True, example="6")
COOKED_WEIGHT = Asked("grams cooked", 100_000, least=1, example="1450")


class EditForm(forms.Form):
    """One change of a try. `version`: of the try the page was drawn from; nothing that can be read is no version."""

    act = forms.CharField(required=False)
    version = forms.CharField(required=False)
    line = forms.CharField(required=False, max_length=40)
    amount = forms.CharField(required=False, strip=False)
    text = forms.CharField(required=False, strip=False)
    why = forms.CharField(required=False, max_length=200)
    serves = forms.CharField(required=False)
    food_id = forms.CharField(required=False)
    state = forms.CharField(required=False)
    offer = forms.CharField(required=False)
    step = forms.CharField(required=False)
    eaten = forms.CharField(required=False)
    job = forms.MultipleChoiceField(required=False)

    #: What was typed, by verb: shown again when an edit is refused.
    TYPED = ("amount", "text", "why", "serves", "food_id", "state")

    def clean_version(self):
        typed = self.cleaned_data["version"]
        return int(typed) if typed.isdecimal() and len(typed) < 10 else -1

    def value(self, name):
        """What was sent, as it was sent; empty for nothing."""
        return self.data.get(name, "")

    @property
    def place(self):
        """Of the step that is written anew; 0 for none."""
        return whole(self.data.get("step"))

    def step_text(self, attempt):
        """The words of a step as typed; none to leave it out, those of the recipe to have it back."""
        written = attempt.bench.written.steps
        if "back" in self.data and 0 < self.place <= len(written):
            return written[self.place - 1]
        return "" if "leave" in self.data else self.value("text")

    @property
    def answer(self):
        """(step, how, whether it is so) of what a step leaves behind."""
        step, how, said = (*self.value("eaten").split(), "", "", "")[:3]
        return whole(step), how, said == "yes"

    @property
    def jobs(self):
        return self.data.getlist("job")

    @property
    def typed(self):
        return {name: self.data[name] for name in self.TYPED if name in self.data}

    def servings(self):
        return read_number(self.value("serves"), SERVINGS, is_needed=True)


class SeenForm(forms.Form):
    """How the page was being looked at: the nutrient watched, and "share" where the heaviest lines stand first."""

    @classmethod
    def of(cls, request):
        """As the answer to `request` must look: what was posted, else what the address says."""
        return cls(said(request))

    @property
    def watch(self):
        return self.data.get("watch", "")

    @property
    def order(self):
        return "share" if self.data.get("order") == "share" else ""


class BranchForm(forms.Form):
    """Where a new try starts from."""

    @property
    def is_from_written(self):
        return self.data.get("from") == "written"


class TakeForm(forms.Form):
    """Which recipe goes to the bench for whom, and at which meal it is judged; the try to go back to."""

    meal = forms.ChoiceField(required=False, choices=[(meal, meal) for meal in MEAL_SHARES])
    role = forms.ChoiceField(required=False, choices=[(key, role.label) for key, role in ROLES.items()])

    def __init__(self, data):
        super().__init__(data)
        self.recipe, self.person, self.back_to = (whole(data.get(name)) for name in ("recipe", "person", "try"))

    def meal_or(self, default):
        """The meal asked for; the default for none that is one."""
        self.is_valid()
        return self.cleaned_data.get("meal") or default

    def role_or(self, default):
        """What part of the meal, as asked for; the default for none that is one."""
        self.is_valid()
        return self.cleaned_data.get("role") or default


class KeepForm(forms.Form):
    """A try's name and notes, what it weighed cooked, and whether it is finished."""

    name = forms.CharField(required=False, max_length=80)
    notes = forms.CharField(required=False, max_length=4000)
    cooked = TypedNumber(COOKED_WEIGHT)
    seen = forms.CharField(required=False, max_length=16)
    finished = forms.ChoiceField(required=False, choices=[("yes", "finished"), ("no", "unfinished")])


class WayForm(forms.Form):
    """Which way found before is taken, and how many of its changes; all of them where none is named."""

    way = forms.IntegerField(required=False, min_value=1)
    count = forms.IntegerField(required=False, min_value=1, max_value=100)


class PutAwayForm(forms.Form):
    """Whether a dish is put out of the way, or on the bench again."""

    back = forms.BooleanField(required=False)

    @property
    def is_back(self):
        return self.is_valid() and self.cleaned_data["back"]
