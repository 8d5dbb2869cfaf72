"""One question with one answer: all there is to say of a dish for whoever eats it.

The bench, the card and the command line ask here and nowhere else.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from .analysis import Analysis, analyze
from .avoid import ALLERGENS, CHECK, CONTAINS, NOTHING, TAGS, Finding, find
from .cautions import Caution, cautions_for
from .claims import Claim, Dish, claims_in
from .cooking import CookedWeight, cooked_weight
from .exchanges import Count, Tally, count, neutral
from .gates import MEAL_SHARES, OPEN, SHUT, UNSURE, Gate, Target, Verdict, gates_for, judge
from .plans import PLANS, Avoid, Facts, avoids_of
from .plans.conflicts import Conflict, conflicts, set_aside
from .recipe import Line
from .safety import Safety, safety_of


@dataclass(frozen=True)
class Eater:
    """Whoever the dish is for. `plans`: key -> settings; `targets`: as they stand, with their owners.

    `settled`: topic of a conflict -> key of the plan that leads. `tallies`: of their own.
    """

    facts: Facts = field(default_factory=Facts)
    plans: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    targets: tuple[Target, ...] = ()
    settled: Mapping[str, str] = field(default_factory=dict)
    shares: Mapping[str, float] = field(default_factory=lambda: MEAL_SHARES)
    tallies: tuple[Tally, ...] = ()

    def conflicts(self) -> list[Conflict]:
        return conflicts(list(self.plans), self.targets)

    def standing_targets(self) -> list[Target]:
        """The targets less those that gave way when a conflict was settled."""
        aside = set_aside(self.conflicts(), self.settled)
        key_of = {PLANS[key].LABEL: key for key in self.plans}
        return [t for t in self.targets if (key_of.get(t.plan, "own"), t.nutrient) not in aside]

    def gates(self, meal: str) -> list[Gate]:
        return gates_for(self.standing_targets(), meal, self.shares)

    @property
    def label_region(self) -> str:
        """Whose rules claims are held to: the first plan's label form that says "eu", else the US."""
        return "eu" if any(schools.get("label") == "eu" for schools in self.plans.values()) else "us"

    @property
    def allergen_list(self) -> str:
        return self.plans.get("free-of:tree_nut", {}).get("list", "")


@dataclass(frozen=True, slots=True)
class Avoided:
    """Something a plan keeps out, held against the dish: a gate without a rail."""

    tag: str
    label: str
    finding: Finding | None
    owners: tuple[tuple[str, Avoid], ...]

    @property
    def state(self) -> str:
        if self.finding is None:
            return OPEN
        return SHUT if self.finding.verdict == CONTAINS else UNSURE

    @property
    def words(self) -> str:
        return self.finding.verdict if self.finding else NOTHING


@dataclass(frozen=True, slots=True)
class Sheet:
    """Everything there is to say of one dish for one eater."""

    analysis: Analysis
    verdicts: list[Verdict]
    allergens: list[Finding]
    avoided: list[Avoided]
    cautions: list[Caution]
    claims: list[Claim]
    counts: list[Count]
    safety: Safety
    cooked: CookedWeight

    @property
    def may_contain(self) -> list[Finding]:
        return [finding for finding in self.allergens if finding.verdict == CHECK]

    @property
    def contains(self) -> list[Finding]:
        return [finding for finding in self.allergens if finding.verdict == CONTAINS]

    @property
    def kcal_per_100g(self) -> float:
        """Energy of 100 g of the dish as eaten, at its likely weight."""
        return 100 * self.analysis.amount("energy_kcal") / self.cooked.likely if self.cooked.likely else 0.0

    @property
    def phosphorus_to_protein(self) -> float | None:
        """mg of phosphorus a gram of protein; under 10 to 12 is preferred (common practice). None without protein."""
        protein = self.analysis.amount("protein_g")
        return self.analysis.amount("phosphorus_mg") / protein if protein >= 0.5 else None


def examine(
    lines: Sequence[Line],
    serves: float,
    eater: Eater,
    meal: str = "dinner",
    *,
    title: str = "",
    notes: str = "",
    cooked_serving_g: float | None = None,
) -> Sheet:
    """One serving of these lines for one eater. `cooked_serving_g`: weighed by the cook, it wins over the estimate."""
    analysis = analyze(lines, serves)
    verdicts = judge(eater.gates(meal), analysis)
    limited = {verdict.gate.nutrient for verdict in verdicts if verdict.gate.high}
    measured = cooked_serving_g * serves if cooked_serving_g else None
    cooked = cooked_weight(lines, measured).per_serving(serves)
    owners = avoids_of(eater.plans)
    found = {finding.tag: finding for finding in find(lines, [*ALLERGENS, *owners], eater.allergen_list)}
    dish = Dish(lines, analysis, cooked, title, notes)
    return Sheet(
        analysis=analysis,
        verdicts=verdicts,
        allergens=[finding for finding in found.values() if finding.tag in ALLERGENS],
        avoided=[Avoided(tag, TAGS[tag], found.get(tag), tuple(who)) for tag, who in owners.items()],
        cautions=cautions_for(lines, list(eater.plans), limited, eater.facts.circumstances, analysis),
        claims=claims_in(dish, eater.label_region),
        counts=[count(tally, lines, analysis) for tally in (*neutral(eater.plans), *eater.tallies)],
        safety=safety_of(lines),
        cooked=cooked,
    )
