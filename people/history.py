"""The history of a person as sentences: every change of their rows, with before and after, as the database kept it."""

from dataclasses import dataclass, field
from datetime import datetime

from accounts.models import User
from nutrition.food.nutrients import BY_KEY
from nutrition.limits.measured import measures
from nutrition.limits.plans import plan_label

from .models import PersonEvent, PersonTallyEvent, PersonTargetEvent, PlanChoiceEvent

#: The person's own events first: their rows are found by another column.
EVENTS = (PersonEvent, PlanChoiceEvent, PersonTargetEvent, PersonTallyEvent)
#: The columns that say nothing to a reader.
_SILENT = {
    *("id", "version", "practice", "person", "created_at"),
    *("set_by", "set_on", "confirmed_by", "removed_by", "by_hand", "formula"),
}
_WORDS = {
    "weight_kg": "weight",
    "height_cm": "height",
    "energy_kcal": "energy",
    "fluid_ml": "fluid a day",
    "kidney_stage": "kidney disease",
    "in_care_of": "looked after by",
    "minimum": "at least",
    "maximum": "at most",
    "confirmed_on": "confirmed",
    "removed_at": "removed",
    "put_away_at": "put away",
}


@dataclass(frozen=True, slots=True)
class Happening:
    """One change: when, who, about what, and (field, before, after) of each thing that is not as it was."""

    at: datetime
    by: str
    what: str
    verb: str
    changes: tuple[tuple[str, str, str], ...] = field(default=())


def _named(event):
    if isinstance(event, PersonTargetEvent):
        nutrient = BY_KEY.get(event.nutrient)
        name = nutrient.label.lower() if nutrient else event.nutrient
        return f"the target for {name}{f' at {event.meal}' if event.meal else ''}"
    if isinstance(event, PlanChoiceEvent):
        return f"the plan {plan_label(event.key)}"
    if isinstance(event, PersonTallyEvent):
        return f"the tally {event.name}"
    return "who they are"


def _measure(row):
    measure = measures().get(row["key"])
    return f"{measure.label} {row['value']:g} {measure.unit}".strip() if measure else row["key"]


def _shown(value, users):
    if value is None or value == "" or value == [] or value == {}:
        return "nothing"
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, list) and isinstance(value[0], dict):
        return "; ".join(f"{_measure(row)}, {row['on']}" for row in value)
    if isinstance(value, list):
        return ", ".join(map(str, value))
    if isinstance(value, dict):
        return ", ".join(f"{key} {_shown(each, users)}" for key, each in value.items())
    return str(value)


def _changes(before, after, users):
    found = []
    for column in after._meta.concrete_fields:
        name = column.name
        if name.startswith("pgh_") or name in _SILENT:
            continue
        was, now = getattr(before, column.attname), getattr(after, column.attname)
        if was != now:
            if name == "in_care_of":
                was, now = users.get(was), users.get(now)
            found.append((_WORDS.get(name, name.replace("_", " ")), _shown(was, users), _shown(now, users)))
    return tuple(found)


def _bounds(event):
    """A new target as it was set."""
    unit = BY_KEY[event.nutrient].unit if event.nutrient in BY_KEY else ""
    sides = (("at least", event.minimum), ("at most", event.maximum))
    return tuple((side, "", f"{value:g} {unit} a {event.scope}") for side, value in sides if value is not None)


def _happening(event, before, users):
    """What one event tells beside the row as it was; None when nothing a reader would miss."""
    context = event.pgh_context.metadata if event.pgh_context else {}
    # The command line leaves no name of its own: then whoever the row says set or confirmed it.
    signed = getattr(event, "confirmed_by_id", None) or getattr(event, "set_by_id", None)
    by = users.get(context.get("user") or signed, "")
    verb = {"insert": "added", "delete": "removed"}.get(event.pgh_label, "changed")
    changes = ()
    if verb == "added" and isinstance(event, PersonTargetEvent):
        changes = _bounds(event)
    elif verb == "changed" and before is not None:
        changes = _changes(before, event, users)
        if not changes:
            return None
        if [name for name, _, _ in changes] == ["confirmed"] and event.confirmed_on:
            verb, changes = "confirmed", ()
        if "removed" in [name for name, _, _ in changes]:
            verb, changes = ("removed" if event.removed_at else "put back"), ()
    return Happening(event.pgh_created_at, by, _named(event), verb, changes)


def history_of(person):
    """Everything that happened to a person's rows, the newest first. Six queries."""
    rows = []
    for event in EVENTS:
        mine = {"pgh_obj_id": person.pk} if event is PersonEvent else {"person_id": person.pk}
        rows += event.objects.filter(**mine).select_related("pgh_context").order_by("pgh_id")
    users = dict(User.objects.filter(practice_id=person.practice_id).values_list("pk", "name"))
    before, found = {}, []
    for event in sorted(rows, key=lambda each: (each.pgh_created_at, each.pgh_id)):
        key = type(event), event.pgh_obj_id
        found.append(_happening(event, before.get(key), users))
        before[key] = event
    return [each for each in reversed(found) if each]
