"""What a choice of plans would change in the limits of a day, before anything is saved."""

from copy import copy
from dataclasses import dataclass, replace

from nutrition.food.nutrients import BY_KEY
from nutrition.limits.eater import Eater
from nutrition.limits.gates import sides_in_words
from nutrition.limits.plans import missing_for, plan_label, targets_for

from .regimen import to_draft


@dataclass(frozen=True, slots=True)
class Change:
    """A limit as it stands and as it would: sides in words, empty for none."""

    nutrient: str
    was: str
    would: str
    owner: str


@dataclass(frozen=True, slots=True)
class Foresight:
    """`eater`: the person under the wanted plans. `lacks`: what a plan would ask for, (label, words)."""

    eater: Eater
    changes: list[Change]
    lacks: list[tuple[str, list[str]]]


def foresee(regimen, wanted):
    """The limits of a person under other plans. `wanted`: {plan key: settings}, every setting there.

    What was confirmed, typed or removed stays as it is, as it would when the plans are saved.
    """
    eater, facts = regimen.eater, regimen.person.facts(wanted)
    rows = [copy(row) for row in (*regimen.targets, *regimen.removed)]
    for row in rows:  # what a plan leaves behind is a number of their own
        row.plan = row.plan if row.plan in wanted else ""
    kept = [row for row in rows if row.is_prescription and not row.removed_at]
    drafted = [
        target for key, settings in wanted.items() for target in to_draft(key, targets_for(key, facts, settings), rows)
    ]
    targets = (*(row.as_target() for row in kept), *drafted)
    would = replace(eater, facts=facts, plans=wanted, targets=targets)
    lacks = [(plan_label(key), missing_for(key, facts, settings)) for key, settings in wanted.items()]
    return Foresight(would, _changes(eater, would), [each for each in lacks if each[1]])


def _changes(before, after):
    """The limits that differ, those of a day first as they come."""

    def limits(eater):
        found = {}
        for target in eater.targets:
            place = target.plan, target.nutrient, target.scope, target.meal
            found[place] = sides_in_words(target.minimum, target.maximum)
        return found

    old, new = limits(before), limits(after)
    changes = []
    for place in dict.fromkeys((*old, *new)):
        plan, nutrient, scope, meal = place
        per = f" {BY_KEY[nutrient].unit} a {scope}{f' at {meal}' if meal else ''}"
        was, would = (f"{side[place]}{per}" if place in side else "" for side in (old, new))
        if was != would:
            changes.append(Change(nutrient, was, would, plan_label(plan)))
    return changes
