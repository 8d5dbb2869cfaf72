"""Weight: energy shared over the meals. From memory of the documents named."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.life import LEAST_ENERGY_KCAL, LITTLE_ENERGY_KCAL
from nutrition.limits.plans.common import Facts, Plan, School, shelves

KEY = "weight"
OBESITY = "AHA/ACC/TOS Guideline for the Management of Overweight and Obesity 2013: 500 to 750 kcal under the need"
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


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    if not facts.energy_kcal:
        return []
    under = 0 if settings["energy"] == "as-set" else float(settings["energy"])
    source = f"{under:g} kcal under the energy a day, {OBESITY}" if under else "the energy a day as it is set"
    limit = max(facts.energy_kcal - under, min(facts.energy_kcal, LITTLE_ENERGY_KCAL), LEAST_ENERGY_KCAL)
    if limit > facts.energy_kcal - under:
        source += f"; held at {limit:,.0f} kcal: less is not planned here"
    return [Target("energy_kcal", maximum=limit, plan=KEY, source=source)]


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    return [] if facts.energy_kcal else ["energy a day: every meal is a share of it"]


PLAN = Plan(
    key=KEY,
    label="Weight",
    summary="Energy shared over the meals; plenty of volume for the energy.",
    shelf=shelves.SUGAR,
    place=4,
    sources=(OBESITY, "energy density: common practice"),
    schools=SCHOOLS,
    stances={"fat": "limit"},
    excludes={
        "pregnancy": "nobody loses weight by plan in pregnancy",
        "gestational-diabetes": "nobody loses weight by plan in pregnancy",
        "enrichment": "one adds energy, the other takes it away",
    },
    targets_of=targets,
    missing_of=missing,
    handout=(
        "Weigh the portion; the plate looks the same at half as much again.",
        "Vegetables, broth and fruit give volume for little energy: the card says how much 100 g of the dish holds.",
        "“Free from” something is not free of calories.",
    ),
    cautions=("natural-sweeteners",),
)
