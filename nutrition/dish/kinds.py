"""What kind of dish it is: it decides which swaps make sense. Read once, of the dish as written; a person may
correct it."""

import functools
import re
from collections.abc import Sequence

from nutrition.dish.dish import KINDS
from nutrition.dish.line import Line
from nutrition.dish.naming import description_of
from nutrition.tables import pattern, read_table

#: Kinds that are none without something, whatever they are called: a cake of fish is no cake, a fried steak no batter.
_NEEDS = {"cake": "flour", "bread": "flour", "fry": "holds_together"}
#: Kinds that steps alone ("simmer") make only where there is so much to simmer in, as a share of the weight.
_WET, _LEAST_WET = ("stew", "soup"), 0.12
#: What a dish goes with says less of it than what it is.
_GOES_WITH = re.compile(r"\s(?:with|on|over|and its)\s", re.I)


@functools.cache
def _kinds() -> list[tuple[str, re.Pattern[str]]]:
    return [(row.one_of("kind", KINDS), row.pattern("words", re.I)) for row in read_table("dish_kinds.tsv")]


def kind_of_dish(title: str, steps: Sequence[str], lines: Sequence[Line]) -> str:
    """One of dish.KINDS; "any" when nothing tells. What the title says it is tells first, then the steps, then what it
    goes with.

    >>> kind_of_dish("Red lentil soup", ["Simmer."], [])
    'soup'
    """
    told = " ".join(steps)
    for text in (_GOES_WITH.split(title)[0], told, title):
        for kind, words in _kinds():
            if words.search(text) and _may_be(kind, lines, by_steps=text is told):
                return _raised_by_powder(kind, lines)
    return "any"


def _has(lines: Sequence[Line], name: str) -> bool:
    return any(pattern(name).search(description_of(line)) for line in lines)


def _may_be(kind: str, lines: Sequence[Line], by_steps: bool) -> bool:
    if not lines:
        return True
    if by_steps and kind in _WET:
        weight = sum(line.span.likely for line in lines) or 1.0
        wet = sum(line.span.likely for line in lines if pattern("to_simmer_in").search(description_of(line)))
        return wet >= _LEAST_WET * weight
    return kind not in _NEEDS or _has(lines, _NEEDS[kind])


def _raised_by_powder(kind: str, lines: Sequence[Line]) -> str:
    """A bread of baking powder or soda is a batter as a cake is; dough is what yeast raises."""
    is_quick = kind == "bread" and _has(lines, "raised_by_powder") and not _has(lines, "raised_by_yeast")
    return "cake" if is_quick else kind
