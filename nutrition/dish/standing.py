"""What a kept line stands for today: foods leave the table, and nobody's dish may fall over or quietly change by it."""

from dataclasses import replace

from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.food.table import RETIRED, foods
from nutrition.notes import note


def standing(line: Line) -> Line:
    """The line as it may be counted now.

    A food that a later table retired keeps its last known values, and the line asks for another. One the table does not
    know at all counts as no food: its figures are unknown, not zero, and every allergen asks for the label.
    """
    table = foods()
    others = tuple(each for each in line.others if table.has_id(each))
    if line.food_id and not table.has_id(line.food_id):
        ask = note("dish.food_gone", food=line.food_id)
        return replace(line, food_id=None, sure="check", ask=ask, others=others, state="", is_of_a_kind=False)
    if line.food_id and table.by_id(line.food_id).kind == RETIRED:
        return replace(line, sure="check", ask=note("dish.food_retired"), others=others)
    return line if len(others) == len(line.others) else replace(line, others=others)


def standing_dish(dish: Dish) -> Dish:
    """... and every line of a dish."""
    lines = tuple(map(standing, dish.lines))
    return dish if lines == dish.lines else dish.with_lines(lines)
