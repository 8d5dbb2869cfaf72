"""Kidney, on hemodialysis. Figures from memory of KDOQI 2020; potassium builds up between sessions: the tight end of the working range (common practice)."""

from collections.abc import Mapping

from ..gates import Target
from . import kidney
from .common import Facts

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
    return kidney.on_dialysis(facts, schools, LABEL)


missing, avoids = kidney.missing, kidney.avoids
