"""Fructose malabsorption: fructose above glucose, and sorbitol with it, held to a sitting. Common practice."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Facts, Plan, shelves

KEY = "fructose"
SOURCE = "fructose above glucose, cut-off a sitting: Varney et al. 2017; common practice"


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    return [
        Target("fructose_load", maximum=1.0, scope="meal", plan=KEY, source=SOURCE),
        Target("sorbitol_load", maximum=1.0, scope="meal", plan=KEY, source=f"sorbitol adds to it; {SOURCE}"),
    ]


PLAN = Plan(
    key=KEY,
    label="Fructose malabsorption",
    summary="Fructose above glucose, and sorbitol, held to what one sitting bears. Not for hereditary fructose intolerance.",
    shelf=shelves.GUT,
    place=7,
    sources=(SOURCE,),
    targets_of=targets,
    child_targets_of=targets,
    handout=(
        "Fruit with as much glucose as fructose sits better: banana, berries, citrus; with a meal rather than alone.",
        "Apple, pear, mango, honey, agave and juices hold more fructose than glucose. Sorbitol makes it worse.",
        "Hereditary fructose intolerance is another thing, and dangerous: this plan is not for it.",
    ),
    cautions=("fructose-sweeteners",),
)
