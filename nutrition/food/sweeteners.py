"""Sweeteners that are no sugar: polyols, erythritol among them, and allulose, in grams per 100 g; and what is counted of them.

What each school counts of a carbohydrate (all from memory):
total       everything by difference, sweeteners too (21 CFR 101.9(c)(6))
available   less fiber, and less what the body does not use: erythritol (0 kcal/g, EU 1169/2011 Annex XIV) and allulose
            (0.4 kcal/g, FDA 2020)
net         available less half of the other polyols (common practice)
"""

import re
from collections.abc import Sequence

import numpy as np

from nutrition.food.additives import by_name
from nutrition.food.nutrients import INDEX
from nutrition.food.table import Floats, Foods
from nutrition.tables import read_table

POLYOLS, ERYTHRITOL, ALLULOSE = KEYS = ("polyols_g", "erythritol_g", "allulose_g")
_COLUMNS = {"polyols": POLYOLS, "erythritol": ERYTHRITOL, "allulose": ALLULOSE}
Sides = dict[str, tuple[Floats, Floats, Floats]]


def sweetener_rules() -> list[tuple[re.Pattern[str], dict[str, tuple[float, float, float]]]]:
    """Rows of sweeteners.tsv: the words, and each sweetener's least, likely and most in 100 g; NaN where it is open."""
    return [
        (row.pattern("words"), {key: row.span(column) for column, key in _COLUMNS.items()})
        for row in read_table("sweeteners.tsv")
    ]


def sweeteners(table: Foods, lists: Sequence[str] = ()) -> Sides:
    """Each sweetener: least, likely (NaN where unknown), most. `lists`: what labels print, food by food; it speaks first."""
    rules = sweetener_rules()
    carbohydrate = table.at_most_per_100g[:, INDEX["carbohydrate_g"]].astype(float)
    found = {key: tuple(np.zeros(len(table)) for _ in range(3)) for key in KEYS}
    for row, name in enumerate(table.descriptions):
        texts = (name.lower(), by_name(lists[row]).lower() if lists else "")
        # The name and the list each speak for themselves: what either names may be there.
        spoken = [next((each for words, each in rules if words.search(text)), None) for text in texts]
        for key, sides in found.items():
            spans = [each[key] for each in spoken if each is not None]
            if not spans:
                continue
            low, likely, high = spans[0] if len(spans) == 1 else _either(*spans)
            sides[0][row] = 0.0 if np.isnan(low) else low
            sides[1][row] = likely
            sides[2][row] = carbohydrate[row] if np.isnan(high) else high
    return found  # type: ignore[return-value]


def _either(one: tuple[float, ...], other: tuple[float, ...]) -> tuple[float, float, float]:
    """Two rows speak of one food: whichever leaves it open counts."""
    return tuple(max(a, b) if not (np.isnan(a) or np.isnan(b)) else np.nan for a, b in zip(one, other, strict=True))  # type: ignore[return-value]
