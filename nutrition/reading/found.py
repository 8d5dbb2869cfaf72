"""A recipe as found, before its lines are read; and how large one may be."""

from dataclasses import dataclass

from nutrition.dish.line import Line
from nutrition.notes import Problem
from nutrition.reading.lines import clean

#: What a recipe is not larger than: pasted words, a file or a saved page, and its lines, steps and their lengths.
MOST_TEXT, MOST_FILE = 200_000, 5_000_000
MOST_LINES, MOST_STEPS, LONGEST_LINE, LONGEST_STEP = 200, 200, 500, 5_000


@dataclass(frozen=True, slots=True)
class Exact:
    """What a recipe of ours kept beside its words. `written`: the words each line was written with then."""

    lines: tuple[Line, ...]
    written: tuple[str, ...]
    kitchen: str = ""
    kind: str = ""
    waved: tuple[tuple[str, str], ...] = ()

    def line_as_written(self, position: int, text: str) -> Line | None:
        """The line as it was counted; None when somebody changed its words since."""
        is_same = position < len(self.lines) and clean(self.written[position]) == clean(text)
        return self.lines[position] if is_same else None


@dataclass(frozen=True, slots=True)
class RecipeText:
    """A recipe as found: headings still stand among the lines. `notes` say what was assumed in reading.

    `is_bare`: found in a page without recipe marks, so that every line is still to be looked at. `exact`: the dish as it was counted, when the recipe was written by giving/writing.py.
    """

    title: str
    serves: float | None
    lines: tuple[str, ...]
    steps: tuple[str, ...] = ()
    serving_grams: float | None = None
    notes: tuple[str, ...] = ()
    language: str = "en"
    exact: Exact | None = None
    is_bare: bool = False


def bounded(found: RecipeText) -> RecipeText:
    """The recipe, when it is of a size recipes have. Raises Problem."""
    for texts, most, longest, what in (
        (found.lines, MOST_LINES, LONGEST_LINE, "ingredient lines"),
        (found.steps, MOST_STEPS, LONGEST_STEP, "steps"),
    ):
        if len(texts) > most:
            raise Problem("reading.too_many", what=what, most=most)
        long = next((text for text in texts if len(text) > longest), "")
        if long:
            raise Problem("reading.too_long", start=long[:40], count=len(long), what=what, most=longest)
    return found
