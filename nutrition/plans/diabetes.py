"""Diabetes with carbohydrate kept even from meal to meal. Figures from memory of the documents named.

The ranges are working values (common practice; ADA Standards of Care: individualize). No insulin doses.
"""

from collections.abc import Mapping

from ..gates import Target
from .common import Facts, School

KEY = "diabetes"
LABEL = "Diabetes"
SUMMARY = "An even amount of carbohydrate at each meal, and enough fiber."
CARBOHYDRATE = "working range, common practice; ADA Standards of Care: individualize"
FIBER = "14 g per 1,000 kcal, Dietary Guidelines for Americans 2020-2025"
_MAIN = {"45-60": (45, 60), "30-45": (30, 45), "60-75": (60, 75)}
SOURCES = (CARBOHYDRATE, FIBER)
SCHOOLS = {
    "carbohydrate": School(
        "Carbohydrate at a main meal?",
        {key: f"{low} to {high} g" for key, (low, high) in _MAIN.items()},
        "45-60",
    )
}


def targets(facts: Facts, schools: Mapping[str, str]) -> list[Target]:
    low, high = _MAIN[schools["carbohydrate"]]
    found = [
        Target("carbohydrate_g", low, high, "meal", LABEL, CARBOHYDRATE, meal)
        for meal in ("dinner", "lunch", "breakfast")
    ]
    found.append(Target("carbohydrate_g", 15, 20, "meal", LABEL, CARBOHYDRATE, "snack"))
    if facts.energy_kcal:
        found.append(Target("fiber_g", minimum=0.014 * facts.energy_kcal, plan=LABEL, source=FIBER))
    return found


def missing(facts: Facts) -> list[str]:
    return [] if facts.energy_kcal else ["energy need a day: fiber is set per 1,000 kcal"]
