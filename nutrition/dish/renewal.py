"""A dish changed where it was written, after somebody began to change a copy: what differs, and both together."""

from dataclasses import dataclass, replace

from nutrition.dish.dish import Dish
from nutrition.dish.line import Line


@dataclass(frozen=True, slots=True)
class Changed:
    """One line that is not what it was; either side may be missing."""

    was: Line | None
    now: Line | None


def _counts(line: Line) -> tuple[object, ...]:
    """What of a line matters to anybody who eats it."""
    return (line.text, line.food_id, line.weight, line.state, line.eaten, line.sure, line.words_hold, line.heading)


def changes_between(was: Dish, now: Dish) -> tuple[Changed, ...]:
    """Line by line, by key, in the order of the dish as it is now; what is gone comes last."""
    before = {line.key: line for line in was.lines}
    found = [Changed(before.pop(line.key, None), line) for line in now.lines]
    found += [Changed(line, None) for line in before.values()]
    return tuple(c for c in found if c.was is None or c.now is None or _counts(c.was) != _counts(c.now))


def is_behind(was: Dish, now: Dish) -> bool:
    """Whether a copy taken then differs from the dish as it stands now: lines, servings, steps or kind."""
    return bool(changes_between(was, now)) or (was.serves, was.steps, was.kind) != (now.serves, now.steps, now.kind)


def renewed(was: Dish, now: Dish, mine: Dish) -> Dish:
    """A changed copy with what changed since in the dish it was taken from: one's own edits win, line by line.

    >>> from nutrition.dish.grams import Grams
    >>> line = lambda key, grams: Line(key, key, Grams.exactly(grams), key=key)
    >>> was = Dish("", 2, (line("a", 1), line("b", 1), line("c", 1)))
    >>> now, mine = was.with_lines((line("a", 5), line("b", 5))), was.with_lines((line("a", 1), line("b", 9)))
    >>> [(each.key, each.grams) for each in renewed(was, now, mine).lines]
    [('a', 5), ('b', 9)]
    """
    before, own = ({line.key: line for line in dish.lines} for dish in (was, mine))
    lines = []
    for line in now.lines:
        if line.key not in own:
            # Dropped by hand, or new in the dish since.
            lines += [] if line.key in before else [line]
        else:
            lines.append(line if own[line.key] == before.get(line.key) else own[line.key])
    kept = {line.key for line in now.lines}
    lines += [line for line in mine.lines if line.key not in kept and line != before.get(line.key)]
    serves = now.serves if mine.serves == was.serves else mine.serves
    waved = tuple(dict.fromkeys((*now.waved, *mine.waved)))
    return replace(now, lines=tuple(lines), serves=serves, waved=waved, rewritten=mine.rewritten)
