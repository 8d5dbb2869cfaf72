"""What of a library fits everybody, at a meal: all dishes against all eaters in one product, allergens before numbers.

A dish is judged as the part of a meal it is; a serving of it, to whoever may have it. Nothing here looks at a line: what a dish holds
and shows was worked out when it last changed (Held).
"""

import hashlib
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from nutrition.dish.dish import Dish
from nutrition.food.nutrients import INDEX, KEYS
from nutrition.food.tags import CONTAINS, TAGS
from nutrition.limits.avoid import find
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Gate
from nutrition.limits.noted import name_in, names_called
from nutrition.limits.plans import avoids_of
from nutrition.limits.roles import ROLES
from nutrition.meals.day import Day
from nutrition.reading.unlisted import unlisted
from nutrition.sheet.analysis import analyze
from nutrition.sheet.verdicts import fit_many

#: What a plan can keep out, in the order of the columns of a shelf.
COLUMNS = tuple(TAGS)
_GUESSED = (f"{key}{role.words.pattern if role.words else ''}" for key, role in ROLES.items())
#: Changes whenever what is kept of a dish would not be read right any more: Held, and the role that was guessed.
SHAPE = hashlib.sha256("|".join((*KEYS, *COLUMNS, *_GUESSED)).encode()).hexdigest()[:16]


@dataclass(frozen=True, slots=True)
class Held:
    """One serving of a dish, worked out once: (3, nutrients) as float32, the tags it contains, those of which the label decides,
    the names of its foods."""

    spread: np.ndarray
    contains: tuple[str, ...]
    check: tuple[str, ...]
    names: tuple[str, ...] = ()


def held(dish: Dish) -> Held:
    """Raises Problem when nobody said how many it serves."""
    analysis = analyze(dish)
    spread = np.array([analysis.at_least, analysis.amounts, analysis.at_most], dtype=np.float32)
    found = find(dish.lines, COLUMNS)
    contains = tuple(finding.tag for finding in found if finding.verdict == CONTAINS)
    added = {tag for each in unlisted(dish.steps, dish.lines) for tag in each.tags}
    check = {finding.tag for finding in found if finding.verdict != CONTAINS} | added
    names = (name for line in dish.lines for name in names_called(line) if name)
    left = tuple(tag for tag in COLUMNS if tag in check - set(contains))
    return Held(spread, contains, left, tuple(dict.fromkeys(names)))


@dataclass(frozen=True)
class Shelf:
    """Many dishes as arrays: `spread` (dishes, 3, nutrients), `contains` and `check` (dishes, tags); their parts of a meal, the
    names of their foods."""

    spread: np.ndarray
    contains: np.ndarray
    check: np.ndarray
    roles: tuple[str, ...]
    names: tuple[tuple[str, ...], ...]


def shelf(dishes: Sequence[Held], roles: Sequence[str]) -> Shelf:
    """Raises ValueError when there are not as many roles as dishes."""
    if len(dishes) != len(roles):
        raise ValueError(f"{len(roles)} roles of {len(dishes)} dishes")
    at = {tag: column for column, tag in enumerate(COLUMNS)}
    contains, check = (np.zeros((len(dishes), len(COLUMNS)), dtype=bool) for _ in range(2))
    for row, dish in enumerate(dishes):
        contains[row, [at[tag] for tag in dish.contains if tag in at]] = True
        check[row, [at[tag] for tag in dish.check if tag in at]] = True
    spread = np.array([dish.spread for dish in dishes], dtype=np.float32).reshape(-1, 3, len(KEYS))
    return Shelf(spread, contains, check, tuple(roles), tuple(dish.names for dish in dishes))


@dataclass(frozen=True, slots=True)
class Guest:
    """Somebody a dish is to fit. `never`: foods noted or disliked. `room`: what is left for it, where that is known: these gates
    stand in place of those of a meal."""

    eater: Eater
    never: tuple[str, ...] = ()
    room: tuple[Gate, ...] | None = None

    def gates(self, role: str, meal: str) -> list[Gate]:
        """What a dish in this role is held against."""
        return replace(self.eater, role=role).gates(meal) if self.room is None else list(self.room)


def fits(dishes: Shelf, guests: Sequence[Guest], meal: str) -> np.ndarray:
    """(dishes, guests): 1 through, 0 somebody must look (a label, an unknown, a noted food named), -1 not through. int8."""
    result = np.ones((len(dishes.roles), len(guests)), dtype=np.int8)
    at = {tag: column for column, tag in enumerate(COLUMNS)}
    rows = {
        role: np.array([row for row, each in enumerate(dishes.roles) if each == role])
        for role in dict.fromkeys(dishes.roles)
    }
    for column, guest in enumerate(guests):
        avoided = [at[tag] for tag in avoids_of(guest.eater.plans) if tag in at]
        shut = dishes.contains[:, avoided].any(axis=1)
        result[dishes.check[:, avoided].any(axis=1), column] = 0
        for role, own in rows.items():
            gates = [guest.gates(role, meal)]
            by_numbers = fit_many(dishes.spread[own, 0], dishes.spread[own, 2], gates)[:, 0]
            result[own, column] = np.minimum(result[own, column], by_numbers)
        if guest.never:
            named = [
                row
                for row in np.flatnonzero(~shut & (result[:, column] >= 0))
                if name_in(guest.never, dishes.names[row])
            ]
            result[named, column] = 0
        result[shut, column] = -1
    return result


def guest_of_day(day: Day, meal: str, never: tuple[str, ...] = ()) -> Guest:
    """Whose day it is, with what it still leaves at a meal for one dish more."""
    gates = ((gate, gate.high, left) for gate, left in day.room_at(meal))
    room = tuple(replace(gate, low=None, high=replace(high, limit=left)) for gate, high, left in gates if high)
    return Guest(day.eater, never, room)


def brings(dishes: Shelf, day: Day) -> np.ndarray:
    """(dishes,): of all a day still lacks, the parts that one serving brings at the least, added up."""
    parts = [np.minimum(dishes.spread[:, 0, INDEX[gate.nutrient]] / missing, 1.0) for gate, missing in day.to_come]
    total: np.ndarray = np.sum(parts, axis=0) if parts else np.zeros(len(dishes.roles))
    return total


def for_everybody(found: np.ndarray) -> np.ndarray:
    """(dishes,): the worst of each row; 1 for a shelf nobody sits at."""
    worst: np.ndarray = found.min(axis=1) if found.shape[1] else np.ones(len(found), dtype=np.int8)
    return worst


def packed(spread: np.ndarray) -> bytes:
    """As it is kept: little-endian float32."""
    return np.ascontiguousarray(spread, dtype="<f4").tobytes()


def unpacked(kept: Iterable[bytes]) -> np.ndarray:
    """(dishes, 3, nutrients) of several, in one piece."""
    whole = np.frombuffer(b"".join(kept), dtype="<f4")
    return whole.reshape(-1, 3, len(KEYS))
