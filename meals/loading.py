"""What is read from the database for tables, days and weeks: rows, and the core's values made of them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from django.db.models import Count, F, Q, QuerySet

from accounts.prepared import prepared
from bench.models import Edit
from nutrition.dish.dish import Dish
from nutrition.limits.eater import Eater
from nutrition.limits.plans import PLANS, Facts, targets_for
from nutrition.meals.portions import ONE, Portion, read_portion
from nutrition.meals.table import Seat as CoreSeat
from nutrition.meals.table import Served
from nutrition.notes import Problem
from people.regimen import Regimen, regimens
from recipes.models import RecipeLine

from .models import Helping, Occasion, OnTable, Seat

#: What no table shows of where its dishes came from.
UNSEEN = (
    *(f"recipe__{name}" for name in ("source_text", "tags", "folder")),
    *("attempt__notes", "release__body", "release__facts", "release__dish"),
)


@dataclass(frozen=True)
class Laid:
    """A dish of a table: its row, the dish as the core has it, and whether where it came from is gone."""

    row: OnTable
    served: Served
    is_gone: bool


@dataclass
class Loaded:
    """The rows of some tables, read at once. `people`: what the persons who sit at them are held to."""

    seats: dict[int, list[Seat]]
    rows: dict[int, list[OnTable]]
    helpings: dict[tuple[int, int], Helping]
    dishes: dict[int, Laid]
    people: dict[int, Regimen]


@prepared
def _seats_at(occasion_ids: list[int]) -> QuerySet[Seat]:
    return Seat.objects.filter(occasion__in=occasion_ids).select_related("person")


@prepared
def _dishes_on(occasion_ids: list[int]) -> QuerySet[OnTable]:
    rows = OnTable.objects.filter(occasion__in=occasion_ids).select_related("recipe", "attempt", "release__recall")
    return rows.defer(*UNSEEN)


@prepared
def _helpings_at(occasion_ids: list[int]) -> QuerySet[Helping]:
    return Helping.objects.filter(seat__occasion__in=occasion_ids)


@prepared
def _lines_of(recipe_ids: list[int]) -> QuerySet[RecipeLine]:
    return RecipeLine.objects.filter(recipe__in=recipe_ids)


@prepared
def _standing_edits(try_ids: list[int]) -> QuerySet[Edit]:
    """The cursor of each try says which of its edits stands."""
    edits = Edit.objects.filter(attempt__in=try_ids, number=F("attempt__cursor"))
    seen = ("dish", "attempt__bench__recipe__title")
    return edits.select_related("attempt__bench__recipe").only("attempt_id", *seen)


def load(occasions: list[Occasion], people: Any = None) -> Loaded:
    """Everything on these tables, in as many queries however many they are. `people`: only these (a queryset of persons) are
    looked at; everybody who sits there where none are named."""
    ids = [occasion.pk for occasion in occasions]
    seats, rows, helpings = _seats_at(ids), _dishes_on(ids), _helpings_at(ids)
    sources = _sources([row for row in rows if row.follows])
    dishes = {row.pk: Laid(row, _served(row, sources), _is_gone(row)) for row in rows if not row.is_away}
    sitting = {seat.person.pk: seat.person for seat in seats if seat.person}
    held_to = regimens(sitting.values() if people is None else people)
    return Loaded(
        _by_occasion(ids, seats),
        _by_occasion(ids, rows),
        {(each.seat_id, each.dish_id): each for each in helpings},
        dishes,
        {each.person.pk: each for each in held_to},
    )


def _by_occasion(ids: list[int], rows: Sequence[Any]) -> dict[int, list[Any]]:
    return {pk: [row for row in rows if row.occasion_id == pk] for pk in ids}


def _sources(rows: list[OnTable]) -> dict[tuple[str, int], Dish]:
    """The dishes as they stand now, of the rows that follow a try or a recipe."""
    attempts = [row.attempt_id for row in rows if row.attempt_id]
    standing = _standing_edits(attempts) if attempts else []
    found: dict[tuple[str, int], Dish] = {
        ("try", edit.attempt_id): replace(edit.dish, title=edit.attempt.bench.recipe.title) for edit in standing
    }
    recipes = {row.recipe.pk: row.recipe for row in rows if row.recipe and not row.attempt_id}
    lines: dict[int, list[RecipeLine]] = {pk: [] for pk in recipes}
    for line in _lines_of(recipes.keys()):
        lines[line.recipe_id].append(line)
    return found | {("recipe", pk): recipe.dish_of(lines[pk]) for pk, recipe in recipes.items()}


def _served(row: OnTable, sources: dict[tuple[str, int], Dish]) -> Served:
    """As its try or recipe stands; as it was kept where that is gone, or says no more how many it serves."""
    live = sources.get(("try", row.attempt_id or 0)) or sources.get(("recipe", row.recipe_id or 0))
    live = live if row.follows else None
    dish = live if live and live.serves and live.lines else row.kept
    is_plain = bool(row.words) and not row.recipe_id
    return Served(dish, row.role, row.cooked_serving_g, row.batches, row.pieces, is_plain)


def _is_gone(row: OnTable) -> bool:
    """Whether it was taken from the library, and the recipe is not there any more."""
    return not (row.words or row.recipe_id)


def core_seat(
    seat: Seat, regimen: Regimen | None, rows: Sequence[Laid], helpings: dict[tuple[int, int], Helping]
) -> CoreSeat:
    eater = regimen.eater if regimen else guest_of(seat)
    portions, without = [], {}
    for at, row in enumerate(rows):
        helping = helpings.get((seat.pk, row.row.pk))
        portions.append(portion_of(helping, row.served))
        if helping and helping.without:
            lines = row.served.dish.lines
            without[at] = frozenset(position for position, line in enumerate(lines) if line.key in helping.without)
    return CoreSeat(str(seat), eater, tuple(portions), without={at: each for at, each in without.items() if each})


def served_of(row: OnTable) -> Served:
    """One dish of a table as the core has it."""
    return _served(row, _sources([row] if row.follows else []))


def portion_of(helping: Helping | None, served: Served) -> Portion:
    """What was said; one serving where the words cannot be read any more (its weight is not known now)."""
    try:
        return read_portion(helping.words, served.measured) if helping else ONE
    except Problem:
        return ONE


def guest_of(seat: Seat) -> Eater:
    """A guest with limits only, as the core takes them."""
    plans = {key: settings for key, settings in seat.plans.items() if key in PLANS}
    facts = Facts(weight_kg=seat.weight_kg, energy_kcal=seat.energy_kcal, plans=tuple(plans))
    return Eater(facts, plans, tuple(target for key in plans for target in targets_for(key, facts, plans[key])))


def coming(queryset: Any) -> Any:
    """Tables for a list: with how many dishes and eaters."""
    return queryset.annotate(
        eaters=Count("seats", filter=Q(seats__is_away=False), distinct=True),
        dish_count=Count("dishes", filter=Q(dishes__is_away=False), distinct=True),
    )
