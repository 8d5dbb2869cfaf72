"""The forms labels are printed in, field by field, and figures as they are printed: "12", "<1", "trace".

tables/label_forms.tsv and tables/label_fields.tsv.
"""

import functools
import math
import re
from dataclasses import dataclass

from nutrition.notes import Problem
from nutrition.tables import read_table

US, EU, AU, IN = "us", "eu", "au", "in"
#: Where the fiber stands: inside the printed carbohydrate, outside of it, or left to the maker.
INSIDE, OUTSIDE, OPEN = "inside", "outside", "open"


@dataclass(frozen=True, slots=True)
class Form:
    """One row of label_forms.tsv. `law`: whose claims count; `rounding`: grams parts may be above their whole."""

    key: str
    name: str
    fiber: str
    rounding: float
    law: str
    serving: str
    floz_ml: float


@functools.cache
def forms() -> dict[str, Form]:
    """The forms by their key, in the order they are offered."""
    return {
        row["form"]: Form(
            row.text("form"),
            row.text("name"),
            row.one_of("fiber", (INSIDE, OUTSIDE, OPEN)),
            row.number("rounding"),
            row.one_of("law", ("us", "eu")),
            row.text("serving"),
            row.number("floz_ml"),
        )
        for row in read_table("label_forms.tsv")
    }


@dataclass(frozen=True, slots=True)
class Field:
    """One row of label_fields.tsv. `steps`: (up to, step); `zero_hides`: the most behind a printed 0; `most`: in 100 g."""

    key: str
    name: str
    is_part: bool
    is_needed: bool
    steps: tuple[tuple[float, float], ...]
    zero_hides: float
    most: float

    @property
    def unit(self) -> str:
        return self.key.rpartition("_")[2].replace("kj", "kJ") if "_" in self.key else ""

    def step_at(self, figure: float) -> float:
        """The step a figure of this size is printed in.

        >>> sodium, salt = fields(US)["sodium_mg"], fields(EU)["salt_g"]
        >>> sodium.step_at(135), sodium.step_at(480), salt.step_at(0.4)
        (5.0, 10.0, 0.01)
        """
        return next(step for up_to, step in self.steps if figure < up_to)

    def span(self, figure: float) -> tuple[float, float, float]:
        """Least, likely and most behind a printed figure.

        >>> fields(US)["fiber_g"].span(Below(1)), fields(US)["fiber_g"].span(3)
        ((0.0, 0.5, 1.0), (2.5, 3, 3.5))
        """
        if isinstance(figure, Below):
            return 0.0, figure / 2, float(figure)
        half = self.step_at(figure) / 2
        return (max(figure - half, 0.0), figure, figure + half) if figure else (0.0, 0.0, self.zero_hides)


def _steps(typed: str) -> tuple[tuple[float, float], ...]:
    *below, last = typed.split()
    pairs = [(float(up_to), float(step)) for up_to, step in (each.split(":") for each in below)]
    return (*pairs, (math.inf, float(last)))


@functools.cache
def fields(form: str) -> dict[str, Field]:
    """The fields of a form of label in the order they are printed; empty for a form that is none."""
    return {
        row["field"]: Field(
            row.text("field"),
            row["name"],
            row.yes("part"),
            row.yes("needed"),
            row.as_("steps", _steps, "up to:step, and at last a step"),
            row.number("zero_hides"),
            row.number("most"),
        )
        for row in read_table("label_fields.tsv")
        if row["form"] == form
    }


class Below(float):
    """A figure printed as "less than": between nothing and this."""

    def __str__(self) -> str:
        return f"<{float(self):g}"


_LESS = re.compile(r"(?:<|≤|less than|under|below|up to)\s*(?=\d)", re.I)
_TRACE = re.compile(r"(?:traces?|tr\.?|negligible)", re.I)


def figure_of(printed: str, field: Field) -> float:
    """A figure as it is printed. Raises Problem for what is none.

    >>> figure_of("<0,5 g", fields(EU)["fiber_g"]), figure_of("trace", fields(EU)["fiber_g"]), figure_of("1,250 mg", fields(US)["sodium_mg"])
    (0.5, 0.5, 1250.0)
    """
    text = printed.strip().lower()
    if _TRACE.fullmatch(text):
        return Below(field.zero_hides)
    less = _LESS.match(text)
    text = (text[less.end() :] if less else text).removesuffix(field.unit.lower()).removesuffix("mg").strip()
    text = (
        re.sub(r"(?<=\d),(?=\d{3}$)", "", text.removesuffix("g").strip())
        if field.step_at(0) >= 1
        else text.removesuffix("g").strip()
    )
    try:
        figure = float(text.replace(",", ".").replace("−", "-"))
    except ValueError:
        raise Problem("food.label_figure", field=field.key, printed=printed.strip()[:40]) from None
    if figure < 0:
        raise Problem("food.label_negative", field=field.key, printed=printed.strip()[:40])
    if not math.isfinite(figure) or figure > 99_999:
        raise Problem("food.label_figure", field=field.key, printed=printed.strip()[:40])
    return Below(figure) if less and figure > 0 else figure


def as_kept(printed: dict[str, float]) -> dict[str, float | str]:
    """Figures as JSON keeps them: "<1" stays "less than"."""
    return {key: str(figure) if isinstance(figure, Below) else figure for key, figure in printed.items()}


def from_kept(kept: dict[str, float | str]) -> dict[str, float]:
    """The figures that were kept."""
    return {
        key: Below(float(figure.removeprefix("<"))) if isinstance(figure, str) else figure
        for key, figure in kept.items()
    }
