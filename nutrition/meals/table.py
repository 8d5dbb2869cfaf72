"""A table: dishes down, eaters across, and each eater's meal against their limits. One matrix product.

What somebody eats of a dish is its serving times their portion, least times least and most times most; a meal is the sum.
A dish is held, on its own, to what nobody at that place may eat and to what one serving may hold; the meal is held to the rest.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from nutrition.dish.cooking import cooked_weight
from nutrition.dish.dish import Dish, keyed
from nutrition.dish.line import Line
from nutrition.food.nutrients import INDEX
from nutrition.food.tags import TAGS
from nutrition.limits.avoid import Finding as Found
from nutrition.limits.eater import Eater
from nutrition.limits.gates import TOLERANCE, Gate, gates_for
from nutrition.limits.roles import WHOLE
from nutrition.meals.portions import Measured, Portion
from nutrition.notes import NOTHING, Note, Problem, note
from nutrition.reading.recipe import read_line
from nutrition.reading.whole import whole_dish, without
from nutrition.sheet.analysis import Analysis
from nutrition.sheet.judge import KEPT_OUT, MAY_HAVE_CHECKS, NOTED, Evidence, Finding, Seen, findings_of
from nutrition.sheet.verdicts import MIND, OPEN, SHUT, THROUGH, UNSURE, Verdict, state_of, worst
from nutrition.tables import pattern

#: Nothing of this dish for this eater.
NOT_EATEN = "none"


@dataclass(frozen=True)
class Served:
    """A dish as it stands on the table. `role`: what part of the meal it is; `cooked_serving_g`: weighed by the cook;
    `batches`: how many times the recipe is made; `pieces`: into how many a serving is cut;
    `is_plain`: a food by the piece, of which there is as much as is eaten."""

    dish: Dish
    role: str = WHOLE
    cooked_serving_g: float | None = None
    batches: float = 1.0
    pieces: float = 1.0
    is_plain: bool = False

    def __post_init__(self) -> None:
        """What its steps add is on the table too, whoever puts it there; every line has a key, so that a change of it can be told."""
        object.__setattr__(self, "dish", whole_dish(self.dish.with_lines(keyed(self.dish.lines))))

    @cached_property
    def seen(self) -> Seen:
        """What is known of it whoever eats it."""
        return Seen(self.dish)

    @property
    def analysis(self) -> Analysis:
        """Of one serving. Raises Problem when nobody said how many the dish serves."""
        return self.seen.analysis

    @cached_property
    def measured(self) -> Measured:
        serves = self.dish.servings
        whole = self.cooked_serving_g * serves if self.cooked_serving_g else None
        return Measured(serves * self.batches, cooked_weight(self.dish.lines, whole).per_serving(serves), self.pieces)

    @property
    def title(self) -> str:
        return self.dish.title

    def less(self, positions: frozenset[int]) -> "Served":
        """The same without some of its lines, as it is for somebody whose part was taken out before them."""
        left = [line for at, line in enumerate(self.dish.lines) if at not in positions]
        return replace(self, dish=without(self.dish, left, "taken out before it"))


def plain(words: str) -> Served:
    """A food as it is eaten: "1 slice of bread, 35 g"; one portion is what the words say. Raises Problem when the words
    leave no weight."""
    line = read_line(words, 1.0)
    if line.weight is None:
        raise Problem("meal.no_weight", words=words[:80])
    role = "bread" if pattern("bread_at_table").search(words) else "side"
    return Served(Dish(words.split(",")[0].strip(), 1.0, (line,)), role, is_plain=True)


@dataclass(frozen=True)
class Seat:
    """Somebody at the table, and their portion of every dish, in the order of the dishes. `noted`: foods of an allergy
    noted in words of their own, `disliked`: of what they will not eat. `without`: dish -> positions of the lines that do
    not go into their part of it (meals/splitting.py)."""

    name: str
    eater: Eater
    portions: tuple[Portion, ...]
    noted: tuple[str, ...] = ()
    disliked: tuple[str, ...] = ()
    without: Mapping[int, frozenset[int]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        """What was noted of them is part of who eats, however it was handed in."""
        object.__setattr__(self, "eater", self.eater.also(self.noted, self.disliked))


@dataclass(frozen=True, slots=True)
class Kept:
    """What a plan of an eater keeps out, over what they eat: which dishes hold it, of which the label decides."""

    tag: str
    plans: tuple[str, ...]
    contain: tuple[int, ...]
    by_label: tuple[int, ...]

    @property
    def label(self) -> str:
        return TAGS[self.tag]

    @property
    def state(self) -> str:
        return SHUT if self.contain else UNSURE if self.by_label else OPEN


@dataclass(frozen=True, slots=True)
class Crossing:
    """A dish before an eater. `state`: one of verdicts.STATES, or none when they eat nothing of it; `why`: the tightest thing;
    `findings`: what says whether they may have it at all (sheet/judge.py).

    `takes`: nutrient -> its likely part of what the whole meal allows, of every ceiling.
    `is_barred`: it could not be eaten in any portion.
    """

    dish: int
    portion: Portion
    state: str
    why: Note
    takes: Mapping[str, float]
    is_barred: bool = False
    findings: tuple[Finding, ...] = ()

    @property
    def may_have(self) -> str:
        """Whether they may have it at all, whatever the amounts; open of what they eat nothing of."""
        return worst(finding.state for finding in self.findings) if self.portion else OPEN

    @property
    def minds(self) -> tuple[Note, ...]:
        """What is to be minded of it, a note each; nothing of what they eat nothing of."""
        found = [finding for finding in self.findings if finding.state == MIND and self.portion]
        return tuple(note("meal.mind", kind=each.code, about=each.about) for each in found)

    @property
    def tightest(self) -> tuple[str, float] | None:
        """(nutrient, part of the meal's ceiling) of which it takes most."""
        return max(self.takes.items(), key=lambda item: item[1], default=None)


@dataclass(frozen=True)
class Place:
    """An eater's meal. `verdicts` of its gates; `kept` of what plans keep out; `crossings` in the order of the dishes;
    `spread`: (3, dishes, nutrients) of what they eat, least, likely, most."""

    seat: Seat
    verdicts: tuple[Verdict, ...]
    kept: tuple[Kept, ...]
    crossings: tuple[Crossing, ...]
    spread: np.ndarray
    dishes: tuple[Served, ...] = ()

    @property
    def state(self) -> str:
        """The worst of its gates, of what is kept out, and of every dish they eat."""
        states = {v.state for v in self.verdicts} | {k.state for k in self.kept}
        return worst(states | {c.state for c in self.crossings} - {NOT_EATEN})

    @property
    def own_limits(self) -> list[Verdict]:
        """The gates of limits that are of each meal itself, and no share of a day's."""
        return [each for each in self.verdicts if any(post.target.scope == "meal" for post in each.gate.posts)]

    @property
    def on_its_own(self) -> str:
        """As `state`, of a meal that is a part of a day: what they may have at all, and limits that are of each meal."""
        return worst([*(each.may_have for each in self.crossings), *(each.state for each in self.own_limits)])

    @property
    def is_eating(self) -> bool:
        return any(self.seat.portions)

    def unknown_lines(self, nutrient: str) -> tuple[int, ...]:
        """Lines of what they eat, one dish after another, of which the amount is not known."""
        return _unknown_lines(nutrient, self.spread, self.dishes)

    def verdict(self, nutrient: str) -> Verdict | None:
        return next((each for each in self.verdicts if each.gate.nutrient == nutrient), None)

    def left(self, nutrient: str) -> float:
        """How much of a nutrient the meal still leaves at the least, below zero when it is over; infinite without a
        ceiling, and minus infinite where nobody can tell."""
        verdict = self.verdict(nutrient)
        return verdict.gate.high.limit - verdict.at_most if verdict and verdict.gate.high else np.inf


@dataclass(frozen=True)
class Table:
    """Everybody's meal. `places` in the order of the seats."""

    dishes: tuple[Served, ...]
    places: tuple[Place, ...]
    meal: str
    as_eaten: "AsEaten" = field(repr=False, compare=False)

    def eaten(self, dish: int) -> Portion:
        """How many servings of a dish all of them eat together."""
        portions = [place.seat.portions[dish] for place in self.places]
        least, likely, most = (sum(getattr(each, side) for each in portions) for side in ("least", "likely", "most"))
        return Portion(least, likely, most)

    def spare(self, dish: int) -> float:
        """Servings of a dish nobody eats; below zero when there is not enough of it."""
        if self.dishes[dish].is_plain:
            return 0.0
        return self.dishes[dish].measured.servings - self.eaten(dish).likely


def lay(dishes: Sequence[Served], seats: Sequence[Seat], meal: str = "dinner") -> Table:
    """Everybody's meal over these dishes. Raises Problem for a dish of which nobody knows how many it serves, and
    ValueError for a seat whose portions are not as many as the dishes."""
    as_eaten = AsEaten(dishes)
    return Table(tuple(dishes), tuple(_place(seat, as_eaten, meal) for seat in seats), meal, as_eaten)


class AsEaten:
    """Each dish as somebody eats it, whole or without some lines, worked out once for all who eat it so."""

    def __init__(self, dishes: Sequence[Served]):
        self.dishes = dishes
        self.less: dict[tuple[int, frozenset[int]], Served] = {}

    def served(self, dish: int, without: frozenset[int]) -> Served:
        if not without:
            return self.dishes[dish]
        if (dish, without) not in self.less:
            self.less[dish, without] = self.dishes[dish].less(without)
        return self.less[dish, without]

    def findings(self, dish: int, without: frozenset[int], eater: Eater) -> Mapping[str, Found]:
        """Of everything anybody may keep out, by the list of allergens that counts for this eater."""
        return self.served(dish, without).seen.found(eater.allergen_list)


def meal_gates(eater: Eater, meal: str) -> tuple[list[Gate], list[Gate]]:
    """(gates of the whole meal, gates of each dish for itself)."""
    targets = eater.standing_targets()
    of_serving = [target for target in targets if target.scope == "serving"]
    of_meal = [target for target in targets if target.scope != "serving"]
    return gates_for(of_meal, meal, eater.shares), gates_for(of_serving, meal, eater.shares)


def _place(seat: Seat, as_eaten: AsEaten, meal: str) -> Place:
    every = range(len(as_eaten.dishes))
    if len(seat.portions) != len(every):
        raise ValueError(f"{len(seat.portions)} portions of {len(every)} dishes")
    without = [seat.without.get(at, frozenset()) for at in every]
    dishes = [as_eaten.served(at, without[at]) for at in every]
    ones = [(each.analysis.at_least, each.analysis.amounts, each.analysis.at_most) for each in dishes]
    parts = [(each.least, each.likely, each.most) for each in seat.portions]
    shares = np.array(parts).reshape(-1, 3).T[..., None]
    with np.errstate(invalid="ignore"):
        spread = np.where(shares > 0, shares * np.array(ones).reshape(-1, 3, len(INDEX)).swapaxes(0, 1), 0.0)
    gates, of_each = meal_gates(seat.eater, meal)
    verdicts = tuple(_verdict(gate, spread, dishes) for gate in gates)
    found = [
        findings_of(Evidence(dishes[at].dish, seat.eater, meal, of=dishes[at].seen), MAY_HAVE_CHECKS) for at in every
    ]
    crossings = tuple(
        _crossing(at, dishes[at].dish, seat, spread[:, at], (verdicts, of_each), found[at]) for at in every
    )
    kept = tuple(_kept(tag, tuple(key for key, _ in who), crossings) for tag, who in seat.eater.keeps_out.items())
    return Place(seat, verdicts, kept, crossings, spread, tuple(dishes))


def _verdict(gate: Gate, spread: np.ndarray, dishes: Sequence[Served]) -> Verdict:
    least, likely, most = (float(side) for side in spread[:, :, INDEX[gate.nutrient]].sum(axis=1))
    unknown = _unknown_lines(gate.nutrient, spread, dishes)
    return Verdict(gate, likely, least, most, state_of(gate, least, most), unknown)


def _unknown_lines(nutrient: str, spread: np.ndarray, dishes: Sequence[Served]) -> tuple[int, ...]:
    unknown, offset = [], 0
    for at, served in enumerate(dishes):
        if spread[1, at].any() or np.isinf(spread[2, at]).any():
            unknown += [offset + line for line in served.analysis.unknown_lines(nutrient)]
        offset += len(served.dish.lines)
    return tuple(unknown)


def _kept(tag: str, plans: tuple[str, ...], crossings: Sequence[Crossing]) -> Kept:
    of_tag = [
        (each.dish, found.state)
        for each in crossings
        for found in each.findings
        if each.portion and (found.code, found.about) == (KEPT_OUT, tag)
    ]
    contain = tuple(at for at, state in of_tag if state == SHUT)
    return Kept(tag, plans, contain, tuple(at for at, state in of_tag if state == UNSURE))


def _crossing(
    at: int,
    dish: Dish,
    seat: Seat,
    spread: np.ndarray,
    held: tuple[Sequence[Verdict], Sequence[Gate]],
    findings: tuple[Finding, ...],
) -> Crossing:
    """One dish before one eater: what it holds that they keep out comes first, then what it takes of the meal."""
    verdicts, of_each = held
    ceilings = [verdict.gate for verdict in verdicts if verdict.gate.high]
    takes = {gate.nutrient: _part(spread[1, INDEX[gate.nutrient]], gate) for gate in ceilings}
    portion = seat.portions[at]
    by_numbers, said = _by_numbers(spread, ceilings, of_each, portion)
    may_have = worst(finding.state for finding in findings)
    is_barred = may_have == SHUT
    state = worst((by_numbers, may_have))
    is_named = any(finding.code == NOTED and finding.state == UNSURE for finding in findings)
    # What is kept out is said before any number, and what was noted before a number that cannot be told; what is only to be minded is
    # said beside (`minds`).
    by_number = state in THROUGH or (by_numbers == state and not is_barred and not (is_named and state == UNSURE))
    why = said if by_number else _told(findings, state, dish.lines)
    return Crossing(at, portion, state if portion else NOT_EATEN, why, takes, is_barred, findings)


def _told(findings: Sequence[Finding], state: str, lines: Sequence[Line]) -> Note:
    """The first thing of a state to say of what they may have."""
    of_state = [finding for finding in findings if finding.state == state]
    named = [finding for finding in of_state if finding.code == NOTED]
    tags = [finding for finding in of_state if finding.code == KEPT_OUT]
    if state == SHUT:
        return note("meal.contains", tags=tuple(finding.about for finding in tags))
    if named:
        return note("meal.named", words=named[0].about)
    listed = tuple(finding.about for finding in tags if not finding.step)
    return (
        note("meal.check_label", tags=listed) if listed else note("meal.step_adds", words=lines[tags[0].lines[0]].text)
    )


def _part(amount: float, gate: Gate) -> float:
    limit = gate.high.limit if gate.high else np.inf
    return float(amount / limit) if limit else (np.inf if amount else 0.0)


def _by_numbers(
    spread: np.ndarray, ceilings: Sequence[Gate], of_each: Sequence[Gate], portion: Portion
) -> tuple[str, Note]:
    """How one portion stands to what the whole meal allows, and one serving to what a serving may hold; and the
    tightest thing to say of it."""
    state, words, tightest = OPEN, NOTHING, -1.0
    for gate, by, code in (
        *((g, 1.0, "takes") for g in ceilings),
        *((g, portion.most or 1.0, "serving") for g in of_each),
    ):
        least, likely, most = (float(side) / by for side in spread[:, INDEX[gate.nutrient]])
        roof = gate.high.limit if gate.high else np.inf
        one_sided = state_of(Gate(gate.nutrient, gate.low if code == "serving" else None, gate.high), least, most)
        part = likely / roof if roof else (np.inf if likely > TOLERANCE else 0.0)
        grade = (OPEN, UNSURE, SHUT).index(one_sided)
        if (grade, part) > ((OPEN, UNSURE, SHUT).index(state), tightest):
            state, tightest = one_sided, part
            words = note(
                f"meal.{code}", nutrient=gate.nutrient, part=part, state=one_sided, is_open_ended=not np.isfinite(most)
            )
    return state, words
