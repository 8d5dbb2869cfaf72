"""What the kitchen does to a line. This step: draining and rinsing what comes in a can.

Draining swaps the can with its liquid for the drained food of the table and takes the liquid's weight
off; rinsing takes a tenth more of the sodium (Duyff, Mount and Jones 2011: drained 36 % less sodium,
drained and rinsed 41 % less). Foods and shares: tables/draining.tsv.
"""

import functools
from dataclasses import replace

from .composition import foods, read_table
from .recipe import Line

AS_IS, DRAINED, RINSED = "as it is", "drained", "drained and rinsed"


@functools.cache
def _rows() -> dict[str, dict[str, tuple[str, float]]]:
    """food id -> state -> (food id, grams in that state per gram in the can's full state)"""
    table, found = foods(), {}
    for row in read_table("draining.tsv"):
        share = float(row["drained_share"])
        family = {AS_IS: (row["in_liquid"], 1.0), DRAINED: (row["drained"], share), RINSED: (row["rinsed"], share)}
        family = {s: (table.by_description(food).id, part) for s, (food, part) in family.items() if food}
        for food_id, _ in family.values():
            found.setdefault(food_id, family)
    return found


def states(food_id: str | None) -> tuple[str, ...]:
    """The states a food of the table may be brought to; empty when draining does nothing to it."""
    return tuple(_rows().get(food_id or "", ()))


def state_of(food_id: str | None) -> str:
    """The state a food of the table is already in.

    >>> state_of("curated/" + "chickpeas-garbanzo-beans-bengal-gram-mature-seeds-canned-drained-solids")
    'drained'
    """
    return next((s for s, (food, _) in _rows().get(food_id or "", {}).items() if food == food_id), AS_IS)


def bring_to(line: Line, state: str) -> Line:
    """The line drained, or drained and rinsed, or back in its liquid. Raises ValueError when it cannot be."""
    family = _rows().get(line.food_id or "", {})
    if state not in family:
        raise ValueError(f"{line.description or 'this line'} cannot be {state}")
    food_id, part = family[state]
    _, now = family[state_of(line.food_id)]
    factor = part / now
    return replace(
        line,
        food_id=food_id,
        low=line.low * factor,
        grams=None if line.grams is None else line.grams * factor,
        high=line.high * factor,
        ask="",
        is_edited=True,
        sure="likely",
        rule=f"{state}: {factor:.0%} of the weight before" if abs(factor - 1) > 0.001 else line.rule,
    )
