"""The data. Every table says in its header where it came from; each row has a source."""

import functools
import re
from collections.abc import Callable, Collection, Iterable
from pathlib import Path
from typing import TypeVar

TABLES = Path(__file__).parent
Value = TypeVar("Value")


class BrokenTable(ValueError):
    """A cell that cannot be what its column is: which table, line and column, what was read, what was expected."""


class Row(dict[str, str]):
    """One row as text, by column; each cell asked for as what it is, so that a broken one is refused by line and column.

    >>> row = Row({"words": "oats|rye", "grams": "40", "tags": "gluten"}, "breads.tsv, line 7")
    >>> row.number("grams"), row.pattern("words").search("rye bread")[0], row.words("tags")
    (40.0, 'rye', frozenset({'gluten'}))
    >>> Row({"grams": "4o"}, "breads.tsv, line 8").number("grams")
    Traceback (most recent call last):
    nutrition.tables.BrokenTable: breads.tsv, line 8, column “grams”: read “4o”, expected a number
    """

    def __init__(self, cells: Iterable[tuple[str, str]] | dict[str, str], where: str = "a row") -> None:
        super().__init__(cells)
        self.where = where

    def as_(self, column: str, read: Callable[[str], Value], expected: str) -> Value:
        """A cell by any reader that raises for what it cannot read. Raises BrokenTable, KeyError without such a column."""
        cell = self[column]
        try:
            return read(cell)
        except (ValueError, KeyError, IndexError, re.error) as error:
            raise BrokenTable(f"{self.where}, column “{column}”: read “{cell}”, expected {expected}") from error

    def number(self, column: str, empty: float | None = None) -> float:
        """A number. `empty`: what an empty cell stands for; without it an empty cell is broken."""
        if empty is not None and not self[column]:
            return empty
        return self.as_(column, float, "a number")

    def number_or_none(self, column: str) -> float | None:
        """A number; None where nothing is known."""
        return self.number(column) if self[column] else None

    def whole(self, column: str, empty: int | None = None) -> int:
        """A whole number. `empty`: what an empty cell stands for."""
        if empty is not None and not self[column]:
            return empty
        return self.as_(column, int, "a whole number")

    def numbers(self, column: str) -> tuple[float, ...]:
        """Numbers beside one another."""
        return self.as_(column, lambda cell: tuple(map(float, cell.split())), "numbers")

    def span(self, column: str) -> tuple[float, float, float]:
        """ "1500..2500..3300": least, likely and most; a figure alone is all three, and nothing or “?” is NaN three times."""

        def read(cell: str) -> tuple[float, float, float]:
            parts = [float("nan") if part in ("", "?") else float(part) for part in cell.split("..")]
            least, likely, most = parts * 3 if len(parts) == 1 else parts
            if least > likely or likely > most:
                raise ValueError(cell)
            return least, likely, most

        return self.as_(column, read, "a figure, or least..likely..most")

    def amounts(self, column: str) -> dict[str, float]:
        """ "cup=227;tbsp=14": each name with its number."""

        def read(cell: str) -> dict[str, float]:
            pairs = (part.split("=") for part in cell.split(";"))
            return {name.strip(): float(value) for name, value in pairs}

        return self.as_(column, read, "name=number, with “;” between")

    def pattern(self, column: str, flags: int = 0, around: str = "{}") -> re.Pattern[str]:
        """A regular expression. `around`: what it stands in ("(?<![a-z])(?:{})")."""
        return self.as_(
            column, lambda cell: re.compile(around.replace("{}", cell), flags), "words as a regular expression"
        )

    def pattern_or_none(self, column: str, flags: int = 0, around: str = "{}") -> re.Pattern[str] | None:
        """A regular expression; None where the cell is empty."""
        return self.pattern(column, flags, around) if self[column] else None

    def listed(self, column: str, among: Collection[str] = (), between: str | None = None) -> tuple[str, ...]:
        """Words beside one another, in their order. `among`: all that may stand there."""
        found = tuple(self[column].split(between)) if self[column] else ()
        for word in found:
            if among and word not in among:
                raise BrokenTable(f"{self.where}, column “{column}”: read “{word}”, expected some of {_some(among)}")
        return found

    def words(self, column: str, among: Collection[str] = ()) -> frozenset[str]:
        """Words beside one another, each once."""
        return frozenset(self.listed(column, among))

    def one_of(self, column: str, among: Collection[str]) -> str:
        """A cell that is one of a list."""
        if self[column] not in among:
            raise BrokenTable(f"{self.where}, column “{column}”: read “{self[column]}”, expected one of {_some(among)}")
        return self[column]

    def yes(self, column: str) -> bool:
        """Whether "yes" stands there; "no" and an empty cell are no."""
        return self.one_of(column, ("yes", "no", "")) == "yes"

    def text(self, column: str) -> str:
        """Words that must not be missing, such as a source."""
        return self.as_(column, _something, "something written")


def _something(cell: str) -> str:
    if not cell.strip():
        raise ValueError(cell)
    return cell


def _some(among: Collection[str]) -> str:
    return ", ".join(f"“{each}”" for each in among)


def read_table(name: str) -> list[Row]:
    """Rows of a tab-separated table under tables/ ("#" lines are its header). Raises BrokenTable for a row of too many or
    too few cells."""
    lines = (TABLES / name).read_text(encoding="utf-8").splitlines()
    rows = [(at, line.split("\t")) for at, line in enumerate(lines, 1) if line.strip() and not line.startswith("#")]
    (_, header), *body = rows
    for at, cells in body:
        if len(cells) != len(header):
            raise BrokenTable(
                f"{name}, line {at}: read {len(cells)} cells, expected {len(header)}: {', '.join(header)}"
            )
    return [Row(zip(header, cells, strict=True), f"{name}, line {at}") for at, cells in body]


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
    return {row["name"]: row.pattern("pattern", 0 if row.yes("case") else re.I) for row in read_table("patterns.tsv")}
