"""One step of a way, and the dish after some of them."""

from collections.abc import Sequence
from dataclasses import dataclass

from nutrition.dish.line import Line
from nutrition.notes import NOTHING, Note
from nutrition.swaps.offers import Workbench


@dataclass(frozen=True, slots=True)
class Change:
    """One step of a way. `line` is a position in the dish as it was, -1 for the serving; `kind`: less, more, swap,
    drop, state, serving. `why`: what would not be open without it; `do`: what to do differently when nothing of the line
    is left that could say so; `minutes`: more work."""

    line: int
    kind: str
    text: Note
    new: tuple[Line, ...] = ()
    why: Note = NOTHING
    do: str = ""
    minutes: int = 0

    @property
    def to(self) -> tuple[tuple[str, float], ...]:
        """(food id, grams) of what stands there afterwards."""
        return tuple((line.food_id or "", line.span.likely) for line in self.new)


def dish_after(bench: Workbench, changes: Sequence[Change]) -> tuple[Line, ...]:
    """The lines after these changes; what stands in a line's place has its key, what is new has none."""
    done = {change.line: change for change in changes}
    found = [each for at, line in enumerate(bench.lines) for each in (done[at].new if at in done else (line,))]
    return (*found, *(each for c in done.values() if c.line >= len(bench.lines) for each in c.new))
