"""What a meal still leaves, as amounts of foods as they are eaten: tables/at_table.tsv.

What is left is counted from the most the meal may hold, and a food's own most is held against it: what is offered fits for certain.
"""

import functools
from collections.abc import Sequence
from dataclasses import dataclass
from math import floor

import numpy as np

from nutrition.dish.dish import Dish
from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.food.names import cook_name
from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods, remembered
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Gate
from nutrition.meals.table import Place
from nutrition.notes import Note, note
from nutrition.sheet.analysis import Analysis, analyze_lines
from nutrition.sheet.judge import CAUTION, DISLIKED, KEPT_OUT, MAY_HAVE_CHECKS, NOTED, Evidence, Seen, findings_of
from nutrition.sheet.verdicts import MIND, OPEN, SHUT, UNSURE
from nutrition.tables import Row, read_table

#: Nobody cuts a slice of bread finer than this.
STEP = 0.5


@dataclass(frozen=True, slots=True)
class AsEaten:
    """A food as it is eaten, by the unit. `part`: what of a meal it is; `made_of`: (description, grams) in one unit."""

    part: str
    one: str
    many: str
    grams: float
    made_of: tuple[tuple[str, float], ...]
    most: float

    def counted(self, count: float) -> Note:
        return note("meal.counted", count=count, one=self.one, many=self.many, grams=count * self.grams)

    @property
    def seen(self) -> Seen:
        """What is known of one unit of it, whoever eats it."""
        return _seen(self.one)

    def line(self, count: float) -> tuple[Line, ...]:
        """So many units, as lines of a dish."""
        return tuple(
            Line(
                cook_name(foods().by_description(name).id),
                foods().by_description(name).id,
                Grams.exactly(grams * count),
                "weight",
                "likely",
            )
            for name, grams in self.made_of
        )


def _made_of(cell: str) -> tuple[tuple[str, float], ...]:
    """ "30 Butter, salted; 5 Salt, table": each food by its description, with its grams."""
    parts = (part.split(" ", 1) for part in cell.split("; "))
    return tuple((foods().by_description(name).description, float(grams)) for grams, name in parts)


def _read(row: Row) -> AsEaten:
    made_of = row.as_("made_of", _made_of, "grams and a food of the table, with “; ” between")
    return AsEaten(row.text("for"), row.text("one"), row.text("many"), row.number("grams"), made_of, row.number("most"))


@functools.cache
def foods_as_eaten() -> tuple[AsEaten, ...]:
    return tuple(map(_read, read_table("at_table.tsv")))


@remembered
def _seen(name: str) -> Seen:
    unit = next(each for each in foods_as_eaten() if each.one == name)
    return Seen(Dish(name, 1.0, unit.line(1.0)))


@remembered
def of_one(name: str) -> Analysis:
    """What one unit of a food as eaten holds; by its name in the singular."""
    unit = next(each for each in foods_as_eaten() if each.one == name)
    return analyze_lines(unit.line(1.0), 1.0)


@dataclass(frozen=True, slots=True)
class Fits:
    """So many units that fit. `by`: the nutrient that would not bear more; empty where nobody would eat more.
    `by_label`: tags of which the label decides."""

    food: AsEaten
    count: float
    by: str
    by_label: tuple[str, ...]

    @property
    def halves(self) -> int:
        return round(self.count / STEP)

    @property
    def words(self) -> Note:
        return self.food.counted(self.count)


def lets_in(eater: Eater, dish: Seen, meal: str = "dinner") -> tuple[bool, tuple[str, ...], tuple[str, ...]]:
    """Whether an eater may be given a dish unasked: nothing kept out, noted or disliked is named in it; the tags of which the label
    decides; and keys of what is to be minded of it."""
    found = findings_of(Evidence(dish.dish, eater, meal, of=dish), MAY_HAVE_CHECKS)
    may = not any(each.state == SHUT or (each.code in (NOTED, DISLIKED) and each.state != OPEN) for each in found)
    by_label = (each.about for each in found if (each.code, each.state) == (KEPT_OUT, UNSURE))
    minds = (each.about for each in found if (each.code, each.state) == (CAUTION, MIND))
    return may, tuple(by_label) if may else (), tuple(minds) if may else ()


def most_that_fits(unit: Analysis, ceilings: Sequence[Gate], left: np.ndarray, most: float) -> tuple[float, str]:
    """How many units stay within what is left of these ceilings, in steps of a half; and what stops one more.

    `left`: by nutrient, in the order of the ceilings.
    """
    count, by = most, ""
    for gate, room in zip(ceilings, left, strict=True):
        each = float(unit.at_most[INDEX[gate.nutrient]])
        # What a food holds none of, it may be eaten of however little is left; what nobody knows of, not at all.
        allowed = np.inf if each <= 0 else 0.0 if not np.isfinite(each) else max(float(room), 0.0) / each
        if allowed < count:
            count, by = allowed, gate.nutrient
    return floor(count / STEP + 1e-6) * STEP, by


def fitting_foods(eater: Eater, ceilings: Sequence[Gate], left: np.ndarray) -> list[Fits]:
    """Every food as eaten that stays within what is left, in the order of the table. `left`: by ceiling."""
    found = []
    for food in foods_as_eaten():
        count, by = most_that_fits(of_one(food.one), ceilings, left, food.most)
        if not count:
            continue
        may, by_label, minds = lets_in(eater, food.seen)
        # A food with something to mind is not offered by itself: whoever wants it puts it on the table and is told.
        if may and not minds:
            found.append(Fits(food, count, by, by_label))
    return found


def room_for(place: Place) -> dict[str, list[Fits]]:
    """What of a meal -> the foods that still fit, those first of which no label decides, then as the table has them.

    Nothing fits a meal that is past a limit or may be: what is left is counted from the most. Of somebody without limits there
    is nothing to say.
    """
    ceilings = [verdict.gate for verdict in place.verdicts if verdict.gate.high]
    left = np.array([place.left(gate.nutrient) for gate in ceilings])
    if not ceilings or (left < 0).any():
        return {}
    found: dict[str, list[Fits]] = {}
    for each in fitting_foods(place.seat.eater, ceilings, left):
        found.setdefault(each.food.part, []).append(each)
    return {part: sorted(fits, key=lambda each: bool(each.by_label)) for part, fits in found.items()}
