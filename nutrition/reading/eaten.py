"""What the steps leave behind, as questions with two answers; and the answers.

One question for all lines that one step leaves behind in one way: a marinade of five lines is asked about once. Until it is answered all
of a line may be eaten; then it is a span of the line, or all of it.
"""

from dataclasses import dataclass, replace

from nutrition.dish.cooking import methods
from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.method import Leaves
from nutrition.dish.naming import name_of
from nutrition.notes import NOTHING, Note, Problem, note
from nutrition.reading.method import read_method
from nutrition.reading.whole import marked

YES, NO = "yes", "no"
#: Of these methods it is the fat that goes, whatever else is left of the line.
_OF_FAT = frozenset(("fat-poured-off", "browned", "browned-rinsed"))
#: What is asked of words that do not say whether bone or shell is in the weight.
_ASKED_OF_WORDS = "reading.bone_or_shell"
#: Before the key of what somebody said is not so.
NOT = "-"


@dataclass(frozen=True, slots=True)
class Question:
    """What one step leaves behind in one way: `how` of a Leaves, or "fat" where it is a line's fat. `lines`: their keys; `names`: what a
    cook calls them; `eaten`: share of them that is eaten if it is so, least and most; `said`: "yes", "no", or "" while nobody has said."""

    step: int
    how: str
    lines: tuple[str, ...]
    names: tuple[str, ...]
    eaten: tuple[float, float]
    said: str

    @property
    def words(self) -> Note:
        """What was read of the step."""
        return note(f"reading.left_{self.how}", step=self.step, names=self.names)

    @property
    def yes(self) -> Note:
        return note(f"reading.left_{self.how}_yes", least=self.eaten[0], most=self.eaten[1])

    @property
    def no(self) -> Note:
        return note(f"reading.left_{self.how}_no")

    @property
    def answer(self) -> Note:
        """What somebody said."""
        return self.yes if self.said == YES else self.no


def questions_of(dish: Dish) -> tuple[Question, ...]:
    """What the steps leave behind, in their order; those that were answered too.

    >>> from nutrition.reading.recipe import read_line
    >>> from nutrition.dish.dish import keyed
    >>> lines = keyed((read_line("300 g tofu"), read_line("4 tbsp soy sauce"), read_line("1 tbsp honey")))
    >>> steps = ("Marinate the tofu in the soy sauce and honey.", "Discard the marinade and grill the tofu.")
    >>> [asked] = questions_of(Dish("Tofu", 2, lines, steps))
    >>> asked.step, asked.how, asked.names, asked.said
    (2, 'poured_off', ('regular soy sauce', 'honey'), '')
    """
    own = marked(dish).listed.lines
    found: dict[tuple[int, str], list[tuple[Line, str]]] = {}
    for left in read_method(dish).leaves:
        line = own[left.line]
        if any(key == left.as_ for key, _ in line.leaves):
            found.setdefault((left.step, _how(left)), []).append((line, left.as_))
    return tuple(_question(step, how, lines) for (step, how), lines in found.items())


def _how(left: Leaves) -> str:
    return "fat" if left.as_ in _OF_FAT else left.how


def _span(key: str) -> tuple[float, float, float]:
    method = methods()[key]
    return method.kept["fat_g"] if key in _OF_FAT else method.weight


def _question(step: int, how: str, lines: list[tuple[Line, str]]) -> Question:
    spans = [_span(key) for _, key in lines]
    said = {_said(line, key) for line, key in lines}
    return Question(
        step,
        how,
        tuple(line.key for line, _ in lines),
        tuple(dict.fromkeys(name_of(line) for line, _ in lines)),
        (min(span[0] for span in spans), min(max(span[2] for span in spans), 1.0)),
        said.pop() if len(said) == 1 else "",
    )


def _said(line: Line, key: str) -> str:
    return YES if key in (*line.eaten, line.state) else NO if f"{NOT}{key}" in line.eaten else ""


def say(dish: Dish, step: int, how: str, is_so: bool) -> Dish:
    """The dish with one of its questions answered. Raises Problem where it does not ask that."""
    asked = next((each for each in questions_of(dish) if (each.step, each.how) == (step, how)), None)
    if asked is None:
        raise Problem("reading.nothing_left", step=step)
    keys = {each.line: each.as_ for each in read_method(dish).leaves if (each.step, _how(each)) == (step, how)}
    answers = {
        line.key: keys[at] for at, line in enumerate(dish.listed.lines) if at in keys and line.key in asked.lines
    }
    return dish.with_lines(
        answered(line, answers[line.key], is_so) if line.key in answers else line for line in dish.lines
    )


def answered(line: Line, key: str, is_so: bool) -> Line:
    """The line with it said of one row of tables/cooking_methods.tsv whether that is so."""
    rest = tuple(each for each in line.eaten if each.removeprefix(NOT) != key)
    line = replace(line, eaten=(*rest, key if is_so else f"{NOT}{key}"), state="" if line.state == key else line.state)
    # Whether it was weighed with the bone was all its own words left open.
    return replace(line, ask=NOTHING, sure="likely") if line.ask.code == _ASKED_OF_WORDS else line
