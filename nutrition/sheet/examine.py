"""One question with one answer: all there is to say of a dish for whoever eats it.

The bench, the card and the command line ask here and nowhere else.
"""

from dataclasses import dataclass

from nutrition.dish.cooking import CookedWeight
from nutrition.dish.dish import Dish
from nutrition.food.table import Foods, using
from nutrition.food.tags import ALLERGENS, CHECK, CONTAINS, NOTHING, TAGS
from nutrition.limits.avoid import Finding as Found
from nutrition.limits.eater import Eater
from nutrition.limits.plans import Avoid, tallies_of
from nutrition.reading.whole import whole_dish
from nutrition.sheet.analysis import Analysis
from nutrition.sheet.cautions import Caution
from nutrition.sheet.claims import Claim
from nutrition.sheet.counting import Count, count
from nutrition.sheet.doubts import Doubt, doubts_of
from nutrition.sheet.judge import Evidence, Finding, findings_of, state_of_findings
from nutrition.sheet.safety import Safety, safety_of
from nutrition.sheet.verdicts import OPEN, SHUT, UNSURE, Verdict


@dataclass(frozen=True, slots=True)
class Avoided:
    """Something a plan keeps out, held against the dish: a gate without a rail."""

    tag: str
    label: str
    finding: Found | None
    owners: tuple[tuple[str, Avoid], ...]
    step: int = 0

    @property
    def state(self) -> str:
        if self.finding is None:
            return OPEN
        return SHUT if self.finding.verdict == CONTAINS else UNSURE

    @property
    def words(self) -> str:
        """How it stands, in words; `step`: the step that adds it, where no line holds it."""
        if self.step:
            return f"step {self.step} adds it"
        return self.finding.verdict if self.finding else NOTHING


@dataclass(frozen=True, slots=True)
class Sheet:
    """Everything there is to say of one dish for one eater. `dish`: with what its steps add behind its lines; positions of lines are
    those of its lines."""

    dish: Dish
    analysis: Analysis
    verdicts: list[Verdict]
    allergens: list[Found]
    avoided: list[Avoided]
    cautions: list[Caution]
    claims: list[Claim]
    counts: list[Count]
    safety: Safety
    cooked: CookedWeight
    doubts: tuple[Doubt, ...] = ()
    findings: tuple[Finding, ...] = ()

    @property
    def state(self) -> str:
        """How the dish stands for them: the worst of what was found (judge.STATES)."""
        return state_of_findings(self.findings)

    @property
    def may_contain(self) -> list[Found]:
        return [finding for finding in self.allergens if finding.verdict == CHECK]

    @property
    def contains(self) -> list[Found]:
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
    dish: Dish,
    eater: Eater,
    meal: str = "dinner",
    *,
    notes: str = "",
    cooked_serving_g: float | None = None,
    foods: Foods | None = None,
) -> Sheet:
    """One serving of a dish for one eater.

    `notes`: words that go out with the dish and may promise something. `cooked_serving_g`: weighed by the cook, it wins
    over the estimate. `foods`: other foods than the table that ships. Raises Problem when nobody said how many it
    serves.
    """
    with using(foods):
        return _examined(dish, eater, meal, notes, cooked_serving_g)


def _examined(dish: Dish, eater: Eater, meal: str, notes: str, cooked_serving_g: float | None) -> Sheet:
    evidence = Evidence(whole_dish(dish), eater, meal, notes, cooked_serving_g)
    lines, serves, found, owners = evidence.dish.lines, dish.servings, evidence.found, evidence.owners
    return Sheet(
        dish=evidence.dish,
        analysis=evidence.analysis,
        verdicts=evidence.verdicts,
        allergens=[finding for finding in found.values() if finding.tag in ALLERGENS],
        avoided=[
            Avoided(tag, TAGS[tag], (it := found.get(tag)), tuple(who), evidence.step_of(it.lines) if it else 0)
            for tag, who in owners.items()
        ],
        cautions=evidence.cautions,
        claims=evidence.claims,
        counts=[count(tally, lines, evidence.analysis) for tally in (*tallies_of(eater.plans), *eater.tallies)],
        safety=safety_of(lines, eater.label_region),
        cooked=evidence.cooked,
        doubts=doubts_of(lines, serves, evidence.verdicts, tuple(dict.fromkeys((*ALLERGENS, *owners)))),
        findings=findings_of(evidence),
    )
