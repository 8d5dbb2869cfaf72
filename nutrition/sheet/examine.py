"""One question with one answer: all there is to say of a dish for whoever eats it.

The bench, the card and the command line ask here and nowhere else.
"""

from dataclasses import dataclass

from nutrition.dish.cooking import CookedWeight, cooked_weight
from nutrition.dish.dish import Dish
from nutrition.food.table import Foods, using
from nutrition.food.tags import ALLERGENS, CHECK, CONTAINS, NOTHING, TAGS
from nutrition.limits.avoid import Finding, find
from nutrition.limits.eater import Eater
from nutrition.limits.plans import Avoid, avoids_of, tallies_of
from nutrition.sheet.analysis import Analysis, analyze_lines
from nutrition.sheet.cautions import Caution, cautions_for
from nutrition.sheet.claims import Claim, Serving, claims_in
from nutrition.sheet.counting import Count, count
from nutrition.sheet.doubts import Doubt, doubts_of
from nutrition.sheet.safety import Safety, safety_of
from nutrition.sheet.verdicts import OPEN, SHUT, UNSURE, Verdict, judge


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
    doubts: tuple[Doubt, ...] = ()

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
    lines, serves = dish.lines, dish.servings
    analysis = analyze_lines(lines, serves)
    verdicts = judge(eater.gates(meal), analysis)
    limited = {verdict.gate.nutrient for verdict in verdicts if verdict.gate.high}
    measured = cooked_serving_g * serves if cooked_serving_g else None
    cooked = cooked_weight(lines, measured).per_serving(serves)
    owners = avoids_of(eater.plans)
    found = {finding.tag: finding for finding in find(lines, [*ALLERGENS, *owners], eater.allergen_list)}
    return Sheet(
        analysis=analysis,
        verdicts=verdicts,
        allergens=[finding for finding in found.values() if finding.tag in ALLERGENS],
        avoided=[Avoided(tag, TAGS[tag], found.get(tag), tuple(who)) for tag, who in owners.items()],
        cautions=cautions_for(lines, list(eater.plans), limited, eater.facts.circumstances, analysis, dish.steps),
        claims=claims_in(Serving(lines, analysis, cooked, dish.title, notes), eater.label_region),
        counts=[count(tally, lines, analysis) for tally in (*tallies_of(eater.plans), *eater.tallies)],
        safety=safety_of(lines, eater.label_region),
        cooked=cooked,
        doubts=doubts_of(lines, serves, verdicts, tuple(dict.fromkeys((*ALLERGENS, *owners)))),
    )
