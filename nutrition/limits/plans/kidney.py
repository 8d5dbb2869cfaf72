"""Chronic kidney disease, stages 3 to 5, before dialysis. Figures from memory of KDOQI 2020 and KDIGO 2024.

Potassium and phosphorus are set by blood results; what stands here are the tight ends of the working
ranges (2,000 to 3,000 mg and 800 to 1,000 mg a day, common practice) until a practitioner sets them.
"""

from collections.abc import Collection, Mapping
from types import MappingProxyType

from nutrition.limits.gates import Target
from nutrition.limits.person import EARLY_KIDNEY_STAGES, KIDNEY_STAGES
from nutrition.limits.plans.common import (
    Claimed,
    Facts,
    NotLimited,
    Plan,
    School,
    per_kg,
    shelves,
)
from nutrition.limits.tallies import POTASSIUM_PORTIONS, SODIUM_PORTIONS, Tally

KDOQI = "KDOQI Clinical Practice Guideline for Nutrition in CKD, 2020"
KDIGO = "KDIGO 2024 Clinical Practice Guideline for CKD"
#: Less than this a kilogram only with a dietitian and supplements (KDOQI 2020: 0.55 to 0.60).
KDIGO_FLOOR = 0.6
WORKING = "working value, common practice; blood results decide"
ABSORBED = "half of the working value: a mixed diet absorbs about half, common practice; Kalantar-Zadeh 2010"
#: Where blood results decide, and one is too high or not known: the tight ends, in mg.
TIGHT = {"potassium": 2000.0, "phosphorus": 800.0}


def potassium_school(tight: str) -> School:
    """How potassium is limited. `tight`: what stands where a result is too high or not known, in words."""
    by_bloods = f"as the last result says: {tight} when it is high or not known, else not limited - {KDOQI}; {KDIGO}"
    fixed = {"2000": "2,000 mg", "2500": "2,500 mg", "3000": "3,000 mg", "free": "not limited"}
    return School("Potassium a day?", {"bloods": by_bloods, **fixed}, "bloods")


POTASSIUM = potassium_school("2,000 mg")
PHOSPHORUS = School(
    "Phosphorus a day?",
    {
        "bloods": f"as the last result says: 800 mg when it is high or not known, else not limited - {KDOQI}",
        "800": "800 mg",
        "900": "900 mg",
        "1000": "1,000 mg",
        "free": "not limited",
    },
    "bloods",
)
#: setting -> (what the blood is tested for, what of the food it limits)
BY_BLOODS = {"potassium": ("potassium", "potassium_mg"), "phosphorus": ("phosphate", "phosphorus_mg")}
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


def _limit(facts: Facts, setting: str, of: str, tight: float) -> tuple[float | None, str]:
    """What is limited by a setting or by the blood result `of`, in mg a day, None where it is not; and why."""
    if setting == "free":
        return None, ""
    if setting != "bloods":
        return float(setting), ""
    decision = facts.decide(of)
    return tight if decision.is_limited else None, f"; {decision.why}"


def is_absorbed(settings: Mapping[str, str]) -> bool:
    """Whether phosphorus counts as it is absorbed."""
    return settings["phosphorus-count"] == "absorbed"


def minerals(
    facts: Facts, settings: Mapping[str, str], plan: str, tight: Mapping[str, float] = MappingProxyType(TIGHT)
) -> list[Target]:
    """Sodium, potassium and phosphorus, as every kidney plan has them. `tight`: where results do not allow more."""
    found = [Target("sodium_mg", maximum=2300, plan=plan, source=KDOQI)]
    potassium, why = _limit(facts, settings["potassium"], "potassium", tight["potassium"])
    if potassium is not None:
        found.append(Target("potassium_mg", maximum=potassium, plan=plan, source=WORKING + why))
    phosphorus, why = _limit(facts, settings["phosphorus"], "phosphate", tight["phosphorus"])
    if phosphorus is not None and is_absorbed(settings):
        found.append(Target("absorbed_phosphorus_mg", maximum=phosphorus / 2, plan=plan, source=ABSORBED + why))
    elif phosphorus is not None:
        found.append(Target("phosphorus_mg", maximum=phosphorus, plan=plan, source=WORKING + why))
    return found


def not_limited(facts: Facts, settings: Mapping[str, str]) -> list[NotLimited]:
    """What goes by the last results, should no limit stand on it; in doubt where they do not leave it free."""
    found = []
    for name, (of, nutrient) in BY_BLOODS.items():
        if settings[name] == "bloods":
            counted = "absorbed_phosphorus_mg" if of == "phosphate" and is_absorbed(settings) else nutrient
            decision = facts.decide(of)
            found.append(NotLimited(counted, decision.why, decision.is_limited))
    return found


def on_dialysis(
    facts: Facts, settings: Mapping[str, str], plan: str, tight: Mapping[str, float] = MappingProxyType(TIGHT)
) -> list[Target]:
    """Targets on hemodialysis or peritoneal dialysis: protein 1.0 to 1.2 g/kg, energy 25 to 35 kcal/kg (KDOQI 2020)."""
    found = minerals(facts, settings, plan, tight)
    if facts.weight_kg and is_their_plan(facts, STAGE_OF[plan], is_meant=True):
        # A goal with a floor: a little more is no reason to shut a gate.
        found.append(per_kg("protein_g", facts.weight_kg, 1.0, None, plan, f"goal 1.0 to 1.2 g/kg, {KDOQI}"))
        found.append(per_kg("energy_kcal", facts.weight_kg, 25, 35, plan, KDOQI))
    return found


def _protein(facts: Facts, weight_kg: float, school: str) -> Target:
    if facts.kidney_stage in EARLY_KIDNEY_STAGES:
        return per_kg("protein_g", weight_kg, None, 1.3, KEY, f"stage {facts.kidney_stage}: no more than that, {KDIGO}")
    if school == "kdigo":
        return per_kg("protein_g", weight_kg, KDIGO_FLOOR, 0.8, KEY, f"{KDIGO}; floor: {KDOQI}")
    low, high = (0.6, 0.8) if "diabetes" in facts.plans else (0.55, 0.60)
    return per_kg("protein_g", weight_kg, low, high, KEY, KDOQI)


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    found = minerals(facts, settings, KEY)
    if facts.weight_kg and is_their_plan(facts, OTHERS, is_meant=False):
        found.append(_protein(facts, facts.weight_kg, settings["protein"]))
        found.append(per_kg("energy_kcal", facts.weight_kg, 25, 35, KEY, KDOQI))
    return found


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    return missing_at(OTHERS, facts, is_meant=False)


#: Stages that ask for something else than this plan; and the stage each plan of dialysis is for.
OTHERS = ("hemodialysis", "peritoneal", "transplant")
STAGE_OF = {"kidney-dialysis": ("hemodialysis",), "kidney-peritoneal": ("peritoneal",)}


def is_their_plan(facts: Facts, stages: Collection[str], is_meant: bool) -> bool:
    """Whether a kidney plan is the one for their kidneys, as far as the stage is known. `is_meant`: it is for these stages, else for
    every other. Where another is asked for, this one drafts no protein and no energy: they would be of the wrong side of dialysis."""
    return not facts.kidney_stage or (facts.kidney_stage in stages) == is_meant


def missing_at(stages: Collection[str], facts: Facts, is_meant: bool) -> list[str]:
    """What a kidney plan lacks. `is_meant`: it is for these stages, else for every other."""
    lacks = [] if facts.weight_kg else ["body weight: protein and energy are set per kilogram"]
    if not is_their_plan(facts, stages, is_meant):
        lacks.append(
            f"another plan in its place: “{KIDNEY_STAGES[facts.kidney_stage]}” is said of their kidneys, so no protein and no energy is "
            "drafted here"
        )
    return lacks


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
    not_limited_of=not_limited,
    excludes={
        "kidney-dialysis": "one is for before dialysis, the other for after it has begun",
        "kidney-peritoneal": "one is for before dialysis, the other for after it has begun",
    },
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
