"""The way through: the least change to a dish that opens every gate, or which gates cannot be open together.

A mixed-integer program (HiGHS through scipy): each line is kept, changed in amount, swapped, cooked otherwise or left
out; posts, balance and what plans keep out are constraints; the cost of a change grows with the job it touches, the
share of the line, the work and the shopping. Unknown values stand at their ceiling when `certain`. What it finds is
rounded to kitchen amounts and examined by the ordinary analysis; only ways that hold there are returned.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from math import isfinite
from time import monotonic

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import csr_array

from .analysis import analyze
from .avoid import CONTAINS, find
from .gates import OPEN, Gate, Verdict, judge
from .nutrients import BY_KEY, INDEX
from .recipe import Line
from .swaps.balance import BAKED, MEASURES, per_gram
from .swaps.catalog import food_called
from .swaps.engine import Workbench, cook_name, offers
from .swaps.jobs import jobs_of, weight_of

#: Assumed ranges of a line's amount by its heaviest job, and what one change costs whatever it is.
RANGES = {
    "binds": (0.9, 1.2), "lifts": (0.8, 1.2), "gluten's work": (0.8, 1.2), "thickens": (0.7, 1.5), "protein": (0.3, 1.6),
    "bulk": (0.4, 1.8), "salty": (0.0, 1.0), "sweet": (0.3, 1.1), "fat": (0.4, 3.0), "creamy": (0.3, 1.3),
}  # fmt: skip
ORDINARY_RANGE = (0.4, 1.6)
COST_CHANGE, COST_SWAP, COST_DROP, COST_AMOUNT = 0.5, 0.6, 0.9, 1.2
#: A kept share of what the dish is made of, when it is that kind of dish (as balance.py warns).
KEEP = {"thickens": 0.6, "binds": 0.6, "gluten": 0.5, "lifts_base": 0.6, "fat": 0.5}
SERVING_RANGE = (0.75, 1.3)
#: What may be put beside the dish when a gate asks for more of something: (food, grams a serving at most).
ADDITIONS = {
    "energy_kcal": (("olive oil", 15.0), ("unsalted butter", 20.0), ("white rice", 40.0)),
    "carbohydrate_g": (("white rice", 60.0), ("apple", 120.0)),
    "available_carbohydrate_g": (("white rice", 60.0),),
    "fiber_g": (("carrots", 120.0), ("cabbage", 120.0), ("raspberries", 100.0)),
    "protein_g": (("egg white", 80.0), ("chicken breast", 60.0)),
}
COST_ADD = 1.4
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
#: Room left inside each post, so that rounding to kitchen amounts stays through.
MARGINS = (0.004, 0.015, 0.035)
MOST_OFFERS_A_LINE = 10


@dataclass(frozen=True, slots=True)
class Change:
    """One step of a way. `line` is a position in the dish as it was; `kind`: less, more, swap, drop, state."""

    line: int
    kind: str
    text: str
    to: tuple[tuple[str, float], ...]


@dataclass(frozen=True, slots=True)
class Way:
    """A way that holds: the steps, the dish after all of them, the verdicts, and its cost."""

    changes: tuple[Change, ...]
    lines: tuple[Line, ...]
    verdicts: tuple[Verdict, ...]
    cost: float


@dataclass(frozen=True, slots=True)
class Miss:
    """A gate that cannot be open with the others: by how much the nearest dish misses it, in its own unit."""

    nutrient: str
    plan: str
    side: str
    limit: float
    nearest: float
    source: str


@dataclass(frozen=True, slots=True)
class Outcome:
    """Ways, best first; or which gates cannot meet and the nearest miss. `note` says what else stood in the way."""

    ways: tuple[Way, ...]
    conflict: tuple[Miss, ...] = ()
    note: str = ""

    @property
    def solved(self) -> bool:
        return bool(self.ways)


@dataclass(frozen=True)
class Wish:
    """What the cook asks: `pinned` positions never touched, `at_least` shares of a line to keep, how many `ways`."""

    pinned: frozenset[int] = frozenset()
    at_least: Mapping[int, float] = field(default_factory=dict)
    ways: int = 3
    certain: bool = True
    seconds: float = 4.0


@dataclass(slots=True)
class _Option:
    """One thing that may be done to a line: what it brings a serving at factor 1, and what it costs."""

    line: int
    kind: str
    text: str
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


def _option(
    bench: Workbench, line: int, kind: str, text: str, new: Iterable[Line], span, cost: float, scale: float = 1.0
) -> _Option:
    new = tuple(new)
    powers, grams = np.zeros(len(MEASURES)), 0.0
    least = amount = most = np.zeros(len(INDEX))
    if new:
        result = analyze(new, bench.serves)
        least, amount, most = result.at_least, result.amounts, result.at_most
        grams = sum(each.grams or 0.0 for each in new)
        powers = sum(((each.grams or 0.0) * per_gram(each.food_id) for each in new if each.is_weighed), start=powers)
    return _Option(line, kind, text, new, *span, cost, least, amount, most, powers, grams, scale)


def _options(bench: Workbench, wish: Wish) -> list[_Option]:
    """As it is first, then offers, for every line. What a plan keeps out is no option, not even as it is."""
    found = []
    total = sum(line.grams or 0.0 for line in bench.lines) or 1.0
    for position, line in enumerate(bench.lines):
        jobs = jobs_of(line, bench.kind)
        weight = max((weight_of(job) for job in jobs), default=1.5)
        share = (line.grams or 0.0) / total
        scale = weight * (0.35 + min(share * 3, 1.0))
        is_out = any(f.verdict == CONTAINS for f in find([line], bench.kept_out))
        if position in wish.pinned or not line.is_weighed:
            found.append(_option(bench, position, "kept", "", [line], (1.0, 1.0), 0.0))
            continue
        low, high = RANGES.get(jobs[0] if jobs else "", ORDINARY_RANGE)
        floor = wish.at_least.get(position, 0.0)
        low, high = max(low, floor), max(high, floor)
        if not is_out:
            found.append(_option(bench, position, "kept", "", [line], (low, high), 0.0, scale))
        for offer in offers(bench, position, MOST_OFFERS_A_LINE).offers:
            if offer.kind in ("less", "more") or (offer.kind == "drop" and floor > 0):
                continue
            if offer.kind == "state" and offer.id not in AUTOMATIC:
                continue
            start = position
            count = len(offer.lines) - len(bench.lines) + 1
            new = offer.lines[start : start + count]
            extra = COST_DROP if offer.kind == "drop" else COST_SWAP if offer.kind == "swap" else 0.25
            cost = COST_CHANGE + extra * scale + 0.1 * len(offer.warnings) + 0.05 * max(count - 1, 0)
            span = (
                (0.0, 0.0) if offer.kind == "drop" else (max(0.5, floor), 1.5) if offer.kind == "swap" else (1.0, 1.0)
            )
            found.append(_option(bench, position, offer.kind, offer.text, new, span, cost, scale))
    return found + _additions(bench, len(bench.lines))


def _additions(bench: Workbench, position: int) -> list[_Option]:
    """Something on the side, when a gate asks for at least so much; each on a place of its own after the lines."""
    found, seen = [], set()
    nothing = np.zeros(len(INDEX))
    for gate in bench.gates:
        for name, grams in ADDITIONS.get(gate.nutrient, ()) if gate.low else ():
            food_id = food_called(name)
            if food_id in seen or bench.forbidden(food_id):
                continue
            seen.add(food_id)
            whole = grams * bench.serves
            line = Line(
                name, food_id, whole, whole, whole, "weight", "likely", why="added by the way through", is_edited=True
            )
            found.append(
                _Option(
                    position, "kept", "", (), 1.0, 1.0, 0.0, nothing, nothing, nothing, np.zeros(len(MEASURES)), 0.0
                )
            )
            found.append(_option(bench, position, "more", f"Add {name}", [line], (0.25, 1.0), COST_ADD))
            position += 1
    return found


class _Program:
    """The mixed-integer program: a binary and a factor an option; two deviations and a touch where the factor may vary."""

    def __init__(self, bench: Workbench, options: list[_Option], gates: list[Gate], certain: bool):
        self.bench, self.options, self.gates, self.certain = bench, options, gates, certain
        self.count = len(options)
        self.scaled = [k for k, option in enumerate(options) if option.high > option.low or option.kind == "kept"]
        self.free = {option.line for option in options if option.kind == "kept"}
        self.size = 2 * self.count + 3 * len(self.scaled) + 2 * len(gates)
        self.cuts: list[tuple[np.ndarray, float]] = []
        self.by_choice: list[tuple[np.ndarray, float]] = []
        self.is_loose = False

    def _slots(self, n: int) -> tuple[int, int, int]:
        base = 2 * self.count + 3 * n
        return base, base + 1, base + 2

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
            up, down, touch = self._slots(n)
            add([(c + k, 1.0), (k, -1.0), (up, -1.0), (down, 1.0)], 0.0, 0.0)
            add([(up, 1.0), (down, 1.0), (touch, -3.0)], at_most=0.0)
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
        total = sum(line.grams or 0.0 for line in written)
        add([(c + k, o.grams) for k, o in enumerate(self.options)], SERVING_RANGE[0] * total, SERVING_RANGE[1] * total)
        before = sum((_strong(line) for line in written if line.is_weighed), start=np.zeros(len(MEASURES)))
        baked, thick = self.bench.kind in BAKED, self.bench.kind in (*BAKED, "sauce", "soup", "stew")
        for measure, share in KEEP.items():
            column = MEASURES.index(measure)
            matters = thick if measure == "thickens" else baked
            if matters and before[column] > 0.5:
                add([(c + k, o.powers[column]) for k, o in enumerate(self.options)], at_least=share * before[column])

    def _costs(self, elastic: bool) -> np.ndarray:
        costs = np.zeros(self.size)
        for k, option in enumerate(self.options):
            if option.kind != "kept":
                costs[k] = option.cost
                costs[self.count + k] = 0.3 if option.kind == "more" else 0.0
        for n, k in enumerate(self.scaled):
            up, down, touch = self._slots(n)
            option = self.options[k]
            if not option.new or option.kind == "more":
                continue
            weight = max(option.scale, 0.2)
            costs[up], costs[down] = COST_AMOUNT * weight * 0.6, COST_AMOUNT * weight * 0.8
            costs[touch] = COST_CHANGE * 0.6 if option.kind == "kept" else 0.0
        if elastic:
            costs = costs * 1e-3
            costs[self.size - 2 * len(self.gates) :] = 1.0
        return costs

    def solve(self, margin=0.0, active=None, elastic=False, seconds=1.0):
        """(x, cost) or None. `active`: which gates count; `elastic`: posts may be missed, at a price."""
        active = frozenset(range(len(self.gates))) if active is None else active
        rows, low, high = self._rows(margin, active)
        top = np.ones(self.size)
        for k, option in enumerate(self.options):
            top[self.count + k] = option.high
        for n in range(len(self.scaled)):
            up, down, _ = self._slots(n)
            top[[up, down]] = 3.0
        top[self.size - 2 * len(self.gates) :] = 1e4 if elastic else 0.0
        whole = np.zeros(self.size)
        whole[: self.count] = 1
        for n in range(len(self.scaled)):
            whole[self._slots(n)[2]] = 1
        result = milp(
            self._costs(elastic),
            integrality=whole,
            bounds=Bounds(np.zeros(self.size), top),
            constraints=LinearConstraint(csr_array(np.array(rows)), low, high),
            options={"time_limit": max(seconds, 0.05), "mip_rel_gap": 0.02},
        )
        return None if result.x is None else (result.x, float(result.fun))

    def cut_off(self, x: np.ndarray, changed: Iterable[int]) -> None:
        """Forbid what is too like this: of the lines it changes by choice, three in ten must stay as they are.

        Lines that must change (a plan keeps them out as they are) count by what was chosen for them.
        """
        row, lines = np.zeros(self.size), set(changed) & self.free
        for n, k in enumerate(self.scaled):
            line = self.options[k].line
            if line in lines and self.options[k].kind == "kept":
                row[[j for j, o in enumerate(self.options) if o.line == line and o.kind != "kept"]] = 1.0
                row[self._slots(n)[2]] = 1.0
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
    powers = (line.grams or 0.0) * per_gram(line.food_id)
    if per_gram(line.food_id)[MEASURES.index("thickens")] < 0.5:
        powers = powers.copy()
        powers[MEASURES.index("thickens")] = 0.0
    return powers


def _kitchen(grams: float) -> float:
    """Grams a kitchen weighs: to 5 above 100, to 1 above 10, to 0.1 below."""
    step = 5.0 if grams >= 100 else 1.0 if grams >= 10 else 0.1
    return round(grams / step) * step


def _weighed(line: Line, factor: float) -> Line:
    if line.grams is None or abs(factor - 1) < 0.01:
        return line
    grams = max(_kitchen(line.grams * factor), 0.0)
    real = grams / line.grams if line.grams else 0.0
    return replace(line, low=line.low * real, grams=grams, high=line.high * real, is_edited=True)


def _read(program: _Program, x: np.ndarray) -> tuple[tuple[Line, ...], tuple[Change, ...]]:
    """The dish and the steps of a solution, in kitchen amounts."""
    lines, changes = [], []
    for position, was in enumerate(program.bench.lines):
        k = next(k for k, o in enumerate(program.options) if o.line == position and x[k] > 0.5)
        option, factor = program.options[k], x[program.count + k]
        new = tuple(
            each for each in (_weighed(line, factor) for line in option.new) if each.grams is None or each.grams > 0.04
        )
        lines.extend(new)
        if option.kind == "kept":
            if not new:
                changes.append(Change(position, "drop", f"Leave out the {cook_name(was.food_id)}", ()))
            elif new[0].grams != was.grams:
                kind = "less" if new[0].grams < was.grams else "more"
                text = f"{cook_name(was.food_id).capitalize()}: {_g(new[0].grams)} instead of {_g(was.grams)}"
                changes.append(Change(position, kind, text, ((was.food_id, new[0].grams),)))
        else:
            changes.append(
                Change(position, option.kind, _change_text(option, new, was), tuple((n.food_id, n.grams) for n in new))
            )
    for k, option in enumerate(program.options):
        if option.line >= len(program.bench.lines) and option.kind == "more" and x[k] > 0.5:
            line = _weighed(option.new[0], x[program.count + k])
            lines.append(line)
            changes.append(
                Change(option.line, "more", f"{option.text}, {_g(line.grams)}", ((line.food_id, line.grams),))
            )
    return tuple(lines), tuple(changes)


def _g(grams: float) -> str:
    return f"{grams:.0f} g" if grams >= 10 else f"{grams:.1f} g"


def _change_text(option: _Option, new: tuple[Line, ...], was: Line) -> str:
    if option.kind != "swap":
        return option.text
    parts = " + ".join(f"{cook_name(line.food_id)} {_g(line.grams)}" for line in new)
    return f"{parts[:1].upper()}{parts[1:]} in place of {cook_name(was.food_id)}, {_g(was.grams)}"


def _is_through(bench: Workbench, lines: tuple[Line, ...], certain: bool) -> list[Verdict] | None:
    """The verdicts of the ordinary analysis when every gate is open and nothing kept out is in it, else None."""
    verdicts = judge(bench.gates, analyze(lines, bench.serves))
    if any(f.verdict == CONTAINS for f in find(lines, bench.kept_out)):
        return None
    if certain:
        return verdicts if all(v.state == OPEN for v in verdicts) else None
    fits = all(
        (not v.gate.high or v.amount <= v.gate.high.limit) and (not v.gate.low or v.amount >= v.gate.low.limit)
        for v in verdicts
    )
    return verdicts if fits else None


def find_ways(bench: Workbench, wish: Wish | None = None) -> Outcome:
    """Up to `wish.ways` really different ways, or why there is none."""
    wish = wish or Wish()
    gates = bench.gates
    started = monotonic()
    note = _cannot_start(bench, gates, wish)
    if note:
        return Outcome((), (), note)
    options = _options(bench, wish)
    blocked = [line for i, line in enumerate(bench.lines) if not any(o.line == i for o in options)]
    if blocked:
        names = ", ".join(line.text for line in blocked)
        return Outcome(
            (), (), f"Nothing known can stand in for {names}, which a plan keeps out. Replace it by hand first."
        )
    program, ways = _Program(bench, options, gates, wish.certain), []
    for _ in range(3 * wish.ways):
        left = wish.seconds - (monotonic() - started)
        if len(ways) >= wish.ways or left <= 0:
            break
        way = _one_way(bench, program, wish, min(left, 1.5))
        if way is None and not program.loosen():
            break
        if way and way.changes not in [other.changes for other in ways]:
            ways.append(way)
    if ways:
        return Outcome(tuple(sorted(ways, key=lambda way: way.cost)))
    return Outcome((), *_why_not(bench, program, wish))


def _cannot_start(bench: Workbench, gates: list[Gate], wish: Wish) -> str:
    clash = [gate for gate in gates if gate.is_conflict]
    if clash:
        names = ", ".join(BY_KEY[gate.nutrient].label.lower() for gate in clash)
        return f"The plans contradict each other on {names}: settle that on the person’s page first."
    if wish.certain:
        unknown = [line.text for line in bench.lines if not line.is_weighed]
        if unknown:
            return f"No food or weight is known for {', '.join(unknown)}: settle the line first."
    if wish.pinned and len(wish.pinned) >= len(bench.lines):
        return "Every line is pinned: nothing may change. Unpin the line you would rather give up."
    return ""


def _one_way(bench: Workbench, program: _Program, wish: Wish, seconds: float) -> Way | None:
    """The next way that holds in the ordinary analysis; its like is cut off afterwards."""
    for margin in MARGINS:
        solution = program.solve(margin, seconds=seconds)
        if solution is None:
            return None
        x, cost = solution
        lines, changes = _read(program, x)
        verdicts = _is_through(bench, lines, wish.certain)
        if verdicts is not None:
            program.cut_off(x, [change.line for change in changes])
            return Way(changes, lines, tuple(verdicts), cost)
    return None


def _why_not(bench: Workbench, program: _Program, wish: Wish) -> tuple[tuple[Miss, ...], str]:
    """An irreducible set of gates that cannot be open together, with the nearest miss of each."""
    program.cuts.clear()
    everything = frozenset(range(len(program.gates)))
    core = set(everything)
    for g in sorted(everything):
        if program.solve(active=frozenset(core - {g}), seconds=0.4) is None:
            core.discard(g)
    if not core or program.solve(active=frozenset(), seconds=0.4) is None:
        return (
            (),
            "Even without gates the dish cannot stay the dish with these pins: unpin a line or allow a smaller serving.",
        )
    nearest = program.solve(active=frozenset(core), elastic=True, seconds=1.0)
    misses = []
    for g in sorted(core):
        gate = program.gates[g]
        amounts = _amount_at(program, nearest[0], gate) if nearest else (float("nan"),) * 2
        for post, side, amount in ((gate.low, "low", amounts[0]), (gate.high, "high", amounts[1])):
            if post:
                misses.append(Miss(gate.nutrient, post.target.plan, side, post.limit, amount, post.reason))
    short = [m for m in misses if (m.nearest > m.limit if m.side == "high" else m.nearest < m.limit)]
    return tuple(misses), _nearest_words(short)


def _amount_at(program: _Program, x: np.ndarray, gate: Gate) -> tuple[float, float]:
    key, c = INDEX[gate.nutrient], program.count
    least = sum(x[c + k] * (o.least[key] if program.certain else o.amount[key]) for k, o in enumerate(program.options))
    most = sum(x[c + k] * (o.most[key] if program.certain else o.amount[key]) for k, o in enumerate(program.options))
    return float(least), float(most) if isfinite(most) else float("inf")


def _nearest_words(short: list[Miss]) -> str:
    said = []
    for miss in short:
        nutrient = BY_KEY[miss.nutrient]
        by = abs(miss.nearest - miss.limit)
        plan = f" ({miss.plan})" if miss.plan else ""
        said.append(f"{nutrient.label.lower()}{plan} by {nutrient.show(by)}")
    if not said:
        return "These gates cannot be open together with the changes known."
    return f"The nearest dish misses {'; '.join(said)}. Relax one of these limits, or unpin a line."
