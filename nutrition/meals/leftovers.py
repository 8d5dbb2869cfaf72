"""A batch that lasts: cooked once, eaten on several days within what it keeps, the rest frozen; each portion counted once."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from nutrition.dish.dish import Dish
from nutrition.sheet.safety import safety_of


@dataclass(frozen=True, slots=True)
class Use:
    """So many servings of a batch on a day."""

    on: date
    servings: float


@dataclass(frozen=True, slots=True)
class Batch:
    """`made`: servings cooked on `on`; `uses` of other days too. `keep_days` in the cold, `freeze_months` frozen."""

    on: date
    made: float
    uses: tuple[Use, ...]
    keep_days: int
    freeze_months: int

    @property
    def eaten(self) -> float:
        return sum(use.servings for use in self.uses)

    @property
    def rest(self) -> float:
        """Servings nobody has eaten yet; below zero where more is planned than there is."""
        return self.made - self.eaten

    @property
    def eat_by(self) -> date:
        """The last day it keeps in the cold; the day it was cooked is the first."""
        return self.on + timedelta(days=self.keep_days)

    @property
    def too_late(self) -> tuple[Use, ...]:
        """Uses past that day: they come from the freezer, or not at all."""
        return tuple(use for use in self.uses if use.on > self.eat_by)

    @property
    def too_early(self) -> tuple[Use, ...]:
        """Uses before it was cooked."""
        return tuple(use for use in self.uses if use.on < self.on)

    @property
    def frozen_until(self) -> date | None:
        """Until when what is frozen is good; None for what is better not frozen."""
        if not self.freeze_months:
            return None
        month = self.on.month - 1 + self.freeze_months
        year, month = self.on.year + month // 12, month % 12 + 1
        day = min(self.on.day, (date(year + month // 12, month % 12 + 1, 1) - timedelta(days=1)).day)
        return date(year, month, day)


def batch_of(dish: Dish, on: date, made: float, uses: Sequence[Use], region: str = "us") -> Batch:
    """The batch of a dish, kept as long as its rules say (tables/food_safety.tsv)."""
    safety = safety_of(dish.lines, region)
    return Batch(on, made, tuple(uses), safety.keep_days, safety.freeze_months)
