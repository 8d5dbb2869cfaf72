"""What may be put beside a dish, when a gate asks for at least so much or the plate is not full: tables/sides.tsv."""

import functools
import re
from dataclasses import dataclass

from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.dish.naming import name_of
from nutrition.food.names import cook_name
from nutrition.food.nutrients import KEYS
from nutrition.food.table import foods
from nutrition.notes import NOTHING, note
from nutrition.swaps.offers import Workbench
from nutrition.swaps.option import Option, make_option
from nutrition.swaps.rules import food_called
from nutrition.swaps.taste import taste_of
from nutrition.swaps.weights import weight
from nutrition.swaps.wish import Wish
from nutrition.tables import read_table

#: What stands beside the dish; and what it costs by the whole of it.
COST_SIDE, COST_SIDE_AMOUNT = weight("side"), weight("side amount")
#: No less of a side than this part of it.
LEAST_SIDE = 0.45
#: What sides are for that fill the plate where something went.
TO_FILL = "plate"
#: What a side stands under.
BESIDE = "Beside it"
#: What is put on bread or over vegetables at the table may be in the dish too; of the rest nothing twice.
A_SPREAD = 20.0
COST_CLASH = weight("clash")


@dataclass(frozen=True, slots=True)
class Side:
    """What may be put beside a dish. `grams`: of a serving at most, raw or as bought; `helps`: nutrients."""

    name: str
    helps: frozenset[str]
    grams: float
    taste: str
    clashes: re.Pattern[str] | None
    how: str


@functools.cache
def sides() -> tuple[Side, ...]:
    return tuple(
        Side(
            row["food"],
            row.words("for", (TO_FILL, *KEYS)),
            row.number("grams"),
            row.one_of("taste", ("savory", "sweet", "any")),
            row.pattern_or_none("clashes"),
            row.text("how"),
        )
        for row in read_table("sides.tsv")
    )


def beside(bench: Workbench, position: int, wish: Wish) -> list[Option]:
    """Something on the side, when a gate asks for at least so much; each on a place of its own after the lines."""
    found: list[Option] = []
    asked = {gate.nutrient for gate in bench.gates if gate.low} | ({TO_FILL} if bench.gates else set())
    words = " ".join((bench.dish.title, *(name_of(line) for line in bench.lines))).lower()
    taste, written = taste_of(bench), {line.food_id for line in bench.lines}
    for side in sides():
        food_id = food_called(side.name)
        if not side.helps & asked or side.taste not in ("any", taste) or (food_id in written and side.grams > A_SPREAD):
            continue
        if bench.forbidden(food_id) or not wish.lets_in(food_id, bench):
            continue
        whole = side.grams * bench.serves
        name = cook_name(food_id) if foods().has(side.name) else side.name
        line = Line(
            name,
            food_id,
            Grams.exactly(whole),
            "weight",
            "likely",
            why=note("swaps.added_aside"),
            is_edited=True,
            heading=BESIDE,
            advice=side.how,
        )
        cost = COST_SIDE + (COST_CLASH / 2 if side.clashes and side.clashes.search(words) else 0.0)
        text = note("swaps.way_add", name=name, grams=whole, serves=bench.serves)
        found.append(make_option(bench, position, "kept", NOTHING, (), (1.0, 1.0), 0.0))
        there = make_option(bench, position, "more", text, [line], (LEAST_SIDE, 1.0), cost)
        there.lever = "side"
        found.append(there)
        position += 1
    return found
