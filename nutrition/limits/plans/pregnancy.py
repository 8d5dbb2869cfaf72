"""Pregnancy: more protein, carbohydrate, folate and iron, and foods to leave out. From memory of the DRI 2001 to 2023."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Facts, Plan, per_kg, shelves

KEY = "pregnancy"
DRI = "DRI 2005, pregnancy"
MICRO = "DRI 1998 (folate) and 2001 (iron), pregnancy"
#: kcal a day on top of what the body needs otherwise, by trimester (DRI 2005).
MORE_KCAL = {"pregnant-1": 0, "pregnant-2": 340, "pregnant-3": 452}


def energy(facts: Facts, more_kcal: float, plan: str, source: str) -> list[Target]:
    """What the body needs otherwise and what comes on top, where both are known."""
    need = facts.energy_need
    if need is None or facts.energy_kcal:  # what the clinic set stands
        return []
    said = f"{source}: {more_kcal:g} kcal on top of the need, hardly active (DRI 2023)"
    return [Target("energy_kcal", minimum=round(need.inactive + more_kcal), plan=plan, source=said)]


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    found = [
        Target("carbohydrate_g", minimum=175, plan=KEY, source=DRI),
        Target("folate_ug", minimum=600, plan=KEY, source=f"{MICRO}; a supplement counts"),
        Target("iron_mg", minimum=27, plan=KEY, source=f"{MICRO}; a supplement counts"),
    ]
    if facts.weight_kg:
        found.insert(0, per_kg("protein_g", facts.weight_kg, 1.1, None, KEY, DRI))
    else:
        found.insert(0, Target("protein_g", minimum=71, plan=KEY, source=DRI))
    if facts.life_stage in MORE_KCAL:
        found += energy(facts, MORE_KCAL[facts.life_stage], KEY, DRI)
    return found


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    lacks = [] if facts.life_stage in MORE_KCAL else ["the trimester: energy goes by it"]
    return lacks + (
        [] if facts.energy_kcal or facts.energy_need else ["sex, age, height and weight: energy goes by them"]
    )


PLAN = Plan(
    key=KEY,
    label="Pregnancy",
    summary="Protein, carbohydrate, folate and iron for two, and what to leave out meanwhile.",
    shelf=shelves.OTHER,
    place=1,
    sources=(DRI, MICRO, "foods to leave out: NHS, FDA, from memory"),
    stances={"protein": "want"},
    targets_of=targets,
    missing_of=missing,
    handout=(
        "Folic acid, iron and iodine come as the clinic advises: food alone seldom holds enough.",
        "Caffeine: at most 200 mg a day, about two small cups of coffee (ACOG, EFSA).",
        "No alcohol, no liver, no fish high in mercury; soft cheese, smoked fish and cold meat only heated to steaming.",
    ),
    cautions=(),
    circumstances=("pregnant", "low_immunity", "no_alcohol"),
)
