"""What the limits room says."""

from datetime import date

from nutrition.food.nutrients import BY_KEY
from nutrition.limits.plans import OWN, plan_label
from nutrition.limits.roles import ROLES, WHOLE
from nutrition.notes import Note


def _post(
    plan: str,
    nutrient: str,
    sides: tuple[float, ...],
    scope: str,
    share: float,
    meal: str,
    source: str,
    role: str = WHOLE,
    part: float = 1.0,
) -> str:
    owner = f"{plan_label(plan)}: " if plan else ""
    stated = " to ".join(f"{side:,.4g}" for side in sides)
    per = f"{stated} {BY_KEY[nutrient].unit} a {scope}"
    if scope == "day" and share != 1:
        per += f", {share:.0%} of it at {meal}"
    if role != WHOLE and part != 1:
        per += f", {part:.0%} of that for a {ROLES[role].label}"
    return f"{owner}{per}{f' ({source})' if source else ''}"


def _conflict(topic: str, sides: tuple[tuple[str, Note], ...]) -> str:
    said = "; ".join(f"{'Own number' if key == OWN else plan_label(key)}: {what}" for key, what in sides)
    return f"{topic.capitalize()}: {said}"


def _measured(label: str, value: float, unit: str, on: date) -> str:
    name = label if label.isupper() or label == "HbA1c" else label.lower()
    return f"{name} {value:g}{f' {unit}' if unit else ''} on {on:%B} {on.day}, {on.year}"


def _keeps_out(tags: tuple[str, ...], noted: tuple[str, ...]) -> str:
    """ "Keeps out: milk, tree nuts. Noted allergy: kiwi."."""
    kept = f"Keeps out: {', '.join(tags)}." if tags else ""
    return f"{kept} Noted allergy: {', '.join(noted)}.".strip() if noted else kept


SENTENCES = {
    "keeps_out": _keeps_out,
    "conflict": _conflict,
    "at_least": "at least {limit:,.4g} at {meal}",
    "at_most": "at most {limit:,.4g} at {meal}",
    "stance_want": "wants it",
    "stance_limit": "limits it",
    "stance_fuel": "lives on it",
    "stance_steady": "wants a steady amount at each meal",
    "post": _post,
    "body_weight": "a body weight of {weight:g} kg cannot be; 2 to 400 kg is expected",
    "energy": "{energy:g} kcal a day cannot be; 300 to 8,000 is expected",
    "height": "a height of {height:g} cm cannot be; 40 to 250 cm is expected",
    "fluid": "{fluid:g} ml a day cannot be; 200 to 8,000 is expected",
    "no_such_choice": "{name} cannot be {key!r}; one of {all}",
    "no_such_measure": "nothing here is called {key!r}; one of {all}",
    "cannot_be_measured": "{what} of {value:g} {unit} was typed; {least:g} to {most:g} {unit} is expected. Check the value and its unit.",
    "measured": _measured,
    "no_result": "no {of} result is known",
    "old_result": "the last result, {result}, is more than three months old",
    "result": "last {result}, {side} the usual {low:.3g} to {high:.3g} {unit}",
    "no_such_circumstance": "no circumstance is called {key!r}; one of {all}",
    "no_such_plan": "no plan is called {key!r}; the nearest are {nearest}; all: {all}",
    # what a line may hold
    "age": "An age of {age:g} years was given; 0 to 120 is expected.",
    "label_says_not": "the words of the line say so, the label that was entered does not list it: look at it again",
    "step_adds": "a step adds {words}",
    "may_be_another": "it may be another product than the one counted",
    "food_unsettled": "everything: which food this is, is not settled",
    "food_unknown": "everything: no food was found for this line",
    # tallies
    "formula_empty": "The formula names no nutrient. Write one, as in carbohydrate_g / 15.",
    "rounding_unknown": "rounding {rounding!r} was read; one of {names} is expected",
    "step_out_of_range": "a rounding step of {step:g} was read; 0 (none), or from 0.001 to 100, is expected",
    "allowance_out_of_range": "{allowance:g} {name} was read; an allowance of 0 or more is expected",
    "no_formula_typed": "No formula was typed. Write one over nutrients, as in carbohydrate_g / 15.",
    "formula_too_long": "A formula of {count} characters was typed; at most 300 are expected.",
    "formula_unclear": "“{text}” was not understood. Write sums and products, as in carbohydrate_g / 15.",
    "formula_adds_a_number": "“{text}” adds {constant:g} on its own. Every term needs a nutrient.",
    "formula_names_nothing": "“{text}” names no nutrient. Use names such as carbohydrate_g, protein_g, energy_kcal.",
    "formula_factor": "“{text}” comes to a factor that cannot be. Check the divisions.",
    "not_a_nutrient": "“{id}” is not a nutrient here. Use names such as carbohydrate_g, protein_g, fat_g.",
    "formula_holds_else": "“{text}” holds something other than numbers, nutrients, + − × ÷ and brackets.",
    "formula_multiplies": "“{text}” multiplies or divides by a nutrient; only numbers may stand there.",
    "formula_divides_by_zero": "“{text}” divides by zero. Put a number above zero there.",
}
