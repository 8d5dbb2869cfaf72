"""What may still be spent: salt, sugar or fat left under the posts once every other ingredient is in.

The allowance is weighed out before the cooking starts and spent step by step. It rests on the most every other line
may hold, so what is spent never shuts a gate that was open; where that most is unknown, no allowance is given.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import floor, isfinite

from .analysis import analyze
from .composition import foods
from .gates import Gate
from .nutrients import BY_KEY, INDEX
from .recipe import Line
from .steps import Course
from .weights import household_measure

#: Share of the allowance spent early, most while it cooks, a little at the end (common practice; the cook may change it).
EARLY, COOKING, END = 0.25, 0.55, 0.20
#: A gate has a say when this much of the food would fill this share of what the whole dish may hold.
MATTERS_G, MATTERS_SHARE = 10.0, 0.01


@dataclass(frozen=True, slots=True)
class Kind:
    """Something spent by taste. `watched`: with none of these limited, nobody counts it out.

    `words`: descriptions of its foods. `is_always`: counted out whenever it is watched; its foods hold the same, so that
    several lines may become one.
    """

    key: str
    label: str
    food: str
    words: re.Pattern
    watched: frozenset[str]
    is_always: bool = False

    def has(self, line: Line) -> bool:
        return bool(line.description and self.words.search(line.description))

    def lines_of(self, lines: Sequence[Line]) -> tuple[int, ...] | None:
        """Positions of the lines it is counted out of; None where they are different foods (butter beside oil).

        Those are weighed each by itself: one weight for both would make a milk fat of an oil, or an oil of a milk fat.
        """
        own = tuple(i for i, line in enumerate(lines) if self.has(line))
        return own if self.is_always or len({lines[i].food_id for i in own}) <= 1 else None


_CARBOHYDRATE = frozenset(
    ("added_sugars_g", "sugars_g", "carbohydrate_g", "available_carbohydrate_g", "net_carbohydrate_g")
)
KINDS = (
    Kind("salt", "Salt", "Salt, table", re.compile(r"^Salt, (table|kosher|flaky)", re.I), frozenset(("sodium_mg",)), is_always=True),
    Kind("sugar", "Sugar", "Sugars, granulated", re.compile(r"^(Sugars,|Honey|Syrups,|Molasses)", re.I), _CARBOHYDRATE),
    Kind("fat", "Oil and butter", "Oil, olive, salad or cooking", re.compile(r"^(Oil,|Butter|Lard|Ghee|Margarine)", re.I),
         frozenset(("fat_g", "saturated_fat_g", "energy_kcal"))),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Allowance:
    """What may be weighed out of one food for the whole dish, rounded down to what a scale shows.

    `room`: what the posts leave; `grams`: that, or what the recipe has if it is less, for a limit is no goal (a recipe
    without any: 0). Both None: it cannot be told, and `why` says which lines leave it open. `lines`: positions it stands for; `planned`: what those
    come to in the recipe.
    """

    kind: Kind
    food_id: str
    grams: float | None
    gate: Gate | None
    lines: tuple[int, ...]
    planned: float
    why: str
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


def allowances(lines: Sequence[Line], serves: float, gates: Sequence[Gate]) -> list[Allowance]:
    """What may be spent of each kind that a gate watches; sugar and fat only where there is room, and not much more than is planned."""
    limited = {gate.nutrient for gate in gates if gate.high}
    found = []
    for kind in KINDS:
        own = kind.lines_of(lines)
        if kind.watched & limited and (own or kind.is_always):
            one = _allowance(kind, own, lines, serves, gates)
            if kind.is_always or (one.room and one.room < 2 * one.planned):
                found.append(one)
    return found


def _allowance(
    kind: Kind, own: tuple[int, ...], lines: Sequence[Line], serves: float, gates: Sequence[Gate]
) -> Allowance:
    heaviest = max(own, key=lambda i: lines[i].grams or 0.0, default=None)
    food_id = lines[heaviest].food_id if heaviest is not None else foods().by_description(kind.food).id
    planned = sum(lines[i].grams or 0.0 for i in own)
    others = [line for i, line in enumerate(lines) if i not in own]
    most = analyze(others, serves) if others else None
    row = foods().by_id(food_id).row
    room, tightest = None, None
    for gate in gates:
        per_gram = float(foods().at_most_per_100g[row, INDEX[gate.nutrient]]) / 100
        if not gate.high or per_gram * MATTERS_G < MATTERS_SHARE * gate.high.limit * serves:
            continue
        held = most.interval(gate.nutrient)[1] if most else 0.0
        if not isfinite(held):
            unknown = "; ".join(others[i].text for i in most.unknown_lines(gate.nutrient))
            label = BY_KEY[gate.nutrient].label.lower()
            why = f"How much {label} is in {unknown} is not known, so no room can be promised."
            return Allowance(kind, food_id, None, gate, own, planned, why)
        here = max(gate.high.limit - held, 0.0) * serves / per_gram
        if room is None or here < room:
            room, tightest = here, gate
    if tightest is None:
        return Allowance(kind, food_id, None, None, own, planned, "No post of these gates counts it.")
    room, wanted = _down(room), sum(lines[i].high for i in own)
    grams = min(room, _down(wanted))
    label = BY_KEY[tightest.nutrient].label.lower()
    if room == 0:
        why = f"Everything else already reaches the {label} post: there is no room."
    elif not wanted:
        why = f"The recipe has none; the {label} post would leave {room:g} g."
    elif grams < room:
        why = f"What the recipe has; the {label} post would leave {room:g} g."
    else:
        why = f"What the {label} post leaves once everything else is in."
    return Allowance(kind, food_id, grams, tightest, own, planned, why, room)


def divide(grams: float, course: Course, lines: Sequence[int] = (), *, at_once: bool = False) -> dict[int, float]:
    """The allowance over the steps, by number: some early, most while it cooks, a little at the end.

    `at_once`: all of it in the first step that names it, as with sugar and fat.

    Early is the first step that names one of `lines`, else the first; cooking is the longest wait after it.

    >>> from .steps import course_of
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
