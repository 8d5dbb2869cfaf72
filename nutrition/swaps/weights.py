"""What a cook feels of a change, in numbers: tables/felt.tsv, and docs/decisions/0007-felt-change.md for why."""

import functools

from nutrition.tables import read_table


@functools.cache
def weights() -> dict[str, tuple[tuple[float, ...], str]]:
    """Name -> (its numbers, what they stand for), in the order of the table."""
    return {row["name"]: (row.numbers("value"), row.text("stands_for")) for row in read_table("felt.tsv")}


def slopes(name: str) -> tuple[float, ...]:
    """The numbers of a weight that has several."""
    return weights()[name][0]


def weight(name: str) -> float:
    """The number of a weight."""
    (number,) = weights()[name][0]
    return number
