"""Portions that fit: of one eater, or of everybody at a table; whose meal no portions mend, with the dish that carries most of it."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from nutrition.meals.fitting import Miss, fitting
from nutrition.meals.portions import Portion
from nutrition.sheet.verdicts import SHUT

from .models import Seat
from .sight import Column, Row, TableSight


@dataclass(frozen=True)
class Left:
    """Somebody whom no portions of these dishes keep within every limit, and what the nearest miss."""

    seat: Seat
    misses: tuple[Miss, ...]


@dataclass(frozen=True)
class ForAll:
    """`portions`: seat -> number of a dish -> portion in words, of those whose meal other portions open. `dish`: what carries most of
    what is too much for those who are left."""

    portions: dict[Seat, dict[int, str]]
    left: list[Left]
    dish: Row | None

    @property
    def changed(self) -> str:
        """The names of those whose portions changed."""
        return " and ".join(", ".join(map(str, self.portions)).rsplit(", ", 1))


def portions_of(sight: TableSight, column: Column, found: Sequence[Portion]) -> dict[int, str]:
    """Number of a dish -> portion in words, of those that are not as they were."""
    now = column.place.seat.portions
    return {
        row.row.pk: f"{new.likely:g}" if new else "none"
        for row, new, old in zip(sight.rows, found, now, strict=True)
        if new.likely != old.likely
    }


def for_all(sight: TableSight) -> ForAll:
    """The nearest portions for everybody whose meal is shut by its numbers."""
    portions, left, blamed = {}, [], Counter[int]()
    for column in sight.columns:
        if not any(verdict.state == SHUT for verdict in column.place.verdicts):
            continue
        found = fitting(column.place)
        if found and not found.misses:
            portions[column.seat] = portions_of(sight, column, found.portions)
        else:
            left.append(Left(column.seat, found.misses if found else ()))
            blamed.update({at: len(nutrients) for at, nutrients in column.blamed.items()})
    most = blamed.most_common(1)
    return ForAll(portions, left, sight.rows[most[0][0]] if most else None)
