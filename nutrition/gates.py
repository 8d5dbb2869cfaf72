"""Targets, posts and gates: what a serving is held against, with several plans at once.

A target is somebody's limit with its source. For one serving at one meal it becomes posts; the
tightest post on each side wins and keeps its owner. A gate is open only when the whole interval of
what the serving may hold lies between the posts, shut only when none of it does, else unsure.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np

from .analysis import Analysis
from .nutrients import BY_KEY, INDEX, KEYS

OPEN, SHUT, UNSURE = "open", "shut", "unsure"
SCOPES = ("day", "meal", "serving")
#: Default share of the day (common practice; editable on a person).
MEAL_SHARES = {"breakfast": 0.25, "lunch": 0.30, "dinner": 0.35, "snack": 0.10}
#: Floating-point dust, relative: a serving exactly on its post passes.
TOLERANCE = 1e-6


@dataclass(frozen=True, slots=True)
class Target:
    """A limit per day, per meal or per serving. `plan`: whose rule; `source`: document or person.

    Raises ValueError for an unknown nutrient or scope, a negative limit, no limit, or minimum above maximum.
    """

    nutrient: str
    minimum: float | None = None
    maximum: float | None = None
    scope: str = "day"
    plan: str = ""
    source: str = ""
    meal: str = ""

    def __post_init__(self):
        if self.nutrient not in BY_KEY:
            raise ValueError(f"no nutrient is called {self.nutrient!r}; one of {', '.join(KEYS)}")
        if self.scope not in SCOPES:
            raise ValueError(f"{self.scope!r} is not a scope; one of {', '.join(SCOPES)}")
        if self.minimum is None and self.maximum is None:
            raise ValueError(f"the target for {self.nutrient} has neither a minimum nor a maximum")
        for limit in (self.minimum, self.maximum):
            if limit is not None and not 0 <= limit < 1e6:
                raise ValueError(f"{limit} cannot be a limit for {self.nutrient}")
        if self.minimum is not None and self.maximum is not None and self.minimum > self.maximum:
            raise ValueError(
                f"the minimum of {self.nutrient} ({self.minimum:g}) is above its maximum ({self.maximum:g})"
            )

    def factor(self, meal: str, shares: Mapping[str, float]) -> float | None:
        """By what the limit is multiplied for one serving at `meal`; None when it is for another meal."""
        if self.meal and self.meal != meal:
            return None
        return shares[meal] if self.scope == "day" else 1.0


@dataclass(frozen=True, slots=True)
class Post:
    """One side of a gate, for one serving, and the target that set it."""

    limit: float
    target: Target
    reason: str


@dataclass(frozen=True, slots=True)
class Gate:
    """The tightest posts of one nutrient. `is_conflict`: they cannot both be met."""

    nutrient: str
    low: Post | None
    high: Post | None

    @property
    def is_conflict(self) -> bool:
        return bool(self.low and self.high and self.low.limit > self.high.limit * (1 + TOLERANCE))

    @property
    def owners(self) -> tuple[str, ...]:
        """Whose posts stand, each once."""
        return tuple(dict.fromkeys(post.target.plan for post in (self.low, self.high) if post and post.target.plan))

    @property
    def source(self) -> str:
        return "; ".join(dict.fromkeys(post.reason for post in (self.low, self.high) if post))


@dataclass(frozen=True, slots=True)
class Verdict:
    """A gate held against one serving. `at_most` infinite: no bound can be given."""

    gate: Gate
    amount: float
    at_least: float
    at_most: float
    state: str
    unknown_lines: tuple[int, ...]

    @property
    def is_exact(self) -> bool:
        return self.at_most - self.at_least <= TOLERANCE * max(self.at_most, 1.0)


def _post(target: Target, limit: float | None, meal: str, shares: Mapping[str, float]) -> Post | None:
    factor = target.factor(meal, shares)
    if limit is None or factor is None:
        return None
    unit = BY_KEY[target.nutrient].unit
    owner = f"{target.plan}: " if target.plan else ""
    stated = " to ".join(f"{side:,.4g}" for side in (target.minimum, target.maximum) if side is not None)
    per = f"{stated} {unit} a {target.scope}"
    if target.scope == "day":
        per += f", {factor:.0%} of it at {meal}"
    source = f" ({target.source})" if target.source else ""
    return Post(limit * factor, target, f"{owner}{per}{source}")


def gates_for(targets: Iterable[Target], meal: str = "dinner", shares: Mapping[str, float] = MEAL_SHARES) -> list[Gate]:
    """One gate a nutrient, in the order the nutrients are first named; the tightest post wins on each side.

    >>> a = Target("sodium_mg", maximum=2300, plan="Low sodium")
    >>> b = Target("sodium_mg", maximum=600, scope="meal", plan="Own")
    >>> [(g.high.limit, g.high.target.plan) for g in gates_for([a, b])]
    [(600.0, 'Own')]
    """
    if meal not in shares:
        raise ValueError(f"{meal!r} is not a meal; one of {', '.join(shares)}")
    lows: dict[str, Post] = {}
    highs: dict[str, Post] = {}
    order: dict[str, None] = {}
    for target in targets:
        low, high = (_post(target, limit, meal, shares) for limit in (target.minimum, target.maximum))
        if low or high:
            order.setdefault(target.nutrient)
        if low and (target.nutrient not in lows or low.limit > lows[target.nutrient].limit):
            lows[target.nutrient] = low
        if high and (target.nutrient not in highs or high.limit < highs[target.nutrient].limit):
            highs[target.nutrient] = high
    return [Gate(key, lows.get(key), highs.get(key)) for key in order]


def state_of(gate: Gate, at_least: float, at_most: float) -> str:
    """Open when all of the interval is through, shut when none of it is, else unsure.

    A gate whose posts conflict is shut: nothing can pass it.
    """
    if gate.is_conflict:
        return SHUT
    floor = gate.low.limit * (1 - TOLERANCE) if gate.low else -np.inf
    roof = gate.high.limit * (1 + TOLERANCE) if gate.high else np.inf
    if at_least > roof or at_most < floor:
        return SHUT
    return OPEN if at_least >= floor and at_most <= roof else UNSURE


def judge(gates: Iterable[Gate], analysis: Analysis) -> list[Verdict]:
    """Each gate held against one serving."""
    verdicts = []
    for gate in gates:
        at_least, at_most = analysis.interval(gate.nutrient)
        verdicts.append(
            Verdict(
                gate=gate,
                amount=analysis.amount(gate.nutrient),
                at_least=at_least,
                at_most=at_most,
                state=state_of(gate, at_least, at_most),
                unknown_lines=tuple(analysis.unknown_lines(gate.nutrient)),
            )
        )
    return verdicts


def fit_many(at_least: np.ndarray, at_most: np.ndarray, people: list[list[Gate]]) -> np.ndarray:
    """Recipes by people: 1 every gate open, 0 none shut but some unsure, -1 some gate shut. int8."""
    result = np.ones((len(at_least), len(people)), dtype=np.int8)
    for column, gates in enumerate(people):
        for gate in gates:
            key = INDEX[gate.nutrient]
            floor = gate.low.limit * (1 - TOLERANCE) if gate.low else -np.inf
            roof = gate.high.limit * (1 + TOLERANCE) if gate.high else np.inf
            least, most = at_least[:, key], at_most[:, key]
            shut = (least > roof) | (most < floor)
            through = (least >= floor) & (most <= roof) & (not gate.is_conflict)
            here = np.where(shut | gate.is_conflict, -1, np.where(through, 1, 0)).astype(np.int8)
            np.minimum(result[:, column], here, out=result[:, column])
    return result
