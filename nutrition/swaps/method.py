"""Steps follow the dish: which steps name a food that was replaced or left out, with a wording to take instead."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from nutrition.dish.line import Line
from nutrition.reading.lines import parse


@dataclass(frozen=True, slots=True)
class StepNow:
    """A step of the recipe. `names`: what it names that is no longer there; `proposed`: the step as it might read."""

    text: str
    names: tuple[str, ...] = ()
    proposed: str = ""


def _words_of(line: Line) -> list[str]:
    """What a step may call a line: its whole name, then its last word, longest first."""
    parsed = parse(line.text)
    name = (parsed.names[0] if parsed.names else "").lower()
    words = re.findall(r"[a-zà-ÿ]{4,}", name)
    return sorted({name, *words[-1:]} - {""}, key=len, reverse=True)


def steps_now(steps: Sequence[str], changed: Sequence[tuple[Line, str]]) -> list[StepNow]:
    """Every step, marked where it names a changed line. `changed`: (line as written, what stands there now, or "").

    >>> from nutrition.reading.recipe import read_line
    >>> steps_now(["Melt the butter."], [(read_line("100 g butter"), "olive oil")])[0].proposed
    'Melt the olive oil.'
    """
    found = []
    for step in steps:
        names, proposed = [], step
        for line, now in changed:
            for words in _words_of(line):
                pattern = re.compile(rf"\b{re.escape(words)}(?:s|es)?\b", re.I)
                if pattern.search(proposed):
                    names.append(words)
                    proposed = pattern.sub(now or f"(no {words})", proposed)
                    break
        found.append(StepNow(step, tuple(names), proposed if names else ""))
    return found
