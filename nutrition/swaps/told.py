"""What a colleague would say with a way through: what to do differently, to buy, to read on labels, to mind."""

from collections.abc import Sequence
from dataclasses import dataclass

from nutrition.dish.line import Line
from nutrition.dish.naming import called, name_of
from nutrition.food.names import is_water
from nutrition.food.tags import TAGS
from nutrition.limits.avoid import find
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.cautions import cautions_for
from nutrition.swaps.balance import totals
from nutrition.swaps.offers import Workbench
from nutrition.swaps.preparations import tips_of
from nutrition.swaps.sides import BESIDE

#: What the tongue tells, by the measure of the whole; told where it is so much another, and there is so much of it a
#: serving, in grams.
TASTES = {"salt": "salt", "sweet": "sweetness", "fat": "fat"}
CLEARLY_OTHER, LEAST_TASTED = 0.15, 0.3


@dataclass(frozen=True, slots=True)
class Label:
    """A line whose label decides about something a plan keeps out: what it is, and what to look for."""

    line: str
    what: str
    look_for: str


@dataclass(frozen=True, slots=True)
class Told:
    """`do`: (food, what to do differently with it). `to_buy`: foods the dish did not have. `labels`: before the first
    spoon. `mind`: reminders that the dish did not bring before. `taste`: what the whole tastes less or more of; `minutes`:
    more work."""

    do: tuple[tuple[str, str], ...]
    to_buy: tuple[str, ...]
    labels: tuple[Label, ...]
    mind: tuple[str, ...]
    taste: tuple[str, ...] = ()
    minutes: int = 0


def told(
    bench: Workbench,
    lines: Sequence[Line],
    serves: float | None = None,
    left_out: Sequence[tuple[str, str]] = (),
    minutes: int = 0,
) -> Told:
    """What goes with the dish that a way leads to. `lines`: all of it; `serves`: where that changed too; `left_out`: what
    is gone with what to do differently without it; `minutes`: more work.
    """
    written = {line.food_id for line in bench.lines}
    new = [line for line in lines if line.food_id and line.food_id not in written and not is_water(line.food_id)]
    keys = {line.key: line for line in bench.lines}
    changed = [line for line in lines if line.is_edited and keys.get(line.key) != line]
    return Told(
        do=(*tips_of(changed), *left_out),
        to_buy=tuple(dict.fromkeys(name_of(line) for line in new)),
        labels=_labels(bench, lines),
        mind=_mind(bench, lines, serves or bench.serves),
        taste=_taste(bench, lines, serves or bench.serves),
        minutes=minutes,
    )


def _taste(bench: Workbench, lines: Sequence[Line], serves: float) -> tuple[str, ...]:
    """What a serving of the pot tastes clearly less or more of than as written; sides have a taste of their own."""
    was, now = totals(bench.lines), totals([line for line in lines if line.heading != BESIDE])
    found = []
    for measure, what in TASTES.items():
        before, after = was[measure] / bench.serves, now[measure] / serves
        if before >= LEAST_TASTED and abs(after / before - 1) >= CLEARLY_OTHER:
            share = abs(after / before - 1)
            found.append(f"{share:.0%} {'less' if after < before else 'more'} {what}".replace("%", " %"))
    return tuple(found)


def _labels(bench: Workbench, lines: Sequence[Line]) -> tuple[Label, ...]:
    found: dict[tuple[str, str], str] = {}
    for finding in find(lines, bench.kept_out, bench.eater.allergen_list):
        for at in finding.by_label:
            found.setdefault((called(lines[at]), TAGS[finding.tag].lower()), "; ".join(finding.look_for_in(at)))
    return tuple(Label(line, what, look_for) for (line, what), look_for in found.items())


def _mind(bench: Workbench, lines: Sequence[Line], serves: float) -> tuple[str, ...]:
    """Reminders of the new dish that the old one had no cause for."""
    eater, limited = bench.eater, {gate.nutrient for gate in bench.gates if gate.high}

    def texts(of: Sequence[Line], portions: float) -> dict[str, str]:
        analysis = analyze_lines(of, portions)
        found = cautions_for(of, list(eater.plans), limited, eater.facts.circumstances, analysis, bench.dish.steps)
        return {caution.key: caution.text for caution in found}

    before = texts(bench.lines, bench.serves)
    return tuple(text for key, text in texts(lines, serves).items() if key not in before)
