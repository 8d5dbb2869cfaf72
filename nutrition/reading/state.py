"""What is known while a recipe is read, from one clause to the next; and one clause, as far as it is understood."""

import functools
from collections.abc import Sequence
from dataclasses import dataclass, field

from nutrition.reading.clauses import cue
from nutrition.reading.mentions import Called
from nutrition.reading.worktop import Worktop
from nutrition.tables import words_of

#: How a clause calls a line, and how much of it it means.
NAMED, GROUP, PRODUCT = "named", "group", "product"
ALL, PART, HALF, REST = "all", "part", "half", "rest"


@dataclass(slots=True)
class Reading:
    """What is known before a clause. `top`: what stands on the worktop; `last`: what the clause before took in hand, which "it" means;
    `is_aside`: that lies beside the pot, `is_out`: taken out of it; `seen`: lines any step has taken in hand; `parts`: word of a heading -> its
    lines; `part`: whose own step this is; `allowed`: the lines that may stand in it; `reserved`: lines kept for later; `has_lifted`: the
    clause before took a part off, which "throw it away" then means; `later`: the clauses that come."""

    lines: Sequence[Called]
    parts: dict[str, frozenset[int]] = field(default_factory=dict)
    part: str = ""
    allowed: frozenset[int] = frozenset()
    last: frozenset[int] = frozenset()
    seen: frozenset[int] = frozenset()
    reserved: frozenset[int] = frozenset()
    is_aside: bool = False
    is_out: bool = False
    has_lifted: bool = False
    later: str = ""
    top: Worktop = field(init=False)
    by_head: dict[str, list[int]] = field(init=False)
    vocabulary: frozenset[str] = field(init=False)

    def __post_init__(self) -> None:
        self.top = Worktop(self.lines)
        self.by_head = {}
        for at, line in enumerate(self.lines):
            for head in line.heads | short_names(line):
                self.by_head.setdefault(head, []).append(at)
        self.vocabulary = frozenset(self.by_head).union(*(line.tokens for line in self.lines))

    @property
    def pot(self) -> frozenset[int]:
        return self.top.pot


def short_names(line: Called) -> frozenset[str]:
    """What a line may be called by the end of its name: "the crumbs" of breadcrumbs."""
    return _short_names(line.heads)


@functools.lru_cache(maxsize=20_000)
def _short_names(heads: frozenset[str]) -> frozenset[str]:
    short = words_of("short_name")
    return frozenset(short[head] for head in heads if head in short)


@dataclass(frozen=True, slots=True)
class Said:
    """A clause: its main part in plain words, the words as they are compared, the lines they name; whether it puts something in, strews or
    serves, heats; `rest`: lines of which it means what no step has used."""

    plain: str
    words: tuple[str, ...]
    named: frozenset[int]
    adds: bool
    finishes: bool
    heats: bool
    rest: frozenset[int] = frozenset()

    def before(self, at: int, count: int = 3) -> frozenset[str]:
        """The words before a place; of "pour on the custard" the little word is of the verb."""
        first = 2 if cue("pours", self.plain) else 0
        return frozenset(self.words[max(at - count, first) : at])
