"""Kidney, on peritoneal dialysis. Figures from memory of KDOQI 2020; potassium is cleared every day: the loose end of the working range (common practice)."""

from collections.abc import Mapping

from ..gates import Target
from . import kidney
from .common import Facts, School

KEY = "kidney-peritoneal"
LABEL = "Kidney, on peritoneal dialysis"
SUMMARY = "More protein than before dialysis; sodium, potassium and phosphorus still limited."
SOURCES = (kidney.KDOQI,)
SCHOOLS = {
    "potassium": School(kidney.POTASSIUM.question, kidney.POTASSIUM.options, "3000"),
    "phosphorus": kidney.PHOSPHORUS,
    "phosphorus-count": kidney.PHOSPHORUS_COUNT,
}
STANCES = {"salt": "limit", "protein": "want", "potassium": "limit"}
HANDOUT = (
    "Protein is wanted now: the fluid takes some away every day.",
    "Sugar from the fluid counts as energy: ask the clinic how much of the day it covers.",
    "Phosphorus: words with “phos” in the ingredients are absorbed almost whole. Take binders as prescribed.",
    "Never star fruit. No salt substitute of potassium chloride.",
)


def targets(facts: Facts, schools: Mapping[str, str]) -> list[Target]:
    return kidney.on_dialysis(facts, schools, LABEL)


missing, avoids = kidney.missing, kidney.avoids
