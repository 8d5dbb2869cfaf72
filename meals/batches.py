"""What was cooked once for several tables: how much is left, for whom, and until when."""

from datetime import timedelta

from django.db.models import Q, QuerySet

from accounts.prepared import prepared
from nutrition.meals.leftovers import Batch, Use, batch_of
from people.models import Person

from .loading import Loaded, load, portion_of
from .models import Occasion, OnTable, Seat

#: Nobody eats on from a batch older than this, in days, frozen or not.
LOOK_BACK = 30


@prepared
def _chained(dish_ids: list[int]) -> QuerySet[OnTable]:
    """What of these dishes was left over for another table, and what it became there."""
    links = Q(left_overs__isnull=False) | Q(left_over_of__isnull=False)
    family = OnTable.objects.there().filter(Q(pk__in=dish_ids) | Q(left_over_of__in=dish_ids))
    return family.filter(links).only("occasion_id").distinct()


def batches_of(rows: list[OnTable], region: str = "us") -> list[tuple[OnTable, Batch]]:
    """What of these dishes was cooked once for several tables, wherever those stand."""
    sources = {row.left_over_of_id or row.pk for row in rows}
    chained = _chained(sources)
    if not chained:
        return []
    occasions = list(Occasion.objects.filter(pk__in=[row.occasion_id for row in chained]))
    loaded = load(occasions, Person.objects.none())
    on = {occasion.pk: occasion.on for occasion in occasions}
    eaten = {row.pk: _eaten(row, loaded) for rows_ in loaded.rows.values() for row in rows_ if not row.is_away}
    found = []
    for source in (
        loaded.dishes[row.pk]
        for rows_ in loaded.rows.values()
        for row in rows_
        if row.pk in sources and not row.is_away
    ):
        family = [row.row for row in loaded.dishes.values() if source.row.pk in (row.row.pk, row.row.left_over_of_id)]
        if len(family) > 1:
            uses = sorted((Use(on[row.occasion_id], eaten[row.pk]) for row in family), key=lambda use: use.on)
            made = source.served.dish.servings * source.row.batches
            found.append((source.row, batch_of(source.served.dish, on[source.row.occasion_id], made, uses, region)))
    return found


def _eaten(row: OnTable, loaded: Loaded) -> float:
    """Servings of a dish that everybody at its table eats."""
    seats = [seat for seat in loaded.seats[row.occasion_id] if not seat.is_away]
    dish = loaded.dishes[row.pk]
    return sum(portion_of(loaded.helpings.get((seat.pk, row.pk)), dish.served).likely for seat in seats)


def left_over_for(occasion: Occasion) -> list[tuple[OnTable, float, Batch]]:
    """(dish of an earlier table of these people, servings left, its batch) that may be eaten on here."""
    people = Seat.objects.there().filter(occasion=occasion, person__isnull=False).values("person")
    since = occasion.on - timedelta(days=LOOK_BACK)
    earlier = (
        Occasion.objects.filter(seats__person__in=people, on__range=(since, occasion.on))
        .exclude(pk=occasion.pk)
        .distinct()
    )
    occasions = [each for each in earlier if (each.on, each.serve_at) <= (occasion.on, occasion.serve_at)]
    loaded = load(occasions, Person.objects.none())
    rows = [row for own in loaded.rows.values() for row in own if not (row.is_away or row.words or row.left_over_of_id)]
    chained = {row.pk: batch for row, batch in batches_of(rows)}
    on = {each.pk: each.on for each in occasions}
    found = []
    for row in rows:
        served = loaded.dishes[row.pk].served
        batch = chained.get(row.pk)
        if batch is None:
            uses = [Use(on[row.occasion_id], _eaten(row, loaded))]
            batch = batch_of(served.dish, on[row.occasion_id], served.dish.servings * row.batches, uses)
        if batch.rest > 0.05:
            found.append((row, batch.rest, batch))
    return found
