"""What the pantry's forms send: a swap rule of the practice's own, a label as printed."""

from django import forms
from django.utils.http import url_has_allowed_host_and_scheme

from nutrition.food.label import US, Label, fields, grams_of_serving
from nutrition.food.sentences import field_name
from nutrition.food.table import foods, the_table
from nutrition.notes import Problem
from ui.numbers import Asked, read_number

from .models import SwapRule


class SwapRuleForm(forms.ModelForm):
    """What is replaced, by what, in which ratio. The core reads it before it is kept."""

    class Meta:
        model = SwapRule
        fields = ("replaces", "job", "to", "household", "do_differently", "source")

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        for name, field in self.fields.items():
            field.widget.attrs["class"] = "form-select" if name == "job" else "form-control"
        hints = {
            "replaces": "unsalted butter", "to": "pumpkin * 0.8 + olive oil * 0.1, or @less 0.5",
            "household": "½ cup → ⅓ cup", "do_differently": "Bake ten minutes longer", "source": "our own tests, March",
        }  # fmt: skip
        for name, hint in hints.items():
            self.fields[name].widget.attrs["placeholder"] = hint

    def clean(self):
        data = super().clean()
        if not self.errors:
            try:
                SwapRule(**data).as_rule()
            except Problem as problem:
                raise forms.ValidationError(str(problem)) from None
        return data


class LabelForm(forms.Form):
    """A label as printed, in one of its two forms. After `is_valid`, `label` is what the core read."""

    name = forms.CharField(max_length=120, required=False)
    serving = forms.CharField(max_length=60, required=False)
    ingredients = forms.CharField(max_length=4000, required=False)
    may_contain = forms.CharField(max_length=400, required=False)
    words = forms.CharField(max_length=200, required=False)
    found_in = forms.CharField(max_length=200, required=False)

    def __init__(self, data, *, is_posted=True):
        super().__init__(data)
        self.is_bound = is_posted  # a form opened with some of it filled in has no mistakes yet
        self.form_of_label = data.get("form") if fields(data.get("form", "")) else US
        self.stands_for = data.get("food_id") or data.get("stands_for", "")
        self.is_looked_at = bool(data.get("looked_at"))
        self.label = None

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
        return [] if self.label is None or self.is_looked_at else list(self.label.questions)

    def clean(self):
        data, printed = super().clean(), {}
        if not data.get("name", "").strip():
            self.add_error("name", "What is it called? Type maker and name, as in Millbrook tomato sauce.")
        for key in fields(self.form_of_label):
            self.fields[key] = forms.CharField(required=False)
            try:
                figure = read_number(self.data.get(key, "").removesuffix("mg"), Asked(field_name(key), 99_999))
                if figure is not None:
                    printed[key] = figure
            except Problem as problem:
                self.add_error(key, str(problem))
        if not self.errors:
            self._read(data, printed)
        return data

    def _read(self, data, printed):
        stands_for = self.stands_for if self.usual else ""
        try:
            self.label = Label(
                data["name"].strip(),
                self.form_of_label,
                grams_of_serving(data["serving"]),
                printed,
                data["ingredients"].strip(),
                data["may_contain"].strip(),
                stands_for,
            )
        except Problem as problem:
            field = dict(problem.note.values).get("field", "")
            self.add_error("serving" if field == "per_g" else field if field in self.fields else None, str(problem))
