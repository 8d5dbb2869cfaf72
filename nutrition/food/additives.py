"""Additives of an ingredient list: read by name and by number in all the ways labels print them, with what each brings.

"emulsifiers (E471, 322)", "acidity regulators: 450(i), 451", "INS 340ii", "SAPP": a number is read as its name first
(`by_name`), so that whoever looks for allergens, phosphates or polyols in a list looks for words only. tables/additives.tsv.
"""

import functools
import re
from dataclasses import dataclass

from nutrition.tables import pattern, read_table

#: What limits hang on, in the order it is told.
KINDS = ("phosphate", "potassium", "polyol", "erythritol", "aspartame")


@dataclass(frozen=True, slots=True)
class Additive:
    """One row of additives.tsv. `words` None: known by its number only."""

    numbers: tuple[str, ...]
    name: str
    words: re.Pattern[str] | None
    brings: tuple[str, ...]


@functools.cache
def additives() -> tuple[Additive, ...]:
    return tuple(
        Additive(
            tuple(f"{number:g}" for number in row.numbers("numbers")),
            row.text("name"),
            row.pattern_or_none("words", re.I, around=r"(?<![\w-])(?:{})"),
            row.listed("brings", KINDS),
        )
        for row in read_table("additives.tsv")
    )


@functools.cache
def _names() -> dict[str, str]:
    return {number: each.name for each in additives() for number in each.numbers}


#: "E 450(i)", "E450i", "INS 340 (ii)", "e-322".
_NUMBERED = re.compile(
    r"\b(?:E|INS)[ -]?(\d{3,4})([a-f]?)(?: ?\((?:iii|ii|iv|vi|v|i)\)|(?:iii|ii|iv|vi|v|i)\b)?(?![\d%])", re.I
)
#: What stands behind the name of a class: "(471, 322)", ": 450(i) and 451", " 330".
_BARE = re.compile(
    r"(?<![\d.,])(\d{3,4})([a-f]?)(?: ?\((?:iii|ii|iv|vi|v|i)\)|(?:iii|ii|iv|vi|v|i)\b)?(?![\d.,]*(?:\d| ?(?:g|mg|kg|ml|l|%|kcal|kj)\b))",
    re.I,
)


def by_name(printed: str) -> str:
    """The list with every additive's number read as its name; numbers nobody knows stay as they are.

    >>> by_name("Flour, emulsifiers (471, E 322), raising agents: 450(i), 500; water 330 ml")
    'Flour, emulsifiers (mono- and diglycerides of fatty acids, lecithin), raising agents: diphosphates, sodium carbonate; water 330 ml'
    """
    found = _NUMBERED.sub(_named, printed)
    return pattern("additive_class").sub(lambda match: _BARE.sub(_named, match[0]), found)


def _named(match: re.Match[str]) -> str:
    return _names().get(match[1], match[0])


def additives_in(printed: str) -> tuple[tuple[str, str], ...]:
    """(kind, the words as they are read) of everything in a list that limits hang on, kind by kind.

    >>> additives_in("water, SAPP, dipotassium phosphate, sunflower phospholipids, salt")
    (('phosphate', 'sapp'), ('phosphate', 'dipotassium phosphate'), ('potassium', 'dipotassium phosphate'))
    """
    text = " ".join(by_name(printed).lower().split())
    places: dict[tuple[str, int], tuple[int, str]] = {}
    taken: list[tuple[int, int, tuple[str, ...]]] = []
    for each in additives():
        for match in each.words.finditer(text) if each.words else ():
            inside = any(
                start <= match.start() and match.end() <= end and set(each.brings) <= set(brings)
                for start, end, brings in taken
            )
            if not inside:
                taken.append((match.start(), match.end(), each.brings))
                for kind in each.brings:
                    places[kind, match.start()] = (match.start(), match[0])
    ordered = sorted(places, key=lambda key: (KINDS.index(key[0]), key[1]))
    return tuple((kind, places[kind, at][1]) for kind, at in ordered)


def where_first(printed: str, kind: str) -> str:
    """What stands in a list before the first additive of a kind; all of it where there is none."""
    text = " ".join(by_name(printed).lower().split())
    starts = [
        match.start()
        for each in additives()
        if kind in each.brings and each.words
        for match in each.words.finditer(text)
    ]
    return text[: min(starts)] if starts else text
