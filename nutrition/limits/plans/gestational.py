"""Gestational diabetes: carbohydrate spread over the day with a smaller breakfast. ADA Standards of Care, from memory."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import CARBOHYDRATE_COUNT, LABEL_FORM, Facts, Plan, shelves
from nutrition.limits.tallies import CARBOHYDRATE_KEYS, carbohydrate_counted, carbohydrate_tallies

KEY = "gestational-diabetes"
ADA = "ADA Standards of Care: at least 175 g carbohydrate, 71 g protein and 28 g fiber a day"
SPREAD = "how the day's 175 g and more are spread: common practice; ADA: individualize"
SCHOOLS = {"count": CARBOHYDRATE_COUNT, "label": LABEL_FORM}
#: Grams of carbohydrate by meal, least and most; two or three snacks a day.
MEALS = {"breakfast": (15, 30), "lunch": (45, 60), "dinner": (45, 60), "snack": (15, 30)}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    nutrient = CARBOHYDRATE_KEYS[carbohydrate_counted(settings)]
    spread = [Target(nutrient, low, high, "meal", KEY, SPREAD, meal) for meal, (low, high) in MEALS.items()]
    return [
        *spread,
        Target("protein_g", minimum=71, plan=KEY, source=ADA),
        Target("fiber_g", minimum=28, plan=KEY, source=ADA),
    ]


PLAN = Plan(
    key=KEY,
    label="Gestational diabetes",
    summary="Carbohydrate spread over three meals and two or three snacks, the least of it at breakfast.",
    shelf=shelves.SUGAR,
    place=5,
    sources=(ADA, SPREAD),
    schools=SCHOOLS,
    stances={"carbohydrate": "steady", "protein": "want", "whole grains": "want"},
    targets_of=targets,
    handout=(
        "At least 175 g of carbohydrate a day in all: it is spread, not left out.",
        "Breakfast is the smallest: blood sugar rises most in the morning.",
        "Two or three snacks, one of them before bed.",
        "Never change insulin or tablets because of this card: ask the clinic.",
    ),
    cautions=("natural-sweeteners",),
    circumstances=("pregnant", "low_immunity", "no_alcohol"),
    tallies_of=carbohydrate_tallies,
)
