"""Pregnancy: more protein, carbohydrate, folate and iron, and foods to leave out. From memory of the DRI 2001 to 2005."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Facts, Plan, per_kg, shelves

KEY = "pregnancy"
DRI = "DRI 2005, pregnancy"
MICRO = "DRI 1998 (folate) and 2001 (iron), pregnancy"


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    found = [
        Target("carbohydrate_g", minimum=175, plan=KEY, source=DRI),
        Target("folate_ug", minimum=600, plan=KEY, source=f"{MICRO}; a supplement counts"),
        Target("iron_mg", minimum=27, plan=KEY, source=f"{MICRO}; a supplement counts"),
    ]
    if facts.weight_kg:
        return [per_kg("protein_g", facts.weight_kg, 1.1, None, KEY, DRI), *found]
    return [Target("protein_g", minimum=71, plan=KEY, source=DRI), *found]


PLAN = Plan(
    key=KEY,
    label="Pregnancy",
    summary="Protein, carbohydrate, folate and iron for two, and what to leave out meanwhile.",
    shelf=shelves.OTHER,
    place=1,
    sources=(DRI, MICRO, "foods to leave out: NHS, FDA, from memory"),
    stances={"protein": "want"},
    targets_of=targets,
    handout=(
        "Folic acid, iron and iodine come as the clinic advises: food alone seldom holds enough.",
        "Caffeine: at most 200 mg a day, about two small cups of coffee (ACOG, EFSA).",
        "No alcohol, no liver, no fish high in mercury; soft cheese, smoked fish and cold meat only heated to steaming.",
    ),
    cautions=(),
    circumstances=("pregnant", "low_immunity", "no_alcohol"),
)
