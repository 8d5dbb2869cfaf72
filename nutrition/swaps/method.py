"""Steps follow the dish: which steps name a food that was replaced or left out, and the step as it must be cooked now.

A mention is found by every noun a line and its food go by, and replaced where it stands; what another line that stays is meant by is
left as it is ("oil" is not "olives", "milk" not "coconut milk").
"""

import functools
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.naming import name_of
from nutrition.food.names import normalized
from nutrition.reading.matching import matcher
from nutrition.reading.mentions import Called, called, core_of, groups, is_meant
from nutrition.reading.unlisted import silent_in
from nutrition.reading.whole import FROM_STEP, whole_dish
from nutrition.tables import words_of

_WORD = re.compile(r"[^\W\d_]+")
#: A cook's name has at most so many words.
_LONGEST = 4


@dataclass(frozen=True, slots=True)
class StepNow:
    """A step of the recipe. `names`: what it names that is no longer there; `proposed`: the step as it is cooked now, where that is
    another."""

    text: str
    names: tuple[str, ...] = ()
    proposed: str = ""

    @property
    def now(self) -> str:
        return self.proposed or self.text


@dataclass(frozen=True, slots=True)
class _Span:
    """Words of a step that may name a food, and where they stand."""

    start: int
    end: int
    tokens: tuple[str, ...]


@functools.lru_cache(maxsize=8_192)
def _words(step: str) -> tuple[tuple[str, int, int], ...]:
    """(normalized, start, end) of every word; one that names no food where it stands ("toast the …") has no letters left."""
    silent = silent_in(step)
    return tuple(
        (
            "" if any(start <= found.start() < end for start, end in silent) else normalized(found[0]),
            found.start(),
            found.end(),
        )
        for found in _WORD.finditer(step)
    )


def _spans(step: str, nouns: frozenset[str]) -> Iterator[_Span]:
    """Mentions of foods, the longest first at each place. `nouns`: single words that name one of the lines asked about."""
    words, at = _words(step), 0
    while at < len(words):
        tokens = [token for token, _, _ in words[at : at + _LONGEST]]
        size = next((n for n in range(len(tokens), 0, -1) if _is_food(tokens[:n], nouns)), 0)
        if size:
            yield _Span(words[at][1], words[at + size - 1][2], tuple(tokens[:size]))
        at += max(size, 1)


def _is_food(tokens: Sequence[str], nouns: frozenset[str]) -> bool:
    if len(tokens) == 1 and tokens[0] in nouns:
        return True
    return matcher().is_name(tokens) or " ".join(tokens) in groups()


def steps_now(steps: Sequence[str], changed: Sequence[tuple[Line, str]], kept: Sequence[Line] = ()) -> list[StepNow]:
    """Every step, marked where it names a changed line. `changed`: (line as written, what stands there now, or ""); `kept`: the lines
    that stay.

    >>> from nutrition.reading.recipe import read_line
    >>> steps_now(["Melt the butter."], [(read_line("100 g butter"), "olive oil")])[0].proposed
    'Melt the olive oil.'
    >>> pot = [(read_line("80 g Parmesan, grated"), "")], [read_line("400 ml coconut milk")]
    >>> [step.names for step in steps_now(["Warm the coconut milk.", "Top with the cheese."], *pot)]
    [(), ('cheese',)]
    """
    gone = [(called(line), now) for line, now in changed]
    stays = [called(line) for line in kept]
    nouns = frozenset(noun for line, _ in gone for noun in line.heads if noun not in words_of("part_of_food"))
    return [_told(step, gone, stays, nouns) for step in steps]


def _told(step: str, gone: Sequence[tuple[Called, str]], stays: Sequence[Called], nouns: frozenset[str]) -> StepNow:
    told, names, at = [], [], 0
    for span in _spans(step, nouns):
        now = _now(span.tokens, gone, stays)
        if now is None:
            continue
        words = step[span.start : span.end]
        names.append(words.lower())
        told += [step[at : span.start], _put(words, now, step[: span.start])]
        at = span.end
    return StepNow(step, tuple(names), "".join([*told, step[at:]]) if names else "")


def _now(tokens: Sequence[str], gone: Sequence[tuple[Called, str]], stays: Sequence[Called]) -> str | None:
    """What stands for these words now, "" for nothing; None where they speak of no changed line, or of one that stays."""
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


def _put(words: str, now: str, before: str) -> str:
    if not now:
        return f"(no {words.lower()})"
    begins = not before.strip() or before.rstrip()[-1] in ".:!?"
    return now[:1].upper() + now[1:] if begins and words[:1].isupper() else now


def told(was: Dish, now: Dish) -> Dish:
    """A dish with its steps as they must be cooked now, from the dish as written. Lines are told apart by their keys.

    What was written stays the source: telling a told dish again changes nothing.
    """
    there = {line.key: line for line in now.lines if line.key}
    changed = [
        (line, name_of(there[line.key]) if line.key in there else "")
        for line in (*was.listed.lines, *_settled(was, there))
        if line.key and (line.key not in there or there[line.key].food_id != line.food_id)
    ]
    if not changed:
        return replace(now, steps=was.steps)
    gone = {line.key for line, _ in changed}
    kept = [line for line in now.lines if line.key not in gone]
    return replace(now, steps=tuple(step.now for step in steps_now(was.steps, changed, kept)))


def _settled(was: Dish, there: Mapping[str, Line]) -> list[Line]:
    """What a step added as written and a line lists now: as that, or as another food in its place."""
    if not any(key.startswith(FROM_STEP) for key in there):
        return []
    return [line for line in whole_dish(was).added if line.key in there]


def beside(was: Sequence[str], now: Sequence[str]) -> list[StepNow]:
    """Steps as written beside the same as they are cooked now."""
    if len(was) != len(now):
        return [StepNow(step) for step in now]
    return [StepNow(before, (), "" if before == after else after) for before, after in zip(was, now, strict=True)]
