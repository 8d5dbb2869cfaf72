"""Low protein with exchanges (phenylketonuria and kin). UK practice, from memory: 1 exchange = 1 g protein = 50 mg phenylalanine."""

from collections.abc import Mapping

from ..gates import Target
from .common import Facts, School

KEY = "low-protein"
LABEL = "Low protein, with exchanges"
SUMMARY = "Protein counted in exchanges of 1 g, as many a day as the clinic sets."
UK = "UK dietary practice in phenylketonuria: 1 exchange = 1 g protein = 50 mg phenylalanine"
SOURCES = (UK,)
SCHOOLS = {
    "exchanges": School(
        "Exchanges a day, from the clinic?",
        {"not-set": "not set yet"} | {str(n): f"{n} exchanges a day" for n in (*range(3, 21), 25, 30, 40)},
        "not-set",
    ),
    "protein-count": School(
        "What is counted?",
        {"protein": "protein, 1 g an exchange", "phenylalanine": "phenylalanine, 50 mg an exchange (estimated)"},
        "protein",
    ),
}
STANCES = {"protein": "limit"}
HANDOUT = (
    "Aspartame (E951) is a source of phenylalanine: not in drinks, gum, sweets or tablets.",
    "Prescribed low-protein flour, pasta and bread: enter them as printed on their label.",
    "The protein substitute stays as prescribed, whatever is on the plate.",
)


def targets(facts: Facts, schools: Mapping[str, str]) -> list[Target]:
    if schools["exchanges"] == "not-set":
        return []
    count = float(schools["exchanges"])
    source = f"{count:g} exchanges a day; {UK}"
    if schools["protein-count"] == "phenylalanine":
        return [Target("phenylalanine_mg", maximum=50 * count, plan=LABEL, source=source)]
    return [Target("protein_g", maximum=count, plan=LABEL, source=source)]


def missing(facts: Facts, schools: Mapping[str, str]) -> list[str]:
    return ["exchanges a day, as the clinic set them"] if schools["exchanges"] == "not-set" else []


def avoids(schools: Mapping[str, str]) -> tuple:
    return ()
