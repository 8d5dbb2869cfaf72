#!/usr/bin/env python3
"""Write docs/common-foods.tsv: every food that cooks have a name for, its signature, ten main values, source and confidence.

python tools/report_common_foods.py
"""

import csv
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from nutrition.food.nutrients import CORE_KEYS, INDEX  # noqa: E402
from nutrition.food.signatures import signature  # noqa: E402
from nutrition.food.table import foods  # noqa: E402
from nutrition.tables import read_table  # noqa: E402


def rows():
    """One row a food, in the order of the table of names."""
    table, seen = foods(), set()
    for entry in read_table("cooks_names.tsv"):
        food = table.by_description(entry["food"])
        if food.id not in seen:
            seen.add(food.id)
            values = [table.per_100g[food.row, INDEX[key]] for key in CORE_KEYS]
            name = entry["names"].split("|")[0]
            says = signature(food.row)
            words = " ".join(says.heads), " ".join(sorted(says.tells))
            yield [name, food.description, *words, *(f"{value:.4g}" for value in values), food.source, food.confidence]


def main():
    target = ROOT / "docs" / "common-foods.tsv"
    with target.open("w", encoding="utf-8", newline="") as handle:
        handle.write("# Per 100 g. Made by tools/report_common_foods.py; do not edit.\n")
        writer = csv.writer(handle, delimiter="\t", lineterminator="\n")
        writer.writerow(["name", "food", "called", "told_apart_by", *CORE_KEYS, "source", "confidence"])
        writer.writerows(rows())
    print(f"{target.relative_to(ROOT)}: {sum(1 for _ in rows())} foods")


if __name__ == "__main__":
    main()
