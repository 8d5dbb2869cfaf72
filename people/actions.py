"""What may be done to a person's plans and targets, one transaction each."""

from datetime import date

from django.db import transaction

from nutrition.food.table import foods
from nutrition.limits.gates import MEAL_SHARES
from nutrition.limits.plans import choose, targets_for
from nutrition.limits.plans.fodmap import course
from nutrition.limits.tallies import TallyProblem, read_formula
from nutrition.reading.matching import matcher

from .models import PersonTarget, PlanChoice


class NotLicensed(PermissionError):
    """Only a licensed practitioner confirms targets."""


def _draft(person, plan, target, user):
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
        set_on=date.today(),
    )


@transaction.atomic
def set_plans(person, wanted, user):
    """Follow exactly these plans: {key: {school: option}}.

    A plan that stays as it was keeps its targets, edited and confirmed ones too; a new or changed plan
    drafts its targets again; a plan that is left out takes its targets with it.
    """
    wanted = {key: choose(key, schools) for key, schools in wanted.items()}
    present = {choice.key: choice for choice in person.plans.all()}
    together_changed = ("diabetes" in wanted) != ("diabetes" in present)
    for key in present.keys() - wanted.keys():
        present[key].delete()
        person.targets.filter(plan=key).delete()
    for key, schools in wanted.items():
        same = key in present and present[key].settings == schools
        if same and not (key == "kidney" and together_changed):
            continue
        if key in present:
            present[key].schools = schools
            present[key].set_by = user
            present[key].save()
            person.targets.filter(plan=key).delete()
        else:
            PlanChoice(person=person, key=key, schools=schools, set_by=user).save()
        draft_targets(person, key, schools, user, wanted)


def draft_targets(person, key, schools, user, plan_keys):
    """Write the plan's drafts for this person."""
    for target in targets_for(key, person.facts(plan_keys), schools):
        _draft(person, key, target, user).save()


@transaction.atomic
def redraft(person, user):
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


def save_target(target, user):
    """Save an edited target: whoever edits it has set it, and it is a draft again."""
    target.as_target()
    target.set_by, target.confirmed_by, target.confirmed_on = user, None, None
    target.save()


def confirm(target, user):
    """A licensed practitioner stands behind this target. Raises NotLicensed for anyone else."""
    if not user.is_licensed:
        raise NotLicensed(f"{user.name} has no license on record")
    target.confirmed_by, target.confirmed_on = user, date.today()
    target.save()


class Refused(ValueError):
    """What was asked cannot be; the sentence is for the person at the form."""


def settle(person, topic, leader, conflicts):
    """Let one plan lead on a topic, or open it again when `leader` is empty. Raises Refused when nothing is there."""
    conflict = next((conflict for conflict in conflicts if conflict.topic == topic), None)
    if conflict is None:
        raise Refused("That conflict is not there any more: the plans have changed. This is how they stand now.")
    if leader and leader not in conflict.sides:
        raise Refused("That plan has no part in this conflict. Choose one of the plans named in it.")
    settled = {key: value for key, value in person.settled.items() if key != topic}
    person.settled = settled | ({topic: leader} if leader else {})
    person.save(update_fields=["settled"])


def set_shares(person, typed):
    """Shares of the day in percent, meal -> text; together they are 100. Raises Refused."""
    shares = {}
    for meal in MEAL_SHARES:
        text = typed.get(meal, "").strip().rstrip("%").replace(",", ".")
        try:
            shares[meal] = float(text)
        except ValueError:
            raise Refused(f"“{text}” was typed for {meal}; a percentage is expected, as in 30.") from None
        if not 0 <= shares[meal] <= 100:
            raise Refused(f"{text} % was typed for {meal}; 0 to 100 is expected.")
    total = sum(shares.values())
    if abs(total - 100) > 0.01:
        raise Refused(f"The meals add up to {total:g} %, and a day is 100 %: change one by {100 - total:+g}.")
    person.meal_shares = {meal: share / 100 for meal, share in shares.items()}
    person.save(update_fields=["meal_shares"])


def start_course(choice, started_on, weeks):
    """Date a plan that has a course. Raises Refused."""
    try:
        if started_on:
            course(started_on, weeks)
    except (ValueError, OverflowError) as problem:
        raise Refused(f"{str(problem).capitalize()}.") from None
    choice.started_on, choice.strict_weeks = started_on, weeks
    choice.save(update_fields=["started_on", "strict_weeks"])


def food_ids(text):
    """Foods named in a list with commas: their ids. Raises Refused naming the first that is not known."""
    ids = []
    for words in filter(None, (" ".join(part.split()) for part in text.split(","))):
        match = matcher().match(words)
        if match.row < 0:
            raise Refused(f"“{words}” is not a food of the tables. Write a plain name, as in carrots.")
        ids.append(foods().ids[match.row])
    return ids


def save_tally(tally, user, free="", one_free=""):
    """Keep a tally of their own. Raises Refused with what was read and what was expected."""
    try:
        tally.formula = read_formula(tally.formula_text)
        tally.free_foods, tally.one_free = food_ids(free), food_ids(one_free)
        tally.as_tally()
    except TallyProblem as problem:
        raise Refused(str(problem)) from None
    tally.set_by = user
    tally.save()
