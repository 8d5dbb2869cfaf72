"""What may be done to a person's plans and targets, one transaction each."""

from datetime import date

from django.db import transaction

from nutrition.plans import choose, targets_for

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
        same = key in present and present[key].schools == schools
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
