"""Breast-feeding: protein, carbohydrate, folate and energy on top. From memory of the DRI 1998 to 2023."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Facts, Plan, per_kg, shelves
from nutrition.limits.plans.pregnancy import energy

KEY = "breast-feeding"
DRI = "DRI 2005, lactation"
FOLATE = "DRI 1998, lactation"
#: kcal a day on top, in the first half year, when the body gives some of its own (DRI 2005).
MORE_KCAL = 330


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    if facts.weight_kg:
        protein = per_kg("protein_g", facts.weight_kg, 1.3, None, KEY, DRI)
    else:
        protein = Target("protein_g", minimum=71, plan=KEY, source=DRI)
    return [
        protein,
        Target("carbohydrate_g", minimum=210, plan=KEY, source=DRI),
        Target("folate_ug", minimum=500, plan=KEY, source=FOLATE),
        *energy(facts, MORE_KCAL, KEY, DRI),
    ]


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    return [] if facts.energy_kcal or facts.energy_need else ["sex, age, height and weight: energy goes by them"]


PLAN = Plan(
    key=KEY,
    label="Breast-feeding",
    summary="Protein, carbohydrate, folate and energy for two; alcohol, caffeine and mercury with care.",
    shelf=shelves.OTHER,
    place=1,
    sources=(DRI, FOLATE, "alcohol, caffeine and fish: NHS, FDA, EFSA, from memory"),
    stances={"protein": "want"},
    targets_of=targets,
    missing_of=missing,
    handout=(
        "Drink to thirst, a glass at each feed.",
        "Caffeine: at most 200 mg a day, about two small cups of coffee (EFSA).",
        "Alcohol goes into the milk; fish high in mercury is left out.",
    ),
    circumstances=("breast_feeding",),
)
