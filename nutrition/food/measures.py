"""What a cup, a spoon or a piece of a food weighs: tables/household_weights.tsv, the most exact row first."""

import fnmatch
import functools
import re
from collections.abc import Sequence
from dataclasses import dataclass

from nutrition.food.table import Food, foods
from nutrition.food.units import ML, household, kitchen_number
from nutrition.tables import pattern, read_table

#: The measures a volume may be weighed by, the steadiest first.
_SPOONS = ("cup", "tbsp", "tsp", "fl oz")


@dataclass(frozen=True, slots=True)
class Measure:
    """One household measure of a food: `name` ("cup chopped", "each") weighs `grams`. `is_average`: of its whole
    class."""

    name: str
    grams: float
    source: str
    is_average: bool = False


@dataclass(frozen=True, slots=True)
class _Row:
    """One row of the table. `is_average`: it stands for a category."""

    grams: dict[str, float]
    source: str
    is_average: bool

    def measure(self, name: str) -> Measure:
        return Measure(name, self.grams[name], self.source, self.is_average)


@functools.cache
def _rows() -> tuple[dict[str, _Row], list[tuple[str, re.Pattern[str], _Row]], dict[str, _Row]]:
    """By exact description in lower case; by pattern, the longest first; by category."""
    exact, patterns, categories = {}, [], {}
    for row in read_table("household_weights.tsv"):
        food, is_average = row["food"], row["food"].startswith("category:")
        entry = _Row(row.amounts("measures"), row.text("source"), is_average)
        if is_average:
            categories[food.removeprefix("category:")] = entry
        elif "*" in food:
            patterns.append((food, re.compile(fnmatch.translate(food), re.I), entry))
        else:
            exact[food.lower()] = entry
    patterns.sort(key=lambda item: -len(item[0]))
    return exact, patterns, categories


@functools.lru_cache(maxsize=8192)
def _rows_of(description: str, category: str) -> tuple[_Row, ...]:
    """The rows that may serve a food, the most exact first."""
    exact, patterns, categories = _rows()
    found = [exact[description.lower()]] if description.lower() in exact else []
    found += [entry for _, words, entry in patterns if words.match(description)]
    if category in categories:
        found.append(categories[category])
    return tuple(found)


def _rows_for(food: Food) -> tuple[_Row, ...]:
    """As `_rows_of`; what a label says of its own serving comes first."""
    rows = _rows_of(food.description, food.category)
    own = foods().measures.get(food.id)
    return (_Row(own, food.source, False), *rows) if own else rows


def measures_of(food: Food) -> tuple[Measure, ...]:
    """Every measure of the most exact row there is for a food; none where there is no row."""
    rows = _rows_for(food)
    return tuple(rows[0].measure(name) for name in rows[0].grams) if rows else ()


def find_measure(food: Food, names: Sequence[str]) -> Measure | None:
    """The first of the names that the most exact row knows."""
    return next(
        (row.measure(name) for row in _rows_for(food) for name in names if name in row.grams),
        None,
    )


def grams_per_ml(food: Food, unit: str = "cup", form: str = "") -> tuple[float, Measure] | None:
    """Grams of a milliliter, and the measure it rests on; None when the food has no volume.

    Spoons of a food may be packed otherwise than cups: of spoons the nearest spoon counts, of the rest the cup.
    """
    small = unit in ("tsp", "tbsp", "dsp", "dash", "pinch", "smidgen")
    order = (unit, "tsp", "tbsp", "cup") if small else (unit, *_SPOONS)
    for row in _rows_for(food):
        if row.is_average and pattern("liquid").search(food.description):
            continue  # a liquid's cup never comes from a class of solids
        for spoon in order:
            for name in (f"{spoon} {form}", spoon) if form else (spoon,):
                if name in row.grams and spoon in ML:
                    return row.grams[name] / ML[spoon], row.measure(name)
    return None


_COUNTED = frozenset(
    (
        "Vegetables and Vegetable Products",
        "Fruits and Fruit Juices",
        "Poultry Products",
        "Pork Products",
        "Beef Products",
        "Finfish and Shellfish Products",
        "Dairy and Egg Products",
        "Sausages and Luncheon Meats",
    )
)


#: What no cook measures in cups.
_NOT_BY_CUP = frozenset(
    (
        "Beef Products",
        "Pork Products",
        "Poultry Products",
        "Baked Products",
        "Sausages and Luncheon Meats",
        "Finfish and Shellfish Products",
        "Lamb, Veal, and Game Products",
    )
)


#: An eighth of a teaspoon, less what the eye allows; less than that is a pinch.
LEAST_SPOON_ML = 0.5


def piece_of(food: Food) -> float | None:
    """Grams of one, where the food itself is counted; a class average counts nothing."""
    own = (row for row in _rows_of(food.description, food.category) if not row.is_average)
    return next((row.grams["each"] for row in own if "each" in row.grams), None)


def _clove_of(food: Food) -> float | None:
    """Grams of a clove, of what is taken by the clove."""
    own = (row for row in _rows_of(food.description, food.category) if not row.is_average)
    return next((row.grams["clove"] for row in own if "clove" in row.grams), None)


def household_measure(food: Food, grams: float) -> str:
    """Grams in the measure a US cook would reach for; empty when the food has none.

    >>> from nutrition.food.table import foods
    >>> household_measure(foods().by_description("Sugars, granulated"), 100)
    '½ cup'
    >>> household_measure(foods().by_description("Garlic, raw"), 27)
    '9 cloves'
    """
    loose = re.search(r"canned|frozen|juice|cooked|dried", food.description)
    one = piece_of(food) if food.category in _COUNTED and not loose else None
    if one and one >= 15 and grams >= one / 2:
        return f"about {kitchen_number(round(2 * grams / one) / 2)}"
    if not loose and (clove := _clove_of(food)) and grams >= clove / 2:
        count = round(grams / clove) or 1
        return f"{count} clove{'s' * (count > 1)}"
    per_ml = grams_per_ml(food)
    if per_ml is None or (food.category in _NOT_BY_CUP and "crumbs" not in food.description):
        return ""
    ml = grams / per_ml[0]
    return household(ml) if ml >= LEAST_SPOON_ML else "a pinch"
