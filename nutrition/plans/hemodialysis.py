"""Kidney, on hemodialysis. Figures from memory of KDOQI 2020; potassium builds up between sessions: the tight end of the working range (common practice)."""

from collections.abc import Mapping

from ..gates import Target
from . import kidney
from .common import Facts, per_kg

KEY = "kidney-dialysis"
LABEL = "Kidney, on hemodialysis"
SUMMARY = "More protein than before dialysis; sodium, potassium and phosphorus still limited."
SOURCES = (kidney.KDOQI,)
SCHOOLS = {
    "potassium": kidney.POTASSIUM,
    "phosphorus": kidney.PHOSPHORUS,
    "phosphorus-count": kidney.PHOSPHORUS_COUNT,
}
STANCES = {"salt": "limit", "protein": "want", "potassium": "limit"}
HANDOUT = (
    "Protein is wanted now: dialysis takes some away each time.",
    "What is drunk counts between sessions: soup, sauce and ice too. Less salt means less thirst.",
    "Phosphorus: words with “phos” in the ingredients are absorbed almost whole. Take binders as prescribed.",
    "Never star fruit. No salt substitute of potassium chloride.",
)


def targets(facts: Facts, schools: Mapping[str, str]) -> list[Target]:
    found = kidney.minerals(schools, LABEL)
    if facts.weight_kg:
        found.append(per_kg("protein_g", facts.weight_kg, 1.0, 1.2, LABEL, kidney.KDOQI))
        found.append(per_kg("energy_kcal", facts.weight_kg, 25, 35, LABEL, kidney.KDOQI))
    return found


def missing(facts: Facts, schools: Mapping[str, str]) -> list[str]:
    return [] if facts.weight_kg else ["body weight: protein and energy are set per kilogram"]


def avoids(schools: Mapping[str, str]) -> tuple:
    return ()
