"""A question of a line with its answers: the two or three foods it may mean, by what a cook calls them, and what decides between them."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from nutrition.dish.line import Line
from nutrition.food.names import cook_name
from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods
from nutrition.notes import NOTHING, Note, note
from nutrition.reading.deciding import DECIDES
from nutrition.reading.questions import is_in_question

#: More than so many are no quick question: they are searched for.
MOST = 4


@dataclass(frozen=True, slots=True)
class Answer:
    """One food a line may mean. `words`: what it is called; `holds`: what decides between the answers, in the line as weighed, or said to
    be in 100 g where it has no weight; nothing where no figure is known of all of them."""

    food_id: str
    words: str
    holds: Note


def answers_of(line: Line) -> tuple[Answer, ...]:
    """The answers to what a line leaves open; none where it leaves nothing open, or where it may be another food altogether.

    >>> from nutrition.reading.recipe import read_line
    >>> [(each.words, str(each.holds)) for each in answers_of(read_line("100 g butter"))]
    [('salted butter', '645 mg sodium'), ('unsalted butter', '11 mg sodium')]
    """
    if line.sure != "check" or not line.food_id or not line.others or is_in_question(line):
        return ()
    ids = [food_id for food_id in dict.fromkeys((line.food_id, *line.others)) if foods().has_id(food_id)]
    words = _told_apart(ids)
    if not 2 <= len(ids) <= MOST or len(set(words)) < len(ids):
        return ()
    key = _deciding(ids)
    return tuple(Answer(food_id, each, _holds(food_id, key, line)) for food_id, each in zip(ids, words, strict=True))


def _holds(food_id: str, key: str, line: Line) -> Note:
    """How much a line of this food would hold of what decides."""
    if not key:
        return NOTHING
    per_100g = foods().value(foods().description(food_id), key)
    if line.weight is None:
        return note("reading.answer_holds_in_100g", nutrient=key, amount=per_100g)
    return note("reading.answer_holds", nutrient=key, amount=per_100g * line.weight.likely / 100)


def _told_apart(ids: Sequence[str]) -> list[str]:
    """What a cook calls each; where two are called alike, what the table calls them."""
    names = [cook_name(food_id) for food_id in ids]
    return names if len(set(names)) == len(names) else [foods().description(food_id) for food_id in ids]


def _deciding(ids: Sequence[str]) -> str:
    """Of the nutrients that are known of all these foods the one in which they differ most, measured by what anybody would mind; empty where none is."""
    values = foods().per_100g[foods().rows(ids)]
    spread = {key: float(np.ptp(values[:, INDEX[key]])) / minded for key, minded in DECIDES.items()}
    known = {key: width for key, width in spread.items() if not np.isnan(width)}
    return max(known, key=known.__getitem__, default="")
