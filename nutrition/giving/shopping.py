"""What to buy: the lines of one dish or several, scaled, merged by food, by aisle.

What is used drained is bought with its liquid; edible parts are as listed, so peel and bone come on top.
"""

import functools
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any

from nutrition.dish.cooking import weight_as_bought
from nutrition.dish.grams import NONE, Grams
from nutrition.dish.line import Line
from nutrition.food.measures import household_measure
from nutrition.food.names import cook_name
from nutrition.food.table import foods
from nutrition.giving.ceilings import Ceiling
from nutrition.giving.packs import Packs, packs_for, sizes_of
from nutrition.tables import read_table

HOME = "home"
#: In the order most shops are walked through.
AISLES = (
    "vegetables and fruit",
    "bread",
    "meat and poultry",
    "fish",
    "milk, eggs and cheese",
    "grains, pulses and pasta",
    "cans and jars",
    "stock, sauces and condiments",
    "spices, salt and oil",
    "baking",
    "nuts and seeds",
    "drinks",
    "freezer",
    "baby foods",
    "other",
    HOME,
)


@functools.cache
def _aisles() -> tuple[tuple[str, re.Pattern[str]], ...]:
    return tuple((row.one_of("aisle", AISLES), row.pattern("words")) for row in read_table("aisles.tsv"))


def aisle_of(food_id: str) -> str:
    """Where a shop keeps a food; "home" for what comes from the tap.

    >>> from nutrition.food.table import foods
    >>> aisle_of(foods().by_description("Carrots, raw").id)
    'vegetables and fruit'
    """
    food = foods().by_id(food_id)
    text = f"{food.category}: {food.description}"
    return next(aisle for aisle, words in _aisles() if words.search(text))


@dataclass(frozen=True, slots=True)
class Item:
    """One thing to buy. `weight`: how much of it is wanted; `for_dishes`: which dishes want it; `at_home`: grams that are there
    already, infinite for what is always there."""

    food_id: str
    name: str
    weight: Grams
    measure: str
    for_dishes: tuple[str, ...]
    ceilings: tuple[Ceiling, ...]
    at_home: float = 0.0

    @property
    def grams(self) -> float:
        return self.weight.likely

    @property
    def is_vague(self) -> bool:
        return self.weight.is_wide

    @property
    def to_buy_g(self) -> float:
        """What is still to be bought, at the most the lines may mean; 0 where enough is at home."""
        return max(self.weight.most - self.at_home, 0.0)

    @property
    def is_at_home(self) -> bool:
        return self.to_buy_g <= 0

    def packs(self, region: str = "us") -> Packs | None:
        """As a shop sells it; None for what is sold loose, or not to be bought."""
        return packs_for(self.to_buy_g, sizes_of(self.food_id, region))


@dataclass(frozen=True, slots=True)
class Shopping:
    """By aisle in walking order, and the lines that could not be put on it: no food or no weight."""

    aisles: tuple[tuple[str, tuple[Item, ...]], ...]
    unread: tuple[str, ...]

    @property
    def at_home(self) -> tuple[Item, ...]:
        """What is wanted and need not be bought."""
        return tuple(item for _, items in self.aisles for item in items if item.is_at_home)

    @property
    def to_buy(self) -> tuple[tuple[str, tuple[Item, ...]], ...]:
        """The aisles with what is still to be bought."""
        found = ((aisle, tuple(item for item in items if not item.is_at_home)) for aisle, items in self.aisles)
        return tuple((aisle, items) for aisle, items in found if items)

    @property
    def columns(self) -> tuple[tuple[Any, ...], tuple[Any, ...]]:
        """The aisles in two columns of about the same length, in walking order."""
        sizes = [len(items) + 1.5 for _, items in self.aisles]
        splits = range(len(sizes) + 1)
        at = min(splits, key=lambda n: (abs(sum(sizes[:n]) - sum(sizes[n:])), -n))
        return self.aisles[:at], self.aisles[at:]


@dataclass(frozen=True, slots=True)
class Wanted:
    """A dish to shop for, `times` its recipe, with the label ceilings of its lines."""

    title: str
    lines: Sequence[Line]
    times: float = 1.0
    ceilings: Sequence[Ceiling] = ()


def shopping(dishes: Sequence[Wanted], at_home: Mapping[str, float] = MappingProxyType({})) -> Shopping:
    """Merge and sort. `at_home`: food id -> grams. Raises ValueError when a dish is wanted less than a little or more than 100 times."""
    totals: dict[str, Grams] = {}
    wanted_by: dict[str, dict[str, None]] = {}
    limits: dict[str, list[Ceiling]] = {}
    unread = []
    for dish in dishes:
        if not 0 < dish.times <= 100:
            raise ValueError(f"{dish.times:g} times {dish.title} was read; more than 0 and up to 100 is expected")
        for position, line in enumerate(dish.lines):
            if not line.is_weighed:
                unread.append(line.text)
                continue
            food_id, grams = weight_as_bought(line)
            factor = dish.times * grams / line.grams if line.grams else dish.times
            totals[food_id] = totals.get(food_id, NONE) + line.span * factor
            wanted_by.setdefault(food_id, {})[dish.title] = None
            limits.setdefault(food_id, []).extend(c for c in dish.ceilings if c.line == position)
    by_aisle: dict[str, list[Item]] = {}
    for food_id, weight in totals.items():
        measure = household_measure(foods().by_id(food_id), weight.likely) if weight.likely else ""
        wanted = tuple(wanted_by[food_id])
        there = at_home.get(food_id, 0.0)
        item = Item(food_id, cook_name(food_id), weight, measure, wanted, _strictest(limits[food_id]), there)
        by_aisle.setdefault(aisle_of(food_id), []).append(item)
    order = sorted(by_aisle, key=AISLES.index)
    found = tuple(
        (aisle, tuple(sorted(by_aisle[aisle], key=lambda item: item.name.lower()))) for aisle in order if aisle != HOME
    )
    return Shopping(found, tuple(dict.fromkeys(unread)))


def _strictest(found: Sequence[Ceiling]) -> tuple[Ceiling, ...]:
    """One ceiling a nutrient: the lowest of all lines and dishes."""
    lowest: dict[str, Ceiling] = {}
    for each in found:
        now = lowest.get(each.nutrient)
        if now is None or each.room < now.room:
            lowest[each.nutrient] = each
    return tuple(lowest.values())
