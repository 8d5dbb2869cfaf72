"""Parts: a sauce, a filling, a crust is a recipe of its own, used in others by share or by weight.

A share taken by weight rests on what the whole part weighs when it is done; where that is only estimated, the share is
an interval, and so is everything it brings along.
"""

import hashlib
import json
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from nutrition.dish.cooking import cooked_weight
from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.notes import Note, Problem, note

_WORDS = {
    "all": 1.0,
    "all of it": 1.0,
    "half": 0.5,
    "half of it": 0.5,
    "a third": 1 / 3,
    "a quarter": 0.25,
    "double": 2.0,
}
_GLYPHS = {"½": 0.5, "¼": 0.25, "¾": 0.75, "⅓": 1 / 3, "⅔": 2 / 3}
MOST_TIMES, MOST_GRAMS = 20.0, 50_000.0


@dataclass(frozen=True, slots=True)
class Amount:
    """How much of a part goes in: a share of the whole, or grams of it as it is done."""

    share: float | None = None
    grams: float | None = None

    @property
    def words(self) -> Note:
        if self.grams is not None:
            return note("dish.amount_grams", grams=self.grams)
        return note("dish.amount_share", share=self.share)


def read_amount(typed: str) -> Amount:
    """ "half", "1/3", "40 %", "250 g", "1.5 kg". Raises Problem.

    >>> read_amount("half"), read_amount("250 g"), read_amount("40%").share
    (Amount(share=0.5, grams=None), Amount(share=None, grams=250.0), 0.4)
    """
    text = " ".join(typed.lower().replace(",", ".").split())
    if text in _WORDS:
        return Amount(share=_WORDS[text])
    found = re.fullmatch(r"(\d+(?:\.\d+)?|\d+ ?/ ?\d+|[½¼¾⅓⅔])\s*(%|g|kg|times|x)?(?: of it)?", text)
    above, _, below = found[1].partition("/") if found else ("", "", "")
    if not found or (below and float(below) == 0):
        raise Problem("dish.part_amount", typed=typed[:40])
    number = _GLYPHS.get(found[1]) or (float(above) / float(below) if below else float(found[1]))
    if found[2] in ("g", "kg"):
        grams = number * (1000 if found[2] == "kg" else 1)
        if not 0 < grams <= MOST_GRAMS:
            raise Problem("dish.part_grams", typed=typed[:40], most=MOST_GRAMS)
        return Amount(grams=grams)
    share = number / 100 if found[2] == "%" else number
    if not 0 < share <= MOST_TIMES:
        raise Problem("dish.part_share", typed=typed[:40], most=MOST_TIMES)
    return Amount(share=share)


def shares(amount: Amount, lines: Sequence[Line], measured_g: float | None = None) -> tuple[Grams, Note]:
    """The share of a part's lines as a span, and the rule. `measured_g`: what the whole part weighs when done.

    Raises Problem when a weight is asked of a part that weighs nothing known.
    """
    if amount.grams is None:
        return Grams.exactly(amount.share or 0.0), amount.words
    whole = cooked_weight(lines, measured_g)
    if whole.least <= 0:
        raise Problem("dish.part_weighs_nothing")
    rule = note("dish.share_of_weighed", amount=amount.words, grams=whole.likely)
    if not whole.is_measured:
        spans = {"least": whole.least, "most": whole.most}
        rule = note("dish.share_of_estimated", amount=amount.words, grams=whole.likely, **spans)
    return Grams(amount.grams / whole.most, amount.grams / whole.likely, amount.grams / whole.least), rule


def expand(title: str, lines: Sequence[Line], share: Grams, rule: Note) -> list[Line]:
    """A part's lines as they stand in the dish that uses it, under the part's name; their keys are the part's."""
    return [
        replace(
            line,
            weight=line.weight and line.weight.by(share),
            heading=f"{title}: {line.heading}" if line.heading else title,
            rule=note("dish.share_of_part", amount=rule, title=title, rule=line.rule),
            is_edited=line.is_weighed,
        )
        for line in lines
    ]


def stamp(lines: Sequence[Line], steps: Sequence[str], measured_g: float | None) -> str:
    """Changes whenever what a part brings along does."""
    facts = [[line.food_id, *line.span, line.state, line.text] for line in lines]
    return hashlib.sha256(json.dumps([facts, list(steps), measured_g]).encode()).hexdigest()[:32]


def loop(uses: Mapping[int, Iterable[int]], dish: int, part: int) -> list[int]:
    """The way from a part back to the dish that wants to use it; empty when there is none. `uses`: dish -> its parts.

    >>> loop({2: [3], 3: [1]}, 1, 2), loop({2: [3]}, 1, 2)
    ([2, 3, 1], [])
    """
    paths = [[part]]
    seen = set()
    while paths:
        path = paths.pop()
        if path[-1] == dish:
            return path
        if path[-1] in seen:
            continue
        seen.add(path[-1])
        paths += [[*path, each] for each in uses.get(path[-1], ())]
    return []
