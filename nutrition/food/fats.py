"""What the fat of a food is made of: mono- and polyunsaturated, omega-3, omega-6 and trans, from tables/fatty_acids.tsv.

The table of foods knows the saturated part; the rest is told by what plant or animal the fat is of, as a span, and only of
what is one food. Of a dish it is unknown, and bounded: no part is more than the fat that is not saturated.
"""

import re
from dataclasses import dataclass

import numpy as np

from nutrition.food.made_of import SEVERAL_THINGS, made_of
from nutrition.food.nutrients import INDEX
from nutrition.food.table import Floats, Foods
from nutrition.tables import pattern, read_table

MONO, POLY, OMEGA_3, OMEGA_6, TRANS = KEYS = (
    "monounsaturated_fat_g",
    "polyunsaturated_fat_g",
    "omega3_g",
    "omega6_g",
    "trans_fat_g",
)
_COLUMNS = {"mono": MONO, "poly": POLY, "omega3": OMEGA_3, "trans": TRANS}
#: What the parts make of the fat: glycerol is no fatty acid, and tables round. Other shares: the food's fat is another one's.
FITS = (0.8, 1.03)

_WHOLE_WORDS = r"(?<![a-z])(?:{})(?:(?<=\W)|(?:s|es)?(?![a-z]))"
Sides = dict[str, tuple[Floats, Floats, Floats]]


@dataclass(frozen=True, slots=True)
class FatRule:
    """One row of fatty_acids.tsv. `shares`: nutrient -> least, likely and most of the fat, 0 to 1; what is open is left out."""

    words: re.Pattern[str]
    unless: re.Pattern[str] | None
    shares: dict[str, tuple[float, float, float]]

    def fits(self, text: str) -> bool:
        return bool(self.words.search(text) and not (self.unless and self.unless.search(text)))


def fat_rules() -> list[FatRule]:
    """The rows in their order; the confidence and the source of each are for whoever reads the table."""
    found = []
    for row in read_table("fatty_acids.tsv"):
        row.one_of("confidence", ("high", "medium", "low"))
        shares = {key: _share(row.span(column)) for column, key in _COLUMNS.items() if row[column]}
        poly, omega_3 = shares.get(POLY), shares.get(OMEGA_3)
        if poly and omega_3:
            shares[OMEGA_6] = (max(poly[0] - omega_3[2], 0.0), poly[1] - omega_3[1], poly[2] - omega_3[0])
        found.append(FatRule(row.pattern("words", around=_WHOLE_WORDS), row.pattern_or_none("unless"), shares))
    return found


def _share(percent: tuple[float, float, float]) -> tuple[float, float, float]:
    least, likely, most = percent
    return least / 100, likely / 100, most / 100


def fat_parts(table: Foods) -> Sides:
    """Grams in 100 g of each part: least, likely (NaN where unknown), most."""
    fat, fat_most = (side[:, INDEX["fat_g"]].astype(float) for side in (table.per_100g, table.at_most_per_100g))
    saturated = table.at_least_per_100g[:, INDEX["saturated_fat_g"]].astype(float)
    room = np.maximum(FITS[1] * fat_most - saturated, 0.0)
    least, amount, most = ({key: side.copy() for key in KEYS} for side in _nothing_known(fat, room))
    measured = table.per_100g[:, INDEX["saturated_fat_g"]]
    rules = fat_rules()
    for row, name in enumerate(table.descriptions):
        if not fat[row] > 0 or not _is_one_food(name, table.categories[row]):
            continue
        text = name.lower()
        shares = next((rule.shares for rule in rules if rule.fits(text)), {})
        if not _fits(shares, float(measured[row]) / fat[row]):
            continue
        for key, (low, likely, high) in shares.items():
            most[key][row] = min(high * fat[row], room[row])
            amount[key][row] = min(likely * fat[row], room[row])
            least[key][row] = min(low * fat[row], amount[key][row])
    return {key: (least[key], amount[key], most[key]) for key in KEYS}


def _fits(shares: dict[str, tuple[float, float, float]], saturated: float) -> bool:
    """Whether the parts and the saturated share that was measured are those of one fat."""
    if np.isnan(saturated) or MONO not in shares or POLY not in shares:
        return True
    return FITS[0] <= saturated + shares[MONO][1] + shares[POLY][1] <= FITS[1]


def _nothing_known(fat: Floats, room: Floats) -> tuple[Floats, Floats, Floats]:
    """Where no row speaks: nothing of no fat, else anything up to what is not saturated."""
    is_none = fat == 0
    return np.zeros_like(fat), np.where(is_none, 0.0, np.nan), np.where(is_none, 0.0, room)


def _is_one_food(name: str, category: str) -> bool:
    return SEVERAL_THINGS not in made_of(name, category).kinds and not (
        pattern("mixed_categories").search(category)
        or pattern("composed_categories").search(category)
        or pattern("of_two_foods").search(name)
        or pattern("cooked_in_fat_perhaps").search(name)
    )
