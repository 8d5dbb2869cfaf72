"""The core, tested on its own."""

import csv
from pathlib import Path


def rows_beside(module, name):
    """Rows of a tab-separated table beside a test module ("#" lines are its header); missing cells are empty."""
    lines = Path(module).with_name(name).read_text(encoding="utf-8").splitlines()
    table = csv.DictReader(
        (line for line in lines if not line.startswith("#")), delimiter="\t", quoting=csv.QUOTE_NONE, restval=""
    )
    return list(table)
