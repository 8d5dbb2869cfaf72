"""What stands on the worktop while a recipe is read: batches of lines in pots, bowls and doughs, and what each is called.

A batch comes to be where a clause begins something else, grows where something goes in, and is found again by what it was called ("the
sauce") or by what it must be: "the dumplings" were shaped, "the dough" holds flour, "the broth" is wet, "the filling" is no dough.
"""

import functools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from nutrition.reading.mentions import Called
from nutrition.tables import pattern, words_of


@dataclass(slots=True)
class Batch:
    """Lines that stand together. `called`: the nouns they went by; `is_shaped`: rolled, stuffed, cut in rounds; `is_wet`: boiled or poured;
    `is_bath`: something lies in it that will be taken out; `is_hot`: it stands on the heat."""

    lines: frozenset[int]
    called: frozenset[str] = frozenset()
    is_shaped: bool = False
    is_wet: bool = False
    is_bath: bool = False
    is_hot: bool = False


@dataclass(slots=True)
class Worktop:
    """The batches, the one last worked on last, which is the pot; `past`: name -> the lines of what has gone into another since; `gone`:
    lines that are in the dish no more."""

    lines: Sequence[Called]
    batches: list[Batch] = field(default_factory=list)
    past: dict[str, frozenset[int]] = field(default_factory=dict)
    gone: frozenset[int] = frozenset()

    @property
    def pot(self) -> frozenset[int]:
        return self.batches[-1].lines if self.batches else frozenset()

    def named(self) -> dict[str, frozenset[int]]:
        """Each name that something went by, and the lines inside of it now."""
        return self.past | {name: batch.lines for batch in self.batches for name in sorted(batch.called)}

    def put(self, lines: frozenset[int], joined: Sequence[Batch] = (), *, aside: bool = False) -> Batch:
        """A batch of lines and of batches that went into it; beside the pot or in its place. It goes by the names of what it grew out of,
        the last of them."""
        grown = joined[-1] if joined else None
        for each in joined:
            if each is not grown:
                self.past |= dict.fromkeys(each.called, each.lines)
        if grown and len(joined) > 1:
            self.past |= dict.fromkeys(grown.called, grown.lines)
        inside = lines.union(*(each.lines for each in joined)) - self.gone
        batch = Batch(inside, grown.called if grown else frozenset(), any(each.is_shaped for each in joined))
        batch.is_wet = any(each.is_wet for each in joined)
        batch.is_hot = any(each.is_hot for each in joined)
        batch.is_bath = any(each.is_bath and inside <= each.lines for each in joined)
        self.batches = [each for each in self.batches if each not in joined]
        self.batches.insert(max(len(self.batches) - 1, 0) if aside else len(self.batches), batch)
        return batch

    def with_line(self, line: int) -> Batch | None:
        """The batch a line stands in, the last of them."""
        return next((each for each in reversed(self.batches) if line in each.lines), None)

    def take_away(self, lines: frozenset[int]) -> None:
        """Lines thrown away stand in nothing any more."""
        self.gone |= lines
        for each in self.batches:
            each.lines -= lines
        self.batches = [each for each in self.batches if each.lines]
        self.past = {name: inside - lines for name, inside in self.past.items()}

    def called(self, word: str, apart: Sequence[Batch] = ()) -> Batch | None:
        """What goes by a name, or must be what it means, and is none of those apart; nothing where nothing can be."""
        named = next((each for each in reversed(self.batches) if word in each.called), None)
        like = [each for each in self._like(words_of("made").get(word, "")) if each not in apart]
        if not named and word in ("broth", "stock", "soup"):
            # Most went into it: what was only boiled beside it is none.
            return max(like, key=lambda each: len(each.lines), default=None)
        return named or next(iter(like), None)

    def _like(self, kind: str) -> Iterator[Batch]:
        for each in reversed(self.batches):
            if (
                (kind == "shaped" and each.is_shaped)
                or (kind == "dough" and any(is_(self.lines[at], "flour") for at in each.lines))
                or (kind == "wet" and (each.is_wet or any(is_(self.lines[at], "liquid") for at in each.lines)))
                or (
                    kind == "filling"
                    and not each.is_shaped
                    and not any(is_(self.lines[at], "flour") for at in each.lines)
                )
            ):
                yield each

    def main(self) -> frozenset[int]:
        """What "the meat", "the joints", "the pieces" are where nothing was called so before."""
        return frozenset(at for at, line in enumerate(self.lines) if is_(line, "main")) - self.gone

    def of(self, named: frozenset[int]) -> list[Batch]:
        """Batches that a name stands for as a whole: "the onions" are what they were fried in, too."""
        found = []
        for each in self.batches[:-1]:
            body = self.body(each.lines) or frozenset(at for at in each.lines if is_(self.lines[at], "fat"))
            if (body and body <= named) or (each.is_shaped and each.lines & named):
                found.append(each)
        return found

    def body(self, lines: frozenset[int]) -> frozenset[int]:
        """What a batch is named by: meat or fish where it holds any, else all but what it was cooked with."""
        main = frozenset(at for at in lines if is_(self.lines[at], "main"))
        return main or frozenset(
            at for at in lines if not any(is_(self.lines[at], what) for what in ("trimming", "liquid", "fat"))
        )

    def is_medium(self) -> bool:
        """Whether the pot holds only what something else is cooked in: hot fat, salted water."""
        wet = any(is_(self.lines[at], "fat") or is_(self.lines[at], "liquid") for at in self.pot)
        return wet and not self.body(self.pot)


_NAMES = {"main": "main_kind", "flavor": "flavor_kind"}


@functools.lru_cache(maxsize=65_536)
def shows(name: str, kind: str) -> bool:
    """Whether what a line is called shows a pattern of tables/patterns.tsv."""
    return bool(pattern(name).search(kind))


def is_(line: Called, what: str) -> bool:
    if what in ("fat", "liquid"):
        return not line.heads.isdisjoint(words_of(f"{what}_head"))
    return shows(_NAMES.get(what) or f"batch_{what}", line.kind)
