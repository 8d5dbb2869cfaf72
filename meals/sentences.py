"""What the meals room of the house says."""

from nutrition.food.nutrients import BY_KEY


def _no_portions(name, misses):
    said = f"No portions of these dishes keep {name} within every limit"
    near = " and ".join(
        f"{BY_KEY[nutrient].label.lower()} {'over' if side == 'high' else 'under'} by {BY_KEY[nutrient].show(by)}"
        for nutrient, side, by in misses
    )
    return f"{said}{f'; the nearest leave {near}' if near else ''}. Change a dish, take one off, or add one."


def _over_without(title, over):
    said = {}
    for name, nutrient, by in over:
        said.setdefault(name, []).append(f"{BY_KEY[nutrient].label.lower()} by {BY_KEY[nutrient].show(by)}")
    each = "; ".join(f"{name}: {', '.join(words)}" for name, words in said.items())
    return (
        f"Without {title} these meals are over already, so no change of it opens them. {each}. "
        "Change portions or another dish first."
    )


SENTENCES = {
    "nothing_to_add": "Nothing was chosen to put on the table. Choose a dish, or write a food with its weight, as in 1 slice of bread, 35 g.",
    "no_servings": "Nobody has said how many “{title}” serves, so no portion of it can be told. Say it on its page first.",
    "card_of_before": "The card of “{title}” went out before dishes were kept with their cards. Put its try on the table instead.",
    "at_home_unread": "“{typed}” leaves open how much it is. Write an amount, as in 300 g, 2 cups or 3, or always, or nothing.",
    "not_here": "That is not on this table any more: it was taken off elsewhere. Below is how the table stands now.",
    "at_the_table": "{name} sits at this table already.",
    "over_without": _over_without,
    "no_portions": _no_portions,
    "no_plan": "“{key}” is no plan known here.",
    "full": "A table has room for {most} {what}; this one is full. Lay another table.",
    "no_lines": "“{title}” would have no line left.",
    "no_whole_way": "No way over this table was kept to take. Ask for one again.",
    "no_way": "No change of this dish was kept to take. Ask for a way again.",
}
