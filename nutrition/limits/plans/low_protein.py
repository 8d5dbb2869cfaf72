"""Low protein with exchanges (phenylketonuria and kin). UK practice, from memory: 1 exchange = 1 g protein = 50 mg
phenylalanine."""

from collections.abc import Mapping
from dataclasses import replace

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Claimed, Facts, Plan, School, shelves
from nutrition.limits.tallies import PHENYLALANINE_EXCHANGES, PROTEIN_EXCHANGES, Tally

KEY = "low-protein"
UK = "UK dietary practice in phenylketonuria: 1 exchange = 1 g protein = 50 mg phenylalanine"
FREE = "MacDonald et al. 2011, Orphanet J Rare Dis 6; UK practice"
SCHOOLS = {
    "exchanges": School(
        "Exchanges a day, from the clinic?",
        {"not-set": "not set yet"} | {str(n): f"{n} exchanges a day" for n in (*range(3, 21), 25, 30, 40)},
        "not-set",
    ),
    "protein-count": School(
        "What is counted?",
        {
            "protein": "protein, 1 g an exchange",
            "free-plants": f"protein; plain fruit and vegetables up to 75 mg phenylalanine in 100 g are free - {FREE}",
            "phenylalanine": "phenylalanine, 50 mg an exchange (estimated by food group)",
        },
        "protein",
    ),
}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    if settings["exchanges"] == "not-set":
        return []
    count = float(settings["exchanges"])
    source = f"{count:g} exchanges a day; {UK}"
    if settings["protein-count"] == "phenylalanine":
        return [Target("phenylalanine_mg", maximum=50 * count, plan=KEY, source=source)]
    if settings["protein-count"] == "free-plants":
        return [Target("counted_protein_g", maximum=count, plan=KEY, source=f"{source}; {FREE}")]
    return [Target("protein_g", maximum=count, plan=KEY, source=source)]


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    return ["exchanges a day, as the clinic set them"] if settings["exchanges"] == "not-set" else []


def tallies(settings: Mapping[str, str]) -> list[Tally]:
    daily = None if settings.get("exchanges", "not-set") == "not-set" else float(settings["exchanges"])
    counted = PROTEIN_EXCHANGES
    if settings.get("protein-count") == "free-plants":
        counted = replace(counted, formula={"counted_protein_g": 1.0}, source=f"{UK}; {FREE}")
    return [replace(counted, daily=daily), PHENYLALANINE_EXCHANGES]


PLAN = Plan(
    key=KEY,
    label="Low protein, with exchanges",
    summary="Protein counted in exchanges of 1 g, as many a day as the clinic sets.",
    shelf=shelves.GUT,
    place=4,
    sources=(UK,),
    schools=SCHOOLS,
    stances={"protein": "limit"},
    excludes={"enrichment": "one adds protein, the other counts every gram of it"},
    targets_of=targets,
    child_targets_of=targets,
    missing_of=missing,
    child_missing_of=missing,
    handout=(
        "Aspartame (E951) is a source of phenylalanine: not in drinks, gum, sweets or tablets.",
        "Prescribed low-protein flour, pasta and bread: enter them as printed on their label.",
        "The protein substitute stays as prescribed, whatever is on the plate.",
    ),
    cautions=("aspartame",),
    claims=(Claimed("pku-friendly", r"\bpku\b|phenylketonuria"),),
    tallies_of=tallies,
)
