"""What a plan is asked for, and what it answers: nutrition/meals/planner.py."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from nutrition.limits.eater import Eater
from nutrition.meals.fitting import Miss
from nutrition.meals.room import AsEaten
from nutrition.meals.table import Served


@dataclass(frozen=True)
class Candidate:
    """A dish that may be planned. `meals`: where it may stand; `minutes` of hands; `liked` from -1 to 1; `left`: servings of it that
    are cooked already, which make no work."""

    key: str
    served: Served
    meals: frozenset[str]
    minutes: float = 20.0
    liked: float = 0.0
    left: float = 0.0


@dataclass(frozen=True)
class Diner:
    """Somebody who is planned for."""

    name: str
    eater: Eater


@dataclass(frozen=True, slots=True)
class Fixed:
    """What stands already: a day (from 0), a meal, whose (from 0), and the least, likely and most it holds, (3, nutrients).
    `keys`: of candidates in it."""

    day: int
    meal: str
    diner: int
    spread: np.ndarray
    keys: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Choice:
    """What fills a place: a dish in servings, and plain foods in units. `by_label`: tags somebody keeps out of which a label of the
    dish decides; `minds`: keys of what is to be minded of it."""

    day: int
    meal: str
    diner: int
    key: str
    servings: float
    beside: tuple[tuple[AsEaten, float], ...]
    by_label: tuple[str, ...] = ()
    minds: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Stuck:
    """A day of somebody that no choice brings within the limits, and what the nearest misses; nothing, and the meal, where no
    dish suits a place. `is_proven`: there is none; else none was found in the work a day is given."""

    day: int
    diner: int
    meal: str
    misses: tuple[Miss, ...]
    is_proven: bool = True


#: A day that holds less of somebody's need than this does not feed them, whatever its limits say (common practice).
FEEDS = 0.8


@dataclass(frozen=True, slots=True)
class Fed:
    """What a day gives somebody to eat, kcal, and what they need; None where nothing is known of their need."""

    day: int
    diner: int
    energy_kcal: float
    need_kcal: float | None

    @property
    def share(self) -> float | None:
        return self.energy_kcal / self.need_kcal if self.need_kcal else None

    @property
    def is_enough(self) -> bool:
        """Whether nothing says that it is too little."""
        return self.share is None or self.share >= FEEDS


@dataclass(frozen=True)
class Plan:
    """`choices` in order; `stuck` days are left open. `is_proven`: each day's choice costs no more than BEST_WITHIN above the least
    there could be, of the dishes that suit its places best. `fed`: the energy of each day, for each who is planned for."""

    choices: tuple[Choice, ...]
    stuck: tuple[Stuck, ...]
    is_proven: bool
    cost: float
    fed: tuple[Fed, ...] = ()

    @property
    def hungry(self) -> tuple[Fed, ...]:
        """The days that hold too little of somebody's need: no plan with one of them is called within every limit."""
        return tuple(each for each in self.fed if not each.is_enough)


@dataclass
class Asked:
    """What is to be planned: for whom, from what, how many days, which meals; what stands; which meals are shared; how many minutes
    of work a day bears before it costs (by day, 0 where none is said); choices that are not wanted again, (day, meal, key). Days before
    `first` are over, and count only for what repeats."""

    diners: Sequence[Diner]
    candidates: Sequence[Candidate]
    days: int = 1
    meals: Sequence[str] = ("breakfast", "lunch", "dinner")
    fixed: Sequence[Fixed] = ()
    shared: frozenset[str] = frozenset()
    free_minutes: Mapping[int, float] = field(default_factory=dict)
    not_again: frozenset[tuple[int, str, str]] = frozenset()
    first: int = 0
