"""At which meals a dish can be planned as the thing that is eaten: tables/suits.tsv."""

import functools
import re

from nutrition.limits.roles import MEALS, itself
from nutrition.sheet.analysis import Analysis
from nutrition.tables import read_table


@functools.cache
def _words() -> tuple[tuple[re.Pattern[str], frozenset[str]], ...]:
    rows = (row for row in read_table("suits.tsv") if row["by"] == "words")
    return tuple((row.pattern("what", re.I), row.words("meals", MEALS)) for row in rows)


@functools.cache
def _by(which: str) -> dict[str, frozenset[str]]:
    return {row["what"]: row.words("meals", MEALS) for row in read_table("suits.tsv") if row["by"] == which}


#: What is eaten as a meal at midday or in the evening brings so much; less is put beside something (common practice).
A_MEAL_KCAL, A_MEAL_PROTEIN_G = 180.0, 6.0


def is_a_meal(analysis: Analysis) -> bool:
    """Whether a serving is enough of a thing to be a lunch or a dinner."""
    return is_enough(analysis.amount("energy_kcal"), analysis.amount("protein_g"))


def is_enough(energy_kcal: float, protein_g: float) -> bool:
    """As `is_a_meal`, of what a serving brings.

    >>> is_enough(420, 18), is_enough(90, 1)
    (True, False)
    """
    return energy_kcal >= A_MEAL_KCAL and protein_g >= A_MEAL_PROTEIN_G


@functools.lru_cache(maxsize=1 << 15)
def meals_for(kind: str, title: str, role: str) -> frozenset[str]:
    """Where it may stand; nowhere for what is no meal by itself.

    >>> sorted(meals_for("any", "Overnight oats with pear", "whole")), sorted(meals_for("stew", "Lamb stew", "whole"))
    (['breakfast', 'snack'], ['dinner', 'lunch'])
    >>> sorted(meals_for("sauce", "Pepper sauce", "sauce")), sorted(meals_for("stew", "Fish stew with toasts", "whole"))
    ([], ['dinner', 'lunch'])
    """
    said = itself(title)
    named = next((meals for words, meals in _words() if words.search(said)), None)
    if named is not None:
        return named
    of_role, of_kind = _by("role"), _by("kind")
    return of_role[role] if role in of_role else of_kind.get(kind, of_kind["any"])
