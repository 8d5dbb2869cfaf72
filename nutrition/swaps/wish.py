"""What a cook asks of a way through."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from math import inf

from nutrition.food.names import all_names, is_water
from nutrition.limits.noted import name_in, noted_words
from nutrition.swaps.offers import Workbench


@dataclass(frozen=True)
class Wish:
    """What the cook asks: `pinned` positions never touched, `at_least` shares of a line to keep, how many `ways`.

    `never`: foods in words that do not come in; `nothing_new`: nothing that is not in the dish already, but water;
    `one_pot`: nothing beside the dish.

    Work is counted, not timed; `most_seconds` is the last resort of a machine that is too slow for it, and `seconds` of a
    caller who cannot wait as long.
    """

    pinned: frozenset[int] = frozenset()
    at_least: Mapping[int, float] = field(default_factory=dict)
    ways: int = 3
    certain: bool = True
    never: tuple[str, ...] = ()
    nothing_new: bool = False
    one_pot: bool = False
    seconds: float = inf
    most_seconds: float = 12.0

    @cached_property
    def _never(self) -> tuple[str, ...]:
        return tuple(each for text in self.never for each in noted_words(text))

    def lets_in(self, food_id: str, bench: Workbench) -> bool:
        """Whether this food may come into the dish."""
        if any(line.food_id == food_id for line in bench.lines):
            return True
        if self._never and name_in(self._never, all_names(food_id)):
            return False
        return not self.nothing_new or is_water(food_id)
