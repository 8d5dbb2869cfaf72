"""A question of a line with its answers: the two or three foods it may mean, by what a cook calls them, and what decides between them."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from nutrition.dish.line import Line
from nutrition.food.names import cook_name
from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods
from nutrition.notes import Note, note
from nutrition.reading.families import DECIDES
from nutrition.reading.questions import is_in_question

#: More than so many are no quick question: they are searched for.
MOST = 3


@dataclass(frozen=True, slots=True)
class Answer:
    """One food a line may mean. `words`: what it is called; `holds`: what decides between the answers, in the line as weighed (in 100 g
    where it has no weight)."""

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
    ids = [food_id for food_id in dict.fromkeys((line.food_id, *line.others)) if foods().has_id(food_id)][:MOST]
    words = _told_apart(ids)
    if len(ids) < 2 or len(set(words)) < len(ids):
        return ()
    key, amounts = _deciding(ids)
    times = line.weight.likely / 100 if line.weight else 1.0
    return tuple(
        Answer(food_id, each, note("reading.answer_holds", nutrient=key, amount=float(amount) * times))
        for food_id, each, amount in zip(ids, words, amounts, strict=True)
    )


def _told_apart(ids: Sequence[str]) -> list[str]:
    """What a cook calls each; where two are called alike, what the table calls them."""
    names = [cook_name(food_id) for food_id in ids]
    return names if len(set(names)) == len(names) else [foods().description(food_id) for food_id in ids]


def _deciding(ids: Sequence[str]) -> tuple[str, np.ndarray]:
    """The nutrient in which the foods differ most, measured by what anybody would mind, and how much of it each holds in 100 g."""
    values = foods().known[foods().rows(ids)]
    spread = {key: float(np.ptp(values[:, INDEX[key]])) / minded for key, minded in DECIDES.items()}
    key = max(spread, key=spread.__getitem__)
    return key, values[:, INDEX[key]]
