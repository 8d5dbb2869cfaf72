"""Forms about a person."""

from datetime import date, timedelta

from django import forms
from django.utils.timezone import localdate

from nutrition.food.nutrients import BY_KEY, NUTRIENTS
from nutrition.food.tags import LISTS
from nutrition.limits.gates import MEAL_SHARES
from nutrition.limits.life import ADULT_YEARS, LEAST_ENERGY_KCAL, LITTLE_ENERGY_KCAL, usual_weight_kg
from nutrition.limits.measured import Measurement, measures
from nutrition.limits.noted import allergens_of, noted_words
from nutrition.limits.plans import CIRCUMSTANCES, PLANS, choose
from nutrition.limits.plans.allergens import FREE_OF
from nutrition.limits.plans.common import LIFE_STAGES, shelves
from nutrition.limits.roles import ROLES, WHOLE
from nutrition.limits.tallies import LEAST_STEP, ROUNDINGS
from nutrition.notes import Problem
from ui.posted import whole

from .models import Person, PersonTally, PersonTarget

CONTROL, SELECT = {"class": "form-control"}, {"class": "form-select"}


def _is_usual_weight(weight, age_years):
    least, most = usual_weight_kg(age_years)
    return least <= weight <= most


def seldom_seen(weight, age_years):
    """The beginning of a question about a weight."""
    return f"{weight:g} kg was typed, seldom seen{'' if age_years is None else ' at that age'}. Type it in kilograms"


#: Said by the stage of life alone.
_FROM_LIFE = ("breast_feeding",)


class PersonForm(forms.ModelForm):
    """Who they are. Weight and energy feed the plans; leave them empty when unknown.

    Every field says beside it what it showed, so that a form left open in another tab changes only what was typed in it.
    """

    circumstances = forms.MultipleChoiceField(
        required=False,
        choices=[pair for pair in CIRCUMSTANCES.items() if pair[0] not in _FROM_LIFE],
        widget=forms.CheckboxSelectMultiple,
    )

    #: Ticked where an energy that few adults go below is meant.
    is_little_meant = forms.BooleanField(required=False, label="So little is meant")
    #: ... and where a body weight seldom seen at that age is meant.
    is_weight_meant = forms.BooleanField(required=False, label="That weight is meant")
    ASSURANCES = ("is_little_meant", "is_weight_meant")
    #: What is asked beside the fields and kept nowhere.
    BESIDE = (*ASSURANCES, "allergy_ticks", "was_asked")

    class Meta:
        model = Person
        fields = (
            *("name", "born_on", "sex", "height_cm", "weight_kg", "energy_kcal"),
            *("life_stage", "kidney_stage", "fluid_ml", "medicines", "circumstances"),
            *("household", "allergies", "dislikes", "about"),
        )
        labels = {
            "weight_kg": "body weight, kg",
            "life_stage": "stage of life",
            "allergies": "other allergies, as a note",
            "dislikes": "will not eat",
            "about": "at the stove: who cooks, with what, how much time",
        }
        help_texts = {
            "born_on": "Below 18 no adult’s figures are drafted.",
            "sex": "Equations of energy go by it.",
            "weight_kg": "Leave empty when unknown: nothing is assumed.",
            "energy_kcal": "As prescribed, if it was.",
            "fluid_ml": "Only where the clinic limits it.",
            "medicines": "Names, with commas between. What they change at the table follows; doses are not kept.",
            "household": "People with the same word here sit at one table.",
            "allergies": "Dishes are searched for the listed allergens: tick those under Plans, “Free of”. What stands "
            "here is looked for by its name only.",
            "about": "",
        }
        widgets = {
            "about": forms.Textarea(attrs={"rows": 3}),
            "born_on": forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
        }

    #: Plans that keep out what was noted in words, ticked where it was asked; and that it was asked.
    allergy_ticks = forms.MultipleChoiceField(
        required=False,
        label="Keep out of every dish",
        choices=[(plan.key, plan.label) for plan in FREE_OF],
        widget=forms.CheckboxSelectMultiple,
    )
    was_asked = forms.BooleanField(required=False, widget=forms.HiddenInput)

    def __init__(self, *args, follows=frozenset(), **kwargs):
        super().__init__(*args, **kwargs)
        self.follows, self.asks_to_tick = follows, {}
        for name in ("allergy_ticks", "was_asked"):
            self.fields[name].widget.attrs["class"] = "form-check-input"
        for name, field in self.fields.items():
            field.show_hidden_initial = self.instance.pk is not None and (not self.is_bound or "version" in self.data)
            boxes = name in ("circumstances", "allergy_ticks", "was_asked", *self.ASSURANCES)
            selects = isinstance(field.widget, forms.Select) and not boxes
            field.widget.attrs |= {"class": "form-check-input"} if boxes else SELECT if selects else CONTROL
        for name in self.BESIDE:
            self.fields[name].show_hidden_initial = False
        self.fields["weight_kg"].widget.attrs |= {"step": "0.1", "inputmode": "decimal"}
        self.fields["energy_kcal"].widget.attrs |= {"step": "50", "inputmode": "numeric"}
        self.fields["height_cm"].widget.attrs |= {"step": "0.5", "inputmode": "decimal"}
        self.fields["fluid_ml"].widget.attrs |= {"step": "100", "inputmode": "numeric"}
        self.fields["household"].widget.attrs |= {"list": "households"}
        self.fields["medicines"].widget.attrs |= {"placeholder": "names, with commas between"}
        for name in ("sex", "life_stage", "kidney_stage"):
            self.fields[name].choices = [("", "not said"), *self.fields[name].choices[1:]]

    @property
    def changes(self):
        """Field -> what it is to be, of the fields somebody typed in."""
        return {name: self.cleaned_data[name] for name in self._changed_columns}

    @property
    def _changed_columns(self):
        return [name for name in self.changed_data if name not in self.BESIDE]

    @property
    def ticks(self):
        """Plan -> its schools, of what was ticked where it was asked."""
        return {key: {} for key in self.cleaned_data.get("allergy_ticks", ()) if key not in self.follows}

    @property
    def shown(self):
        """Field -> what the form showed there, of the same fields; nothing where it does not say."""
        if "version" not in self.data:
            return {}
        first = {name: self[name].html_initial_name for name in self._changed_columns}
        raw = {
            name: self.data.getlist(key) if name == "circumstances" else self.data.get(key)
            for name, key in first.items()
        }
        return {name: self.fields[name].to_python(value) for name, value in raw.items()}

    def against(self, now):
        """(label, what stands there now) of the fields where somebody else was quicker. The form goes on from there."""
        found = [
            (self[name].label, getattr(now, name))
            for name in self._changed_columns
            if getattr(now, name) not in (self.shown.get(name, getattr(now, name)), self.cleaned_data[name])
        ]
        data = self.data.copy()
        for name in self.Meta.fields:
            value = getattr(now, name)
            stands = value if isinstance(value, list) else ["" if value is None else str(value)]
            data.setlist(self[name].html_initial_name, stands)
            if name not in self.changed_data:
                data.setlist(name, stands)
        self.data = data
        return found

    def clean_name(self):
        name = " ".join(self.cleaned_data["name"].split())
        if not name:
            raise forms.ValidationError("Only spaces were typed. Type the name this person is known by.")
        return name

    def clean_weight_kg(self):
        weight = self.cleaned_data["weight_kg"]
        if weight is not None and not 2 <= weight <= 400:
            raise forms.ValidationError(f"{weight} kg was typed; a body weight of 2 to 400 kg is expected.")
        return weight

    def clean_energy_kcal(self):
        energy = self.cleaned_data["energy_kcal"]
        if energy is not None and not 300 <= energy <= 8000:
            raise forms.ValidationError(f"{energy} kcal was typed; 300 to 8,000 a day is expected.")
        return energy

    def clean_height_cm(self):
        height = self.cleaned_data["height_cm"]
        if height is not None and not 40 <= height <= 250:
            raise forms.ValidationError(f"{height} cm was typed; a height of 40 to 250 cm is expected.")
        return height

    def clean_fluid_ml(self):
        fluid = self.cleaned_data["fluid_ml"]
        if fluid is not None and not 200 <= fluid <= 8000:
            raise forms.ValidationError(f"{fluid} ml was typed; 200 to 8,000 ml a day is expected.")
        return fluid

    def clean_household(self):
        return " ".join(self.cleaned_data["household"].split())

    def clean_born_on(self):
        born_on = self.cleaned_data["born_on"]
        if born_on is not None and not localdate() - timedelta(days=120 * 366) <= born_on <= localdate():
            raise forms.ValidationError(f"{born_on:%B %-d, %Y} was typed; a date of birth up to today is expected.")
        return born_on

    def clean(self):
        data = super().clean()
        energy, born_on = data.get("energy_kcal"), data.get("born_on")
        age_years = None if born_on is None else Person(born_on=born_on).age_years
        if "born_on" not in self.errors:
            self._ask_about_weight(data, age_years)
        self._check_life_stage(data, age_years)
        self._ask_to_tick(data)
        is_child = age_years is not None and age_years < ADULT_YEARS
        if energy is None or is_child or "energy_kcal" in self.errors:
            return data
        if energy < LEAST_ENERGY_KCAL:
            self.add_error(
                "energy_kcal",
                f"{energy} kcal a day was typed. Below {LEAST_ENERGY_KCAL} only under medical care (very-low-calorie "
                "diets): it is not planned here. For a child, type the date of birth.",
            )
        elif energy < LITTLE_ENERGY_KCAL and not data.get("is_little_meant"):
            self.asks_whether_little_is_meant = True
            self.add_error(
                "energy_kcal", f"{energy} kcal a day is less than most adults need. Tick the box if it is meant."
            )
        return data

    def _ask_to_tick(self, data):
        """A note that names a listed allergen, or a food of one, is looked for everywhere only as a tick: asked once."""
        if "allergies" not in self.changed_data or data.get("was_asked") or "allergies" in self.errors:
            return
        keys = {plan.key for plan in FREE_OF}
        for words in noted_words(data.get("allergies", "")):
            for tag in allergens_of(words):
                key = f"free-of:{tag}"
                if key in keys and key not in self.follows:
                    self.asks_to_tick.setdefault(key, []).append(words)
        if not self.asks_to_tick:
            return
        self.data = self.data.copy()
        self.data["was_asked"] = "on"
        self.data.setlist("allergy_ticks", list(self.asks_to_tick))
        said = "; ".join(f"{PLANS[key].label.lower()}: {', '.join(words)}" for key, words in self.asks_to_tick.items())
        self.add_error(
            "allergies",
            f"Of what was typed this is on the lists ({said}). What is ticked below is kept out of every dish and looked for in every "
            "food; what is not ticked is looked for by its name only. Save again.",
        )

    def _check_life_stage(self, data, age_years):
        stage = LIFE_STAGES.get(data.get("life_stage"))
        if stage and data.get("sex") == "male":
            self.add_error("life_stage", f"“{stage}” and “male” were chosen: change one of them.")
        if stage and age_years is not None and not 10 <= age_years <= 60:
            self.add_error("life_stage", f"“{stage}” at {age_years:.0f} years was read: check the date of birth.")

    def _ask_about_weight(self, data, age_years):
        weight = data.get("weight_kg")
        if weight is None or _is_usual_weight(weight, age_years) or data.get("is_weight_meant"):
            return
        self.asks_whether_weight_is_meant = True
        advice = (
            " For an infant, type the date of birth." if age_years is None and weight < usual_weight_kg(None)[0] else ""
        )
        self.add_error("weight_kg", f"{seldom_seen(weight, age_years)}, or tick the box if it is meant.{advice}")


class MeasureForm(forms.Form):
    """A weight or a blood result with its date."""

    key = forms.ChoiceField(label="what", choices=[(key, measure.called) for key, measure in measures().items()])
    value = forms.CharField(label="value", max_length=12)
    #: Ticked where a value that looks like another unit's, or a weight seldom seen at that age, is meant as it stands.
    is_meant = forms.BooleanField(required=False, label="That is meant")
    asks_whether_meant = False
    on = forms.DateField(label="on", widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"))

    def __init__(self, *args, age_years=None, **kwargs):
        super().__init__(*args, **kwargs)
        self.age_years = age_years
        self.fields["key"].widget.attrs["class"] = "form-select"
        self.fields["value"].widget.attrs |= CONTROL | {"inputmode": "decimal"}
        self.fields["is_meant"].widget.attrs["class"] = "form-check-input"
        self.fields["on"].widget.attrs |= CONTROL
        self.fields["on"].initial = self.fields["on"].initial or localdate

    @property
    def version(self):
        return whole(self.data.get("version"), None)

    def clean_value(self):
        typed = self.cleaned_data["value"].strip()
        try:
            return float(typed.replace(",", "."))
        except ValueError:
            raise forms.ValidationError(f"“{typed}” was typed; a number is expected, as in 4.4.") from None

    def clean_on(self):
        on = self.cleaned_data["on"]
        if on > localdate():
            raise forms.ValidationError(f"{on:%B %-d, %Y} was typed; a date up to today is expected.")
        return on

    def clean(self):
        data = super().clean()
        if self.errors:
            return data
        try:
            measured = Measurement(data["key"], data["value"], data["on"])
        except Problem as problem:
            self.add_error("value", str(problem))
            return data
        if doubt := "" if data.get("is_meant") else self._doubt(measured):
            self.asks_whether_meant = True
            self.add_error("value", doubt)
        return data

    def _doubt(self, measured):
        """What is likelier meant than what was typed; empty where nothing is."""
        value, measure, other = (
            f"{measured.value:g} {measured.measure.unit}",
            measured.measure,
            measured.in_another_unit,
        )
        if other:
            said = f"{value} is {measured.side} the usual; it looks like {other.measure.unit}. Choose the unit again"
        elif measure.of == "weight" and not _is_usual_weight(measured.value, self.age_years):
            said = seldom_seen(measured.value, self.age_years)
        else:
            return ""
        return f"{said}, or tick the box if it is meant."


class VersionForm(forms.Form):
    """A form over a person. `version`: of the person as the page showed them; None where it does not say."""

    @property
    def version(self):
        return whole(self.data.get("version"), None)


class PlansForm(VersionForm):
    """Which plans, and on each question which school. One checkbox a plan, one select a school."""

    def __init__(self, *args, chosen=None, **kwargs):
        super().__init__(*args, **kwargs)
        chosen = chosen or {}
        self.groups = []
        for key, plan in PLANS.items():
            self.fields[key] = forms.BooleanField(required=False, label=plan.label, initial=key in chosen)
            self.fields[key].widget.attrs["class"] = "form-check-input"
            names = []
            for name, school in plan.schools.items():
                field = f"{key}:{name}"
                self.fields[field] = forms.ChoiceField(
                    required=False,
                    label=school.question,
                    choices=list(school.options.items()),
                    initial=chosen.get(key, {}).get(name, school.default),
                )
                self.fields[field].widget.attrs["class"] = "form-select form-select-sm"
                names.append(field)
            self.groups.append((key, plan, names))

    def _row(self, key, plan, names):
        return plan, self[key], [self[name] for name in names]

    def layout(self):
        """(heading, [(plan, its checkbox, its selects)]) for the template; the allergens come apart."""
        by_shelf = {}
        for key, plan, names in sorted(self.groups, key=lambda group: group[1].place):
            by_shelf.setdefault(plan.shelf, []).append(self._row(key, plan, names))
        by_shelf.pop(shelves.ALLERGENS, None)
        order = dict.fromkeys([*shelves.IN_ORDER, *by_shelf, shelves.OTHER])
        return [(shelf, by_shelf[shelf]) for shelf in order if shelf in by_shelf]

    def allergens(self):
        """(plan, its checkbox, its selects, the lists that name it) of every free-of plan."""
        found = []
        for key, plan, names in self.groups:
            if plan.shelf == shelves.ALLERGENS:
                kept_out = {avoid.tag for avoid in plan.avoids_of(plan.choose({}))}
                lists = " ".join(name for name, tags in LISTS.items() if kept_out & set(tags))
                found.append((*self._row(key, plan, names), lists))
        return found

    def clean(self):
        """No two plans that exclude each other: words at both."""
        data = super().clean()
        for key, plan, _ in self.groups:
            for other, why in plan.excludes.items():
                if data.get(key) and data.get(other):
                    self.add_error(key, f"Not together with {PLANS[other].label}: {why}. Untick one of them.")
        return data

    def chosen(self):
        """The same, with every setting there."""
        return {key: choose(key, schools) for key, schools in self.wanted().items()}

    def wanted(self):
        """{plan key: {school: option}} of the plans that are ticked."""
        data = self.cleaned_data
        return {
            key: {name.split(":", 1)[1]: data[name] for name in names if data[name]}
            for key, _, names in self.groups
            if data[key]
        }


class TargetForm(forms.ModelForm):
    """One limit, typed by hand."""

    nutrient = forms.ChoiceField(choices=[(n.key, f"{n.label}, {n.unit}") for n in NUTRIENTS])
    scope = forms.ChoiceField(
        label="counted",
        choices=[("day", "per day, shared over the meals"), ("meal", "per meal"), ("serving", "per serving")],
    )
    meal = forms.ChoiceField(
        label="at", required=False, choices=[("", "every meal"), *((meal, meal) for meal in MEAL_SHARES)]
    )

    class Meta:
        model = PersonTarget
        fields = ("nutrient", "minimum", "maximum", "scope", "meal", "source")
        labels = {"minimum": "at least", "maximum": "at most", "source": "Where the number comes from"}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        for name, field in self.fields.items():
            field.widget.attrs["class"] = "form-select" if name in ("nutrient", "scope", "meal") else "form-control"
        self.fields["source"].widget.attrs["placeholder"] = "Clinic letter of 3 May, the prescriber, own choice"
        for name in ("minimum", "maximum"):
            self.fields[name].widget.attrs |= {"step": "any", "inputmode": "decimal"}

    #: Ticked where a limit below what a plan asks for is meant.
    is_meant = forms.BooleanField(required=False, label="That limit is meant")
    asks_whether_meant = False

    def _ask_about_floor(self, data):
        """A ceiling below another's floor, or a floor above another's ceiling: nothing could pass both."""
        person = self.instance.person
        others = person.targets.exclude(pk=self.instance.pk).filter(
            nutrient=data.get("nutrient"), scope=data.get("scope"), meal__in=("", data.get("meal") or "")
        )
        unit = BY_KEY[data["nutrient"]].unit
        for other in others:
            for name, side, typed in (("maximum", "at least", other.minimum), ("minimum", "at most", other.maximum)):
                mine = data.get(name)
                if mine is None or typed is None or not (mine < typed if name == "maximum" else mine > typed):
                    continue
                self.asks_whether_meant = True
                self.add_error(
                    name,
                    f"{mine:g} {unit} cannot be met together with {side} {typed:g} {unit} of “{other.owner}”. "
                    "Change one of them, or tick the box if it is meant.",
                )

    def version_or(self, default):
        """The version of the target the form was drawn from."""
        return whole(self.data.get("version"), default)

    def clean(self):
        data = super().clean()
        low, high = data.get("minimum"), data.get("maximum")
        if "minimum" in self.errors or "maximum" in self.errors:
            return data
        if low is None and high is None:
            raise forms.ValidationError("No limit was typed. Fill “at least”, “at most” or both.")
        for name, value in (("minimum", low), ("maximum", high)):
            if value is not None and not 0 <= value < 1e6:
                self.add_error(name, f"{value:g} was typed; a limit of 0 or more is expected.")
        if low is not None and high is not None and low > high:
            self.add_error(
                "minimum", f"At least {low:g} is above at most {high:g}: nothing could pass. Swap or change them."
            )
        if not self.errors and not data.get("is_meant"):
            self._ask_about_floor(data)
        return data


class ConfirmForm(forms.Form):
    """Which targets are confirmed, as the page showed them."""

    @property
    def seen(self):
        """Target pk -> version; None where the page did not say."""
        pairs = [each.partition(":") for each in self.data.getlist("seen")]
        return {whole(pk): whole(version) for pk, _, version in pairs} or None

    def version_of(self, pk):
        """As the page showed one of them; None where it did not say."""
        return (self.seen or {}).get(pk)


class TallyForm(forms.ModelForm):
    """A tally of their own."""

    free = forms.CharField(required=False, max_length=400, label="free foods")
    one_free_a_day = forms.CharField(required=False, max_length=400, label="one of these a day is free")
    rounding = forms.ChoiceField(choices=list(ROUNDINGS.items()))

    class Meta:
        model = PersonTally
        fields = ("name", "formula_text", "rounding", "step", "daily", "weekly")
        labels = {"formula_text": "formula for one serving", "step": "step", "daily": "a day", "weekly": "a week"}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        for name, field in self.fields.items():
            field.widget.attrs["class"] = "form-select" if name == "rounding" else "form-control"
        self.fields["formula_text"].widget.attrs["placeholder"] = "(carbohydrate - fiber) / 12"
        self.fields["free"].widget.attrs["placeholder"] = "lettuce, cucumber"
        self.fields["one_free_a_day"].widget.attrs["placeholder"] = "apple"

    def _allowance(self, name):
        value = self.cleaned_data[name]
        if value is not None and not 0 <= value <= 100_000:
            raise forms.ValidationError(f"{value:g} was typed; an allowance of 0 or more is expected.")
        return value

    def clean_daily(self):
        return self._allowance("daily")

    def clean_weekly(self):
        return self._allowance("weekly")

    def clean_step(self):
        step = self.cleaned_data["step"]
        if step and not LEAST_STEP <= step <= 100:
            raise forms.ValidationError(
                f"{step:g} was typed; a step of 0 (no rounding), or from 0.001 to 100, is expected."
            )
        return step


class SharesForm(VersionForm):
    """How the day is shared out over the meals, in percent."""

    def shares(self):
        """Meal -> percent. Raises Problem."""
        read = {}
        for meal in MEAL_SHARES:
            typed = self.data.get(meal, "").strip().rstrip("%").replace(",", ".")
            try:
                read[meal] = float(typed)
            except ValueError:
                raise Problem("people.share_not_a_number", typed=typed, meal=meal) from None
            if not 0 <= read[meal] <= 100:
                raise Problem("people.share_out_of_range", typed=typed, meal=meal)
        return read


class RoleSharesForm(VersionForm):
    """What each part of a meal may take of it, in percent."""

    def shares(self):
        """Role -> percent. Raises Problem."""
        read = {}
        for key, role in ROLES.items():
            if key == WHOLE:
                continue
            typed = self.data.get(f"role-{key}", "").strip().rstrip("%").replace(",", ".")
            try:
                read[key] = float(typed)
            except ValueError:
                raise Problem("people.share_not_a_number", typed=typed, meal=role.label) from None
            if not 0 < read[key] <= 100:
                raise Problem("people.share_out_of_range", typed=typed, meal=role.label)
        return read


class CourseForm(VersionForm):
    """When the course of a plan began, and how long its strict phase is."""

    def course(self):
        """(first day or None, weeks). Raises Problem."""
        typed, weeks = self.data.get("started_on", "").strip(), self.data.get("strict_weeks", "4")
        try:
            return (date.fromisoformat(typed) if typed else None), int(weeks)
        except ValueError:
            raise Problem("people.course_dates", typed=typed, weeks=weeks) from None


class SettleForm(VersionForm):
    """Which plan leads on a topic; none opens it again."""

    topic = forms.CharField(required=False)
    leader = forms.CharField(required=False)
