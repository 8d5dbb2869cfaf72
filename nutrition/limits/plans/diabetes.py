"""Diabetes with carbohydrate kept even from meal to meal. Figures from memory of the documents named.

The ranges are working values (common practice; ADA Standards of Care: individualize). No insulin doses.
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

KEY = "diabetes"
CARBOHYDRATE = "working range, common practice; ADA Standards of Care: individualize"
FIBER = "14 g per 1,000 kcal, Dietary Guidelines for Americans 2020-2025"
_MAIN = {"45-60": (45, 60), "30-45": (30, 45), "60-75": (60, 75)}
SCHOOLS = {
    "carbohydrate": School(
        "Carbohydrate at a main meal?",
        {key: f"{low} to {high} g" for key, (low, high) in _MAIN.items()},
        "45-60",
    ),
    "count": CARBOHYDRATE_COUNT,
    "portion": School(
        "How big is a carbohydrate portion?",
        {"15": "15 g (US)", "10": "10 g (UK)"},
        "15",
    ),
    "label": LABEL_FORM,
}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    low, high = _MAIN[settings["carbohydrate"]]
    nutrient = CARBOHYDRATE_KEYS[carbohydrate_counted(settings)]
    found = [Target(nutrient, low, high, "meal", KEY, CARBOHYDRATE, meal) for meal in ("dinner", "lunch", "breakfast")]
    found.append(Target(nutrient, 15, 20, "meal", KEY, CARBOHYDRATE, "snack"))
    if facts.energy_kcal:
        found.append(Target("fiber_g", minimum=0.014 * facts.energy_kcal, plan=KEY, source=FIBER))
    return found


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    return [] if facts.energy_kcal else ["energy need a day: fiber is set per 1,000 kcal"]


PLAN = Plan(
    key=KEY,
    label="Diabetes",
    summary="An even amount of carbohydrate at each meal, and enough fiber.",
    shelf=shelves.SUGAR,
    place=1,
    sources=(CARBOHYDRATE, FIBER),
    schools=SCHOOLS,
    stances={"carbohydrate": "steady", "whole grains": "want"},
    targets_of=targets,
    missing_of=missing,
    handout=(
        "Keep carbohydrate about the same from day to day at each meal.",
        "Honey, syrup, coconut sugar and fruit juice count like sugar.",
        "Never change insulin or tablets because of this card: ask the clinic.",
    ),
    cautions=("natural-sweeteners",),
    claims=(
        Claimed(
            "diabetic-friendly",
            r"diabet(?:ic|es)[- ](?:friendly|safe)|(?:suitable )?for (?:people with )?diabet(?:ics?|es)|\bdiabetic\b",
        ),
    ),
    tallies_of=carbohydrate_tallies,
)
