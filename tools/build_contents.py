#!/usr/bin/env python3
"""Build nutrition/tables/contents.tsv: what every food of the table holds, from the rule of nutrition/food/made_of.py.

    python tools/build_contents.py            rows decided by rule are built anew, rows that were read stay as they are
    python tools/build_contents.py --check    say where a row that was read differs from the rule; write nothing

Run it after tools/build_foods.py, before tools/build_derived.py, and after any change of avoid_rules.tsv,
innocent_phrases.tsv, free_words.tsv, kinds_of_foods.tsv or the simple foods. The result is the same bit for bit.
"""

import sys
from dataclasses import replace
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from nutrition.food.contents import REVIEW, RULE, Contents, contents  # noqa: E402
from nutrition.food.made_of import made_of  # noqa: E402
from nutrition.food.table import Foods  # noqa: E402
from nutrition.food.tags import CHECK, CONTAINS, TAGS  # noqa: E402
from nutrition.tables import TABLES  # noqa: E402

PATH = TABLES / "contents.tsv"
HEAD = """\
# What each food of the table holds of the tags of nutrition/food/tags.py: `contains` surely, `check` by its label, the rest none.
# `kinds`: what it was taken for; `decided`: rule (nutrition/food/made_of.py), or review (the row was read; it stays as it is).
# Built by tools/build_contents.py from foods.npz; source: the food's description and category, common practice.
food\tcontains\tcheck\tkinds\tdecided
"""


def by_rule(description: str, category: str) -> Contents:
    made = made_of(description, category)
    return Contents(made.tags(CONTAINS), made.tags(CHECK), made.kinds, RULE)


def with_pork(row: Contents, ruled: Contents) -> Contents:
    """A row that was read, with what the rule says of pork: none where it was read to hold no meat and no gelatin."""
    held = {*row.contains, *row.check}
    pork = "pork" if held & {"meat", "gelatin"} else ""
    others = [tuple(tag for tag in side if tag != "pork") for side in (row.contains, row.check)]
    sides = [
        (*side, *([pork] if pork in said else []))
        for side, said in zip(others, (ruled.contains, ruled.check), strict=True)
    ]
    contains, check = (tuple(tag for tag in TAGS if tag in side) for side in sides)
    return replace(row, contains=contains, check=check)


def main():
    table = Foods.load(TABLES / "foods.npz")
    read = {food: row for food, row in contents().items() if row.decided == REVIEW} if PATH.exists() else {}
    rows, differ = [], 0
    for food_id, description, category in zip(table.ids, table.descriptions, table.categories, strict=True):
        ruled = by_rule(description, category)
        row = with_pork(read[food_id], ruled) if food_id in read else ruled
        if (row.contains, row.check) != (ruled.contains, ruled.check):
            differ += 1
            print(f"{description}: read {row.contains} {row.check}, by rule {ruled.contains} {ruled.check}")
        cells = (food_id, " ".join(row.contains), " ".join(row.check), "; ".join(ruled.kinds), row.decided)
        rows.append("\t".join(cells))
    if "--check" not in sys.argv:
        PATH.write_text(HEAD + "\n".join(rows) + "\n", encoding="utf-8")
    print(f"{len(rows)} foods, {len(read)} read, {differ} of them otherwise than by rule")


if __name__ == "__main__":
    main()
