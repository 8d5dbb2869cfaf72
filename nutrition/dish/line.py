"""One ingredient of a dish as understood: a value that knows nothing of any table."""

from dataclasses import dataclass, replace
from typing import Any

from nutrition.dish.grams import NONE, Grams
from nutrition.notes import NOTHING, Note

SURENESS = ("sure", "likely", "check")


def worst(*sureness: str) -> str:
    """The least sure of several.

    >>> worst("sure", "check", "likely")
    'check'
    """
    return max(sureness, key=SURENESS.index)


@dataclass(frozen=True, slots=True)
class Line:
    """One ingredient line, in the one shape it keeps from the page to the card.

    `key` ties it to the same line in other versions of its dish. `food_id` None: no food; `weight` None: no weight, for
    the whole dish in grams. `how`: weight, volume, count, package or none. `sure`: sure, likely or check; `ask` is what
    the words leave open, `others` which foods they may also mean, and `is_of_a_kind` that nothing else than those is
    meant. `rule`: how it was weighed; `why`: how the food was found; `heading`: what it stands under.
    `is_edited`: food or weight were changed by hand since the words were read, so `text` may not be printed as the
    amount.
    `words_hold`: False once another food took this line's place; then only the food speaks of allergens.
    `state`: what the kitchen does to it, a key of dish/cooking.py; `advice`: what to do differently since a swap.
    `made`: of what was put in a line's place with others beside it, the swap rule (swaps/preparations.py says what they make).
    `step`: the step (from 1) that adds it where no line does; 0 for a line of the list.
    `leaves`: what the steps leave behind of it, (key of dish/cooking.py, "all", "half", "part" or "rest" of it); read of the steps anew,
    never kept. `eaten`: what somebody said of that: the key where it is so, "-" and the key where all is eaten.
    """

    text: str
    food_id: str | None = None
    weight: Grams | None = None
    how: str = "none"
    sure: str = "check"
    key: str = ""
    rule: Note = NOTHING
    why: Note = NOTHING
    ask: Note = NOTHING
    others: tuple[str, ...] = ()
    is_of_a_kind: bool = False
    heading: str = ""
    is_edited: bool = False
    words_hold: bool = True
    state: str = ""
    advice: str = ""
    step: int = 0
    leaves: tuple[tuple[str, str], ...] = ()
    eaten: tuple[str, ...] = ()
    made: str = ""

    @property
    def left_open(self) -> tuple[tuple[str, str], ...]:
        """What the steps are read to leave behind of it while nobody has said what is eaten."""
        return tuple(each for each in self.leaves if not {each[0], f"-{each[0]}"} & {*self.eaten, self.state})

    @property
    def left_for_certain(self) -> tuple[tuple[str, str], ...]:
        """What they leave behind, as somebody said."""
        return tuple(each for each in self.leaves if each[0] in self.eaten)

    @property
    def origin(self) -> str:
        """Where it was read: "list" or "step"."""
        return "step" if self.step else "list"

    @property
    def grams(self) -> float | None:
        """The likely weight; None for no weight."""
        return self.weight.likely if self.weight else None

    @property
    def span(self) -> Grams:
        """The weight, or none at all where it is not known: for sums that list such lines apart."""
        return self.weight or NONE

    @property
    def text_stands(self) -> bool:
        """Whether its words may be printed for it: neither its food nor its weight was changed since they were read."""
        return self.words_hold and (not self.is_edited or self.food_id is None)

    @property
    def is_food_open(self) -> bool:
        """Whether somebody must still say which food it is. Of what a step adds the words are all there is."""
        return self.sure == "check" and bool((self.ask and not self.step) or self.others or not self.food_id)

    @property
    def sure_of_food(self) -> str:
        """How sure its food is whatever it weighs; likely where the two cannot be told apart."""
        return "check" if self.is_food_open else "sure" if self.sure == "sure" else "likely"

    @property
    def is_vague(self) -> bool:
        """Whether its weight is known only to a span."""
        return self.weight is not None and self.weight.is_wide

    @property
    def is_weighed(self) -> bool:
        return self.food_id is not None and self.weight is not None

    def scaled(self, factor: float) -> "Line":
        """So many times as much of it."""
        return replace(self, weight=self.weight and self.weight * factor)

    def edited(self, **changes: Any) -> "Line":
        """Changed by hand: its words are no longer its amount; what a step added is a line like any other from then on."""
        return replace(self, is_edited=True, step=0, **changes)

    def at(self, grams: float, rule: Note) -> "Line":
        """At a weight that was taken or typed. A weight settles the weight, never the food."""
        return self.edited(weight=Grams.exactly(grams), how="weight", rule=rule, sure=self.sure_of_food)
