#!/usr/bin/env python3
"""Build nutrition/tables/signatures.tsv: what each food of the table is called, and which words of its description say which of its kind it is.

    python tools/build_signatures.py

Run it after tools/build_foods.py and after any change of vocabulary.tsv, patterns.tsv or signature_repairs.tsv, whose rows outrank the rules.
Nothing is downloaded; the result is the same bit for bit.

`heads`: what a line may call it. The last word of its first part, and of each "or" there; the next part where the first is only a class ("Fish, salmon"); the kind where cooks leave out the class ("Cheese, feta"); a cut of meat; a form that makes another food ("paste", "flakes").
`under`: the noun of its class, where it is called by more ("cheese" of feta, "tomato" of its paste).
`tells`: words that say which of its kind it is, so that none may stand alone for a line that does not say it. Neutral words ("raw", "white") tell only where another food of the family, alike but for them, holds enough more or less to shut a gate.
"""

import re
import sys
from collections import defaultdict
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from nutrition.food.names import normalized  # noqa: E402
from nutrition.food.table import RETIRED, foods  # noqa: E402
from nutrition.reading.deciding import tell_apart  # noqa: E402
from nutrition.reading.matching import head_of  # noqa: E402
from nutrition.tables import TABLES, pattern, read_table, words_of  # noqa: E402

#: What stands in a description in brackets explains it.
_BRACKETS = re.compile(r"\s*\([^()]*\)")
#: What stands behind these words is in it, or beside it.
_WITH = re.compile(r"(?<=\w) (?:made )?(?:with|from|on|in) ")
#: Of "fat added" the fat tells.
_ADDED = re.compile(r"(?<=\bfat) added\b")
#: ... and these words speak of what is beside it.
_BESIDE = re.compile(r"(?:with|without|from|no|as|in) ")
#: A cut or a form stands among so many parts.
_NEAR = 5


def _ends(part):
    """The last words of what a part names; more where it says "or", and of nuts what stands before them: cashews are cashew nuts."""
    each = [normalized(words).split() for words in re.split(r" or |/", _WITH.split(part)[0])]
    nuts = [
        words[-2] for words in each if words[-1:] == ["nut"] and words[:-1] and words[-2] not in words_of("no_kind")
    ]
    return [*nuts, *(head_of(words) for words in each if words)]


def heads_of(description):
    """What a line may call a food, as words are compared; and what it stands under.

    >>> heads_of("Fish, salmon, Atlantic, wild, raw"), heads_of("Oil, corn"), heads_of("Tomato products, canned, paste")
    ((['salmon', 'fish'], 'fish'), (['oil'], ''), (['product', 'paste'], 'product'))
    """
    parts = _BRACKETS.sub("", description).split(", ")
    first = normalized(parts[0]).split()
    silent = (
        words_of("neutral").keys() | words_of("harmless").keys() | words_of("state").keys() | words_of("no_kind").keys()
    )
    found = []
    is_by_kind = bool(first) and first[-1] in words_of("called_by_kind")
    if set(first) <= words_of("class").keys() or pattern("is_a_class").search(parts[0]) or _is_brand(parts[0]):
        named = parts[1:3] if pattern("is_a_class_of_classes").search(", ".join(parts[:2])) else parts[1:2]
        found += [word for part in named for word in _ends(part)]
    elif is_by_kind:
        kinds = (part for part in parts[1:2] if not _BESIDE.match(part))
        found += [word for part in kinds for word in _ends(part) if word not in silent]
    found += _ends(parts[0])
    forms = words_of("head_form").keys() | (set() if is_by_kind or first[-1:] == ["oil"] else words_of("cut").keys())
    found += [word for part in parts[1:_NEAR] if not _BESIDE.match(part) for word in _ends(part) if word in forms]
    none = words_of("no_head").keys()
    # Words that stand in two parts and are one: "Bread, crumbs".
    said = normalized(description).split()
    heads = [word for word in dict.fromkeys(found) if not word.isdigit() and word not in none and word in said] or said[
        :1
    ]
    own = [word for word in _ends(parts[0]) if word in said]
    return heads, own[-1] if own and not set(heads) <= set(own) else ""


def _is_brand(words):
    """Whether it is printed in capitals, as a maker's name is: "McDONALD'S"."""
    return sum(map(str.isupper, words)) > sum(map(str.islower, words))


def _telling(table):
    """Row -> its neutral words that tell: those in which a food alike in all others of its family differs from it."""
    neutral, colors = frozenset(words_of("neutral")), words_of("color").keys()
    quiet = words_of("tells_nothing").keys()
    alike = defaultdict(lambda: defaultdict(list))
    said = {}
    for row, description in enumerate(table.descriptions):
        if table.text["kinds"][row] == RETIRED:
            continue
        words = frozenset(normalized(pattern("neutral_phrases").sub("", description)).split())
        said[row] = (words & neutral) - quiet
        for head in heads_of(description)[0]:
            alike[head][words - neutral].append(row)
    found = defaultdict(set)
    for family in alike.values():
        for content, rows in family.items():
            # A color is all that tells a food from one that says more: red currants and dried zante currants.
            more = [row for other, theirs in family.items() if content < other for row in theirs]
            for one in rows:
                for word in said[one] & colors:
                    if any(word not in said[other] and tell_apart((one, other)) for other in more):
                        found[one].add(word)
            for at, one in enumerate(rows):
                for other in rows[at + 1 :]:
                    if tell_apart((one, other)):
                        found[one] |= said[one] - said[other]
                        found[other] |= said[other] - said[one]
    return found


def _either(description):
    """The names of a food that has two, of which a line says one: "Jam or jelly"."""
    each = [normalized(words).split() for words in description.partition(",")[0].split(" or ")]
    return (
        {word for words in each for word in words}
        if len(each) > 1 and all(len(words) == 1 for words in each)
        else set()
    )


def rows_of(table):
    repairs = {row["food"]: row for row in read_table("signature_repairs.tsv")}
    quiet = words_of("neutral").keys() | words_of("class").keys()
    telling = _telling(table)
    for row, description in enumerate(table.descriptions):
        if table.text["kinds"][row] == RETIRED:
            continue
        words = normalized(pattern("neutral_phrases").sub("", _ADDED.sub("", description))).split()
        either, said = _either(description), set(normalized(description).split())
        tells = [
            word
            for word in dict.fromkeys(words)
            if (word not in quiet or word in telling[row])
            and word not in either
            and not word.isdigit()
            and word in said
        ]
        repair = repairs.pop(description, {"heads": "", "tells": ""})
        heads, under = heads_of(description)
        if under in words_of("called_by_kind") and heads[0] != under:
            tells = [word for word in tells if word != under]  # feta is cheese
        yield description, repair["heads"] or " ".join(heads), under, repair["tells"] or " ".join(tells)
    assert not repairs, f"no food of the table: {sorted(repairs)}"


def main():
    table = foods().base
    rows = list(rows_of(table))
    with (TABLES / "signatures.tsv").open("w", encoding="utf-8", newline="") as handle:
        handle.write(
            "# What each food of the table is called, and which words of its description tell it from others. Made by\n"
        )
        handle.write(
            "# tools/build_signatures.py; do not edit: what its rules get wrong is put right in signature_repairs.tsv.\n"
        )
        handle.writelines("\t".join(cells) + "\n" for cells in (("food", "heads", "under", "tells"), *rows))
    print(f"{len(rows)} foods, {len({head for _, heads, *_ in rows for head in heads.split()})} nouns")


if __name__ == "__main__":
    main()
