"""A child: protein, energy and sodium by age, from memory of the DRI. Everything else is set by a pediatric dietitian."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.life import needs_at
from nutrition.limits.plans.common import Facts, Plan, per_kg, shelves

KEY = "child"
ENERGY = "DRI 2023, estimated requirement without exercise, by sex, age, height and weight"
PROTEIN, SODIUM = "DRI 2005, RDA by age", "NASEM 2019, chronic disease risk reduction intake by age"


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    needs = needs_at(facts.age_years)
    if needs is None:
        return []
    found = [Target("sodium_mg", maximum=needs.sodium_mg, plan=KEY, source=SODIUM)]
    if facts.weight_kg:
        found.append(per_kg("protein_g", facts.weight_kg, needs.protein_g_per_kg, None, KEY, PROTEIN))
    elif needs.protein_g:
        found.append(Target("protein_g", minimum=needs.protein_g, plan=KEY, source=PROTEIN))
    need = None if facts.energy_kcal else facts.energy_need  # what the clinic set stands
    if need:
        found.append(Target("energy_kcal", minimum=round(need.inactive), plan=KEY, source=ENERGY))
    return found


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    if facts.age_years is None:
        return ["the date of birth: everything here goes by age"]
    needs = needs_at(facts.age_years)
    if needs is None:
        under_one = facts.age_years < 1
        return ["what a pediatric team sets under one year" if under_one else "an age below 18: another plan fits"]
    lacks = [] if facts.weight_kg or needs.protein_g else ["body weight: protein goes by it"]
    lacks += (
        []
        if facts.energy_kcal or facts.energy_need
        else ["sex, height and weight: energy goes by them (from 3 years on)"]
    )
    return lacks


PLAN = Plan(
    key=KEY,
    label="Child",
    summary="Protein and energy at least, and sodium at most, by age; nothing an adult's formula would say.",
    shelf=shelves.SUGAR,
    place=9,
    sources=(PROTEIN, SODIUM, ENERGY),
    targets_of=targets,
    child_targets_of=targets,
    missing_of=missing,
    child_missing_of=missing,
    handout=(
        "A child’s portion follows the child’s hunger: offer, do not press.",
        "Salt goes in after the child’s part is taken out.",
    ),
)
