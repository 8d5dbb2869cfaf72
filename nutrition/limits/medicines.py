"""What somebody's medicines change at the table. tables/medicines.tsv; a reminder, never a dose."""

import functools
import re
from dataclasses import dataclass, replace

from nutrition.limits.circumstances import CIRCUMSTANCES
from nutrition.tables import read_table

_BETWEEN = re.compile(r"[,;\n/+()]|\band\b|\bwith\b")
#: What stands beside the name on a list: strength, form, times a day.
_BESIDE = re.compile(
    r"\b(?:\d[\d.,]*\s*(?:mg|g|mcg|µg|ug|micrograms?|ml|units?|iu|tablets?|%)?|tablets?|capsules?|daily|once|twice|three times|times"
    r"|a day|an? |per day|morning|evening|night(?:ly)?|bd|od|tds|qd|bid|prn|as needed|mr|xl|sr|none|no medicines?|nothing|mg|low dose)\b"
)


@dataclass(frozen=True, slots=True)
class Medicine:
    """One that was read: the words of the list, what kind it is, what changes, and which circumstances follow.

    `kind` empty: it is not in the table, and nothing is said about it.
    """

    words: str
    kind: str = ""
    text: str = ""
    circumstances: tuple[str, ...] = ()


@functools.cache
def _kinds() -> tuple[tuple[re.Pattern[str], Medicine], ...]:
    return tuple(
        (
            row.pattern("words", around=r"\b(?:{})\b"),
            Medicine("", row.text("kind"), row.text("text"), row.listed("circumstances", CIRCUMSTANCES)),
        )
        for row in read_table("medicines.tsv")
    )


@functools.lru_cache(maxsize=1024)
def medicines_in(text: str) -> tuple[Medicine, ...]:
    """Every medicine of a list as somebody typed it, known or not, in its order.

    >>> [(each.words, each.kind) for each in medicines_in("Lisinopril 10 mg, warfarin; Novaxil 5 mg daily")]
    [('lisinopril', 'ACE inhibitor'), ('warfarin', 'vitamin K antagonist'), ('novaxil', '')]
    >>> medicines_in("none")
    ()
    """
    found = []
    for part in _BETWEEN.split(text.lower()):
        named = [replace(kind, words=match.group()) for words, kind in _kinds() if (match := words.search(part))]
        found += named
        unknown = " ".join(_BESIDE.sub(" ", part).split()).strip(" .:-")
        if not named and unknown:
            found.append(Medicine(unknown))
    return tuple({each.words: each for each in found}.values())
