"""Kidney, on peritoneal dialysis. Figures from memory of KDOQI 2020; potassium is cleared every day: the loose end
of the working range (common practice)."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans import kidney
from nutrition.limits.plans.common import Facts, Plan, shelves

KEY = "kidney-peritoneal"
TIGHT = kidney.TIGHT | {"potassium": 3000.0}
SCHOOLS = {
    "potassium": kidney.potassium_school("3,000 mg"),
    "phosphorus": kidney.PHOSPHORUS,
    "phosphorus-count": kidney.PHOSPHORUS_COUNT,
}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    return kidney.on_dialysis(facts, settings, KEY, TIGHT)


PLAN = Plan(
    key=KEY,
    label="Kidney, on peritoneal dialysis",
    summary="More protein than before dialysis; sodium, potassium and phosphorus still limited.",
    shelf=shelves.SALT,
    place=5,
    sources=(kidney.KDOQI,),
    schools=SCHOOLS,
    stances={"salt": "limit", "protein": "want", "potassium": "limit"},
    targets_of=targets,
    missing_of=lambda facts, settings: kidney.missing_at(("peritoneal",), facts, is_meant=True),
    not_limited_of=kidney.not_limited,
    excludes={"kidney-dialysis": "one is for hemodialysis, the other for peritoneal dialysis"},
    handout=(
        "Protein is wanted now: the fluid takes some away every day.",
        "Sugar from the fluid counts as energy: ask the clinic how much of the day it covers.",
        "Phosphorus: words with “phos” in the ingredients are absorbed almost whole. Take binders as prescribed.",
        "Never star fruit. No salt substitute of potassium chloride.",
    ),
    cautions=("potassium-chloride", "cream-of-tartar", "potassium-leavener", "star-fruit", "phosphate-additives"),
    tallies_of=kidney.tallies,
)
