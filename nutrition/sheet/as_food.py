"""A dish as a food of its own: what 100 g of it hold as cooked, the stock one makes oneself."""

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


#: A figure known to within this share of itself may be printed.
WITHIN = 0.1


def printed_of(dish: Dish, cooked_g: float | None) -> dict[str, float]:
    """What an EU label would print for 100 g of a dish as cooked, `cooked_g` of it in all.

    Only what is known: nothing for a dish that nobody weighed (water boils away) or with a line still open, and no figure
    whose interval is wider than a tenth of it. Raises Problem when nobody said how many it serves.
    """
    analysis = analyze(dish)
    if not cooked_g or any(line.sure == "check" or not line.is_weighed for line in dish.lines):
        return {}
    found = {}
    for field, keys in _MADE_OF.items():
        amounts, spans = [analysis.amount(key) for key in keys], [analysis.interval(key) for key in keys]
        value = max(amounts[0] - sum(amounts[1:]), 0.0)
        if any(most - least > WITHIN * amount + 1e-6 for amount, (least, most) in zip(amounts, spans, strict=True)):
            continue
        per_100g = value * dish.servings * 100 / cooked_g
        found[field] = per_100g / SODIUM_IN_SALT if field == "salt_g" else per_100g
    return found
