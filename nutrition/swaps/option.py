"""One thing that may be done to a line on a way through, in numbers."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from nutrition.dish.line import Line
from nutrition.food.nutrients import INDEX
from nutrition.notes import Note
from nutrition.sheet.analysis import analyze_lines
from nutrition.swaps.balance import MEASURES, per_gram
from nutrition.swaps.offers import Workbench


@dataclass(slots=True)
class Option:
    """One thing that may be done to a line: what it brings a serving at factor 1, and what it costs.

    `lever`: what a cook would call it; two ways of the same levers are one. `eases`: brings acid, spice or depth that
    the dish did not have, so that salt is missed less.
    """

    line: int
    kind: str
    text: Note
    new: tuple[Line, ...]
    low: float
    high: float
    cost: float
    least: np.ndarray
    amount: np.ndarray
    most: np.ndarray
    powers: np.ndarray
    grams: float
    scale: float = 1.0
    is_salt: bool = False
    lever: str = ""
    eases: bool = False
    minutes: int = 0

    @property
    def is_side(self) -> bool:
        return self.lever == "side"


def make_option(
    bench: Workbench,
    line: int,
    kind: str,
    text: Note,
    new: Iterable[Line],
    span: tuple[float, float],
    cost: float,
    scale: float = 1.0,
) -> Option:
    new, (low, high) = tuple(new), span
    powers, grams = np.zeros(len(MEASURES)), 0.0
    least = amount = most = np.zeros(len(INDEX))
    if new:
        result = analyze_lines(new, bench.serves)
        least, amount, most = result.at_least, result.amounts, result.at_most
        grams = sum(each.span.likely for each in new)
        powers = sum((powers_of(each) for each in new if each.is_weighed), start=powers)
    return Option(line, kind, text, new, low, high, cost, least, amount, most, powers, grams, scale)


def powers_of(line: Line) -> np.ndarray:
    """What a line brings to the whole, in the order of MEASURES."""
    return line.span.likely * per_gram(line.food_id or "")
