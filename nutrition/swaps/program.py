"""The mixed-integer program behind the way through: what may be done to each line, and what holds the dish together.

HiGHS through scipy. Each line is one of its options (as it is in another amount, a swap, a method, left out); posts,
balance and weight are rows; costs grow with the job a change touches, the share of the line, the work and the shopping.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from time import monotonic

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, linprog, milp
from scipy.sparse import csr_array, vstack

from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.dish.naming import description_of, name_of
from nutrition.food.names import all_names, is_water, normalized
from nutrition.food.nutrients import INDEX
from nutrition.food.tags import CONTAINS
from nutrition.limits.avoid import find
from nutrition.limits.gates import Gate
from nutrition.limits.noted import name_in, noted_words
from nutrition.notes import NOTHING, Note, note
from nutrition.sheet.analysis import analyze_lines
from nutrition.swaps.balance import BAKED, MEASURES, per_gram
from nutrition.swaps.jobs import weight_of
from nutrition.swaps.offers import Workbench, offers_for
from nutrition.swaps.rules import food_called
from nutrition.tables import pattern

MOST_OFFERS_A_LINE = 10
#: scipy's status when time ran out; without any dish by then it is tried once more, this many times longer.
OUT_OF_TIME, PATIENCE = 1, 6
#: A way this near to the least change is taken for the least: proving the rest costs longer than finding it.
GAP = 0.12
#: With more options than this, only the cheapest by the relaxed program are tried first: those it uses, and so many
#: more.
MANY_OPTIONS, FURTHER_OPTIONS = 90, 40
#: scipy's status of a program without any solution.
INFEASIBLE = 2
#: Assumed ranges of a line's amount by its heaviest job, and what one change costs whatever it is.
RANGES = {
    "binds": (0.9, 1.2),
    "lifts": (0.8, 1.2),
    "gluten's work": (0.8, 1.2),
    "thickens": (0.7, 1.5),
    "protein": (0.2, 1.6),
    "bulk": (0.4, 1.8),
    "salty": (0.0, 1.0),
    "sweet": (0.3, 1.1),
    "fat": (0.4, 3.0),
    "creamy": (0.3, 1.3),
}


ORDINARY_RANGE = (0.4, 1.6)
#: What a cook feels: a change at all, a swap by its distance from the dish, a method, an amount by the part of it.
COST_CHANGE, COST_DISTANCE, COST_STATE, COST_AMOUNT = 0.3, 1.6, 0.25, 0.5
COST_WARNING, COST_EXOTIC, COST_MINUTE, COST_ITEM = 0.1, 0.12, 0.01, 0.05
#: What the title names, or the dish has most of, is felt twice, and nothing this far from it takes its place.
FELT_TWICE, FAR = 2.0, 0.5
#: Slopes by the quarter that is taken away, and of salt; and of what is added, up to 1.4 times and beyond.
LESS, LESS_SALT, MORE = (0.5, 1.0, 2.0, 4.0), (0.3, 1.0, 3.0, 8.0), (0.6, 1.2)
QUARTER, MORE_AT_ONCE = 0.25, 0.4
#: Pieces of a deviation: of more, and of less.
PIECES = len(MORE) + len(LESS)
#: An amount is changed by so much, or not at all.
LEAST_CHANGE = 0.15
#: A plate stays this full; each missing tenth is felt like this.
FULL_PLATE, COST_TENTH = 0.93, 2.5
#: How far what takes over may be under its ratio; what is salty may be less of it in the same move. What is short of
#: the ratio is felt, so that it is short only where it has to be.
NEAR_RATIO, SALTY_RATIO = (0.75, 1.0), (0.3, 1.0)
#: Jobs without which the dish falls apart.
STRUCTURE = frozenset(("binds", "lifts", "thickens", "gluten's work"))
#: Stock, and water that is cooked with, stay at least so much.
LEAST_LIQUID = 0.85
#: A kept share of what the dish is made of, when it is that kind of dish (as balance.py warns).
KEEP = {"thickens": 0.6, "binds": 0.6, "gluten": 0.5, "lifts_base": 0.6, "fat": 0.5}
SERVING_RANGE = (0.75, 1.3)
#: What may be put beside the dish when a gate asks for more of something: (food, grams a serving at most, sweet or savory
#: dishes; both where nothing is said).
ADDITIONS = {
    "energy_kcal": (("white rice", 60.0, "savory"), ("olive oil", 15.0, "savory"), ("unsalted butter", 20.0, "")),
    "carbohydrate_g": (("white rice", 60.0, "savory"), ("apple", 120.0, "sweet")),
    "available_carbohydrate_g": (("white rice", 60.0, "savory"), ("apple", 120.0, "sweet")),
    "fiber_g": (
        *(("green beans", 120.0, "savory"), ("carrots", 120.0, "savory"), ("cabbage", 120.0, "savory")),
        ("canned white beans, drained and rinsed", 80.0, "savory"),
        ("raspberries", 100.0, "sweet"),
    ),
    "protein_g": (("egg white", 80.0, "savory"), ("chicken breast", 60.0, "savory"), ("plain yogurt", 120.0, "sweet")),
}
COST_ADD = 1.2
#: What a side stands under.
BESIDE = "Beside it"
#: A dish is sweet when so much of it is sugar.
SWEET_DISH = 0.05
#: What the kitchen may be asked to do without asking the cook what the dish is about.
AUTOMATIC = {
    "drained",
    "drained and rinsed",
    "boiled",
    "boiled-twice",
    "boiled-cubed",
    "browned",
    "trimmed",
    "infused-oil",
}


_LOADS = frozenset(("oligosaccharide_load", "fructose_load", "sorbitol_load", "mannitol_load"))
_MINERALS = frozenset(("potassium_mg", "phosphorus_mg", "absorbed_phosphorus_mg"))
#: ... and of these only where one of these nutrients is limited.
ONLY_FOR = {"infused-oil": _LOADS, "boiled": _MINERALS, "boiled-twice": _MINERALS, "boiled-cubed": _MINERALS}


@dataclass(frozen=True)
class Wish:
    """What the cook asks: `pinned` positions never touched, `at_least` shares of a line to keep, how many `ways`.

    `never`: foods in words that do not come in; `nothing_new`: nothing that is not in the dish already, but water;
    `one_pot`: nothing beside the dish.

    Ways are sought for `seconds`; with finding out why there is none, no answer takes more than `most_seconds`.
    """

    pinned: frozenset[int] = frozenset()
    at_least: Mapping[int, float] = field(default_factory=dict)
    ways: int = 3
    certain: bool = True
    never: tuple[str, ...] = ()
    nothing_new: bool = False
    one_pot: bool = False
    seconds: float = 3.7
    most_seconds: float = 4.8

    @cached_property
    def _never(self) -> tuple[str, ...]:
        return tuple(each for text in self.never for each in noted_words(text))

    def lets_in(self, food_id: str, bench: Workbench) -> bool:
        """Whether this food may come into the dish."""
        if any(line.food_id == food_id for line in bench.lines):
            return True
        if self._never and name_in(self._never, all_names(food_id)):
            return False
        return not self.nothing_new or is_water(food_id)


@dataclass(slots=True)
class Option:
    """One thing that may be done to a line: what it brings a serving at factor 1, and what it costs."""

    line: int
    kind: str
    text: Note
    new: tuple[Line, ...]
    low: float
    high: float
    cost: float
    least: np.ndarray
    amount: np.ndarray
    most: np.ndarray
    powers: np.ndarray
    grams: float
    scale: float = 1.0
    is_salt: bool = False


def _option(
    bench: Workbench, line: int, kind: str, text: Note, new: Iterable[Line], span, cost: float, scale: float = 1.0
) -> Option:
    new = tuple(new)
    powers, grams = np.zeros(len(MEASURES)), 0.0
    least = amount = most = np.zeros(len(INDEX))
    if new:
        result = analyze_lines(new, bench.serves)
        least, amount, most = result.at_least, result.amounts, result.at_most
        grams = sum(each.span.likely for each in new)
        powers = sum((each.span.likely * per_gram(each.food_id) for each in new if each.is_weighed), start=powers)
    return Option(line, kind, text, new, *span, cost, least, amount, most, powers, grams, scale)


def options_of(bench: Workbench, wish: Wish) -> list[Option]:
    """As it is first, then offers, for every line. What a plan keeps out is no option, not even as it is."""
    found = []
    total = sum(line.span.likely for line in bench.lines) or 1.0
    main, methods = _main_lines(bench), _methods_for(bench)
    for position, line in enumerate(bench.lines):
        jobs = bench.jobs_of(position)
        weight = max((weight_of(job) for job in jobs), default=1.5)
        share = line.span.likely / total
        scale = weight * (0.35 + min(share * 3, 1.0))
        is_out = any(f.verdict == CONTAINS for f in find([line], bench.kept_out))
        is_the_dish = position in main
        scale *= FELT_TWICE if is_the_dish else 1.0
        if position in wish.pinned or not line.is_weighed:
            found.append(_option(bench, position, "kept", NOTHING, [line], (1.0, 1.0), 0.0))
            continue
        low, high = RANGES.get(jobs[0] if jobs else "", ORDINARY_RANGE)
        floor = max(wish.at_least.get(position, 0.0), LEAST_LIQUID if _is_liquid(line) else 0.0)
        low, high = max(low, floor), max(high, floor)
        if not is_out:
            kept = _option(bench, position, "kept", NOTHING, [line], (low, high), 0.0, scale)
            kept.is_salt = jobs[:1] == ("salty",)
            found.append(kept)
        for offer in offers_for(bench, position, MOST_OFFERS_A_LINE).offers:
            if offer.kind in ("less", "more") or (offer.kind != "state" and wish.at_least.get(position)):
                continue
            if offer.kind == "state" and offer.id not in methods:
                continue
            if any(not wish.lets_in(food_id, bench) for food_id, _ in offer.to):
                continue
            if is_the_dish and not is_out and offer.kind != "state" and offer.closeness < FAR:
                continue
            start = position
            count = len(offer.lines) - len(bench.lines) + 1
            new = offer.lines[start : start + count]
            felt = COST_STATE if offer.kind == "state" else COST_DISTANCE * (1 - offer.closeness)
            work = COST_EXOTIC * offer.exotic + COST_MINUTE * offer.minutes + COST_ITEM * max(count - 1, 0)
            cost = COST_CHANGE + felt * scale + work + COST_WARNING * len(offer.warnings)
            near = SALTY_RATIO if offer.job == "salty" else NEAR_RATIO
            span = (0.0, 0.0) if offer.kind == "drop" else near if offer.kind == "swap" else (1.0, 1.0)
            found.append(_option(bench, position, offer.kind, offer.text, new, span, cost, scale))
        if is_out and not is_the_dish and not any(o.line == position for o in found) and not set(jobs) & STRUCTURE:
            # Nothing stands in for what a plan keeps out: the dish can do without it.
            cost = COST_CHANGE + COST_DISTANCE * scale
            text = note("swaps.offer_drop", food=line.food_id)
            found.append(_option(bench, position, "drop", text, (), (0.0, 0.0), cost, scale))
    return found if wish.one_pot else found + _additions(bench, len(bench.lines), wish)


#: Words of titles and of foods that do not name one.
_SAYS_LITTLE = frozenset(
    ("and", "with", "in", "of", "the", "a", "red", "white", "green", "black", "brown", "yellow", "fresh", "dried", "whole",
     "sweet", "hot", "plain")
)  # fmt: skip


def _main_lines(bench: Workbench) -> set[int]:
    """The lines the title names, and the heaviest that is no liquid."""
    title = set(normalized(bench.dish.title).split()) - _SAYS_LITTLE
    solid = [at for at, line in enumerate(bench.lines) if line.food_id and not _is_liquid(line)]
    named = {at for at in solid if title & set(normalized(name_of(bench.lines[at])).split())}
    return named | {max(solid, key=lambda at: bench.lines[at].span.likely)} if solid else named


def _is_liquid(line: Line) -> bool:
    """Stock, or water that is cooked with."""
    return bool(pattern("cooking_liquid").search(description_of(line)))


def _methods_for(bench: Workbench) -> set[str]:
    """What the kitchen may be asked to do for this eater: warmed in oil for FODMAP, boiled and poured off for minerals."""
    limited = {gate.nutrient for gate in bench.gates if gate.high}
    return {key for key in AUTOMATIC if key not in ONLY_FOR or ONLY_FOR[key] & limited}


def taste_of(bench: Workbench) -> str:
    """ "sweet" or "savory": by what is sugar in the dish."""
    weight = sum(line.span.likely for line in bench.lines) or 1.0
    sugar = sum(
        line.span.likely for at, line in enumerate(bench.lines) if line.food_id and bench.jobs_of(at)[:1] == ("sweet",)
    )
    return "sweet" if sugar / weight >= SWEET_DISH else "savory"


def _additions(bench: Workbench, position: int, wish: Wish) -> list[Option]:
    """Something on the side, when a gate asks for at least so much; each on a place of its own after the lines."""
    found, seen = [], set()
    nothing, suits = np.zeros(len(INDEX)), ("", taste_of(bench))
    for gate in bench.gates:
        for name, grams, taste in ADDITIONS.get(gate.nutrient, ()) if gate.low else ():
            food_id = food_called(name)
            if taste not in suits or food_id in seen or bench.forbidden(food_id) or not wish.lets_in(food_id, bench):
                continue
            seen.add(food_id)
            whole = grams * bench.serves
            line = Line(
                name,
                food_id,
                Grams.exactly(whole),
                "weight",
                "likely",
                why=note("swaps.added_aside"),
                is_edited=True,
                heading=BESIDE,
            )
            found.append(
                Option(
                    position,
                    "kept",
                    NOTHING,
                    (),
                    1.0,
                    1.0,
                    0.0,
                    nothing,
                    nothing,
                    nothing,
                    np.zeros(len(MEASURES)),
                    0.0,
                )
            )
            found.append(
                _option(
                    bench,
                    position,
                    "more",
                    note("swaps.way_add", name=name, grams=whole, serves=bench.serves),
                    [line],
                    (0.25, 1.0),
                    COST_ADD,
                )
            )
            position += 1
    return found


class Program:
    """The mixed-integer program: a binary and a factor an option; where the factor may vary, how much more and how much
    less, piece by piece; for a line that stays the touch: whether its amount is changed at all; and what the plate
    lacks.
    """

    def __init__(
        self, bench: Workbench, options: list[Option], gates: list[Gate], certain: bool, deadline: float = np.inf
    ):
        #: When no solve may go on any more, by the monotonic clock; and whether one was cut short without a dish.
        self.deadline, self.ran_out = deadline, False
        self.bench, self.options, self.gates, self.certain = bench, options, gates, certain
        self.count = len(options)
        self.scaled = [k for k, option in enumerate(options) if option.kind == "kept"]
        #: Columns of the touches, behind the deviations.
        behind = 2 * self.count + PIECES * len(self.scaled)
        self.touch = {k: behind + n for n, k in enumerate(self.scaled)}
        self.free = {option.line for option in options if option.kind == "kept"}
        #: The column of what the plate lacks, as a share of the dish; slacks of gates stand last.
        self.lacking = behind + len(self.touch)
        self.size = self.lacking + 1 + 2 * len(gates)
        self.cuts: list[tuple[np.ndarray, float]] = []
        self.by_choice: list[tuple[np.ndarray, float]] = []
        self.is_loose = False

    def _slots(self, n: int) -> tuple[list[int], list[int]]:
        """The columns of how much more, and of how much less."""
        base = 2 * self.count + PIECES * n
        return list(range(base, base + len(MORE))), list(range(base + len(MORE), base + PIECES))

    def _rows(self, margin: float, active: frozenset[int]):
        rows, low, high = [], [], []

        def add(entries, at_least=-np.inf, at_most=np.inf):
            row = np.zeros(self.size)
            for column, value in entries:
                row[column] += value
            rows.append(row)
            low.append(at_least)
            high.append(at_most)

        c = self.count
        for line in range(self.options[-1].line + 1):
            add([(k, 1.0) for k, option in enumerate(self.options) if option.line == line], 1.0, 1.0)
        for k, option in enumerate(self.options):
            add([(c + k, 1.0), (k, -option.high)], at_most=0.0)
            add([(c + k, 1.0), (k, -option.low)], at_least=0.0)
        for n, k in enumerate(self.scaled):
            up, down = self._slots(n)
            add([(c + k, 1.0), (k, -1.0), *((u, -1.0) for u in up), *((d, 1.0) for d in down)], 0.0, 0.0)
            widest = max(self.options[k].high - 1, 1 - self.options[k].low, 0.01)
            add([*((column, 1.0) for column in (*up, *down)), (self.touch[k], -widest)], at_most=0.0)
        self._gate_rows(add, margin, active)
        self._whole_rows(add)
        for coefficients, most in self.cuts:
            add([(i, v) for i, v in enumerate(coefficients) if v], at_most=most)
        return rows, low, high

    def _gate_rows(self, add, margin, active):
        c, slack = self.count, self.size - 2 * len(self.gates)
        for g, gate in enumerate(self.gates):
            if g not in active:
                continue
            key = INDEX[gate.nutrient]
            if gate.high:
                values = [option.most[key] if self.certain else option.amount[key] for option in self.options]
                entries = [(c + k, min(v, 1e7)) for k, v in enumerate(values)]
                limit = gate.high.limit * (1 - margin)
                add([*entries, (slack + 2 * g, -max(gate.high.limit, 1e-3))], at_most=limit)
            if gate.low:
                values = [option.least[key] if self.certain else option.amount[key] for option in self.options]
                entries = [(c + k, v) for k, v in enumerate(values)]
                add([*entries, (slack + 2 * g + 1, max(gate.low.limit, 1e-3))], at_least=gate.low.limit * (1 + margin))

    def _whole_rows(self, add):
        """The dish stays the dish: its weight, and what holds it together."""
        c, written = self.count, self.bench.lines
        total = sum(line.span.likely for line in written)
        grams = [(c + k, o.grams) for k, o in enumerate(self.options)]
        add(grams, SERVING_RANGE[0] * total, SERVING_RANGE[1] * total)
        add([*grams, (self.lacking, total)], at_least=FULL_PLATE * total)
        before = sum((_strong(line) for line in written if line.is_weighed), start=np.zeros(len(MEASURES)))
        baked, thick = self.bench.kind in BAKED, self.bench.kind in (*BAKED, "sauce", "soup", "stew")
        for measure, share in KEEP.items():
            column = MEASURES.index(measure)
            matters = thick if measure == "thickens" else baked and (measure != "gluten" or self._is_dough())
            if matters and before[column] > 0.5:
                add([(c + k, o.powers[column]) for k, o in enumerate(self.options)], at_least=share * before[column])

    def _is_dough(self) -> bool:
        """Whether some line does gluten's work; in patties and coatings nothing does."""
        return any("gluten's work" in self.bench.jobs_of(at) for at in range(len(self.bench.lines)))

    def _costs(self, elastic: bool) -> np.ndarray:
        costs = np.zeros(self.size)
        for k, option in enumerate(self.options):
            if option.kind != "kept":
                costs[k] = option.cost
                costs[self.count + k] = 0.3 if option.kind == "more" else 0.0
                if option.kind == "swap":  # cost at the ratio; each part it is short comes on top
                    short = COST_AMOUNT * max(option.scale, 0.2)
                    costs[k] += short
                    costs[self.count + k] -= short
        for n, k in enumerate(self.scaled):
            up, down = self._slots(n)
            option = self.options[k]
            if not option.new:  # a side that is not there
                continue
            weight = COST_AMOUNT * max(option.scale, 0.2)
            costs[up], costs[down] = (
                np.multiply(weight, MORE),
                np.multiply(weight, LESS_SALT if option.is_salt else LESS),
            )
            costs[self.touch[k]] = COST_CHANGE
        costs[self.lacking] = 10 * COST_TENTH
        if elastic:
            costs = costs * 1e-3
            costs[self.size - 2 * len(self.gates) :] = 1.0
        return costs

    def barely_changed(self, x: np.ndarray) -> list[int]:
        """The options that stay in an amount which nobody would call another one."""
        return [k for k in self.touch if x[k] > 0.5 and 0.005 < abs(x[self.count + k] - 1) < LEAST_CHANGE - 0.005]

    def solve(self, margin=0.0, active=None, elastic=False, seconds=1.0, chosen=None, still=(), is_any=False):
        """(x, cost) or None. `is_any`: whichever dish, not the least changed one. `active`: which gates count; `elastic`:
        posts may be missed, at a price; `chosen`: a solution whose choices stand, so that only amounts are sought (a few
        hundredths of a second); `still`: options whose amount stays as it is.
        """
        active = frozenset(range(len(self.gates))) if active is None else active
        rows, low, high = self._rows(margin, active)
        top = np.ones(self.size)
        for k, option in enumerate(self.options):
            top[self.count + k] = option.high
        for n in range(len(self.scaled)):
            up, down = self._slots(n)
            top[up], top[down] = (MORE_AT_ONCE, 3.0), QUARTER
        top[self.size - 2 * len(self.gates) :] = 1e4 if elastic else 0.0
        for k in still:
            top[self.touch[k]] = 0.0
        whole = np.zeros(self.size)
        whole[: self.count] = 1
        whole[list(self.touch.values())] = 1
        matrix, low, high = csr_array(np.array(rows)), np.array(low), np.array(high)
        costs = np.zeros(self.size) if is_any else self._costs(elastic)
        if chosen is not None:
            top[: self.count] = np.round(chosen[: self.count])
        for shut in self._worth_trying(costs, matrix, low, high, top) if chosen is None else ([],):
            limits = top.copy()
            limits[[*shut, *(self.count + k for k in shut)]] = 0.0
            # Only the first dish is waited for: once there is a way, a further one that does not come in time is let
            # go.
            for patience in (1,) if self.by_choice else (1, PATIENCE):
                left = self.deadline - monotonic()
                if left <= 0:
                    self.ran_out = True
                    return None
                result = milp(
                    costs,
                    integrality=whole,
                    bounds=Bounds(np.zeros(self.size), limits),
                    constraints=LinearConstraint(matrix, low, high),
                    options={"time_limit": min(max(seconds, 0.05) * patience, left), "mip_rel_gap": GAP},
                )
                if result.x is not None:
                    return result.x, float(result.fun)
                if result.status != OUT_OF_TIME:
                    break
                self.ran_out = self.ran_out or patience == PATIENCE
        return None

    def _worth_trying(self, costs, matrix, low, high, top) -> Iterable[list[int]]:
        """Which options to leave out, first try first: with many, only those the relaxed program finds cheap are tried.

        The relaxed program (shares of options instead of whole ones) takes a few hundredths of a second. Where even
        that has no dish there is none, and nothing is yielded.
        """
        if self.count > MANY_OPTIONS:
            equal = low == high
            above, below = np.isfinite(high) & ~equal, np.isfinite(low) & ~equal
            relaxed = linprog(
                costs,
                A_ub=vstack([matrix[np.flatnonzero(above)], -matrix[np.flatnonzero(below)]]),
                b_ub=np.concatenate([high[above], -low[below]]),
                A_eq=matrix[np.flatnonzero(equal)],
                b_eq=low[equal],
                bounds=np.column_stack([np.zeros(self.size), top]),
                method="highs",
            )
            if relaxed.status == INFEASIBLE:
                return
            if relaxed.x is not None:
                dear = relaxed.lower.marginals[: self.count] + relaxed.lower.marginals[self.count : 2 * self.count]
                kept = [o.kind in ("kept", "drop") for o in self.options]
                rest = [k for k in np.argsort(dear) if not kept[k] and relaxed.x[k] <= 1e-6]
                yield [int(k) for k in rest[FURTHER_OPTIONS:]]
                if self.by_choice:
                    return
        yield []

    def cut_off(self, x: np.ndarray, changed: Iterable[int]) -> None:
        """Forbid what is too like this: of the lines it changes by choice, three in ten must stay as they are.

        Lines that must change (a plan keeps them out as they are) count by what was chosen for them.
        """
        row, lines = np.zeros(self.size), set(changed) & self.free
        for k, touch in self.touch.items():
            line = self.options[k].line
            if line in lines:
                row[[j for j, o in enumerate(self.options) if o.line == line and o.kind != "kept"]] = 1.0
                row[touch] = 1.0
        chosen = [k for k in range(self.count) if x[k] > 0.5 and self.options[k].kind != "kept"]
        other = np.zeros(self.size)
        other[chosen] = 1.0
        self.by_choice.append((other, len(chosen) - max(1.0, np.ceil(0.5 * len(chosen)))))
        by_line = (row, len(lines) - max(1.0, np.ceil(0.3 * len(lines))))
        self.cuts.append(by_line if lines and not self.is_loose else self.by_choice[-1])

    def loosen(self) -> bool:
        """Same lines, other choices: once no other lines lead through. False when that was tried already."""
        if self.is_loose or not self.by_choice:
            return False
        self.cuts, self.is_loose = list(self.by_choice), True
        return True


def _strong(line: Line) -> np.ndarray:
    """What a line brings to the whole; pulses and roots that thicken by the way do not count as thickeners."""
    powers = line.span.likely * per_gram(line.food_id)
    if per_gram(line.food_id)[MEASURES.index("thickens")] < 0.5:
        powers = powers.copy()
        powers[MEASURES.index("thickens")] = 0.0
    return powers
