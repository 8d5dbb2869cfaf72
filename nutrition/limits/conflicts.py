"""Where several plans pull in different directions: shown for a person to settle, never settled silently."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nutrition.food.nutrients import BY_KEY
from nutrition.limits.gates import Target, gates_for
from nutrition.limits.plans import OWN, PLANS
from nutrition.notes import Note, note

#: topic -> (what it is called, the nutrients whose targets go with it)
TOPICS = {
    "salt": ("salt", ("sodium_mg",)),
    "protein": ("protein", ("protein_g", "counted_protein_g", "phenylalanine_mg")),
    "potassium": ("potassium", ("potassium_mg",)),
    "fat": ("fat", ("saturated_fat_g", "fat_g")),
    "carbohydrate": ("carbohydrate", ("carbohydrate_g", "available_carbohydrate_g", "net_carbohydrate_g")),
    "fluid": ("fluid", ("fluid_ml",)),
    "whole grains": ("whole grains and starches", ()),
}


@dataclass(frozen=True, slots=True)
class Conflict:
    """Plans that cannot both be followed on one topic.

    `sides`: plan key -> what it says. `nutrients`: whose targets the side that does not lead gives up.
    """

    topic: str
    label: str
    sides: dict[str, Note]
    nutrients: tuple[str, ...]

    @property
    def words(self) -> Note:
        """One sentence for the screen."""
        return note("limits.conflict", topic=self.label, sides=tuple(self.sides.items()))


def _stances(plan_keys: Sequence[str]) -> list[Conflict]:
    found = []
    for topic, (label, nutrients) in TOPICS.items():
        held = {key: PLANS[key].stances[topic] for key in plan_keys if topic in PLANS[key].stances}
        if len(set(held.values())) > 1:
            found.append(
                Conflict(
                    topic, label, {key: note(f"limits.stance_{stance}") for key, stance in held.items()}, nutrients
                )
            )
    return found


def owner_of(target: Target) -> str:
    """Key of the plan whose rule it is; "own" for anything else."""
    return target.plan if target.plan in PLANS else OWN


def conflicts(plan_keys: Sequence[str], targets: Sequence[Target]) -> list[Conflict]:
    """Contradictory advice of the plans, and targets whose posts cannot both be met at any meal."""
    found = _stances(plan_keys)
    taken = {nutrient for conflict in found for nutrient in conflict.nutrients}
    for meal in ("dinner", "lunch", "breakfast", "snack"):
        for gate in gates_for(targets, meal):
            if gate.low and gate.high and gate.is_conflict and gate.nutrient not in taken:
                taken.add(gate.nutrient)
                name = BY_KEY[gate.nutrient].label
                sides = {
                    owner_of(gate.low.target): note("limits.at_least", limit=gate.low.limit, meal=meal),
                    owner_of(gate.high.target): note("limits.at_most", limit=gate.high.limit, meal=meal),
                }
                found.append(Conflict(gate.nutrient, name.lower(), sides, (gate.nutrient,)))
    return found


def set_aside(found: Sequence[Conflict], settled: Mapping[str, str]) -> set[tuple[str, str]]:
    """(plan key, nutrient) of targets that give way. `settled`: topic -> the plan key that leads.

    >>> both = conflicts(["low-sodium", "very-low-carb"], [])
    >>> sorted(set_aside(both, {"salt": "very-low-carb"}))
    [('low-sodium', 'sodium_mg')]
    """
    return {
        (key, nutrient)
        for conflict in found
        if conflict.topic in settled and settled[conflict.topic] in conflict.sides
        for key in conflict.sides
        if key != settled[conflict.topic]
        for nutrient in conflict.nutrients
    }
