"""Swaps as the public door has them: a dish and an eater in, offers or ways out."""

from collections.abc import Mapping, Sequence

from nutrition.dish.dish import Dish
from nutrition.food.table import Foods, using
from nutrition.limits.eater import Eater
from nutrition.swaps.offers import Offers, Workbench, offers_for
from nutrition.swaps.rules import Rule
from nutrition.swaps.way_through import Outcome, ways_for
from nutrition.swaps.wish import Wish


def offers(
    dish: Dish,
    eater: Eater,
    position: int,
    meal: str = "dinner",
    *,
    dislikes: Sequence[str] = (),
    rules: Sequence[Rule] = (),
    jobs: Mapping[str, Sequence[str]] | None = None,
    most: int = 12,
    foods: Foods | None = None,
) -> Offers:
    """What could take over the line at a position (from 0), best first, with every effect on a serving.

    `dislikes`: words of foods the eater will not eat; `rules`: rules of one's own; `jobs`: line key -> what it does, as
    a person says. Raises IndexError when there is no such line.
    """
    with using(foods):
        bench = Workbench(dish, eater, meal, tuple(dislikes), tuple(rules), jobs or {})
        return offers_for(bench, position, most)


def find_ways(
    dish: Dish,
    eater: Eater,
    wish: Wish | None = None,
    meal: str = "dinner",
    *,
    dislikes: Sequence[str] = (),
    rules: Sequence[Rule] = (),
    jobs: Mapping[str, Sequence[str]] | None = None,
    foods: Foods | None = None,
) -> Outcome:
    """The least change that opens every gate, in several really different ways, or which gates cannot meet."""
    with using(foods):
        return ways_for(Workbench(dish, eater, meal, tuple(dislikes), tuple(rules), jobs or {}), wish)
