"""Food safety by kind of dish: inside temperatures, cooling, keeping, freezing. It defers to local rules.

tables/food_safety.tsv; USDA FSIS charts and FDA Food Code 3-501.14, UK Food Standards Agency, from memory.
"""

import functools
import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from nutrition.dish.line import Line
from nutrition.food.table import foods, remembered
from nutrition.food.units import celsius
from nutrition.tables import pattern, read_table


@dataclass(frozen=True, slots=True)
class HouseRules:
    """How a region cools, keeps and reheats what was cooked. `keep_days`: a cooked dish of anything else, in the cold."""

    cooling: str
    cooling_source: str
    keep_days: int
    reheat: str
    source: str


HOUSE_RULES = {
    "us": HouseRules(
        "Cool from 135 to 70 °F (57 to 21 °C) within 2 hours, and to 41 °F (5 °C) within 4 more; then keep "
        "at 40 °F (4 °C) or less.",
        "FDA Food Code 3-501.14",
        4,
        "to 165 °F / 74 °C",
        "USDA FSIS",
    ),
    "eu": HouseRules(
        "Cool within one to two hours, then keep at 5 °C (41 °F) or less.",
        "UK Food Standards Agency",
        2,
        "until it steams all through: 75 °C (167 °F), or 70 °C for 2 minutes",
        "UK Food Standards Agency; NHS",
    ),
}
FREEZE_MONTHS = 6


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
    rules: HouseRules = HOUSE_RULES["us"]

    @property
    def inside(self) -> tuple[Rule, ...]:
        return tuple(sorted((k for k in self.kinds if k.inside_f), key=lambda k: -(k.inside_f or 0)))

    @property
    def advice(self) -> tuple[tuple[str, str], ...]:
        return tuple((kind.advice, kind.source) for kind in self.kinds if kind.advice)


@functools.cache
def _kinds(region: str) -> tuple[tuple[re.Pattern[str], Rule], ...]:
    found = []
    for row in read_table("food_safety.tsv"):
        inside = row.whole("inside_f") if row["inside_f"] else None
        keep = "keep_days_eu" if region == "eu" and row["keep_days_eu"] else "keep_days"
        numbers = (row.whole("rest_min", 0), row.whole(keep, 0), row.whole("freeze_months", 0))
        found.append(
            (row.pattern("words"), Rule(row.text("kind"), inside, *numbers, row["advice"], row.text("source")))
        )
    return tuple(found)


@remembered
def _by_food(food_id: str, region: str) -> frozenset[int]:
    """Rows that fit a food."""
    food = foods().by_id(food_id)
    named = f"{food.category}: {food.description}"
    if pattern("keeps_well").search(food.description):
        return frozenset()
    is_ready = bool(pattern("ready_made").search(food.description.lower()))
    return frozenset(
        at for at, (fits, kind) in enumerate(_kinds(region)) if fits.search(named) and not (kind.inside_f and is_ready)
    )


@functools.lru_cache(maxsize=8192)
def _by_words(state: str, words: str, region: str) -> frozenset[int]:
    """Rows that fit what the kitchen does to a line, or the words of the line."""
    said = f"state {state}|words {words.lower()}"
    return frozenset(
        at
        for at, (fits, _) in enumerate(_kinds(region))
        if fits.match(said) or ("words" in fits.pattern and fits.search(said))
    )


def _positions_of(line: Line, region: str) -> list[int]:
    """Rows that fit a line; it is held to the first that names a temperature, and to every other."""
    fitting = _by_words(line.state, line.text if line.words_hold else "", region)
    if line.food_id:
        fitting |= _by_food(line.food_id, region)
    found: list[int] = []
    for position in sorted(fitting):
        if not (_kinds(region)[position][1].inside_f and any(_kinds(region)[at][1].inside_f for at in found)):
            found.append(position)
    return found


def safety_of(lines: Sequence[Line], region: str = "us") -> Safety:
    """What the authorities ask of a dish of these lines; the shortest keeping time of its parts wins.

    `region`: "us" or "eu", whose rules are followed where they differ.
    """
    hits: dict[int, list[int]] = {}
    for place, line in enumerate(lines):
        for position in _positions_of(line, region):
            hits.setdefault(position, []).append(place)
    kinds = [replace(_kinds(region)[position][1], lines=tuple(hits[position])) for position in sorted(hits)]
    rules = HOUSE_RULES[region]
    keep = min((kind.keep_days for kind in kinds), default=rules.keep_days)
    freeze = min((kind.freeze_months for kind in kinds), default=FREEZE_MONTHS)
    return Safety(tuple(kinds), min(keep, rules.keep_days), min(freeze, FREEZE_MONTHS), rules)
