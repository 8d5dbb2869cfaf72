"""What decides between foods a line may mean: the nutrients gates hang on most, and differences nobody would mind."""

from collections.abc import Sequence

import numpy as np

from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods

#: What decides gates: nutrient -> a difference in 100 g below which nobody minds which of two foods it is (a rule of this tool: about a fiftieth
#: of a day's usual limit).
DECIDES = {
    "sodium_mg": 40.0,
    "potassium_mg": 60.0,
    "phosphorus_mg": 40.0,
    "carbohydrate_g": 3.0,
    "protein_g": 3.0,
    "fat_g": 4.0,
    "saturated_fat_g": 2.0,
    "energy_kcal": 40.0,
}
COLUMNS = [INDEX[key] for key in DECIDES]
MINDED = np.array(list(DECIDES.values()))
#: Of what decides, foods of one meaning may differ by this share of it.
_ALIKE = 0.15
#: So many foods a line may mean are kept beside the likely one, before those at the ends of what they hold.
MOST = 6


def differ(rows: Sequence[int]) -> bool:
    """Whether foods differ in what decides a gate by more than anybody would mind; what nobody measured may be none.

    >>> differ([foods().by_description(each).row for each in ("Butter, salted", "Butter, without salt")])
    True
    """
    return bool((_spread(rows) > 0).any())


def tell_apart(rows: Sequence[int]) -> bool:
    """As `differ`, by what was measured of all of them."""
    measured = ~np.isnan(foods().per_100g[list(rows)][:, COLUMNS]).any(axis=0)
    return bool((_spread(rows) > 0)[measured].any())


def _spread(rows: Sequence[int]) -> np.ndarray:
    """By how much foods differ in each nutrient that decides, beyond what nobody minds."""
    values = foods().known[list(rows)][:, COLUMNS]
    beyond: np.ndarray = np.ptp(values, axis=0) - np.maximum(MINDED, _ALIKE * values.max(axis=0))
    return beyond


def widest(best: int, alike: Sequence[int]) -> tuple[int, ...]:
    """The nearest of foods alike, and those that hold least and most of what decides: with the likely one they span all of them."""
    if len(alike) <= MOST:
        return tuple(alike)
    values = foods().known[[best, *alike]][:, COLUMNS]
    ends = [(best, *alike)[int(at)] for at in (*values.argmin(axis=0), *values.argmax(axis=0))]
    return tuple(row for row in dict.fromkeys((*alike[:MOST], *ends)) if row != best)
