"""Lines of other kitchens in the words the rest of the reading goes by: "2 EL Öl" is read as "2 tbsp oil", "250 g bhindi" as okra.

tables/kitchen_words.tsv.
"""

import functools
import re
from dataclasses import dataclass

from nutrition.tables import read_table


@dataclass(frozen=True, slots=True)
class _Words:
    """A row of the table. `needs_company`: an English word too, of this language only beside another of it."""

    language: str
    means: str
    needs_company: bool


#: What a pattern may lack says nothing of how much it names.
_MAY_LACK = re.compile(r"\(\?:[^()]*(?:\([^()]*\)[^()]*)*\)\?")


@functools.cache
def _known() -> tuple[re.Pattern[str], tuple[_Words, ...]]:
    """All words at once, the longest first; and what the group that was found stands for. Capitals count where the table has nothing else."""
    rows = sorted(read_table("kitchen_words.tsv"), key=lambda row: -len(_MAY_LACK.sub("", row["words"].split("|")[0])))
    each = [row.pattern("words", around="({})" if row["words"].isupper() else "((?i:{}))").pattern for row in rows]
    known = tuple(
        _Words(row.text("language"), "" if row["means"] == "-" else row.text("means"), row.yes("needs")) for row in rows
    )
    return re.compile(rf"(?<!\w)(?:{'|'.join(each)})(?:(?<=')|(?!\w))"), known


@functools.lru_cache(maxsize=8_192)
def in_our_words(text: str) -> str:
    """A line in the words of this house's tables.

    >>> in_our_words("2 EL Öl"), in_our_words("125 g beurre doux"), in_our_words("1 clove of garlic, for sale")
    ('2 tbsp oil', '125 g unsalted butter', '1 clove of garlic, for sale')
    """
    pattern, known = _known()
    text = text.replace("’", "'")
    found = [(match, known[match.lastindex - 1]) for match in pattern.finditer(text) if match.lastindex]
    seen = {words.language for _, words in found if not words.needs_company}
    for match, words in reversed(found):
        if not words.needs_company or words.language in seen:
            text = text[: match.start()] + words.means + text[match.end() :]
    return text
