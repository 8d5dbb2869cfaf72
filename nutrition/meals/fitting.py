"""Portions that fit: for one eater, how much of every dish, nearest to what they have now, so that their meal is through.

A small program with whole numbers: portions go by quarters of a serving; the least is held against what a meal asks for, the most
against what it allows. Nothing else of the table moves. Where no portions do, the nearest are found, and what they miss.
"""

from dataclasses import dataclass

import numpy as np

from nutrition.food.nutrients import INDEX
from nutrition.limits.gates import Gate
from nutrition.meals.portions import Portion
from nutrition.meals.table import Place
from nutrition.swaps.solver import FOUND, Answer, Rows, solve

#: Portions go by this much of a serving, and up to twice what somebody has now.
STEP, MOST_TIMES = 0.25, 2.0
#: What leaving a dish out costs beside its servings, and what more costs beside less: nobody asks for more of everything.
COST_NONE, COST_MORE, COST_LESS = 0.6, 1.1, 1.0
#: What missing a limit by all of it costs, where limits cannot be met: far more than any portion.
COST_MISS = 1_000.0


@dataclass(frozen=True, slots=True)
class Miss:
    """A limit the nearest portions do not meet: its gate, "low" or "high", and by how much, in the nutrient's unit."""

    gate: Gate
    side: str
    by: float


@dataclass(frozen=True, slots=True)
class Fitting:
    """`portions` in the order of the dishes; `is_proven`: nothing nearer would do. `misses`: limits they do not meet; empty
    when the meal is through with them. A dish that is barred gets none, and so does one whose most nobody knows."""

    portions: tuple[Portion, ...]
    is_proven: bool
    misses: tuple[Miss, ...] = ()


def fitting(place: Place) -> Fitting | None:
    """The nearest portions with which every gate of the meal is open; those that miss least where there are none. None where
    nothing is eaten that a portion could change, or no search came to an end."""
    free = [at for at, portion in enumerate(place.seat.portions) if portion and not place.crossings[at].is_barred]
    if not free:
        return None
    strict = _solved(place, free, may_miss=False)
    if strict.ended == FOUND:
        return Fitting(_portions(place, free, strict), strict.is_proven)
    nearest = _solved(place, free, may_miss=True)
    if nearest.ended != FOUND:
        return None
    missed = nearest.x[4 * len(free) :]
    misses = (Miss(gate, side, float(by)) for (gate, side), by in zip(_sides(place), missed, strict=True) if by > 1e-6)
    return Fitting(_portions(place, free, nearest), nearest.is_proven, tuple(misses))


def _sides(place: Place) -> list[tuple[Gate, str]]:
    gates = [verdict.gate for verdict in place.verdicts]
    return [(gate, side) for gate in gates for side, post in (("low", gate.low), ("high", gate.high)) if post]


def _solved(place: Place, free: list[int], *, may_miss: bool) -> Answer:
    """Columns: steps of each dish, how far below and above what it is now, whether it is left out; then, where limits may be
    missed, by how much each is."""
    count, sides = len(free), _sides(place) if may_miss else []
    now = [place.seat.portions[at].likely for at in free]
    most = np.array([round(each * MOST_TIMES / STEP) for each in now], dtype=float)
    rows = Rows()
    for column in range(count):
        rows.add([(column, STEP), (count + column, 1.0), (2 * count + column, -1.0)], now[column], now[column])
        rows.add([(column, 1.0), (3 * count + column, 1.0)], at_least=1.0)
    for number, (gate, side) in enumerate(_sides(place)):
        slack = [(4 * count + number, 1.0 if side == "low" else -1.0)] if may_miss else []
        key, of = INDEX[gate.nutrient], 0 if side == "low" else 2
        holds = [(column, STEP * float(place.spread[of, at, key]) / now[column]) for column, at in enumerate(free)]
        for column, each in holds:
            most[column] = most[column] if np.isfinite(each) else 0.0
        known = [(column, each) for column, each in holds if np.isfinite(each)]
        if side == "low" and gate.low:
            rows.add([*known, *slack], at_least=gate.low.limit)
        elif gate.high:
            rows.add([*known, *slack], at_most=gate.high.limit)
    prices = [(COST_LESS, np.inf, 0), (COST_MORE, np.inf, 0), (COST_NONE, 1.0, 1)]
    costs = [np.zeros(count), *(np.full(count, cost) for cost, _, _ in prices)]
    costs.append(np.array([COST_MISS / max(_limit(gate, side), 1e-6) for gate, side in sides]))
    upper = [most, *(np.full(count, top) for _, top, _ in prices), np.full(len(sides), np.inf)]
    whole = [np.ones(count), *(np.full(count, kind) for _, _, kind in prices), np.zeros(len(sides))]
    return solve(np.concatenate(costs), np.concatenate(upper), np.concatenate(whole), rows)


def _limit(gate: Gate, side: str) -> float:
    post = gate.low if side == "low" else gate.high
    return post.limit if post else 0.0


def _portions(place: Place, free: list[int], answer: Answer) -> tuple[Portion, ...]:
    found = dict(zip(free, answer.x, strict=False))
    return tuple(Portion.of(round(float(found.get(at, 0.0))) * STEP) for at in range(len(place.seat.portions)))
