"""What somebody's medicines change at the table. tables/medicines.tsv; a reminder, never a dose."""

import functools
import re
from dataclasses import dataclass

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
def _rows() -> tuple[tuple[re.Pattern[str], dict[str, str]], ...]:
    return tuple((re.compile(rf"\b(?:{row['words']})\b"), row) for row in read_table("medicines.tsv"))


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
        named = [(match.group(), row) for words, row in _rows() if (match := words.search(part))]
        found += [Medicine(word, row["kind"], row["text"], tuple(row["circumstances"].split())) for word, row in named]
        unknown = " ".join(_BESIDE.sub(" ", part).split()).strip(" .:-")
        if not named and unknown:
            found.append(Medicine(unknown))
    return tuple({each.words: each for each in found}.values())
