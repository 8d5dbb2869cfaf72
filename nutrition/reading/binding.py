"""Which words of a line say what its food is: not what stands behind "or", nor what the cook does with it later.

"Spinach, washed and dried" is no dried spinach, and "carrots, cut into small cubes" are no small carrots.
tables/unbound_words.tsv.
"""

import functools
import re

from nutrition.reading.lines import clean
from nutrition.tables import pattern, read_table

_OR = re.compile(r"\s+or\s+.*$|\s*/\s*[a-z].*$", re.I)
_TAILS = re.compile(r"[,;()]|\s[–—-]\s")


@functools.cache
def _unbound() -> tuple[re.Pattern[str], ...]:
    return tuple(re.compile(row["words"], re.I) for row in read_table("unbound_words.tsv"))


@functools.lru_cache(maxsize=8192)
def bound(text: str) -> str:
    """The words of a line that bind its food.

    >>> bound("2 cups spinach, washed and dried"), bound("100 g butter, unsalted, or margarine")
    ('2 cups spinach,', '100 g butter, unsalted,')
    """
    words = clean(text)[:400]
    for each in _unbound():
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
