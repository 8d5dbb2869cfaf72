"""What kind of dish it is: it decides which swaps make sense. Read once, of the dish as written; a person may
correct it."""

import functools
import re
from collections.abc import Sequence
from dataclasses import dataclass

from nutrition.dish.dish import KINDS
from nutrition.dish.line import Line
from nutrition.dish.method import Method
from nutrition.dish.naming import description_of
from nutrition.reading.clauses import operations
from nutrition.reading.method import method_of
from nutrition.reading.state import PRODUCT
from nutrition.tables import pattern, read_table

#: Kinds that are none without something, whatever they are called: a cake of fish is no cake, a fried steak no batter.
_NEEDS = {"cake": "flour", "bread": "flour", "fry": "holds_together"}
#: What a dish goes with says less of it than what it is.
_GOES_WITH = re.compile(r"\s(?:with|on|over|and its)\s", re.I)


@dataclass(frozen=True, slots=True)
class _Kind:
    """A row of tables/dish_kinds.tsv."""

    key: str
    called: re.Pattern[str]
    does: frozenset[str]
    of: re.Pattern[str] | None
    share: float
    beside: re.Pattern[str] | None


def _named(name: str) -> re.Pattern[str] | None:
    return pattern(name) if name else None


@functools.cache
def _kinds() -> tuple[_Kind, ...]:
    return tuple(
        _Kind(
            row.one_of("kind", KINDS),
            row.pattern("called", re.I),
            row.words("does", operations()),
            row.as_("of", _named, "the name of a pattern"),
            row.number("share", 0.0),
            row.as_("beside", _named, "the name of a pattern"),
        )
        for row in read_table("dish_kinds.tsv")
    )


def kind_of_dish(title: str, steps: Sequence[str], lines: Sequence[Line]) -> str:
    """One of dish.KINDS; "any" when nothing tells. What the title says it is tells first, then what is done, then what it goes with.

    >>> kind_of_dish("Red lentil soup", ["Simmer."], [])
    'soup'
    >>> from nutrition.reading.recipe import read_line
    >>> kind_of_dish("Sunday lamb", ["Simmer the lamb in the stock."], [read_line("500 g lamb"), read_line("1 l beef stock")])
    'stew'
    """
    return _as_called(_GOES_WITH.split(title)[0], lines) or _as_done(steps, lines) or _as_called(title, lines) or "any"


def _as_called(title: str, lines: Sequence[Line]) -> str:
    found = (each.key for each in _kinds() if each.called.search(title))
    named = next((key for key in found if not lines or key not in _NEEDS or _holds(lines, pattern(_NEEDS[key]))), "")
    # A bread of baking powder or soda is a batter as a cake is; dough is what yeast raises.
    is_quick = named == "bread" and _holds(lines, pattern("raised_by_powder"))
    is_quick = is_quick and not _holds(lines, pattern("raised_by_yeast"))
    return "cake" if is_quick else named


def _as_done(steps: Sequence[str], lines: Sequence[Line]) -> str:
    method = method_of(tuple(steps), tuple(lines))
    return next((each.key for each in _kinds() if each.does and _is_done(each, method, lines)), "")


def _is_done(kind: _Kind, method: Method, lines: Sequence[Line]) -> bool:
    """Whether the steps do with enough of the dish what makes this kind of it. A step that names no line does it with what none names, too."""
    steps = [step for step in method.steps if kind.does & set(step.operations)]
    if not steps or (kind.beside and not _holds(lines, kind.beside)):
        return False
    if not kind.of:
        return True
    through = {use.line for step in steps for use in step.uses}
    if any(all(use.how == PRODUCT for use in step.uses) for step in steps):
        through |= set(method.unnamed)
    weight = sum(line.span.likely for line in lines)
    of_it = sum(lines[at].span.likely for at in through if _is(kind.of, lines[at]))
    return bool(of_it) and of_it >= kind.share * weight


def _is(words: re.Pattern[str], line: Line) -> bool:
    return bool(words.search(description_of(line)))


def _holds(lines: Sequence[Line], words: re.Pattern[str]) -> bool:
    return any(_is(words, line) for line in lines)
