"""Which words of a line say what its food is: not what stands behind "or", nor what the cook does with it later.

"Spinach, washed and dried" is no dried spinach, and "carrots, cut into small cubes" are no small carrots.
tables/unbound_words.tsv.
"""

import functools
import re

from nutrition.reading.lines import clean
from nutrition.tables import pattern, read_table

_OR = re.compile(r"\s+or\s+.*$|\s*/\s*[a-z].*$", re.I)
#: Parentheses with nothing left in them, and one that lost its other side.
_EMPTY, _HALF = re.compile(r"\(\s*\)"), re.compile(r"^([^()]*)\)")
_TAILS = re.compile(r"[,;()]|\s[–—-]\s")


@functools.cache
def _unbound(taken_from: str) -> tuple[re.Pattern[str], ...]:
    rows = read_table("unbound_words.tsv")
    return tuple(row.pattern("words", re.I) for row in rows if row["from"] == taken_from)


@functools.lru_cache(maxsize=8192)
def without_denials(text: str) -> str:
    """A line without what it says it is not: "granola, without nuts" is granola, and "pasta (gluten-free if needed)" pasta.

    >>> without_denials("200 g pasta (gluten-free if needed)"), without_denials("1 cup granola, no nuts")
    ('200 g pasta', '1 cup granola')
    """
    words = text
    for each in _unbound("page"):
        words = each.sub("", words)
    return text if words == text else _HALF.sub(r"\1", _EMPTY.sub("", words)).strip(" ,;")


@functools.lru_cache(maxsize=8192)
def bound(text: str) -> str:
    """The words of a line that bind its food.

    >>> bound("2 cups spinach, washed and dried"), bound("100 g butter, unsalted, or margarine")
    ('2 cups spinach,', '100 g butter, unsalted,')
    """
    words = clean(text)[:400]
    for each in _unbound("name"):
        words = each.sub("", words)
    return _OR.sub("", words).strip()


def tails(words: str) -> list[str]:
    """What stands behind commas and in parentheses, part by part.

    >>> tails("200 g rice, brown (long-grain)")
    ['brown', 'long-grain']
    """
    return [part.strip() for part in _TAILS.split(words)[1:] if part.strip()]


def says_as_packet(text: str) -> bool:
    """Whether it is cooked "according to the packet": its amount may be of the dry food or of the cooked."""
    return bool(pattern("as_packet").search(text))
