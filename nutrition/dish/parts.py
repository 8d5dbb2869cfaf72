"""Parts: a sauce, a filling, a crust is a recipe of its own, used in others by share or by weight.

A share taken by weight rests on what the whole part weighs when it is done; where that is only estimated, the share is
an interval, and so is everything it brings along.
"""

import functools
import hashlib
import json
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from nutrition.dish.cooking import cooked_weight
from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.food.units import GRAMS, ML, NUMBER, number_of, to_grams, to_ml
from nutrition.notes import Note, Problem, note
from nutrition.tables import words_of

_WORDS = {
    "all": 1.0,
    "the whole": 1.0,
    "half": 0.5,
    "a third": 1 / 3,
    "a quarter": 0.25,
    "double": 2.0,
}
_COUNTS = {
    "a": 1.0,
    "an": 1.0,
    "one": 1.0,
    "the": 1.0,
    "the whole": 1.0,
    "two": 2.0,
    "three": 3.0,
    "half a": 0.5,
    "half the": 0.5,
}
_BATCH = r"(?:batch(?:es)?|recipes?|quantit(?:y|ies)|times|x|lots?)"
_PORTION = r"(?:portions?|servings?)"
#: A ladle holds half a cup (common practice).
_LADLE_ML = 120.0
#: What a milliliter of something cooked may weigh: crumbs and leaves 0.5, sauces near 1, syrups 1.35 (common practice).
G_PER_ML = Grams(0.5, 1.0, 1.35)
MOST_TIMES, MOST_GRAMS = 20.0, 50_000.0


@dataclass(frozen=True, slots=True)
class Amount:
    """How much of a part goes in: a share of the whole, grams of it as it is done, or a volume, whose weight is a span."""

    share: float | None = None
    grams: float | None = None
    ml: float | None = None

    @property
    def words(self) -> Note:
        if self.ml is not None:
            return note("dish.amount_volume", ml=self.ml)
        if self.grams is not None:
            return note("dish.amount_grams", grams=self.grams)
        return note("dish.amount_share", share=self.share)

    @property
    def weight(self) -> Grams | None:
        """What it weighs; None of a share."""
        if self.ml is not None:
            return G_PER_ML.by(Grams.exactly(self.ml))
        return None if self.grams is None else Grams.exactly(self.grams)


def read_amount(typed: str, serves: float | None = None, kitchen: str = "us") -> Amount:
    """ "half", "1/3", "40 %", "250 g", "2 tbsp", "one batch", "the whole of it", "2 portions". Raises Problem.

    `serves`: how many portions the part makes; `kitchen`: whose spoons.

    >>> read_amount("half"), read_amount("250 g").grams, read_amount("40%").share, read_amount("2 tbsp", kitchen="uk").ml
    (Amount(share=0.5, grams=None, ml=None), 250.0, 0.4, 30.0)
    >>> read_amount("one batch").share, read_amount("2 portions", serves=8).share
    (1.0, 0.25)
    """
    text = re.sub(r" of (?:it|the (?:batch|recipe))$", "", " ".join(typed.lower().split()).strip(" ."))
    if text in _WORDS:
        return Amount(share=_WORDS[text])
    found = re.fullmatch(rf"({NUMBER}|{_alternatives(_COUNTS)})\s*(%|[a-z][a-z .]*)?", text)
    if not found:
        raise Problem("dish.part_amount", typed=typed[:40])
    try:
        number = _COUNTS.get(found[1]) or number_of(found[1])
    except ZeroDivisionError:
        raise Problem("dish.part_amount", typed=typed[:40]) from None
    unit = (found[2] or "").strip(" .")
    if unit and unit != "%" and not re.fullmatch(rf"{_BATCH}|{_PORTION}", unit):
        return _measured(number, unit, kitchen, typed)
    share = number / 100 if unit == "%" else number
    if re.fullmatch(_PORTION, unit):
        if not serves:
            raise Problem("dish.part_portions", typed=typed[:40])
        share = number / serves
    if not 0 < share <= MOST_TIMES:
        raise Problem("dish.part_share", typed=typed[:40], most=MOST_TIMES)
    return Amount(share=share)


def _measured(number: float, words: str, kitchen: str, typed: str) -> Amount:
    """Grams or milliliters of a number and the words of a unit. Raises Problem."""
    meant = [_units().get(each, each) for each in (words, words.removesuffix("s"), words.replace(".", ""))]
    unit = next((each for each in meant if each in {*GRAMS, *ML, "ladle"}), "")
    if not unit:
        raise Problem("dish.part_amount", typed=typed[:40])
    is_weight = unit in GRAMS
    size = (
        to_grams(number, unit) if is_weight else number * _LADLE_ML if unit == "ladle" else to_ml(number, unit, kitchen)
    )
    if not 0 < size <= MOST_GRAMS:
        raise Problem("dish.part_grams", typed=typed[:40], most=MOST_GRAMS)
    return Amount(grams=size) if is_weight else Amount(ml=size)


def _units() -> dict[str, str]:
    """Words of a unit -> the unit of food/units.py, or a ladle."""
    return words_of("unit") | words_of("unit_of_a_part")


@functools.cache
def _of_a_line() -> re.Pattern[str]:
    """What a line says of a recipe of one's own before its name; of a range nothing."""
    counts, units = (_alternatives(each) for each in (_COUNTS, {*_units(), *GRAMS, *ML}))
    unit = rf"(?:{_BATCH}|{_PORTION}|{units})(?:s|\.)?\b"
    return re.compile(rf"^\s*((?:{NUMBER}|{counts})\s*(?:{unit})?)(?!\s*(?:-|–|to\b)\s*\d)", re.I)


def _alternatives(words: Iterable[str]) -> str:
    return "|".join(map(re.escape, sorted(words, key=len, reverse=True)))


def amount_of_line(text: str) -> str:
    """The amount a line begins with, for `read_amount`; all of it where it says none. Raises Problem for a range, and for a
    count of pieces.

    >>> amount_of_line("2 tbsp pesto, own recipe"), amount_of_line("one batch of pie dough"), amount_of_line("pie dough")
    ('2 tbsp', 'one batch', 'all')
    """
    found = _of_a_line().match(text.lower())
    is_count = found and re.fullmatch(NUMBER, found[1].strip())
    if found and not (is_count and number_of(found[1].strip()) > 1):  # "12 dumplings" are no twelve batches
        return found[1].strip()
    if re.match(rf"\s*{NUMBER}", text):
        raise Problem("dish.part_amount", typed=text.strip()[:40])
    return "all"


def shares(amount: Amount, lines: Sequence[Line], measured_g: float | None = None) -> tuple[Grams, Note]:
    """The share of a part's lines as a span, and the rule. `measured_g`: what the whole part weighs when done.

    Raises Problem when a weight is asked of a part that weighs nothing known.
    """
    weight = amount.weight
    if weight is None:
        return Grams.exactly(amount.share or 0.0), amount.words
    whole = cooked_weight(lines, measured_g)
    if whole.least <= 0:
        raise Problem("dish.part_weighs_nothing")
    rule = note("dish.share_of_weighed", amount=amount.words, grams=whole.likely)
    if not whole.is_measured:
        spans = {"least": whole.least, "most": whole.most}
        rule = note("dish.share_of_estimated", amount=amount.words, grams=whole.likely, **spans)
    return Grams(weight.least / whole.most, weight.likely / whole.likely, weight.most / whole.least), rule


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
