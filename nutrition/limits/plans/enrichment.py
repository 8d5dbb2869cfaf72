"""Energy and protein for whoever loses weight, is old or ill. ESPEN 2019, from memory."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Facts, Plan, School, per_kg, shelves

KEY = "enrichment"
ESPEN = "ESPEN guideline on clinical nutrition and hydration in geriatrics, 2019"
_PROTEIN = {"1.0": (1.0, "at least 1.0 g/kg"), "1.2": (1.2, "1.2 to 1.5 g/kg, with illness")}
SCHOOLS = {
    "protein": School("How much protein?", {key: f"{words} - {ESPEN}" for key, (_, words) in _PROTEIN.items()}, "1.2")
}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    if not facts.weight_kg:
        return []
    least, words = _PROTEIN[settings["protein"]]
    return [
        per_kg("protein_g", facts.weight_kg, least, None, KEY, f"goal {words}, {ESPEN}"),
        per_kg("energy_kcal", facts.weight_kg, 30, None, KEY, f"about 30 kcal/kg, {ESPEN}"),
    ]


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    return [] if facts.weight_kg else ["body weight: protein and energy are set per kilogram"]


PLAN = Plan(
    key=KEY,
    label="Enrichment, energy and protein",
    summary="More energy and protein in the same or a smaller portion.",
    shelf=shelves.OTHER,
    place=2,
    sources=(ESPEN,),
    schools=SCHOOLS,
    stances={"protein": "want"},
    targets_of=targets,
    missing_of=missing,
    handout=(
        "Small portions, often: cream, butter, oil, egg, milk powder, cheese or ground nuts go in where they are not noticed.",
        "Drink after the meal rather than before it.",
    ),
)
