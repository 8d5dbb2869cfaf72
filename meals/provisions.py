"""What a week asks of the shop and of the kitchen door: one list over all its dishes, a sheet for the wall, a calendar file."""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from math import inf

from django.db.models import Q
from icalendar import Calendar, Event

from nutrition.giving.ceilings import Ceiling, ceilings
from nutrition.giving.shopping import Wanted, shopping

from .models import AtHome, Occasion
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


def ceilings_of(week):
    """Row of a dish -> what the labels of it may say at most, for the days of the week's person: with everything else they eat that
    day, and that meal where a limit is the meal's."""
    found = {}
    for day in week.days:
        for sitting in day.sittings.values():
            for each in sitting.eaten:
                dish = each.row.served.dish
                gates = day.day.gates_beside(sitting.meal, each.crossing.dish)
                found[each.row.row.pk] = ceilings(dish.lines, dish.servings, gates) if gates else []
    return found


def wanted_of(sight, by_row):
    """What a table asks of the shop: each dish as often as it is cooked, plain foods as much as is eaten, nothing for what is left
    over from another table."""
    found = []
    for at, row in enumerate(sight.rows):
        if row.row.left_over_of_id:
            continue
        served = row.served
        times = sight.table.eaten(at).likely if served.is_plain else served.batches
        if times > 0:
            found.append(Wanted(served.title, served.dish.lines, min(times, 100.0), by_row.get(row.row.pk, [])))
    return found


def shopping_of(week, at_home):
    """One list over all tables of a week, each food once, by aisle, with the lowest figure any of its dishes allows, less what is at
    home (food id -> grams); and for how many tables it is."""
    sights, by_row = tables_of(occasions_of(week)), ceilings_of(week)
    return shopping([each for sight in sights for each in wanted_of(sight, by_row)], at_home), len(sights)


def at_home_of(person, monday):
    """Food id -> grams that are at home in a week; infinite for what is always there."""
    rows = AtHome.with_(person).filter(Q(monday=None) | Q(monday=monday))
    return {row.food_id: inf if row.grams is None else row.grams for row in rows}


def labels_to_read(week):
    """dish title -> what to read on the labels of it, over the whole week the lowest figure of each."""
    found = {}
    by_row = ceilings_of(week)
    rows = {
        each.row.row.pk: each.row for day in week.days for sitting in day.sittings.values() for each in sitting.eaten
    }
    for pk, row in rows.items():
        for each in by_row[pk]:
            key = row.served.title, each.line, each.nutrient
            if key not in found or each.room < found[key].ceiling.room:
                found[key] = ToRead(row.served.title, row.served.dish.lines[each.line].text, each)
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
                calendar.add_component(_event(sitting, address_of, week.regimen.eater.keeps_out_words))
    return calendar.to_ical()


def _event(sitting, address_of, keeps_out):
    occasion: Occasion = sitting.occasions[0]
    start = datetime.combine(occasion.on, occasion.serve_at)
    event = Event()
    event.add("uid", f"occasion-{occasion.pk}@open-gate")
    # Times without a zone: half past six is half past six wherever the kitchen is.
    event.add("dtstart", start)
    event.add("dtend", start + A_MEAL)
    event.add("dtstamp", occasion.touched_at.astimezone(UTC))
    event.add("summary", f"{occasion}: {', '.join(each.row.served.title for each in sitting.eaten)}")
    told = [*filter(None, [str(keeps_out)]), *(f"{each.row.served.title}: {each.words}" for each in sitting.eaten)]
    event.add("description", "\n".join(told))
    event.add("url", address_of(occasion))
    return event
