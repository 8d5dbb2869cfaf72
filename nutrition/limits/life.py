"""What goes by age: children's protein and sodium. No adult formula is one of theirs.

tables/dri_children.tsv: DRI 2005 and NASEM 2019, from memory.
"""

import functools
from dataclasses import dataclass

from nutrition.tables import read_table

#: Below this age no plan drafts a target by an adult's formula; below this weight, where the age is not known, neither.
ADULT_YEARS, ADULT_KG = 18, 40


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
            float(row["from"]),
            float(row["below"]),
            float(row["protein_g_per_kg"]),
            float(row["protein_g"]) if row["protein_g"] else None,
            float(row["sodium_mg"]),
            row["source"],
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
