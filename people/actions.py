"""What may be done to a person's plans and targets, one transaction each."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from datetime import date
from decimal import Decimal
from typing import Any

from django.db import transaction
from django.db.models import F
from django.utils import timezone
from django.utils.timezone import localdate

from accounts.models import User
from accounts.permissions import may
from nutrition.food.table import foods
from nutrition.limits.conflicts import Conflict
from nutrition.limits.gates import Target
from nutrition.limits.measured import Measurement
from nutrition.limits.plans import PLANS, choose, targets_for
from nutrition.limits.roles import ROLES
from nutrition.limits.tallies import LEAST_STEP, read_formula
from nutrition.notes import Problem
from nutrition.reading.matching import matcher
from records.log import record
from ui.guard import Stale

from .models import HeldTo, Person, PersonTally, PersonTarget, PlanChoice
from .regimen import held_to, held_to_digest, regimen_of, to_draft


def _draft(person: Person, plan: str, target: Target, user: User) -> PersonTarget:
    return PersonTarget(
        practice_id=person.practice_id,
        person=person,
        plan=plan,
        nutrient=target.nutrient,
        minimum=None if target.minimum is None else round(target.minimum, 2),
        maximum=None if target.maximum is None else round(target.maximum, 2),
        scope=target.scope,
        meal=target.meal,
        source=target.source,
        set_by=user,
        set_on=localdate(),
    )


@transaction.atomic
def set_plans(person: Person, wanted: Mapping[str, Mapping[str, str]], user: User, version: int | None = None) -> None:
    """Follow exactly these plans: {key: {school: option}}. Raises Stale when the person is not at `version` any more.

    A new or changed plan drafts beside what was confirmed or typed by hand, and never in its place. A plan that is left
    takes its drafts with it; what somebody stands behind stays, as a number of their own.
    """
    wanted = {key: choose(key, schools) for key, schools in wanted.items()}
    person.claim(version)
    present = {choice.key: choice for choice in person.plans.all()}
    for key in present.keys() - wanted.keys():
        present[key].delete()
        _leave(person, key)
    for key, schools in wanted.items():
        same = key in present and present[key].settings == schools
        together_changed = any((other in wanted) != (other in present) for other in PLANS[key].depends_on)
        if same and not together_changed:
            continue
        if key in present:
            present[key].schools = schools
            present[key].set_by = user
            present[key].save()
        else:
            PlanChoice(person=person, key=key, schools=schools, set_by=user).save()
        draft_beside(person, key, schools, user, wanted)
    record("person.plans", person, ", ".join(PLANS[key].label for key in wanted) or "none", by=user)
    mark_what_holds(person)


def _leave(person: Person, key: str) -> None:
    """What a plan that is left leaves: nothing of its own, and what somebody stands behind."""
    for row in PersonTarget.every.filter(person=person, plan=key):
        if row.is_prescription and row.removed_at is None:
            row.claim(plan="", source=f"{row.source} (set under {PLANS[key].label})"[:300])
        else:
            row.delete()


@transaction.atomic
def draft_beside(person: Person, key: str, schools: Mapping[str, str], user: User, plan_keys: Collection[str]) -> None:
    """Write the plan's drafts for this person, but for what was confirmed, typed by hand or removed.

    Drafting twice changes nothing.
    """
    rows = list(PersonTarget.every.filter(person=person, plan__in=(key, "")))
    drafts = {(row.nutrient, row.scope, row.meal): row for row in rows if row.plan == key and not row.is_held}
    for target in to_draft(key, targets_for(key, person.facts(plan_keys), schools), rows):
        row = drafts.pop((target.nutrient, target.scope, target.meal), None)
        new = _draft(person, key, target, user)
        if row is None:
            new.save()
        elif not row.says(target) or row.source != target.source:
            row.claim(minimum=new.minimum, maximum=new.maximum, source=new.source, set_by=user, set_on=localdate())
    for row in drafts.values():
        row.delete()


@transaction.atomic
def set_put_away(person: Person, is_away: bool, user: User) -> None:
    """Out of the lists, or back into them; nothing of theirs changes."""
    person.claim(put_away_at=timezone.now() if is_away else None)
    record("person.put_away" if is_away else "person.back", person, by=user)


@transaction.atomic
def another_like(person: Person, user: User) -> Person:
    """Somebody new with the plans, the household and the shares of a day of somebody else; their limits are drafted anew, and nothing
    of the other's body, results, allergies or prescriptions comes along."""
    new = Person(name=f"{person.name[:112]} (copy)", household=person.household)
    new.meal_shares, new.role_shares, new.card = dict(person.meal_shares), dict(person.role_shares), dict(person.card)
    return add_person(new, {choice.key: choice.schools for choice in person.plans.all()}, user)


@transaction.atomic
def redraft(person: Person, user: User) -> None:
    """After a change of body weight, energy or age: draft again what nobody stands behind."""
    choices = list(person.plans.all())
    for choice in choices:
        draft_beside(person, choice.key, choice.schools, user, [each.key for each in choices])
    mark_what_holds(person)


@transaction.atomic
def mark_what_holds(person: Person) -> HeldTo:
    """Keep the mark of all this person is held to; cards that went out under another are told apart by it."""
    digest = held_to_digest(held_to(regimen_of(person)))
    return HeldTo.objects.update_or_create(
        person=person, defaults={"digest": digest, "practice_id": person.practice_id}
    )[0]


@transaction.atomic
def take_drafted(target: PersonTarget, user: User, version: int | None = None) -> None:
    """Take what the plan would say now in place of a prescription: a draft again. Raises Stale and Problem."""
    target.check_fresh(version)
    proposal = regimen_of(target.person).proposals.get(target.pk)
    if proposal is None:
        raise Problem("people.nothing_drafted")
    if proposal.target is None or not target.plan:
        remove_target(target, version, user)
        redraft(target.person, user)
        return
    new = _draft(target.person, target.plan, proposal.target, user)
    figures = {name: getattr(new, name) for name in ("minimum", "maximum", "scope", "source")}
    target.claim(
        version, **figures, set_by=user, set_on=localdate(), by_hand=False, confirmed_by=None, confirmed_on=None
    )
    record("target.drafted_again", target.person_id, target.in_words, by=user)
    mark_what_holds(target.person)


@transaction.atomic
def save_target(target: PersonTarget, user: User) -> None:
    """Save an edited target: whoever edits it has set it, and it is a draft again. Raises Stale."""
    target.as_target()
    if target.pk:
        target.claim(target.version)
    target.set_by, target.set_on = user, localdate()
    target.confirmed_by = target.confirmed_on = None
    target.by_hand = True
    target.save()
    record("target.set", target.person_id, target.in_words, by=user)
    mark_what_holds(target.person)


@transaction.atomic
def add_person(person: Person, wanted: Mapping[str, Mapping[str, str]], user: User) -> Person:
    """A new person with plans at once: both or neither."""
    person.save()
    record("person.added", person, by=user)
    set_plans(person, wanted, user)
    return person


#: What the drafts of plans go by.
DRAFTS_GO_BY = ("weight_kg", "energy_kcal", "born_on", "sex", "height_cm", "life_stage", "kidney_stage", "fluid_ml")


@transaction.atomic
def change_person(person: Person, changes: Mapping[str, Any], shown: Mapping[str, Any], user: User) -> bool:
    """Who they are: field -> what it is to be. True when drafts were written again, since weight, energy or age changed.

    `shown`: the same fields as the form showed them; one that is something else by now refuses the whole. Raises Stale.
    Other fields are left as they are, whoever changed them meanwhile.
    """
    now = Person.objects.select_for_update().get(pk=person.pk)
    if any(getattr(now, name) not in (shown.get(name, getattr(now, name)), changes[name]) for name in changes):
        raise Stale
    drafts_again = any(name in changes and getattr(now, name) != changes[name] for name in DRAFTS_GO_BY)
    weighed = changes.get("weight_kg")
    if weighed and now.weight_kg != weighed:
        new = _measured(WEIGHT, float(weighed), localdate(), user)
        changes = {**changes, "measured": [*_with_the_weight(now), new]}
    if changes:
        now.claim(**changes)
        record("person.changed", now, ", ".join(name.replace("_", " ") for name in changes), by=user)
    if drafts_again:
        redraft(now, user)
    elif changes:
        mark_what_holds(now)
    return drafts_again


#: Of what is measured, what the person's page keeps beside the rest too.
WEIGHT = "weight_kg"


def _with_the_weight(person: Person) -> list[dict[str, Any]]:
    """What was measured, the weight that stands among it: of the day they came, where nobody said when they were weighed."""
    if person.weight_kg is None or any(row["key"] == WEIGHT for row in person.measured):
        return list(person.measured)
    on = timezone.localtime(person.created_at).date().isoformat()
    return [{"key": WEIGHT, "value": float(person.weight_kg), "on": on, "by": ""}, *person.measured]


def _measured(key: str, value: float, on: date, user: User) -> dict[str, Any]:
    """One row of a person's `measured`. Raises Problem for what cannot be."""
    Measurement(key, value, on)
    return {"key": key, "value": value, "on": on.isoformat(), "by": user.signature}


@transaction.atomic
def measure(person: Person, key: str, value: float, on: date, user: User, version: int | None = None) -> None:
    """Write down a weight or a blood result; the newest weight is the weight. Drafts follow. Raises Problem and Stale."""
    if on > localdate():
        raise Problem("people.measured_tomorrow", on=on)
    if any((row["key"], row["value"], row["on"]) == (key, value, on.isoformat()) for row in person.measured):
        return
    before = _with_the_weight(person) if key == WEIGHT else person.measured
    _remeasure(person, key, [*before, _measured(key, value, on, user)], user, version)


@transaction.atomic
def take_back_measured(person: Person, key: str, value: float, on: date, user: User, version: int | None) -> None:
    """A value that was written down by mistake; the history keeps it. Raises Stale."""
    rows = [row for row in person.measured if (row["key"], row["value"], row["on"]) != (key, value, on.isoformat())]
    _remeasure(person, key, rows, user, version)


def _remeasure(person: Person, key: str, rows: list[dict[str, Any]], user: User, version: int | None) -> None:
    """Keep the rows; where it was a weight, the newest that is left is the weight, and without any it is unknown."""
    rows = sorted(rows, key=lambda row: row["on"])
    changed: dict[str, Any] = {"measured": rows}
    if key == WEIGHT:
        weights = [row["value"] for row in rows if row["key"] == WEIGHT]
        changed[WEIGHT] = Decimal(str(round(weights[-1], 1))) if weights else None
    person.claim(version, **changed)
    record("person.measured", person, by=user)
    redraft(person, user)


@transaction.atomic
def confirm(target: PersonTarget, user: User, version: int | None = None) -> None:
    """A licensed practitioner stands behind this target as they saw it. Raises Problem for anyone else, and Stale."""
    if not user.is_licensed:
        raise Problem("people.not_licensed")
    target.check_fresh(version)
    target.claim(target.version, confirmed_by=user, confirmed_on=localdate())
    record("target.confirmed", target.person_id, target.in_words, by=user)
    if not target.plan:
        redraft(target.person, user)  # what plans had drafted for the same is set aside


@transaction.atomic
def settle(person: Person, topic: str, leader: str, conflicts: Sequence[Conflict], version: int | None = None) -> None:
    """Let one plan lead on a topic, or open it again when `leader` is empty. Raises Problem when nothing is there."""
    conflict = next((conflict for conflict in conflicts if conflict.topic == topic), None)
    if conflict is None:
        raise Problem("people.conflict_gone")
    if leader and leader not in conflict.sides:
        raise Problem("people.not_in_conflict")
    settled = {key: value for key, value in person.settled.items() if key != topic}
    person.claim(version, settled=settled | ({topic: leader} if leader else {}))
    record("person.settled", person, f"{conflict.label}: {leader or 'open again'}")
    mark_what_holds(person)


@transaction.atomic
def set_shares(person: Person, shares: Mapping[str, float], version: int | None = None) -> None:
    """Shares of the day in percent, meal -> number; together they are 100. Raises Problem."""
    total = sum(shares.values())
    if abs(total - 100) > 0.01:
        raise Problem("people.shares_do_not_add_up", total=total, by=100 - total)
    person.claim(version, meal_shares={meal: share / 100 for meal, share in shares.items()})
    record("person.day", person)
    mark_what_holds(person)


@transaction.atomic
def set_role_shares(person: Person, shares: Mapping[str, float], version: int | None = None) -> None:
    """What a part of a meal may take of it, role -> percent; those as usual are not kept. Raises Stale."""
    own = {role: share / 100 for role, share in shares.items() if abs(share / 100 - ROLES[role].share) > 0.0005}
    person.claim(version, role_shares=own)
    record("person.day", person)
    mark_what_holds(person)


@transaction.atomic
def lay_out_cards(person: Person, card: Mapping[str, Any], version: int | None = None) -> None:
    """How this person's cards are laid out from now on (handouts.layout). Raises Stale."""
    person.claim(version, card=dict(card))
    record("person.card", person)


@transaction.atomic
def start_course(choice: PlanChoice, started_on: date, weeks: int, version: int | None = None) -> None:
    """Date a plan that has a course. Raises Problem."""
    if choice.plan.course_of is None:
        raise Problem("people.no_course")
    try:
        if started_on:
            choice.plan.course_of(started_on, weeks)
    except (ValueError, OverflowError) as problem:
        raise Problem("people.course", problem=str(problem).capitalize()) from None
    choice.person.claim(version)
    choice.started_on, choice.strict_weeks = started_on, weeks
    choice.save(update_fields=["started_on", "strict_weeks"])
    record("person.course", choice.person)


def food_ids(text: str) -> list[str]:
    """Foods named in a list with commas: their ids. Raises Problem naming the first that is not known."""
    ids = []
    for words in filter(None, (" ".join(part.split()) for part in text.split(","))):
        match = matcher().match(words)
        if match.row < 0:
            raise Problem("people.food_unknown", words=words)
        ids.append(foods().ids[match.row])
    return ids


@transaction.atomic
def save_tally(tally: PersonTally, user: User, free: str = "", one_free: str = "") -> None:
    """Keep a tally of their own. Raises Problem with what was read and what was expected."""
    tally.formula = read_formula(tally.formula_text)
    tally.free_foods, tally.one_free = food_ids(free), food_ids(one_free)
    if 0 < tally.step < LEAST_STEP:
        raise Problem("limits.step_out_of_range", step=tally.step)
    tally.as_tally()
    tally.set_by = user
    tally.save()
    record("tally.set", tally.person_id, by=user)


@transaction.atomic
def remove_target(target: PersonTarget, version: int | None = None, user: User | None = None) -> None:
    """Take one limit away, as it was seen; it is kept to be put back. Raises Stale."""
    target.claim(version, removed_at=timezone.now(), removed_by=user)
    record("target.removed", target.person_id, target.in_words)
    mark_what_holds(target.person)


@transaction.atomic
def put_back(target: PersonTarget, user: User) -> None:
    """A limit that was removed stands again, as it stood."""
    rows = PersonTarget.every.filter(pk=target.pk, removed_at__isnull=False)
    if rows.update(version=F("version") + 1, removed_at=None, removed_by=None):
        record("target.put_back", target.person_id, target.in_words, by=user)
        mark_what_holds(target.person)


@transaction.atomic
def remove_tally(tally: PersonTally) -> None:
    """Take a tally away."""
    record("tally.removed", tally.person_id)
    tally.delete()


@transaction.atomic
def hand_over(person: Person, to: User, user: User) -> None:
    """Another of the practice is the one who looks after this person from now on. Raises Problem."""
    if to.practice_id != person.practice_id or not to.is_active or not may(to, "people.look_after"):
        raise Problem("people.cannot_look_after", name=to.name)
    person.claim(in_care_of=to)
    record("person.handed_over", person, to.name, by=user)


@transaction.atomic
def confirm_all(targets: Iterable[PersonTarget], user: User, seen: Mapping[int, int] | None = None) -> None:
    """A licensed practitioner stands behind these targets: all of them or none. Raises Problem for anyone else.

    `seen`: target pk -> version as it stood on the page; what was changed or added since refuses the whole. Raises Stale.
    """
    targets = list(targets)
    if seen is not None and {target.pk for target in targets} != set(seen):
        raise Stale
    for target in targets:
        confirm(target, user, seen[target.pk] if seen else None)
