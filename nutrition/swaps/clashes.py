"""Foods that no cook puts together: tables/clashes.tsv."""

import functools
import re

from nutrition.dish.line import Line
from nutrition.dish.naming import description_of, name_of
from nutrition.swaps.offers import Workbench
from nutrition.tables import read_table


def words_of(line: Line) -> str:
    """The food of a line, as the table and as a cook calls it."""
    return f"{description_of(line)} {name_of(line)}".lower()


@functools.cache
def _clashes() -> tuple[tuple[re.Pattern[str], re.Pattern[str]], ...]:
    return tuple((row.pattern("dish"), row.pattern("food")) for row in read_table("clashes.tsv"))


def clashes(bench: Workbench, position: int, new: Line) -> bool:
    """Whether no cook would put this food into the dish: it, or what goes with it, is in the dish by no other line."""
    if any(line.food_id == new.food_id for line in bench.lines):
        return False
    comes = words_of(new)
    bad = [(dish, food) for dish, food in _clashes() if food.search(comes)]
    if not bad:
        return False
    others = [words_of(line) for at, line in enumerate(bench.lines) if at != position]
    text = " ".join((bench.dish.title.lower(), *others))
    return any(dish.search(text) and not any(food.search(other) for other in others) for dish, food in bad)
