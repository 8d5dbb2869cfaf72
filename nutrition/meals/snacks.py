"""Snacks that fit: foods as they are eaten that stay within what a day still leaves, those first that bring most of what it still
lacks."""

from dataclasses import dataclass

import numpy as np

from nutrition.food.nutrients import INDEX
from nutrition.limits.gates import SNACK
from nutrition.meals.day import Day
from nutrition.meals.room import Fits, fitting_foods, of_one
from nutrition.tables import words_of

#: Of what is lacking, a food is named for nutrients of which it brings this much at least.
WORTH_NAMING = 0.1


@dataclass(frozen=True, slots=True)
class Snack:
    """`brings`: nutrient -> the part of what is still lacking that so many units bring at the least."""

    fits: Fits
    brings: dict[str, float]


def snacks_for(day: Day, most: int = 12) -> list[Snack]:
    """What fits, at most so many. Nothing where the day is past a limit already, or may be; for somebody without limits nothing
    is held back and nothing is said."""
    room = day.room_at(SNACK)
    if not room or min(left for _, left in room) < 0:
        return []
    found = fitting_foods(day.eater, [gate for gate, _ in room], np.array([left for _, left in room]))
    lacking = {gate.nutrient: missing for gate, missing in day.to_come}
    snacks = [Snack(each, _brings(each, lacking)) for each in found if each.food.part not in words_of("no_snack_alone")]
    return sorted(snacks, key=lambda each: (bool(each.fits.by_label), -sum(each.brings.values()), _as_usual(each)))[
        :most
    ]


def _as_usual(snack: Snack) -> int:
    usual = list(words_of("usual_snacks"))
    part = snack.fits.food.part
    return usual.index(part) if part in usual else len(usual)


def _brings(fits: Fits, lacking: dict[str, float]) -> dict[str, float]:
    holds = of_one(fits.food.one).at_least
    parts = {key: min(fits.count * float(holds[INDEX[key]]) / missing, 1.0) for key, missing in lacking.items()}
    return {key: part for key, part in parts.items() if part >= WORTH_NAMING}
