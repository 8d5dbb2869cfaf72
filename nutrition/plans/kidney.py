"""Chronic kidney disease, stages 3 to 5, before dialysis. Figures from memory of KDOQI 2020 and KDIGO 2024.

Potassium and phosphorus are set by blood results; what stands here are the tight ends of the working
ranges (2,000 to 3,000 mg and 800 to 1,000 mg a day, common practice) until a practitioner sets them.
"""

from collections.abc import Mapping

from ..gates import Target
from .common import Facts, School, per_kg

KEY = "kidney"
LABEL = "Kidney, before dialysis"
SUMMARY = "Protein held low, sodium, potassium and phosphorus within what the kidneys can clear."
KDOQI = "KDOQI Clinical Practice Guideline for Nutrition in CKD, 2020"
KDIGO = "KDIGO 2024 Clinical Practice Guideline for CKD"
WORKING = "working value, common practice; blood results decide"
ABSORBED = "half of the working value: a mixed diet absorbs about half, common practice; Kalantar-Zadeh 2010"
SOURCES = (KDOQI, KDIGO)
POTASSIUM = School(
    "Potassium a day?",
    {"2000": "2,000 mg", "2500": "2,500 mg", "3000": "3,000 mg", "free": "not limited"},
    "2000",
)
PHOSPHORUS = School(
    "Phosphorus a day?", {"800": "800 mg", "900": "900 mg", "1000": "1,000 mg", "free": "not limited"}, "800"
)
PHOSPHORUS_COUNT = School(
    "How is phosphorus counted?",
    {
        "plain": "as a plain sum",
        "absorbed": "as absorbed: plants 20 to 40 %, animal foods 40 to 60 %, additives over 90 %",
    },
    "plain",
)
SCHOOLS = {
    "protein": School(
        "How much protein?",
        {
            "kdoqi": f"0.55 to 0.60 g/kg a day, 0.6 to 0.8 with diabetes - {KDOQI}",
            "kdigo": f"0.8 g/kg a day - {KDIGO}",
        },
        "kdoqi",
    ),
    "potassium": POTASSIUM,
    "phosphorus": PHOSPHORUS,
    "phosphorus-count": PHOSPHORUS_COUNT,
}
STANCES = {"salt": "limit", "protein": "limit", "potassium": "limit"}
HANDOUT = (
    "Potassium: boil cut vegetables in plenty of water and pour it off; keep portions as weighed.",
    "Phosphorus: words with “phos” in the ingredients are absorbed almost whole; choose goods without them.",
    "Never star fruit. No salt substitute of potassium chloride.",
    "Blood results decide: ask the clinic before you loosen or tighten any of this.",
)


def minerals(schools: Mapping[str, str], plan: str) -> list[Target]:
    """Sodium, potassium and phosphorus, as every kidney plan has them."""
    found = [Target("sodium_mg", maximum=2300, plan=plan, source=KDOQI)]
    if schools["potassium"] != "free":
        found.append(Target("potassium_mg", maximum=float(schools["potassium"]), plan=plan, source=WORKING))
    if schools["phosphorus"] != "free":
        limit = float(schools["phosphorus"])
        if schools["phosphorus-count"] == "absorbed":
            found.append(Target("absorbed_phosphorus_mg", maximum=limit / 2, plan=plan, source=ABSORBED))
        else:
            found.append(Target("phosphorus_mg", maximum=limit, plan=plan, source=WORKING))
    return found


def on_dialysis(facts: Facts, schools: Mapping[str, str], plan: str) -> list[Target]:
    """Targets on hemodialysis or peritoneal dialysis: protein 1.0 to 1.2 g/kg, energy 25 to 35 kcal/kg (KDOQI 2020)."""
    found = minerals(schools, plan)
    if facts.weight_kg:
        found.append(per_kg("protein_g", facts.weight_kg, 1.0, 1.2, plan, KDOQI))
        found.append(per_kg("energy_kcal", facts.weight_kg, 25, 35, plan, KDOQI))
    return found


def _protein(facts: Facts, school: str) -> Target:
    if school == "kdigo":
        return per_kg("protein_g", facts.weight_kg, None, 0.8, LABEL, KDIGO)
    low, high = (0.6, 0.8) if "diabetes" in facts.plans else (0.55, 0.60)
    return per_kg("protein_g", facts.weight_kg, low, high, LABEL, KDOQI)


def targets(facts: Facts, schools: Mapping[str, str]) -> list[Target]:
    found = minerals(schools, LABEL)
    if facts.weight_kg:
        found.append(_protein(facts, schools["protein"]))
        found.append(per_kg("energy_kcal", facts.weight_kg, 25, 35, LABEL, KDOQI))
    return found


def missing(facts: Facts, schools: Mapping[str, str]) -> list[str]:
    return [] if facts.weight_kg else ["body weight: protein and energy are set per kilogram"]


def avoids(schools: Mapping[str, str]) -> tuple:
    return ()
