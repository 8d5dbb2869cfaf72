"""Very low carbohydrate: 20 to 50 g of non-fiber carbohydrate a day. Feinman et al. 2015, from memory.

Fat is the fuel and salt is wanted, not avoided (common practice); another plan that limits them is a conflict.
"""

from collections.abc import Mapping

from ..gates import Target
from .common import CARBOHYDRATE_COUNT, CARBOHYDRATE_KEYS, LABEL_FORM, Facts, School
from .low_carb import FEINMAN

KEY = "very-low-carb"
LABEL = "Very low carbohydrate"
SUMMARY = "20 to 50 g of carbohydrate a day, so that fat is the fuel; salt is wanted."
SOURCES = (FEINMAN,)
SCHOOLS = {
    "limit": School("Carbohydrate a day?", {"20": "20 g", "30": "30 g", "50": "50 g"}, "50"),
    "count": School(CARBOHYDRATE_COUNT.question, CARBOHYDRATE_COUNT.options, "less-fiber"),
    "label": LABEL_FORM,
}
STANCES = {"carbohydrate": "limit", "fat": "fuel", "salt": "want", "whole grains": "limit"}
HANDOUT = (
    "Count what is left after the fiber; sweeteners ending in -ol count half, erythritol not.",
    "Salt is wanted on this plan unless a doctor limits it.",
    "Tablets and insulin may need less: change them with the clinic only, before you start.",
)


def targets(facts: Facts, schools: Mapping[str, str]) -> list[Target]:
    nutrient = CARBOHYDRATE_KEYS[schools["count"]]
    return [Target(nutrient, maximum=float(schools["limit"]), plan=LABEL, source=f"20 to 50 g a day, {FEINMAN}")]


def missing(facts: Facts, schools: Mapping[str, str]) -> list[str]:
    return []


def avoids(schools: Mapping[str, str]) -> tuple:
    return ()
