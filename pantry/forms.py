"""A swap rule of the practice's own."""

from django import forms

from nutrition.notes import Problem

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
