"""The mixed-integer program behind the way through: which option of each line, how much of it, and what holds the dish
together.

Posts, balance, the plate and the taste of the whole are rows; what a cook feels is what it costs (options.py).
"""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property
from time import monotonic

import numpy as np

from nutrition.dish.line import Line
from nutrition.food.nutrients import INDEX
from nutrition.limits.gates import Gate
from nutrition.swaps.balance import BAKED, MEASURES, per_gram
from nutrition.swaps.offers import Workbench
from nutrition.swaps.option import Option, powers_of
from nutrition.swaps.options import COST_AMOUNT, COST_CHANGE, COST_SHORT
from nutrition.swaps.sides import COST_SIDE_AMOUNT
from nutrition.swaps.solver import FOUND, NONE, STOPPED, Answer, Rows, solve
from nutrition.swaps.weights import slopes, weight

#: A way this near to the least change is taken for the least; a further one, and of many options, by the second:
#: proving the rest costs longer than finding it.
GAP, FURTHER_GAP = 0.06, 0.12
#: So many nodes of the search tree are looked at: for the first way, and for further ones.
NODES, FURTHER_NODES = 600, 80
#: With more options than this, only the cheapest by the relaxed program are tried first: those it uses, and so many
#: more, for the first way and for a further one.
MANY_OPTIONS, BESIDES, FURTHER_BESIDES = 90, 40, 25
#: Slopes by the quarter that is taken away, and of salt; and of what is added, up to 1.4 times and beyond.
LESS, LESS_SALT, MORE = slopes("less"), slopes("less salt"), slopes("more")
QUARTER, MORE_AT_ONCE = 0.25, 0.4
#: A salt line itself: that some salt stays in the pot, whatever else is salted.
LESS_SALT_LINE = slopes("salt line")
#: A span narrower than this is none.
LEAST_SPAN = 0.01
#: What the salt and the sweetness of the whole dish are worth, and how much of the salt acid and spice make up for: each
#: so much, all of them so much.
COST_SALT, COST_SWEET, EASE, MOST_EASE = map(weight, ("salt", "sweet", "ease", "most ease"))
#: With less of it than this, in grams, nobody tastes it in the whole.
LEAST_TASTE = 0.5
SALT, SWEET, WATER = (MEASURES.index(measure) for measure in ("salt", "sweet", "water"))
#: An amount is changed by so much, or not at all.
LEAST_CHANGE = 0.15
#: ... and asked for a little more clearly, so that it stays so in measures of a kitchen.
CLEARLY = 0.18
#: A plate stays this full; each missing tenth is felt like this. Under the least of it no way is shown as long as another
#: leads through; nor one of more changes than these.
FULL_PLATE, COST_TENTH, LEAST_PLATE, MOST_CHANGES = 0.95, weight("plate"), 0.92, 8
#: A kept share of what the dish is made of, when it is that kind of dish (as balance.py warns).
KEEP = {"thickens": 0.6, "binds": 0.6, "gluten": 0.5, "lifts_base": 0.6, "fat": 0.5}
#: ... and of these only where something does gluten's work: what a roast or a fried piece holds is no structure.
OF_DOUGH = ("gluten", "fat")
#: A batter stays a batter, a dough a dough: its water as a share of what is written.
OF_BATTER, WATER_RANGE = ("cake", "bread"), (0.85, 1.2)
SERVING_RANGE = (0.75, 1.3)
#: Stands for no limit at all where a most is infinite.
ENDLESS = 1e7


@dataclass(frozen=True, slots=True)
class _Taste:
    """A taste of the whole dish: what each option brings, what was written, its slopes, what all of it is worth, and the
    columns of what it lacks."""

    brings: np.ndarray
    written: float
    slopes: tuple[float, ...]
    worth: float
    lost: list[int]


@dataclass(frozen=True, slots=True)
class _Deviation:
    """More (`sign` 1) or less (-1) of a line that stays: the column of whether, those of how much piece by piece, and how
    much at most."""

    touched: int
    pieces: list[int]
    widest: float
    sign: float


class Program:
    """A binary an option, and what its amount is made of: of a line that stays how much more and how much less, piece by
    piece, with a binary each for whether there is any; of a swap how much of its span it takes. Behind them what the plate
    lacks and what the tastes lack; slacks of gates last.
    """

    def __init__(
        self,
        bench: Workbench,
        options: list[Option],
        gates: list[Gate],
        certain: bool,
        deadline: float = np.inf,
        is_wide: bool = False,
    ):
        #: When no search may go on any more, by the monotonic clock; whether one ended with neither a dish nor a proof;
        #: and whether what was found last is proven to be the least.
        self.deadline, self.ran_out, self.is_proven = deadline, False, True
        self.bench, self.options, self.gates, self.certain, self.is_wide = bench, options, gates, certain, is_wide
        self.count = len(options)
        self.lines = options[-1].line + 1
        #: The most of every column; a column is made by naming its most.
        self._most: list[float] = [1.0] * self.count
        #: What the amount of an option is made of: (column, factor).
        self.amount: list[list[tuple[int, float]]] = []
        self.spans: dict[int, int] = {}
        self.deviations: dict[int, list[_Deviation]] = {}
        for k, option in enumerate(options):
            self.amount.append(self._amount_of(k, option))
        #: The column of what the plate lacks, as a share of the dish.
        self.lacking = self._column(1.0)
        brings = np.array([option.powers for option in options])
        weighed = [line for line in bench.lines if line.is_weighed]
        written = sum((powers_of(line) for line in weighed), start=np.zeros(len(MEASURES)))
        #: With the columns of what each lacks, quarter by quarter, and the one of what eases the lack of salt.
        self.tastes = [
            _Taste(brings[:, at], written[at], slopes, worth, [self._column(QUARTER) for _ in slopes])
            for at, slopes, worth in ((SALT, LESS_SALT, COST_SALT), (SWEET, LESS, COST_SWEET))
        ]
        self.ease = self._column(MOST_EASE)
        self.slacks = [(self._column(0.0), self._column(0.0)) for _ in gates]
        self.size = len(self._most)
        #: What the dish need not keep for once: a measure of KEEP, or its weight.
        self.let_go = ""
        #: Columns that may not be used: the levers that other ways have pulled.
        self.banned: frozenset[int] = frozenset()

    def _column(self, most: float) -> int:
        self._most.append(most)
        return len(self._most) - 1

    def _amount_of(self, k: int, option: Option) -> list[tuple[int, float]]:
        if option.kind != "kept" or option.low == option.high:
            if option.high - option.low < LEAST_SPAN:
                return [(k, option.high)]
            self.spans[k] = self._column(option.high - option.low)
            return [(k, option.low), (self.spans[k], 1.0)]
        ways = ((option.high - 1, 1.0, (MORE_AT_ONCE, np.inf)), (1 - option.low, -1.0, (QUARTER,) * len(LESS)))
        found = [(k, 1.0)]
        self.deviations[k] = []
        for widest, sign, sizes in ways:
            if widest < LEAST_SPAN:
                continue
            pieces, left = [], widest
            for size in sizes:
                if left > LEAST_SPAN / 10:
                    pieces.append(self._column(min(size, left)))
                    left -= size
            self.deviations[k].append(_Deviation(self._column(1.0), pieces, widest, sign))
            found += [(column, sign) for column in pieces]
        return found

    def factor(self, x: np.ndarray, k: int) -> float:
        """How much of an option a solution takes, as a share of it."""
        return float(sum(x[column] * factor for column, factor in self.amount[k]))

    @property
    def _changing(self) -> list[int]:
        """The columns of whether the amount of a line is another one."""
        return [each.touched for deviations in self.deviations.values() for each in deviations]

    def _sum(self, values: Iterable[tuple[int, float]]) -> list[tuple[int, float]]:
        """A sum over options of (option, value at factor 1), in columns."""
        return [(column, value * factor) for k, value in values if value for column, factor in self.amount[k]]

    def _rows(self, margin: float, active: frozenset[int]) -> Rows:
        rows = Rows()
        by_line: list[list[int]] = [[] for _ in range(self.lines)]
        for k, option in enumerate(self.options):
            by_line[option.line].append(k)
        for choices in by_line:
            rows.add([(k, 1.0) for k in choices], 1.0, 1.0)
        for k, column in self.spans.items():
            rows.add([(column, 1.0), (k, -self._most[column])], at_most=0.0)
        for k, deviations in self.deviations.items():
            # Clearly more, clearly less, or as it was.
            for each in deviations:
                parts = [(column, 1.0) for column in each.pieces]
                rows.add([*parts, (each.touched, -each.widest)], at_most=0.0)
                rows.add([*parts, (each.touched, -min(CLEARLY, each.widest))], at_least=0.0)
            rows.add([*((each.touched, 1.0) for each in deviations), (k, -1.0)], at_most=0.0)
        self._gate_rows(rows, margin, active)
        self._whole_rows(rows)
        self._taste_rows(rows)
        if not self.is_wide:
            changed = [(k, 1.0) for k, option in enumerate(self.options) if option.kind != "kept"]
            rows.add([*changed, *((column, 1.0) for column in self._changing)], at_most=MOST_CHANGES)
        return rows

    def _gate_rows(self, rows: Rows, margin: float, active: frozenset[int]) -> None:
        for g, gate in enumerate(self.gates):
            if g not in active:
                continue
            (most, least), (over, under) = self._sums_of_gates[g], self.slacks[g]
            if gate.high:
                limit = gate.high.limit * (1 - margin)
                rows.add([*most, (over, -max(gate.high.limit, 1e-3))], at_most=limit)
            if gate.low:
                limit = gate.low.limit * (1 + margin)
                rows.add([*least, (under, max(gate.low.limit, 1e-3))], at_least=limit)

    @cached_property
    def _sums_of_gates(self) -> list[tuple[list[tuple[int, float]], list[tuple[int, float]]]]:
        """Of every gate's nutrient the most and the least there is, as sums; empty where no post asks."""
        found = []
        for gate in self.gates:
            key = INDEX[gate.nutrient]
            most = ((o.most if self.certain else o.amount)[key] for o in self.options if gate.high)
            least = ((o.least if self.certain else o.amount)[key] for o in self.options if gate.low)
            capped = [(k, min(float(v), ENDLESS)) for k, v in enumerate(most)]
            found.append((self._sum(capped), self._sum((k, float(v)) for k, v in enumerate(least))))
        return found

    def _whole_rows(self, rows: Rows) -> None:
        """The dish stays the dish: its weight, and what holds it together."""
        written = self.bench.lines
        total = sum(line.span.likely for line in written)
        grams = self._sum((k, o.grams) for k, o in enumerate(self.options))
        in_the_pot = self._sum((k, o.grams) for k, o in enumerate(self.options) if not o.is_side)
        if self.let_go != "weight":
            rows.add(in_the_pot, SERVING_RANGE[0] * total, SERVING_RANGE[1] * total)
        rows.add([*grams, (self.lacking, total)], at_least=FULL_PLATE * total)
        if not self.is_wide:
            rows.add(grams, at_least=LEAST_PLATE * total)
        if self.bench.kind in OF_BATTER and self._is_dough() and not self.is_wide:
            water = self._sum((k, o.powers[WATER]) for k, o in enumerate(self.options) if not o.is_side)
            there = sum(powers_of(line)[WATER] for line in written if line.is_weighed)
            rows.add(water, WATER_RANGE[0] * there, WATER_RANGE[1] * there)
        before = sum((_strong(line) for line in written if line.is_weighed), start=np.zeros(len(MEASURES)))
        baked, thick = self.bench.kind in BAKED, self.bench.kind in (*BAKED, "sauce", "soup", "stew")
        for measure, share in KEEP.items():
            column = MEASURES.index(measure)
            matters = thick if measure == "thickens" else baked and (measure not in OF_DOUGH or self._is_dough())
            if matters and before[column] > 0.5 and measure != self.let_go:
                powers = self._sum((k, o.powers[column]) for k, o in enumerate(self.options) if not o.is_side)
                rows.add(powers, at_least=share * before[column])

    def _taste_rows(self, rows: Rows) -> None:
        """How much less salty and less sweet the whole is; acid, spice and depth that come in make up for some of it."""
        salt = self.tastes[0]
        for taste in self.tastes:
            if taste.written < LEAST_TASTE:
                continue
            brought = enumerate(taste.brings / taste.written)
            there = self._sum((k, v) for k, v in brought if not self.options[k].is_side)
            eased = [(self.ease, 1.0)] if taste is salt else []
            rows.add([*there, *eased, *((column, 1.0) for column in taste.lost)], at_least=1.0)
        rows.add([(self.ease, 1.0), *((k, -EASE) for k, o in enumerate(self.options) if o.eases)], at_most=0.0)

    def _is_dough(self) -> bool:
        """Whether some line does gluten's work; in patties and coatings nothing does."""
        return any("gluten's work" in self.bench.jobs_of(at) for at in range(len(self.bench.lines)))

    def _costs(self, elastic: bool) -> np.ndarray:
        costs = np.zeros(self.size)
        for k, option in enumerate(self.options):
            if option.kind != "kept":
                costs[k] = option.cost
                if k in self.spans:  # of a side what there is of it costs, of a swap what it is short of its ratio
                    by_amount = COST_SIDE_AMOUNT if option.is_side else -COST_SHORT * max(option.scale, 0.2)
                    costs[k] += by_amount * option.low - min(by_amount, 0.0)
                    costs[self.spans[k]] = by_amount
        for k, deviations in self.deviations.items():
            option = self.options[k]
            weight = COST_AMOUNT * max(option.scale, 0.2)
            for each in deviations:
                # Salt is felt in the whole dish (below), and hardly once more as a line.
                less = LESS_SALT_LINE if option.is_salt else np.multiply(weight, LESS)
                slopes = np.multiply(weight, MORE) if each.sign > 0 else less
                costs[each.pieces] = slopes[: len(each.pieces)]
                costs[each.touched] = COST_CHANGE
        costs[self.lacking] = 10 * COST_TENTH
        for taste in self.tastes:
            costs[taste.lost] = np.multiply(taste.worth, taste.slopes)
        if elastic:
            costs = costs * 1e-3
            costs[[column for pair in self.slacks for column in pair]] = 1.0
        return costs

    def solve(self, margin=0.0, active=None, elastic=False, chosen=None, is_any=False):
        """(x, cost) or None. `is_any`: whichever dish, not the least changed one. `active`: which gates count; `elastic`:
        posts may be missed, at a price; `chosen`: a solution whose choices stand, so that only amounts are sought (a few
        hundredths of a second).
        """
        active = frozenset(range(len(self.gates))) if active is None else active
        rows = self._rows(margin, active)
        top = np.array(self._most)
        top[[column for pair in self.slacks for column in pair]] = 1e4 if elastic else 0.0
        whole = np.zeros(self.size)
        whole[: self.count] = 1
        whole[self._changing] = 1
        costs = np.zeros(self.size) if is_any else self._costs(elastic)
        if chosen is not None:
            top[: self.count] = np.round(chosen[: self.count])
        top[list(self.banned)] = 0.0
        nodes = FURTHER_NODES if self.banned else NODES
        for shut in self._worth_trying(costs, top, rows) if chosen is None else ([],):
            limits = top.copy()
            limits[shut] = 0.0
            answer = self._asked(costs, limits, whole, rows, nodes)
            if answer.ended == FOUND:
                self.is_proven = self.is_proven and answer.is_proven
                return answer.x, answer.cost
            if answer.ended == STOPPED:
                self.ran_out = True
        return None

    def _asked(self, costs, limits, whole, rows: Rows, nodes: int) -> Answer:
        left = self.deadline - monotonic()
        if left <= 0:
            return Answer(STOPPED)
        gap = FURTHER_GAP if self.banned or self.count > MANY_OPTIONS else GAP
        return solve(costs, limits, whole, rows, gap=gap, nodes=nodes, seconds=left)

    def _worth_trying(self, costs: np.ndarray, top: np.ndarray, rows: Rows) -> Iterable[list[int]]:
        """Which options to leave out, first try first: with many, only those the relaxed program finds cheap are tried.

        The relaxed program (shares of options instead of whole ones) takes a few hundredths of a second. Where even
        that has no dish there is none, and nothing is yielded.
        """
        if self.count > MANY_OPTIONS:
            relaxed = self._asked(costs, top, None, rows, 0)
            if relaxed.ended == NONE:
                return
            if relaxed.ended == FOUND:
                dear = relaxed.dear[: self.count]
                kept = [o.kind in ("kept", "drop") for o in self.options]
                rest = [k for k in np.argsort(dear, kind="stable") if not kept[k] and relaxed.x[k] <= 1e-6]
                yield [int(k) for k in rest[FURTHER_BESIDES if self.banned else BESIDES :]]
                if self.banned:
                    return
        yield []

    def levers_of(self, x: np.ndarray) -> list[frozenset[int]]:
        """What a solution pulls, dearest first: of each lever the columns that pull it, of all its options.

        Lines that must change (a plan keeps them out as they are) are levers by what was chosen for them.
        """
        felt: dict[str, float] = {}
        for k, option in enumerate(self.options):
            if x[k] > 0.5 and option.lever and (option.kind != "kept" or self._is_changed(k, x)):
                felt[option.lever] = felt.get(option.lever, 0.0) + (option.cost or COST_CHANGE)
        columns: dict[str, set[int]] = {lever: set() for lever in felt}
        for k, option in enumerate(self.options):
            if option.lever in columns:
                columns[option.lever] |= {k} if option.kind != "kept" else self._changes_of(k)
        return [frozenset(columns[lever]) for lever in sorted(felt, key=lambda lever: -felt[lever])]

    def _changes_of(self, k: int) -> set[int]:
        return {each.touched for each in self.deviations.get(k, ())}

    def _is_changed(self, k: int, x: np.ndarray) -> bool:
        return any(x[column] > 0.5 for column in self._changes_of(k))


def _strong(line: Line) -> np.ndarray:
    """What a line brings to the whole; pulses and roots that thicken by the way do not count as thickeners."""
    powers = powers_of(line)
    if per_gram(line.food_id or "")[MEASURES.index("thickens")] < 0.5:
        powers = powers.copy()
        powers[MEASURES.index("thickens")] = 0.0
    return powers
