"""Food safety by kind of dish: inside temperatures, cooling, keeping, freezing. It defers to local rules.

tables/food_safety.tsv; USDA FSIS charts and FDA Food Code 3-501.14, from memory.
"""

import functools
import re
from collections.abc import Sequence
from dataclasses import dataclass

from nutrition.dish.line import Line
from nutrition.food.table import foods, remembered
from nutrition.food.units import celsius
from nutrition.tables import pattern, read_table

REHEAT_F = 165
COOLING = (
    "Cool from 135 to 70 °F (57 to 21 °C) within 2 hours, and to 41 °F (5 °C) within 4 more; then keep "
    "at 40 °F (4 °C) or less."
)
COOLING_SOURCE = "FDA Food Code 3-501.14"
#: A cooked dish of anything else keeps this long (USDA FSIS: 3 to 4 days).
KEEP_DAYS, FREEZE_MONTHS = 4, 6


@dataclass(frozen=True, slots=True)
class Rule:
    """One row of the table, with the positions of the lines it is about. `inside_f` None: no temperature of its own."""

    kind: str
    inside_f: int | None
    rest_min: int
    keep_days: int
    freeze_months: int
    advice: str
    source: str
    lines: tuple[int, ...] = ()

    @property
    def inside_c(self) -> int | None:
        """Whole degrees, rounded half up as the public charts do: 165 °F is 74 °C, 160 71, 145 63."""
        return None if self.inside_f is None else int(celsius(self.inside_f) + 0.5)


@dataclass(frozen=True, slots=True)
class Safety:
    """What a dish asks for. `inside`: the kinds with a temperature, hottest first."""

    kinds: tuple[Rule, ...]
    keep_days: int
    freeze_months: int

    @property
    def inside(self) -> tuple[Rule, ...]:
        return tuple(sorted((k for k in self.kinds if k.inside_f), key=lambda k: -(k.inside_f or 0)))

    @property
    def advice(self) -> tuple[tuple[str, str], ...]:
        return tuple((kind.advice, kind.source) for kind in self.kinds if kind.advice)


@functools.cache
def _kinds() -> tuple[tuple[re.Pattern[str], Rule], ...]:
    found = []
    for row in read_table("food_safety.tsv"):
        inside = int(row["inside_f"]) if row["inside_f"] else None
        rest, keep, freeze = (int(row[name] or 0) for name in ("rest_min", "keep_days", "freeze_months"))
        rule = Rule(row["kind"], inside, rest, keep, freeze, row["advice"], row["source"])
        found.append((re.compile(row["words"]), rule))
    return tuple(found)


@remembered
def _kinds_of(food_id: str) -> tuple[int, ...]:
    """Rows that fit a food; a dish is held to the first that names a temperature, and to every other."""
    food = foods().by_id(food_id)
    text, found, has_inside = f"{food.category}: {food.description}", [], False
    for position, (words, kind) in enumerate(_kinds()):
        if not words.search(text) or pattern("keeps_well").search(food.description):
            continue
        if kind.inside_f and (has_inside or pattern("ready_made").search(food.description.lower())):
            continue
        has_inside = has_inside or bool(kind.inside_f)
        found.append(position)
    return tuple(found)


def safety_of(lines: Sequence[Line]) -> Safety:
    """What the authorities ask of a dish of these lines; the shortest keeping time of its parts wins."""
    hits: dict[int, list[int]] = {}
    for place, line in enumerate(lines):
        if line.food_id:
            said = f"state {line.state}|words {line.text.lower() if line.words_hold else ''}"
            of_state = tuple(i for i, (words, _) in enumerate(_kinds()) if words.match(said))
            for position in dict.fromkeys((*_kinds_of(line.food_id), *of_state)):
                hits.setdefault(position, []).append(place)
    kinds = []
    for position in sorted(hits):
        k = _kinds()[position][1]
        numbers = (k.inside_f, k.rest_min, k.keep_days, k.freeze_months)
        kinds.append(Rule(k.kind, *numbers, k.advice, k.source, tuple(hits[position])))
    keep = min((k.keep_days for k in kinds), default=KEEP_DAYS)
    freeze = min((k.freeze_months for k in kinds), default=FREEZE_MONTHS)
    return Safety(tuple(kinds), min(keep, KEEP_DAYS), min(freeze, FREEZE_MONTHS))
