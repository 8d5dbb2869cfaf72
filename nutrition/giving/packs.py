"""Amounts as shops sell them: which packs hold what is wanted, with the least left over."""

import functools
import itertools
import math
import re
from dataclasses import dataclass

from nutrition.food.table import foods, remembered
from nutrition.tables import Row, read_table

REGIONS = ("us", "eu")
#: A pack may hold so much less than is wanted and still do, as a share of it: a tin of 400 g where a can of 15 oz is asked for.
SHORT_BY = 0.06
#: What one pack more costs, as a share of what is wanted left over: one large pack rather than three small ones.
ONE_MORE = 0.15
#: What is sold loose is weighed out in steps of so many grams.
LOOSE_G = 50.0


@dataclass(frozen=True, slots=True)
class Size:
    """One size of a pack: "bag of 1 kg", and the grams in it."""

    words: str
    grams: float


@dataclass(frozen=True, slots=True)
class Packs:
    """So many packs of one size."""

    count: int
    size: Size

    @property
    def grams(self) -> float:
        return self.count * self.size.grams

    def __str__(self) -> str:
        container, _, rest = self.size.words.partition(" ")
        name = container if self.count == 1 else _several(container)
        return " ".join(filter(None, (str(self.count), name, rest)))


def _several(container: str) -> str:
    if container == "loaf":
        return "loaves"
    return f"{container}{'es' if container.endswith(('x', 'ch')) else 's'}"


@functools.cache
def _rows() -> tuple[tuple[re.Pattern[str], dict[str, tuple[Size, ...]]], ...]:
    def sizes(row: Row, region: str) -> tuple[Size, ...]:
        return tuple(itertools.starmap(Size, row.amounts(region).items()))

    rows = read_table("packs.tsv")
    return tuple((row.pattern("words"), {region: sizes(row, region) for region in REGIONS}) for row in rows)


@remembered
def sizes_of(food_id: str, region: str = "us") -> tuple[Size, ...]:
    """The sizes a food is sold in; nothing for what is sold loose, and for own foods, whose packs nobody has told.

    >>> from nutrition.food.table import foods
    >>> [size.words for size in sizes_of(foods().by_description("Butter, without salt").id)]
    ['stick of 4 oz', 'pack of 1 lb']
    """
    food = foods().by_id(food_id)
    text = f"{food.category}: {food.description}"
    return next((sizes[region] for words, sizes in _rows() if words.search(text)), ())


def packs_for(grams: float, sizes: tuple[Size, ...]) -> Packs | None:
    """What to take from the shelf for so many grams; None for what is sold loose, or where nothing is wanted.

    >>> str(packs_for(820, (Size("tin of 400 g", 400), Size("tin of 800 g", 800))))
    '1 tin of 800 g'
    >>> str(packs_for(450, (Size("loaf of 400 g", 400),)))
    '2 loaves of 400 g'
    """
    if grams <= 0 or not sizes:
        return None
    enough = ((size, max(math.ceil((1 - SHORT_BY) * grams / size.grams), 1)) for size in sizes)
    found = (Packs(count, size) for size, count in enough)
    return min(found, key=lambda each: (each.grams - grams) / grams + ONE_MORE * (each.count - 1))


def loose(grams: float) -> float:
    """What is weighed out of something sold loose: up to the next step.

    >>> loose(212), loose(50), loose(8)
    (250.0, 50.0, 50.0)
    """
    return LOOSE_G * math.ceil(round(grams / LOOSE_G, 6))
