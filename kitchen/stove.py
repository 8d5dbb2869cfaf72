"""What the kitchen shows: one step with what goes into it, what may still be spent, and how the pot stands."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

from bench.sight import Gauge
from nutrition.dish.cooking import methods
from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.method import LEFT_IN_PAN, LEFT_OVER, PEEL
from nutrition.dish.naming import name_first
from nutrition.food.measures import household_measure
from nutrition.food.table import foods
from nutrition.limits.gates import Gate
from nutrition.reading.course import CookStep, Course, course_of
from nutrition.reading.whole import whole_dish
from nutrition.sheet.analysis import analyze
from nutrition.sheet.examine import Sheet, examine
from nutrition.sheet.safety import Rule, safety_of
from nutrition.sheet.verdicts import judge
from nutrition.stove.cooked import (
    SPENT,
    Difference,
    Effort,
    Tap,
    as_cooked,
    differences,
    effort_of,
    limits_mark,
    weighable,
)
from nutrition.stove.spending import Allowance, allowances, divide, left, measure
from people.regimen import Regimen, regimen_of

from .actions import taps_of
from .models import Cook
from .models import Tap as KeptTap

#: Way in which something stays behind -> what is put on the scale.
LEFT_BEHIND = {
    LEFT_IN_PAN: "oil left in the pan",
    LEFT_OVER: "left on the plate",
    "bone": "bones",
    "shell": "shells",
    "pit": "stones",
    "cob": "cobs",
    PEEL: "peel, skin or stalks",
}


@dataclass(frozen=True, slots=True)
class InHand:
    """One ingredient at the stove. `planned` and `line` (now) may be missing: skipped, or added here.

    `counted`: the kind it is counted out of (salt), so it is not weighed by itself. `is_done`: something was recorded.
    """

    key: str
    planned: Line | None
    line: Line | None
    is_first: bool
    steps: tuple[int, ...]
    counted: str
    is_done: bool

    @property
    def stands(self) -> Line:
        """What is in hand, or was to be."""
        line = self.line or self.planned
        if line is None:
            raise ValueError("what is in hand was planned or added")
        return line

    @property
    def name(self) -> str:
        return name_first(self.stands)

    @property
    def words(self) -> str:
        """As the recipe writes it, where that still holds."""
        return self.planned.text if self.planned and not self.planned.is_edited else ""

    @property
    def measure(self) -> str:
        line = self.stands
        if not line.food_id or not line.grams:
            return ""
        return household_measure(foods().by_id(line.food_id), line.span.likely)

    @property
    def grams(self) -> float | None:
        return self.line.grams if self.line else None

    @property
    def left_behind(self) -> str:
        """What of it may stay behind and can be weighed ("bones", "oil left in the pan", and no marinade); empty where nothing can."""
        rows = weighable(self.line) if self.line and self.line.grams else ()
        return ", ".join(dict.fromkeys(LEFT_BEHIND[methods()[row].left] for row in rows))

    @property
    def is_vague(self) -> bool:
        return self.stands.is_vague

    @property
    def may_be(self) -> list[tuple[str, str]]:
        """(food id, description) of the foods its words leave open, while nobody has said which is in hand."""
        line = self.line
        if not line or not line.is_food_open:
            return []
        found = [food_id for food_id in (line.food_id, *line.others) if food_id][:4]
        return [(food_id, foods().by_id(food_id).description) for food_id in found]

    @property
    def sizes(self) -> tuple[float, ...]:
        """Grams a tap adds or takes: about a twentieth, a tenth and a quarter of the line, in round figures."""
        grams = (self.line.grams if self.line else None) or 20.0
        return tuple(dict.fromkeys(_round(grams * share) for share in (0.05, 0.1, 0.25)))


def _round(grams: float) -> float:
    """The nearest 1, 2 or 5 of its decade, at least 0.1 g."""
    ladder = [base * 10**power for power in range(-1, 4) for base in (1, 2, 5)]
    return min(ladder, key=lambda step: abs(step - grams))


@dataclass(frozen=True, slots=True)
class Counted:
    """An allowance as it stands: planned over the steps, spent so far."""

    allowance: Allowance
    shares: dict[int, float]
    spent: dict[int, float]

    @property
    def key(self) -> str:
        return self.allowance.spendable.key

    @property
    def spent_name(self) -> str:
        """Its field at dishing up."""
        return f"spent-{self.key}"

    @property
    def used(self) -> float:
        return round(sum(self.spent.values()), 2)

    @property
    def left(self) -> float | None:
        return None if self.allowance.grams is None else left(self.allowance.grams, self.spent)

    @property
    def is_beyond(self) -> bool:
        """More was spent than was weighed out; the post may still have room."""
        return self.left is not None and self.left < -0.001

    @property
    def over(self) -> float:
        """Grams spent beyond what the posts leave; 0 while they hold."""
        return max(round(self.used - self.allowance.room, 2), 0.0) if self.allowance.room is not None else 0.0

    @property
    def percent_used(self) -> int:
        return min(round(100 * self.used / self.allowance.grams), 100) if self.allowance.grams else 100

    @property
    def by_step(self) -> list[tuple[int, float, float]]:
        """(step, planned grams, spent grams) of every step that has either."""
        return [(n, self.shares.get(n, 0.0), self.spent.get(n, 0.0)) for n in sorted({*self.shares, *self.spent})]

    @property
    def measure(self) -> str:
        return self.allowance.measure

    def now(self, step: int) -> float:
        """Grams planned for this step and not yet spent in it."""
        return round(max(self.shares.get(step, 0.0) - self.spent.get(step, 0.0), 0.0), 1)

    def spoon(self, grams: float) -> str:
        return measure(self.allowance.food_id, grams)


@dataclass(frozen=True)
class Stove:
    """Everything cook mode draws for one step; step 0 is for laying out."""

    cook: Cook
    number: int
    steps: tuple[CookStep, ...]
    in_hand: list[InHand]
    chosen: InHand | None
    counted: list[Counted]
    gauges: list[Gauge]
    added: list[InHand]
    minutes_planned: int
    inside: tuple[Rule, ...]
    unnamed: tuple[str, ...] = ()

    @property
    def step(self) -> CookStep | None:
        return self.steps[self.number - 1] if 0 < self.number <= len(self.steps) else None

    @property
    def last(self) -> int:
        return len(self.steps)

    @property
    def before(self) -> int | None:
        return self.number - 1 if self.number > 0 else None

    @property
    def after(self) -> int | None:
        return self.number + 1 if self.number < self.last else None

    @property
    def spend_now(self) -> list[tuple[Counted, float, str]]:
        """(what is counted, grams for this step, in spoons) where this step has a part of it."""
        return [(each, each.now(self.number), each.spoon(each.now(self.number))) for each in self.counted
                if each.shares.get(self.number)]  # fmt: skip


def course_of_cook(cook: Cook) -> Course:
    """The steps of a cook, with what each takes in hand."""
    plan = whole_dish(cook.plan)
    return course_of(plan.steps, plan.lines)


def _steps_of(course: Course, line: int) -> tuple[int, ...]:
    return next((use.steps for step in course.steps for use in step.uses if use.line == line), ())


def counted_of(cook: Cook, taps: Sequence[KeptTap], course: Course, gates: Sequence[Gate]) -> list[Counted]:
    """What is counted out in this cook, with what every step has had of it. `taps` as the database keeps them."""
    found = []
    for allowance in allowances(cook.plan, gates):
        key = allowance.spendable.key
        own = cook.shares.get(key)
        at_once = not allowance.spendable.is_always
        shares = (
            {int(step): grams for step, grams in own.items()}
            if own is not None
            else divide(allowance.grams or 0.0, course, allowance.lines, at_once=at_once)
        )
        spent: dict[int, float] = {}
        for tap in taps:
            if tap.kind == SPENT and tap.key == key:
                spent[tap.step] = round(spent.get(tap.step, 0.0) + (tap.grams or 0.0), 2)
        found.append(Counted(allowance, shares, spent))
    return found


def _still_to_come(counted: Sequence[Counted]) -> list[Tap]:
    """What was weighed out and is not spent yet goes in too: the small dish stands in for the recipe's own amount."""
    return [Tap(SPENT, each.key, max(each.left, 0.0)) for each in counted if each.left is not None]


def look_at(cook: Cook, number: int | None = None, line: str = "") -> Stove:
    """Cook mode at a step."""
    taps, plan = list(cook.taps.filter(taken_back_at=None)), whole_dish(cook.plan)
    core_taps = [tap.as_tap() for tap in taps]
    pot, course = as_cooked(plan, core_taps), course_of_cook(cook)
    number = min(max(cook.at_step if number is None else number, 0), len(course.steps))
    bench = cook.attempt.bench
    gates = regimen_of(bench.person, bench.role).eater.gates(bench.meal)
    counted = counted_of(cook, taps, course, gates)
    in_hand = _in_hand(plan, pot, course, number, counted, {tap.key for tap in taps if tap.kind != SPENT})
    planned_keys = {each.key for each in plan.lines}
    added = [
        InHand(each.key, None, each, True, (), "", True)
        for each in pot.lines
        if each.key not in planned_keys and not each.key.startswith("spent-")
    ]
    choosable = [each for each in in_hand + added if not each.counted]
    chosen = next((each for each in choosable if each.key == line), None) or next(
        (each for each in choosable if each.is_first and not each.is_done and each.line), None
    )
    written = analyze(plan)
    forecast = as_cooked(plan, [*core_taps, *_still_to_come(counted)])
    verdicts = judge(gates, analyze(forecast)) if forecast.lines else []
    return Stove(
        cook=cook,
        number=number,
        steps=course.steps,
        in_hand=in_hand,
        chosen=chosen,
        counted=counted,
        gauges=[Gauge(v, written.amount(v.gate.nutrient), False) for v in verdicts],
        added=added,
        minutes_planned=course.minutes,
        inside=safety_of(plan.lines).inside,
        unnamed=tuple(plan.lines[at].key for at in course.unnamed),
    )


def _in_hand(
    plan: Dish, pot: Dish, course: Course, number: int, counted: Sequence[Counted], touched: Collection[str]
) -> list[InHand]:
    """What a step takes in hand; step 0 lays everything out."""
    counted_by_line = {
        at: each.key for each in counted for at in each.allowance.lines if each.allowance.grams is not None
    }
    uses = (
        [(use.line, use.is_first, use.steps) for use in course.steps[number - 1].uses]
        if number
        else [(at, True, _steps_of(course, at)) for at in range(len(plan.lines))]
    )
    found = []
    for at, is_first, steps in uses:
        line = plan.lines[at]
        is_done, kind = line.key in touched, counted_by_line.get(at, "")
        found.append(InHand(line.key, line, pot.line(line.key), is_first, steps, kind, is_done))
    return found


@dataclass(frozen=True)
class AsCooked:
    """Planned beside cooked, with what made the difference."""

    cook: Cook
    gauges: list[Gauge]
    sheet: Sheet
    differences: list[Difference]
    effort: Effort
    mark: float
    serves: float

    @property
    def tally(self) -> dict[str, int]:
        states = [gauge.verdict.state for gauge in self.gauges] + [item.state for item in self.sheet.avoided]
        return {state: states.count(state) for state in ("open", "shut", "unsure")}


def as_cooked_of(cook: Cook, regimen: Regimen | None = None) -> AsCooked:
    """A finished cook held against the person's gates. `regimen`: of the person, if it was read already."""
    bench = cook.attempt.bench
    eater = (regimen or regimen_of(bench.person, bench.role)).eater
    edit = cook.result.edits.first() if cook.result else None
    serves = cook.serves_cooked or cook.plan.serves
    dish = replace(edit.dish if edit else as_cooked(cook.plan, taps_of(cook)), serves=serves, title=bench.recipe.title)
    weight = cook.cooked_g / serves if cook.cooked_g else None
    sheet = examine(dish, eater, bench.meal, notes=cook.notes, cooked_serving_g=weight)
    planned = analyze(cook.plan)
    return AsCooked(
        cook=cook,
        gauges=[Gauge(v, planned.amount(v.gate.nutrient), False) for v in sheet.verdicts],
        sheet=sheet,
        differences=differences(cook.plan, dish, [verdict.gate for verdict in sheet.verdicts]),
        effort=effort_of(dish.lines, course_of_cook(cook)),
        mark=limits_mark(sheet.verdicts, [item.state for item in sheet.avoided]),
        serves=serves,
    )
