"""Diet plans, one module each. Every plan module offers the same few names:

KEY, LABEL, SUMMARY, SOURCES   what it is and where it comes from
SCHOOLS                        settings a person's plan chooses among: key -> School
targets(facts, schools)        drafts of targets from the person's data; never prescriptions
missing(facts)                 what is not known of the person and keeps a target from being set
"""

from collections.abc import Mapping
from types import ModuleType

from ..gates import Target
from . import diabetes, kidney, sodium
from .common import Facts, School

PLANS: dict[str, ModuleType] = {module.KEY: module for module in (sodium, kidney, diabetes)}

__all__ = ["PLANS", "Facts", "School", "choose", "targets_for"]


def choose(key: str, wanted: Mapping[str, str]) -> dict[str, str]:
    """The plan's settings: what is wanted, else its defaults. Raises ValueError naming what there is."""
    if key not in PLANS:
        raise ValueError(f"no plan is called {key!r}; there are {', '.join(PLANS)}")
    schools = PLANS[key].SCHOOLS
    chosen = {name: school.default for name, school in schools.items()}
    for name, option in wanted.items():
        if name not in schools:
            continue
        if option not in schools[name].options:
            raise ValueError(f"{name} can be {', '.join(schools[name].options)}, not {option!r}")
        chosen[name] = option
    return chosen


def targets_for(key: str, facts: Facts, schools: Mapping[str, str] | None = None) -> list[Target]:
    """Draft targets of one plan for one person."""
    return PLANS[key].targets(facts, choose(key, schools or {}))
