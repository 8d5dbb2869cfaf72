"""What the words of a line promise of its food, wherever they stand, and which foods keep it.

"Pasta, gluten-free", "mince, 5 % fat", "cod, salted": a food that does not keep what was written is not the food that
was meant, and is never taken for it. tables/promises.tsv.
"""

import functools
import math
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from nutrition.food.contents import hits_of_food
from nutrition.food.names import normalized
from nutrition.food.nutrients import INDEX, KEYS
from nutrition.food.table import Food, foods, remembered
from nutrition.food.tags import CONTAINS, TAGS
from nutrition.tables import Row, read_table

#: How far a food may be from the fat its words name: in grams per 100 g, or as a share of it.
FAT_WITHIN_G, FAT_WITHIN_SHARE = 0.6, 0.2
#: What is not water, as far as the table measures it; read from `nutrient` of promises.tsv.
DRY_MATTER = "dry_matter_g"
_DRY = [INDEX[key] for key in ("protein_g", "fat_g", "carbohydrate_g")]


#: What a question may be about: words that promise one of these answer it.
TOPICS = ("salt", "sweet", "fat", "can", "dry", "cooked", "roast", "syrup", "liquid", "gluten", "alcohol")


@dataclass(frozen=True, slots=True)
class Promise:
    """One row of promises.tsv. `answers`: TOPICS of questions it settles; `soft`: "yes" or "ask" where a food that does not say so may stand for it."""

    number: int
    words: re.Pattern[str]
    keeps: re.Pattern[str] | None
    breaks: re.Pattern[str] | None
    only: re.Pattern[str] | None
    free_of: frozenset[str]
    nutrient: str
    bounds: Callable[[str], tuple[float, float]]
    answers: frozenset[str]
    soft: str

    def is_kept(self, food: Food, figure: str = "") -> bool:
        """Whether a food keeps it. `figure`: the number the words name, where they name one."""
        if self.only and not self.only.search(food.category):
            return True
        if self.breaks and self.breaks.search(food.description):
            return False
        if self.is_shown(food):
            return True
        if self.free_of:
            return not any(hit.verdict == CONTAINS and hit.tag in self.free_of for hit in hits_of_food(food.id))
        if not self.nutrient:
            return self.keeps is None
        least, most = self.bounds(figure)
        value = _value(food, self.nutrient)
        return not math.isnan(value) and least <= value <= most

    def is_shown(self, food: Food) -> bool:
        """Whether the description says so in words."""
        return bool(self.keeps and self.keeps.search(food.description))


def _value(food: Food, nutrient: str) -> float:
    values = foods().per_100g[food.row]
    return float(sum(values[_DRY])) if nutrient == DRY_MATTER else float(values[INDEX[nutrient]])


@dataclass(frozen=True, slots=True)
class Said:
    """A promise a line makes, in its own words; `figure`: the number they name."""

    promise: Promise
    words: str
    figure: str = ""

    def is_kept(self, food: Food) -> bool:
        return _is_kept(self.promise.number, food.id, self.figure)

    def can_be_said_of(self, food: Food) -> bool:
        return not (self.promise.only and not self.promise.only.search(food.category))

    @property
    def tokens(self) -> tuple[str, ...]:
        """The words as names are compared."""
        return tuple(normalized(self.words).split())


def _bounds(row: Row) -> Callable[[str], tuple[float, float]]:
    """Figure named -> (least, most) that keeps the promise."""
    most = row["most"]
    if most not in ("percent", "100-percent"):
        fixed = row.number("least", 0.0), row.number("most", math.inf)
        return lambda figure: fixed

    def around(figure: str) -> tuple[float, float]:
        said = float(figure.replace(",", "."))
        fat = 100 - said if most.startswith("100-") else said
        within = max(FAT_WITHIN_G, FAT_WITHIN_SHARE * fat)
        return fat - within, fat + within

    return around


@functools.cache
def promises() -> tuple[Promise, ...]:
    """All that is known to be promised."""
    return tuple(
        Promise(
            number,
            row.pattern("words", re.I),
            row.pattern_or_none("keeps", re.I),
            row.pattern_or_none("breaks", re.I),
            row.pattern_or_none("only"),
            row.words("free_of", TAGS),
            row.one_of("nutrient", ("", DRY_MATTER, *KEYS)),
            _bounds(row),
            row.words("answers", TOPICS),
            row.one_of("soft", ("", "ask", "open", "yes")),
        )
        for number, row in enumerate(read_table("promises.tsv"))
    )


@remembered
def _is_kept(number: int, food_id: str, figure: str) -> bool:
    return promises()[number].is_kept(foods().by_id(food_id), figure)


@functools.lru_cache(maxsize=8192)
def said_in(words: str) -> tuple[Said, ...]:
    """What the words of a line promise.

    >>> [said.words for said in said_in("100 g tomatoes, sun-dried, no salt added")]
    ['no salt added', 'sun-dried']
    """
    return tuple(
        Said(promise, found[0].strip(" ,)"), found[1] if promise.words.groups else "")
        for promise in promises()
        if (found := promise.words.search(words))
    )


def broken_by(food: Food, said: Sequence[Said], name: str = "") -> list[Said]:
    """The promises a food does not keep.

    `name`: the cook's name that chose the food; what is part of it was chosen with it ("vegan mayonnaise").

    >>> table = foods()
    >>> [each.words for each in broken_by(table.by_description("Pasta, dry, enriched"), said_in("pasta, gluten-free"))]
    ['gluten-free']
    >>> broken_by(table.by_description("Butter, without salt"), said_in("250 g butter, unsalted"))
    []
    """
    chosen_with = set(normalized(name).split())
    return [each for each in said if not set(each.tokens) <= chosen_with and not each.is_kept(food)]
