"""What the swaps room says."""

from nutrition.food.names import cook_name
from nutrition.notes import Note


def _g(grams: float) -> str:
    return f"{grams:.0f} g" if grams >= 10 else f"{grams:.1f} g"


def _first(text: str) -> str:
    return text[:1].upper() + text[1:]


def _foods(to: tuple[tuple[str, float], ...]) -> str:
    return _first(" + ".join(f"{cook_name(food_id)} {_g(grams)}" for food_id, grams in to))


def _all_kept_out(food: str, reasons: tuple[Note, ...]) -> str:
    return f"Every way known for {food} is kept out: {'; '.join(map(str, reasons))}."


def _changed(food: str, grams: float, was: float, measure: str = "", was_measure: str = "") -> str:
    if measure and measure != was_measure:
        return f"{_first(cook_name(food))}: {measure} ({_g(grams)}) instead of {was_measure} ({_g(was)})"
    return f"{_first(cook_name(food))}: {_g(grams)} instead of {_g(was)}"


def _why_gate(nutrient: str, amount: str, post: str, others: int) -> str:
    more = f", and {others} more limit{'s' * (others > 1)}" if others else ""
    return f"without it {nutrient} {amount}, {post}{more}"


SENTENCES = {
    "same_amount": "as much for as much",
    # offers
    "by_weight": "by weight",
    "built": "No rule knows this; {food} does the same job and is much alike. Try a little first.",
    "in_place_of": "in place of {line}: {source}",
    "unsettled": "This line has no food or no weight yet: settle that first.",
    "no_rule": "No rule is known for {food}. Less of it, another food by hand, or a rule of your own will do.",
    "all_kept_out": _all_kept_out,
    "contains": lambda tag: f"it contains {tag.replace('_', ' ')}",
    "not_eaten": "{words} is not eaten",
    "potassium_salt": "it is potassium in place of sodium, and potassium is limited here",
    "check_label": lambda tag: f"Check the label for {tag.replace('_', ' ')}.",
    "minutes_more": "About {minutes} minutes more.",
    "ingredients_more": lambda count: f"{count} more ingredient{'s' * (count > 1)}.",
    "offer_drop": lambda food: f"Leave out the {cook_name(food)}",
    "offer_less": lambda food, grams: f"Less {cook_name(food)}: {_g(grams)}",
    "offer_more": lambda food, grams: f"More {cook_name(food)}: {_g(grams)}",
    "offer_state": lambda food, state: f"{_first(cook_name(food))}: {state}",
    "offer_swap": _foods,
    # what the whole has lost or gained
    "thin": "The thickener is weaker than as written: the sauce will be thin.",
    "crumbles": "Less binds it than as written: it will crumble.",
    "slumps": "Nothing does gluten’s work: it slumps and crumbles.",
    "flat": "There is less to lift it: it stays flat.",
    "soapy": "The soda has no acid to work with: it tastes of soap.",
    "dry": "Half the fat or less is left: it will be dry and tough.",
    "wet": "{grams:.0f} g more water than as written: press or drain it, salt and wring vegetables, or cook it off.",
    "catches": "Much less water than as written: it may catch or be dry.",
    "not_sweet": "Much less sweet than as written: vanilla, cinnamon or zest help.",
    "not_salty": "Little salt is left: acid, pepper and toasted spice take over.",
    # ways through
    "added_aside": "added by the way through",
    "way_changed": _changed,
    "way_swap": lambda to, food, was: f"{_foods(to)} in place of {cook_name(food)}, {_g(was)}",
    "way_add": lambda name, grams, serves: f"Beside it: {name}, {_g(grams / serves)} a person",
    "why": lambda why, tasted: "; ".join(str(each) for each in (why, tasted) if each),
    "tasted_well": "kept in a tasting of yours",
    "tasted_badly": "not kept in a tasting of yours",
    "why_kept_out": "{tags} is kept out",
    "why_gate": _why_gate,
    "why_room": "gives the other changes room",
    "why_plate": "fills the plate",
    "not_proven": "Not proven to be the least change: the search was ended before it had seen every dish.",
    "changes_a_lot": "What a cook would still call the same dish does not lead through; this changes it a lot.",
    "way_serving": "A smaller serving, {now:.0f} g instead of {was:.0f} g raw: the pot serves {serves:.3g}",
    "plans_contradict": "The plans contradict each other on {nutrients}: settle that on the person’s page first.",
    "step_open": "Step {step} adds {words}, and no line lists it: until somebody says how much, or that it is not in it, what it touches cannot be told.",
    "lines_unknown": "No food or weight is known for {lines}: settle the line first.",
    "all_pinned": "Every line is pinned: nothing may change. Unpin the line you would rather give up.",
    "nothing_stands_in": "Nothing known can stand in for {lines}, which a plan keeps out. Replace it by hand first.",
    "not_decided": "No way was found in the time there is, and it is not proven that there is none. Ask again with fewer "
    "gates, or with lines pinned.",
    "too_many_lines": "This dish has {count} lines; ways are sought for up to {most}. Make parts of it, and ask for each.",
    "no_dish": "Even without gates the dish cannot stay the dish with these pins: unpin a line or allow a "
    "smaller serving.",
    "no_dish_thickens": "Without what a plan keeps out, nothing thickens it: replace the thickener by hand first.",
    "no_dish_binds": "Without what a plan keeps out, nothing binds it: replace the egg or the crumbs by hand first.",
    "no_dish_gluten": "Without what a plan keeps out, nothing does gluten’s work: replace the flour by hand first.",
    "no_dish_lifts_base": "Without what a plan keeps out, nothing lifts it: replace the leavener by hand first.",
    "no_dish_fat": "Without what a plan keeps out, half the fat is gone: replace it by hand first.",
    "no_dish_weight": "Without what a plan keeps out, too little of the dish is left: replace it by hand first.",
    "no_way": lambda nearest, unknown: " ".join(str(each) for each in (nearest, unknown) if each),
    "unknown_in_the_way": "Values nobody knows stand in the way; counted as what is likely, there is a way: {lines}.",
    "cannot_meet": "These gates cannot be open together with the changes known.",
    "nearest_misses": "The nearest dish misses {misses}. Relax one of these limits, or unpin a line.",
    # rules
    "factor_out_of_range": "“{text}” was read; less is between 0 and 1, more between 1 and 5.",
    "not_a_ratio": "“{ratio}” is not a ratio. Write food * number, as in rice flour * 0.9.",
    "ratio_out_of_range": "A ratio of {grams:g} was read for “{name}”; more than 0 and up to 50 is expected.",
    "no_food_named": "No food was named. Write food * number, as in rice flour * 0.9.",
    "food_unknown": "“{name}” is not a food of the tables. Write a plain name, as in rice flour.",
    "leads_to_itself": "The rule puts “{replaces}” in its own place. Name another food, or use @less 0.5.",
    "not_a_job": "“{job}” is not a job; one of {names}.",
}
