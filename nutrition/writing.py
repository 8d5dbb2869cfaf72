"""A recipe written out as schema.org JSON-LD that analyzes to the same figures.

Ingredient lines are words a cook reads; beside them each line stands exactly (food, grams, state) as schema.org
additionalProperty, which nutrition.sources reads back.
"""

from collections.abc import Sequence
from math import isfinite

from .analysis import Analysis
from .composition import foods
from .cooking import methods
from .nutrients import BY_KEY
from .recipe import Line

EXACT = "open-gate:line"
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
    """A line as a cook reads it: its words while they hold, else grams and the food."""
    if not line.is_edited or not line.food_id or line.grams is None:
        return line.text
    from .matching import cook_name

    how = f", {methods()[line.state].label}" if line.state else ""
    grams = f"{line.grams:.0f}" if line.grams >= 10 else f"{line.grams:.1f}"
    return f"{grams} g {cook_name(line.food_id)}{how}"


def _exact(line: Line) -> dict:
    """The line as it is counted; text and words_hold too, so that allergens are read the same."""
    fields = (
        "text",
        "food_id",
        "low",
        "grams",
        "high",
        "how",
        "sure",
        "state",
        "words_hold",
        "is_edited",
        "part",
        "ask",
    )
    value = {name: getattr(line, name) for name in fields} | {"others": list(line.others)}
    return {"@type": "PropertyValue", "name": EXACT, "value": value}


def to_jsonld(title: str, serves: float, lines: Sequence[Line], steps: Sequence[str], analysis: Analysis) -> dict:
    """schema.org Recipe as a dict ready for json.dumps."""
    nutrition = {"@type": "NutritionInformation", "servingSize": f"{analysis.serving_grams:.0f} g"}
    for name, key in _NUTRITION.items():
        amount = analysis.amount(key)
        if isfinite(amount):
            unit = "calories" if key == "energy_kcal" else BY_KEY[key].unit
            nutrition[name] = f"{amount:.1f} {unit}"
    return {
        "@context": "https://schema.org",
        "@type": "Recipe",
        "name": title,
        "recipeYield": f"{serves:g} servings",
        "recipeIngredient": [line_words(line) for line in lines],
        "recipeInstructions": [{"@type": "HowToStep", "text": step} for step in steps],
        "nutrition": nutrition,
        "additionalProperty": [_exact(line) for line in lines],
    }


def exact_lines(properties: object, count: int) -> tuple[Line, ...]:
    """The lines kept exactly in a recipe of ours; empty when there are none or anything is off."""
    if not isinstance(properties, list):
        return ()
    values = [p.get("value") for p in properties if isinstance(p, dict) and p.get("name") == EXACT]
    if len(values) != count or not all(isinstance(value, dict) for value in values):
        return ()
    try:
        return tuple(_line(value) for value in values)
    except (KeyError, TypeError, ValueError):
        return ()


def _line(value: dict) -> Line:
    """One exact line, with everything checked. Raises KeyError, TypeError or ValueError."""
    food_id = value["food_id"]
    if food_id is not None:
        foods().by_id(food_id)
    state = value.get("state") or ""
    if state:
        methods()[state]
    weights = [value["low"], value["grams"], value["high"]]
    if any(w is not None and not 0 <= float(w) < 1e6 for w in weights):
        raise ValueError("a weight that cannot be")
    low, grams, high = (None if w is None else float(w) for w in weights)
    if value["sure"] not in ("sure", "likely", "check"):
        raise ValueError("not a sureness")
    others = tuple(foods().by_id(other).id for other in value.get("others") or ())
    return Line(
        text=str(value["text"])[:500], food_id=food_id, low=low or 0.0, grams=grams, high=high or 0.0,
        how=str(value["how"])[:10], sure=value["sure"], part=str(value.get("part") or "")[:80],
        ask=str(value.get("ask") or "")[:300], others=others, state=state,
        words_hold=bool(value.get("words_hold", True)), is_edited=bool(value.get("is_edited", False)),
    )  # fmt: skip
