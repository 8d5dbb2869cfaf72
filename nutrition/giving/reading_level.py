"""How hard a text is to read: the Flesch–Kincaid grade of US schooling (Kincaid et al. 1975).

Syllables are counted by the hyphenation patterns of pyphen, which ships with the printing library; they find a few
less than a speaker would, so a grade may read up to one too low.
"""

import functools
import re
from typing import Any


@functools.cache
def _dictionary() -> Any:
    import pyphen

    return pyphen.Pyphen(lang="en_US")


@functools.lru_cache(maxsize=8192)
def syllables(word: str) -> int:
    """
    >>> syllables("chicken"), syllables("salt"), syllables("potatoes")
    (2, 1, 3)
    """
    vowels = len(re.findall(r"[aeiouy]+", word.lower().removesuffix("e") or "e"))
    return max(len(_dictionary().inserted(word).split("-")), vowels, 1)


def grade(text: str) -> float | None:
    """School grade; None for a text too short to tell (under 20 words).

    >>> grade("The cat sat on the mat. " * 5)
    -1.4
    """
    words = re.findall(r"[A-Za-zÀ-ÿ’']+", text)
    sentences = max(len(re.findall(r"[.!?:;](?:\s|$)", text)), 1)
    if len(words) < 20:
        return None
    total = sum(syllables(word.replace("’", "").replace("'", "") or "a") for word in words)
    return round(0.39 * len(words) / sentences + 11.8 * total / len(words) - 15.59, 1)
