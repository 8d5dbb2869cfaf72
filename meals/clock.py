"""The kitchen's line of time as it is drawn and read: minutes before the serving as times of the clock, tasks as stretches on rails
that all end at one post."""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from nutrition.meals.oven import (
    A_STEP,
    HANDS,
    HOB,
    OVEN,
    WAIT,
    Clash,
    Placed,
    Task,
    Timeline,
    said_of,
    without_preheating,
)
from nutrition.reading.steps import duration
from nutrition.reading.steps import oven as setting_of

#: Pixels: where names end, where the post stands, how high a row is, how wide the whole is.
NAMES, POST, ROW, WIDTH = 190, 1060, 34, 1100
#: No closer than this do marks of the clock stand, in minutes; the first that leaves room is taken.
TICKS = (15, 30, 60, 120, 240, 480)
#: A stretch narrower than this has no room for the oven's heat in it.
ROOM_FOR_HEAT = 34


@dataclass(frozen=True)
class Bar:
    """A stretch on a rail. `kind` decides its mark; `heat` as it is written in it; `words` for whoever cannot see it."""

    x: float
    width: float
    kind: str
    heat: str
    words: str


@dataclass(frozen=True)
class Lane:
    """One dish's rail, or the oven's."""

    name: str
    y: float
    bars: tuple[Bar, ...]
    starts: float


@dataclass(frozen=True)
class Doing:
    """One thing to do: when, of which dish, what, by whom, until when. `goes_on`: the step was begun before."""

    at: datetime
    until: datetime | None
    dish: str
    what: str
    cook: int | None
    goes_on: bool = False


@dataclass(frozen=True)
class Clock:
    """A time line on the wall of the kitchen."""

    line: Timeline
    titles: tuple[str, ...]
    steps: tuple[tuple[str, ...], ...]
    serve: datetime

    def at(self, minutes: float) -> datetime:
        return self.serve - timedelta(minutes=minutes)

    @property
    def begins(self) -> datetime:
        return self.at(max(self.line.begins, *(minutes for minutes, _ in self.line.heats()), 0.0))

    def _x(self, minutes: float) -> float:
        whole = max((self.serve - self.begins).total_seconds() / 60, 1.0)
        return round(POST - (POST - NAMES) * minutes / whole, 1)

    def _bar(self, task: Task) -> Bar:
        stretch, x = task.stretch, self._x(task.start)
        width = max(round(self._x(task.end) - x, 1), 2.0)
        heat = f"{stretch.c}°" if stretch.kind == OVEN and width >= ROOM_FOR_HEAT else ""
        words = {HANDS: "by hand", HOB: "on the stove", OVEN: f"in the oven at {stretch.c} °C", WAIT: "waits"}[
            stretch.kind
        ]
        return Bar(
            x,
            width,
            stretch.kind,
            heat,
            f"{self.at(task.start):%H:%M} to {self.at(task.end):%H:%M}, step {stretch.step}, {words}",
        )

    @property
    def lanes(self) -> list[Lane]:
        return [
            Lane(
                self.titles[each.dish],
                ROW * (number + 1.5),
                tuple(map(self._bar, each.tasks)),
                self._x(each.tasks[0].start),
            )
            for number, each in enumerate(self.line.placed)
        ]

    @property
    def ticks(self) -> list[tuple[float, str]]:
        """(x, time of the clock) of full hours and their parts."""
        minutes = (self.serve - self.begins).total_seconds() / 60
        apart = next((each for each in TICKS if minutes / each <= 12), TICKS[-1])
        first = self.begins.replace(minute=0, second=0, microsecond=0)
        marks = (first + timedelta(minutes=apart * number) for number in range(int(minutes / apart) + 3 + 60 // apart))
        inside = (mark for mark in marks if self.begins <= mark <= self.serve - timedelta(minutes=apart / 3))
        return [(self._x((self.serve - mark).total_seconds() / 60), f"{mark:%H:%M}") for mark in inside]

    @property
    def height(self) -> float:
        return ROW * (len(self.line.placed) + 1.2)

    @property
    def box(self) -> str:
        return f"0 0 {WIDTH} {self.height:g}"

    @property
    def post(self) -> int:
        return POST

    @property
    def doings(self) -> list[Doing]:
        """Everything in the order it begins. A step is one thing to do while nothing comes between its parts; the oven is
        another, and so is every time it is set."""
        found: list[Doing] = []
        for minutes, setting in self.line.heats():
            what = "Oven on" if not found else "Oven to another heat"
            found.append(Doing(self.at(minutes), None, what, setting.words, None))
        for placed in self.line.placed:
            found += self._of_a_dish(placed)
        return sorted(found, key=lambda each: each.at)

    def _of_a_dish(self, placed: Placed) -> list[Doing]:
        found: list[Doing] = []
        last: Task | None = None
        for task in placed.tasks:
            stretch, title, text = task.stretch, self.titles[task.dish], self.steps[task.dish][task.stretch.step - 1]
            is_put_in = stretch.kind == OVEN and last is not None and last.start - last.end <= A_STEP
            if is_put_in and last is not None and last.stretch.step == stretch.step and last.end == task.start:
                # A step that does nothing but put it into the oven is one thing with the oven.
                what = f"{without_preheating(text)} {self._in_oven(task, placed)}"
                found[-1] = replace(found[-1], until=self.at(task.end), what=what)
                last = task
                continue
            goes_on = last is not None and last.stretch.step == stretch.step and stretch.kind != OVEN
            if (
                goes_on
                and last is not None
                and last.end == task.start
                and last.cook == (task.cook if task.cook is not None else last.cook)
            ):
                found[-1] = replace(found[-1], until=self.at(task.end))
            else:
                what = self._in_oven(task, placed) if stretch.kind == OVEN else without_preheating(text)
                found.append(Doing(self.at(task.start), self.at(task.end), title, what, task.cook, goes_on))
            last = task
        return found

    def _in_oven(self, task: Task, placed: Placed) -> str:
        stretch = task.stretch
        shelf = f", {stretch.shelf} shelf" if stretch.shelf else ""
        long = (
            f"; about {duration(stretch.minutes * 60)} at this heat, whatever its step says"
            if placed.borrowed_c
            else ""
        )
        return f"Into the oven: {setting_of(stretch.c or 0).words}{shelf}{long}"

    @property
    def clashes(self) -> list[tuple[str, str]]:
        """(kind, in words, with what can be done)."""
        return [(each.kind, self._clash(each)) for each in self.line.clashes]

    def _clash(self, clash: Clash) -> str:
        names = " and ".join(", ".join(self.titles[at] for at in clash.dishes).rsplit(", ", 1))
        span = f"from {self.at(clash.start):%H:%M} to {self.at(clash.end):%H:%M}"
        if clash.kind == OVEN:
            return (
                f"{names} want the oven at once {span}, and it has not so many shelves, or not both heats. Another shelf, a second "
                "oven, or one of them cooked the day before and heated through again."
            )
        return f"{names} want hands at once {span}. A second cook, or let the less urgent pan wait a moment."

    @property
    def cooks(self) -> list[tuple[int, float]]:
        """(cook from 1, minutes their hands are busy)."""
        return [(number + 1, self.line.hands_on(number)) for number in range(self.line.cooks)]


def clock_of(line: Timeline, dishes, serve: datetime) -> Clock:
    """The line for these dishes (core Served, in order), on the table at `serve`."""
    return Clock(line, tuple(each.title for each in dishes), tuple(each.dish.steps for each in dishes), serve)


def moved(line: Timeline, dishes) -> list[tuple[str, list[str]]]:
    """(dish, what was done to it so that all fit), of those that were moved."""
    found = [
        (dishes[each.dish].title, [str(words) for words in said_of(each, dishes[each.dish])]) for each in line.placed
    ]
    return [(title, words) for title, words in found if words]
