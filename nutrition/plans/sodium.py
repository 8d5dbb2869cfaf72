"""Low sodium. Figures from memory of the documents named beside them."""

from collections.abc import Mapping

from ..gates import Target
from .common import Facts, School

KEY = "low-sodium"
LABEL = "Low sodium"
SUMMARY = "A daily ceiling for sodium, shared out over the meals."
_LIMITS = {
    "guidelines": (2300, "Dietary Guidelines for Americans 2020-2025; FDA daily value, 21 CFR 101.9"),
    "who": (2000, "WHO Guideline: sodium intake for adults and children, 2012"),
    "aha": (1500, "American Heart Association, ideal limit"),
}
SOURCES = tuple(source for _, source in _LIMITS.values())
SCHOOLS = {
    "sodium": School(
        "Whose limit?",
        {key: f"{limit:,} mg a day - {source}" for key, (limit, source) in _LIMITS.items()},
        "guidelines",
    )
}


def targets(facts: Facts, schools: Mapping[str, str]) -> list[Target]:
    limit, source = _LIMITS[schools["sodium"]]
    return [Target("sodium_mg", maximum=limit, plan=LABEL, source=source)]


def missing(facts: Facts) -> list[str]:
    return []
