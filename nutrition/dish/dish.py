"""A dish: its lines, its steps, whose kitchen it comes from, what kind it is, and how many it serves."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace

from nutrition.dish.line import Line
from nutrition.notes import Problem

#: Kinds of dishes, in the words of the screen; what a swap may do depends on it. "any": nothing tells.
KINDS = ("cake", "bread", "soup", "stew", "sauce", "salad", "fry", "grain", "bake", "any")


@dataclass(frozen=True, slots=True)
class Dish:
    """A dish in the one shape it keeps: in the library, on the bench, at the stove, on the card.

    `serves` None: nobody has said yet. `kitchen`: "us" or "uk", whose pints and spoons its words mean, empty where the
    words of each line decide. `kind`: one of KINDS, of the dish as written. `notes`: what was assumed in reading it.
    `waved`: what a step names and nobody adds, with the word of whoever said so: (words, why). `rewritten`: steps somebody wrote anew:
    (as written, as it is now); "" as written for one that was added, "" now for one left out.
    """

    title: str
    serves: float | None
    lines: tuple[Line, ...] = ()
    steps: tuple[str, ...] = ()
    kitchen: str = ""
    kind: str = "any"
    notes: tuple[str, ...] = ()
    waved: tuple[tuple[str, str], ...] = ()
    rewritten: tuple[tuple[str, str], ...] = ()

    @property
    def servings(self) -> float:
        """How many it serves. Raises Problem where nobody has said."""
        if not self.serves:
            raise Problem("dish.serves_unknown")
        return self.serves

    def with_lines(self, lines: Iterable[Line]) -> "Dish":
        return replace(self, lines=tuple(lines))

    @property
    def listed(self) -> "Dish":
        """The dish as its recipe lists it: without what only its steps add."""
        return self.with_lines(line for line in self.lines if not line.step) if self.added else self

    @property
    def added(self) -> tuple[Line, ...]:
        """What only its steps add, of a whole dish (reading/unlisted.py)."""
        return tuple(line for line in self.lines if line.step)

    def position(self, key: str) -> int | None:
        """Where the line of a key stands, from 0."""
        return next((i for i, line in enumerate(self.lines) if line.key == key), None)

    def line(self, key: str) -> Line | None:
        at = self.position(key)
        return None if at is None else self.lines[at]

    def changed(self, key: str, change: Callable[[Line], Line]) -> "Dish":
        """The dish with one line changed; it keeps its key."""
        return self.with_lines(replace(change(line), key=key) if line.key == key else line for line in self.lines)

    def scaled(self, factor: float) -> "Dish":
        """`factor` times the amounts for `factor` times the servings."""
        lines = tuple(line.scaled(factor) for line in self.lines)
        return replace(self, serves=self.servings * factor, lines=lines)


def keyed(lines: Sequence[Line], prefix: str = "w", taken: Iterable[str] = ()) -> tuple[Line, ...]:
    """The lines with a key each: those that have one of their own keep it.

    >>> [line.key for line in keyed([Line("salt"), Line("oil", key="n1"), Line("rice")])]
    ['w0', 'n1', 'w1']
    """
    used, number, found = {*taken, *(line.key for line in lines if line.key)}, 0, []
    seen: set[str] = set()
    for line in lines:
        key = "" if line.key in seen else line.key
        while not key:
            candidate, number = f"{prefix}{number}", number + 1
            key = "" if candidate in used else candidate
        used.add(key)
        seen.add(key)
        found.append(line if line.key == key else replace(line, key=key))
    return tuple(found)
