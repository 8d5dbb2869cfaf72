"""What a step adds that no line names: it is in the dish and in no figure. Asked about, and searched for allergens.

"Scatter with flaked almonds" over a list without almonds; "season with salt" over a list without salt.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from nutrition.dish.line import Line
from nutrition.food.contents import hits_of_food
from nutrition.food.names import cook_name, normalized
from nutrition.food.spoken import hits_of_words
from nutrition.food.table import foods
from nutrition.food.tags import ALLERGENS, LINE
from nutrition.notes import Note, note
from nutrition.reading.matching import matcher
from nutrition.tables import pattern, words_of

#: A cook's name has at most so many words.
_LONGEST = 4
_SENTENCES = re.compile(r"[.;:!]\s+|,?\s+(?:then|until|while)\s+")


@dataclass(frozen=True, slots=True)
class Unlisted:
    """Words of a step (from 1) that name a food no line has; `tags`: listed allergens the words show."""

    step: int
    words: str
    tags: tuple[str, ...]

    @property
    def as_note(self) -> Note:
        return note("reading.unlisted", step=self.step, words=self.words)


def unlisted(steps: Sequence[str], lines: Sequence[Line]) -> tuple[Unlisted, ...]:
    """Foods the steps add and no line names, each once.

    >>> from nutrition.reading.recipe import read_line
    >>> soup = [read_line("500 g carrots"), read_line("1 tsp salt")]
    >>> unlisted(["Simmer the carrots in salted water.", "Scatter with flaked almonds."], soup)
    (Unlisted(step=2, words='flaked almond', tags=('tree_nut',)),)
    """
    known = {token for line in lines for token in _tokens_of(line)}
    found: dict[str, Unlisted] = {}
    for number, step in enumerate(steps, start=1):
        for sentence in _SENTENCES.split(step[:2_000]):
            if adds := pattern("adds").search(sentence):
                for name in _names_in(sentence[adds.end() :], known):
                    tags = _tags_of(name)
                    found.setdefault(name, Unlisted(number, name, tuple(tag for tag in ALLERGENS if tag in tags)))
    return tuple(found.values())


def _tags_of(name: str) -> set[str]:
    """Listed allergens of a food that only a step names: searched as a line would be, by its words and by its food."""
    row = matcher().match(name).row
    hits = (*hits_of_words(name, LINE), *(hits_of_food(foods().ids[row]) if row >= 0 else ()))
    return {hit.tag for hit in hits} & ALLERGENS.keys()


def _tokens_of(line: Line) -> set[str]:
    words = f"{line.text} {cook_name(line.food_id)}" if line.food_id else line.text
    return set(normalized(words).split())


def _names_in(words: str, known: set[str]) -> list[str]:
    """Cook's names among the words, the longest first at each place, of which no line has the noun."""
    tokens, names, at = normalized(words).split(), [], 0
    while at < len(tokens):
        size = next((n for n in range(_LONGEST, 0, -1) if matcher().is_name(tokens[at : at + n])), 0)
        named = tokens[at : at + size]
        if named and named[-1] not in known and not set(named) <= words_of("no_food").keys():
            names.append(" ".join(named))
        at += max(size, 1)
    return names
