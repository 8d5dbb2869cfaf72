"""Label ceilings: for goods bought with a label, the most it may say for the dish still to pass.

The ceiling is a figure as a US label prints it: a label that says 140 mg may mean up to 145, and the dish must pass
even then. Rounding: tables/label_fields.tsv. Label servings: tables/label_servings.tsv.
"""

import functools
import re
import warnings
from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite

import numpy as np

from nutrition.dish.cooking import as_bought, share_eaten
from nutrition.dish.line import Line
from nutrition.food.label import US, fields
from nutrition.food.nutrients import BY_KEY, INDEX
from nutrition.food.table import foods, remembered
from nutrition.limits.gates import Gate
from nutrition.sheet.analysis import analyze_lines
from nutrition.tables import read_table

#: What a label prints and a limit may hang on, in the order of the label.
ON_LABELS = (
    "saturated_fat_g",
    "sodium_mg",
    "carbohydrate_g",
    "sugars_g",
    "added_sugars_g",
    "protein_g",
    "potassium_mg",
)
#: Goods of which even the richest would bring less than this share of a post need no figure.
NEGLIGIBLE = 0.02
#: The richest product of a kind: this percentile of the kind's foods in the table.
RICHEST = 95
#: A declared value may be exceeded by so much and still comply: 21 CFR 101.9(g)(5).
TOLERATED = 0.20


def step_above(key: str, printed: float) -> float:
    """The next figure a label may print.

    >>> step_above("sodium_mg", 135), step_above("sodium_mg", 140), step_above("sugars_g", 3)
    (140.0, 150.0, 4.0)
    """
    return printed + fields(US)[key].step_at(printed)


def most_behind(key: str, printed: float) -> float:
    """The most a food may hold and still be labeled with this figure: half a step more.

    >>> most_behind("sodium_mg", 100), most_behind("sodium_mg", 140), most_behind("sugars_g", 0)
    (102.5, 145.0, 0.5)
    """
    return (printed + step_above(key, printed)) / 2


def ceiling(key: str, room: float, margin: float = 0.0) -> float | None:
    """The highest label figure whose true value, at its worst, fits into `room`; None when not even 0 does.

    `margin`: share by which labels may be exceeded, as TOLERATED.

    >>> ceiling("sodium_mg", 104), ceiling("sodium_mg", 152), ceiling("sodium_mg", 1.0)
    (100.0, 140.0, None)
    """
    steps = fields(US)[key].steps
    if most_behind(key, 0.0) * (1 + margin) > room:
        return None
    printed, low = 0.0, 0.0
    for up_to, step in steps:
        # The largest figure of this stretch that still fits; whole steps, so that no error adds up.
        count = int((min(up_to, room) - low) / step)
        while count > 0 and most_behind(key, low + count * step) * (1 + margin) > room:
            count -= 1
        printed = low + count * step
        if printed < up_to:
            break
        low = up_to
    return printed


@dataclass(frozen=True, slots=True)
class Goods:
    """One row of label_servings.tsv."""

    words: re.Pattern[str]
    name: str
    serving: str
    grams: float
    source: str


@functools.cache
def _goods() -> tuple[Goods, ...]:
    return tuple(
        Goods(row.pattern("words"), row.text("goods"), row["serving"], row.number("grams", 0.0), row.text("source"))
        for row in read_table("label_servings.tsv")
    )


def goods_of(food_id: str | None) -> Goods | None:
    """What kind of labeled goods a food is; None for what is bought without a label that decides."""
    if not food_id:
        return None
    description = foods().by_id(food_id).description
    found = next((goods for goods in _goods() if goods.words.search(description)), None)
    return found if found and found.grams else None


@remembered
def _richest() -> dict[str, np.ndarray]:
    """Kind of goods -> per 100 g, what the richest of them hold (RICHEST percentile of the known values)."""
    table = foods()
    rows: dict[str, list[int]] = {}
    for row, food_id in enumerate(table.ids):
        if goods := goods_of(food_id):
            rows.setdefault(goods.name, []).append(row)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", RuntimeWarning)  # a column nobody measured stays NaN, and NaN asks for a figure
        return {name: np.nanpercentile(table.per_100g[own], RICHEST, axis=0) for name, own in rows.items()}


@dataclass(frozen=True, slots=True)
class Ceiling:
    """For one line and one nutrient. `printed` None: no product will do. `usual`: what the food of the table comes to.

    Amounts are per label serving (`goods.serving`, `goods.grams`). `room`: the exact most, before label rounding.
    """

    line: int
    nutrient: str
    goods: Goods
    printed: float | None
    room: float
    usual: float
    gate: Gate

    @property
    def words(self) -> str:
        """ "at most 140 mg sodium in ½ cup (130 g)"."""
        nutrient = BY_KEY[self.nutrient]
        per = f"{self.goods.serving} ({self.goods.grams:g} g)"
        if self.printed is None:
            return f"none will do: the rest of the dish leaves no room for {nutrient.label.lower()}"
        return f"at most {self.printed:,.4g} {nutrient.unit} {nutrient.label.lower()} in {per}"


def ceilings(lines: Sequence[Line], serves: float, gates: Sequence[Gate], margin: float = 0.0) -> list[Ceiling]:
    """Every packaged good's ceiling under every gate a label can be held against; each as if the others stay as they
    are.

    Left out: goods of which even the richest would pass, and gates whose rest is unknown or over the
    post already: there no product decides.
    """
    labeled = [(i, goods) for i, line in enumerate(lines) if line.is_weighed and (goods := goods_of(line.food_id))]
    if not labeled:
        return []
    whole, found = analyze_lines(lines, serves), []
    for gate in gates:
        if gate.nutrient not in ON_LABELS or not gate.high:
            continue
        column = INDEX[gate.nutrient]
        for position, goods in labeled:
            line, food_id = lines[position], lines[position].food_id or ""
            rest = whole_without(lines, serves, position, gate.nutrient)
            # What one gram-per-100-g on the label comes to in a serving of the dish, at the most.
            per_label = line.span.most * as_bought(food_id, gate.nutrient) / 100 / serves
            eaten = share_eaten(line)
            if eaten is not None:
                per_label *= float(eaten[2, column])
            if not isfinite(rest) or rest > gate.high.limit or per_label <= 0:
                continue
            room = max(gate.high.limit - rest, 0.0) / per_label * goods.grams / 100
            richest = float(_richest()[goods.name][column]) * goods.grams / 100
            if richest <= room or richest * 100 / goods.grams * per_label < NEGLIGIBLE * gate.high.limit:
                continue
            usual = float(whole.by_line[position, column]) / per_label * goods.grams / 100
            found.append(
                Ceiling(position, gate.nutrient, goods, ceiling(gate.nutrient, room, margin), room, usual, gate)
            )
    return sorted(found, key=lambda c: (c.line, ON_LABELS.index(c.nutrient)))


def whole_without(lines: Sequence[Line], serves: float, position: int, key: str) -> float:
    """The most a serving may hold of a nutrient without one line; infinite when another line leaves it open."""
    others = [line for i, line in enumerate(lines) if i != position]
    return analyze_lines(others, serves).interval(key)[1] if others else 0.0
