"""What the steps never cook: eggs, fish, shellfish and meat that go in raw and meet no heat.

Read from the words of the steps: heat that comes with or after the last time a food is put in cooks it, "off the heat"
is no heat. Without steps nothing is said. Words: tables/patterns.tsv; common practice.
"""

import re
from collections.abc import Sequence

from nutrition.dish.line import Line
from nutrition.food.names import cook_name, normalized
from nutrition.food.table import foods
from nutrition.tables import pattern

#: What is asked about, and the foods of the table that are it as bought.
FAMILIES = ("egg", "fish", "meat")
_SENTENCES = re.compile(r"[.;:!]\s+|,?\s+(?:then|and then|until)\s+|\n")


def uncooked(family: str, lines: Sequence[Line], steps: Sequence[str]) -> tuple[int, ...]:
    """Positions of the raw foods of a family that no step heats. Raises KeyError for a family nobody knows.

    >>> from nutrition.reading.recipe import read_line
    >>> pot = [read_line("3 eggs"), read_line("100 g sugar")]
    >>> uncooked("egg", pot, ["Whisk the yolks with the sugar.", "Fold in the whites and chill."])
    (0,)
    >>> uncooked("egg", pot, ["Whisk the eggs with the sugar.", "Bake for half an hour."])
    ()
    """
    if not steps:
        return ()
    raw = pattern(f"raw_{family}")
    sentences = [part.lower() for step in steps for part in _SENTENCES.split(step[:2_000]) if part.strip()]
    heated = [bool(pattern("heats").search(pattern("no_heat").sub(" ", sentence))) for sentence in sentences]
    return tuple(
        at
        for at, line in enumerate(lines)
        if line.food_id
        and raw.search(f"{foods().by_id(line.food_id).category}: {foods().by_id(line.food_id).description}")
        and not any(heated[_last_put_in(line, family, sentences) :])
    )


def _last_put_in(line: Line, family: str, sentences: Sequence[str]) -> int:
    """The sentence that puts it in for the last time, else the one that names it first, else the first."""
    names = {*normalized(cook_name(line.food_id or "")).split(), *normalized(line.text).split()} & set(
        normalized(" ".join(sentences)).split()
    )
    own = pattern(f"named_{family}")
    named = [at for at, words in enumerate(sentences) if own.search(words) or names & set(normalized(words).split())]
    put_in = [at for at in named if pattern("puts_in").search(sentences[at])]
    return put_in[-1] if put_in else named[0] if named else 0
