"""One oven and so many hands: what the steps of several dishes take, laid out on a line of time back from the serving.

A dish is what can be prepared at any time before, and then a chain that runs without a break from the first heat to the plate. Where
two chains want the oven at different heat, or more hands than there are, one of them is moved: done earlier and kept, or baked at the
other's heat for longer or shorter. What a dish bears: tables/waiting.tsv. Times are minutes before the serving, counted downward.
"""

import functools
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from nutrition.dish.dish import Dish
from nutrition.dish.method import FRIDGE, GRILL, HANDS, HOB, OVEN, WAIT
from nutrition.meals.table import Served
from nutrition.notes import Note, note
from nutrition.reading.course import CookStep, course_of
from nutrition.reading.steps import Oven
from nutrition.reading.steps import oven as setting_of
from nutrition.tables import read_table

#: Minutes of hands for a step, and for each line it takes in hand for the first time (common practice, from memory).
A_STEP, A_LINE = 2.0, 2.0
#: Settings no further apart than this are one; a dish that is no bread and no cake may be baked so far from its own heat.
ONE_HEAT_C, BORROWED_C = 10, 30
#: What the inside of a dish is heated to, by which a longer time at less heat is reckoned.
INSIDE_C = 85
#: An oven takes so long to be hot, and to another heat; it has so many shelves.
PREHEAT, TO_ANOTHER_HEAT, SHELVES = 15, 10, 2
#: A plan goes by this many minutes.
STEP = 5
#: What a clash of the oven or of hands weighs beside a quarter of an hour of waiting, and another heat than one's own.
COST_OVEN, COST_HANDS, COST_BORROWED = 1_000.0, 20.0, 0.8
_PREHEATING = re.compile(r"(?:^|(?<=\. ))(?:pre-?heat|heat|set)\b[^.]*\boven\b[^.]*\.?", re.I)
_SHELF = re.compile(r"\b(top|upper|middle|lower|bottom)\s+(?:shelf|rack|third)", re.I)


@dataclass(frozen=True, slots=True)
class Stretch:
    """A time one step takes: `kind` hands, hob, oven or wait; `needs_hands`: somebody stands by. `c`: the oven, °C; `step`: from 1."""

    step: int
    kind: str
    minutes: float
    needs_hands: bool
    c: int | None = None
    shelf: str = ""


@dataclass(frozen=True, slots=True)
class Task:
    """A stretch on the line: from `start` to `end` minutes before the serving, `start` the larger. `cook`: who does it, from 0;
    None where nobody is needed, or nobody is free."""

    dish: int
    stretch: Stretch
    start: float
    end: float
    cook: int | None = None


@dataclass(frozen=True, slots=True)
class Clash:
    """Two dishes that want one oven, or hands that are not there, from `start` to `end` minutes before the serving."""

    kind: str
    dishes: tuple[int, ...]
    start: float
    end: float


@dataclass(frozen=True, slots=True)
class Placed:
    """A dish on the line: ready so many minutes early, and at another heat than its own where that is set. `tasks` in order."""

    dish: int
    early: float
    tasks: tuple[Task, ...]
    own_c: int | None = None
    borrowed_c: int | None = None


@dataclass(frozen=True, slots=True)
class Timeline:
    """Everything on one line. `placed` in the order of the dishes; `silent`: dishes whose steps name no time."""

    placed: tuple[Placed, ...]
    clashes: tuple[Clash, ...]
    cooks: int
    silent: tuple[int, ...]

    @property
    def tasks(self) -> list[Task]:
        """In the order they begin."""
        return sorted((task for each in self.placed for task in each.tasks), key=lambda task: (-task.start, task.dish))

    @property
    def begins(self) -> float:
        """Minutes before the serving at which the first hand is lifted."""
        return max((task.start for task in self.tasks), default=0.0)

    def heats(self) -> list[tuple[float, Oven]]:
        """(minutes before the serving, setting): when the oven is switched on, and every time it is set anew."""
        found: list[tuple[float, Oven]] = []
        last: int | None = None
        for task in (task for task in self.tasks if task.stretch.kind == OVEN):
            heat = task.stretch.c or 0
            if last is None or abs(heat - last) > ONE_HEAT_C:
                found.append((task.start + (PREHEAT if last is None else TO_ANOTHER_HEAT), setting_of(heat)))
                last = heat
        return found

    def hands_on(self, cook: int) -> float:
        """Minutes one cook's hands are busy."""
        return sum(task.start - task.end for task in self.tasks if task.cook == cook)


@dataclass(frozen=True, slots=True)
class _Waiting:
    minutes: float
    cost: float
    how: str


@functools.cache
def _waitings() -> dict[str, _Waiting]:
    return {
        row["of"]: _Waiting(row.number("minutes"), row.number("cost"), row["how"]) for row in read_table("waiting.tsv")
    }


def waiting_of(served: Served) -> _Waiting:
    """How long a dish bears to wait when it is done: by its part of the meal, else by its kind."""
    table = _waitings()
    if served.role in table:
        return table[served.role]
    # What is called a loaf and eaten hot with a fork is no bread.
    kind = "bake" if served.dish.kind in ("bread", "cake") else served.dish.kind
    return table.get(kind, table["any"])


def stretches_of(dish: Dish) -> tuple[Stretch, ...]:
    """What the steps of a dish take, one after another, to the last look. The oven's setting stands until another is named."""
    found: list[Stretch] = []
    heat: int | None = None
    for step in course_of(dish.steps, dish.lines).steps:
        heat = step.oven.c if step.oven else heat
        found += _of_a_step(step, heat)
    return tuple(found)


def without_preheating(text: str) -> str:
    """A step without the sentence that heats the oven: with several dishes the plan says when, and how hot.

    >>> without_preheating("Preheat the oven to 190 °C (gas 5). Boil the potatoes."), without_preheating("Heat oven to 180C.")
    ('Boil the potatoes.', '')
    """
    return _PREHEATING.sub("", text).strip()


def hands_on(dish: Dish) -> float:
    """Minutes somebody is busy with a dish, as its steps tell."""
    return sum(each.minutes for each in stretches_of(dish) if each.needs_hands)


def _of_a_step(step: CookStep, heat: int | None) -> list[Stretch]:
    if not (step.times or step.uses) and not without_preheating(step.text):
        return []
    new = sum(use.is_first for use in step.uses)
    shelf = found[1].lower() if (found := _SHELF.search(step.text)) else ""
    stretches = [Stretch(step.number, HANDS, A_STEP + A_LINE * new, True)]
    for time in step.times:
        minutes = time.most_seconds / 60
        if heat and time.where in (OVEN, GRILL):
            stretches.append(Stretch(step.number, OVEN, minutes, False, heat, shelf))
        else:
            kind = {OVEN: HOB, GRILL: HOB, FRIDGE: WAIT}.get(time.where, time.where)
            stretches.append(Stretch(step.number, kind, minutes, time.is_watched))
    return stretches


def at_another_heat(minutes: float, c: float, other_c: float) -> float:
    """How long something takes at another heat: the time is as the inverse of how much hotter the oven is than the inside is to be.

    Newton's law of heating near its end; a reckoning to look by, not a promise: the thermometer decides.

    >>> at_another_heat(60, 180, 200), at_another_heat(45, 200, 180)
    (50, 55)
    """
    return max(STEP, round(minutes * (c - INSIDE_C) / (other_c - INSIDE_C) / STEP) * STEP)


def timeline(dishes: Sequence[Served], cooks: int = 1, shelves: int = SHELVES) -> Timeline:
    """All of them on one line, each moved as little as it takes. Those that can wait least are placed first."""
    found = [stretches_of(served.dish) for served in dishes]
    order = sorted(range(len(dishes)), key=lambda at: (waiting_of(dishes[at]).minutes, -_heated(found[at]), at))
    placed: dict[int, Placed] = {}
    for at in order:
        if found[at]:
            placed[at] = _best(at, dishes[at], found[at], [*placed.values()], (cooks, shelves))
    line = _with_cooks([placed[at] for at in sorted(placed)], cooks)
    silent = tuple(
        at for at, own in enumerate(found) if not any(each.kind != HANDS for each in own) and dishes[at].dish.steps
    )
    return Timeline(tuple(line), tuple(_clashes(line, cooks, shelves)), cooks, silent)


def _heated(stretches: Iterable[Stretch]) -> float:
    return sum(each.minutes for each in stretches if each.kind == OVEN)


def _chain_from(stretches: Sequence[Stretch]) -> int:
    """Where the chain begins that runs without a break: at the step of the first heat or wait; the steps before are done at any
    time."""
    step = next((each.step for each in stretches if each.kind != HANDS), None)
    return next((at for at, each in enumerate(stretches) if each.step == step), len(stretches))


def _at(dish: int, stretches: Sequence[Stretch], early: float) -> tuple[Task, ...]:
    """One after another, the last ending `early` minutes before the serving."""
    tasks, end = [], early
    for each in reversed(stretches):
        tasks.append(Task(dish, each, end + each.minutes, end))
        end += each.minutes
    return tuple(reversed(tasks))


def _best(
    at: int, served: Served, stretches: Sequence[Stretch], others: list[Placed], means: tuple[int, int]
) -> Placed:
    waiting, own = waiting_of(served), next((each.c for each in stretches if each.kind == OVEN), None)
    heats = {task.stretch.c for other in others for task in other.tasks if task.stretch.kind == OVEN and task.stretch.c}
    borrowed = [
        heat
        for heat in sorted(heats)
        if own and served.role not in ("bread", "dessert") and ONE_HEAT_C < abs(heat - own) <= BORROWED_C
    ]
    best: tuple[float, Placed] | None = None
    for heat in (None, *borrowed):
        mine = [_borrowing(each, heat) for each in stretches]
        for early in range(0, int(waiting.minutes) + 1, STEP):
            cost = waiting.cost * early / 15 + (COST_BORROWED if heat else 0.0)
            if best and cost >= best[0]:
                break
            tried = Placed(at, early, _at(at, mine, early), own, heat)
            clashes = _clashes([*others, tried], *means)
            cost += sum(
                (COST_OVEN if each.kind == OVEN else COST_HANDS) * (each.start - each.end) / 15
                for each in clashes
                if at in each.dishes
            )
            if best is None or cost < best[0] - 1e-9:
                best = cost, tried
    if best is None:
        raise AssertionError("a dish can always be ready on time")
    return best[1]


def _borrowing(stretch: Stretch, heat: int | None) -> Stretch:
    if heat is None or stretch.kind != OVEN or stretch.c is None:
        return stretch
    return replace(stretch, c=heat, minutes=at_another_heat(stretch.minutes, stretch.c, heat))


def _clashes(placed: Iterable[Placed], cooks: int, shelves: int) -> list[Clash]:
    """Where the oven or hands are wanted twice. What can be prepared before is not counted: it is moved to when hands are free."""
    tasks = [task for each in placed for task in each.tasks]
    oven = _oven_clashes([task for task in tasks if task.stretch.kind == OVEN], shelves)
    return [*oven, *_joined(_hand_clashes(placed, cooks))]


def _joined(clashes: Iterable[Clash]) -> list[Clash]:
    """Those of the same dishes that follow on one another, as one."""
    found: list[Clash] = []
    for each in clashes:
        if found and found[-1].dishes == each.dishes and found[-1].end <= each.start + STEP:
            found[-1] = replace(found[-1], end=each.end)
        else:
            found.append(each)
    return found


def _oven_clashes(tasks: Sequence[Task], shelves: int) -> list[Clash]:
    found = []
    for number, one in enumerate(tasks):
        together = [one]
        for other in tasks[number + 1 :]:
            apart = abs((one.stretch.c or 0) - (other.stretch.c or 0)) > ONE_HEAT_C
            gap = TO_ANOTHER_HEAT if apart else 0
            start, end = min(one.start, other.start + gap), max(one.end, other.end - gap)
            if start <= end or one.dish == other.dish:
                continue
            if apart:
                found.append(Clash(OVEN, (one.dish, other.dish), start, end))
            else:
                together.append(other)
        if len(together) > shelves:
            span = min(task.start for task in together), max(task.end for task in together)
            if span[0] > span[1]:
                found.append(Clash(OVEN, tuple(task.dish for task in together), *span))
    return found


def _needing_hands(placed: Iterable[Placed]) -> list[Task]:
    """The tasks of chains at which somebody must stand, the first of them first."""
    chains = (each.tasks[_chain_from([task.stretch for task in each.tasks]) :] for each in placed)
    return sorted(
        (task for chain in chains for task in chain if task.stretch.needs_hands), key=lambda task: -task.start
    )


def _hand_clashes(placed: Iterable[Placed], cooks: int) -> list[Clash]:
    tasks, found = _needing_hands(placed), []
    for task in tasks:
        # At the moment a task begins, those that go on and are no longer.
        at_once = [other for other in tasks if other.end < task.start <= other.start]
        if len(at_once) > cooks:
            found.append(
                Clash(
                    HANDS, tuple(sorted({each.dish for each in at_once})), task.start, max(each.end for each in at_once)
                )
            )
    return found


def _with_cooks(placed: list[Placed], cooks: int) -> list[Placed]:
    """Who does what: chains first, each task by whoever is free; then what is prepared before, as late as hands are free."""
    busy: list[list[tuple[float, float]]] = [[] for _ in range(cooks)]

    who: dict[tuple[int, int], int | None] = {}
    for task in _needing_hands(placed):
        who[task.dish, id(task)] = cook = next(
            (each for each in range(cooks) if _is_free(busy[each], task.start, task.end)), None
        )
        if cook is not None:
            busy[cook].append((task.start, task.end))
    done = []
    for each in placed:
        stretches = [task.stretch for task in each.tasks]
        first = _chain_from(stretches)
        chain = tuple(replace(task, cook=who.get((task.dish, id(task)))) for task in each.tasks[first:])
        end, before = chain[0].start if chain else each.early, []
        for stretch in reversed(stretches[:first]):
            cook, end = _latest(busy, end, stretch.minutes)
            before.append(Task(each.dish, stretch, end + stretch.minutes, end, cook))
            busy[cook].append((end + stretch.minutes, end))
            end += stretch.minutes
        tasks = (*reversed(before), *chain)
        # A dish of hands alone is ready when hands were free for it.
        done.append(replace(each, tasks=tasks, early=tasks[-1].end))
    return done


def _is_free(spans: Iterable[tuple[float, float]], start: float, end: float) -> bool:
    return all(start <= until or end >= since for since, until in spans)


def _latest(busy: list[list[tuple[float, float]]], end: float, minutes: float) -> tuple[int, float]:
    """(cook, end): the latest time before `end` at which somebody has so many minutes."""
    ends = sorted({end, *(since for spans in busy for since, _ in spans if since > end)})
    for each in ends:
        for cook in range(len(busy)):
            if _is_free(busy[cook], each + minutes, each):
                return cook, each
    raise AssertionError("after the first task everybody is free")


def said_of(placed: Placed, served: Served) -> tuple[Note, ...]:
    """What was done to a dish so that all fit: ready early and how it waits, another heat and how long."""
    found = []
    if placed.borrowed_c and placed.own_c:
        [baked, *_] = [task.stretch for task in placed.tasks if task.stretch.kind == OVEN]
        own = next(each.minutes for each in stretches_of(served.dish) if each.kind == OVEN)
        found.append(
            note("meal.borrowed_heat", own_c=placed.own_c, c=placed.borrowed_c, own=own, minutes=baked.minutes)
        )
    if placed.early:
        found.append(note("meal.ready_early", minutes=placed.early, how=waiting_of(served).how))
    return tuple(found)
