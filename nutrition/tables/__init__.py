"""The data. Every table says in its header where it came from; each row has a source."""

import functools
import re
from pathlib import Path

TABLES = Path(__file__).parent


def read_table(name: str) -> list[dict[str, str]]:
    """Rows of a tab-separated table under tables/ ("#" lines are its header)."""
    lines = (TABLES / name).read_text(encoding="utf-8").splitlines()
    rows = [line.split("\t") for line in lines if line.strip() and not line.startswith("#")]
    header, body = rows[0], rows[1:]
    return [dict(zip(header, row, strict=True)) for row in body]


@functools.cache
def words_of(name: str) -> dict[str, str]:
    """One list of vocabulary.tsv: word -> what it is read as (itself where nothing else), in the table's order."""
    return {row["word"]: row["means"] or row["word"] for row in read_table("vocabulary.tsv") if row["list"] == name}


@functools.cache
def pattern(name: str) -> re.Pattern[str]:
    """One regular expression of patterns.tsv. Raises KeyError for a name that is not there."""
    return _patterns()[name]


@functools.cache
def _patterns() -> dict[str, re.Pattern[str]]:
    return {row["name"]: re.compile(row["pattern"], 0 if row["case"] else re.I) for row in read_table("patterns.tsv")}
