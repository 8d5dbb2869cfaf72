"""Chronic kidney disease, stages 3 to 5, before dialysis. Figures from memory of KDOQI 2020 and KDIGO 2024.

Potassium and phosphorus are set by blood results; what stands here are the tight ends of the working
ranges (2,000 to 3,000 mg and 800 to 1,000 mg a day, common practice) until a practitioner sets them.
"""

from collections.abc import Mapping

from ..gates import Target
from .common import Facts, School

KEY = "kidney"
LABEL = "Kidney, before dialysis"
SUMMARY = "Protein held low, sodium, potassium and phosphorus within what the kidneys can clear."
KDOQI = "KDOQI Clinical Practice Guideline for Nutrition in CKD, 2020"
KDIGO = "KDIGO 2024 Clinical Practice Guideline for CKD"
WORKING = "working value, common practice; blood results decide"
SOURCES = (KDOQI, KDIGO)
SCHOOLS = {
    "protein": School(
        "How much protein?",
        {
            "kdoqi": f"0.55 to 0.60 g/kg a day, 0.6 to 0.8 with diabetes - {KDOQI}",
            "kdigo": f"0.8 g/kg a day - {KDIGO}",
        },
        "kdoqi",
    ),
    "potassium": School(
        "Potassium a day?",
        {"2000": "2,000 mg", "2500": "2,500 mg", "3000": "3,000 mg", "free": "not limited"},
        "2000",
    ),
    "phosphorus": School(
        "Phosphorus a day?", {"800": "800 mg", "900": "900 mg", "1000": "1,000 mg", "free": "not limited"}, "800"
    ),
}


def _protein(facts: Facts, school: str) -> Target:
    weight = facts.weight_kg
    if school == "kdigo":
        return Target("protein_g", maximum=0.8 * weight, plan=LABEL, source=f"0.8 g/kg, {KDIGO}")
    low, high = (0.6, 0.8) if "diabetes" in facts.plans else (0.55, 0.60)
    source = f"{low:g} to {high:g} g/kg, {KDOQI}"
    return Target("protein_g", minimum=low * weight, maximum=high * weight, plan=LABEL, source=source)


def targets(facts: Facts, schools: Mapping[str, str]) -> list[Target]:
    found = [Target("sodium_mg", maximum=2300, plan=LABEL, source=KDOQI)]
    for nutrient, school in (("potassium_mg", "potassium"), ("phosphorus_mg", "phosphorus")):
        if schools[school] != "free":
            found.append(Target(nutrient, maximum=float(schools[school]), plan=LABEL, source=WORKING))
    if facts.weight_kg:
        found.append(_protein(facts, schools["protein"]))
        low, high = 25 * facts.weight_kg, 35 * facts.weight_kg
        found.append(Target("energy_kcal", minimum=low, maximum=high, plan=LABEL, source=f"25 to 35 kcal/kg, {KDOQI}"))
    return found


def missing(facts: Facts) -> list[str]:
    return [] if facts.weight_kg else ["body weight: protein and energy are set per kilogram"]
