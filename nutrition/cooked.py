"""As cooked: the plan with what really went in, and what made the difference.

Every tap in the kitchen is one small fact; played over the plan in order they give the dish that stands on the table.
A line nobody tapped went in as planned.
"""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from math import isfinite

from .analysis import analyze
from .composition import foods
from .edits import with_food
from .gates import OPEN, SHUT, Gate, Verdict
from .matching import cook_name
from .nutrients import INDEX
from .recipe import Line
from .spending import KINDS, Kind
from .steps import Course, course_of

WEIGHED, MORE, LESS, OTHER, SKIPPED, LONGER, SPENT, ADDED = (
    "weighed", "more", "less", "other", "skipped", "longer", "spent", "added",
)  # fmt: skip
TAPS = (WEIGHED, MORE, LESS, OTHER, SKIPPED, LONGER, SPENT, ADDED)
MOST_TAP_G = 20_000.0
#: A change below this share of a post is not worth a word.
WORTH_NAMING = 0.002

Row = tuple[str, Line]


@dataclass(frozen=True, slots=True)
class Tap:
    """One thing recorded at the stove. `key`: of a line, or of a spending kind; `grams`, `food_id` where they matter."""

    kind: str
    key: str = ""
    grams: float | None = None
    food_id: str = ""


class TapProblem(ValueError):
    """A tap that cannot be; the sentence says what was read and what to do."""


def _weighing(line: Line, grams: float, why: str) -> Line:
    """The line at what the scale shows. A weight settles the weight, never the food."""
    return replace(
        line, low=grams, grams=grams, high=grams, how="weight", rule=why, is_edited=True,
        sure=line.sure_of_food,
    )  # fmt: skip


def _from_the_scale(food_id: str, grams: float, why: str) -> Line:
    """A line nobody had planned."""
    return Line(cook_name(food_id), food_id, grams, grams, grams, "weight", "sure", why, is_edited=True)


def checked(tap: Tap, plan: Sequence[Row], taps: Sequence[Tap] = ()) -> Tap:
    """The tap, if it can be played over the plan after those `taps`. Raises TapProblem."""
    rows = as_cooked(plan, taps)
    if tap.kind not in TAPS:
        raise TapProblem(f"“{tap.kind}” was read; one of {', '.join(TAPS)} is expected.")
    if tap.kind in (WEIGHED, MORE, LESS, SPENT, ADDED):
        if tap.grams is None or not isfinite(tap.grams):
            raise TapProblem("No weight was read. Type grams, as in 12.5, or take it from the scale.")
        floor = 0.0 if tap.kind in (WEIGHED, SPENT) else 0.01
        if not floor <= tap.grams <= MOST_TAP_G:
            raise TapProblem(f"{tap.grams:,.4g} g was read; grams from {floor:g} to {MOST_TAP_G:,.0f} are expected.")
    if tap.kind in (WEIGHED, MORE, LESS, OTHER, SKIPPED):
        line = dict(rows).get(tap.key)
        if line is None:
            raise TapProblem("That line is not in this cook any more. The step below is how it stands now.")
        if tap.kind == LESS and line.grams is not None and tap.grams > line.grams + 1e-9:
            raise TapProblem(
                f"{tap.grams:g} g less was read, and only {line.grams:.4g} g are in. Skip the line instead."
            )
        if tap.kind in (MORE, LESS) and line.grams is None:
            raise TapProblem("This line has no weight yet. Weigh what went in instead.")
    if tap.kind in (OTHER, ADDED):
        try:
            foods().by_id(tap.food_id)
        except KeyError:
            raise TapProblem("That food is not in the table. Search for it again.") from None
    if tap.kind == SPENT:
        kind = next((kind for kind in KINDS if kind.key == tap.key), None)
        if kind is None:
            raise TapProblem(f"“{tap.key}” is not counted out here.")
        if kind.lines_of([line for _, line in plan]) is None:
            raise TapProblem(f"{kind.label}: the recipe has several foods of it. Weigh each by itself.")
    return tap


def _played(rows: list[Row], tap: Tap, number: int) -> list[Row]:
    at = next((i for i, (key, _) in enumerate(rows) if key == tap.key), None)
    if tap.kind == ADDED:
        key, taken = f"k{number}", dict(rows)
        while key in taken:  # what is cooked was itself cooked before, with something added
            key += "k"
        return [*rows, (key, _from_the_scale(tap.food_id, tap.grams, "weighed in"))]
    if at is None:
        return rows
    key, line = rows[at]
    if tap.kind == SKIPPED:
        return rows[:at] + rows[at + 1 :]
    if tap.kind == OTHER:
        line = with_food(line, tap.food_id)
        if tap.grams is not None:
            line = _weighing(line, tap.grams, "weighed in")
    elif tap.kind == WEIGHED:
        line = _weighing(line, tap.grams, "weighed in") if tap.grams else None
    elif tap.kind in (MORE, LESS) and line.grams is not None:
        by = tap.grams if tap.kind == MORE else -tap.grams
        low, grams, high = (max(side + by, 0.0) for side in (line.low, line.grams, line.high))
        line = replace(line, low=low, grams=grams, high=high, is_edited=True)
    return rows[:at] + ([(key, line)] if line else []) + rows[at + 1 :]


def as_cooked(plan: Sequence[Row], taps: Iterable[Tap]) -> list[Row]:
    """(key, line) of what is in the pot. What is counted out (salt, sugar, fat) replaces its planned lines once spent.

    What was added at the stove stands beside it. Taps that no longer fit (a line that was skipped meanwhile) change nothing.
    """
    rows, spent = list(plan), {}
    for number, tap in enumerate(taps):
        if tap.kind == SPENT:
            spent[tap.key] = spent.get(tap.key, 0.0) + (tap.grams or 0.0)
        else:
            rows = _played(rows, tap, number)
    for kind in KINDS:
        planned = kind.lines_of([line for _, line in plan])
        if kind.key in spent and planned is not None:
            rows = _counted_out(rows, kind, {plan[i][0] for i in planned}, spent[kind.key])
    return rows


def _counted_out(rows: list[Row], kind: Kind, planned: set[str], grams: float) -> list[Row]:
    """The planned lines of a kind become one with what was spent; none are left: it is added."""
    own = [i for i, (key, line) in enumerate(rows) if key in planned and kind.has(line)]
    if not own:
        line = _from_the_scale(foods().by_description(kind.food).id, grams, "spent by weight")
        return [*rows, (f"spent-{kind.key}", line)] if grams else rows
    heaviest = max(own, key=lambda i: rows[i][1].grams or 0.0)
    key, line = rows[heaviest]
    new = (key, _weighing(line, grams, "spent by weight"))
    return [new if i == heaviest else row for i, row in enumerate(rows) if i == heaviest or i not in own]


@dataclass(frozen=True, slots=True)
class Difference:
    """One line that came out otherwise. `by_gate`: nutrient -> what it changed in one serving."""

    name: str
    planned_g: float | None
    cooked_g: float | None
    by_gate: dict[str, float]


def _parts(rows: Sequence[Row], serves: float) -> dict[str, tuple[Line, object]]:
    lines = [line for _, line in rows]
    by_line = analyze(lines, serves).by_line if lines else []
    return {key: (line, by_line[i]) for i, (key, line) in enumerate(rows)}


def differences(
    plan: Sequence[Row], cooked: Sequence[Row], serves: float, cooked_serves: float, gates: Sequence[Gate]
) -> list[Difference]:
    """What made the difference between plan and pot, the largest share of any post first."""
    was, now = _parts(plan, serves), _parts(cooked, cooked_serves)
    found = []
    for key in dict.fromkeys([*was, *now]):
        before, after = was.get(key), now.get(key)
        line = (after or before)[0]
        planned, went_in = (each[0].grams if each else None for each in (before, after))
        same_food = before and after and before[0].food_id == after[0].food_id
        if same_food and planned == went_in and serves == cooked_serves:
            continue
        by_gate = {}
        for gate in gates:
            column = INDEX[gate.nutrient]
            change = (float(after[1][column]) if after else 0.0) - (float(before[1][column]) if before else 0.0)
            if abs(change) > WORTH_NAMING * (gate.high or gate.low).limit:
                by_gate[gate.nutrient] = change
        found.append(Difference(line.name[:1].upper() + line.name[1:], planned, went_in, by_gate))
    posts = {gate.nutrient: (gate.high or gate.low).limit or 1.0 for gate in gates}
    return sorted(found, key=lambda d: -max((abs(v) / posts[k] for k, v in d.by_gate.items()), default=0.0))


@dataclass(frozen=True, slots=True)
class Effort:
    """What a dish asks of the cook. `minutes` as the steps name them; `pans` as the steps name vessels."""

    steps: int
    ingredients: int
    pans: int
    minutes: int


_PANS = re.compile(
    r"\b(?:sauce|frying |wide |heavy |large |small )?(pan|pot|saucepan|skillet|wok|casserole|tray|baking sheet|tin|bowl|dish|"
    r"blender|processor|mixer|colander|sieve|griddle|steamer)s?\b",
    re.I,
)


def effort_of(lines: Sequence[Line], texts: Sequence[str], course: Course | None = None) -> Effort:
    """
    >>> effort_of([], ["Heat oil in a wide pan for 5 minutes.", "Whisk in a bowl, tip into the pan."])
    Effort(steps=2, ingredients=0, pans=2, minutes=5)
    """
    course = course or course_of(texts, lines)
    pans = {found[1].lower() for text in texts for found in _PANS.finditer(text)}
    return Effort(len(texts), len(lines), len(pans), course.minutes)


def limits_mark(verdicts: Sequence[Verdict], avoided_states: Sequence[str] = ()) -> float:
    """How a dish keeps the limits, out of ten, to a half: the tool's mark beside the tasters'.

    Every gate counts alike: open 1, can't tell a half, shut less the farther it is over (nothing at half as much
    again). Anything found that a plan keeps out: nothing at all. A rule of this tool, stated on the tasting page.
    """
    if SHUT in avoided_states:
        return 0.0
    scores = [1.0 if state == OPEN else 0.5 for state in avoided_states]
    for verdict in verdicts:
        if verdict.state == OPEN:
            scores.append(1.0)
        elif verdict.state != SHUT:
            scores.append(0.5)
        else:
            scores.append(max(0.0, 0.5 - _miss(verdict)))
    return round(20 * sum(scores) / len(scores)) / 2 if scores else 10.0


def _miss(verdict: Verdict) -> float:
    gate = verdict.gate
    if gate.is_conflict:
        return 1.0
    if gate.high and verdict.at_least > gate.high.limit:
        return (verdict.at_least - gate.high.limit) / gate.high.limit if gate.high.limit else 1.0
    return (gate.low.limit - verdict.at_most) / gate.low.limit if gate.low and gate.low.limit else 1.0
