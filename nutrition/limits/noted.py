"""What somebody noted in words of their own, an allergy of no list or a dislike, looked for by name.

Names are all that is compared, and the ingredients of a label that was entered: nothing here knows that guacamole holds
avocado. So the word is "named in", never "holds", and what is not named is left to whoever reads the label.
"""

import functools
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from nutrition.dish.line import Line
from nutrition.food.names import all_names, normalized
from nutrition.food.spoken import hits_of_words
from nutrition.food.table import foods
from nutrition.food.tags import ALLERGENS, CONTAINS, LINE
from nutrition.tables import words_of

#: What stands beside the food in a note: how bad it is, not what it is.
_BESIDE = re.compile(
    r"\b(?:allerg\w+|anaphyla\w+|intoleran\w+|sensitiv\w+|syndrome|reacts?|severe(?:ly)?|mild(?:ly)?|traces?|raw|cooked"
    r"|to|of|from|in|with|none|nothing|nil|known|no|not|any|all|kinds?|the|an?|has|also|very|oral|rash|hives|itch\w*|swell\w*|swollen|lips?|mouth|throat|vomit\w*|asthma)\b"
)
_BETWEEN = re.compile(r"[,;:/()\n.]|\band\b|\bor\b|\bbut\b")


@dataclass(frozen=True, slots=True)
class Named:
    """A noted word and the lines that name it, as positions from 0."""

    words: str
    lines: tuple[int, ...]


def noted_words(text: str) -> tuple[str, ...]:
    """The foods of a note, as they are compared.

    >>> noted_words("Liver, mushrooms and blue cheese")
    ('liver', 'mushroom', 'blue cheese')
    >>> noted_words("severe allergy to mangoes; oral allergy syndrome (raw apple, hazelnuts)")
    ('mango', 'apple', 'hazelnut')
    >>> noted_words("none known"), noted_words("n/a")
    ((), ())
    >>> noted_words("kiwi (lips and throat); barley: rash")
    ('kiwi', 'barley')
    """
    parts = (normalized(_BESIDE.sub(" ", part)) for part in _BETWEEN.split(text.lower()))
    return tuple(dict.fromkeys(part for part in parts if len(part) > 1))


def allergen_named(words: str) -> str:
    """The listed allergen that noted words name themselves; empty where they name a food, or nothing listed.

    >>> [allergen_named(each) for each in noted_words("cow's milk, peanuts, kiwi")]
    ['milk', 'peanut', '']
    """
    return words_of("allergen_named").get(words, "")


def allergens_of(words: str) -> tuple[str, ...]:
    """Listed allergens that noted words name, or name a food of: what is to be asked when they are saved.

    >>> allergens_of("cow milk"), allergens_of("cashew"), allergens_of("wheat"), allergens_of("kiwi")
    (('milk',), ('tree_nut',), ('wheat',), ())
    """
    named = allergen_named(words)
    if named:
        return (named,)
    tags = tuple(dict.fromkeys(hit.tag for hit in hits_of_words(words, LINE) if hit.verdict == CONTAINS))
    listed = tuple(tag for tag in tags if tag in ALLERGENS)
    return tuple(tag for tag in listed if not (tag == "gluten" and "wheat" in listed))


def name_in(words: Iterable[str], names: Iterable[str]) -> str:
    """The first of these words that one of the names holds, in whatever order; empty when none does.

    >>> name_in(["oat", "blue cheese"], ["Cheese, blue"]), name_in(["egg"], ["Eggplant, raw"])
    ('blue cheese', '')
    """
    held = [_words_of(name) for name in names]
    return next((each for each in words if any(there.issuperset(each.split()) for there in held)), "")


@functools.lru_cache(maxsize=16_384)
def _words_of(name: str) -> frozenset[str]:
    """The words of a name, written together ("breadcrumb") and apart ("bread", "crumb")."""
    apart = (normalized(word) for word in re.findall(r"[^\W\d_]+", name.lower()))
    return frozenset(normalized(name).split()) | frozenset(apart)


def named_in(words: Iterable[str], lines: Sequence[Line]) -> list[Named]:
    """Where noted words are named: in a line's words, in its food, or in a food it may be. In the order of `words`."""
    words = tuple(words)
    called = [names_called(line) for line in lines] if words else []
    return [Named(each, tuple(i for i, names in enumerate(called) if name_in([each], names))) for each in words]


def names_called(line: Line) -> list[str]:
    """Everything a noted word is looked for in: the words of a line, the foods it is or may be, the ingredients of a label."""
    may_be = [each for each in (line.food_id, *(line.others if line.sure == "check" else ())) if each]
    printed = (part for each in may_be for text in foods().printed.get(each, ()) for part in re.split(r"[,;()]", text))
    return [line.text if line.words_hold else "", *(name for each in may_be for name in all_names(each)), *printed]
