"""Splitting the pot: one dish for those who may eat all of it and those who may not.

It is cooked together up to the step before the first line somebody cannot have; then their part is taken out, and both go on with
what is theirs of the rest. What can go in when all is done (salt, cream, cheese) waits until then.
"""

import functools
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace

from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.naming import name_of
from nutrition.food.nutrients import INDEX
from nutrition.food.tags import CONTAINS
from nutrition.limits.avoid import Finding
from nutrition.limits.gates import TOLERANCE
from nutrition.meals.table import Place, Served, Table
from nutrition.notes import Note, note
from nutrition.reading.course import Course, course_of
from nutrition.sheet.verdicts import SHUT, THROUGH
from nutrition.tables import pattern

#: Lines of more than this of a dish's weight are what the dish is of: without them there is nothing to split.
THE_DISH_ITSELF = 0.5
#: ... and of what nobody keeps out but somebody has too much of, one or two lines of no more than this are left out.
AN_ADDITION, MOST_ADDITIONS = 0.2, 2
#: Kinds of dishes into which nothing is stirred once they are done.
BAKED = ("cake", "bread", "bake")


@dataclass(frozen=True, slots=True)
class Split:
    """How a pot is split for somebody.

    `without`: positions of the lines they cannot have. `step`: before which their part is taken out, from 1 on; 0: a pot of its
    own from the start; None: when all is done. `part`: of the pot; `grams`: of it by then, as weighed in. `servings`: of theirs;
    `served`: the dish before it is split.
    """

    dish: int
    seats: tuple[int, ...]
    without: tuple[int, ...]
    step: int | None
    part: float
    grams: float
    servings: float
    served: Served

    @property
    def theirs(self) -> Dish:
        """Their pot as a dish, with its own amounts, for as many as it feeds."""
        whole = self.served.dish
        lines = _lines(whole, self.part * self.served.batches, self.without)
        return replace(whole, serves=self.servings, lines=lines)

    @property
    def rest(self) -> Dish:
        """The other pot."""
        whole, serves = self.served.dish, max(self.served.measured.servings - self.servings, 0.0)
        return replace(whole, serves=serves, lines=_lines(whole, (1 - self.part) * self.served.batches))

    def names(self, table: Table) -> tuple[str, ...]:
        """Whose part it is."""
        return tuple(table.places[at].seat.name for at in self.seats)

    def words(self, table: Table) -> tuple[Note, ...]:
        """What to do, in order; as steps on a card."""
        lines = [table.dishes[self.dish].dish.lines[at] for at in self.without]
        left_out, names = tuple(name_of(line) for line in lines), self.names(table)
        if self.part >= 1:
            return (note("meal.left_out_for_all", names=names, lines=left_out),)
        scale = (1 - self.part) * table.dishes[self.dish].batches
        goes_on = tuple((name_of(line), line.span.likely * scale if line.is_weighed else None) for line in lines)
        if self.step is None:
            return (note("meal.when_done", names=names, lines=goes_on, part=self.part, servings=self.servings),)
        if not self.step:
            code = "own_batch" if self.served.dish.kind in BAKED else "own_pot"
            return (note(f"meal.{code}", names=names, lines=left_out, servings=self.servings),)
        taken = note(
            "meal.take_out",
            step=self.step,
            names=names,
            lines=left_out,
            part=self.part,
            servings=self.servings,
            grams=self.grams,
        )
        return (taken, note("meal.goes_on", lines=goes_on))


def splits(table: Table, dish: int) -> list[Split]:
    """How a dish's pot is split for those who cannot eat it as it is; those who cannot have the same lines share a pot."""
    served = table.dishes[dish]
    course = _course_of(served.dish)
    by_lines: dict[tuple[int, ...], list[int]] = {}
    for at, place in enumerate(table.places):
        needs_it = place.seat.portions[dish] and place.crossings[dish].state not in THROUGH
        findings = table.as_eaten.findings(dish, frozenset(), place.seat.eater)
        without = _not_for(place, dish, served, findings) if needs_it else ()
        if without:
            by_lines.setdefault(without, []).append(at)
    found = [_split(table, dish, tuple(seats), without, course) for without, seats in by_lines.items()]
    return [each for each in found if each]


def taken(table: Table, dish: int, but: Collection[int] = ()) -> list[Split]:
    """The pots that are split as people eat: each for those whose part is taken out before the same lines. `but`: seats that are not
    looked at, since their part is to be taken out otherwise."""
    course = _course_of(table.dishes[dish].dish)
    by_lines: dict[tuple[int, ...], list[int]] = {}
    for at, place in enumerate(table.places):
        without = tuple(sorted(place.seat.without.get(dish, ())))
        if without and place.seat.portions[dish] and at not in but:
            by_lines.setdefault(without, []).append(at)
    found = [_split(table, dish, tuple(seats), without, course, True) for without, seats in by_lines.items()]
    return [each for each in found if each]


@dataclass(frozen=True, slots=True)
class PotLine:
    """A line of a pot that is split, in grams as weighed in: in all, of it for each split in their order, and for the rest. Where its
    weight is not known no figure is of use: `line.is_weighed`. `left_out`: for each split, whether it does not go into theirs."""

    line: Line
    in_all: float
    of_each: tuple[float, ...]
    rest: float
    left_out: tuple[bool, ...]

    @property
    def parts(self) -> list[tuple[float, bool]]:
        """(grams, whether it is left out) of each split."""
        return list(zip(self.of_each, self.left_out, strict=True))


def pot_lines(table: Table, dish: int, splits: Sequence[Split]) -> list[PotLine]:
    """What goes into a dish's pots, so many batches of it as the table has."""
    served = table.dishes[dish]
    rest = max(1 - sum(split.part for split in splits), 0.0)
    found = []
    for at, line in enumerate(served.dish.lines):
        whole = line.span.likely * served.batches
        left_out = tuple(at in split.without for split in splits)
        of_each = tuple(0.0 if out else whole * split.part for split, out in zip(splits, left_out, strict=True))
        found.append(PotLine(line, sum(of_each) + whole * rest, of_each, whole * rest, left_out))
    return found


def steps_told(table: Table, dish: int, splits: Sequence[Split]) -> list[tuple[int, str]]:
    """(number, words) of a dish's steps, and what is done with the pots where it is done: number 0."""
    steps = [[(number, step)] for number, step in enumerate(table.dishes[dish].dish.steps, start=1)]
    before: list[tuple[int, str]] = []
    for split in splits:
        told = [(0, str(words)) for words in split.words(table)]
        if split.step is None and split.part < 1 and steps:
            steps[-1] += told
        elif split.step and split.step <= len(steps):
            steps[split.step - 1][:0] = told
        else:
            before += told
    return [*before, *(each for step in steps for each in step)]


def all_parts(table: Table, dish: int) -> tuple[list[Split], list[Split]]:
    """(as people eat, as the pot could still be split where somebody cannot have it so): every seat in one of them at the most."""
    could = splits(table, dish) if any(place.crossings[dish].state == SHUT for place in table.places) else []
    return taken(table, dish, {seat for split in could for seat in split.seats}), could


@functools.lru_cache(maxsize=512)
def _course_of(dish: Dish) -> Course:
    """A table asks again at every change of a portion."""
    return course_of(dish.steps, dish.lines)


def _not_for(place: Place, dish: int, served: Served, findings: Mapping[str, Finding]) -> tuple[int, ...]:
    """The lines of a dish somebody cannot have: what plans keep out, then the additions that carry it past a ceiling alone.

    Empty when it is fine as it is, or when nothing worth eating would be left.
    """
    lines, avoided = served.dish.lines, place.seat.eater.keeps_out
    found = [finding for tag, finding in findings.items() if tag in avoided]
    barred = {at for finding in found if finding.verdict == CONTAINS for at in finding.lines}
    weight, added = sum(line.span.likely for line in lines), set[int]()
    for verdict in place.verdicts:
        if verdict.gate.high is None:
            continue
        holds = served.analysis.by_line[:, INDEX[verdict.gate.nutrient]] * place.seat.portions[dish].likely
        over = holds.sum() - sum(holds[at] for at in barred | added) - verdict.gate.high.limit * (1 + TOLERANCE)
        additions = (at for at in range(len(lines)) if lines[at].span.likely <= AN_ADDITION * weight)
        for at in sorted(set(additions) - barred - added, key=lambda each: -holds[each]):
            if over > 0:
                added.add(at)
                over -= holds[at]
        if over > 0 or len(added) > MOST_ADDITIONS:
            return ()
    out = tuple(sorted(barred | added))
    return out if sum(lines[at].span.likely for at in out) <= THE_DISH_ITSELF * weight else ()


def _split(
    table: Table, dish: int, seats: tuple[int, ...], without: tuple[int, ...], course: Course, may_be_all: bool = False
) -> Split | None:
    """None where they eat nothing of it, or all of it (unless it may be all)."""
    served = table.dishes[dish]
    whole, made = served.dish, served.measured.servings
    servings = sum(table.places[at].seat.portions[dish].likely for at in seats)
    if not servings > 0 or (servings >= made and not may_be_all):
        return None
    part = min(servings / made, 1.0)
    firsts = [_first_step(course, at) for at in range(len(whole.lines))]
    can_wait = whole.kind not in BAKED and all(pattern("can_wait").search(name_of(whole.lines[at])) for at in without)
    before = min(firsts[at] for at in without)
    step = None if can_wait else before if before > 1 else 0
    by_then = sum(
        line.span.likely for at, line in enumerate(whole.lines) if at not in without and 0 < firsts[at] < before
    )
    return Split(dish, seats, without, step, part, by_then * part * served.batches, servings, served)


def _lines(whole: Dish, scale: float, without: tuple[int, ...] = ()) -> tuple[Line, ...]:
    return tuple(line.scaled(scale) for at, line in enumerate(whole.lines) if at not in without)


def _first_step(course: Course, position: int) -> int:
    """The step that first takes a line in hand, from 1; 0 where none names it."""
    return next((step.number for step in course.steps for use in step.uses if use.line == position), 0)
