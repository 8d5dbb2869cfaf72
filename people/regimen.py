"""What somebody follows, read once: plans, targets, tallies, and the eater the core asks for."""

from dataclasses import dataclass
from functools import cached_property

from django.db.models import Prefetch

from nutrition.limits.eater import Eater
from nutrition.limits.gates import MEAL_SHARES
from nutrition.limits.plans.allergens import CROSS_CONTACT
from nutrition.limits.plans.common import LABEL_ADVICE
from records.log import looked_at


@dataclass
class Regimen:
    """A person with everything their dishes are held against. Three queries."""

    person: object
    plans: list
    targets: list
    tallies: list

    @cached_property
    def eater(self):
        """The core's view of this person."""
        keys = [choice.key for choice in self.plans]
        return Eater(
            facts=self.person.facts(keys),
            plans={choice.key: choice.settings for choice in self.plans},
            targets=tuple(target.as_target() for target in self.targets),
            settled=self.person.settled,
            shares={meal: self.person.meal_shares[meal] for meal in MEAL_SHARES},
            tallies=tuple(tally.as_tally() for tally in self.tallies),
        )

    @property
    def drafts(self):
        return sum(target.is_draft for target in self.targets)

    @cached_property
    def handout(self):
        """(plan label, advice) for the card, each sentence once."""
        seen, found = set(), []
        for choice in self.plans:
            label = LABEL_ADVICE.get(choice.settings.get("label", ""))
            for sentence in (*choice.plan.handout, *([label] if label else [])):
                if sentence not in seen:
                    seen.add(sentence)
                    found.append((choice.label, sentence))
        return found

    @cached_property
    def cross_contact(self):
        """Kitchen steps against traces, where a plan asks for them or somebody reacts severely."""
        steps = [step for choice in self.plans for step in choice.plan.cross_contact]
        if "severe_allergy" in self.person.circumstances:
            steps += CROSS_CONTACT
        return list(dict.fromkeys(steps))


def regimen_of(person):
    """Everything about one person in three queries. Whoever is at work has looked at them."""
    looked_at(person)
    return Regimen(
        person,
        list(person.plans.all()),
        list(person.targets.select_related("set_by", "confirmed_by")),
        list(person.tallies.all()),
    )


def regimens(people):
    """These people (a queryset) with what they follow. Four queries."""
    from .models import PersonTarget

    targets = Prefetch("targets", PersonTarget.objects.select_related("set_by", "confirmed_by"))
    everyone = list(people.prefetch_related("plans", "tallies", targets))
    looked_at(*everyone)
    return [Regimen(p, list(p.plans.all()), list(p.targets.all()), list(p.tallies.all())) for p in everyone]
