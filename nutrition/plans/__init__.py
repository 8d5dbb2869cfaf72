"""Diet plans, one module each. Every plan offers the same few names:

KEY, LABEL, SUMMARY, SOURCES   what it is and where it comes from
SCHOOLS                        settings a person's plan chooses among: key -> School
STANCES                        what it wants or limits, topic -> "want" or "limit" (or "fuel"): see conflicts.py
HANDOUT                        advice for the card, in a cook's words
targets(facts, schools)        drafts of targets from the person's data; never prescriptions
missing(facts, schools)        what is not known of the person and keeps a target from being set
avoids(schools)                what it keeps out, each with why and source
"""

from collections.abc import Mapping

from rapidfuzz import process

from ..gates import Target
from . import (
    dairy,
    diabetes,
    fodmap,
    gluten,
    heart,
    hemodialysis,
    kidney,
    lactose,
    low_carb,
    low_protein,
    peritoneal,
    sodium,
    vegan,
    vegetarian,
    very_low_carb,
    weight,
)
from .allergens import FREE_OF
from .common import CIRCUMSTANCES, Avoid, Facts, School

_MODULES = (
    sodium, kidney, hemodialysis, peritoneal, diabetes, low_carb, very_low_carb, heart, weight,
    fodmap, gluten, dairy, lactose, low_protein, vegetarian, vegan,
)  # fmt: skip
PLANS = {plan.KEY: plan for plan in (*_MODULES, *FREE_OF)}

__all__ = ["CIRCUMSTANCES", "PLANS", "Avoid", "Facts", "School", "avoids_of", "choose", "plan_called", "targets_for"]


def _nearest(word: str, known) -> str:
    return ", ".join(match for match, _, _ in process.extract(word, list(known), limit=3))


def plan_called(key: str):
    """The plan of this key. Raises ValueError naming the nearest there are."""
    if key not in PLANS:
        raise ValueError(f"no plan is called {key!r}; the nearest are {_nearest(key, PLANS)}; all: {', '.join(PLANS)}")
    return PLANS[key]


def choose(key: str, wanted: Mapping[str, str]) -> dict[str, str]:
    """The plan's settings: what is wanted, else its defaults. `wanted` may name settings of other plans too.

    A name "plan.setting" is for that plan alone. Raises ValueError naming what there is.
    """
    schools = plan_called(key).SCHOOLS
    chosen = {name: school.default for name, school in schools.items()}
    for full, option in wanted.items():
        plan, _, name = full.rpartition(".")
        if name not in schools or (plan and plan != key):
            continue
        if option not in schools[name].options:
            nearest = _nearest(option, schools[name].options)
            everything = ", ".join(schools[name].options)
            raise ValueError(f"{name} of {key} can be {everything}, not {option!r}; the nearest are {nearest}")
        chosen[name] = option
    return chosen


def targets_for(key: str, facts: Facts, schools: Mapping[str, str] | None = None) -> list[Target]:
    """Draft targets of one plan for one person."""
    return plan_called(key).targets(facts, choose(key, schools or {}))


def avoids_of(plans: Mapping[str, Mapping[str, str]]) -> dict[str, list[tuple[str, Avoid]]]:
    """What several plans keep out: tag -> (plan label, why), in the order of the plans."""
    found: dict[str, list[tuple[str, Avoid]]] = {}
    for key, schools in plans.items():
        for avoid in PLANS[key].avoids(choose(key, schools)):
            found.setdefault(avoid.tag, []).append((PLANS[key].LABEL, avoid))
    return found
