"""As cooked: the plan with what really went in, and what made the difference.

Every tap in the kitchen is one small fact; played over the plan in order they give the dish that stands on the table.
A line nobody tapped went in as planned.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from math import isfinite

from nutrition.dish.cooking import methods
from nutrition.dish.dish import Dish
from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.dish.method import LEFT_IN_PAN, LEFT_OVER, REFUSE
from nutrition.dish.naming import name_first
from nutrition.dish.standing import standing
from nutrition.food.names import cook_name
from nutrition.food.nutrients import INDEX
from nutrition.food.table import Floats, foods
from nutrition.limits.gates import Gate
from nutrition.notes import Note, Problem, note
from nutrition.reading.course import Course
from nutrition.reading.eaten import answered
from nutrition.reading.edits import with_food
from nutrition.reading.whole import whole_dish, without
from nutrition.sheet.analysis import analyze
from nutrition.sheet.verdicts import OPEN, SHUT, Verdict
from nutrition.stove.spending import SPENDABLES, Spendable

WEIGHED, MORE, LESS, OTHER = "weighed", "more", "less", "other"
SKIPPED, LONGER, SPENT, ADDED = "skipped", "longer", "spent", "added"
#: What stayed behind of a line: bones, shells, oil of the pan, flour it was turned in.
LEFT = "left"
TAPS = (WEIGHED, MORE, LESS, OTHER, SKIPPED, LONGER, SPENT, ADDED, LEFT)
MOST_TAP_G = 20_000.0
#: A change below this share of a post is not worth a word.
WORTH_NAMING = 0.002


@dataclass(frozen=True, slots=True)
class Tap:
    """One thing recorded at the stove. `key`: of a line, or of a spending kind; `grams`, `food_id` where they
    matter."""

    kind: str
    key: str = ""
    grams: float | None = None
    food_id: str = ""


_WEIGHED_IN, _SPENT_BY_WEIGHT = note("stove.weighed_in"), note("stove.spent_by_weight")


def _from_the_scale(food_id: str, grams: float, rule: Note, key: str) -> Line:
    """A line nobody had planned."""
    return standing(
        Line(cook_name(food_id), food_id, Grams.exactly(grams), "weight", "sure", key, rule, is_edited=True)
    )


def checked(tap: Tap, plan: Dish, taps: Sequence[Tap] = ()) -> Tap:
    """The tap, if it can be played over the plan after those `taps`. Raises Problem."""
    if tap.kind not in TAPS:
        raise Problem("stove.tap_unknown", kind=tap.kind, names=", ".join(TAPS))
    if tap.kind in (WEIGHED, MORE, LESS, SPENT, ADDED, LEFT):
        if tap.grams is None or not isfinite(tap.grams):
            raise Problem("stove.no_weight")
        least = 0.0 if tap.kind in (WEIGHED, SPENT, LEFT) else 0.01
        if not least <= tap.grams <= MOST_TAP_G:
            raise Problem("stove.weight_out_of_range", grams=tap.grams, least=least, most=MOST_TAP_G)
    if tap.kind in (WEIGHED, MORE, LESS, OTHER, SKIPPED, LEFT):
        _check_line(tap, as_cooked(plan, taps).line(tap.key))
    if tap.kind in (OTHER, ADDED) and not foods().has_id(tap.food_id):
        raise Problem("stove.food_gone")
    if tap.kind == SPENT:
        spendable = next((each for each in SPENDABLES if each.key == tap.key), None)
        if spendable is None:
            raise Problem("stove.not_counted_out", key=tap.key)
        if spendable.lines_of(plan.lines) is None:
            raise Problem("stove.several_foods", label=spendable.label)
    return tap


def weighable(line: Line) -> tuple[str, ...]:
    """Rows of tables/cooking_methods.tsv by which something of the line itself may stay behind: bone, shell, oil of the pan, flour it was
    turned in. What a marinade, a sieve or a cloth holds back is a mixture, and its weight says nothing of this line."""
    own = (LEFT_IN_PAN, LEFT_OVER, *REFUSE)
    return tuple(key for key, _ in line.left_open if methods()[key].left in own)


def _check_line(tap: Tap, line: Line | None) -> None:
    """Whether a line can take the tap as it stands now. Raises Problem."""
    if line is None:
        raise Problem("stove.line_gone")
    if tap.kind in (MORE, LESS, LEFT) and line.weight is None:
        raise Problem("stove.line_without_weight")
    if tap.kind == LEFT and not weighable(line):
        raise Problem("stove.left_is_no_line", name=name_first(line))
    if tap.kind in (LESS, LEFT) and (tap.grams or 0.0) > line.span.likely + 1e-9:
        raise Problem("stove.less_than_there_is", grams=tap.grams, there=line.span.likely)


def _played(dish: Dish, tap: Tap, number: int) -> Dish:
    """The pot after one tap on a line. `number`: of the tap, for the key of what is added."""
    grams = tap.grams or 0.0
    if tap.kind == ADDED:
        key, taken = f"k{number}", {line.key for line in dish.lines}
        while key in taken:  # what is cooked was itself cooked before, with something added
            key += "k"
        return dish.with_lines((*dish.lines, _from_the_scale(tap.food_id, grams, _WEIGHED_IN, key)))
    if tap.kind == SKIPPED or (tap.kind == WEIGHED and not grams):
        return dish.with_lines(line for line in dish.lines if line.key != tap.key)
    return dish.changed(tap.key, lambda line: _with_tap(line, tap))


def _with_tap(line: Line, tap: Tap) -> Line:
    if tap.kind == OTHER:
        is_known = foods().has_id(tap.food_id)
        line = with_food(line, tap.food_id) if is_known else standing(replace(line, food_id=tap.food_id))
        return line if tap.grams is None else line.at(tap.grams, _WEIGHED_IN)
    if tap.kind == WEIGHED and tap.grams is not None:
        return line.at(tap.grams, _WEIGHED_IN)
    if tap.kind == LEFT and line.weight and tap.grams is not None:
        # Weighed: what is in now is eaten, as far as that goes.
        for key in weighable(line):
            line = answered(line, key, False)
        return line.edited(weight=line.weight and line.weight.changed(-tap.grams))
    if tap.kind in (MORE, LESS) and line.weight and tap.grams is not None:
        return line.edited(weight=line.weight.changed(tap.grams if tap.kind == MORE else -tap.grams))
    return line


def as_cooked(plan: Dish, taps: Iterable[Tap]) -> Dish:
    """What is in the pot. What is counted out (salt, sugar, fat) replaces its planned lines once spent.

    What was added at the stove stands beside it. Taps that no longer fit (a line that was skipped meanwhile) change
    nothing.
    """
    dish = plan = whole_dish(plan)
    spent: dict[str, float] = {}
    for number, tap in enumerate(taps):
        if tap.kind == SPENT:
            spent[tap.key] = spent.get(tap.key, 0.0) + (tap.grams or 0.0)
        else:
            dish = _played(dish, tap, number)
    for spendable in SPENDABLES:
        planned = spendable.lines_of(plan.lines)
        if spendable.key in spent and planned is not None:
            keys = {plan.lines[at].key for at in planned}
            dish = _counted_out(dish, spendable, keys, spent[spendable.key])
    return without(plan, dish.lines, "left out at the stove")


def _counted_out(dish: Dish, spendable: Spendable, planned: set[str], grams: float) -> Dish:
    """The planned lines become one with what was spent; none are left: it is added."""
    own = [line for line in dish.lines if line.key in planned and spendable.has(line)]
    if not own:
        food_id, key = foods().by_description(spendable.food).id, f"spent-{spendable.key}"
        line = _from_the_scale(food_id, grams, _SPENT_BY_WEIGHT, key)
        return dish.with_lines((*dish.lines, line)) if grams else dish
    heaviest = max(own, key=lambda line: line.span.likely)
    gone = {line.key for line in own} - {heaviest.key}
    left = dish.with_lines(line for line in dish.lines if line.key not in gone)
    return left.changed(heaviest.key, lambda line: line.at(grams, _SPENT_BY_WEIGHT))


@dataclass(frozen=True, slots=True)
class Difference:
    """One line that came out otherwise. `by_gate`: nutrient -> what it changed in one serving."""

    name: str
    planned_g: float | None
    cooked_g: float | None
    by_gate: dict[str, float]


def _by_key(dish: Dish) -> dict[str, tuple[Line, Floats]]:
    """Key -> the line, and what it brings to one serving in the order of nutrients.KEYS."""
    dish = whole_dish(dish)
    by_line = analyze(dish).by_line if dish.lines else ()
    return {line.key: (line, brings) for line, brings in zip(dish.lines, by_line, strict=True)}


def differences(plan: Dish, cooked: Dish, gates: Sequence[Gate]) -> list[Difference]:
    """What made the difference between plan and pot, the largest share of any post first."""
    was, now = _by_key(plan), _by_key(cooked)
    posts = {gate.nutrient: _post_of(gate) for gate in gates}
    found = []
    for key in dict.fromkeys([*was, *now]):
        before, after = was.get(key), now.get(key)
        planned, went_in = (each[0].grams if each else None for each in (before, after))
        same_food = before and after and before[0].food_id == after[0].food_id
        if same_food and planned == went_in and plan.serves == cooked.serves:
            continue
        by_gate = {}
        for nutrient, post in posts.items():
            column = INDEX[nutrient]
            change = sum(sign * float(each[1][column]) for sign, each in ((1, after), (-1, before)) if each)
            if abs(change) > WORTH_NAMING * post:
                by_gate[nutrient] = change
        there = after or before
        if there:
            found.append(Difference(name_first(there[0]), planned, went_in, by_gate))
    return sorted(found, key=lambda d: -max((abs(v) / (posts[k] or 1.0) for k, v in d.by_gate.items()), default=0.0))


def _post_of(gate: Gate) -> float:
    post = gate.high or gate.low
    return post.limit if post else 0.0


@dataclass(frozen=True, slots=True)
class Effort:
    """What a dish asks of the cook. `minutes` as the steps name them; `pans` as the steps name vessels."""

    steps: int
    ingredients: int
    pans: int
    minutes: int


def effort_of(lines: Sequence[Line], course: Course) -> Effort:
    """
    >>> from nutrition.reading.course import course_of
    >>> effort_of([], course_of(["Heat oil in a wide pan for 5 minutes.", "Whisk in a bowl, tip into the pan."], []))
    Effort(steps=2, ingredients=0, pans=2, minutes=5)
    """
    pans = {vessel for step in course.steps for vessel in step.vessels}
    return Effort(len(course.steps), len(lines), len(pans), course.minutes)


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
