"""Low sodium. Figures from memory of the documents named beside them."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.life import needs_at
from nutrition.limits.plans.common import LABEL_FORM, Facts, Plan, School, shelves
from nutrition.limits.tallies import sodium_tallies

KEY = "low-sodium"
_LIMITS = {
    "guidelines": (2300, "Dietary Guidelines for Americans 2020-2025; FDA daily value, 21 CFR 101.9"),
    "who": (2000, "WHO Guideline: sodium intake for adults and children, 2012"),
    "kdigo": (2000, "KDIGO 2024 Clinical Practice Guideline for CKD"),
    "aha": (1500, "American Heart Association, ideal limit"),
}
SCHOOLS = {
    "sodium": School(
        "Whose limit?",
        {key: f"{limit:,} mg a day - {source}" for key, (limit, source) in _LIMITS.items()}
        | {"prescribed": "as prescribed: type it as a number of their own"},
        "guidelines",
    ),
    "label": LABEL_FORM,
}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    if settings["sodium"] not in _LIMITS:
        return []
    limit, source = _LIMITS[settings["sodium"]]
    return [Target("sodium_mg", maximum=limit, plan=KEY, source=source)]


def child_targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    """By age, whichever school adults go by; nothing where the limit is prescribed."""
    needs = needs_at(facts.age_years)
    if needs is None or settings["sodium"] not in _LIMITS:
        return []
    return [Target("sodium_mg", maximum=needs.sodium_mg, plan=KEY, source=f"by age, {needs.source}")]


def child_missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    if settings["sodium"] == "prescribed" or needs_at(facts.age_years):
        return missing(facts, settings)
    return (
        ["the date of birth: a child’s sodium goes by age"]
        if facts.age_years is None
        else ["what a pediatric team sets"]
    )


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    return ["the prescribed limit: type it as a number of their own"] if settings["sodium"] == "prescribed" else []


PLAN = Plan(
    key=KEY,
    label="Low sodium",
    summary="A daily ceiling for sodium, shared out over the meals.",
    shelf=shelves.SALT,
    place=1,
    sources=tuple(source for _, source in _LIMITS.values()),
    schools=SCHOOLS,
    stances={"salt": "limit"},
    targets_of=targets,
    child_targets_of=child_targets,
    missing_of=missing,
    child_missing_of=child_missing,
    handout=(
        "Read sodium for the amount you really eat, not for the serving on the label.",
        "Stock, cheese, cured meat, canned goods and sauces carry most of it: choose “no salt added”, drain and rinse.",
        "Salt substitutes of potassium chloride only when the clinic says potassium is free.",
    ),
    cautions=("licorice-sodium",),
    tallies_of=sodium_tallies,
)
