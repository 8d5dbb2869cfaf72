"""Which doubts matter: those that decide a gate of this eater, or what allergens a dish holds.

A doubtful line is several dishes at once. A gate that some of them would shut and others not cannot be told, and the
line is named; a gate that none or all of them shut is none of its business. Allergens are always asked about.
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np

from nutrition.dish.line import Line
from nutrition.food.nutrients import CORE_KEYS, INDEX
from nutrition.food.tags import ALLERGENS, CONTAINS
from nutrition.limits.avoid import hits_of_line
from nutrition.limits.gates import TOLERANCE
from nutrition.notes import Note, note
from nutrition.sheet.analysis import weighed
from nutrition.sheet.verdicts import UNSURE, Verdict, state_of

#: Doubts that decide a gate only together: those that bring at least so much of what is open.
TOGETHER = 0.1
_MAIN = [INDEX[key] for key in CORE_KEYS]
#: Why a tag shows that only a settled food would rule out or confirm.
_OPEN = frozenset(("limits.may_be_another", "limits.food_unsettled", "limits.food_unknown"))


@dataclass(frozen=True, slots=True)
class Doubt:
    """A line to check, with the gates and the allergens it decides; none of them: it changes nothing here."""

    position: int
    key: str
    ask: Note
    nutrients: tuple[str, ...]
    tags: tuple[str, ...]

    @property
    def decides(self) -> bool:
        return bool(self.nutrients or self.tags)

    @property
    def words(self) -> Note:
        """What it decides."""
        return note("sheet.doubt", nutrients=self.nutrients, tags=self.tags)


def doubts_of(
    lines: Sequence[Line], serves: float, verdicts: Sequence[Verdict], tags: Collection[str] = tuple(ALLERGENS)
) -> tuple[Doubt, ...]:
    """The lines to check, those that decide most first. `verdicts`: the gates held against one serving of these lines.

    `tags`: what must not be open: the listed allergens, and what the eater's plans keep out (meat, honey, alcohol).
    """
    open_lines = [at for at, line in enumerate(lines) if line.sure == "check" or not line.is_weighed or line.left_open]
    if not open_lines:
        return ()
    decided = _gates_decided(lines, serves, verdicts, open_lines)
    found = [
        Doubt(at, lines[at].key, _ask(lines[at]), tuple(decided[at]), _tags_open(lines[at], tags)) for at in open_lines
    ]
    return tuple(sorted(found, key=lambda doubt: (-len(doubt.nutrients), -bool(doubt.tags), doubt.position)))


def _ask(line: Line) -> Note:
    """What is to be said of a line."""
    return line.ask or (note("sheet.how_much_eaten") if line.left_open else line.rule)


def weight_of_doubts(lines: Sequence[Line]) -> list[float]:
    """How much of a dish each line leaves open, for whoever eats it: its widest share of any main nutrient, and 1 more where
    it is open what allergens it holds. 0 for a line that is settled.

    >>> from nutrition.reading.recipe import read_line
    >>> stock, salt = read_line("1 litre vegetable stock"), read_line("1 pinch salt")
    >>> [weight > 1 for weight in weight_of_doubts([stock, salt])]
    [True, False]
    """
    least, most = (side[:, _MAIN] for side in weighed(lines).spans(1))
    whole = np.where(np.isfinite(most), most, 0).sum(axis=0) + 1e-9
    shares = np.where(np.isfinite(most), (most - least) / whole, 1.0).max(axis=1, initial=0.0)
    is_open = [line.sure == "check" or not line.is_weighed for line in lines]
    return [
        float(share) + bool(_tags_open(line)) if open_ else 0.0
        for line, share, open_ in zip(lines, shares, is_open, strict=True)
    ]


def _gates_decided(
    lines: Sequence[Line], serves: float, verdicts: Sequence[Verdict], open_lines: Sequence[int]
) -> dict[int, list[str]]:
    """Position of an open line -> nutrients whose gate turns on it."""
    decided: dict[int, list[str]] = {position: [] for position in open_lines}
    least, most = weighed(lines).spans(serves)
    for verdict in verdicts:
        if verdict.state != UNSURE:
            continue
        column = INDEX[verdict.gate.nutrient]
        spread = {at: float(most[at, column] - least[at, column]) for at in open_lines}
        spread = {at: width for at, width in spread.items() if width > TOLERANCE}
        alone = [at for at, width in spread.items() if _turns(verdict, width)]
        together = [at for at, width in spread.items() if width >= TOGETHER * (verdict.at_most - verdict.at_least)]
        for at in alone or together:
            decided[at].append(verdict.gate.nutrient)
    return decided


def _turns(verdict: Verdict, width: float) -> bool:
    """Whether a gate can be told once a doubt of this width is settled at one of its ends."""
    if width == float("inf"):
        return True
    ends = ((verdict.at_least, verdict.at_most - width), (verdict.at_least + width, verdict.at_most))
    return any(state_of(verdict.gate, low, high) != UNSURE for low, high in ends)


def _tags_open(line: Line, tags: Collection[str] = tuple(ALLERGENS)) -> tuple[str, ...]:
    """Of these tags, those that only the settled food would confirm or rule out."""
    hits = hits_of_line(line)
    certain = {hit.tag for hit in hits if hit.verdict == CONTAINS}
    shown = {hit.tag for hit in hits if hit.because.code in _OPEN} - certain
    return tuple(tag for tag in tags if tag in shown)
