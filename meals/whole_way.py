"""A way over a whole table: as it is kept, without anybody's name, and as it is told."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from nutrition.dish.codec import to_data
from nutrition.food.nutrients import BY_KEY
from nutrition.food.units import kitchen_number
from nutrition.meals.portions import Portion
from nutrition.meals.table import Place
from nutrition.meals.whole import WholeWay
from nutrition.sheet.verdicts import SHUT, UNSURE

from .models import Occasion, Seat
from .portions import portions_of
from .sight import Column, TableSight
from .words import servings_words


def _moves(sight: TableSight, column: Column, portions: Sequence[Portion]) -> list[tuple[int, str, float]]:
    """(number of a dish, its new portion in words, the servings it was), of those that are not as they were."""
    was = {row.row.pk: old.likely for row, old in zip(sight.rows, column.place.seat.portions, strict=True)}
    return [(pk, words, was[pk]) for pk, words in portions_of(sight, column, portions).items()]


def _doubts(place: Place) -> list[str]:
    """What a label, or an amount nobody knows, decides for somebody."""
    kept = [each.label.lower() for each in place.kept if each.state == UNSURE]
    kept += [BY_KEY[each.gate.nutrient].label.lower() for each in place.verdicts if each.state == UNSURE]
    of_dishes = [f"{place.dishes[each.dish].title}: {each.why}" for each in place.crossings if each.state == UNSURE]
    return kept or of_dishes


def kept_whole(sight: TableSight, found: WholeWay) -> dict[str, Any]:
    """A way over the whole table as plain values. Nobody's name is in them: people are numbers of their seats."""
    return {
        "version": sight.occasion.version,
        "dishes": [
            {
                "dish": sight.rows[at].row.pk,
                "title": sight.rows[at].served.title,
                "changes": [(str(change.text), str(change.why or "")) for change in way.changes],
                "to": to_data(found.table.dishes[at].dish),
            }
            for at, way in found.changed.items()
        ],
        "places": [
            {
                "seat": column.seat.pk,
                "states": (column.place.state, place.state),
                "portions": _moves(sight, column, found.portions.get(at, column.place.seat.portions)),
                "doubts": _doubts(place),
                "misses": [(miss.gate.nutrient, miss.side, miss.by) for miss in found.left.get(at, ())],
                "is_left": at in found.left,
            }
            for at, (column, place) in enumerate(zip(sight.columns, found.table.places, strict=True))
        ],
    }


@dataclass(frozen=True)
class ToldPlace:
    """Somebody at a table that would be laid otherwise: `states` before and after; (dish, what they would get, how many servings it was);
    what is still missed, and what is in doubt."""

    seat: Seat
    states: tuple[str, str]
    portions: list[tuple[str, str, str]]
    misses: list[tuple[str, str, float]]
    is_left: bool
    doubts: list[str]


@dataclass(frozen=True)
class ToldWhole:
    """A way over the whole table for the page. `is_stale`: the table is another one by now."""

    dishes: list[Mapping[str, Any]]
    places: list[ToldPlace]
    is_stale: bool

    @property
    def shut(self) -> tuple[int, int]:
        """How many are past a limit, or have what they cannot: (now, then)."""
        now, then = (sum(place.states[at] == SHUT for place in self.places) for at in (0, 1))
        return now, then

    @property
    def in_doubt(self) -> list[ToldPlace]:
        """For whom a label, or what nobody knows, decides then."""
        return [place for place in self.places if place.doubts]

    @property
    def moved(self) -> list[ToldPlace]:
        return [place for place in self.places if place.portions]

    @property
    def left(self) -> list[ToldPlace]:
        return [place for place in self.places if place.is_left]


def told_whole(occasion: Occasion, kept: Mapping[str, Any]) -> ToldWhole:
    """What was kept of a way over this table, with names. Two queries."""
    seats = {seat.pk: seat for seat in occasion.seats.select_related("person")}
    titles = {row.pk: row.kept.title for row in occasion.dishes.all()}
    places = [
        ToldPlace(
            seats[each["seat"]],
            tuple(each["states"]),
            [
                (titles[pk], servings_words(words), kitchen_number(was))
                for pk, words, was in each["portions"]
                if pk in titles
            ],
            [tuple(miss) for miss in each["misses"]],
            each["is_left"],
            each["doubts"],
        )
        for each in kept["places"]
        if each["seat"] in seats
    ]
    return ToldWhole(kept["dishes"], places, kept["version"] != occasion.version)
