"""A dish written out as schema.org JSON-LD that analyzes to the same figures when it is read again.

Ingredient lines are words a cook reads; beside them the dish stands as the codec keeps it, with the words each line was
written with, as schema.org additionalProperty. nutrition.reading.page reads it back and takes each line whose words
nobody changed as it was counted.
"""

from math import isfinite
from typing import Any

from nutrition.dish.codec import to_data
from nutrition.dish.cooking import methods
from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.method import REFUSE
from nutrition.dish.naming import description_of
from nutrition.food.names import cook_name
from nutrition.food.nutrients import BY_KEY
from nutrition.reading.page import KEPT
from nutrition.sheet.analysis import analyze
from nutrition.tables import pattern

#: schema.org NutritionInformation.
_NUTRITION = {
    "calories": "energy_kcal",
    "carbohydrateContent": "carbohydrate_g",
    "cholesterolContent": "cholesterol_mg",
    "fatContent": "fat_g",
    "fiberContent": "fiber_g",
    "proteinContent": "protein_g",
    "saturatedFatContent": "saturated_fat_g",
    "sodiumContent": "sodium_mg",
    "sugarContent": "sugars_g",
}


def line_words(line: Line) -> str:
    """A line as a cook reads it: its words while they hold, else grams and the food; and what the kitchen does to it."""
    how = f", {methods()[line.state].label}" if line.state else ""
    if not line.is_edited or not line.food_id or line.weight is None:
        return f"{line.text}{how}"
    how = how or _as_weighed(line)
    grams = f"{line.weight.likely:.0f}" if line.weight.likely >= 10 else f"{line.weight.likely:.1f}"
    return f"{grams} g {cook_name(line.food_id)}{how}"


def _stated(line: Line) -> str:
    """A line as a cook reads it, with the weight of its cups and spoons."""
    words = line_words(line)
    return f"{words} ({line.weight.likely:.4g} g)" if words == line.text and line.weight else words


def _as_weighed(line: Line) -> str:
    """Of what is bought with bone or shell as often as without: which of them was weighed, where that was settled."""
    if line.ask.code == "reading.bone_or_shell" or not pattern("bone_or_shell").search(description_of(line)):
        return ""
    said = next((methods()[key].label for key in line.eaten if key in methods() and methods()[key].left in REFUSE), "")
    return f", {said}" if said else ", edible part"


def write(dish: Dish) -> dict[str, Any]:
    """schema.org Recipe as a dict ready for json.dumps. Raises Problem when nobody said how many it serves."""
    analysis = analyze(dish)
    nutrition = {"@type": "NutritionInformation", "servingSize": f"{analysis.serving_grams:.0f} g"}
    for name, key in _NUTRITION.items():
        amount = analysis.amount(key)
        if isfinite(amount):
            unit = "calories" if key == "energy_kcal" else BY_KEY[key].unit
            nutrition[name] = f"{amount:.1f} {unit}"
    dish = dish.listed
    # Cups are of the recipe's kitchen, which lines in grams tell nothing of any more.
    is_changed = any(line.is_edited for line in dish.lines)
    words = [_stated(line) if is_changed and line.how == "volume" else line_words(line) for line in dish.lines]
    kept = to_data(dish) | {"written": words}
    return {
        "@context": "https://schema.org",
        "@type": "Recipe",
        "name": dish.title,
        "recipeYield": f"{dish.serves:g} servings",
        "recipeIngredient": words,
        "recipeInstructions": [{"@type": "HowToStep", "text": step} for step in dish.steps],
        "nutrition": nutrition,
        "additionalProperty": [{"@type": "PropertyValue", "name": KEPT, "value": kept}],
    }
