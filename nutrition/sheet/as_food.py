"""A dish as a food of its own: what 100 g of it hold as cooked, the stock one makes oneself."""

from nutrition.dish.cooking import cooked_weight
from nutrition.dish.dish import Dish
from nutrition.food.label import SODIUM_IN_SALT
from nutrition.sheet.analysis import analyze

#: Field of an EU label -> nutrients of the table it is made of; carbohydrate stands without its fiber there.
_MADE_OF = {
    "energy_kcal": ("energy_kcal",),
    "fat_g": ("fat_g",),
    "saturated_fat_g": ("saturated_fat_g",),
    "carbohydrate_g": ("carbohydrate_g", "fiber_g"),
    "sugars_g": ("sugars_g",),
    "fiber_g": ("fiber_g",),
    "protein_g": ("protein_g",),
    "salt_g": ("sodium_mg",),
    "potassium_mg": ("potassium_mg",),
    "phosphorus_mg": ("phosphorus_mg",),
}


def printed_of(dish: Dish, cooked_g: float | None = None) -> dict[str, float]:
    """What an EU label would print for 100 g of a dish as cooked; a figure that rests on something unknown is left out.

    `cooked_g`: what the whole dish weighed; else an estimate by kind of food. Raises Problem when nobody said how many it
    serves; empty for a dish that weighs nothing known.
    """
    analysis, weight = analyze(dish), cooked_weight(dish.lines, cooked_g).likely
    if not weight or analysis.unweighed:
        return {}
    found = {}
    for field, keys in _MADE_OF.items():
        if any(analysis.unknown_lines(key) for key in keys):
            continue
        whole, *less = [analysis.amount(key) * dish.servings * 100 / weight for key in keys]
        value = max(whole - sum(less), 0.0)
        found[field] = value / SODIUM_IN_SALT if field == "salt_g" else value
    return found
