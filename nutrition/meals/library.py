"""What of a library fits everybody, at a meal: all dishes against all eaters in one product, allergens before numbers.

A dish is judged as the part of a meal it is; a serving of it, to whoever may have it. Nothing here looks at a line: what a dish holds
and shows was worked out when it last changed (Held).
"""

import hashlib
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from nutrition.dish.dish import Dish
from nutrition.food.nutrients import INDEX, KEYS
from nutrition.food.tags import CONTAINS, TAGS
from nutrition.limits.avoid import find
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Gate
from nutrition.limits.noted import name_in, names_called
from nutrition.limits.roles import ROLES
from nutrition.meals.day import Day
from nutrition.reading.whole import whole_dish
from nutrition.sheet.analysis import analyze
from nutrition.sheet.cautions import concerning, hidden_by, keys, shown_keys
from nutrition.sheet.verdicts import MIND, OPEN, SHUT, UNSURE, fit_many

#: What a plan can keep out, and every reminder, in the order of the columns of a shelf.
COLUMNS, REMINDERS = tuple(TAGS), keys()
HIDDEN_BY = hidden_by()
#: How many flags a dish has: one a tag, one a reminder.
FLAGS = len(COLUMNS) + len(REMINDERS)
_GUESSED = (f"{key}{role.words.pattern if role.words else ''}" for key, role in ROLES.items())
#: Changes whenever what is kept of a dish would not be read right any more: Held, and the role that was guessed.
SHAPE = hashlib.sha256("|".join(("2", *KEYS, *COLUMNS, *REMINDERS, *_GUESSED)).encode()).hexdigest()[:16]


@dataclass(frozen=True, slots=True)
class Held:
    """One serving of a dish, worked out once: (3, nutrients) as float32, the tags it contains, those of which the label decides, the
    names of its foods; `flags`: (FLAGS,) whether only the US list names a tag, and which reminders it gives cause for."""

    spread: np.ndarray
    contains: tuple[str, ...]
    check: tuple[str, ...]
    names: tuple[str, ...] = ()
    flags: np.ndarray = field(default_factory=lambda: np.zeros(FLAGS, dtype=bool), compare=False)


def held(dish: Dish) -> Held:
    """Raises Problem when nobody said how many it serves."""
    dish = whole_dish(dish)
    analysis = analyze(dish)
    spread = np.array([analysis.at_least, analysis.amounts, analysis.at_most], dtype=np.float32)
    found = find(dish.lines, COLUMNS)
    by_eu = {finding.tag for finding in find(dish.lines, COLUMNS, "eu") if finding.verdict == CONTAINS}
    contains = tuple(finding.tag for finding in found if finding.verdict == CONTAINS)
    check = {finding.tag for finding in found if finding.verdict != CONTAINS}
    names = (name for line in dish.lines for name in names_called(line) if name)
    left = tuple(tag for tag in COLUMNS if tag in check - set(contains))
    us_only = {tag for tag in contains if tag not in by_eu}
    minds = set(shown_keys(dish.lines, dish.steps, analysis))
    flags = np.array([*(tag in us_only for tag in COLUMNS), *(key in minds for key in REMINDERS)], dtype=bool)
    return Held(spread, contains, left, tuple(dict.fromkeys(names)), flags)


@dataclass(frozen=True)
class Shelf:
    """Many dishes as arrays: `spread` (dishes, 3, nutrients), `contains`, `check` and `us_only` (dishes, tags), `minds` (dishes,
    reminders); their parts of a meal, the names of their foods."""

    spread: np.ndarray
    contains: np.ndarray
    check: np.ndarray
    roles: tuple[str, ...]
    names: tuple[tuple[str, ...], ...]
    us_only: np.ndarray
    minds: np.ndarray


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
    flags = np.array([dish.flags for dish in dishes], dtype=bool).reshape(-1, FLAGS)
    us_only, minds = flags[:, : len(COLUMNS)], flags[:, len(COLUMNS) :]
    return Shelf(spread, contains, check, tuple(roles), tuple(dish.names for dish in dishes), us_only, minds)


@dataclass(frozen=True, slots=True)
class Guest:
    """Somebody a dish is to fit. `room`: what is left for it, where that is known: these gates stand in place of those of a meal."""

    eater: Eater
    room: tuple[Gate, ...] | None = None

    def gates(self, role: str, meal: str) -> list[Gate]:
        """What a dish in this role is held against."""
        return replace(self.eater, role=role).gates(meal) if self.room is None else list(self.room)


#: How `fits` says a state: as findings do, worst last (a law holds the two together).
THROUGH_FOR_CERTAIN, MINDED, TO_LOOK_AT, NOT_THROUGH = 2, 1, 0, -1
SAID = {OPEN: THROUGH_FOR_CERTAIN, MIND: MINDED, UNSURE: TO_LOOK_AT, SHUT: NOT_THROUGH}


def fits(dishes: Shelf, guests: Sequence[Guest], meal: str) -> np.ndarray:
    """(dishes, guests) int8: 2 through, 1 with something to mind (a caution, what they do not like), 0 somebody must look (a label, an
    unknown, a noted food named), -1 not through. What judge.py finds of one dish, over arrays."""
    result = np.full((len(dishes.roles), len(guests)), THROUGH_FOR_CERTAIN, dtype=np.int8)
    at = {tag: column for column, tag in enumerate(COLUMNS)}
    rows = {
        role: np.array([row for row, each in enumerate(dishes.roles) if each == role])
        for role in dict.fromkeys(dishes.roles)
    }
    for column, guest in enumerate(guests):
        here, eater = result[:, column], guest.eater
        np.minimum(here, np.where(_minded(dishes, guest, meal), MINDED, THROUGH_FOR_CERTAIN), out=here)
        avoided = [at[tag] for tag in eater.keeps_out if tag in at]
        outright, by_label = dishes.contains[:, avoided], dishes.check[:, avoided]
        if eater.allergen_list == "eu":
            by_label, outright = by_label | dishes.us_only[:, avoided], outright & ~dishes.us_only[:, avoided]
        here[by_label.any(axis=1)] = TO_LOOK_AT
        shut = outright.any(axis=1)
        for role, own in rows.items():
            by_numbers = fit_many(dishes.spread[own, 0], dishes.spread[own, 2], [guest.gates(role, meal)])[:, 0]
            here[own] = np.minimum(here[own], np.where(by_numbers > 0, THROUGH_FOR_CERTAIN, by_numbers))
        for words, worth in ((eater.disliked, MINDED), (eater.noted_names, TO_LOOK_AT)):
            if words:
                open_ = np.flatnonzero(~shut & (here > worth))
                here[[row for row in open_ if name_in(words, dishes.names[row])]] = worth
        here[shut] = NOT_THROUGH
    return result


def _minded(dishes: Shelf, guest: Guest, meal: str) -> np.ndarray:
    """(dishes,): whether a reminder is given with it to this eater."""
    eater = guest.eater
    limited = {gate.nutrient for gate in eater.gates(meal) if gate.high}
    of = {key: column for column, key in enumerate(REMINDERS)}
    theirs = concerning(tuple(eater.plans), limited, eater.facts.circumstances)
    given = {key: dishes.minds[:, of[key]] for key in theirs}
    found = np.zeros(len(dishes.roles), dtype=bool)
    for key, shown in given.items():
        hidden = [given[other] for other in HIDDEN_BY.get(key, ()) if other in given]
        found |= shown & ~np.any(hidden, axis=0) if hidden else shown
    return found


def guest_of_day(day: Day, meal: str) -> Guest:
    """Whose day it is, with what it still leaves at a meal for one dish more."""
    gates = ((gate, gate.high, left) for gate, left in day.room_at(meal))
    room = tuple(replace(gate, low=None, high=replace(high, limit=left)) for gate, high, left in gates if high)
    return Guest(day.eater, room)


def brings(dishes: Shelf, day: Day) -> np.ndarray:
    """(dishes,): of all a day still lacks, the parts that one serving brings at the least, added up."""
    parts = [np.minimum(dishes.spread[:, 0, INDEX[gate.nutrient]] / missing, 1.0) for gate, missing in day.to_come]
    total: np.ndarray = np.sum(parts, axis=0) if parts else np.zeros(len(dishes.roles))
    return total


def for_everybody(found: np.ndarray) -> np.ndarray:
    """(dishes,): the worst of each row; through for a shelf nobody sits at."""
    nobody = np.full(len(found), THROUGH_FOR_CERTAIN, dtype=np.int8)
    worst: np.ndarray = found.min(axis=1) if found.shape[1] else nobody
    return worst


def packed(spread: np.ndarray) -> bytes:
    """As it is kept: little-endian float32."""
    return np.ascontiguousarray(spread, dtype="<f4").tobytes()


def packed_flags(flags: np.ndarray) -> bytes:
    """As they are kept, eight to a byte."""
    return np.packbits(flags).tobytes()


def unpacked_flags(kept: Iterable[bytes]) -> np.ndarray:
    """(dishes, FLAGS) of several, in one piece."""
    whole = np.frombuffer(b"".join(kept), dtype=np.uint8).reshape(-1, -(-FLAGS // 8))
    return np.unpackbits(whole, axis=1, count=FLAGS).astype(bool)


def unpacked(kept: Iterable[bytes]) -> np.ndarray:
    """(dishes, 3, nutrients) of several, in one piece."""
    whole = np.frombuffer(b"".join(kept), dtype="<f4")
    return whole.reshape(-1, 3, len(KEYS))
