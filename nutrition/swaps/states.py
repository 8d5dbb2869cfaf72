"""A rule's grams speak of a food as its own example has it: dry rice, canned beans. A line may hold it in the other state.

A cup of cooked rice is a third of dry rice and two thirds of water: what takes its place is weighed by the dry matter, and comes cooked where
the table has it so. What would have to be boiled first, and no step boils, is not offered.
"""

import functools
from dataclasses import replace

from nutrition.dish.line import Line
from nutrition.food.names import cook_name, normalized
from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods, remembered
from nutrition.notes import note
from nutrition.reading.choice import food_named
from nutrition.reading.recipe import read_line
from nutrition.swaps.rules import Rule
from nutrition.tables import pattern

#: A food that holds this much beside water, g in 100 g, is dry; what differs by less than this factor is in one state (common practice).
DRY_G, ONE_STATE = 55.0, 1.5
_DRY_MATTER = [INDEX[key] for key in ("protein_g", "fat_g", "carbohydrate_g")]


@remembered
def dry_matter(food_id: str) -> float:
    """Protein, fat and carbohydrate, g in 100 g."""
    return float(foods().known[foods().by_id(food_id).row][_DRY_MATTER].sum())


def _is_cooked(food_id: str) -> bool:
    return bool(pattern("cooked_state").search(foods().description(food_id)))


@functools.lru_cache(maxsize=4_096)
def _spoken_of(test_line: str) -> str | None:
    """The food a rule's ratios are of."""
    return read_line(test_line).food_id if test_line else None


def as_held(rule: Rule, line: Line) -> Rule | None:
    """A rule with the grams that take the place of a line in the state it is in; None where what comes in would have to be boiled first.

    >>> from nutrition.swaps.rules import catalog
    >>> rule = next(each for each in catalog() if each.id == "rice-bulk-quinoa")
    >>> [(food_id, round(ratio, 2)) for food_id, ratio in as_held(rule, read_line("600 g cooked rice")).to]
    [('usda:sr/quinoa-cooked', 1.08)]
    """
    spoken_of = _spoken_of(rule.test_line)
    if not rule.to or not spoken_of or not line.food_id or _is_cooked(spoken_of) == _is_cooked(line.food_id):
        return rule
    share = dry_matter(line.food_id) / max(dry_matter(spoken_of), 0.1)
    uncooked = line.food_id if _is_cooked(spoken_of) else spoken_of
    if 1 / ONE_STATE < share < ONE_STATE or not _is_boiled_dry(uncooked):
        return replace(rule, to=tuple((line.food_id if each == spoken_of else each, ratio) for each, ratio in rule.to))
    to = [_one(food_id, ratio, share, spoken_of, line.food_id) for food_id, ratio in rule.to]
    if None in to:
        return None
    return replace(rule, to=tuple(each for each in to if each), household=str(note("swaps.by_weight")))


def _one(food_id: str, ratio: float, share: float, spoken_of: str, held: str) -> tuple[str, float] | None:
    if food_id == spoken_of:
        return held, ratio  # some of the line itself stays
    if not _is_cooked(held) or not _is_boiled_dry(food_id):
        return food_id, ratio * share
    cooked = _cooked(food_id)
    return (cooked, ratio * share * dry_matter(food_id) / dry_matter(cooked)) if cooked else None


def _is_boiled_dry(food_id: str) -> bool:
    """Whether a food is dry and boiled before anybody eats it: grains, pasta, pulses."""
    food = foods().by_id(food_id)
    is_of_a_kind = pattern("boiled_dry").search(f"{food.category}: {food.description}")
    return bool(is_of_a_kind) and dry_matter(food_id) >= DRY_G


@remembered
def _cooked(food_id: str) -> str:
    """The same food cooked, as the table has it; empty where it has none."""
    own = normalized(foods().description(food_id).split(",")[0]).split()[-1]
    found = food_named(f"cooked {cook_name(food_id)}")
    if found.row < 0 or found.sure == "check":
        return ""
    cooked = foods().ids[found.row]
    is_it = _is_cooked(cooked) and own in normalized(foods().description(cooked)).split()
    return cooked if is_it and dry_matter(cooked) < dry_matter(food_id) else ""
