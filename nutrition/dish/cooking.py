"""What the kitchen does to a line: draining what comes in a can, and what boiling, browning or simmering leave.

A method (tables/cooking_methods.tsv) multiplies a line's values by the share kept, as least, likely and
most; the weight of the line stays the weight as bought. Draining swaps the can with its liquid for the drained food
of the table and takes the liquid's weight off; rinsing takes a tenth more of the sodium (Duyff, Mount and Jones 2011: drained 36 % less sodium,
drained and rinsed 41 % less). Foods and shares: tables/draining.tsv.
"""

import functools
import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from nutrition.dish.line import Line
from nutrition.dish.method import HOWS
from nutrition.dish.naming import description_of
from nutrition.food.nutrients import INDEX, KEYS
from nutrition.food.table import foods, remembered
from nutrition.notes import NOTHING, Problem, note
from nutrition.tables import Row, read_table

AS_IS, DRAINED, RINSED = "as it is", "drained", "drained and rinsed"


@remembered
def _rows() -> dict[str, dict[str, tuple[str, float]]]:
    """food id -> state -> (food id, grams in that state per gram in the can's full state)"""
    table = foods()
    found: dict[str, dict[str, tuple[str, float]]] = {}
    for row in read_table("draining.tsv"):
        share = row.number("drained_share")
        states = ((AS_IS, "in_liquid", 1.0), (DRAINED, "drained", share), (RINSED, "rinsed", share))
        family = {
            state: (row.as_(column, table.by_description, "a food of the table").id, part)
            for state, column, part in states
            if row[column]
        }
        for food_id, _ in family.values():
            found.setdefault(food_id, family)
    return found


def as_bought(food_id: str, key: str) -> float:
    """What 100 g of a drained or rinsed food hold of a nutrient, as a share of 100 g of the can as its label has it.

    1 for everything that is used as it was bought.

    >>> table = foods()
    >>> name = "Chickpeas (garbanzo beans, bengal gram), mature seeds, canned, drained, rinsed in tap water"
    >>> 0.5 < as_bought(table.by_description(name).id, "sodium_mg") < 0.9
    True
    """
    can = _rows().get(food_id, {}).get(AS_IS)
    if not can or can[0] == food_id:
        return 1.0
    table, column = foods(), INDEX[key]
    here, there = (float(table.at_most_per_100g[table.by_id(each).row, column]) for each in (food_id, can[0]))
    return here / there if there > 0 else 1.0


def weight_as_bought(line: Line) -> tuple[str, float]:
    """(food id, grams) of what is bought for a line: the can with its liquid for what is used drained."""
    family = _rows().get(line.food_id or "", {})
    state = state_of(line.food_id)
    if AS_IS not in family or state == AS_IS:
        return line.food_id or "", line.span.likely
    return family[AS_IS][0], line.span.likely / family[state][1]


Range = tuple[float, float, float]


def _range(text: str) -> Range:
    """Least, likely, most, as the tables write them.

    >>> _range("0.4/0.5/0.65")
    (0.4, 0.5, 0.65)
    """
    least, likely, most = (float(part) for part in text.split("/"))
    return least, likely, most


@dataclass(frozen=True, slots=True)
class Method:
    """One row of cooking_methods.tsv. `does`: what a step must do for it to be on offer; `left`: what a step leaves behind of the line;
    `kept`: nutrient key -> share left, least, likely, most."""

    key: str
    label: str
    applies: re.Pattern[str]
    unless: re.Pattern[str]
    does: re.Pattern[str]
    left: str
    weight: Range
    kept: dict[str, Range]
    source: str

    def suits(self, food_id: str) -> bool:
        food = foods().by_id(food_id)
        return self.suits_kind(f"{food.category}: {food.description}")

    def suits_kind(self, kind: str) -> bool:
        """Whether it makes sense of what is described as "category: description"."""
        return bool(self.applies.search(kind)) and not (
            self.unless.pattern and self.unless.search(kind.partition(": ")[2] or kind)
        )


def _kept(cell: str) -> dict[str, Range]:
    found = {key: _range(shares) for key, shares in (pair.split("=") for pair in cell.split(";"))}
    if strange := found.keys() - {"all", *KEYS}:
        raise ValueError(", ".join(sorted(strange)))
    return found


def _method(row: Row) -> Method:
    kept = row.as_("kept", _kept, "nutrient=least/likely/most, with “;” between")
    everything = kept.pop("all", None)
    if everything:
        kept = dict.fromkeys(KEYS, everything) | kept
    applies, unless, does = (row.pattern(name, re.I) for name in ("applies", "not", "does"))
    weight = row.as_("weight", _range, "least/likely/most")
    return Method(
        row.text("key"),
        row.text("label"),
        applies,
        unless,
        does,
        row.one_of("left", (*HOWS, "")),
        weight,
        kept,
        row.text("source"),
    )


@functools.cache
def methods() -> dict[str, Method]:
    """Every method by key, in the table's order."""
    return {row["key"]: _method(row) for row in read_table("cooking_methods.tsv")}


@functools.lru_cache(maxsize=20_000)
def left_as(how: str, kind: str) -> Method | None:
    """What was done to a line of which a step leaves something behind; `kind`: "category: description" of its food.

    >>> left_as("left_in_pan", "Fats and Oils: Oil, sunflower").key, left_as("bone", "Poultry: Chicken, wing").key
    ('fried-in', 'with-bone-wings')
    """
    return next((method for method in methods().values() if method.left == how and method.suits_kind(kind)), None)


@remembered
def kept(food_id: str, method_key: str) -> np.ndarray:
    """(3, nutrients): the share of a food's values left by a method, least, likely, most.

    Energy follows what protein, fat, carbohydrate and alcohol are lost (Atwater 4/9/4/7).
    Raises KeyError for a method that is not in the table.
    """
    method, table = methods()[method_key], foods()
    shares = np.ones((3, len(KEYS)))
    for key, sides in method.kept.items():
        shares[:, INDEX[key]] = sides
    if "energy_kcal" not in method.kept:
        values = table.known[table.by_id(food_id).row]
        energy = values[INDEX["energy_kcal"]]
        factors = (("protein_g", 4), ("fat_g", 9), ("carbohydrate_g", 4), ("alcohol_g", 7))
        for side in range(3):
            lost = sum(f * values[INDEX[key]] * (1 - shares[side, INDEX[key]]) for key, f in factors)
            shares[side, INDEX["energy_kcal"]] = max(1 - lost / energy, 0.0) if energy > 0 else 1.0
    shares.setflags(write=False)
    return shares


#: Of a line of which a step takes a part: the share of it, least, likely and most, that what it does is done to.
_SHARES = {"all": (1.0, 1.0, 1.0), "half": (0.4, 0.5, 0.6), "part": (0.0, 0.25, 0.6), "rest": (0.4, 0.75, 1.0)}


def share_eaten(line: Line) -> np.ndarray | None:
    """(3, nutrients): the share of a line's values that is eaten, least, likely, most; None where all is.

    What was only read of the steps never makes the most less: until somebody says so, all of it may be eaten.
    """
    if not line.food_id or not (line.state or line.leaves) or not foods().has_id(line.food_id):
        return None
    return _share_eaten(line.food_id, line.state, line.left_for_certain, line.left_open)


@remembered
def _share_eaten(
    food_id: str, state: str, certain: tuple[tuple[str, str], ...], open_: tuple[tuple[str, str], ...]
) -> np.ndarray:
    eaten = np.array(kept(food_id, state)) if state else np.ones((3, len(KEYS)))
    for left in certain:
        eaten *= _left(food_id, *left)
    for left in open_:
        eaten[:2] *= _left(food_id, *left)[:2]
    eaten.setflags(write=False)
    return eaten


def _left(food_id: str, key: str, share: str) -> np.ndarray:
    """(3, nutrients): what is eaten where a step does this to a share of a line."""
    least, likely, most = _SHARES[share]
    gone = 1 - np.minimum(kept(food_id, key), 1.0)
    eaten: np.ndarray = 1 - gone * np.array([[most], [likely], [least]])
    return eaten


@remembered
def methods_for(food_id: str | None) -> tuple[Method, ...]:
    """What the kitchen may do to this food, apart from draining."""
    return tuple(method for method in methods().values() if method.suits(food_id)) if food_id else ()


def with_method(line: Line, key: str) -> Line:
    """The line cooked by a method, or with none when `key` is empty. Raises Problem when it makes no sense."""
    if key and (key not in methods() or not line.food_id or not methods()[key].suits(line.food_id)):
        raise _cannot_be(line, methods()[key].label if key in methods() else key)
    return replace(line, state=key)


@functools.cache
def _yields() -> tuple[tuple[re.Pattern[str], Range, bool, str, str], ...]:
    return tuple(
        (
            row.pattern("words", re.I),
            row.as_("weight", _range, "least/likely/most"),
            row.yes("takes_water"),
            row.text("kind"),
            row.text("source"),
        )
        for row in read_table("yields.tsv")
    )


@dataclass(frozen=True, slots=True)
class CookedWeight:
    """What the whole dish weighs when cooked, in grams. `rule` says how it is known."""

    least: float
    likely: float
    most: float
    rule: str
    is_measured: bool = False

    def per_serving(self, serves: float) -> "CookedWeight":
        return replace(self, least=self.least / serves, likely=self.likely / serves, most=self.most / serves)


def _yield_of(line: Line) -> tuple[Range, bool]:
    if line.state:
        return methods()[line.state].weight, False
    weight, takes_water = _yield_of_food(line.food_id or "")
    least, likely, most = weight
    for key, _ in line.left_for_certain:
        least, likely, most = (
            side * min(left, 1.0) for side, left in zip((least, likely, most), methods()[key].weight, strict=True)
        )
    for key, _ in line.left_open:
        least, likely = least * min(methods()[key].weight[0], 1.0), likely * min(methods()[key].weight[1], 1.0)
    return (least, likely, most), takes_water


@remembered
def _yield_of_food(food_id: str) -> tuple[Range, bool]:
    food = foods().by_id(food_id)
    text = f"{food.category}: {food.description}"
    weight, takes_water = next((weight, water) for words, weight, water, _, _ in _yields() if words.search(text))
    return weight, takes_water


def cooked_weight(lines: Sequence[Line], measured: float | None = None) -> CookedWeight:
    """The dish cooked: as measured on a scale if it was, else an estimate by kind of food, with its range.

    Starches take up water from the pot first; what the pot does not hold is added.
    """
    if measured:
        return CookedWeight(measured, measured, measured, "weighed by the cook", True)
    totals, taken, pot = np.zeros(3), np.zeros(3), 0.0
    for line in lines:
        if not line.is_weighed:
            continue
        weight, takes_water = _yield_of(line)
        totals += np.array(tuple(line.span)) * weight
        if takes_water:
            taken += line.span.likely * (np.array(weight) - 1)
        elif re.match(r"(Water|Soup|Stock|Beverages, water)", description_of(line)):
            pot += line.span.likely
    totals -= np.minimum(taken, pot)
    least, likely, most = sorted(totals)
    return CookedWeight(least, likely, most, "estimated by kind of food, USDA AH-102 in the manner of")


def states(food_id: str | None) -> tuple[str, ...]:
    """The states a food of the table may be brought to; empty when draining does nothing to it."""
    return tuple(_rows().get(food_id or "", ()))


def state_of(food_id: str | None) -> str:
    """The state a food of the table is already in.

    >>> state_of("curated:" + "chickpeas-garbanzo-beans-bengal-gram-mature-seeds-canned-drained-solids")
    'drained'
    """
    return next((s for s, (food, _) in _rows().get(food_id or "", {}).items() if food == food_id), AS_IS)


def _cannot_be(line: Line, state: str) -> Problem:
    return Problem("dish.no_such_state", line=description_of(line) or "This line", state=state)


def bring_to(line: Line, state: str) -> Line:
    """The line drained, or drained and rinsed, or back in its liquid. Raises Problem when it cannot be."""
    family = _rows().get(line.food_id or "", {})
    if state not in family:
        raise _cannot_be(line, state)
    food_id, part = family[state]
    factor = part / family[state_of(line.food_id)][1]
    rule = note("dish.brought_to", state=state, share=factor) if abs(factor - 1) > 0.001 else line.rule
    return line.scaled(factor).edited(food_id=food_id, ask=NOTHING, sure="likely", rule=rule)


def treatments(line: Line) -> list[tuple[str, str, bool]]:
    """What the kitchen may do to a line: (key, words, whether it stands now). Draining first, then methods.

    Empty when there is nothing to choose.
    """
    if not line.food_id:
        return []
    family, now = states(line.food_id), state_of(line.food_id)
    possible = methods_for(line.food_id)
    if not family and not possible:
        return []
    rest = family or (AS_IS,)
    found = [(state, state, state == now and not line.state) for state in rest]
    return found + [(method.key, method.label, method.key == line.state) for method in possible]


def treated(line: Line, key: str) -> Line:
    """The line in a state of draining, or cooked by a method. Raises Problem when it makes no sense."""
    if key in methods():
        return with_method(line, key)
    plain = replace(line, state="")
    if key == AS_IS and not states(line.food_id):
        return plain
    return bring_to(plain, key)
