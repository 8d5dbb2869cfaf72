"""Diet plans, one module each; every module ends with its PLAN (common.Plan). A new plan is a new module and a line
here."""

from collections.abc import Mapping

from nutrition.limits.circumstances import CIRCUMSTANCES
from nutrition.limits.gates import Target
from nutrition.limits.life import ADULT_KG
from nutrition.limits.plans import (
    breast_feeding,
    child,
    dairy,
    dash,
    diabetes,
    enrichment,
    fluid,
    fodmap,
    fructose,
    gestational,
    gluten,
    gout,
    halal,
    heart,
    heart_failure,
    hemodialysis,
    kidney,
    kosher,
    lactose,
    low_carb,
    low_fat,
    low_fiber,
    low_protein,
    peritoneal,
    pregnancy,
    reflux,
    sodium,
    stones,
    texture,
    vegan,
    vegetarian,
    very_low_carb,
    warfarin,
    weight,
)
from nutrition.limits.plans.allergens import FREE_OF
from nutrition.limits.plans.common import Avoid, Facts, Plan, School, nearest
from nutrition.limits.tallies import Tally
from nutrition.notes import Problem

_MODULES = (
    *(sodium, kidney, hemodialysis, peritoneal, diabetes, low_carb, very_low_carb, heart, weight),
    *(fodmap, gluten, dairy, lactose, low_protein, vegetarian, vegan, child),
    *(dash, pregnancy, gestational, breast_feeding, enrichment, low_fiber, low_fat, gout, stones),
    *(heart_failure, fluid, fructose, reflux, texture, warfarin, halal, kosher),
)
PLANS: dict[str, Plan] = {plan.key: plan for plan in (*(module.PLAN for module in _MODULES), *FREE_OF)}
#: Somebody of whom a plan that has figures drafts some.
_ADULT = Facts(weight_kg=70, energy_kcal=2000, age_years=40)
#: The owner of a limit that no plan set.
OWN = "own"

__all__ = [
    "CIRCUMSTANCES",
    "OWN",
    "PLANS",
    "Avoid",
    "Facts",
    "Plan",
    "School",
    "avoids_of",
    "choose",
    "missing_for",
    "plan_called",
    "plan_label",
    "tallies_of",
    "targets_for",
]


def plan_called(key: str) -> Plan:
    """The plan of this key. Raises Problem naming the nearest there are."""
    if key not in PLANS:
        raise Problem("limits.no_such_plan", key=key, nearest=nearest(key, PLANS), all=", ".join(PLANS))
    return PLANS[key]


def plan_label(key: str) -> str:
    """Whose rule it is, in words: the plan's label, "Own" for a limit of the person's own."""
    return PLANS[key].label if key in PLANS else "Own" if key == OWN else key


def choose(key: str, wanted: Mapping[str, str]) -> dict[str, str]:
    """A plan's settings: what is wanted, else its defaults. Raises ValueError naming what there is."""
    return plan_called(key).choose(wanted)


def targets_for(key: str, facts: Facts, settings: Mapping[str, str] | None = None) -> list[Target]:
    """Draft targets of one plan for one person."""
    plan = plan_called(key)
    chosen = plan.choose(settings or {})
    if facts.is_child:
        return plan.child_targets_of(facts, chosen) if plan.child_targets_of else []
    return plan.targets_of(facts, chosen)


def missing_for(key: str, facts: Facts, settings: Mapping[str, str] | None = None) -> list[str]:
    """What is not known and keeps a plan from drafting, in words."""
    plan = plan_called(key)
    chosen = plan.choose(settings or {})
    if not facts.is_child:
        return plan.missing_of(facts, chosen)
    if plan.child_missing_of:
        return plan.child_missing_of(facts, chosen)
    if plan.child_targets_of or not plan.targets_of(_ADULT, chosen):
        return []
    if facts.age_years is None:
        return [f"the date of birth: under {ADULT_KG} kg it may be a child, and no figure of adults is drafted"]
    return ["what a pediatric dietitian sets: below 18 no figure of adults is drafted"]


def avoids_of(plans: Mapping[str, Mapping[str, str]]) -> dict[str, list[tuple[str, Avoid]]]:
    """What several plans keep out: tag -> (plan key, why), in the order of the plans."""
    found: dict[str, list[tuple[str, Avoid]]] = {}
    for key, settings in plans.items():
        for avoid in PLANS[key].avoids_of(choose(key, settings)):
            found.setdefault(avoid.tag, []).append((key, avoid))
    return found


def tallies_of(plans: Mapping[str, Mapping[str, str]]) -> list[Tally]:
    """What is counted for several plans; of one tally that two plans count, the first plan's counts."""
    found: dict[str, Tally] = {}
    for key, settings in plans.items():
        for tally in PLANS[key].tallies_of(settings):
            found.setdefault(tally.key, tally)
    return list(found.values())
