"""What the steps never cook: eggs, fish, shellfish and meat of which a part is read to meet no heat.

As the method has it (reading/method.py): heat that comes with or after the last time a food is put in cooks it, "off the heat" is no
heat. Without steps nothing is said. Foods as bought: tables/patterns.tsv; common practice.
"""

from collections.abc import Sequence

from nutrition.dish.line import Line
from nutrition.food.table import foods
from nutrition.reading.method import method_of
from nutrition.tables import pattern

#: What is asked about, and the foods of the table that are it as bought.
FAMILIES = ("egg", "fish", "meat")


def uncooked(family: str, lines: Sequence[Line], steps: Sequence[str]) -> tuple[int, ...]:
    """Positions of the raw foods of a family that no step heats. Raises KeyError for a family nobody knows.

    >>> from nutrition.reading.recipe import read_line
    >>> pot = [read_line("3 eggs"), read_line("100 g sugar")]
    >>> uncooked("egg", pot, ["Whisk the yolks with the sugar.", "Fold in the whites and chill."])
    (0,)
    >>> uncooked("egg", pot, ["Whisk the eggs with the sugar.", "Bake for half an hour."])
    ()
    """
    raw = pattern(f"raw_{family}")
    if not steps:
        return ()
    own = tuple(line for line in lines if not line.step)
    return tuple(
        at for at in method_of(tuple(steps), own).raw if own[at].food_id and raw.search(_kind(own[at].food_id or ""))
    )


def _kind(food_id: str) -> str:
    food = foods().by_id(food_id)
    return f"{food.category}: {food.description}"
