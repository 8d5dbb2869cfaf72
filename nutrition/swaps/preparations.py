"""What takes a line's place as a small preparation: what it is called, its own step, and when it is made. tables/preparations.tsv."""

import functools
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from nutrition.dish.line import Line
from nutrition.dish.naming import name_of
from nutrition.tables import Row, read_table

EVENING, START, BEFORE, NONE = "evening", "start", "before", "none"


@dataclass(frozen=True, slots=True)
class Preparation:
    """`called`: what it is from then on, empty where its foods keep their names; `made`: evening, start, before or none; `step`: with {0},
    {1} ... for its foods."""

    called: str
    made: str
    step: str


@functools.cache
def preparations() -> dict[str, Preparation]:
    """Rule of swaps.tsv -> what it makes."""
    return {row.text("rule"): _preparation(row) for row in read_table("preparations.tsv")}


def _preparation(row: Row) -> Preparation:
    made = row.one_of("made", (EVENING, START, BEFORE, NONE))
    return Preparation(row["called"], made, row["step"])


def heading_of(rule: str) -> str:
    """What its foods stand under in the list; empty where nothing is made."""
    made = preparations().get(rule)
    return made.called.capitalize() if made and made.called else ""


@dataclass(frozen=True, slots=True)
class Made:
    """A preparation as it stands in a dish: its name, when it is made, and its step as a cook reads it; `step` empty where none is."""

    name: str
    when: str
    step: str

    @property
    def is_one(self) -> bool:
        """Whether it is one thing, whatever was counted before."""
        return bool(self.step)


def made_of(lines: Sequence[Line]) -> Made:
    """What stands in one line's place: a preparation, or the foods by their names.

    >>> from nutrition.reading.recipe import read_line
    >>> from dataclasses import replace
    >>> made_of([replace(read_line(text), made="egg-binds-mix") for text in ("14 g flaxseed", "90 g water")])
    Made(name='flax gel', when='start', step='For the flax gel, stir the flaxseed, ground, into the water and let it stand for 10 minutes.')
    """
    rule = preparations().get(lines[0].made)
    names = [name_of(line) for line in lines]
    if not rule or not rule.called or rule.step.count("{") != len(lines):
        return Made(_joined(names), NONE, "")
    step = rule.step.format(*(f"the {name}" for name in names))
    opens = "The evening before: for" if rule.made == EVENING else "For"
    return Made(rule.called, rule.made, f"{opens} the {rule.called}, {step[:1].lower()}{step[1:]}")


def made_by_state(lines: Sequence[Line]) -> list[Made]:
    """The steps of what the kitchen does to lines and no step of the recipe says: boiled twice, soaked, trimmed; each once for all of them."""
    found: dict[str, list[str]] = {}
    for line in lines:
        if line.state in preparations():
            found.setdefault(line.state, []).append(f"the {name_of(line)}")
    rows = ((preparations()[state], names) for state, names in found.items())
    return [Made("", row.made, row.step.format(_joined(names))) for row, names in rows]


#: What a rule says where there is nothing to do differently.
_NOTHING_DIFFERENT = "Use it the same way."


def tips_of(lines: Sequence[Line]) -> list[tuple[str, str]]:
    """(what it is about, what to do differently) of every line that says so; a preparation speaks once, under its own name.

    >>> from dataclasses import replace
    >>> stock = replace(Line("stock"), advice="Season at the end.")
    >>> gel = [replace(Line(food), advice="Chill it.", made="egg-binds-mix") for food in ("flaxseed", "water")]
    >>> tips_of([stock, *gel])
    [('Stock', 'Season at the end.'), ('Flax gel', 'Chill it.')]
    """
    found: dict[str, dict[str, None]] = {}
    for line in lines:
        if line.advice and line.advice != _NOTHING_DIFFERENT:
            made = preparations().get(line.made)
            found.setdefault(line.advice, {})[made.called if made and made.called else name_of(line)] = None
    return [(_capital(", ".join(names)), advice) for advice, names in found.items()]


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]


def _joined(names: Iterable[str]) -> str:
    *first, last = dict.fromkeys(names)
    return f"{', '.join(first)} and {last}" if first else last
