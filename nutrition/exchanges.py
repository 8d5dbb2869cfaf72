"""Portions and exchanges: neutral tallies, and tallies of the user's own, with the arithmetic shown.

A tally is a linear formula over nutrients, divided into units and rounded; foods may be free, and one
of some foods a day may be free. No scheme of anybody's is shipped.
"""

import ast
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import ceil, floor, isfinite

from .analysis import Analysis
from .nutrients import BY_KEY, INDEX, KEYS
from .plans.common import CARBOHYDRATE_KEYS
from .recipe import Line

ROUNDINGS = {"nearest": "to the nearest", "up": "up", "down": "down"}
#: 10 mmol sodium and 4 mmol potassium: neutral sizes in common clinical use (common practice).
SODIUM_PORTION_MG, POTASSIUM_PORTION_MG = 230.0, 156.0
PHENYLALANINE_MG_PER_EXCHANGE = 50.0


class TallyProblem(ValueError):
    """A tally that cannot be; the sentence says what was read and what to do."""


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

    def __post_init__(self):
        if not self.formula:
            raise TallyProblem("The formula names no nutrient. Write one, as in carbohydrate_g / 15.")
        if self.rounding not in ROUNDINGS:
            raise TallyProblem(f"rounding {self.rounding!r} was read; one of {', '.join(ROUNDINGS)} is expected")
        if not 0 <= self.step <= 100:
            raise TallyProblem(f"a rounding step of {self.step:g} was read; 0 (none) to 100 is expected")
        for name, allowance in (("a day", self.daily), ("a week", self.weekly)):
            if allowance is not None and not 0 <= allowance <= 100_000:
                raise TallyProblem(f"{allowance:g} {name} was read; an allowance of 0 or more is expected")


@dataclass(frozen=True, slots=True)
class Count:
    """A tally of one serving: exact units, bounds, the rounded figure, and the sum in words.

    `is_settled` is False when what is unknown could change the rounded figure.
    """

    tally: Tally
    exact: float
    least: float
    most: float
    units: float
    arithmetic: str
    free_lines: tuple[int, ...]
    unknown_lines: tuple[int, ...]

    @property
    def is_settled(self) -> bool:
        return isfinite(self.most) and rounded(self.least, self.tally) == rounded(self.most, self.tally)

    @property
    def most_units(self) -> float:
        return rounded(self.most, self.tally) if isfinite(self.most) else float("inf")


def rounded(amount: float, tally: Tally) -> float:
    """Halves round up. A step of 0 leaves the figure as it is.

    >>> rounded(3.25, Tally("t", "t", {"protein_g": 1}, step=0.5))
    3.5
    """
    if not tally.step:
        return amount
    steps = amount / tally.step
    whole = {"nearest": floor(steps + 0.5 + 1e-9), "up": ceil(steps - 1e-9), "down": floor(steps + 1e-9)}
    return whole[tally.rounding] * tally.step


def count(tally: Tally, lines: Sequence[Line], analysis: Analysis) -> Count:
    """The tally of one serving, free foods left out."""
    factors = {INDEX[key]: factor for key, factor in tally.formula.items()}
    per_line = sum(analysis.by_line[:, column] * factor for column, factor in factors.items())
    free = [i for i, line in enumerate(lines) if line.food_id in tally.free_foods]
    once = [i for i, line in enumerate(lines) if line.food_id in tally.one_free and i not in free]
    if once:
        free.append(max(once, key=lambda i: per_line[i]))
    freed = {column: float(analysis.by_line[free, column].sum()) for column in factors} if free else {}
    exact = least = most = 0.0
    parts = []
    for key, factor in tally.formula.items():
        column = INDEX[key]
        amount = analysis.amount(key) - freed.get(column, 0.0)
        low, high = (max(side - freed.get(column, 0.0), 0.0) for side in analysis.interval(key))
        exact += factor * amount
        least += min(factor * low, factor * high) if factor < 0 else factor * low
        most += max(factor * low, factor * high) if factor > 0 else factor * low
        parts.append(f"{amount:,.4g} {BY_KEY[key].unit} {_label(key)} {_times(factor)}")
    exact, least, most = max(exact, 0.0), max(least, 0.0), max(most, 0.0)
    units = rounded(exact, tally)
    how = f", rounded {ROUNDINGS[tally.rounding]} {tally.step:g}" if tally.step else ""
    arithmetic = f"{' + '.join(parts)} = {exact:,.3g}{how}"
    if free:
        names = ", ".join((lines[i].description or lines[i].text) for i in sorted(free))
        arithmetic += f"; free: {names}"
    unknown = sorted({i for key in tally.formula for i in analysis.unknown_lines(key)} - set(free))
    return Count(tally, exact, least, most, units, arithmetic, tuple(sorted(free)), tuple(unknown))


def _label(key: str) -> str:
    return BY_KEY[key].label.lower()


def _times(factor: float) -> str:
    inverse = 1 / factor if factor else 0
    if 1 < abs(inverse) < 1e6 and abs(inverse - round(inverse)) < 1e-6:
        return f"÷ {inverse:g}"
    return f"× {factor:g}"


def carbohydrate_portions(size_g: float = 15.0, counted: str = "total") -> Tally:
    """Portions of 15 g (US) or 10 g (UK), rounded to a half (common practice)."""
    return Tally(
        "carbohydrate_portions", f"Carbohydrate portions of {size_g:g} g", {CARBOHYDRATE_KEYS[counted]: 1 / size_g},
        source="common practice: 15 g (US) or 10 g (UK) a portion, rounded to a half",
    )  # fmt: skip


PROTEIN_EXCHANGES = Tally(
    "protein_exchanges", "Protein exchanges", {"protein_g": 1.0}, step=0.5,
    source="UK practice: 1 exchange = 1 g protein",
)  # fmt: skip
PHENYLALANINE_EXCHANGES = Tally(
    "phenylalanine_exchanges", "Phenylalanine exchanges, estimated", {"phenylalanine_mg": 1 / PHENYLALANINE_MG_PER_EXCHANGE},
    source="UK practice: 1 exchange = 50 mg phenylalanine; 50 mg a gram of protein, range 27 to 55",
)  # fmt: skip
POTASSIUM_PORTIONS = Tally(
    "potassium_portions", "Potassium portions of 4 mmol", {"potassium_mg": 1 / POTASSIUM_PORTION_MG},
    source="common practice: 4 mmol, 156 mg",
)  # fmt: skip
SODIUM_PORTIONS = Tally(
    "sodium_portions", "Sodium portions of 10 mmol", {"sodium_mg": 1 / SODIUM_PORTION_MG},
    source="common practice: 10 mmol, 230 mg, a tenth of 2,300 mg",
)  # fmt: skip


def neutral(plans: Mapping[str, Mapping[str, str]] | None = None) -> list[Tally]:
    """The tallies that ship, those of `plans` (key -> settings) only when given."""
    everything = [
        carbohydrate_portions(), PROTEIN_EXCHANGES, PHENYLALANINE_EXCHANGES, POTASSIUM_PORTIONS, SODIUM_PORTIONS
    ]  # fmt: skip
    if plans is None:
        return everything
    found = {}
    for key, schools in plans.items():
        if key in ("diabetes", "low-carb", "very-low-carb"):
            size, counted = float(schools.get("portion", 15)), schools.get("count", "total")
            found.setdefault("carbohydrate_portions", carbohydrate_portions(size, counted))
        if key == "low-protein":
            limit = schools.get("exchanges", "not-set")
            daily = float(limit) if limit != "not-set" else None
            found["protein_exchanges"] = replace(PROTEIN_EXCHANGES, daily=daily)
            found["phenylalanine_exchanges"] = PHENYLALANINE_EXCHANGES
        if key.startswith("kidney"):
            found["potassium_portions"] = POTASSIUM_PORTIONS
        if key.startswith("kidney") or key in ("low-sodium", "heart"):
            found["sodium_portions"] = SODIUM_PORTIONS
    return list(found.values())


_NAMES = {key: key for key in KEYS} | {key.rsplit("_", 1)[0]: key for key in KEYS}


def read_formula(text: str) -> dict[str, float]:
    """A linear formula over nutrients as typed: "carbohydrate_g / 15", "protein + 0.5 * fat".

    Names are nutrient keys with or without their unit. Raises TallyProblem for anything else.

    >>> read_formula("2 * (protein_g - fat) / 10")
    {'protein_g': 0.2, 'fat_g': -0.2}
    """
    if not text.strip():
        raise TallyProblem("No formula was typed. Write one over nutrients, as in carbohydrate_g / 15.")
    if len(text) > 300:
        raise TallyProblem(f"A formula of {len(text)} characters was typed; at most 300 are expected.")
    try:
        tree = ast.parse(text.replace("×", "*").replace("÷", "/").replace("−", "-").strip(), mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        raise TallyProblem(
            f"“{text}” was not understood. Write sums and products, as in carbohydrate_g / 15."
        ) from None
    terms = _linear(tree.body, text)
    constant = terms.pop("", 0.0)
    if constant:
        raise TallyProblem(f"“{text}” adds {constant:g} on its own. Every term needs a nutrient.")
    terms = {key: factor for key, factor in terms.items() if factor}
    if not terms:
        raise TallyProblem(f"“{text}” names no nutrient. Use names such as carbohydrate_g, protein_g, energy_kcal.")
    if any(not isfinite(factor) or abs(factor) > 1e6 for factor in terms.values()):
        raise TallyProblem(f"“{text}” comes to a factor that cannot be. Check the divisions.")
    return terms


def _linear(node: ast.expr, text: str) -> dict[str, float]:
    """Terms of an expression: nutrient -> factor, "" for the constant."""
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool):
        return {"": float(node.value)}
    if isinstance(node, ast.Name):
        if node.id not in _NAMES:
            raise TallyProblem(
                f"“{node.id}” is not a nutrient here. Use names such as carbohydrate_g, protein_g, fat_g."
            )
        return {_NAMES[node.id]: 1.0}
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub | ast.UAdd):
        sign = -1.0 if isinstance(node.op, ast.USub) else 1.0
        return {key: sign * factor for key, factor in _linear(node.operand, text).items()}
    if isinstance(node, ast.BinOp) and isinstance(node.op, ast.Add | ast.Sub | ast.Mult | ast.Div):
        return _combined(node, text)
    raise TallyProblem(f"“{text}” holds something other than numbers, nutrients, + − × ÷ and brackets.")


def _combined(node: ast.BinOp, text: str) -> dict[str, float]:
    left, right = _linear(node.left, text), _linear(node.right, text)
    if isinstance(node.op, ast.Add | ast.Sub):
        sign = 1.0 if isinstance(node.op, ast.Add) else -1.0
        return {key: left.get(key, 0.0) + sign * right.get(key, 0.0) for key in left | right}
    if isinstance(node.op, ast.Mult) and set(left) <= {""}:
        left, right = right, left
    if set(right) - {""}:
        raise TallyProblem(f"“{text}” multiplies or divides by a nutrient; only numbers may stand there.")
    number = right.get("", 0.0)
    if isinstance(node.op, ast.Div):
        if not number:
            raise TallyProblem(f"“{text}” divides by zero. Put a number above zero there.")
        number = 1 / number
    return {key: factor * number for key, factor in left.items()}
