"""Everything the practice holds about one person, as values: for a page to read and as JSON to take along."""

from django.core.serializers.json import DjangoJSONEncoder
from django.forms.models import model_to_dict

from bench.models import Bench
from handouts.models import HandoutLink, Release
from kitchen.models import Cook
from meals.models import GivenWeek, Seat, WeekLink
from nutrition.dish.codec import to_data
from people.history import history_of
from people.models import PersonTarget
from records.models import Entry

Encoder = DjangoJSONEncoder


def _row(row, *fields):
    return model_to_dict(row, fields=fields or None) | {"id": row.pk}


def _meal(seat):
    """A table they sit at, and what they have there; one serving where nothing else was said."""
    portions = {helping.dish_id: helping for helping in seat.helpings.all()}
    dishes = [dish for dish in seat.occasion.dishes.all() if not dish.is_away]
    return {
        "on": seat.occasion.on,
        "meal": seat.occasion.meal,
        "title": seat.occasion.title,
        "dishes": [
            {
                "dish": str(dish),
                "portion": portions[dish.pk].words or "1" if dish.pk in portions else "1",
                "without": portions[dish.pk].without if dish.pk in portions else [],
            }
            for dish in dishes
        ],
    }


def everything_about(person):
    """One dict of lists, plain values only."""
    benches = Bench.objects.filter(person=person).select_related("recipe").prefetch_related("tries__edits")
    cooks = Cook.objects.filter(attempt__bench__person=person).prefetch_related("taps", "tastings")
    releases = Release.objects.filter(bench__person=person)
    seats = (
        Seat.objects.filter(person=person).select_related("occasion").prefetch_related("occasion__dishes", "helpings")
    )
    return {
        "person": _row(person),
        "plans": [{"plan": each.label, "settings": each.settings, "since": each.set_on} for each in person.plans.all()],
        "targets": [
            _row(each)
            | {
                "in_words": each.in_words,
                "set_by": each.set_by.signature,
                "confirmed_by": getattr(each.confirmed_by, "signature", None),
            }
            for each in PersonTarget.every.filter(person=person).select_related("set_by", "confirmed_by")
        ],
        "tallies": [_row(each) for each in person.tallies.all()],
        "dishes": [
            {
                "recipe": str(bench.recipe),
                "meal": bench.meal,
                "role": bench.role,
                "as_written": to_data(bench.written),
                "tries": [
                    {
                        "name": attempt.name,
                        "notes": attempt.notes,
                        "finished": attempt.is_finished,
                        "edits": [
                            {"number": edit.number, "what": edit.summary, "dish": to_data(edit.dish)}
                            for edit in attempt.edits.all()
                        ],
                    }
                    for attempt in bench.tries.all()
                ],
            }
            for bench in benches
        ],
        "cooks": [
            {
                "began": cook.started_at,
                "finished": cook.finished_at,
                "plan": to_data(cook.plan),
                "taps": [_row(tap, "kind", "key", "grams", "food_id", "words") for tap in cook.taps.all()],
                "tastings": [_row(t, "taster", "taste", "ease", "missed", "notes") for t in cook.tastings.all()],
            }
            for cook in cooks
        ],
        "meals": [_meal(seat) for seat in seats],
        "cards": [
            {"title": each.title, "number": each.number, "released": each.released_at, "card": each.body}
            for each in releases
        ],
        "links": [
            {"for": link.for_whom, "made": link.made_at, "until": link.expires_at, "opened": link.opened}
            for link in (
                *HandoutLink.objects.filter(release__in=releases),
                *WeekLink.objects.filter(week__person=person),
            )
        ],
        "weeks": [
            {"monday": each.monday, "given": each.given_at, "sheet": each.body}
            for each in GivenWeek.objects.filter(person=person)
        ],
        "history": [
            {"at": each.at, "by": each.by, "what": each.what, "verb": each.verb, "changes": each.changes}
            for each in history_of(person)
        ],
        "log": [
            {"at": each.at, "by": each.by_name, "act": each.act, "thing": each.thing}
            for each in Entry.objects.filter(person=person.pk)
        ],
    }
