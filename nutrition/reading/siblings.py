"""The nearest food of the same family that keeps what the words of a line promise.

"Cheddar, fat-free" read as cheddar is no fat-free cheese: its sibling "Cheese, Cheddar, nonfat or fat free" is. A
family is what the same words name: their last noun is what the food is, not something in it.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from nutrition.food.names import normalized
from nutrition.food.table import RETIRED, Food, foods
from nutrition.reading.promises import Said, promises
from nutrition.tables import pattern, words_of


@dataclass(frozen=True, slots=True)
class Sibling:
    """A food that keeps all that was said. `unsaid`: what its description says beyond the words of the line."""

    food: Food
    unsaid: tuple[str, ...]


def _plain(description: str) -> str:
    return pattern("neutral_phrases").sub("", description)


def _is_what_it_is(description: str, family: Sequence[str], known: set[str], around: set[str]) -> bool:
    """Whether the last word of the family is what the food is, not what is in it: spinach is no spinach soup.

    `around`: what it lies in: prunes in juice are no prune juice.
    """
    parts = [normalized(part).split() for part in description.split(",")[:3]]
    first = " ".join(parts[0]).split(" or ")
    if not any(set(each.split()) <= known for each in first) or parts[0][-1] in around:
        return False
    return any(family[-1] in part and part[-1] not in around for part in parts)


def _explained(said: Sequence[Said], description: str) -> set[str]:
    """Words of a description that show what was said."""
    shown = [found[0] for each in said if (keeps := each.promise.keeps) for found in keeps.finditer(description)]
    return {token for words in (*shown, *(each.words for each in said)) for token in normalized(words).split()}


def siblings(of: Food, family: Sequence[str], said: Sequence[Said], postings: dict[str, np.ndarray]) -> list[Sibling]:
    """Foods that hold all words of the family and keep all promises, those that say least beyond it first.

    `of`: the food that does not, whose class they share: cranberry beans are no berries. `postings`: word -> rows of the descriptions that have it.
    """
    if not family or any(token not in postings for token in family):
        return []
    rows = postings[family[0]]
    for token in family[1:]:
        rows = np.intersect1d(rows, postings[token], assume_unique=True)
    classes = {"spice", *words_of("class").keys() & set(normalized(of.description.split(",")[0]).split())}
    found = [each for row in rows.tolist() if (each := _sibling(foods().food(row), family, said, classes))]
    promised = {each.promise.number for each in said}
    return sorted(
        found, key=lambda each: (len(each.unsaid), _says_more(each.food, promised), _rank(each.food), each.food.row)
    )


def _sibling(food: Food, family: Sequence[str], said: Sequence[Said], classes: set[str]) -> Sibling | None:
    """The food as one of the family, if it is one and keeps all that was said."""
    if food.kind == RETIRED or pattern("composed_or_for_babies").search(food.category):
        return None
    known = {*family, *_explained(said, food.description), *words_of("neutral"), *classes}
    around = {token for each in said if each.words.lower().startswith("in ") for token in each.tokens}
    if not _is_what_it_is(food.description, family, known, around) or not all(_keeps(food, each) for each in said):
        return None
    first, _, rest = _plain(food.description).partition(",")
    words = rest if " or " in first else f"{first} {rest}"
    # What stands before the noun makes another food of it, however little it says elsewhere: wild rice is no white rice boiled.
    own = {*family, *_explained(said, food.description), *classes}
    before = (token for token in normalized(first).split() if " or " not in first and token not in own)
    unsaid = (*(token for token in normalized(words).split() if token not in known), *before)
    return Sibling(food, tuple(dict.fromkeys(unsaid)))


def _keeps(food: Food, said: Said) -> bool:
    """Whether it keeps what was said and is a thing it can be said of."""
    return said.is_kept(food) and said.can_be_said_of(food)


_KINDS = {"Curated": 0, "SR Legacy": 1, "Foundation": 1, "FNDDS": 2}


def _rank(food: Food) -> int:
    return _KINDS.get(food.kind, 0)


def _says_more(food: Food, promised: set[int]) -> int:
    """How many promises its description makes that the line does not."""
    words = _plain(food.description)
    return sum(1 for each in promises() if each.number not in promised and each.words.search(words))
