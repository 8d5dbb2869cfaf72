"""Low carbohydrate: less than 130 g a day or 26 % of energy. Feinman et al. 2015, from memory.

Fat is not limited here, and salt is not restricted unless another plan does.
"""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import (
    CARBOHYDRATE_COUNT,
    LABEL_FORM,
    Claimed,
    Facts,
    Plan,
    School,
    shelves,
)
from nutrition.limits.tallies import CARBOHYDRATE_KEYS, carbohydrate_counted, carbohydrate_tallies

KEY = "low-carb"
FEINMAN = "Feinman et al. 2015, Nutrition 31(1)"
SCHOOLS = {
    "limit": School(
        "Which limit?",
        {"130": "130 g a day", "26": "26 % of energy", "100": "100 g a day (common practice)"},
        "130",
    ),
    "count": CARBOHYDRATE_COUNT,
    "label": LABEL_FORM,
}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    nutrient = CARBOHYDRATE_KEYS[carbohydrate_counted(settings)]
    if settings["limit"] == "26":
        if not facts.energy_kcal:
            return []
        return [Target(nutrient, maximum=0.26 * facts.energy_kcal / 4, plan=KEY, source=f"26 % of energy, {FEINMAN}")]
    return [Target(nutrient, maximum=float(settings["limit"]), plan=KEY, source=FEINMAN)]


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    need = settings["limit"] == "26" and not facts.energy_kcal
    return ["energy need a day: the limit is a share of it"] if need else []


PLAN = Plan(
    key=KEY,
    label="Low carbohydrate",
    summary="Less than 130 g of carbohydrate a day; fat is not limited.",
    shelf=shelves.SUGAR,
    place=2,
    sources=(FEINMAN,),
    schools=SCHOOLS,
    stances={"carbohydrate": "limit", "fat": "fuel", "whole grains": "limit"},
    targets_of=targets,
    missing_of=missing,
    handout=(
        "Bread, grains, potatoes, sugar and juice are where the carbohydrate is; vegetables above ground hold little.",
        "Natural sweeteners are still sugar.",
        "Tablets and insulin may need less: change them with the clinic only, before you start.",
    ),
    cautions=("natural-sweeteners", "low-carb-medicine", "low-carb-sglt2", "low-carb-general"),
    claims=(Claimed("low-carb", r"low[- ]carb(?:ohydrate)?s?\b"),),
    tallies_of=carbohydrate_tallies,
)
