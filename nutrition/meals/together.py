"""One dish for everybody who eats of it: what the rest of each meal leaves for it, the tightest of all on one serving. A way through
for that eater is a way for each of them, and opens their meals."""

from dataclasses import replace

import numpy as np

from nutrition.food.nutrients import INDEX
from nutrition.limits.eater import Eater, merged
from nutrition.limits.gates import TOLERANCE, Post, Target
from nutrition.limits.roles import WHOLE
from nutrition.meals.table import Place, Table
from nutrition.swaps.door import find_ways
from nutrition.swaps.way_through import Outcome
from nutrition.swaps.wish import Wish


def together(table: Table, dish: int, *, shares_out: bool = False) -> Eater:
    """Everybody who eats of a dish as one eater of one serving of it.

    Each limit of a meal, less what the other dishes bring to it, is shared out over the portion its owner eats: half a serving lets
    a serving hold twice as much. Limits keep their owners' names; what is known of any of them is known of all (eater.merged).
    `shares_out`: where the other dishes pass a limit alone, each dish owes its part of what is too much; and of what a meal lacks, no
    dish owes more than it brings.
    """
    eating = [place for place in table.places if place.seat.portions[dish]]
    targets = tuple(target for place in eating for target in _targets(place, dish, shares_out))
    everybody = merged([place.seat.eater for place in eating])
    return replace(everybody, targets=targets, settled={}, role=WHOLE)


def _targets(place: Place, dish: int, shares_out: bool) -> list[Target]:
    portion, found = place.seat.portions[dish], []
    own = place.spread[:, dish]
    others = np.delete(place.spread, dish, axis=1).sum(axis=1)
    # Where nobody knows how much the others may bring, what is known of them counts: the meal stays open to question.
    others[2] = np.where(np.isfinite(others[2]), others[2], others[1])
    for verdict in place.verdicts:
        low, high, column = verdict.gate.low, verdict.gate.high, INDEX[verdict.gate.nutrient]
        if low and portion.least and (least := low.limit - float(others[0, column])) > 0:
            least = min(least, float(own[0, column])) if shares_out else least
            found.append(_target(place, low, least / portion.least, None))
        if high:
            room = max(high.limit - float(others[2, column]), 0.0)
            if shares_out and np.isfinite(mine := float(own[2, column])) and mine:
                room = max(room, mine * min(high.limit / (mine + float(others[2, column])), 1.0))
            found.append(_target(place, high, None, room / portion.most))
    found += [target for target in place.seat.eater.standing_targets() if target.scope == "serving"]
    return found


def _target(place: Place, post: Post, minimum: float | None, maximum: float | None) -> Target:
    source = f"{place.seat.name}: {post.target.source}" if post.target.source else place.seat.name
    return Target(post.target.nutrient, minimum, maximum, "serving", post.target.plan, source)


def over_without(table: Table, dish: int) -> list[tuple[Place, str, float]]:
    """(place, nutrient, by how much) of the meals of its eaters that pass a ceiling by their other dishes alone: no change of
    this one could open them."""
    found = []
    for place in table.places:
        others = np.delete(place.spread[1], dish, axis=0).sum(axis=0)
        for verdict in place.verdicts if place.seat.portions[dish] else ():
            gate = verdict.gate
            if (
                gate.high
                and (by := float(others[INDEX[gate.nutrient]]) - gate.high.limit) > TOLERANCE * gate.high.limit
            ):
                found.append((place, gate.nutrient, by))
    return found


def ways_for_all(table: Table, dish: int, wish: Wish | None = None, *, shares_out: bool = False) -> Outcome:
    """The least change of one dish that opens the meals of all who eat it, nothing put beside it; or which limits cannot meet.
    `shares_out`: as of `together`."""
    everybody = together(table, dish, shares_out=shares_out)
    return find_ways(table.dishes[dish].dish, everybody, wish or Wish(one_pot=True), table.meal)
