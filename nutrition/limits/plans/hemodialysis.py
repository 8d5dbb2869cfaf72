"""Kidney, on hemodialysis. Figures from memory of KDOQI 2020; potassium builds up between sessions: the tight end of
the working range (common practice)."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans import kidney
from nutrition.limits.plans.common import Facts, Plan, shelves

KEY = "kidney-dialysis"
SCHOOLS = {
    "potassium": kidney.POTASSIUM,
    "phosphorus": kidney.PHOSPHORUS,
    "phosphorus-count": kidney.PHOSPHORUS_COUNT,
}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    return kidney.on_dialysis(facts, settings, KEY)


PLAN = Plan(
    key=KEY,
    label="Kidney, on hemodialysis",
    summary="More protein than before dialysis; sodium, potassium and phosphorus still limited.",
    shelf=shelves.SALT,
    place=4,
    sources=(kidney.KDOQI,),
    schools=SCHOOLS,
    stances={"salt": "limit", "protein": "want", "potassium": "limit"},
    targets_of=targets,
    missing_of=lambda facts, settings: kidney.missing_at(("hemodialysis",), facts, is_meant=True),
    not_limited_of=kidney.not_limited,
    excludes={"kidney-peritoneal": "one is for hemodialysis, the other for peritoneal dialysis"},
    handout=(
        "Protein is wanted now: dialysis takes some away each time.",
        "What is drunk counts between sessions: soup, sauce and ice too. Less salt means less thirst.",
        "Phosphorus: words with “phos” in the ingredients are absorbed almost whole. Take binders as prescribed.",
        "Never star fruit. No salt substitute of potassium chloride.",
    ),
    cautions=("potassium-chloride", "cream-of-tartar", "potassium-leavener", "star-fruit", "phosphate-additives"),
    tallies_of=kidney.tallies,
)
