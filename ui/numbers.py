"""Numbers as people type them, read in one place for the whole house."""

from dataclasses import dataclass
from math import isfinite

from django import forms

from nutrition.notes import Problem


@dataclass(frozen=True, slots=True)
class Asked:
    """What is asked for: its name in a sentence, its bounds, an example. `above`: the least itself is refused."""

    what: str
    most: float
    least: float = 0.0
    above: bool = False
    example: str = "12.5"


def read_number(typed, asked: Asked, *, is_needed=False):
    """A number as typed: "12,5", "12.5 g", "−3"; None when nothing was and nothing need be. Raises Problem.

    >>> read_number("12,5 g", Asked("grams", 100))
    12.5
    """
    text = (typed or "").strip().removesuffix("g").strip().replace(",", ".").replace("−", "-")
    if not text:
        if is_needed:
            raise Problem("ui.number_needed", what=asked.what, example=asked.example)
        return None
    try:
        value = float(text)
    except ValueError:
        raise Problem("ui.not_a_number", typed=text[:40], what=asked.what, example=asked.example) from None
    is_low = value <= asked.least if asked.above else value < asked.least
    if not isfinite(value) or is_low or value > asked.most:
        code = "ui.number_above" if asked.above else "ui.number_out_of_range"
        raise Problem(code, typed=text[:20], what=asked.what, least=asked.least, most=asked.most)
    return value


class TypedNumber(forms.CharField):
    """A form field for such a number; empty is None unless it is required."""

    def __init__(self, asked: Asked, **options):
        self.asked = asked
        is_needed = options.pop("required", False)
        super().__init__(required=False, **options)
        self.is_needed = is_needed

    def clean(self, value):
        try:
            return read_number(super().clean(value), self.asked, is_needed=self.is_needed)
        except Problem as problem:
            raise forms.ValidationError(str(problem)) from None


def first_error(form):
    """The first refusal of a form, in words."""
    return next(iter(form.errors.values()))[0]
