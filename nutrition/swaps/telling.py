"""Steps follow the dish: the steps as they must be cooked now, from the steps as written.

A mention of what was replaced or left out is found by every noun a line and its food go by, and put anew where it stands (wording.py);
what another line that stays is meant by is left as it is ("oil" is not "olives", "milk" not "coconut milk"). A swap that is a small
preparation brings its own step (preparations.py). A step somebody wrote anew is taken as written, and follows the dish like any other.
"""

import functools
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import overload

from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.reading.mentions import Called, called, core_of, is_meant
from nutrition.reading.recipe import read_line
from nutrition.reading.spans import spans_in
from nutrition.reading.whole import FROM_STEP, whole_dish
from nutrition.swaps.preparations import BEFORE, NONE, Made, made_by_state, made_of
from nutrition.swaps.wording import Put, reworded
from nutrition.tables import words_of


@dataclass(frozen=True, slots=True)
class StepNow:
    """A step as written, and as it is cooked now. `text`: as written, empty for one that was added; `own`: as somebody wrote it anew;
    `names`: what it names that is no longer there; `proposed`: the step now where it is another than written; `makes`: of the step of a
    preparation, its name; `is_out`: somebody left it out; `place`: of a step of the recipe, its number there, else 0."""

    text: str
    names: tuple[str, ...] = ()
    proposed: str = ""
    own: str = ""
    makes: str = ""
    is_out: bool = False
    place: int = 0

    @property
    def now(self) -> str:
        return self.proposed or self.text

    @property
    def was(self) -> str:
        """What stood there before, where that was something else."""
        return self.text if self.proposed or self.is_out else ""


#: What stands in a line's place where nothing does.
GONE = Made("", NONE, "")
#: A line that changed, as steps may speak of it, and what stands there now.
_Changed = tuple[Called, Made]


def steps_now(
    steps: Sequence[str],
    changed: Sequence[tuple[Line, str | Made]],
    kept: Sequence[Line] = (),
    besides: Sequence[Made] = (),
) -> list[StepNow]:
    """Every step, marked where it names a changed line. `changed`: (line as written, what stands there now, or ""); `kept`: the lines
    that stay; `besides`: preparations of lines that stay. Steps of preparations stand where they are made.

    >>> from nutrition.reading.recipe import read_line
    >>> steps_now(["Melt the butter."], [(read_line("100 g butter"), "olive oil")])[0].proposed
    'Melt the olive oil.'
    >>> pot = [(read_line("80 g Parmesan, grated"), "")], [read_line("400 ml coconut milk")]
    >>> [step.names for step in steps_now(["Warm the coconut milk.", "Top with the cheese."], *pot)]
    [(), ('cheese',)]
    """
    now = ((called(line), made if isinstance(made, Made) else Made(made, NONE, "")) for line, made in changed)
    return list(_steps_now(tuple(steps), tuple(now), tuple(map(called, kept)), tuple(besides)))


@functools.lru_cache(maxsize=512)
def _steps_now(
    steps: tuple[str, ...], gone: tuple[_Changed, ...], stays: tuple[Called, ...], besides: tuple[Made, ...]
) -> tuple[StepNow, ...]:
    nouns = frozenset(noun for line, _ in gone for noun in line.heads if noun not in words_of("part_of_food"))
    names = frozenset(line.own for line, _ in gone)
    own = {made.step for _, made in gone}
    told = [
        StepNow(step, place=number) if step in own else _told(step, gone, stays, nouns, names, number)
        for number, step in enumerate(steps, 1)
    ]
    return tuple(_with_preparations(told, [*(made for _, made in gone if made.step), *besides]))


def _with_preparations(steps: Sequence[StepNow], made: Sequence[Made]) -> list[StepNow]:
    """The steps with those of preparations: before all, the evening's first; or just before the one that first names it."""
    found = list(steps)
    for each in dict.fromkeys(made):
        if any(step.now == each.step for step in steps):
            continue  # told before
        own = StepNow("", proposed=each.step, makes=each.name or each.step)
        user = next((at for at, step in enumerate(found) if each.name in step.now.lower() and not step.makes), 0)
        first = next((at for at, step in enumerate(found) if not step.makes), len(found))
        found.insert(user if each.when == BEFORE else first, own)
    return sorted(found, key=lambda step: not step.proposed.startswith("The evening before"))


def _told(
    step: str,
    gone: Sequence[_Changed],
    stays: Sequence[Called],
    nouns: frozenset[str],
    names_: frozenset[frozenset[str]],
    place: int,
) -> StepNow:
    puts, names = [], []
    for span in spans_in(step, nouns, names_):
        now = _now(span.tokens, gone, stays)
        if now is not None and not _stands_already(now.name, step, span.start, span.end):
            names.append(step[span.start : span.end].lower())
            puts.append(Put(span.start, span.end, now.name, now.is_one))
    return StepNow(step, tuple(names), reworded(step, puts) if puts else "", place=place)


def _stands_already(name: str, step: str, start: int, end: int) -> bool:
    """Whether words are a part of what stands there now: the step was told before."""
    return (
        any(found.start() <= start and end <= found.end() for found in re.finditer(re.escape(name), step, re.I))
        if name
        else False
    )


def _now(tokens: Sequence[str], gone: Sequence[_Changed], stays: Sequence[Called]) -> Made | None:
    """What stands for these words now; None where they speak of no changed line, or of one that stays."""
    core = core_of(tokens)
    if not core:
        return None
    whole = frozenset(core)
    if any(line.own == whole for line in stays):
        return None
    meant = [now for line, now in gone if is_meant(tokens, True, [line])]
    exact = [now for line, now in gone if line.own == whole]
    if not exact and is_meant(tokens, True, stays):
        return None
    return next(iter((*exact, *meant)), None)


@overload
def told(was: Dish) -> tuple[str, ...]: ...
@overload
def told(was: Dish, now: Dish) -> Dish: ...
def told(was: Dish, now: Dish | None = None) -> Dish | tuple[str, ...]:
    """The steps of a dish as they must be cooked now, from the lines that stand in the place of others. Of a dish as written and the same
    as it is now: `now` with its steps told; lines are told apart by their keys.

    What was written stays the source: telling a told dish again changes nothing.

    >>> from nutrition.reading.recipe import read_recipe
    >>> from nutrition.limits.eater import Eater
    >>> from nutrition.swaps.door import offers
    >>> dish = read_recipe("Squares\\nServes 8\\n3 eggs\\n200 g sugar\\nMethod\\nBeat the eggs with the sugar and bake.")
    >>> gel = next(each for each in offers(dish, Eater(), 0).offers if each.id == "egg-binds-mix")
    >>> told(dish.with_lines(gel.lines))[1]
    'Beat the flax gel with the sugar and bake.'
    """
    if now is None:
        return tuple(step.now for step in telling(_as_it_was(was), was) if not step.is_out)
    return replace(now, steps=tuple(step.now for step in telling(was, now) if not step.is_out))


def _as_it_was(dish: Dish) -> Dish:
    """A dish with what its lines took the place of, as far as they say; of a preparation the first of its foods says it."""
    before = ("", *(line.made for line in dish.lines))
    return dish.with_lines(
        _stood_before(line)
        for line, made in zip(dish.lines, before, strict=False)
        if not line.made or line.made != made
    )


_IN_PLACE = "swaps.in_place_of"


def _stood_before(line: Line) -> Line:
    if line.why.code != _IN_PLACE:
        return line
    return replace(read_line(str(line.why.value("line"))), key=line.key, heading="")


def telling(was: Dish, now: Dish) -> list[StepNow]:
    """Every step of a dish beside the same as written; those that were added, and those left out."""
    there = _standing(was, now)
    changed: list[tuple[Line, str | Made]] = [
        (line, made_of(there[line.key]) if line.key in there else GONE)
        for line in (*was.listed.lines, *_settled(was, there))
        if line.key and _is_another(line, there.get(line.key, ()))
    ]
    gone = {line.key for line, _ in changed}
    beside = {line.key for key in gone for line in there.get(key, ())}
    stays = [line for line in now.lines if line.key not in beside]
    own = dict(now.rewritten)
    source = [
        *((step, own.get(step, step)) for step in was.steps),
        *(("", text) for step, text in now.rewritten if not step),
    ]
    left = [(step, text) for step, text in source if text]
    treated = [line for line in now.lines if line.state and line.state != _state_of(was, line.key)]
    told_ = steps_now([text for _, text in left], changed, stays, made_by_state(treated))
    return _beside(source, told_)


def _beside(source: Sequence[tuple[str, str]], told_: Sequence[StepNow]) -> list[StepNow]:
    """The told steps, each beside what was written; what was left out stands where it was."""
    numbers = [at for at, (_, text) in enumerate(source) if text]
    steps = [
        step if step.makes else _own(step, numbers[step.place - 1], *source[numbers[step.place - 1]]) for step in told_
    ]
    for at, (written, text) in enumerate(source):
        if not text:
            after = next((n for n, step in enumerate(steps) if step.place > at + 1), len(steps))
            steps.insert(after, StepNow(written, is_out=True, place=at + 1))
    return steps


def _own(step: StepNow, at: int, written: str, text: str) -> StepNow:
    own = text if text != written else ""
    return replace(step, text=written, own=own, proposed=step.now if step.now != written else "", place=at + 1)


def _standing(was: Dish, now: Dish) -> dict[str, tuple[Line, ...]]:
    """Key of a line -> it, with what was put beside it in its place."""
    written = {line.key for line in was.lines}
    found: dict[str, tuple[Line, ...]] = {}
    first = ""
    for line in now.lines:
        if first and line.made and line.key not in written and found[first][0].made == line.made:
            found[first] = (*found[first], line)
        elif line.key:
            first = line.key
            found[first] = (line,)
    return found


def _state_of(dish: Dish, key: str) -> str:
    line = dish.line(key)
    return line.state if line else ""


def _is_another(line: Line, stands: Sequence[Line]) -> bool:
    return len(stands) != 1 or stands[0].food_id != line.food_id


def _settled(was: Dish, there: Mapping[str, object]) -> list[Line]:
    """What a step added as written and a line lists now: as that, or as another food in its place."""
    if not any(key.startswith(FROM_STEP) for key in there):
        return []
    return [line for line in whole_dish(was).added if line.key in there]
