"""What the words of a step may call the lines of a dish: by their own names, by their food, by their kind, by a group.

A mention that some line is meant by is a use; what no line is meant by is added by the step (unlisted.py).
"""

import functools
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from nutrition.dish.line import Line
from nutrition.food.contents import hits_of_food
from nutrition.food.names import cook_name, normalized
from nutrition.food.spoken import hits_of_words
from nutrition.food.table import foods, remembered
from nutrition.food.tags import CONTAINS, LINE, TAGS, Hit
from nutrition.reading.choice import food_named
from nutrition.reading.lines import parse
from nutrition.reading.matching import matcher
from nutrition.tables import read_table, words_of

#: Made of what its first word names, and not that thing itself: "chicken stock" is no chicken.
MADE_OF = frozenset(
    [
        "stock",
        "broth",
        "cube",
        "milk",
        "paste",
        "oil",
        "sauce",
        "cream",
        "flour",
        "powder",
        "seed",
        "vinegar",
        "butter",
        "puree",
        "crumb",
        "syrup",
        "starch",
        "drink",
        "sugar",
        "yogurt",
        "jam",
        "water",
    ]
)

#: What is drawn from a food and leaves it behind: never called by its name alone.
_DRAWN_FROM = frozenset(["stock", "broth", "cube", "oil", "milk", "drink", "syrup", "vinegar"])


@dataclass(frozen=True, slots=True)
class Group:
    """A word for several foods: what shows that a line is one of them. `is_itself`: what is made of one is none."""

    tags: frozenset[str]
    foods: re.Pattern[str] | None
    is_itself: bool


@functools.cache
def groups() -> dict[str, Group]:
    """Word of a step -> the group it stands for; tables/group_words.tsv."""
    return {
        row["word"]: Group(
            row.words("tags", TAGS),
            row.pattern_or_none("foods", re.I),
            row.yes("itself"),
        )
        for row in read_table("group_words.tsv")
    }


def core_of(tokens: Iterable[str]) -> tuple[str, ...]:
    """The words of a mention that name a food: "lemon juice" is of the lemon, "canned chickpeas, drained" are chickpeas.

    >>> core_of(["lemon", "juice"]), core_of(["zest"])
    (('lemon',), ())
    """
    return _core_of(tuple(tokens))


@functools.lru_cache(maxsize=65_536)
def _core_of(tokens: tuple[str, ...]) -> tuple[str, ...]:
    whole = tuple(token for token in tokens if token not in words_of("part_of_food"))
    plain = tuple(token for token in whole if token not in words_of("state") or token in ("salt",))
    return plain or whole


@dataclass(frozen=True, slots=True)
class Called:
    """One line as steps may speak of it. `heads`: single nouns it goes by; `own`: its name in full; `tokens`: every word
    of it; `kind`: "category: description; words"; `tags`: what it holds or may hold, `certain` for certain."""

    heads: frozenset[str]
    own: frozenset[str]
    tokens: frozenset[str]
    kind: str
    tags: frozenset[str]
    certain: frozenset[str]
    row: int


def called_in(lines: Iterable[Line]) -> tuple[Called, ...]:
    """Everything steps may speak of: the lines, and what stands no more and has a line in its place ("melt the butter")."""
    return tuple(each for line in lines for each in (called(line), *_stood_before(line)))


def _stood_before(line: Line) -> tuple[Called, ...]:
    if line.why.code != "swaps.in_place_of":
        return ()
    return (_called(str(line.why.value("line")), line.heading, _NO_FOOD),)


def called(line: Line) -> Called:
    """One line, as steps may speak of it."""
    text, food_id = line.text if line.words_hold else "", line.food_id or ""
    return _called(text, line.heading, _of_food(food_id) if foods().has_id(food_id) else _NO_FOOD)


#: "Tuna in oil" is called tuna.
_BEFORE_IN = re.compile(r"(?<=\w) (?:in|with|for) ")


def _heads(name: str) -> set[str]:
    """The nouns a name is called by: the last word, and the first where it is no mere flavor of the last."""
    words = [
        word for word in core_of(normalized(_BEFORE_IN.split(name)[0]).split()) if word not in words_of("harmless")
    ]
    if not words:
        return set()
    return {words[-1]} | ({words[0]} if words[-1] not in MADE_OF or words[0] in words_of("called_alone") else set())


@functools.lru_cache(maxsize=20_000)
def _parsed_names(text: str) -> tuple[str, ...]:
    return tuple(parse(text).names) if text else ()


@dataclass(frozen=True, slots=True, eq=False)
class _Food:
    """What a food brings to how its line is called, once for each food; `name`: a cook's."""

    name: str
    heads: frozenset[str]
    tokens: frozenset[str]
    kind: str
    tags: frozenset[str]
    certain: frozenset[str]
    row: int


_NO_FOOD = _Food("", frozenset(), frozenset(), "", frozenset(), frozenset(), -1)


@remembered
def _of_food(food_id: str) -> _Food:
    food = foods().by_id(food_id)
    first = food.description.split(",")[0]
    heads = _heads(cook_name(food_id)) | set(normalized(first).split()[-1:])
    tokens = frozenset(normalized(f"{food.description} {cook_name(food_id)}").split())
    hits = hits_of_food(food_id)
    kind = f"{food.category}: {food.description}"
    return _Food(cook_name(food_id), frozenset(heads), tokens, kind, _tags(hits), _certain(hits), food.row)


@functools.lru_cache(maxsize=20_000)
def _called(text: str, heading: str, food: _Food) -> Called:
    names = _parsed_names(text) or ((food.name,) if food.name else ())
    own = frozenset(t for name in names for t in core_of(normalized(name).split()) if t not in words_of("harmless"))
    heads = food.heads.union(*(_heads(name) for name in names))
    tokens, kind, hits = (
        food.tokens | set(normalized(text).split()),
        f"{food.kind}; {text}; {heading}",
        hits_of_words(text, LINE),
    )
    return Called(heads, own, tokens, kind, food.tags | _tags(hits), food.certain | _certain(hits), food.row)


def _tags(hits: Iterable[Hit]) -> frozenset[str]:
    return frozenset(hit.tag for hit in hits)


def _certain(hits: Iterable[Hit]) -> frozenset[str]:
    return frozenset(hit.tag for hit in hits if hit.verdict == CONTAINS)


@functools.lru_cache(maxsize=20_000)
def tags_named(words: str) -> frozenset[str]:
    """What words name outright of allergens and of what plans keep out."""
    return frozenset(hit.tag for hit in hits_of_words(words, LINE) if hit.verdict == CONTAINS)


def is_meant(tokens: Sequence[str], is_definite: bool, lines: Sequence[Called]) -> bool:
    """Whether a mention speaks of one of the lines. `is_definite`: "the …", of what was there before."""
    core = core_of(tokens)
    if not core:
        return True
    whole, tags = " ".join(core), tags_named(" ".join(tokens))
    group = groups().get(whole)
    if group and any(_is_of(group, line) for line in lines):
        return is_definite or any(_is_of(group, line) and tags <= line.tags for line in lines)
    row = _row_of(whole) if len(core) > 1 or not group else -1
    return any(_speaks_of(core, row, tags, is_definite, line) for line in lines)


def _is_of(group: Group, line: Called) -> bool:
    if group.is_itself and line.heads & MADE_OF:
        return False
    return bool(group.tags & line.tags) or bool(group.foods and group.foods.search(line.kind))


@functools.lru_cache(maxsize=20_000)
def _row_of(words: str) -> int:
    found = food_named(words)
    return found.row if found.sure != "check" or matcher().is_name(words.split()) else -1


def _speaks_of(core: Sequence[str], row: int, tags: frozenset[str], is_definite: bool, line: Called) -> bool:
    if row >= 0 and row == line.row:
        return True
    if core[-1] not in line.heads:
        # "the mustard" of a list with mustard powder; "the chicken" is not its chicken stock.
        return (
            not line.heads & _DRAWN_FROM
            and is_definite
            and bool(tags)
            and set(core) <= line.tokens
            and tags <= line.certain
        )
    if len(core) == 1:
        return (
            is_definite or tags <= line.tags
        )  # "milk" is not the oat drink of the list, "butter" not its peanut butter
    words = set(core) - words_of("harmless").keys()
    if words <= line.tokens:
        return True
    # "the double cream" of a list with heavy cream, "olive oil" of one with oil; "soy sauce" is not its tomato sauce.
    return tags == tags_named(" ".join(line.own)) and (is_definite or bool(line.own and line.own <= words))
