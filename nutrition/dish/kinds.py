"""What kind of dish it is: it decides which swaps make sense. Read once, of the dish as written; a person may
correct it."""

import functools
import re
from collections.abc import Sequence

from nutrition.dish.line import Line
from nutrition.dish.naming import description_of
from nutrition.tables import pattern, read_table

#: Kinds that are none without flour, whatever they are called: a cake of fish is no cake.
_OF_FLOUR = ("cake", "bread")


@functools.cache
def _kinds() -> list[tuple[str, re.Pattern[str]]]:
    return [(row["kind"], re.compile(row["words"], re.I)) for row in read_table("dish_kinds.tsv")]


def kind_of_dish(title: str, steps: Sequence[str], lines: Sequence[Line]) -> str:
    """One of dish.KINDS; "any" when nothing tells. The title tells first, then the steps.

    >>> kind_of_dish("Red lentil soup", ["Simmer."], [])
    'soup'
    """
    has_flour = not lines or any(pattern("flour").search(description_of(line)) for line in lines)
    for text in (title, " ".join(steps)):
        for kind, words in _kinds():
            if words.search(text) and (has_flour or kind not in _OF_FLOUR):
                return kind
    return "any"
