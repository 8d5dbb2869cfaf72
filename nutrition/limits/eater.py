"""Whoever the dish is for, as the core takes them."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from nutrition.limits.conflicts import Conflict, conflicts, owner_of, set_aside
from nutrition.limits.gates import MEAL_SHARES, Gate, Target, gates_for
from nutrition.limits.plans import PLANS, Facts
from nutrition.limits.plans.common import NotLimited
from nutrition.limits.roles import WHOLE
from nutrition.limits.tallies import Tally


@dataclass(frozen=True)
class Eater:
    """Whoever the dish is for. `plans`: key -> settings; `targets`: as they stand, with their owners.

    `settled`: topic of a conflict -> key of the plan that leads. `tallies`: of their own. `region`: "us" or "eu", whose
    rules are quoted; empty where the plans' label form decides. `role`: what part of a meal the dish at hand is
    (limits/roles.py); `role_shares`: shares of their own for such parts.
    """

    facts: Facts = field(default_factory=Facts)
    plans: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    targets: tuple[Target, ...] = ()
    settled: Mapping[str, str] = field(default_factory=dict)
    shares: Mapping[str, float] = field(default_factory=lambda: MEAL_SHARES)
    tallies: tuple[Tally, ...] = ()
    region: str = ""
    role: str = WHOLE
    role_shares: Mapping[str, float] = field(default_factory=dict)

    def conflicts(self) -> list[Conflict]:
        return conflicts(list(self.plans), self.targets)

    def standing_targets(self) -> list[Target]:
        """The targets less those that gave way when a conflict was settled."""
        aside = set_aside(self.conflicts(), self.settled)
        return [target for target in self.targets if (owner_of(target), target.nutrient) not in aside]

    def gates(self, meal: str) -> list[Gate]:
        return gates_for(self.standing_targets(), meal, self.shares, self.role, self.role_shares)

    def not_limited(self) -> list[tuple[str, NotLimited]]:
        """(plan key, what it would limit and does not, by this person's results), where no other target stands."""
        limited = {target.nutrient for target in self.standing_targets() if target.maximum is not None}
        free = [
            (key, each)
            for key, settings in self.plans.items()
            for each in PLANS[key].not_limited_of(self.facts, PLANS[key].choose(settings))
        ]
        return [(key, each) for key, each in free if each.nutrient not in limited]

    @property
    def label_region(self) -> str:
        """Whose rules claims and keeping are held to: theirs, else the first plan's label form that says "eu", else the US."""
        if self.region:
            return self.region
        return "eu" if any(settings.get("label") == "eu" for settings in self.plans.values()) else "us"

    @property
    def allergen_list(self) -> str:
        """Whose list of allergens counts, where a plan asks; empty where none does."""
        return next((settings["list"] for settings in self.plans.values() if "list" in settings), "")
