"""What a line is called: its food's name while it has one, else its own words."""

from nutrition.dish.line import Line
from nutrition.food.names import cook_name
from nutrition.food.table import foods


def name_of(line: Line) -> str:
    """What a cook calls its food; the line's own words when it has none."""
    return cook_name(line.food_id) if line.food_id else line.text


def name_first(line: Line) -> str:
    """The same at the beginning of a sentence."""
    name = name_of(line)
    return name[:1].upper() + name[1:]


def description_of(line: Line) -> str:
    """The table's description of its food; empty when it has none."""
    return foods().description(line.food_id) if line.food_id else ""


def called(line: Line) -> str:
    """What a line is called where a finding names it: its words, or the food that took their place."""
    return line.text if line.text_stands else name_first(line)
