"""What the words of a line promise of its food, wherever they stand, and whether the food chosen keeps it.

"Pasta, gluten-free", "mince, 5 % fat", "cod, salted": a food that does not keep what was written is not the food that
was meant, and nobody may take it for sure. tables/promises.tsv.
"""

import functools
import math
import re
from collections.abc import Callable
from dataclasses import dataclass

from nutrition.food.contents import CONTAINS, hits_of_food
from nutrition.food.names import normalized
from nutrition.food.nutrients import INDEX
from nutrition.food.table import Food, foods
from nutrition.tables import read_table

#: How far a food may be from the fat its words name: in grams per 100 g, or as a share of it.
FAT_WITHIN_G, FAT_WITHIN_SHARE = 0.6, 0.16


@dataclass(frozen=True, slots=True)
class _Promise:
    words: re.Pattern[str]
    keeps: re.Pattern[str] | None
    free_of: frozenset[str]
    nutrient: str
    bounds: Callable[[re.Match[str]], tuple[float, float]]

    def is_kept(self, food: Food, said: re.Match[str]) -> bool:
        if self.keeps and self.keeps.search(food.description):
            return True
        if self.free_of:
            return not any(hit.verdict == CONTAINS and hit.tag in self.free_of for hit in hits_of_food(food.id))
        if not self.nutrient:
            return False
        value = float(foods().per_100g[food.row, INDEX[self.nutrient]])
        least, most = self.bounds(said)
        return not math.isnan(value) and least <= value <= most


def _bounds(least: str, most: str) -> Callable[[re.Match[str]], tuple[float, float]]:
    if not most.endswith("percent"):
        fixed = float(least or 0), float(most or math.inf)
        return lambda said: fixed

    def around(said: re.Match[str]) -> tuple[float, float]:
        figure = float(said[1])
        fat = 100 - figure if most.startswith("100-") else figure
        within = max(FAT_WITHIN_G, FAT_WITHIN_SHARE * fat)
        return fat - within, fat + within

    return around


@functools.cache
def _promises() -> tuple[_Promise, ...]:
    return tuple(
        _Promise(
            re.compile(row["words"], re.I),
            re.compile(row["keeps"], re.I) if row["keeps"] else None,
            frozenset(row["free_of"].split()),
            row["nutrient"],
            _bounds(row["least"], row["most"]),
        )
        for row in read_table("promises.tsv")
    )


def broken_promise(text: str, food: Food, name: str = "") -> str:
    """The first words of a line that its food does not keep; empty when it keeps all.

    `name`: the cook's name that chose the food; what is part of it was chosen with it ("vegan mayonnaise").

    >>> table = foods()
    >>> broken_promise("300 g pasta, gluten-free", table.by_description("Pasta, dry, enriched"))
    'gluten-free'
    >>> broken_promise("250 g butter, unsalted", table.by_description("Butter, without salt"))
    ''
    """
    chosen_with = set(normalized(name).split())
    for promise in _promises():
        said = promise.words.search(text)
        if said and not set(normalized(said[0]).split()) <= chosen_with and not promise.is_kept(food, said):
            return said[0]
    return ""
