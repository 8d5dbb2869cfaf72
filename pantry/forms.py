"""What the pantry's forms send: a swap rule of the practice's own, a label as printed."""

from django import forms
from django.utils.http import url_has_allowed_host_and_scheme

from nutrition.food.label import BASES, US, Label, fields, grams_of_serving, is_by_volume
from nutrition.food.label import forms as label_forms
from nutrition.food.label_forms import figure_of
from nutrition.food.measures import grams_per_ml
from nutrition.food.table import foods, the_table
from nutrition.notes import Problem
from nutrition.sheet.label_claims import label_questions
from nutrition.swaps.jobs import JOBS
from nutrition.swaps.rules import OWN_CLOSENESS
from ui.numbers import Asked, TypedNumber

from .models import NEAR, SwapRule


class SwapRuleForm(forms.Form):
    """A swap of the practice's own, field by field. After `is_valid`, `rule` is what would be kept."""

    SWAP, LESS, MORE, DROP = "swap", "less", "more", "drop"
    #: How many foods may take over together.
    FOODS = (1, 2, 3)

    replaces = forms.CharField(label="in place of", max_length=120)
    how = forms.ChoiceField(
        label="is taken",
        choices=[(SWAP, "another food"), (LESS, "less of it"), (MORE, "more of it"), (DROP, "nothing: it is left out")],
    )
    keeps = TypedNumber(Asked("grams that stay", 99, least=1), label="of 100 g stay, in grams")
    percent = TypedNumber(Asked("percent", 500, least=1, example="50"), label="how much of it, in percent")
    job = forms.ChoiceField(label="its job", choices=list(JOBS.items()))
    closeness = forms.TypedChoiceField(
        label="how near the dish stays", choices=NEAR, coerce=float, initial=OWN_CLOSENESS
    )
    household = forms.CharField(label="as a cook measures it", max_length=120, required=False)
    do_differently = forms.CharField(label="what to do differently", max_length=200, required=False)
    source = forms.CharField(label="where it is from", max_length=200)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        for n in self.FOODS:
            self.fields[f"food{n}"] = forms.CharField(label="comes in", max_length=120, required=False)
            self.fields[f"grams{n}"] = TypedNumber(
                Asked("grams", 5000, above=True, example="80"), label="grams for 100 g"
            )
        self.rule = None
        hints = {
            "replaces": "unsalted butter", "food1": "pumpkin", "grams1": "80", "food2": "olive oil", "grams2": "10",
            "household": "½ cup → ⅓ cup", "do_differently": "Bake ten minutes longer", "source": "our own tests, March",
        }  # fmt: skip
        for name, field in self.fields.items():
            field.widget.attrs["class"] = "form-select" if isinstance(field, forms.ChoiceField) else "form-control"
            field.widget.attrs["placeholder"] = hints.get(name, "")
            field.widget.attrs["autocomplete"] = "off"

    @property
    def foods(self):
        """(food field, grams field) of each food that may come in."""
        return [(self[f"food{n}"], self[f"grams{n}"]) for n in self.FOODS]

    def clean(self):
        data = super().clean()
        if not self.errors:
            to = self._to(data)
            if not self.errors:
                kept = ("replaces", "job", "household", "do_differently", "closeness", "source")
                rule = SwapRule(to=to, **{name: data[name] for name in kept})
                try:
                    rule.as_rule()
                except Problem as problem:
                    raise forms.ValidationError(str(problem)) from None
                self.rule = rule
        return data

    def _to(self, data):
        """What takes over, as the core keeps it."""
        if data["how"] == self.DROP:
            return "@drop"
        if data["how"] in (self.LESS, self.MORE):
            if not data.get("percent"):
                self.add_error("percent", "How much of it? 50 is half of it, 150 half as much again.")
            return f"@{data['how']} {(data.get('percent') or 0) / 100:g}"
        parts = [f"@keep {data['keeps'] / 100:g}"] if data.get("keeps") else []
        for n in self.FOODS:
            food, grams = data.get(f"food{n}"), data.get(f"grams{n}")
            if food and not grams:
                self.add_error(f"grams{n}", f"How many grams of {food} for 100 g of {data['replaces']}?")
            elif grams and not food:
                self.add_error(f"food{n}", f"{grams:g} g of which food?")
            elif food:
                parts.append(f"{food.replace(' + ', ' and ').replace(' * ', ' ')} * {grams / 100:g}")
        if not any(data.get(f"food{n}") for n in self.FOODS):
            self.add_error("food1", "Which food takes over? Type a name and choose.")
        return " + ".join(parts)


class LabelForm(forms.Form):
    """A label as printed, in one of its forms. After `is_valid`, `label` is what the core read.

    `kept`: the label that is corrected, whose food cannot ask after itself.
    """

    name = forms.CharField(max_length=120, required=False)
    serving = forms.CharField(max_length=60, required=False)
    basis = forms.ChoiceField(choices=[("", ""), *((each, each) for each in BASES)], required=False)
    g_per_100_ml = TypedNumber(Asked("what 100 ml weigh", 200, least=30, example="103"))
    ingredients = forms.CharField(max_length=4000, required=False)
    may_contain = forms.CharField(max_length=400, required=False)
    words = forms.CharField(max_length=200, required=False)
    found_in = forms.CharField(max_length=200, required=False)

    def __init__(self, data, *, is_posted=True):
        super().__init__(data)
        self.is_bound = is_posted  # a form opened with some of it filled in has no mistakes yet
        self.form_of_label = data.get("form") if data.get("form") in label_forms() else US
        self.stands_for = data.get("food_id") or data.get("stands_for", "")
        self.is_looked_at = bool(data.get("looked_at"))
        self.label = None

    @property
    def starts_at(self):
        """The field to begin in: the first that is wrong."""
        return next((name for name in ("name", "serving") if name in self.errors), "" if self.errors else "name")

    @property
    def example_serving(self):
        return label_forms()[self.form_of_label].serving

    @property
    def bases(self):
        """What the figures may be of, as a choice."""
        return [("", "nothing is said: as sold"), *((each, each) for each in BASES)]

    @property
    def is_by_volume(self):
        """Whether what 100 ml weigh is asked."""
        return is_by_volume(self.data.get("serving", "")) or bool(self.data.get("g_per_100_ml"))

    @property
    def back(self):
        """The page of ours it came from; empty for none."""
        page = self.data.get("back", "")
        return page if page.startswith("/") and url_has_allowed_host_and_scheme(page, None) else ""

    @property
    def rows(self):
        """The figures in the order of the form: (field, name, unit, whether a part, what was typed, what is wrong)."""
        return [
            (each.key, each.name, each.unit, each.is_part, self.data.get(each.key, ""), self._wrong_at(each.key))
            for each in fields(self.form_of_label).values()
        ]

    def _wrong_at(self, key):
        return self.errors.get(key, [""])[0]

    @property
    def usual(self):
        """The food of the table it stands for; None where none was said."""
        return foods().by_id(self.stands_for) if the_table().has_id(self.stands_for) else None

    @property
    def questions(self):
        """What is worth a second look, unless somebody has looked again."""
        return [] if self.label is None or self.is_looked_at else list(label_questions(self.label))

    def clean(self):
        data, printed = super().clean(), {}
        if not data.get("name", "").strip():
            self.add_error("name", "What is it called? Type maker and name, as in Millbrook tomato sauce.")
        for key, field in fields(self.form_of_label).items():
            self.fields[key] = forms.CharField(required=False)
            typed = self.data.get(key, "").strip()
            try:
                if typed:
                    printed[key] = figure_of(typed, field)
            except Problem as problem:
                self.add_error(key, str(problem))
        if not self.errors:
            self._read(data, printed)
        return data

    def _read(self, data, printed):
        try:
            self.label = Label(
                data["name"].strip(),
                self.form_of_label,
                self._grams(data),
                printed,
                data["ingredients"].strip(),
                data["may_contain"].strip(),
                self.stands_for if self.usual else "",
                serving=data["serving"].strip(),
                basis=data["basis"],
            )
        except Problem as problem:
            field = dict(problem.note.values).get("field", "")
            self.add_error("serving" if field == "per_g" else field if field in self.fields else None, str(problem))

    def _grams(self, data):
        """What the figures are for, in grams; a volume by what was said of it, or by the food it stands for. Raises Problem."""
        typed, g_per_ml = data["serving"], (data.get("g_per_100_ml") or 0) / 100
        if is_by_volume(typed) and not g_per_ml:
            known = grams_per_ml(self.usual) if self.usual else None
            if not known:
                raise Problem("food.label_density", field="g_per_100_ml")
            g_per_ml = known[0]
        return grams_of_serving(typed, g_per_ml or 1.0, label_forms()[self.form_of_label].floz_ml)


def filled(kept):
    """What the form shows of a label that is kept."""
    typed = {
        name: value for name, value in kept.as_typed.items() if name not in ("printed", "per_g") and value is not None
    }
    figures = {key: figure if isinstance(figure, str) else f"{figure:g}" for key, figure in kept.printed.items()}
    return typed | figures
