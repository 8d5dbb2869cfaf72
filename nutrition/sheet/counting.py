"""A tally counted for one serving, with its bounds and the arithmetic shown."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite

import numpy as np

from nutrition.dish.line import Line
from nutrition.dish.naming import description_of
from nutrition.food.nutrients import BY_KEY, INDEX
from nutrition.limits.tallies import ROUNDINGS, Tally, rounded
from nutrition.sheet.analysis import Analysis


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
    def least_units(self) -> float:
        return rounded(self.least, self.tally)

    @property
    def most_units(self) -> float:
        return rounded(self.most, self.tally) if isfinite(self.most) else float("inf")


def count(tally: Tally, lines: Sequence[Line], analysis: Analysis) -> Count:
    """The tally of one serving, free foods left out."""
    factors = {INDEX[key]: factor for key, factor in tally.formula.items()}
    per_line = analysis.by_line[:, list(factors)] @ np.array(list(factors.values()))
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
        names = ", ".join((description_of(lines[i]) or lines[i].text) for i in sorted(free))
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
