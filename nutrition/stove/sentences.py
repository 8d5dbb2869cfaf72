"""What the stove room says."""

from nutrition.food.nutrients import BY_KEY


def _label(nutrient: str) -> str:
    return BY_KEY[nutrient].label.lower()


SENTENCES = {
    "weighed_in": "weighed in",
    "spent_by_weight": "spent by weight",
    # what may be spent
    "cannot_tell": lambda nutrient, lines: (
        f"How much {_label(nutrient)} is in {lines} is not known, so no room can be promised."
    ),
    "no_post": "No post of these gates counts it.",
    "no_room": lambda nutrient: f"Everything else already reaches the {_label(nutrient)} post: there is no room.",
    "none_wanted": lambda nutrient, room: f"The recipe has none; the {_label(nutrient)} post would leave {room:g} g.",
    "as_the_recipe": lambda nutrient, room: f"What the recipe has; the {_label(nutrient)} post would leave {room:g} g.",
    "what_is_left": lambda nutrient: f"What the {_label(nutrient)} post leaves once everything else is in.",
    # taps
    "tap_unknown": "“{kind}” was read; one of {names} is expected.",
    "no_weight": "No weight was read. Type grams, as in 12.5, or take it from the scale.",
    "weight_out_of_range": "{grams:,.4g} g was read; grams from {least:g} to {most:,.0f} are expected.",
    "line_gone": "That line is not in this cook any more. The step below is how it stands now.",
    "left_is_no_line": "What stayed behind was read as of {name}, and no step leaves bones, shells, oil or flour of it behind. Say on the recipe "
    "what is eaten of it.",
    "less_than_there_is": "{grams:g} g less was read, and only {there:.4g} g are in. Skip the line instead.",
    "line_without_weight": "This line has no weight yet. Weigh what went in instead.",
    "food_gone": "That food is not in the table. Search for it again.",
    "not_counted_out": "“{key}” is not counted out here.",
    "several_foods": "{label}: the recipe has several foods of it. Weigh each by itself.",
}
