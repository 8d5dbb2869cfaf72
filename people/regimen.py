"""What somebody follows, read once: plans, targets, tallies, and the eater the core asks for."""

import json
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from hashlib import sha256
from typing import Any, TypeVar

from django.db.models import QuerySet

from accounts.models import User
from accounts.prepared import prepared
from nutrition.food.nutrients import BY_KEY
from nutrition.limits.eater import Eater
from nutrition.limits.gates import MEAL_SHARES, Target, sides_in_words
from nutrition.limits.noted import noted_words
from nutrition.limits.plans import plan_label, targets_for
from nutrition.limits.plans.allergens import CROSS_CONTACT
from nutrition.limits.plans.common import LABEL_ADVICE
from nutrition.limits.roles import WHOLE
from records.log import looked_at

from .models import Person, PersonTally, PersonTarget, PlanChoice

#: What is kept of somebody: a plan, a target, a tally.
Owned = TypeVar("Owned", PlanChoice, PersonTarget, PersonTally)


@dataclass(frozen=True)
class Proposal:
    """What a plan would say now beside a prescription that stands. `target` None: it would set no limit."""

    plan: str
    target: Target | None

    @property
    def in_words(self) -> str:
        """ "at most 2,000 mg a day"."""
        if self.target is None:
            return "no limit"
        sides = sides_in_words(self.target.minimum, self.target.maximum)
        return f"{sides} {BY_KEY[self.target.nutrient].unit} a {self.target.scope}"


@dataclass
class Regimen:
    """A person with everything their dishes are held against. `removed`: targets that stand no more, and could again."""

    person: Person
    plans: list[PlanChoice]
    targets: list[PersonTarget]
    tallies: list[PersonTally]
    removed: Sequence[PersonTarget] = ()
    role: str = WHOLE

    @cached_property
    def eater(self) -> Eater:
        """The core's view of this person."""
        keys = [choice.key for choice in self.plans]
        return Eater(
            facts=self.person.facts(keys),
            plans={choice.key: choice.settings for choice in self.plans},
            targets=tuple(target.as_target() for target in self.targets),
            settled=self.person.settled,
            shares={meal: self.person.meal_shares[meal] for meal in MEAL_SHARES},
            tallies=tuple(tally.as_tally() for tally in self.tallies),
            region=self.person.card.get("region", ""),
            role=self.role,
            role_shares=self.person.role_shares,
            noted=noted_words(self.person.allergies),
            disliked=noted_words(self.person.dislikes),
        )

    @cached_property
    def proposals(self) -> dict[int, Proposal]:
        """Target pk -> what its plan would say now, of prescriptions that say something else."""
        found: dict[int, Proposal] = {}
        for choice in self.plans:
            drafted = targets_for(choice.key, self.eater.facts, choice.settings)
            for row in self.targets:
                if not row.is_prescription or row.plan not in (choice.key, ""):
                    continue
                same = [each for each in drafted if (each.nutrient, each.meal) == (row.nutrient, row.meal)]
                if any(row.says(each) for each in same):
                    continue
                if same or row.plan:
                    found[row.pk] = Proposal(choice.label, same[0] if same else None)
        return found

    @property
    def due(self) -> list[PersonTarget]:
        """The prescriptions whose plan would say something else by now."""
        return [row for row in self.targets if row.pk in self.proposals]

    @cached_property
    def is_behind(self) -> bool:
        """Whether the plans would draft otherwise by now: a birthday has been, or a result grew old."""
        rows = [*self.targets, *self.removed]
        for choice in self.plans:
            said = targets_for(choice.key, self.eater.facts, choice.settings)
            wanted = {_place(each): each for each in to_draft(choice.key, said, rows)}
            drafts = {_place(row): row for row in rows if row.plan == choice.key and not row.is_held}
            if wanted.keys() != drafts.keys() or not all(drafts[place].says(each) for place, each in wanted.items()):
                return True
        return False

    @property
    def drafts(self) -> int:
        return sum(target.is_draft for target in self.targets)

    @cached_property
    def confirmed_by(self) -> list[str]:
        """Who stands behind the limits, as they sign. One query where anybody does."""
        is_signed = any(target.confirmed_by_id for target in self.targets)
        return sorted({user.signature for user in _signers_of(self.person.pk)}) if is_signed else []

    @cached_property
    def handout(self) -> list[tuple[str, str]]:
        """(plan label, advice) for the card, each sentence once."""
        seen: set[str] = set()
        found: list[tuple[str, str]] = []
        for choice in self.plans:
            label = LABEL_ADVICE.get(choice.settings.get("label", ""))
            for sentence in (*choice.plan.advice(choice.settings), *([label] if label else [])):
                if sentence not in seen:
                    seen.add(sentence)
                    found.append((choice.label, sentence))
        return found

    @cached_property
    def cross_contact(self) -> list[str]:
        """Kitchen steps against traces, where a plan asks for them or somebody reacts severely."""
        steps = [step for choice in self.plans for step in choice.plan.cross_contact]
        if "severe_allergy" in self.eater.facts.circumstances:
            steps += CROSS_CONTACT
        return list(dict.fromkeys(steps))


def to_draft(key: str, said: Iterable[Target], rows: Sequence[PersonTarget]) -> list[Target]:
    """What of a plan's targets is drafted beside a person's `rows`: all but what somebody stands behind, or removed."""
    held = {(row.nutrient, row.meal) for row in rows if row.plan == key and row.is_held}
    held |= {(row.nutrient, row.meal) for row in rows if not row.plan and row.confirmed_on and not row.removed_at}
    return [target for target in said if (target.nutrient, target.meal) not in held]


def _place(target: Target | PersonTarget) -> tuple[str, str, str]:
    return target.nutrient, target.scope, target.meal


def held_to(regimen: Regimen) -> dict[str, Any]:
    """All a person is held to, as plain data: what a card that goes out was made for."""
    person, eater = regimen.person, regimen.eater
    targets = [[t.nutrient, t.scope, t.meal, t.minimum, t.maximum] for t in eater.standing_targets()]
    return {
        "targets": sorted(targets, key=str),
        "plans": {key: dict(settings) for key, settings in sorted(eater.plans.items())},
        "circumstances": sorted(eater.facts.circumstances),
        "allergies": person.allergies,
        "dislikes": person.dislikes,
        "shares": eater.shares,
        **({"role_shares": dict(eater.role_shares)} if eater.role_shares else {}),
    }


def held_to_digest(held: Mapping[str, Any]) -> str:
    return sha256(json.dumps(held, sort_keys=True).encode()).hexdigest()


def differences(before: Mapping[str, Any], now: Mapping[str, Any]) -> list[str]:
    """What somebody is held to now that they were not before, in words, the limits first."""

    def limits(held: Mapping[str, Any]) -> dict[tuple[str, str, str], tuple[float | None, float | None]]:
        return {(nutrient, scope, meal): (low, high) for nutrient, scope, meal, low, high in held["targets"]}

    old, new = limits(before), limits(now)
    old_plans, new_plans = before["plans"], now["plans"]
    found = []
    for place in dict.fromkeys((*old, *new)):
        if old.get(place) == new.get(place):
            continue
        nutrient, scope, meal = place
        per = f"{BY_KEY[nutrient].unit} a {scope}{f' at {meal}' if meal else ''}"
        was, stands = (sides_in_words(*side[place]) if place in side else "no limit" for side in (old, new))
        found.append(f"{BY_KEY[nutrient].label}: {stands} {per} (was {was})")
    plans = [key for key in dict.fromkeys((*old_plans, *new_plans)) if (key in old_plans) != (key in new_plans)]
    found += [f"{plan_label(key)}: {'new' if key in new_plans else 'left'}" for key in plans]
    notes = ("circumstances", "allergies", "dislikes")
    found += [f"{name} changed" for name in notes if before[name] != now[name]]
    if before["shares"] != now["shares"] or before.get("role_shares") != now.get("role_shares"):
        found.append("the day is shared out otherwise")
    return found or ["a plan’s settings changed"]


@prepared
def _plans_of(person_ids: list[int]) -> QuerySet[PlanChoice]:
    return PlanChoice.objects.filter(person__in=person_ids)


@prepared
def _tallies_of(person_ids: list[int]) -> QuerySet[PersonTally]:
    return PersonTally.objects.filter(person__in=person_ids)


@prepared
def _targets_of(person_ids: list[int]) -> QuerySet[PersonTarget]:
    return PersonTarget.every.filter(person__in=person_ids)


@prepared
def _signed_targets_of(person_ids: list[int]) -> QuerySet[PersonTarget]:
    people, own = ("set_by", "confirmed_by", "removed_by"), [field.name for field in PersonTarget._meta.concrete_fields]
    signatures = [f"{who}__{part}" for who in people for part in User.SIGNATURE]
    return PersonTarget.every.filter(person__in=person_ids).select_related(*people).only(*own, *signatures)


@prepared
def _signers_of(person_id: int) -> QuerySet[User]:
    signed = PersonTarget.objects.filter(person=person_id).values("confirmed_by")
    return User.objects.filter(pk__in=signed).select_related(None).only(*User.SIGNATURE)


def regimen_of(person: Person, role: str = WHOLE, *, with_names: bool = False) -> Regimen:
    """Everything about one person in three queries, for a dish of this role. Whoever is at work has looked at them.

    `with_names`: for a page that says who set, confirmed and removed each target.
    """
    return _regimens([person], role, _signed_targets_of if with_names else _targets_of)[0]


def regimens(people: Iterable[Person]) -> list[Regimen]:
    """These people (a queryset) with what they follow. Three queries, and that of the people."""
    return _regimens(list(people), WHOLE, _targets_of)


def _regimens(
    people: Sequence[Person], role: str, targets_of: Callable[[list[int]], Sequence[PersonTarget]]
) -> list[Regimen]:
    looked_at(*people)
    ids = [person.pk for person in people]
    plans, targets, tallies = _by_person(_plans_of(ids)), _by_person(targets_of(ids)), _by_person(_tallies_of(ids))
    found = []
    for person in people:
        standing, removed = (
            [row for row in targets[person.pk] if bool(row.removed_at) == is_removed] for is_removed in (False, True)
        )
        found.append(Regimen(person, plans[person.pk], standing, tallies[person.pk], removed, role))
    return found


def _by_person(rows: Iterable[Owned]) -> dict[int, list[Owned]]:
    found: dict[int, list[Owned]] = defaultdict(list)
    for row in rows:
        found[row.person_id].append(row)
    return found
