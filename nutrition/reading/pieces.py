"""How big the pieces are that words name, and which vessels: what a step says of its things beside what it does."""

import functools
import re

from nutrition.tables import pattern, words_of

#: What nobody measures: coarse pieces, and what makes one bite (common practice).
COARSE_MM = 20
_MM = {"mm": 1.0, "cm": 10.0, "inch": 25.4, "in": 25.4}
_FRACTIONS = {"½": 0.5, "¼": 0.25, "¾": 0.75}


@functools.lru_cache(maxsize=8_192)
def pieces_in(text: str) -> tuple[int, ...]:
    """Sizes of the pieces that words name, in mm, each once: of a range the larger.

    >>> pieces_in("Cut the squash into 2-3 cm cubes, roughly chop the kale; a 23 cm tin"), pieces_in("½-inch slices")
    ((30, 20), (13,))
    """
    sizes = [_mm(found) for found in pattern("piece_measured").finditer(text)]
    sizes += [COARSE_MM for _ in pattern("piece_coarse").finditer(text)]
    return tuple(dict.fromkeys(sizes))


def _mm(found: re.Match[str]) -> int:
    whole, fraction = found["whole"] or "0", found["fraction"] or ""
    above, _, below = fraction.partition("/")
    part = _FRACTIONS.get(fraction) or (float(above) / float(below) if below else 0.0)
    return round(
        (float(whole.replace(",", ".")) + part) * _MM[found["unit"].lower().rstrip(".s").replace("inche", "inch")]
    )


@functools.cache
def _vessels() -> re.Pattern[str]:
    return re.compile(rf"\b({'|'.join(words_of('vessel'))})s?\b", re.I)


@functools.lru_cache(maxsize=8_192)
def vessels_in(text: str) -> tuple[str, ...]:
    """Pans, bowls and machines that words name, each once.

    >>> vessels_in("Heat oil in a wide pan. Whisk in a bowl, tip into the pan.")
    ('pan', 'bowl')
    """
    return tuple(dict.fromkeys(found[1].lower() for found in _vessels().finditer(text)))
