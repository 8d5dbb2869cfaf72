"""Steps as somebody stands at the stove with them: what goes in, how long, how hot.

What a step leaves open (a line no step names) is listed, so that nothing is forgotten on the counter.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from nutrition.dish.line import Line
from nutrition.dish.method import Time
from nutrition.food.units import fahrenheit
from nutrition.reading.method import method_of
from nutrition.reading.state import PRODUCT
from nutrition.reading.steps import Oven, Wait, heat_of, waits_of


@dataclass(frozen=True, slots=True)
class Use:
    """A line that a step takes in hand. `is_first`: here its amount is weighed out; later steps only name it again."""

    line: int
    is_first: bool
    steps: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class CookStep:
    """One step, numbered from 1."""

    number: int
    text: str
    uses: tuple[Use, ...]
    waits: tuple[Wait, ...]
    times: tuple[Time, ...]
    oven: Oven | None
    inside_c: int | None
    vessels: tuple[str, ...] = ()

    @property
    def inside_words(self) -> str:
        return "" if self.inside_c is None else f"{self.inside_c} °C / {round(fahrenheit(self.inside_c))} °F inside"


@dataclass(frozen=True, slots=True)
class Course:
    """All the steps, and the lines no step names: they are laid out before the first."""

    steps: tuple[CookStep, ...]
    unnamed: tuple[int, ...]

    @property
    def minutes(self) -> int:
        """Time the steps name, one after another, to the last look."""
        return round(sum(wait.most_seconds for step in self.steps for wait in step.waits) / 60)


def course_of(texts: Sequence[str], lines: Sequence[Line]) -> Course:
    """The steps with what each takes in hand by name or by a word for several: what is weighed out, or named again."""
    hits: list[list[int]] = [[] for _ in lines]
    method = method_of(tuple(texts), tuple(lines))
    for step in method.steps:
        for use in step.uses:
            if use.how != PRODUCT:
                hits[use.line].append(step.number)
    steps = []
    for step in method.steps:
        uses = tuple(
            Use(position, mine[0] == step.number, tuple(mine))
            for position, mine in enumerate(hits)
            if step.number in mine
        )
        setting, inside = heat_of(step.text)
        steps.append(
            CookStep(step.number, step.text, uses, waits_of(step.text), step.times, setting, inside, step.vessels)
        )
    return Course(tuple(steps), tuple(position for position, mine in enumerate(hits) if not mine))
