"""Targets, posts and gates: what a serving is held against, with several plans at once.

A target is somebody's limit with its source. For one serving at one meal it becomes posts; the
tightest post on each side wins and keeps its owner. A gate is open only when the whole interval of
what the serving may hold lies between the posts, shut only when none of it does, else unsure.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from types import MappingProxyType

from nutrition.food.nutrients import BY_KEY, KEYS
from nutrition.limits.roles import WHOLE, share_of
from nutrition.notes import Note, note

SCOPES = ("day", "meal", "serving")
#: Default share of the day (common practice; editable on a person).
MEAL_SHARES = {"breakfast": 0.25, "lunch": 0.30, "dinner": 0.35, "snack": 0.10}
#: The meal of which a day asks for nothing: what it must hold at least is shared out all the same.
SNACK = "snack"
#: Floating-point dust, relative: a serving exactly on its post passes.
TOLERANCE = 1e-6


@dataclass(frozen=True, slots=True)
class Target:
    """A limit per day, per meal or per serving. `plan`: key of the plan whose rule it is, or "own"; `source`:
    document or person.

    Raises ValueError for an unknown nutrient or scope, a negative limit, no limit, or minimum above maximum.
    """

    nutrient: str
    minimum: float | None = None
    maximum: float | None = None
    scope: str = "day"
    plan: str = ""
    source: str = ""
    meal: str = ""

    def __post_init__(self) -> None:
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


def sides_in_words(minimum: float | None, maximum: float | None) -> str:
    """What a limit says on its sides, as it was set: no rounding beyond two places.

    >>> sides_in_words(42.6, 56.8), sides_in_words(None, 12500.0), sides_in_words(None, None)
    ('at least 42.6 and at most 56.8', 'at most 12,500', '')
    """
    named = (("at least", minimum), ("at most", maximum))
    figures = ((side, f"{limit:,.2f}".rstrip("0").rstrip(".")) for side, limit in named if limit is not None)
    return " and ".join(f"{side} {figure}" for side, figure in figures)


@dataclass(frozen=True, slots=True)
class Post:
    """One side of a gate, for one serving at a meal, and the target that set it. `share`: of the day, at that meal.

    Of a dish that is a part of the meal (`role`), `of` is what the whole meal allows.
    """

    limit: float
    target: Target
    meal: str
    share: float
    role: str = WHOLE
    of: float | None = None

    @property
    def reason(self) -> Note:
        """Whose rule it is, what it says, and how it comes to this limit."""
        target = self.target
        sides = tuple(side for side in (target.minimum, target.maximum) if side is not None)
        return note(
            "limits.post",
            plan=target.plan,
            nutrient=target.nutrient,
            sides=sides,
            scope=target.scope,
            share=self.share,
            meal=self.meal,
            role=self.role,
            part=self.limit / self.of if self.of else 1.0,
            source=target.source,
        )


@dataclass(frozen=True, slots=True)
class Gate:
    """The tightest posts of one nutrient. `is_conflict`: they cannot both be met."""

    nutrient: str
    low: Post | None
    high: Post | None

    @property
    def posts(self) -> tuple[Post, ...]:
        """Those that stand, the lower first."""
        return tuple(post for post in (self.low, self.high) if post)

    @property
    def is_conflict(self) -> bool:
        return bool(self.low and self.high and self.low.limit > self.high.limit * (1 + TOLERANCE))

    @property
    def owners(self) -> tuple[str, ...]:
        """Keys of the plans whose posts stand, each once."""
        return tuple(dict.fromkeys(post.target.plan for post in self.posts if post.target.plan))

    @property
    def source(self) -> str:
        return "; ".join(dict.fromkeys(str(post.reason) for post in self.posts))


def _post(
    target: Target, limit: float | None, meal: str, shares: Mapping[str, float], role: str, part: float
) -> Post | None:
    factor = target.factor(meal, shares)
    if limit is None or factor is None:
        return None
    if role == WHOLE or target.scope == "serving":
        return Post(limit * factor, target, meal, factor)
    return Post(limit * factor * part, target, meal, factor, role, limit * factor)


def gates_for(
    targets: Iterable[Target],
    meal: str = "dinner",
    shares: Mapping[str, float] = MEAL_SHARES,
    role: str = WHOLE,
    role_shares: Mapping[str, float] = MappingProxyType({}),
) -> list[Gate]:
    """One gate a nutrient, in the order the nutrients are first named; the tightest post wins on each side.

    `role`: what part of the meal the dish is; a part is held to its share of the ceilings, and no floor asks it for anything.
    `role_shares`: shares of somebody's own, before those of limits/roles.py.

    >>> a = Target("sodium_mg", maximum=2300, plan="Low sodium")
    >>> b = Target("sodium_mg", maximum=600, scope="meal", plan="Own")
    >>> [(g.high.limit, g.high.target.plan) for g in gates_for([a, b])]
    [(600.0, 'Own')]
    """
    if meal not in shares:
        raise ValueError(f"{meal!r} is not a meal; one of {', '.join(shares)}")
    part = share_of(role, meal, role_shares)
    lows: dict[str, Post] = {}
    highs: dict[str, Post] = {}
    order: dict[str, None] = {}
    for target in targets:
        low, high = (_post(target, limit, meal, shares, role, part) for limit in (target.minimum, target.maximum))
        if (meal == SNACK and target.scope == "day") or (role != WHOLE and target.scope != "serving"):
            low = None  # what a day asks for is no duty of a snack, nor of a part of a meal
        if low or high:
            order.setdefault(target.nutrient)
        if low and (target.nutrient not in lows or low.limit > lows[target.nutrient].limit):
            lows[target.nutrient] = low
        if high and (target.nutrient not in highs or high.limit < highs[target.nutrient].limit):
            highs[target.nutrient] = high
    return [Gate(key, lows.get(key), highs.get(key)) for key in order]
