"""Which lines the words of a clause name: the longest name at each place, a word for several, a cue that names none ("the dry ingredients")."""

import functools
import re
from collections.abc import Iterator, Sequence

from nutrition.food.names import normalized
from nutrition.reading.clauses import cue
from nutrition.reading.matching import matcher
from nutrition.reading.mentions import Called, Group, core_of, groups, is_meant, tags_named
from nutrition.reading.state import ALL, GROUP, HALF, NAMED, PART, REST, Reading, short_names
from nutrition.reading.worktop import is_, shows
from nutrition.tables import words_of


def _before(words: Sequence[str], at: int, count: int) -> list[str]:
    """The words before a place, nearest last."""
    return [word for word in words[max(at - 2 * count, 0) : at] if word != ","][-count:]


def lines_named(
    words: Sequence[str], plain: str, adding: bool, state: Reading
) -> tuple[dict[int, str], dict[int, str]]:
    """Lines that the words of a clause name, the longest name at each place; a word for several takes those it fits."""
    how: dict[int, str] = {}
    shares: dict[int, str] = {}
    at = 0
    thrown = words_of("thrown_part").keys() if cue("parts_off", plain) else frozenset()
    while at < len(words):
        if words[at] in words_of("works") and (at == 0 or words[at - 1] in ("and", ",")):
            at += 1
            continue
        if words[at] in thrown and words[at - 1] in ("the", "any", "and", "out", "off", "their", "its", ","):
            at += 1
            continue
        size, lines, way = _meant_at(words, at, f"{words[at]}s" in plain, adding, state)
        share = _share(words, at)
        for line in lines:
            how.setdefault(line, way)
            if share != ALL:
                shares[line] = share
        at += max(size, 1)
    for line in list(_by_cue(plain, frozenset(how), state)):
        how.setdefault(line, GROUP)
    if cue("everything", plain):
        but = frozenset(how) if re.search(r"\bbut\b|\bexcept", plain) else frozenset()
        for line in _everything(plain, state) - but - state.top.gone:
            how.setdefault(line, GROUP)
        for line in but:
            how.pop(line)
    return how, shares


def _everything(plain: str, state: Reading) -> frozenset[int]:
    """What "everything" is: of the pot, of all that was taken in hand, or of all lines."""
    waits = frozenset(range(len(state.lines))) - state.seen
    if re.search(r"\beverything else\b", plain):
        return waits | frozenset().union(*(each.lines for each in state.top.batches))
    if re.search(r"\b(?:other|remaining|rest)\b", plain):
        return waits
    if state.pot and not cue("combines", plain):
        return state.pot
    is_late = 3 * len(state.seen) >= 2 * len(state.lines) or bool(re.search(r"\bfrom the\b", plain))
    return state.seen if is_late else state.seen | waits


def _by_cue(plain: str, named: frozenset[int], state: Reading) -> Iterator[int]:
    """Lines that words of a clause mean without naming them."""
    if cue("dry_ingredients", plain):
        yield from (at for at, line in enumerate(state.lines) if shows("dry_goods", line.kind))
    if cue("of_an_egg", plain):
        eggs = [at for at, line in enumerate(state.lines) if "egg" in line.tokens]
        part = "yolk" if "yolk" in plain else "white"
        yield from [at for at in eggs if part in state.lines[at].own] or eggs
    if cue("salted_water", plain):
        salts = (at for at, line in enumerate(state.lines) if line.heads == {"salt"} and at not in state.seen)
        yield from () if re.search(r"\bsalt\b", state.later) else salts
    if cue("seasons", plain):
        yield from (
            at
            for at, line in enumerate(state.lines)
            if line.own & {"salt"} and line.own <= _TO_SEASON and at not in state.seen
        )
    if cue("fries", plain) and not any(is_(state.lines[at], "fat") for at in named):
        yield from (at for at, line in enumerate(state.lines) if shows("hand_to_fry_in", line.kind))


_TO_SEASON = frozenset(("salt", "pepper", "black"))
#: A cream, and no half of anything.
_HALF_AND_HALF = ("half", "and", "half")
#: No name goes over one of these.
_NEVER_INSIDE = frozenset(
    ("the", "a", "an", "and", ",", "with", "in", "into", "on", "onto", "to", "over", "from", "until", "for")
)
#: No name begins with one of these.
_NO_NAME = frozenset(("the", "a", "an", ","))


def _meant_at(
    words: Sequence[str], at: int, are_several: bool, adding: bool, state: Reading
) -> tuple[int, tuple[int, ...], str]:
    """(how many words, lines, how) of the longest name of lines that begins here; nothing where none does. `are_several`: "the flours"."""
    if words[at] in _NO_NAME or not _may_begin(words[at], state):
        return 0, (), ""
    before = _before(words, at, 3)
    if tuple(words[at : at + 3]) == _HALF_AND_HALF:
        return 3, tuple(n for n, line in enumerate(state.lines) if "half and half" in line.kind.lower()), NAMED
    for size in range(min(4, len(words) - at), 0, -1):
        found = _meant_by(tuple(words[at : at + size]), words, at, before, are_several, adding, state)
        if found:
            return size, *found
    return 0, (), ""


def _meant_by(
    phrase: tuple[str, ...],
    words: Sequence[str],
    at: int,
    before: Sequence[str],
    are_several: bool,
    adding: bool,
    state: Reading,
) -> tuple[tuple[int, ...], str] | None:
    """(lines, how) of a phrase; None where a shorter one may mean some."""
    size, definite = len(phrase), "the" in before or "its" in before
    if not _NEVER_INSIDE.isdisjoint(phrase):
        return None
    if phrase[-1] in words_of("part_of_food"):
        part = tuple(n for n, line in enumerate(state.lines) if set(phrase) <= _written(line.kind))
        if part:
            return part if len(part) == 1 else _likelier(part, adding, state), NAMED
        if size > 1 or phrase[0] not in groups() or not definite:
            return None
    core = core_of(phrase)
    if not core or (size > 1 and phrase[0] not in core and phrase[0] not in words_of("state")):
        return None
    # "Milk" is not the oat drink of the list, where nothing says it was there before.
    tags = tags_named(" ".join(phrase)) if core[-1] in state.by_head and not definite else frozenset()
    exact = tuple(n for n in state.by_head.get(core[-1], ()) if _is_called(core, tags, state.lines[n]))
    if size == 1 and _is_product(phrase[0], exact, state):
        return None
    if exact and size == 1 and at and _is_other_food(words[at - 1], phrase[0], exact, state):
        return (), ""
    if exact and (size > 1 or not _goes_on(phrase[-1], words[at + 1] if at + 1 < len(words) else "", state)):
        if len(exact) == 1 or are_several:
            return exact, NAMED
        return _told_apart((*before, *phrase[:-1]), exact, state) or _likelier(
            _the_one(core, exact, state), adding, state
        ), NAMED
    if size > 1:
        is_name = matcher().is_name(phrase)
        return (
            (tuple(n for n, line in enumerate(state.lines) if is_meant(phrase, definite, [line])), NAMED)
            if is_name
            else None
        )
    return None if exact else _of_group(phrase[0], " ".join(core), definite, adding, state)


def _of_group(word: str, core: str, definite: bool, adding: bool, state: Reading) -> tuple[tuple[int, ...], str] | None:
    """The lines a word for several foods means, or a word of one line's name alone: "the claws" of a list with crab claws."""
    if core in groups():
        of_group = tuple(n for n, line in enumerate(state.lines) if _is_of(groups()[core], word, definite, line))
        if of_group and words_of("made").get(word, "") == "wet" and state.seen.issuperset(of_group):
            return None
        # "The pasta" of a list with trofie, which no table knows: the one line of which nobody knows what it is.
        unknown = tuple(n for n, line in enumerate(state.lines) if line.row < 0)
        if of_group := of_group or (unknown if len(unknown) == 1 and definite else ()):
            return _likelier(of_group, adding, state), GROUP if len(of_group) > 1 else NAMED
    if definite and word not in words_of("made"):
        own = tuple(n for n, line in enumerate(state.lines) if word in line.own)
        return (own, NAMED) if len(own) == 1 else None
    return None


def _is_of(group: Group, word: str, definite: bool, line: Called) -> bool:
    """Whether a line is one of a group; "milk", of which nothing says it was there before, is not the oat drink."""
    if not definite and not tags_named(word) <= line.tags:
        return False
    is_of = bool(group.tags & line.tags) or _is_food_of(group, line.kind)
    return is_of and not (group.is_itself and shows("drawn_kind", line.kind))


@functools.lru_cache(maxsize=65_536)
def _is_food_of(group: Group, kind: str) -> bool:
    return bool(group.foods and group.foods.search(kind))


def _may_begin(word: str, state: Reading) -> bool:
    """Whether the name of a line may begin with a word."""
    return (
        word in state.vocabulary
        or word in words_of("part_of_food")
        or word in words_of("state")
        or word in groups()
        or word in matcher().first_words
    )


def _told_apart(before: Sequence[str], lines: tuple[int, ...], state: Reading) -> tuple[int, ...]:
    """The one of several lines that the words before a noun tell from the others: "the cold butter", "the 20 g butter"."""
    for size in (2, 1):
        said = " ".join(before[-size:])
        fits = tuple(at for at in lines if re.search(rf"\b{re.escape(said)}\b", _words_of_line(state.lines[at].kind)))
        if len(fits) == 1 and said not in ("the", "of the", "with the", "in the"):
            return fits
    return ()


@functools.lru_cache(maxsize=20_000)
def _words_of_line(kind: str) -> str:
    return normalized((*kind.split("; "), "")[1])


def _is_other_food(before: str, word: str, lines: Sequence[int], state: Reading) -> bool:
    """Whether a noun ends the name of a food that no line is: "icing sugar" over a list with sugar."""
    return (
        before not in words_of("harmless")
        and before not in words_of("state")
        and not any(before in state.lines[at].tokens for at in lines)
        and matcher().is_name((before, word))
        and any(word in state.lines[at].own and before not in state.lines[at].own for at in lines)
    )


def _is_called(core: Sequence[str], tags: frozenset[str], line: Called) -> bool:
    names = line.tokens | short_names(line)
    return tags <= line.tags and all(word in names or word in words_of("harmless") for word in core)


def _is_product(word: str, lines: Sequence[int], state: Reading) -> bool:
    """Whether a noun means what was made, and not one of the lines it ends the name of: "the sauce" over a list with soy sauce."""
    if word not in words_of("made") or word in words_of("main") or any(state.lines[at].own == {word} for at in lines):
        return False
    if word in state.top.named():
        return True
    is_that_food = word in words_of("liquid_head") and any(word in state.lines[at].own for at in lines)
    return bool(lines) and state.seen.issuperset(lines) and not is_that_food


@functools.lru_cache(maxsize=20_000)
def _written(kind: str) -> frozenset[str]:
    """The words of a line as they were written; of one whose words do not hold any more those of its food."""
    food, text, heading = (*kind.split("; "), "", "")[:3]
    return frozenset(normalized(text or food.partition(": ")[2]).split()) | frozenset(normalized(heading).split())


def _likelier(lines: tuple[int, ...], adding: bool, state: Reading) -> tuple[int, ...]:
    """Of several lines a word may mean: what is added was not there before; what is worked on was, where any of it was."""
    lines = tuple(at for at in lines if at in state.allowed) or lines
    seen = tuple(at for at in lines if at in state.seen and at not in state.top.gone)
    waits = tuple(at for at in lines if at not in state.seen)
    return (waits or seen or lines) if adding else (seen or lines)


def _goes_on(word: str, following: str, state: Reading) -> bool:
    """Whether a noun is only the beginning of another thing's name: "chicken" of "chicken stock", "lemon" of no line of "lemon curd"."""
    if not following or following not in words_of("made_of"):
        return False
    return any(following in line.heads and word in line.tokens for line in state.lines) or following not in words_of(
        "part_of_food"
    )


def _the_one(core: Sequence[str], lines: tuple[int, ...], state: Reading) -> tuple[int, ...]:
    """Of several lines words may mean, those whose own name they are: "the butter" of butter and peanut butter; else all of them."""
    word = core[-1]
    named = tuple(at for at in lines if state.lines[at].own and state.lines[at].own <= set(core))
    if len(core) > 1 and named:
        most = max(len(state.lines[at].own) for at in named)
        return tuple(at for at in named if len(state.lines[at].own) == most)
    alone = tuple(at for at in lines if len(state.lines[at].own) == 1 and word in state.lines[at].own)
    last = tuple(at for at in lines if state.lines[at].own and word in state.lines[at].own)
    return alone or last or lines


#: What parts a measure from the food after it.
_APART = frozenset(("in", "into", "with", "on", "over", "and", "to", "from"))


def _share(words: Sequence[str], at: int) -> str:
    before = _before(words, at, 4)
    # "Fry spoonfuls in the oil" takes all of the oil.
    apart = next((n for n in range(len(before) - 1, -1, -1) if before[n] in _APART), -1)
    before = before[apart + 1 :]
    if "half" in before:
        return HALF
    if not words_of("the_rest").keys().isdisjoint(before):
        return REST
    return ALL if words_of("a_part").keys().isdisjoint(before) else PART
