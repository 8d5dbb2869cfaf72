"""Lines of other kitchens in the words the rest of the reading goes by: "2 EL Öl" is read as "2 tbsp oil", "250 g bhindi" as okra.

tables/kitchen_words.tsv.
"""

import functools
import re
from dataclasses import dataclass

from nutrition.food.names import normalized
from nutrition.reading.matching import matcher
from nutrition.tables import read_table


@dataclass(frozen=True, slots=True)
class _Words:
    """A row of the table. `needs_company`: an English word too, of this language only beside another of it."""

    language: str
    means: str
    needs_company: bool


#: What a pattern may lack says nothing of how much it names.
_MAY_LACK = re.compile(r"\(\?:[^()]*(?:\([^()]*\)[^()]*)*\)\?")
#: Between two words of a row; what stands in brackets is of one.
_OR = re.compile(r"\|(?![^(]*\))")


#: So many words on either side may make a name of one.
_NEAR = 2


def _begins(words: str) -> str:
    """The letters an expression may begin with, as a class; empty where it begins otherwise."""
    first = words[1 : words.index("]")] if words[0] == "[" else words[0]
    return "".join(sorted({*first.lower(), *first.upper()})) if first.isalpha() else ""


@functools.cache
def _known() -> tuple[re.Pattern[str], tuple[_Words, ...]]:
    """All words at once, the longest first among those that begin alike; and what the group that was found stands for. Capitals count where
    the table has nothing else."""
    rows = [(words, row) for row in read_table("kitchen_words.tsv") for words in _OR.split(row["words"])]
    rows.sort(key=lambda each: -len(_MAY_LACK.sub("", each[0])))
    alike: dict[str, list[tuple[str, _Words]]] = {}
    for words, row in rows:
        means = "" if row["means"] == "-" else row.text("means")
        read = _Words(row.text("language"), means, row.yes("needs"))
        row.pattern("words")  # a broken one is told by its line
        alike.setdefault(_begins(words), []).append((f"({words})" if words.isupper() else f"((?i:{words}))", read))
    branches = [
        f"{f'(?=[{letters}])' if letters else ''}(?:{'|'.join(words for words, _ in each)})"
        for letters, each in alike.items()
    ]
    return (
        re.compile(rf"(?<!\w)(?:{'|'.join(branches)})(?:(?<=')|(?!\w))"),
        tuple(read for each in alike.values() for _, read in each),
    )


def _is_of_a_name(text: str, match: re.Match[str]) -> bool:
    """Whether words are a cook's name here as they stand, or a part of one: "chana dal", "gari ginger"."""
    before, after = text[: match.start()].split(), text[match.end() :].split()
    return any(
        matcher().is_name(normalized(" ".join([*before[len(before) - left :], match[0], *after[:right]])).split())
        for left in range(min(len(before), _NEAR) + 1)
        for right in range(min(len(after), _NEAR) + 1)
    )


@functools.lru_cache(maxsize=8_192)
def in_our_words(text: str) -> str:
    """A line in the words of this house's tables.

    >>> in_our_words("2 EL Öl"), in_our_words("125 g beurre doux"), in_our_words("1 clove of garlic, for sale")
    ('2 tbsp oil', '125 g unsalted butter', '1 clove of garlic, for sale')
    """
    pattern, known = _known()
    text = text.replace("’", "'")
    found = [
        (match, known[match.lastindex - 1])
        for match in pattern.finditer(text)
        if match.lastindex and not _is_of_a_name(text, match)
    ]
    seen = {words.language for _, words in found if not words.needs_company}
    for match, words in reversed(found):
        if not words.needs_company or words.language in seen:
            text = text[: match.start()] + words.means + text[match.end() :]
    return text
