"""Does the whole still hold? Thickening, binding, lift, gluten's structure, fat, water, sweetness, salt, before and
after.

Powers per gram: tables/powers.tsv. A deficit or surplus is a warning with a remedy; nothing is forbidden here.
"""

import functools
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from nutrition.dish.line import Line
from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods, remembered
from nutrition.notes import Note, note
from nutrition.tables import read_table

POWERS = ("thickens", "binds", "lifts_base", "lifts_acid", "gluten", "sweet")
MEASURES = (*POWERS, "fat", "water", "salt")
BAKED = ("cake", "bread", "bake", "fry")


@dataclass(frozen=True, slots=True)
class Upset:
    """What the whole lost or gained, the measure it is about, and the line that mends it, as a cook would type it."""

    measure: str
    text: Note
    remedy: str = ""


@functools.cache
def _powers() -> tuple[tuple[re.Pattern[str], tuple[float, ...]], ...]:
    return tuple(
        (row.pattern("words", re.I), tuple(row.number(power) for power in POWERS)) for row in read_table("powers.tsv")
    )


@remembered
def per_gram(food_id: str) -> np.ndarray:
    """What one gram of a food brings to each of MEASURES. Fat, water and salt come from its values."""
    food, values = foods().by_id(food_id), foods().known[foods().by_id(food_id).row]
    powers = next((p for words, p in _powers() if words.search(food.description)), (0.0,) * len(POWERS))
    solids = sum(values[INDEX[key]] for key in ("protein_g", "fat_g", "carbohydrate_g", "alcohol_g"))
    salt = 2.5 * values[INDEX["sodium_mg"]] / 1000
    fat = values[INDEX["fat_g"]]
    found = np.array([*powers, fat / 100, max(100 - solids - salt, 0) / 100, salt / 100])
    found.setflags(write=False)
    return found


def totals(lines: Sequence[Line]) -> dict[str, float]:
    """Grams of power, fat, water and salt in the whole dish; lines without food or weight bring nothing known."""
    weighed = [line for line in lines if line.is_weighed]
    grams = np.array([line.span.likely for line in weighed])
    powers = np.array([per_gram(line.food_id or "") for line in weighed]).reshape(-1, len(MEASURES))
    return dict(zip(MEASURES, (grams @ powers).tolist(), strict=True))


def check(before: Sequence[Line], after: Sequence[Line], kind: str = "any") -> list[Upset]:
    """What the try has lost or gained beyond what a dish of this kind forgives. Shares of the written dish decide."""
    return changed(totals(before), totals(after), kind)


def changed(was: dict[str, float], now: dict[str, float], kind: str = "any") -> list[Upset]:
    """As `check`, of totals."""
    return [*_structure(was, now, kind), *_water(was, now, kind), *_taste(was, now)]


def _lost(was: dict[str, float], now: dict[str, float], measure: str, share: float) -> bool:
    return was[measure] > 0.5 and now[measure] < share * was[measure]


def _structure(was: dict[str, float], now: dict[str, float], kind: str) -> Iterable[Upset]:
    """Thickening, binding, gluten's work, lift and fat."""
    if _lost(was, now, "thickens", 0.6) and kind in ("sauce", "soup", "stew", "cake", "bake", "fry"):
        grams = (was["thickens"] - now["thickens"]) / 2
        yield Upset("thickens", note("swaps.thin"), f"{max(grams, 1):.0f} g cornstarch")
    if kind not in BAKED:
        return
    if _lost(was, now, "binds", 0.6):
        eggs = max(round((was["binds"] - now["binds"]) / 50), 1)
        yield Upset("binds", note("swaps.crumbles"), f"{eggs * 7} g ground flaxseed")
    if _lost(was, now, "gluten", 0.5):
        yield Upset("gluten", note("swaps.slumps"), f"{max(was['gluten'] / 130 * 1.5, 0.5):.1f} g xanthan gum")
    if was["lifts_base"] > 0.3 and now["lifts_base"] < 0.6 * was["lifts_base"]:
        powder = (was["lifts_base"] - now["lifts_base"]) / 0.27
        yield Upset("lifts", note("swaps.flat"), f"{powder:.1f} g baking powder")
    had_acid, has_acid = (each["lifts_acid"] >= 0.5 * each["lifts_base"] for each in (was, now))
    if now["lifts_base"] > 0.3 and had_acid and not has_acid:
        yield Upset("lifts", note("swaps.soapy"), "15 g lemon juice")
    if _lost(was, now, "fat", 0.5):
        yield Upset("fat", note("swaps.dry"), f"{0.25 * was['fat']:.0f} g applesauce")


def _water(was: dict[str, float], now: dict[str, float], kind: str) -> Iterable[Upset]:
    if was["water"] > 20 and now["water"] > 1.25 * was["water"] and kind not in ("soup", "stew"):
        yield Upset("water", note("swaps.wet", grams=now["water"] - was["water"]))
    if was["water"] > 20 and now["water"] < 0.75 * was["water"] and kind not in ("fry", "salad"):
        yield Upset("water", note("swaps.catches"), f"{was['water'] - now['water']:.0f} g water")


def _taste(was: dict[str, float], now: dict[str, float]) -> Iterable[Upset]:
    if _lost(was, now, "sweet", 0.6):
        yield Upset("sweet", note("swaps.not_sweet"), "1 tsp vanilla extract")
    if was["salt"] > 2 and now["salt"] < 0.3 * was["salt"]:
        yield Upset("salt", note("swaps.not_salty"), "1 tbsp lemon juice")
