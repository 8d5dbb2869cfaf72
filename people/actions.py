"""What may be done to a person's plans and targets, one transaction each."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from datetime import date

from django.db import transaction
from django.utils.timezone import localdate

from accounts.models import User
from nutrition.food.table import foods
from nutrition.limits.conflicts import Conflict
from nutrition.limits.gates import Target
from nutrition.limits.plans import PLANS, choose, targets_for
from nutrition.limits.tallies import LEAST_STEP, read_formula
from nutrition.notes import Problem
from nutrition.reading.matching import matcher
from ui.guard import Stale

from .models import Person, PersonTally, PersonTarget, PlanChoice


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
def set_plans(person: Person, wanted: Mapping[str, Mapping[str, str]], user: User) -> None:
    """Follow exactly these plans: {key: {school: option}}.

    A plan that stays as it was keeps its targets, edited and confirmed ones too; a new or changed plan
    drafts its targets again; a plan that is left out takes its targets with it.
    """
    wanted = {key: choose(key, schools) for key, schools in wanted.items()}
    present = {choice.key: choice for choice in person.plans.all()}
    for key in present.keys() - wanted.keys():
        present[key].delete()
        person.targets.filter(plan=key).delete()
    for key, schools in wanted.items():
        same = key in present and present[key].settings == schools
        together_changed = any((other in wanted) != (other in present) for other in PLANS[key].depends_on)
        if same and not together_changed:
            continue
        if key in present:
            present[key].schools = schools
            present[key].set_by = user
            present[key].save()
            person.targets.filter(plan=key).delete()
        else:
            PlanChoice(person=person, key=key, schools=schools, set_by=user).save()
        draft_targets(person, key, schools, user, wanted)


def draft_targets(person: Person, key: str, schools: Mapping[str, str], user: User, plan_keys: Collection[str]) -> None:
    """Write the plan's drafts for this person."""
    for target in targets_for(key, person.facts(plan_keys), schools):
        _draft(person, key, target, user).save()


@transaction.atomic
def redraft(person: Person, user: User) -> None:
    """After a change of body weight or energy: draft again what nobody has confirmed."""
    keys = [choice.key for choice in person.plans.all()]
    for choice in person.plans.all():
        confirmed = set(
            person.targets.filter(plan=choice.key, confirmed_on__isnull=False).values_list("nutrient", "meal")
        )
        person.targets.filter(plan=choice.key, confirmed_on__isnull=True).delete()
        for target in targets_for(choice.key, person.facts(keys), choice.schools):
            if (target.nutrient, target.meal) not in confirmed:
                _draft(person, choice.key, target, user).save()


@transaction.atomic
def save_target(target: PersonTarget, user: User) -> None:
    """Save an edited target: whoever edits it has set it, and it is a draft again. Raises Stale."""
    target.as_target()
    if target.pk:
        target.claim(target.version)
    target.set_by, target.set_on = user, localdate()
    target.confirmed_by = target.confirmed_on = None
    target.save()


@transaction.atomic
def add_person(person: Person, wanted: Mapping[str, Mapping[str, str]], user: User) -> Person:
    """A new person with plans at once: both or neither."""
    person.save()
    set_plans(person, wanted, user)
    return person


@transaction.atomic
def change_person(person: Person, user: User, *, drafts_go_by_it: bool) -> None:
    """Who they are. `drafts_go_by_it`: weight or energy changed, so what nobody confirmed is drafted again."""
    person.save()
    if drafts_go_by_it:
        redraft(person, user)


def confirm(target: PersonTarget, user: User, version: int | None = None) -> None:
    """A licensed practitioner stands behind this target as they saw it. Raises Problem for anyone else, and Stale."""
    if not user.is_licensed:
        raise Problem("people.not_licensed")
    target.check_fresh(version)
    target.claim(target.version, confirmed_by=user, confirmed_on=localdate())


def settle(person: Person, topic: str, leader: str, conflicts: Sequence[Conflict]) -> None:
    """Let one plan lead on a topic, or open it again when `leader` is empty. Raises Problem when nothing is there."""
    conflict = next((conflict for conflict in conflicts if conflict.topic == topic), None)
    if conflict is None:
        raise Problem("people.conflict_gone")
    if leader and leader not in conflict.sides:
        raise Problem("people.not_in_conflict")
    settled = {key: value for key, value in person.settled.items() if key != topic}
    person.settled = settled | ({topic: leader} if leader else {})
    person.save(update_fields=["settled"])


def set_shares(person: Person, shares: Mapping[str, float]) -> None:
    """Shares of the day in percent, meal -> number; together they are 100. Raises Problem."""
    total = sum(shares.values())
    if abs(total - 100) > 0.01:
        raise Problem("people.shares_do_not_add_up", total=total, by=100 - total)
    person.meal_shares = {meal: share / 100 for meal, share in shares.items()}
    person.save(update_fields=["meal_shares"])


def start_course(choice: PlanChoice, started_on: date, weeks: int) -> None:
    """Date a plan that has a course. Raises Problem."""
    if choice.plan.course_of is None:
        raise Problem("people.no_course")
    try:
        if started_on:
            choice.plan.course_of(started_on, weeks)
    except (ValueError, OverflowError) as problem:
        raise Problem("people.course", problem=str(problem).capitalize()) from None
    choice.started_on, choice.strict_weeks = started_on, weeks
    choice.save(update_fields=["started_on", "strict_weeks"])


def food_ids(text: str) -> list[str]:
    """Foods named in a list with commas: their ids. Raises Problem naming the first that is not known."""
    ids = []
    for words in filter(None, (" ".join(part.split()) for part in text.split(","))):
        match = matcher().match(words)
        if match.row < 0:
            raise Problem("people.food_unknown", words=words)
        ids.append(foods().ids[match.row])
    return ids


def save_tally(tally: PersonTally, user: User, free: str = "", one_free: str = "") -> None:
    """Keep a tally of their own. Raises Problem with what was read and what was expected."""
    tally.formula = read_formula(tally.formula_text)
    tally.free_foods, tally.one_free = food_ids(free), food_ids(one_free)
    if 0 < tally.step < LEAST_STEP:
        raise Problem("limits.step_out_of_range", step=tally.step)
    tally.as_tally()
    tally.set_by = user
    tally.save()


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
