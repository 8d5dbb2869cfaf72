"""A person's day as a strip: what each meal may hold, and what their plans cannot agree on."""

from dataclasses import dataclass

from nutrition.limits.gates import Gate
from nutrition.limits.plans import PLANS
from nutrition.limits.roles import ROLES, WHOLE


@dataclass(frozen=True, slots=True)
class Meal:
    """One stretch of the day. `percent` of the day; `gates` in the order of the strip, None where none stands."""

    name: str
    percent: float
    gates: list[Gate | None]


@dataclass(frozen=True, slots=True)
class Day:
    """`nutrients` in order; `meals` side by side."""

    nutrients: list[str]
    meals: list[Meal]

    @property
    def bars(self):
        """(x, width, name) of each meal on a strip of 100."""
        x, found = 0.0, []
        for meal in self.meals:
            found.append((round(x, 2), round(max(meal.percent - 0.4, 0), 2), meal.name))
            x += meal.percent
        return found

    @property
    def rows(self):
        """(nutrient, [gate at each meal])."""
        return [(nutrient, [meal.gates[i] for meal in self.meals]) for i, nutrient in enumerate(self.nutrients)]


def day_strip(eater):
    """Every post of every meal."""
    by_meal = {meal: {gate.nutrient: gate for gate in eater.gates(meal)} for meal in eater.shares}
    nutrients = list(dict.fromkeys(key for gates in by_meal.values() for key in gates))
    meals = [
        Meal(meal, round(100 * share, 2), [by_meal[meal].get(key) for key in nutrients])
        for meal, share in eater.shares.items()
    ]
    return Day(nutrients, meals)


def parts_of(eater):
    """(key, label, percent) of what each part of a meal may take of it."""
    parts = [(key, role) for key, role in ROLES.items() if key != WHOLE]
    return [(key, role.label, 100 * eater.role_shares.get(key, role.share)) for key, role in parts]


@dataclass(frozen=True, slots=True)
class Standing:
    """A conflict as the page shows it. `leader`: the plan's label, or empty while nobody has settled it."""

    conflict: object
    leader_key: str

    @property
    def leader(self):
        return _label(self.leader_key) if self.leader_key else ""

    @property
    def sides(self):
        return [(key, _label(key), words) for key, words in self.conflict.sides.items()]


def _label(key):
    return PLANS[key].label if key in PLANS else "Own number"


def conflicts_of(eater):
    """Open conflicts first."""
    found = []
    for conflict in eater.conflicts():
        leader = eater.settled.get(conflict.topic, "")
        found.append(Standing(conflict, leader if leader in conflict.sides else ""))
    return sorted(found, key=lambda standing: bool(standing.leader_key))


def open_conflicts(eater):
    """Conflicts nobody has settled."""
    return [standing for standing in conflicts_of(eater) if not standing.leader_key]
