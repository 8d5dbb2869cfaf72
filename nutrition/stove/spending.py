"""What may still be spent: salt, sugar or fat left under the posts once every other ingredient is in.

The allowance is weighed out before the cooking starts and spent step by step. It rests on the most every other line
may hold, so what is spent never shuts a gate that was open; where that most is unknown, no allowance is given.
"""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from math import floor, inf, isfinite

from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.naming import description_of
from nutrition.food.measures import household_measure
from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods
from nutrition.limits.gates import Gate
from nutrition.notes import Note, note
from nutrition.reading.course import Course
from nutrition.reading.whole import whole_dish, without
from nutrition.sheet.analysis import analyze
from nutrition.tables import pattern

#: Share of the allowance spent early, most while it cooks, a little at the end (common practice; the cook may change
#: it).
EARLY, COOKING, END = 0.25, 0.55, 0.20
#: A gate has a say when this much of the food would fill this share of what the whole dish may hold.
MATTERS_G, MATTERS_SHARE = 10.0, 0.01


@dataclass(frozen=True, slots=True)
class Spendable:
    """Something spent by taste. `watched`: with none of these limited, nobody counts it out.

    `words`: descriptions of its foods. `is_always`: counted out whenever it is watched; its foods hold the same, so
    that
    several lines may become one.
    """

    key: str
    label: str
    food: str
    words: re.Pattern[str]
    watched: frozenset[str]
    is_always: bool = False

    def has(self, line: Line) -> bool:
        return bool(self.words.search(description_of(line)))

    def lines_of(self, lines: Sequence[Line]) -> tuple[int, ...] | None:
        """Positions of the lines it is counted out of; None where they are different foods (butter beside oil).

        Those are weighed each by itself: one weight for both would make a milk fat of an oil, or an oil of a milk fat.
        """
        own = tuple(i for i, line in enumerate(lines) if self.has(line))
        return own if self.is_always or len({lines[i].food_id for i in own}) <= 1 else None


_CARBOHYDRATE = frozenset(
    ("added_sugars_g", "sugars_g", "carbohydrate_g", "available_carbohydrate_g", "net_carbohydrate_g")
)
_FAT = frozenset(("fat_g", "saturated_fat_g", "energy_kcal"))
SPENDABLES = (
    Spendable("salt", "Salt", "Salt, table", pattern("salts"), frozenset(("sodium_mg",)), is_always=True),
    Spendable("sugar", "Sugar", "Sugars, granulated", pattern("sugars_and_syrups"), _CARBOHYDRATE),
    Spendable("fat", "Oil and butter", "Oil, olive, salad or cooking", pattern("cooking_fats"), _FAT),
)


@dataclass(frozen=True, slots=True)
class Allowance:
    """What may be weighed out of one food for the whole dish, rounded down to what a scale shows.

    `room`: what the posts leave; `grams`: that, or what the recipe has if it is less, for a limit is no goal (a recipe
    without any: 0). Both None: it cannot be told, and `why` says which lines leave it open. `lines`: positions it
    stands for; `planned`: what those
    come to in the recipe.
    """

    spendable: Spendable
    food_id: str
    grams: float | None
    gate: Gate | None
    lines: tuple[int, ...]
    planned: float
    why: Note
    room: float | None = None

    @property
    def measure(self) -> str:
        """In spoons, as near as a spoon tells."""
        return measure(self.food_id, self.grams) if self.grams else ""


def measure(food_id: str, grams: float) -> str:
    return household_measure(foods().by_id(food_id), grams) if grams > 0 else ""


def _down(grams: float) -> float:
    """Down to a tenth of a gram under 20 g, to a gram above: never more than there is room for."""
    step = 0.1 if grams < 20 else 1.0
    return round(floor(grams / step + 1e-6) * step, 1)


def allowances(dish: Dish, gates: Sequence[Gate]) -> list[Allowance]:
    """What may be spent of each thing that a gate watches; sugar and fat only where there is room, and not much more
    than is planned.
    """
    dish = whole_dish(dish)
    limited = {gate.nutrient for gate in gates if gate.high}
    found = []
    for spendable in SPENDABLES:
        own = spendable.lines_of(dish.lines)
        if own is not None and spendable.watched & limited and (own or spendable.is_always):
            one = _allowance(spendable, own, dish, gates)
            if spendable.is_always or (one.room and one.room < 2 * one.planned):
                found.append(one)
    return found


def _allowance(spendable: Spendable, own: tuple[int, ...], dish: Dish, gates: Sequence[Gate]) -> Allowance:
    lines = [dish.lines[at] for at in own]
    heaviest = max(lines, key=lambda line: line.span.likely, default=None)
    food_id = (heaviest and heaviest.food_id) or foods().by_description(spendable.food).id
    planned = sum(line.span.likely for line in lines)
    others = without(dish, [line for at, line in enumerate(dish.lines) if at not in own], "counted out")
    room, tightest = None, None
    for gate, held in _held_by(others, food_id, gates):
        if not isfinite(held):
            unknown = "; ".join(others.lines[i].text for i in analyze(others).unknown_lines(gate.nutrient))
            why = note("stove.cannot_tell", nutrient=gate.nutrient, lines=unknown)
            return Allowance(spendable, food_id, None, gate, own, planned, why)
        most = gate.high.limit if gate.high else inf
        here = max(most - held, 0.0) * dish.servings / _per_gram(food_id, gate.nutrient)
        if room is None or here < room:
            room, tightest = here, gate
    if room is None or tightest is None:
        return Allowance(spendable, food_id, None, None, own, planned, note("stove.no_post"))
    room, wanted = _down(room), sum(line.span.most for line in lines)
    grams = min(room, _down(wanted))
    why = _why(tightest.nutrient, room, wanted, grams)
    return Allowance(spendable, food_id, grams, tightest, own, planned, why, room)


def _per_gram(food_id: str, nutrient: str) -> float:
    """The most one gram of a food holds."""
    return float(foods().at_most_per_100g[foods().by_id(food_id).row, INDEX[nutrient]]) / 100


def _held_by(others: Dish, food_id: str, gates: Sequence[Gate]) -> Iterable[tuple[Gate, float]]:
    """(gate, the most everything else holds) of every gate that has a say about a food."""
    most = analyze(others) if others.lines else None
    for gate in gates:
        matters = MATTERS_SHARE * gate.high.limit * others.servings if gate.high else 0.0
        holds = _per_gram(food_id, gate.nutrient)
        if gate.high and holds and holds * MATTERS_G >= matters:
            yield gate, most.interval(gate.nutrient)[1] if most else 0.0


def _why(nutrient: str, room: float, wanted: float, grams: float) -> Note:
    if room == 0:
        return note("stove.no_room", nutrient=nutrient)
    if not wanted:
        return note("stove.none_wanted", nutrient=nutrient, room=room)
    if grams < room:
        return note("stove.as_the_recipe", nutrient=nutrient, room=room)
    return note("stove.what_is_left", nutrient=nutrient)


def divide(grams: float, course: Course, lines: Sequence[int] = (), *, at_once: bool = False) -> dict[int, float]:
    """The allowance over the steps, by number: some early, most while it cooks, a little at the end.

    `at_once`: all of it in the first step that names it, as with sugar and fat.

    Early is the first step that names one of `lines`, else the first; cooking is the longest wait after it.

    >>> from nutrition.reading.course import course_of
    >>> divide(4.0, course_of(["Soften.", "Simmer for 20 minutes.", "Serve."], []))
    {1: 1.0, 2: 2.2, 3: 0.8}
    """
    if not course.steps or grams <= 0:
        return {}
    last, tenths = len(course.steps), floor(grams * 10 + 1e-6)
    named = [use_step.number for use_step in course.steps if any(use.line in lines for use in use_step.uses)]
    early = named[0] if named else 1
    if at_once:
        return {early: tenths / 10}
    later = [step for step in course.steps if early <= step.number]
    cooking = max(later, key=lambda step: sum(wait.most_seconds for wait in step.waits)).number
    # Whole tenths of a gram, the last of which takes what is left: the parts never come to more than there is.
    first, middle = round(EARLY * tenths), round(COOKING * tenths)
    parts: dict[int, int] = {}
    for number, part in ((early, first), (cooking, middle), (last, tenths - first - middle)):
        parts[number] = parts.get(number, 0) + part
    return {number: part / 10 for number, part in sorted(parts.items()) if part}


def left(allowance: float, spent: Mapping[int, float]) -> float:
    """What is still in the dish on the counter; below zero when more went in than there was room for."""
    return round(allowance - sum(spent.values()), 2)
