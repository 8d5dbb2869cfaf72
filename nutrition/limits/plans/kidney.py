"""Chronic kidney disease, stages 3 to 5, before dialysis. Figures from memory of KDOQI 2020 and KDIGO 2024.

Potassium and phosphorus are set by blood results; what stands here are the tight ends of the working
ranges (2,000 to 3,000 mg and 800 to 1,000 mg a day, common practice) until a practitioner sets them.
"""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Claimed, Facts, Plan, School, per_kg, shelves
from nutrition.limits.tallies import POTASSIUM_PORTIONS, SODIUM_PORTIONS, Tally

KDOQI = "KDOQI Clinical Practice Guideline for Nutrition in CKD, 2020"
KDIGO = "KDIGO 2024 Clinical Practice Guideline for CKD"
#: Less than this a kilogram only with a dietitian and supplements (KDOQI 2020: 0.55 to 0.60).
KDIGO_FLOOR = 0.6
WORKING = "working value, common practice; blood results decide"
ABSORBED = "half of the working value: a mixed diet absorbs about half, common practice; Kalantar-Zadeh 2010"
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

KEY = "kidney"
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


def minerals(settings: Mapping[str, str], plan: str) -> list[Target]:
    """Sodium, potassium and phosphorus, as every kidney plan has them."""
    found = [Target("sodium_mg", maximum=2300, plan=plan, source=KDOQI)]
    if settings["potassium"] != "free":
        found.append(Target("potassium_mg", maximum=float(settings["potassium"]), plan=plan, source=WORKING))
    if settings["phosphorus"] != "free":
        limit = float(settings["phosphorus"])
        if settings["phosphorus-count"] == "absorbed":
            found.append(Target("absorbed_phosphorus_mg", maximum=limit / 2, plan=plan, source=ABSORBED))
        else:
            found.append(Target("phosphorus_mg", maximum=limit, plan=plan, source=WORKING))
    return found


def on_dialysis(facts: Facts, settings: Mapping[str, str], plan: str) -> list[Target]:
    """Targets on hemodialysis or peritoneal dialysis: protein 1.0 to 1.2 g/kg, energy 25 to 35 kcal/kg (KDOQI 2020)."""
    found = minerals(settings, plan)
    if facts.weight_kg:
        # A goal with a floor: a little more is no reason to shut a gate.
        found.append(per_kg("protein_g", facts.weight_kg, 1.0, None, plan, f"goal 1.0 to 1.2 g/kg, {KDOQI}"))
        found.append(per_kg("energy_kcal", facts.weight_kg, 25, 35, plan, KDOQI))
    return found


def _protein(facts: Facts, weight_kg: float, school: str) -> Target:
    if school == "kdigo":
        return per_kg("protein_g", weight_kg, KDIGO_FLOOR, 0.8, KEY, f"{KDIGO}; floor: {KDOQI}")
    low, high = (0.6, 0.8) if "diabetes" in facts.plans else (0.55, 0.60)
    return per_kg("protein_g", weight_kg, low, high, KEY, KDOQI)


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    found = minerals(settings, KEY)
    if facts.weight_kg:
        found.append(_protein(facts, facts.weight_kg, settings["protein"]))
        found.append(per_kg("energy_kcal", facts.weight_kg, 25, 35, KEY, KDOQI))
    return found


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    return [] if facts.weight_kg else ["body weight: protein and energy are set per kilogram"]


def tallies(settings: Mapping[str, str]) -> list[Tally]:
    return [POTASSIUM_PORTIONS, SODIUM_PORTIONS]


PLAN = Plan(
    key=KEY,
    label="Kidney, before dialysis",
    summary="Protein held low, sodium, potassium and phosphorus within what the kidneys can clear.",
    shelf=shelves.SALT,
    place=3,
    sources=(KDOQI, KDIGO),
    schools=SCHOOLS,
    stances={"salt": "limit", "protein": "limit", "potassium": "limit"},
    targets_of=targets,
    missing_of=missing,
    handout=(
        "Potassium: boil cut vegetables in plenty of water and pour it off; keep portions as weighed.",
        "Phosphorus: words with “phos” in the ingredients are absorbed almost whole; choose goods without them.",
        "Never star fruit. No salt substitute of potassium chloride.",
        "Blood results decide: ask the clinic before you loosen or tighten any of this.",
    ),
    cautions=("potassium-chloride", "cream-of-tartar", "potassium-leavener", "star-fruit", "phosphate-additives"),
    claims=(
        Claimed(
            "kidney-friendly",
            r"(?:kidney|renal|ckd)[- ](?:friendly|safe|diet)|(?:suitable )?for (?:people with )?(?:kidney|renal|ckd|dialysis)\b(?! beans?)",
        ),
    ),
    tallies_of=tallies,
    depends_on=frozenset({"diabetes"}),
)
