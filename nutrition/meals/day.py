"""A day of one eater: what their meals hold together, against what the day allows and asks for; whether carbohydrate is steady from
meal to meal; and what adds up where meals stand close together.

What a day asks for at least is judged once its meals are all there; before that it is what is still to come.
"""

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from nutrition.food.derived import a_sitting_of
from nutrition.food.nutrients import INDEX, KEYS
from nutrition.limits.eater import Eater
from nutrition.limits.gates import SNACK, Gate, gates_for
from nutrition.limits.plans import PLANS
from nutrition.meals.table import Place, meal_gates
from nutrition.sheet.verdicts import Verdict, state_of, worst

#: The meals that make a day; a snack may be left out.
MAIN_MEALS = ("breakfast", "lunch", "dinner")
DAY = "day"
#: Carbohydrate is steady when the main meals differ by no more than this: one portion (common practice of carbohydrate counting).
STEADY_G = 15.0
#: Meals nearer than this add up in the gut: what one sitting bears is asked of both (common practice of low-FODMAP teaching: 3 to 4 h).
CLOSE_MINUTES = 210
_CARBOHYDRATE = ("net_carbohydrate_g", "available_carbohydrate_g", "carbohydrate_g")


@dataclass(frozen=True, slots=True)
class Steady:
    """Carbohydrate of the main meals that are there. `apart`: the most less the least, in grams."""

    nutrient: str
    amounts: tuple[tuple[str, float], ...]

    @property
    def apart(self) -> float:
        amounts = [amount for _, amount in self.amounts]
        return max(amounts) - min(amounts)

    @property
    def is_steady(self) -> bool:
        return self.apart <= STEADY_G


@dataclass(frozen=True, slots=True)
class Stack:
    """Two meals so close that what they hold of a FODMAP group adds up past one sitting. `load`: × a sitting, at the most known."""

    nutrient: str
    meals: tuple[str, str]
    load: float
    minutes: float


@dataclass(frozen=True)
class Day:
    """`places`: meal -> what they eat there, in the order of the day. `at`: meal -> minutes after midnight."""

    eater: Eater
    places: Mapping[str, Place]
    at: Mapping[str, float]

    @property
    def is_whole(self) -> bool:
        """Whether something is eaten at every main meal."""
        return all(meal in self.places and self.places[meal].is_eating for meal in MAIN_MEALS)

    @cached_property
    def holds(self) -> np.ndarray:
        """(3, nutrients): least, likely, most of all meals."""
        spreads = [place.spread.sum(axis=1) for place in self.places.values()]
        total: np.ndarray = np.sum(spreads, axis=0) if spreads else np.zeros((3, len(KEYS)))
        return total

    @cached_property
    def gates(self) -> list[Gate]:
        """Of the whole day."""
        targets = [target for target in self.eater.standing_targets() if target.scope == DAY]
        return gates_for(targets, DAY, {DAY: 1.0})

    @cached_property
    def verdicts(self) -> list[Verdict]:
        """The day's gates; of a day that is not all there, the ceilings only."""
        found = []
        for gate in self.gates:
            asked = gate if self.is_whole else replace(gate, low=None)
            least, likely, most = (float(side) for side in self.holds[:, INDEX[gate.nutrient]])
            if asked.low or asked.high:
                state = state_of(asked, least, most)
                found.append(Verdict(asked, likely, least, most, state, self._unknown(gate.nutrient)))
        return found

    def _unknown(self, nutrient: str) -> tuple[int, ...]:
        """Lines of all meals, one after another, of which the amount is not known."""
        by_meal = [place.unknown_lines(nutrient) for place in self.places.values()]
        return tuple(range(sum(map(len, by_meal))))

    @property
    def to_come(self) -> list[tuple[Gate, float]]:
        """(gate, how much is still to come) of what the day asks for at least and does not hold yet."""
        found = []
        for gate in self.gates:
            missing = gate.low.limit - float(self.holds[0, INDEX[gate.nutrient]]) if gate.low else 0.0
            if missing > 0:
                found.append((gate, missing))
        return found

    def left(self, nutrient: str) -> float:
        """What the day still leaves of a nutrient, counted from the most; infinite without a ceiling."""
        gate = next((each for each in self.gates if each.nutrient == nutrient and each.high), None)
        return gate.high.limit - float(self.holds[2, INDEX[nutrient]]) if gate and gate.high else np.inf

    def room_at(self, meal: str) -> list[tuple[Gate, float]]:
        """(gate with a ceiling, what may still be eaten at this meal): what the day leaves, and a limit of each meal what of that meal
        is left. A meal's share of the day's limit is a habit, and no limit."""
        of_meal, of_serving = meal_gates(self.eater, meal)
        left = {gate.nutrient: self.left(gate.nutrient) for gate in self.gates if gate.high}
        for gate in (*of_meal, *of_serving):
            if gate.high and gate.high.target.scope != DAY:
                there = self.places.get(meal)
                eaten = float(there.spread[2, :, INDEX[gate.nutrient]].sum()) if there else 0.0
                left[gate.nutrient] = min(left.get(gate.nutrient, np.inf), gate.high.limit - eaten)
        gates = {gate.nutrient: gate for gate in (*of_serving, *of_meal, *self.gates) if gate.high}
        return [(gates[nutrient], room) for nutrient, room in left.items()]

    @property
    def state(self) -> str:
        """The worst of the day's gates, of limits that are of each meal, and of what they may have of every dish they eat."""
        states = {verdict.state for verdict in self.verdicts}
        return worst(states | {place.on_its_own for place in self.places.values()})

    def gates_beside(self, meal: str, dish: int) -> list[Gate]:
        """Gates of one serving of a dish of a meal: what the rest of the day, or of the meal where a limit is the meal's, leaves for it.
        Nothing where nothing is left."""
        place = self.places[meal]
        mine, whole, gates = place.spread[2, dish], place.spread[2].sum(axis=0), []
        portion = place.crossings[dish].portion
        held = [(gate, self.holds[2]) for gate in self.gates]
        held += [(v.gate, whole) for v in place.verdicts if v.gate.high and v.gate.high.target.scope == "meal"]
        for gate, total in held:
            if gate.high is None or not portion:
                continue
            column = INDEX[gate.nutrient]
            left = gate.high.limit - float(total[column] - mine[column])
            if np.isfinite(left) and left > 0:
                gates.append(Gate(gate.nutrient, None, replace(gate.high, limit=left / portion.most)))
        return gates

    @property
    def steady(self) -> Steady | None:
        """Carbohydrate from meal to meal, where a plan wants it steady and two main meals are there."""
        if not any(PLANS[key].stances.get("carbohydrate") == "steady" for key in self.eater.plans):
            return None
        limited = {target.nutrient for target in self.eater.standing_targets()}
        nutrient = next((key for key in _CARBOHYDRATE if key in limited), _CARBOHYDRATE[-1])
        eaten = [
            (meal, self.places[meal]) for meal in MAIN_MEALS if meal in self.places and self.places[meal].is_eating
        ]
        amounts = tuple((meal, float(place.spread[1, :, INDEX[nutrient]].sum())) for meal, place in eaten)
        return Steady(nutrient, amounts) if len(amounts) > 1 else None

    @property
    def stacks(self) -> list[Stack]:
        """Meals nearer than CLOSE_MINUTES that hold more of a limited FODMAP group together than one sitting bears, and each
        alone does not."""
        limited = {
            t.nutrient: t.maximum for t in self.eater.standing_targets() if t.maximum and a_sitting_of(t.nutrient)
        }
        meals = sorted(self.places, key=lambda meal: self.at.get(meal, 0.0))
        found = []
        for one, other in itertools.pairwise(meals):
            minutes = self.at.get(other, 0.0) - self.at.get(one, 0.0)
            if minutes >= CLOSE_MINUTES:
                continue
            for nutrient, most in limited.items():
                loads = [float(self.places[meal].spread[2, :, INDEX[nutrient]].sum()) for meal in (one, other)]
                if max(loads) <= most < sum(loads) and min(loads) > 0:
                    found.append(Stack(nutrient, (one, other), sum(loads), minutes))
        return found


def averages(days: Sequence[Day]) -> list[Verdict]:
    """The mean of several days of one eater against the day's gates; floors only of days that are whole."""
    found = []
    for gate in days[0].gates if days else ():
        counted = [day for day in days if not gate.low or day.is_whole]
        if counted:
            holds = np.mean([day.holds[:, INDEX[gate.nutrient]] for day in counted], axis=0)
            least, likely, most = map(float, holds)
            found.append(Verdict(gate, likely, least, most, state_of(gate, least, most), ()))
    return found


def day_of(eater: Eater, places: Mapping[str, Place], at: Mapping[str, float] | None = None) -> Day:
    """A day from its meals, in whatever order they come."""
    order: Sequence[str] = (*MAIN_MEALS, SNACK)
    ordered = {
        meal: places[meal] for meal in sorted(places, key=lambda meal: order.index(meal) if meal in order else 9)
    }
    return Day(eater, ordered, at or {})
