"""Amounts as a kitchen has them: whole eggs, half onions, quarter teaspoons, five grams on a scale.

A way is first read in such measures; where they spoil it, rounded down; and where that spoils it too, in grams.
"""

from collections.abc import Callable
from functools import partial
from math import floor

from nutrition.dish.line import Line
from nutrition.food.measures import grams_per_ml, household_measure, piece_of
from nutrition.food.table import foods
from nutrition.food.units import ML

#: (line, grams wanted) -> grams a kitchen takes of it.
Measure = Callable[[Line, float], float]
#: Of a spoon, up to so many of them; beyond, of the next.
QUARTER_SPOONS, HALF_SPOONS = ("tsp", 0.25, 3.0), ("tbsp", 0.5, 6.0)
#: What is less of a change than this is none.
LEAST_SEEN = 0.15
#: Pieces that are not cut in half.
_WHOLE = ("Egg, ", "Tortilla", "Rolls", "Bread")


def step_of(line: Line, grams: float) -> float:
    """The step in grams by which a kitchen takes this line: of pieces, of spoons, of a scale."""
    food = foods().by_id(line.food_id or "")
    if line.how == "count" and (piece := piece_of(food)) and grams > piece / 2:
        return piece if food.description.startswith(_WHOLE) else piece / 2
    if line.how == "volume" and (per_ml := grams_per_ml(food)):
        for unit, step, most in (QUARTER_SPOONS, HALF_SPOONS):
            spoon = per_ml[0] * ML[unit]
            if grams <= most * spoon:
                return step * spoon
    return scale_step(grams)


def scale_step(grams: float) -> float:
    """What a kitchen scale is read to: 5 g above 50, 1 g above 5, a tenth below."""
    return 5.0 if grams >= 50 else 1.0 if grams >= 5 else 0.1


def _stepped(line: Line, grams: float, round_: Callable[[float], int]) -> float:
    step, was = step_of(line, grams), line.span.likely
    found = (round_(grams / step + 1e-6) or 1) * step
    if was and abs(found / was - 1) < LEAST_SEEN <= abs(grams / was - 1):  # a change that rounding would hide
        found += step if grams > was else -step
    return found if found > 0 else step


def _fine(line: Line, grams: float) -> float:
    """To 5 g above 100, to 1 above 20, to a tenth below."""
    step = 5.0 if grams >= 100 else 1.0 if grams >= 20 else 0.1
    return round(grams / step) * step


#: First choice first.
MEASURES_OF_A_KITCHEN: tuple[Measure, ...] = (partial(_stepped, round_=round), partial(_stepped, round_=floor), _fine)


def spoken(line: Line) -> str:
    """The measure a cook reaches for, of a line that was written in pieces or spoons; "" of others."""
    if line.how not in ("count", "volume") or not line.is_weighed:
        return ""
    return household_measure(foods().by_id(line.food_id or ""), line.span.likely)
