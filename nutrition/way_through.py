"""The way through: the least change to a dish that opens every gate, or which gates cannot be open together.

A mixed-integer program (HiGHS through scipy): each line is kept, changed in amount, swapped, cooked otherwise or left
out; posts, balance and what plans keep out are constraints; the cost of a change grows with the job it touches, the
share of the line, the work and the shopping. Unknown values stand at their ceiling when `certain`. What it finds is
rounded to kitchen amounts and examined by the ordinary analysis; only ways that hold there are returned.
"""

from dataclasses import dataclass, replace
from math import isfinite
from time import monotonic

import numpy as np

from .analysis import analyze
from .avoid import CONTAINS, find
from .gates import OPEN, Gate, Verdict, judge
from .matching import cook_name
from .nutrients import BY_KEY, INDEX
from .recipe import Line
from .swaps.engine import Workbench
from .swaps.program import Option, Program, Wish, options_of

#: One solve may take so long; the best dish found by then counts.
SOLVE_SECONDS, FURTHER_SECONDS = 0.5, 0.4
#: Room left inside each post, so that rounding to kitchen amounts stays through.
#: How many times the servings may be, when nothing else leads through.
SERVINGS = (1.15, 1.3)
MARGINS = (0.004, 0.015, 0.035)


@dataclass(frozen=True, slots=True)
class Change:
    """One step of a way. `line` is a position in the dish as it was, -1 for the serving; `kind`: less, more, swap, drop, state, serving."""

    line: int
    kind: str
    text: str
    new: tuple[Line, ...] = ()

    @property
    def to(self) -> tuple[tuple[str, float], ...]:
        """(food id, grams) of what stands there afterwards."""
        return tuple((line.food_id, line.grams or 0.0) for line in self.new)


@dataclass(frozen=True, slots=True)
class Way:
    """A way that holds: the steps, the dish after all of them, the verdicts, its cost, and how many it serves."""

    changes: tuple[Change, ...]
    lines: tuple[Line, ...]
    verdicts: tuple[Verdict, ...]
    cost: float
    serves: float


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


def _read(program: Program, x: np.ndarray) -> tuple[tuple[Line, ...], tuple[Change, ...]]:
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
                changes.append(Change(position, "drop", f"Leave out the {cook_name(was.food_id)}"))
            elif new[0].grams != was.grams:
                kind = "less" if new[0].grams < was.grams else "more"
                text = f"{cook_name(was.food_id).capitalize()}: {_g(new[0].grams)} instead of {_g(was.grams)}"
                changes.append(Change(position, kind, text, new))
        else:
            changes.append(Change(position, option.kind, _change_text(option, new, was), new))
    for k, option in enumerate(program.options):
        if option.line >= len(program.bench.lines) and option.kind == "more" and x[k] > 0.5:
            line = _weighed(option.new[0], x[program.count + k])
            lines.append(line)
            changes.append(Change(option.line, "more", f"{option.text}, {_g(line.grams)}", (line,)))
    return tuple(lines), tuple(changes)


def after_steps(bench: Workbench, way: Way, count: int) -> list[tuple[int, Line]]:
    """The dish after the first `count` steps of a way, each line with the position it comes from."""
    done = {change.line: change for change in way.changes[:count]}
    found = []
    for position, line in enumerate(bench.lines):
        new = done[position].new if position in done else (line,)
        found.extend((position, each) for each in new)
    return found + [(c.line, each) for c in done.values() if c.line >= len(bench.lines) for each in c.new]


def _g(grams: float) -> str:
    return f"{grams:.0f} g" if grams >= 10 else f"{grams:.1f} g"


def _change_text(option: Option, new: tuple[Line, ...], was: Line) -> str:
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
    options = options_of(bench, wish)
    blocked = [line for i, line in enumerate(bench.lines) if not any(o.line == i for o in options)]
    if blocked:
        names = ", ".join(line.text for line in blocked)
        return Outcome(
            (), (), f"Nothing known can stand in for {names}, which a plan keeps out. Replace it by hand first."
        )
    program, ways = Program(bench, options, gates, wish.certain), []
    for _ in range(3 * wish.ways):
        left = wish.seconds - (monotonic() - started)
        if len(ways) >= wish.ways or left <= 0:
            break
        way = _one_way(bench, program, wish, min(left, FURTHER_SECONDS if ways else SOLVE_SECONDS))
        if way is None and not program.loosen():
            break
        if way and way.changes not in [other.changes for other in ways]:
            ways.append(way)
    if ways:
        return Outcome(tuple(sorted(ways, key=lambda way: way.cost)))
    smaller = _smaller_serving(bench, wish)
    return Outcome((smaller,)) if smaller else Outcome((), *_why_not(bench, program, wish))


def _smaller_serving(bench: Workbench, wish: Wish) -> Way | None:
    """When nothing else leads through: the same pot for more people, said first and as what it is."""
    for factor in SERVINGS:
        more = replace(bench, serves=bench.serves * factor)
        way = _one_way(more, Program(more, options_of(more, wish), more.gates, wish.certain), wish, SOLVE_SECONDS)
        if way:
            was, now = (sum(line.grams or 0 for line in bench.lines) / serves for serves in (bench.serves, more.serves))
            text = f"A smaller serving, {now:.0f} g instead of {was:.0f} g raw: the pot serves {more.serves:.3g}"
            return replace(way, changes=(Change(-1, "serving", text), *way.changes))
    return None


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


def _one_way(bench: Workbench, program: Program, wish: Wish, seconds: float) -> Way | None:
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
            return Way(changes, lines, tuple(verdicts), cost, bench.serves)
    return None


def _why_not(bench: Workbench, program: Program, wish: Wish) -> tuple[tuple[Miss, ...], str]:
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


def _amount_at(program: Program, x: np.ndarray, gate: Gate) -> tuple[float, float]:
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
