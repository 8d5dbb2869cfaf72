"""Portions that fit: for one eater, how much of every dish, nearest to what they have now, so that their meal is through.

A small program with whole numbers: portions go by quarters of a serving; the least is held against what a meal asks for, the most
against what it allows. Nothing else of the table moves.
"""

from dataclasses import dataclass

import numpy as np

from nutrition.food.nutrients import INDEX
from nutrition.meals.portions import Portion
from nutrition.meals.table import Place
from nutrition.swaps.solver import FOUND, Rows, solve

#: Portions go by this much of a serving, and up to twice what somebody has now.
STEP, MOST_TIMES = 0.25, 2.0
#: What leaving a dish out costs beside its servings, and what more costs beside less: nobody asks for more of everything.
COST_NONE, COST_MORE, COST_LESS = 0.6, 1.1, 1.0


@dataclass(frozen=True, slots=True)
class Fitting:
    """`portions` in the order of the dishes; `is_proven`: nothing nearer would do. None of a dish that is barred."""

    portions: tuple[Portion, ...]
    is_proven: bool


def fitting(place: Place) -> Fitting | None:
    """The nearest portions with which every gate of the meal is open; None when there are none, whatever they are.

    A dish that no portion would let in (it contains what is kept out) gets none. Where a dish's most is not known it can be
    eaten in no portion that would be sure, and it goes too.
    """
    now = np.array([portion.likely for portion in place.seat.portions])
    eaten = [at for at in range(len(now)) if now[at] > 0]
    free = [at for at in eaten if not place.crossings[at].is_barred]
    most = np.array([round(now[at] * MOST_TIMES / STEP) for at in free], dtype=float)
    # Columns: steps of each dish, how far below and above what it is now, and whether it is left out.
    count = len(free)
    rows = Rows()
    for column, at in enumerate(free):
        rows.add([(column, STEP), (count + column, 1.0), (2 * count + column, -1.0)], now[at], now[at])
        rows.add([(column, 1.0), (3 * count + column, 1.0)], at_least=1.0)
    for verdict in place.verdicts:
        gate, key = verdict.gate, INDEX[verdict.gate.nutrient]
        least, most_of = (
            [(column, STEP * float(place.spread[side, at, key]) / now[at]) for column, at in enumerate(free)]
            for side in (0, 2)
        )
        if gate.low:
            rows.add(least, at_least=gate.low.limit)
        if gate.high:
            unknown = [column for column, each in most_of if not np.isfinite(each)]
            for column in unknown:
                most[column] = 0.0
            rows.add([(column, each) for column, each in most_of if np.isfinite(each)], at_most=gate.high.limit)
    costs = np.concatenate(
        [np.zeros(count), np.full(count, COST_LESS), np.full(count, COST_MORE), np.full(count, COST_NONE)]
    )
    upper = np.concatenate([most, np.full(2 * count, np.inf), np.ones(count)])
    whole = np.concatenate([np.ones(count), np.zeros(2 * count), np.ones(count)])
    answer = solve(costs, upper, whole, rows)
    if answer.ended != FOUND:
        return None
    portions = [Portion.of(0.0) for _ in now]
    for column, at in enumerate(free):
        portions[at] = Portion.of(round(float(answer.x[column])) * STEP)
    return Fitting(tuple(portions), answer.is_proven)
