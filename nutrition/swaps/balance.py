"""Does the whole still hold? Thickening, binding, lift, gluten's structure, fat, water, sweetness, salt, before and after.

Powers per gram: tables/powers.tsv. A deficit or surplus is a warning with a remedy; nothing is forbidden here.
"""

import functools
import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..composition import foods, read_table
from ..nutrients import INDEX
from ..recipe import Line

POWERS = ("thickens", "binds", "lifts_base", "lifts_acid", "gluten", "sweet")
MEASURES = (*POWERS, "fat", "water", "salt")
BAKED = ("cake", "bread", "bake", "fry")


@dataclass(frozen=True, slots=True)
class Warning_:
    """A sentence, the measure it is about, and the line that mends it, as a cook would type it (may be empty)."""

    measure: str
    text: str
    remedy: str = ""


@functools.cache
def _powers() -> tuple[tuple[re.Pattern, tuple[float, ...]], ...]:
    return tuple(
        (re.compile(row["words"], re.I), tuple(float(row[power]) for power in POWERS))
        for row in read_table("powers.tsv")
    )


@functools.lru_cache(maxsize=8192)
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
    total = sum(
        (line.grams * per_gram(line.food_id) for line in lines if line.is_weighed), start=np.zeros(len(MEASURES))
    )
    return dict(zip(MEASURES, (float(value) for value in total), strict=True))


def check(before: Sequence[Line], after: Sequence[Line], kind: str = "any") -> list[Warning_]:
    """What the try has lost or gained beyond what a dish of this kind forgives. Shares of the written dish decide."""
    was, now = totals(before), totals(after)
    found = []

    def lost(measure, share):
        return was[measure] > 0.5 and now[measure] < share * was[measure]

    baked = kind in BAKED
    if lost("thickens", 0.6) and kind in ("sauce", "soup", "stew", "cake", "bake", "fry"):
        grams = (was["thickens"] - now["thickens"]) / 2
        text = "The thickener is weaker than as written: the sauce will be thin."
        found.append(Warning_("thickens", text, f"{max(grams, 1):.0f} g cornstarch"))
    if baked and lost("binds", 0.6):
        eggs = max(round((was["binds"] - now["binds"]) / 50), 1)
        text = "Less binds it than as written: it will crumble."
        found.append(Warning_("binds", text, f"{eggs * 7} g ground flaxseed"))
    if baked and lost("gluten", 0.5):
        text = "Nothing does gluten’s work: it slumps and crumbles."
        found.append(Warning_("gluten", text, f"{max(was['gluten'] / 130 * 1.5, 0.5):.1f} g xanthan gum"))
    if baked and was["lifts_base"] > 0.3 and now["lifts_base"] < 0.6 * was["lifts_base"]:
        text = "There is less to lift it: it stays flat."
        found.append(Warning_("lifts", text, f"{(was['lifts_base'] - now['lifts_base']) / 0.27:.1f} g baking powder"))
    if (
        baked
        and now["lifts_base"] > 0.3
        and now["lifts_acid"] < 0.5 * now["lifts_base"]
        and was["lifts_acid"] >= 0.5 * was["lifts_base"]
    ):
        found.append(Warning_("lifts", "The soda has no acid to work with: it tastes of soap.", "15 g lemon juice"))
    if baked and lost("fat", 0.5):
        found.append(
            Warning_(
                "fat",
                "Half the fat or less is left: it will be dry and tough.",
                f"{0.25 * was['fat']:.0f} g applesauce",
            )
        )
    if was["water"] > 20 and now["water"] > 1.25 * was["water"] and kind not in ("soup", "stew"):
        extra = now["water"] - was["water"]
        text = (
            f"{extra:.0f} g more water than as written: press or drain it, salt and wring vegetables, or cook it off."
        )
        found.append(Warning_("water", text))
    if was["water"] > 20 and now["water"] < 0.75 * was["water"] and kind not in ("fry", "salad"):
        text = "Much less water than as written: it may catch or be dry."
        found.append(Warning_("water", text, f"{was['water'] - now['water']:.0f} g water"))
    if lost("sweet", 0.6):
        found.append(
            Warning_(
                "sweet", "Much less sweet than as written: vanilla, cinnamon or zest help.", "1 tsp vanilla extract"
            )
        )
    if was["salt"] > 2 and now["salt"] < 0.3 * was["salt"]:
        found.append(
            Warning_("salt", "Little salt is left: acid, pepper and toasted spice take over.", "1 tbsp lemon juice")
        )
    return found
