"""Fluid: what a clinic allows a day. No figure is drafted without one. Common practice."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Facts, Plan, shelves

KEY = "fluid"
ACC = "AHA/ACC/HFSA Guideline for the Management of Heart Failure, 2022: the benefit is uncertain"
COUNTED = "what is liquid at room temperature counts, common practice"


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    if not facts.fluid_ml:
        return []
    return [
        Target("fluid_ml", maximum=facts.fluid_ml, plan=KEY, source=f"the allowance as the clinic set it; {COUNTED}")
    ]


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    return [] if facts.fluid_ml else ["the fluid allowance, as the clinic set it: nothing is assumed"]


PLAN = Plan(
    key=KEY,
    label="Fluid",
    summary="A day’s fluid, drinks and soups together, held to what the clinic allows.",
    shelf=shelves.SALT,
    place=7,
    sources=(ACC, COUNTED),
    stances={"fluid": "limit"},
    targets_of=targets,
    missing_of=missing,
    child_targets_of=targets,
    child_missing_of=missing,
    handout=(
        "What is liquid at room temperature counts: drinks, milk, soup, broth, ices, gelatin. Water that boils away is not taken off here.",
        "Less salt means less thirst. Small cups; ice and fruit from the freezer last longer, and the ice counts.",
    ),
)
