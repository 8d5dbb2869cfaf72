"""Weight: energy shared over the meals. From memory of the documents named."""

from collections.abc import Mapping

from ..gates import Target
from .common import Facts, School

KEY = "weight"
LABEL = "Weight"
SUMMARY = "Energy shared over the meals; plenty of volume for the energy."
OBESITY = "AHA/ACC/TOS Guideline for the Management of Overweight and Obesity 2013: 500 to 750 kcal under the need"
SOURCES = (OBESITY, "energy density: common practice")
SCHOOLS = {
    "energy": School(
        "How much energy?",
        {
            "as-set": "the energy a day as it is set",
            "500": f"500 kcal under it - {OBESITY}",
            "250": "250 kcal under it",
        },
        "as-set",
    )
}
STANCES = {"fat": "limit"}
HANDOUT = (
    "Weigh the portion; the plate looks the same at half as much again.",
    "Vegetables, broth and fruit give volume for little energy: the card says how much 100 g of the dish holds.",
    "“Free from” something is not free of calories.",
)


def targets(facts: Facts, schools: Mapping[str, str]) -> list[Target]:
    if not facts.energy_kcal:
        return []
    under = 0 if schools["energy"] == "as-set" else float(schools["energy"])
    source = f"{under:g} kcal under the energy a day, {OBESITY}" if under else "the energy a day as it is set"
    return [Target("energy_kcal", maximum=max(facts.energy_kcal - under, 300), plan=LABEL, source=source)]


def missing(facts: Facts, schools: Mapping[str, str]) -> list[str]:
    return [] if facts.energy_kcal else ["energy a day: every meal is a share of it"]


def avoids(schools: Mapping[str, str]) -> tuple:
    return ()
