"""Low carbohydrate: less than 130 g a day or 26 % of energy. Feinman et al. 2015, from memory.

Fat is not limited here, and salt is not restricted unless another plan does.
"""

from collections.abc import Mapping

from ..gates import Target
from .common import CARBOHYDRATE_COUNT, CARBOHYDRATE_KEYS, LABEL_FORM, Facts, School

KEY = "low-carb"
LABEL = "Low carbohydrate"
SUMMARY = "Less than 130 g of carbohydrate a day; fat is not limited."
FEINMAN = "Feinman et al. 2015, Nutrition 31(1)"
SOURCES = (FEINMAN,)
SCHOOLS = {
    "limit": School(
        "Which limit?",
        {"130": "130 g a day", "26": "26 % of energy", "100": "100 g a day (common practice)"},
        "130",
    ),
    "count": CARBOHYDRATE_COUNT,
    "label": LABEL_FORM,
}
STANCES = {"carbohydrate": "limit", "fat": "fuel", "whole grains": "limit"}
HANDOUT = (
    "Bread, grains, potatoes, sugar and juice are where the carbohydrate is; vegetables above ground hold little.",
    "Natural sweeteners are still sugar.",
    "Tablets and insulin may need less: change them with the clinic only, before you start.",
)


def targets(facts: Facts, schools: Mapping[str, str]) -> list[Target]:
    nutrient = CARBOHYDRATE_KEYS[schools["count"]]
    if schools["limit"] == "26":
        if not facts.energy_kcal:
            return []
        return [Target(nutrient, maximum=0.26 * facts.energy_kcal / 4, plan=LABEL, source=f"26 % of energy, {FEINMAN}")]
    return [Target(nutrient, maximum=float(schools["limit"]), plan=LABEL, source=FEINMAN)]


def missing(facts: Facts, schools: Mapping[str, str]) -> list[str]:
    need = schools["limit"] == "26" and not facts.energy_kcal
    return ["energy need a day: the limit is a share of it"] if need else []


def avoids(schools: Mapping[str, str]) -> tuple:
    return ()
