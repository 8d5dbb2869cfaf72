"""Portions and exchanges: neutral tallies, and tallies of the user's own, with the arithmetic shown.

A tally is a linear formula over nutrients, divided into units and rounded; foods may be free, and one
of some foods a day may be free. No scheme of anybody's is shipped.
"""

import ast
from collections.abc import Mapping
from dataclasses import dataclass, field
from math import ceil, floor, inf, isfinite

from nutrition.food.nutrients import KEYS
from nutrition.notes import Problem

#: The finest step anything is rounded to; below it nothing is rounded.
LEAST_STEP = 0.001
ROUNDINGS = {"nearest": "to the nearest", "up": "up", "down": "down"}
#: Which carbohydrate counts -> the nutrient that says it.
CARBOHYDRATE_KEYS = {
    "total": "carbohydrate_g",
    "less-fiber": "available_carbohydrate_g",
    "net": "net_carbohydrate_g",
}
#: 10 mmol sodium and 4 mmol potassium: neutral sizes in common clinical use (common practice).
SODIUM_PORTION_MG, POTASSIUM_PORTION_MG = 230.0, 156.0
PHENYLALANINE_MG_PER_EXCHANGE = 50.0


@dataclass(frozen=True, slots=True)
class Tally:
    """How to count. `formula`: nutrient -> units per its own unit; `step`: rounding step, 0 for none.

    `free_foods`: food ids that never count; `one_free`: food ids of which the largest line a day is free.
    `daily`, `weekly`: allowances in units, or None.
    """

    key: str
    label: str
    formula: Mapping[str, float]
    step: float = 0.5
    rounding: str = "nearest"
    free_foods: frozenset[str] = frozenset()
    one_free: frozenset[str] = frozenset()
    daily: float | None = None
    weekly: float | None = None
    source: str = ""
    words: str = field(default="")

    def __post_init__(self) -> None:
        if not self.formula:
            raise Problem("limits.formula_empty")
        if self.rounding not in ROUNDINGS:
            raise Problem("limits.rounding_unknown", rounding=self.rounding, names=", ".join(ROUNDINGS))
        if not 0 <= self.step <= 100:
            raise Problem("limits.step_out_of_range", step=self.step)
        for name, allowance in (("a day", self.daily), ("a week", self.weekly)):
            if allowance is not None and not 0 <= allowance <= 100_000:
                raise Problem("limits.allowance_out_of_range", allowance=allowance, name=name)


def rounded(amount: float, tally: Tally) -> float:
    """Halves round up. A step of 0, or one finer than LEAST_STEP, leaves the figure as it is.

    >>> rounded(3.25, Tally("t", "t", {"protein_g": 1}, step=0.5))
    3.5
    """
    if tally.step < LEAST_STEP:
        return amount
    steps = amount / tally.step
    whole = {"nearest": floor(steps + 0.5 + 1e-9), "up": ceil(steps - 1e-9), "down": floor(steps + 1e-9)}
    return whole[tally.rounding] * tally.step


def carbohydrate_portions(size_g: float = 15.0, counted: str = "total") -> Tally:
    """Portions of 15 g (US) or 10 g (UK), rounded to a half (common practice)."""
    return Tally(
        "carbohydrate_portions",
        f"Carbohydrate portions of {size_g:g} g",
        {CARBOHYDRATE_KEYS[counted]: 1 / size_g},
        source="common practice: 15 g (US) or 10 g (UK) a portion, rounded to a half",
    )


PROTEIN_EXCHANGES = Tally(
    "protein_exchanges",
    "Protein exchanges",
    {"protein_g": 1.0},
    step=0.5,
    source="UK practice: 1 exchange = 1 g protein",
)


PHENYLALANINE_EXCHANGES = Tally(
    "phenylalanine_exchanges",
    "Phenylalanine exchanges, estimated",
    {"phenylalanine_mg": 1 / PHENYLALANINE_MG_PER_EXCHANGE},
    source="UK practice: 1 exchange = 50 mg phenylalanine; by food group, 30 to 50 mg a gram of protein",
)


POTASSIUM_PORTIONS = Tally(
    "potassium_portions",
    "Potassium portions of 4 mmol",
    {"potassium_mg": 1 / POTASSIUM_PORTION_MG},
    source="common practice: 4 mmol, 156 mg",
)


SODIUM_PORTIONS = Tally(
    "sodium_portions",
    "Sodium portions of 10 mmol",
    {"sodium_mg": 1 / SODIUM_PORTION_MG},
    source="common practice: 10 mmol, 230 mg, a tenth of 2,300 mg",
)


def carbohydrate_counted(settings: Mapping[str, str]) -> str:
    """What of the carbohydrate counts by a plan's settings; on EU and UK labels the total leaves the fiber out.

    >>> carbohydrate_counted({"count": "total", "label": "eu"}), carbohydrate_counted({"count": "net", "label": "eu"})
    ('less-fiber', 'net')
    """
    counted = settings.get("count", "total")
    return "less-fiber" if (counted, settings.get("label")) == ("total", "eu") else counted


def carbohydrate_tallies(settings: Mapping[str, str]) -> list[Tally]:
    """Carbohydrate portions by a plan's settings: `portion` in grams, what counts by carbohydrate_counted."""
    return [carbohydrate_portions(float(settings.get("portion", 15)), carbohydrate_counted(settings))]


def sodium_tallies(settings: Mapping[str, str]) -> list[Tally]:
    return [SODIUM_PORTIONS]


def neutral() -> list[Tally]:
    """The tallies that ship."""
    return [carbohydrate_portions(), PROTEIN_EXCHANGES, PHENYLALANINE_EXCHANGES, POTASSIUM_PORTIONS, SODIUM_PORTIONS]


_NAMES = {key: key for key in KEYS} | {key.rsplit("_", 1)[0]: key for key in KEYS}


def read_formula(text: str) -> dict[str, float]:
    """A linear formula over nutrients as typed: "carbohydrate_g / 15", "protein + 0.5 * fat".

    Names are nutrient keys with or without their unit. Raises Problem for anything else.

    >>> read_formula("2 * (protein_g - fat) / 10")
    {'protein_g': 0.2, 'fat_g': -0.2}
    """
    if not text.strip():
        raise Problem("limits.no_formula_typed")
    if len(text) > 300:
        raise Problem("limits.formula_too_long", count=len(text))
    try:
        tree = ast.parse(text.replace("×", "*").replace("÷", "/").replace("−", "-").strip(), mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        raise Problem("limits.formula_unclear", text=text) from None
    terms = _linear(tree.body, text)
    constant = terms.pop("", 0.0)
    if constant:
        raise Problem("limits.formula_adds_a_number", text=text, constant=constant)
    terms = {key: factor for key, factor in terms.items() if factor}
    if not terms:
        raise Problem("limits.formula_names_nothing", text=text)
    if any(not isfinite(factor) or not 1e-9 <= abs(factor) <= 1e6 for factor in terms.values()):
        raise Problem("limits.formula_factor", text=text)
    return terms


def _linear(node: ast.expr, text: str) -> dict[str, float]:
    """Terms of an expression: nutrient -> factor, "" for the constant."""
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool):
        return {"": float(node.value) if abs(node.value) < 1e300 else inf}
    if isinstance(node, ast.Name):
        if node.id not in _NAMES:
            raise Problem("limits.not_a_nutrient", id=node.id)
        return {_NAMES[node.id]: 1.0}
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub | ast.UAdd):
        sign = -1.0 if isinstance(node.op, ast.USub) else 1.0
        return {key: sign * factor for key, factor in _linear(node.operand, text).items()}
    if isinstance(node, ast.BinOp) and isinstance(node.op, ast.Add | ast.Sub | ast.Mult | ast.Div):
        return _combined(node, text)
    raise Problem("limits.formula_holds_else", text=text)


def _combined(node: ast.BinOp, text: str) -> dict[str, float]:
    left, right = _linear(node.left, text), _linear(node.right, text)
    if isinstance(node.op, ast.Add | ast.Sub):
        sign = 1.0 if isinstance(node.op, ast.Add) else -1.0
        return {key: left.get(key, 0.0) + sign * right.get(key, 0.0) for key in left | right}
    if isinstance(node.op, ast.Mult) and set(left) <= {""}:
        left, right = right, left
    if set(right) - {""}:
        raise Problem("limits.formula_multiplies", text=text)
    number = right.get("", 0.0)
    if isinstance(node.op, ast.Div):
        if not number:
            raise Problem("limits.formula_divides_by_zero", text=text)
        number = 1 / number
    return {key: factor * number for key, factor in left.items()}
