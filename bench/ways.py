"""Offers for a line and ways through for a dish, asked of the core and worded for the bench."""

from dataclasses import dataclass
from functools import lru_cache

from nutrition.sheet.analysis import analyze
from nutrition.sheet.verdicts import judge
from nutrition.swaps.jobs import kind_of_dish
from nutrition.swaps.offers import Workbench, dislikes_of
from nutrition.swaps.way_through import after_steps
from pantry.models import own_rules

from .actions import as_json, as_line


@lru_cache(maxsize=512)
def _kind(title, steps, words):
    class Named:
        description = words

    return kind_of_dish(title, steps, [Named()])


def workbench_of(bench, step, eater):
    """The dish as a step has it, for the person of the bench."""
    lines = tuple(as_line(row) for row in step.lines)
    words = " ".join(line.description or "" for line in lines)
    kind = _kind(bench.recipe.title, tuple(bench.recipe.all_steps), words)
    dislikes = dislikes_of(bench.person.dislikes)
    jobs = {i: tuple(bench.jobs[row["key"]]) for i, row in enumerate(step.lines) if row["key"] in bench.jobs}
    return Workbench(lines, step.serves, eater, bench.meal, kind, dislikes, own_rules(), jobs)


@dataclass(frozen=True, slots=True)
class WayStep:
    """One step of a way, with the verdicts after it and the lines as the database keeps them."""

    text: str
    verdicts: list
    rows: list
    serves: float

    @property
    def tally(self):
        states = [verdict.state for verdict in self.verdicts]
        return {state: states.count(state) for state in ("open", "shut", "unsure")}


def steps_of(workbench, step, way):
    """Every step of a way, the gates after each."""
    keys, found = [row["key"] for row in step.lines], []
    for count in range(1, len(way.changes) + 1):
        placed = after_steps(workbench, way, count)
        lines = [line for _, line in placed]
        rows = []
        for position, line in placed:
            key = keys[position] if position < len(keys) else None
            rows.append(as_json(line, key))
        verdicts = judge(workbench.gates, analyze(lines, way.serves))
        found.append(WayStep(way.changes[count - 1].text, verdicts, rows, way.serves))
    return found
