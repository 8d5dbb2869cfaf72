"""What a week asks of the shop and of the kitchen door: one list over all its dishes, a sheet for the wall, a calendar file."""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from icalendar import Calendar, Event

from nutrition.giving.ceilings import Ceiling, ceilings
from nutrition.giving.shopping import Wanted, shopping
from nutrition.meals.together import together

from .models import Occasion
from .sight import tables_of

#: How long a meal lasts in a calendar.
A_MEAL = timedelta(hours=1)


@dataclass(frozen=True)
class ToRead:
    """A label to read for a dish: the line, and the most it may say for everybody's meal to be within its limits."""

    dish: str
    line: str
    ceiling: Ceiling


def occasions_of(week):
    """The tables a person sits at in a week, each once."""
    found = {each.pk: each for day in week.days for sitting in day.sittings.values() for each in sitting.occasions}
    return list(found.values())


def wanted_of(sight):
    """What a table asks of the shop: each dish as often as it is cooked, plain foods as much as is eaten, nothing for what is left
    over from another table. The most a label may say is reckoned with everything else that stands there."""
    found = []
    for at, row in enumerate(sight.rows):
        if row.row.left_over_of_id:
            continue
        served = row.served
        times = sight.table.eaten(at).likely if served.is_plain else served.batches
        if times > 0:
            found.append(Wanted(served.title, served.dish.lines, min(times, 100.0), ceilings_of(sight, at)))
    return found


def ceilings_of(sight, at):
    """For the labels of one dish, under the limits of all who eat it."""
    eaters = [column for column in sight.columns if column.place.seat.portions[at]]
    if not any(column.place.verdicts for column in eaters):
        return []
    dish = sight.rows[at].served.dish
    return ceilings(dish.lines, dish.servings, together(sight.table, at).gates(sight.occasion.meal))


def shopping_of(week):
    """One list, each food once, by aisle, with the lowest figure any of its dishes allows; and for how many tables it is."""
    sights = tables_of(occasions_of(week))
    return shopping([each for sight in sights for each in wanted_of(sight)]), len(sights)


def labels_to_read(week):
    """dish title -> what to read on the labels of it; over all tables of a week, the lowest figure of each."""
    found = {}
    for sight in tables_of(occasions_of(week)):
        for wanted in wanted_of(sight):
            for each in wanted.ceilings:
                key = wanted.title, each.line, each.nutrient
                if key not in found or each.room < found[key].ceiling.room:
                    found[key] = ToRead(wanted.title, wanted.lines[each.line].text, each)
    by_dish = {}
    for each in found.values():
        by_dish.setdefault(each.dish, []).append(each)
    return by_dish


def calendar_of(week, address_of):
    """The week as an iCalendar file (RFC 5545), a meal an event: dishes and portions, no diagnosis and no limit. `address_of`: an
    occasion's full address."""
    calendar = Calendar()
    calendar.add("prodid", "-//Open Gate//meals//EN")
    calendar.add("version", "2.0")
    for day in week.days:
        for sitting in day.sittings.values():
            if sitting.eaten:
                calendar.add_component(_event(sitting, address_of))
    return calendar.to_ical()


def _event(sitting, address_of):
    occasion: Occasion = sitting.occasions[0]
    start = datetime.combine(occasion.on, occasion.serve_at)
    event = Event()
    event.add("uid", f"occasion-{occasion.pk}@open-gate")
    # Times without a zone: half past six is half past six wherever the kitchen is.
    event.add("dtstart", start)
    event.add("dtend", start + A_MEAL)
    event.add("dtstamp", occasion.touched_at.astimezone(UTC))
    event.add("summary", f"{occasion}: {', '.join(each.row.served.title for each in sitting.eaten)}")
    event.add("description", "\n".join(f"{each.row.served.title}: {each.words}" for each in sitting.eaten))
    event.add("url", address_of(occasion))
    return event
