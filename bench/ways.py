"""Offers for a line and ways through for a dish, asked of the core and worded for the bench."""

from dataclasses import dataclass, replace

from nutrition.dish.codec import from_data
from nutrition.dish.dish import Dish
from nutrition.dish.standing import standing_dish
from nutrition.notes import Note
from nutrition.sheet.analysis import analyze
from nutrition.sheet.verdicts import judge
from nutrition.swaps.offers import Workbench
from nutrition.swaps.telling import told as told_steps
from nutrition.swaps.told import told
from nutrition.swaps.way_through import after_steps
from pantry.models import own_rules
from ui.guard import stamp


def workbench_of(bench, dish, eater, learned=None):
    """The dish of a try, for the person of the bench. Its kind is that of the dish as written, whatever was swapped.

    `learned`: what tastings said of swaps (lessons.learned).
    """
    dish = replace(dish, kind=bench.written.kind)
    person = bench.person
    disliked = (person.dislikes, person.allergies)
    return Workbench(dish, eater, bench.meal, disliked, own_rules(), bench.jobs, learned or {})


def held_to(workbench):
    """A stamp of what the person is held to: their gates, what is kept out, what they do not eat."""
    return stamp(workbench.gates, sorted(workbench.kept_out), workbench.dislikes)


@dataclass(frozen=True, slots=True)
class Stage:
    """The dish after one change of a way, with the verdicts it has then; why the change is there, and what to do
    differently when nothing of the line is left that could say so."""

    text: Note
    verdicts: list
    dish: Dish
    why: Note | str = ""
    do: str = ""
    minutes: int = 0

    @property
    def tally(self):
        states = [verdict.state for verdict in self.verdicts]
        return {state: states.count(state) for state in ("open", "shut", "unsure")}


@dataclass(frozen=True, slots=True)
class Shown:
    """A way as it was found and kept: its number, and every change with the gates it leaves."""

    pk: int
    stages: list

    @property
    def verdicts(self):
        return self.stages[-1].verdicts if self.stages else []

    @property
    def lines(self):
        return self.stages[-1].dish.lines if self.stages else ()

    def told_to(self, workbench):
        """What a colleague would say with it."""
        dish = self.stages[-1].dish
        left_out = [(str(stage.text), stage.do) for stage in self.stages if stage.do]
        return told(workbench, dish.lines, dish.serves, left_out, sum(stage.minutes for stage in self.stages))


def shown(workbench, kept):
    """Ways as the database kept them, held against the gates once more."""
    found = []
    for row in kept:
        stages = []
        for each in row.stages:
            dish = standing_dish(from_data(each["dish"]))
            said = (each.get("why", ""), each.get("do", ""), each.get("minutes", 0))
            stages.append(Stage(each["text"], judge(workbench.gates, analyze(dish)), dish, *said))
        found.append(Shown(row.pk, stages))
    return found


def stages_of(workbench, way):
    """Every change of a way, the dish and the gates after each."""
    found = []
    for count in range(1, len(way.changes) + 1):
        lines = after_steps(workbench, way, count)
        dish = told_steps(workbench.dish, replace(workbench.dish, lines=lines, serves=way.serves))
        change = way.changes[count - 1]
        verdicts = judge(workbench.gates, analyze(dish))
        found.append(Stage(change.text, verdicts, dish, change.why, change.do, change.minutes))
    return found
