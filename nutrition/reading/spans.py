"""Where a step names foods: the words, and their place in the text."""

import functools
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from nutrition.dish.dish import Dish
from nutrition.dish.naming import name_of
from nutrition.food.names import normalized
from nutrition.reading.matching import matcher
from nutrition.reading.mentions import Called, called, groups, is_meant
from nutrition.reading.method import read_method
from nutrition.reading.state import PRODUCT
from nutrition.reading.unlisted import silent_in
from nutrition.tables import words_of

_WORD = re.compile(r"[^\W\d_]+|[,.;:!?()]")
#: A cook's name has at most so many words.
_LONGEST = 6


@dataclass(frozen=True, slots=True)
class Span:
    """Words of a step that may name a food, and where they stand."""

    start: int
    end: int
    tokens: tuple[str, ...]


@functools.lru_cache(maxsize=8_192)
def _words(step: str) -> tuple[tuple[str, int, int], ...]:
    """(normalized, start, end) of every word, and of every mark between words, which no name reaches over. A word that names no food
    where it stands ("toast the …") has no letters left."""
    silent = silent_in(step)
    return tuple(
        (
            "" if any(start <= found.start() < end for start, end in silent) else normalized(found[0]) or found[0],
            found.start(),
            found.end(),
        )
        for found in _WORD.finditer(step)
    )


def spans_in(step: str, nouns: frozenset[str], names: frozenset[frozenset[str]]) -> Iterator[Span]:
    """Mentions of foods, the longest first at each place. `nouns`: single words that name one of the lines asked about; `names`: their
    names in full."""
    words, at = _words(step), 0
    while at < len(words):
        tokens = [token for token, _, _ in words[at : at + _LONGEST]]
        size = next((n for n in range(len(tokens), 0, -1) if _is_food(tokens[:n], nouns, names)), 0)
        if size:
            named = tokens[:size]
            whole = ("".join(named),) if _is_one_word(named, nouns) else tuple(named)
            yield Span(words[at][1], words[at + size - 1][2], whole)
        at += max(size, 1)


def _is_food(tokens: Sequence[str], nouns: frozenset[str], names: frozenset[frozenset[str]]) -> bool:
    if (tokens[0] in nouns if len(tokens) == 1 else frozenset(tokens) in names) or _is_one_word(tokens, nouns):
        return True
    return matcher().is_name(tokens) or " ".join(tokens) in groups()


def _is_one_word(tokens: Sequence[str], nouns: frozenset[str]) -> bool:
    """Whether two words are what a line calls by one: "bread crumbs" of breadcrumbs."""
    return len(tokens) == 2 and "".join(tokens) in nouns


#: A piece of a step, and the key of the line it names; "" for none.
Piece = tuple[str, str]


def pieces_of(dish: Dish) -> tuple[tuple[Piece, ...], ...]:
    """Each step in pieces, with the line each piece names.

    >>> from nutrition.reading.recipe import read_line
    >>> from nutrition.dish.dish import keyed
    >>> pieces_of(Dish("Pot", 2, keyed((read_line("2 onions"), read_line("1 tbsp oil"))), ("Fry the onions in the oil.",)))
    ((('Fry the ', ''), ('onions', 'w0'), (' in the ', ''), ('oil', 'w1'), ('.', '')),)
    """
    own = dish.listed.lines
    names = tuple(frozenset(normalized(name_of(line)).split()) for line in own)
    lines, keys = tuple(map(called, own)), tuple(line.key for line in own)
    headings = tuple(normalized(line.heading) for line in own)
    uses = tuple(tuple(use.line for use in step.uses if use.how != PRODUCT) for step in read_method(dish).steps)
    return _pieces(dish.steps, lines, keys, names, headings, uses)


@functools.lru_cache(maxsize=512)
def _pieces(
    steps: tuple[str, ...],
    lines: tuple[Called, ...],
    keys: tuple[str, ...],
    names: tuple[frozenset[str], ...],
    headings: tuple[str, ...],
    uses: tuple[tuple[int, ...], ...],
) -> tuple[tuple[Piece, ...], ...]:
    return tuple(_in_pieces(step, lines, keys, names, headings, own) for step, own in zip(steps, uses, strict=True))


def _in_pieces(
    step: str,
    lines: Sequence[Called],
    keys: Sequence[str],
    names: Sequence[frozenset[str]],
    headings: Sequence[str],
    own: Sequence[int],
) -> tuple[Piece, ...]:
    nouns = frozenset(noun for at in own for noun in lines[at].heads)
    known = frozenset(
        (*(lines[at].own for at in own), *(names[at] for at in own), *(frozenset(h.split()) for h in headings if h))
    )
    found, end = [], 0
    for span in spans_in(step, nouns, known):
        meant = _meant(span.tokens, lines, names, headings, own)
        if meant is not None and not _is_verb(span, step):
            found += [(step[end : span.start], ""), (step[span.start : span.end], keys[meant])]
            end = span.end
    return tuple(piece for piece in (*found, (step[end:], "")) if piece[0])


def _is_verb(span: Span, step: str) -> bool:
    """Whether it is what a sentence begins by telling to do: "Toast the slices"."""
    return (
        len(span.tokens) == 1
        and span.tokens[0] in words_of("verb")
        and step[: span.start].rstrip()[-1:] in ("", ".", ";", "!")
    )


def _meant(
    tokens: Sequence[str],
    lines: Sequence[Called],
    names: Sequence[frozenset[str]],
    headings: Sequence[str],
    own: Sequence[int],
) -> int | None:
    """The line that words name: by its whole name, by its heading, or by what it may be called."""
    whole = frozenset(tokens)
    for at in own:
        if names[at] == whole or lines[at].own == whole:
            return at
    named = next((at for at, heading in enumerate(headings) if heading == " ".join(tokens)), None)
    return next((at for at in own if is_meant(tokens, True, [lines[at]])), None) if named is None else named
