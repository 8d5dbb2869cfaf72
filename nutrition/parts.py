"""Parts: a sauce, a filling, a crust is a recipe of its own, used in others by share or by weight.

A share taken by weight rests on what the whole part weighs when it is done; where that is only estimated, the share is
an interval, and so is everything it brings along.
"""

import hashlib
import json
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from .cooking import cooked_weight
from .recipe import Line

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


class PartProblem(ValueError):
    """A part that cannot be used so; the sentence says what was read and what to do."""


@dataclass(frozen=True, slots=True)
class Amount:
    """How much of a part goes in: a share of the whole, or grams of it as it is done."""

    share: float | None = None
    grams: float | None = None

    @property
    def words(self) -> str:
        if self.grams is not None:
            return f"{self.grams:,.4g} g of it"
        return {1.0: "all of it", 0.5: "half of it"}.get(self.share, f"{100 * self.share:.3g} % of it")


def read_amount(typed: str) -> Amount:
    """ "half", "1/3", "40 %", "250 g", "1.5 kg". Raises PartProblem.

    >>> read_amount("half"), read_amount("250 g"), read_amount("40%").share
    (Amount(share=0.5, grams=None), Amount(share=None, grams=250.0), 0.4)
    """
    text = " ".join(typed.lower().replace(",", ".").split())
    if text in _WORDS:
        return Amount(share=_WORDS[text])
    found = re.fullmatch(r"(\d+(?:\.\d+)?|\d+ ?/ ?\d+|[½¼¾⅓⅔])\s*(%|g|kg|times|x)?(?: of it)?", text)
    expected = "a share (half, 1/3, 40 %) or a weight (250 g) is expected"
    if not found:
        raise PartProblem(f"“{typed[:40]}” was read; {expected}.")
    above, _, below = found[1].partition("/")
    if below and float(below) == 0:
        raise PartProblem(f"“{typed[:40]}” was read; {expected}.")
    number = _GLYPHS.get(found[1]) or (float(above) / float(below) if below else float(found[1]))
    if found[2] in ("g", "kg"):
        grams = number * (1000 if found[2] == "kg" else 1)
        if not 0 < grams <= MOST_GRAMS:
            raise PartProblem(
                f"{typed[:40]} of a part was read; more than 0 and up to {MOST_GRAMS:,.0f} g is expected."
            )
        return Amount(grams=grams)
    share = number / 100 if found[2] == "%" else number
    if not 0 < share <= MOST_TIMES:
        raise PartProblem(
            f"“{typed[:40]}” of a part was read; more than nothing and up to {MOST_TIMES:g} times is expected."
        )
    return Amount(share=share)


def shares(amount: Amount, lines: Sequence[Line], measured_g: float | None = None) -> tuple[float, float, float, str]:
    """(least, likely, most, rule) share of a part's lines. `measured_g`: what the whole part weighs when done.

    Raises PartProblem when a weight is asked of a part that weighs nothing known.
    """
    if amount.share is not None:
        return amount.share, amount.share, amount.share, amount.words
    whole = cooked_weight(lines, measured_g)
    if whole.least <= 0:
        raise PartProblem("This part has no weight known, so grams of it cannot be taken. Take a share, as in half.")
    rule = f"{amount.words}, which weighs {whole.likely:,.0f} g when done"
    if not whole.is_measured:
        rule += f" (estimated: {whole.least:,.0f} to {whole.most:,.0f})"
    return amount.grams / whole.most, amount.grams / whole.likely, amount.grams / whole.least, rule


def expand(title: str, lines: Sequence[Line], least: float, likely: float, most: float, rule: str) -> list[Line]:
    """A part's lines as they stand in the dish that uses it, under the part's name."""
    return [
        replace(
            line,
            low=line.low * least,
            grams=None if line.grams is None else line.grams * likely,
            high=line.high * most,
            part=f"{title}: {line.part}" if line.part else title,
            rule=f"{rule} of {title}; {line.rule}"[:300],
            is_edited=line.is_weighed,
        )
        for line in lines
    ]


def stamp(lines: Sequence[Line], steps: Sequence[str], measured_g: float | None) -> str:
    """Changes whenever what a part brings along does."""
    facts = [[line.food_id, line.low, line.grams, line.high, line.state, line.text] for line in lines]
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
