"""Low sodium. Figures from memory of the documents named beside them."""

from collections.abc import Mapping

from ..gates import Target
from .common import LABEL_FORM, Facts, School

KEY = "low-sodium"
LABEL = "Low sodium"
SUMMARY = "A daily ceiling for sodium, shared out over the meals."
_LIMITS = {
    "guidelines": (2300, "Dietary Guidelines for Americans 2020-2025; FDA daily value, 21 CFR 101.9"),
    "who": (2000, "WHO Guideline: sodium intake for adults and children, 2012"),
    "kdigo": (2000, "KDIGO 2024 Clinical Practice Guideline for CKD"),
    "aha": (1500, "American Heart Association, ideal limit"),
}
SOURCES = tuple(source for _, source in _LIMITS.values())
SCHOOLS = {
    "sodium": School(
        "Whose limit?",
        {key: f"{limit:,} mg a day - {source}" for key, (limit, source) in _LIMITS.items()}
        | {"prescribed": "as prescribed: type it as a number of their own"},
        "guidelines",
    ),
    "label": LABEL_FORM,
}
STANCES = {"salt": "limit"}
HANDOUT = (
    "Read sodium for the amount you really eat, not for the serving on the label.",
    "Stock, cheese, cured meat, canned goods and sauces carry most of it: choose “no salt added”, drain and rinse.",
    "Salt substitutes of potassium chloride only when the clinic says potassium is free.",
)


def targets(facts: Facts, schools: Mapping[str, str]) -> list[Target]:
    if schools["sodium"] not in _LIMITS:
        return []
    limit, source = _LIMITS[schools["sodium"]]
    return [Target("sodium_mg", maximum=limit, plan=LABEL, source=source)]


def missing(facts: Facts, schools: Mapping[str, str]) -> list[str]:
    return ["the prescribed limit: type it as a number of their own"] if schools["sodium"] == "prescribed" else []


def avoids(schools: Mapping[str, str]) -> tuple:
    return ()
