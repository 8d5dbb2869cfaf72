"""What goes by age: children's protein and sodium. No adult formula is one of theirs.

tables/dri_children.tsv: DRI 2005 and NASEM 2019, from memory.
"""

import functools
from dataclasses import dataclass

from nutrition.tables import read_table

#: Below this age no plan drafts a target by an adult's formula; below this weight, where the age is not known, neither.
ADULT_YEARS, ADULT_KG = 18, 40
#: Energy a day of adults: below the one it is asked whether it is meant, below the other refused (very-low-calorie diets).
LITTLE_ENERGY_KCAL, LEAST_ENERGY_KCAL = 1200, 800


@dataclass(frozen=True, slots=True)
class ChildNeeds:
    """One row of dri_children.tsv. `protein_g` None: it differs by sex; `sodium_mg`: the most a day."""

    since: float
    below: float
    protein_g_per_kg: float
    protein_g: float | None
    sodium_mg: float
    source: str


def usual_weight_kg(age_years: float | None) -> tuple[float, float]:
    """Body weights seldom seen outside of at an age, wide on purpose (common sense): outside, one asks again.

    >>> usual_weight_kg(0), usual_weight_kg(10), usual_weight_kg(40), usual_weight_kg(None)
    ((2.0, 15.0), (14.0, 115.0), (30.0, 250.0), (7.0, 250.0))
    """
    if age_years is None:
        return 7.0, 250.0
    if age_years >= ADULT_YEARS:
        return 30.0, 250.0
    return 2.0 + 1.2 * age_years, 15.0 + 10.0 * age_years


@functools.cache
def _rows() -> tuple[ChildNeeds, ...]:
    return tuple(
        ChildNeeds(
            row.number("from"),
            row.number("below"),
            row.number("protein_g_per_kg"),
            row.number_or_none("protein_g"),
            row.number("sodium_mg"),
            row.text("source"),
        )
        for row in read_table("dri_children.tsv")
    )


def needs_at(age_years: float | None) -> ChildNeeds | None:
    """What a child of this age needs; None under one year, from 18, and where the age is not known.

    >>> needs_at(7).protein_g, needs_at(0.5), needs_at(30)
    (19.0, None, None)
    """
    if age_years is None:
        return None
    return next((row for row in _rows() if row.since <= age_years < row.below), None)


@dataclass(frozen=True, slots=True)
class EnergyNeed:
    """Estimated energy requirement, kcal a day, of somebody who hardly moves and of somebody who moves a little."""

    inactive: float
    low_active: float


@dataclass(frozen=True, slots=True)
class _Equation:
    """One row of energy_needs.tsv: kcal a day = constant + age × years + height × cm + weight × kg."""

    sex: str
    since: float
    below: float
    activity: str
    constant: float
    age: float
    height: float
    weight: float


@functools.cache
def _equations() -> tuple[_Equation, ...]:
    numbers = ("constant", "age", "height", "weight")
    return tuple(
        _Equation(
            row.one_of("sex", ("female", "male")),
            row.number("from"),
            row.number("below"),
            row.one_of("activity", ("inactive", "low active")),
            *(row.number(each) for each in numbers),
        )
        for row in read_table("energy_needs.tsv")
    )


def energy_need(
    sex: str, age_years: float | None, height_cm: float | None, weight_kg: float | None
) -> EnergyNeed | None:
    """By the equations of the DRI 2023; None where one of the four is not known, and under three years.

    >>> need = energy_need("female", 40, 165, 65)
    >>> round(need.inactive), round(need.low_active)
    (2009, 2173)
    >>> energy_need("", 40, 165, 65) is None
    True
    """
    if not sex or age_years is None or not height_cm or not weight_kg:
        return None
    kcal = {
        each.activity: each.constant + each.age * age_years + each.height * height_cm + each.weight * weight_kg
        for each in _equations()
        if each.sex == sex and each.since <= age_years < each.below
    }
    return EnergyNeed(kcal["inactive"], kcal["low active"]) if kcal else None
