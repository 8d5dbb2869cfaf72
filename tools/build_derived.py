#!/usr/bin/env python3
"""Build nutrition/tables/derived.npz and docs/fodmap-cut-offs.tsv from foods.npz and the tables of rules.

    python tools/build_derived.py

Run it after tools/build_foods.py and tools/build_contents.py, and after any change of fodmap.tsv or lactose.tsv. Nothing is downloaded; the result is the same bit for bit.
"""

import sys
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from nutrition.food.derived import FODMAP_KINDS, cut_off_g, derive  # noqa: E402
from nutrition.food.nutrients import DERIVED_KEYS  # noqa: E402
from nutrition.food.table import Foods  # noqa: E402
from nutrition.tables import TABLES, read_table  # noqa: E402


def report_cut_offs(path):
    kinds = list(FODMAP_KINDS.values())
    with path.open("w", encoding="utf-8") as out:
        out.write(
            "# Grams of a food that reach the cut-off of one sitting, by kind. Made by tools/build_derived.py; do not edit.\n"
        )
        out.write("\t".join(["food", *(k.replace("_g", "_cut_off_g") for k in kinds), "confidence", "source"]) + "\n")
        for row in read_table("fodmap.tsv"):
            limits = (cut_off_g(row, kind) for kind in kinds)
            cells = ["" if limit == float("inf") else f"{limit:.3g}" for limit in limits]
            out.write("\t".join([row["name"], *cells, row["confidence"], row["source"]]) + "\n")


def main():
    table = Foods.load(TABLES / "foods.npz")
    columns = derive(table)
    np.savez_compressed(
        TABLES / "derived.npz",
        keys=np.array(DERIVED_KEYS),
        least=columns.least,
        amount=columns.amount,
        most=columns.most,
    )
    report_cut_offs(ROOT / "docs" / "fodmap-cut-offs.tsv")
    for column, key in enumerate(DERIVED_KEYS):
        known = ~np.isnan(columns.amount[:, column])
        print(f"{key:26} known for {known.mean():.0%} of {len(table)} foods")


if __name__ == "__main__":
    main()
