"""The way through: the least change to a dish that opens every gate, or which gates cannot be open together.

A mixed-integer program (HiGHS): each line is kept, changed in amount, swapped, cooked otherwise or left
out; posts, balance and what plans keep out are constraints; the cost of a change grows with the job it touches, the
share of the line, the work and the shopping. Unknown values stand at their ceiling when `certain`. What it finds is
rounded to kitchen amounts and examined by the ordinary analysis; only ways that hold there are returned.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from math import ceil, isfinite
from time import monotonic

import numpy as np

from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.dish.naming import called
from nutrition.food.nutrients import BY_KEY, INDEX, KEYS
from nutrition.limits.gates import Gate
from nutrition.limits.plans import plan_label
from nutrition.notes import NOTHING, Note, note
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.verdicts import OPEN, Verdict, judge
from nutrition.swaps.changes import Change, dish_after
from nutrition.swaps.kitchen import MEASURES_OF_A_KITCHEN, Measure, spoken
from nutrition.swaps.offers import Workbench
from nutrition.swaps.option import Option
from nutrition.swaps.options import for_more, options_of
from nutrition.swaps.program import KEEP, Program
from nutrition.swaps.reasons import advice_for_amount, advice_for_dropping, with_reasons
from nutrition.swaps.wish import Wish

#: Of a dish with more lines no way is sought: it could not be found in the time somebody waits.
MOST_LINES = 100
#: So many times as often as ways are wished for is one sought; some do not hold when amounts are rounded.
TRIES = 2
#: A way so many times as dear as the first is no offer.
DEAREST = 3.0
#: This share of the levers of a way, but one at least, is what another way does without.
LET_GO = 0.3
#: How many times the servings may be, when nothing else leads through.
SERVINGS = (1.15, 1.3)
#: A value is vague when so much of the post may be there besides what is known of it.
VAGUE = 0.1
#: Room left inside each post, so that rounding to kitchen amounts stays through.
MARGINS = (0.004, 0.015, 0.035)
#: ... and steps from one to the next for choices that have been made: finding their amounts anew costs little.
FINER_MARGINS = (0.007, 0.011, 0.015, 0.025, 0.035)


@dataclass(frozen=True, slots=True)
class Way:
    """A way that holds: the steps, the dish after all of them, the verdicts, its cost, and how many it serves.

    `is_proven`: no way of a cost less by more than the gap of the program exists; `levers`: what it pulls, dearest first.
    """

    changes: tuple[Change, ...]
    lines: tuple[Line, ...]
    verdicts: tuple[Verdict, ...]
    cost: float
    serves: float
    is_proven: bool = True
    levers: tuple[frozenset[int], ...] = ()

    @property
    def minutes(self) -> int:
        """More work than the dish as it was."""
        return sum(change.minutes for change in self.changes)

    @property
    def pulled(self) -> frozenset[int]:
        """All it pulls."""
        return frozenset[int]().union(*self.levers)


@dataclass(frozen=True, slots=True)
class Miss:
    """A gate that cannot be open with the others: by how much the nearest dish misses it, in its own unit."""

    nutrient: str
    plan: str
    side: str
    limit: float
    nearest: float
    source: Note


@dataclass(frozen=True, slots=True)
class Outcome:
    """Ways, best first; or which gates cannot meet and the nearest miss. `note` says what else stood in the way; `open_steps` what the
    steps add of which nobody knows how much, so that the gates of a way cannot be told until somebody says."""

    ways: tuple[Way, ...]
    conflict: tuple[Miss, ...] = ()
    note: Note = NOTHING
    open_steps: tuple[Note, ...] = ()

    @property
    def solved(self) -> bool:
        return bool(self.ways)


def _weighed(line: Line, factor: float, measure: Measure, kind: str) -> Line:
    if line.weight is None or abs(factor - 1) < 0.01:
        return line
    grams, was = max(measure(line, line.weight.likely * factor), 0.0), line.weight.likely
    real = grams / was if was else 0.0
    less = line.edited(weight=Grams(line.weight.least * real, grams, line.weight.most * real))
    return less if less.advice else replace(less, advice=advice_for_amount(line, real, kind))


def _read(program: Program, x: np.ndarray, measure: Measure) -> tuple[tuple[Line, ...], tuple[Change, ...]]:
    """The dish and the steps of a solution, in kitchen amounts."""
    lines: list[Line] = []
    changes: list[Change] = []
    for position, was in enumerate(program.bench.lines):
        k = next(k for k, o in enumerate(program.options) if o.line == position and x[k] > 0.5)
        option, factor = program.options[k], program.factor(x, k)
        new = tuple(
            each
            for each in (_weighed(line, factor, measure, program.bench.kind) for line in option.new)
            if each.grams is None or each.grams > 0.04
        )
        lines.extend(new)
        if option.kind == "kept":
            if not new:
                text, do = note("swaps.offer_drop", food=was.food_id), advice_for_dropping(was, program.bench.kind)
                changes.append(Change(position, "drop", text, do=do))
            elif new[0].grams != was.grams and new[0].grams is not None and was.grams is not None:
                kind = "less" if new[0].grams < was.grams else "more"
                text = note(
                    "swaps.way_changed",
                    food=was.food_id,
                    grams=new[0].span.likely,
                    was=was.span.likely,
                    measure=spoken(new[0]),
                    was_measure=spoken(was),
                )
                changes.append(Change(position, kind, text, new))
        else:
            do = "" if new else advice_for_dropping(was, program.bench.kind)
            text = _change_text(option, new, was)
            changes.append(Change(position, option.kind, text, new, do=do, minutes=option.minutes))
    for k, option in enumerate(program.options):
        if option.line >= len(program.bench.lines) and option.kind == "more" and x[k] > 0.5:
            line = _weighed(option.new[0], program.factor(x, k), measure, program.bench.kind)
            lines.append(line)
            text = note("swaps.way_add", name=line.text, grams=line.span.likely, serves=program.bench.serves)
            changes.append(Change(option.line, "more", text, (line,)))
    return tuple(lines), tuple(changes)


def after_steps(bench: Workbench, way: Way, count: int) -> tuple[Line, ...]:
    """The dish after the first `count` steps of a way."""
    return dish_after(bench, way.changes[:count])


def _change_text(option: Option, new: tuple[Line, ...], was: Line) -> Note:
    if option.kind != "swap":
        return option.text
    to = tuple((line.food_id, line.span.likely) for line in new)
    return note("swaps.way_swap", to=to, food=was.food_id, was=was.span.likely)


def _is_through(bench: Workbench, lines: tuple[Line, ...], certain: bool) -> list[Verdict] | None:
    """The verdicts of the ordinary analysis when every gate is open and nothing kept out is in it, else None."""
    verdicts = judge(bench.gates, analyze_lines(lines, bench.serves))
    if bench.kept_out_of(lines):
        return None
    if certain:
        return verdicts if all(v.state == OPEN for v in verdicts) else None
    fits = all(
        (not v.gate.high or v.amount <= v.gate.high.limit) and (not v.gate.low or v.amount >= v.gate.low.limit)
        for v in verdicts
    )
    return verdicts if fits else None


def ways_for(bench: Workbench, wish: Wish | None = None) -> Outcome:
    """Up to `wish.ways` really different ways, or why there is none. What steps add of a known weight stays as it is and counts."""
    bench, wish = _with_steps(bench, wish or Wish())
    open_steps = tuple(note("swaps.step_open", step=line.step, words=line.text) for line in bench.added)
    return replace(_ways_for(bench, wish), open_steps=open_steps)


def _with_steps(bench: Workbench, wish: Wish) -> tuple[Workbench, Wish]:
    """With what the steps add behind the lines, where its weight is known: nobody changes it."""
    added = [line for line in bench.added if line.is_weighed]
    if not added:
        return bench, wish
    lines = (*bench.lines, *added)
    pinned = wish.pinned | frozenset(range(len(bench.lines), len(lines)))
    return replace(bench, dish=bench.dish.with_lines(lines)), replace(wish, pinned=pinned)


def _ways_for(bench: Workbench, wish: Wish) -> Outcome:
    gates = bench.gates
    started = monotonic()
    if stopped := _cannot_start(bench, gates, wish):
        return Outcome((), (), stopped)
    deadline = started + min(wish.most_seconds, wish.seconds)
    options = options_of(bench, wish)
    blocked = [line for i, line in enumerate(bench.lines) if not any(o.line == i for o in options)]
    if blocked:
        return Outcome((), (), note("swaps.nothing_stands_in", lines=", ".join(line.text for line in blocked)))
    strict = Program(bench, options, gates, wish.certain, deadline)
    if ways := _ways(bench, strict, wish, wish.ways):
        worth = [way for way in ways if way.cost <= DEAREST * ways[0].cost + 1]
        return Outcome(tuple(sorted(worth, key=lambda way: way.cost)), (), _not_proven(worth))
    if smaller := _smaller_serving(bench, strict, wish):
        return Outcome(tuple(smaller), (), _not_proven(smaller))
    # What a cook would still call the dish does not lead through; what is asked now changes it a lot.
    wide = Program(bench, options_of(bench, wish, is_wide=True), gates, wish.certain, deadline, is_wide=True)
    found = _ways(bench, wide, wish, 1) or _smaller_serving(bench, wide, wish)
    if found:
        return Outcome(tuple(found), (), note("swaps.changes_a_lot"))
    return Outcome((), *_why_not(bench, wide, wish))


def _not_proven(ways: Sequence[Way]) -> Note:
    return NOTHING if all(way.is_proven for way in ways) else note("swaps.not_proven")


def _ways(bench: Workbench, program: Program, wish: Wish, most: int) -> list[Way]:
    """Up to so many ways. Each further one does without some of the levers, dearest first, that every other one pulls."""
    first = _one_way(bench, program, wish)
    ways = [first] if first else []
    barred: list[frozenset[int]] = []
    for way in ways:  # it grows while it is gone through
        for levers in groups(way.levers):
            banned = levers.union(*(next(groups(each.levers)) for each in ways if not levers & each.pulled))
            if len(ways) >= most or len(barred) + len(ways) > TRIES * most:
                return ways
            if any(each <= banned for each in barred):
                continue
            program.banned = banned
            other = _one_way(bench, program, wish)
            program.banned = frozenset()
            if other and all(set(other.levers) != set(each.levers) for each in ways):
                ways.append(other)
            else:
                barred.append(banned)
    return ways


def groups(levers: Sequence[frozenset[int]]) -> Iterator[frozenset[int]]:
    """The levers to do without for another way: three in ten in turn, then each alone."""
    step = max(ceil(LET_GO * len(levers)), 1)
    for size in dict.fromkeys((step, 1)):
        for start in range(0, len(levers), size):
            yield frozenset().union(*levers[start : start + size])


def _smaller_serving(bench: Workbench, program: Program, wish: Wish) -> list[Way]:
    """When nothing else leads through: the same pot for more people, said first and as what it is."""
    for factor in SERVINGS:
        more = replace(bench, dish=replace(bench.dish, serves=bench.serves * factor))
        options = for_more(program.options, more, factor, wish)
        sought = Program(more, options, more.gates, wish.certain, program.deadline, program.is_wide)
        way = _one_way(more, sought, wish)
        if way:
            was, now = (
                sum(line.span.likely for line in bench.lines) / serves for serves in (bench.serves, more.serves)
            )
            text = note("swaps.way_serving", now=now, was=was, serves=more.serves)
            return [replace(way, changes=(Change(-1, "serving", text), *way.changes))]
    return []


def _cannot_start(bench: Workbench, gates: list[Gate], wish: Wish) -> Note:
    if len(bench.lines) > MOST_LINES:
        return note("swaps.too_many_lines", count=len(bench.lines), most=MOST_LINES)
    clash = [gate for gate in gates if gate.is_conflict]
    if clash:
        names = ", ".join(BY_KEY[gate.nutrient].label.lower() for gate in clash)
        return note("swaps.plans_contradict", nutrients=names)
    if wish.certain:
        unknown = [line.text for line in bench.lines if not line.is_weighed]
        if unknown:
            return note("swaps.lines_unknown", lines=", ".join(unknown))
    if wish.pinned and len(wish.pinned) >= len(bench.lines):
        return note("swaps.all_pinned")
    return NOTHING


def _one_way(bench: Workbench, program: Program, wish: Wish) -> Way | None:
    """The least change that holds in the ordinary analysis.

    Where rounding to kitchen amounts spoils it, the same choices are given more room first, and only then others sought.
    """
    for margin in MARGINS:
        program.is_proven = True
        solution = program.solve(margin)
        if solution is None:
            return None
        is_proven = program.is_proven
        for wider in (None, *(m for m in FINER_MARGINS if m > margin)):
            amended = program.solve(wider, chosen=solution[0]) if wider else solution
            if amended is None:
                break
            x, cost = amended
            for measure in MEASURES_OF_A_KITCHEN:
                lines, changes = _read(program, x, measure)
                verdicts = _is_through(bench, lines, wish.certain)
                if verdicts is not None:
                    levers = tuple(program.levers_of(x))
                    told = with_reasons(bench, changes, bench.serves)
                    verdicts = list(bench.verdicts_of(lines)) if bench.added else verdicts
                    return Way(told, lines, tuple(verdicts), max(cost, 0.0), bench.serves, is_proven, levers)
    return None


def _why_not(bench: Workbench, program: Program, wish: Wish) -> tuple[tuple[Miss, ...], Note]:
    """An irreducible set of gates that cannot be open together, with the nearest miss of each."""
    program.ran_out = False
    everything = frozenset(range(len(program.gates)))
    core = set(everything)
    for g in sorted(everything):
        if program.solve(active=frozenset(core - {g}), is_any=True) is None:
            core.discard(g)
        if program.ran_out:  # a solve that was cut short has proven nothing
            return (), note("swaps.not_decided")
    no_dish = not core or program.solve(active=frozenset(), is_any=True) is None
    if program.ran_out:
        return (), note("swaps.not_decided")
    if no_dish:
        return (), _what_holds(program)
    nearest = program.solve(active=frozenset(core), elastic=True)
    misses = []
    for g in sorted(core):
        gate = program.gates[g]
        amounts = _amount_at(program, nearest[0], gate) if nearest else (float("nan"),) * 2
        for post, side, amount in ((gate.low, "low", amounts[0]), (gate.high, "high", amounts[1])):
            if post:
                misses.append(Miss(gate.nutrient, post.target.plan, side, post.limit, amount, post.reason))
    short = [m for m in misses if (m.nearest > m.limit if m.side == "high" else m.nearest < m.limit)]
    unknown = _unknown_in_the_way(bench, program, core)
    return tuple(misses), note("swaps.no_way", nearest=_nearest_words(short), unknown=unknown)


def _what_holds(program: Program) -> Note:
    """Why the dish cannot stay the dish, whatever the limits: what it would lack."""
    for lacking in (*KEEP, "weight"):
        program.let_go = lacking
        found = program.solve(active=frozenset(), is_any=True)
        program.let_go = ""
        if found is not None:
            return note(f"swaps.no_dish_{lacking}")
    return note("swaps.no_dish")


def _unknown_in_the_way(bench: Workbench, program: Program, core: Iterable[int]) -> Note:
    """Which unknown values stand in the way: with what is known alone, the limits would meet."""
    if not program.certain:
        return NOTHING
    likely = Program(bench, program.options, program.gates, False, program.deadline, program.is_wide)
    if likely.solve(is_any=True) is None:
        return NOTHING
    keys = [INDEX[program.gates[g].nutrient] for g in core if program.gates[g].high]
    lines = []
    for line in bench.lines:
        one = analyze_lines([line], bench.serves)
        vague = [k for k in keys if one.at_most[k] - one.amounts[k] > VAGUE * _post_of(program, k)]
        if vague:
            lines.append(f"{called(line)} ({', '.join(BY_KEY[KEYS[k]].label.lower() for k in vague)})")
    return note("swaps.unknown_in_the_way", lines="; ".join(lines)) if lines else NOTHING


def _post_of(program: Program, key: int) -> float:
    return min(gate.high.limit for gate in program.gates if gate.high and INDEX[gate.nutrient] == key)


def _amount_at(program: Program, x: np.ndarray, gate: Gate) -> tuple[float, float]:
    key, factors = INDEX[gate.nutrient], [program.factor(x, k) for k in range(program.count)]
    least = sum(
        f * (o.least[key] if program.certain else o.amount[key]) for f, o in zip(factors, program.options, strict=True)
    )
    most = sum(
        f * (o.most[key] if program.certain else o.amount[key]) for f, o in zip(factors, program.options, strict=True)
    )
    return float(least), float(most) if isfinite(most) else float("inf")


def _nearest_words(short: list[Miss]) -> Note:
    missed = []
    for miss in short:
        nutrient = BY_KEY[miss.nutrient]
        plan = f" ({plan_label(miss.plan)})" if miss.plan else ""
        missed.append(f"{nutrient.label.lower()}{plan} by {nutrient.show(abs(miss.nearest - miss.limit))}")
    return note("swaps.nearest_misses", misses="; ".join(missed)) if missed else note("swaps.cannot_meet")
