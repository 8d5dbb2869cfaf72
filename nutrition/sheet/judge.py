"""Whether a dish does for whoever eats it: one list of checks, one worst state, asked by every door.

    evidence(dish, eater, meal) -> the checks, each a function of one shape -> findings -> worst()

The bench, the card, the table, the planner and the command line read the findings; the library asks the same of arrays (meals/library.py),
and a law holds the two together. A finding is a code with what it is about; its sentence is made where it is shown.
"""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property

from nutrition.dish.cooking import CookedWeight, cooked_weight
from nutrition.dish.dish import Dish
from nutrition.food.tags import ALLERGENS, CONTAINS, TAGS
from nutrition.limits.avoid import Finding as Found
from nutrition.limits.avoid import find
from nutrition.limits.eater import Eater
from nutrition.limits.noted import named_in
from nutrition.limits.plans import Avoid
from nutrition.sheet.analysis import Analysis, analyze_lines
from nutrition.sheet.cautions import Caution, Shown, given, shown_by
from nutrition.sheet.claims import Claim, Serving, claims_in
from nutrition.sheet.verdicts import MIND, OPEN, SHUT, UNSURE, Verdict, judge, worst


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing found of a dish for an eater.

    `code`: which check; `about`: a nutrient, a tag, a noted word, a caution's key, a claim; `state`: one of STATES. `lines`: positions
    from 0 in the whole dish; `step`: from 1, where only a step names it; `rule`: whose it is, a plan's key or nothing; `source`.
    """

    code: str
    about: str
    state: str
    lines: tuple[int, ...] = ()
    step: int = 0
    rule: str = ""
    source: str = ""


LIMIT, KEPT_OUT, NOTED, DISLIKED, CAUTION, CLAIM, STEP_ADDS = (
    "limit",
    "kept_out",
    "noted",
    "disliked",
    "caution",
    "claim",
    "step_adds",
)
#: What says whether they may have it, whatever the amounts.
MAY_HAVE = (KEPT_OUT, NOTED, DISLIKED, CAUTION)
#: What decides the state; what a title promises and what a step adds are told beside it.
DECIDING = (LIMIT, *MAY_HAVE)


class Seen:
    """What is known of a whole dish whoever eats it, each worked out once, when somebody asks: a table asks for every eater."""

    def __init__(self, dish: Dish):
        self.dish = dish
        self._found: dict[str, dict[str, Found]] = {}

    @cached_property
    def analysis(self) -> Analysis:
        return analyze_lines(self.dish.lines, self.dish.servings)

    @cached_property
    def shown(self) -> Shown:
        """What gives cause for reminders."""
        return shown_by(self.dish.lines, self.dish.steps)

    def found(self, allergen_list: str) -> dict[str, Found]:
        """Tag -> what the lines show of it, of everything anybody may keep out, by a list of allergens."""
        if allergen_list not in self._found:
            self._found[allergen_list] = {found.tag: found for found in find(self.dish.lines, TAGS, allergen_list)}
        return self._found[allergen_list]


@dataclass(frozen=True)
class Evidence:
    """A whole dish before a whole person at a meal. `dish`: with what its steps add; `notes`: words that go out with it;
    `cooked_serving_g`: as weighed; `of`: what is known of the dish already. Everything else is worked out once, when a check asks."""

    dish: Dish
    eater: Eater
    meal: str = "dinner"
    notes: str = ""
    cooked_serving_g: float | None = None
    of: Seen | None = None

    @cached_property
    def seen(self) -> Seen:
        return self.of or Seen(self.dish)

    @property
    def analysis(self) -> Analysis:
        return self.seen.analysis

    @cached_property
    def verdicts(self) -> list[Verdict]:
        return judge(self.eater.gates(self.meal), self.analysis)

    @cached_property
    def limited(self) -> frozenset[str]:
        """Nutrients of which there may be too much for them."""
        return frozenset(gate.nutrient for gate in self.eater.gates(self.meal) if gate.high)

    @cached_property
    def owners(self) -> dict[str, list[tuple[str, Avoid]]]:
        """Tag -> who keeps it out, and why."""
        return self.eater.keeps_out

    @cached_property
    def found(self) -> dict[str, Found]:
        """Tag -> what the lines show of it: of the listed allergens and of what plans keep out, by the list that counts."""
        found = self.seen.found(self.eater.allergen_list)
        return {tag: each for tag, each in found.items() if tag in ALLERGENS or tag in self.owners}

    @cached_property
    def cautions(self) -> list[Caution]:
        eater = self.eater
        return given(self.seen.shown, eater.plans, self.limited, eater.facts.circumstances, lambda: self.analysis)

    @cached_property
    def cooked(self) -> CookedWeight:
        serves = self.dish.servings
        measured = self.cooked_serving_g * serves if self.cooked_serving_g else None
        return cooked_weight(self.dish.lines, measured).per_serving(serves)

    @cached_property
    def claims(self) -> list[Claim]:
        serving = Serving(
            self.dish.lines, self.analysis, self.cooked, self.dish.title, self.notes, self.eater.allergen_list
        )
        return claims_in(serving, self.eater.label_region)

    def step_of(self, lines: Iterable[int]) -> int:
        """The step that adds it, where no listed line is among these; 0 else."""
        steps = [self.dish.lines[at].step for at in lines]
        return steps[0] if steps and all(steps) else 0


Check = Callable[[Evidence], Iterator[Finding]]


def limits(evidence: Evidence) -> Iterator[Finding]:
    """One serving against every gate."""
    for verdict in evidence.verdicts:
        gate, lines = verdict.gate, verdict.unknown_lines
        posts = gate.posts
        rule = posts[-1].target.plan if posts else ""
        step = evidence.step_of(lines) if verdict.state == UNSURE else 0
        yield Finding(LIMIT, gate.nutrient, verdict.state, lines, step, rule, str(gate.source))


def kept_out(evidence: Evidence) -> Iterator[Finding]:
    """What plans keep out, by what the lines are, may be, and what steps add."""
    for tag, owners in evidence.owners.items():
        found, (plan, avoid) = evidence.found.get(tag), owners[0]
        state = OPEN if found is None else SHUT if found.verdict == CONTAINS else UNSURE
        lines = found.lines if found else ()
        yield Finding(KEPT_OUT, tag, state, lines, evidence.step_of(lines), plan, avoid.source)


def noted(evidence: Evidence) -> Iterator[Finding]:
    """What somebody noted as an allergy in words of their own: named, and nobody knows more."""
    for named in named_in(evidence.eater.noted_names, evidence.dish.lines):
        state = UNSURE if named.lines else OPEN
        yield Finding(NOTED, named.words, state, named.lines, evidence.step_of(named.lines), "", "noted of the person")


def disliked(evidence: Evidence) -> Iterator[Finding]:
    """What they will not eat."""
    for named in named_in(evidence.eater.disliked, evidence.dish.lines):
        if named.lines:
            step = evidence.step_of(named.lines)
            yield Finding(DISLIKED, named.words, MIND, named.lines, step, "", "noted of the person")


def cautions(evidence: Evidence) -> Iterator[Finding]:
    """Reminders tied to what is in it and who eats it; what goes for every dish of theirs changes nothing of this one."""
    for each in evidence.cautions:
        yield Finding(
            CAUTION,
            each.key,
            OPEN if each.is_general else MIND,
            each.lines,
            evidence.step_of(each.lines),
            "",
            each.source,
        )


def claims(evidence: Evidence) -> Iterator[Finding]:
    """What title and notes promise."""
    for claim in evidence.claims:
        state = OPEN if claim.holds else UNSURE if claim.holds is None else SHUT
        yield Finding(CLAIM, claim.words, state, claim.lines, evidence.step_of(claim.lines), "", claim.source)


def step_adds(evidence: Evidence) -> Iterator[Finding]:
    """What steps add and no line names."""
    for at, line in enumerate(evidence.dish.lines):
        if line.step:
            yield Finding(
                STEP_ADDS, line.text, OPEN if line.is_weighed else UNSURE, (at,), line.step, "", "the recipe’s steps"
            )


#: Every check, in the order its findings are told.
CHECKS: tuple[Check, ...] = (limits, kept_out, noted, disliked, cautions, claims, step_adds)
#: ... and those of what they may have at all.
MAY_HAVE_CHECKS: tuple[Check, ...] = (kept_out, noted, disliked, cautions)


def findings_of(evidence: Evidence, checks: Iterable[Check] = CHECKS) -> tuple[Finding, ...]:
    """Everything the checks find."""
    return tuple(finding for check in checks for finding in check(evidence))


def state_of_findings(findings: Iterable[Finding]) -> str:
    """The state of a dish for somebody: the worst of what decides it."""
    return worst(finding.state for finding in findings if finding.code in DECIDING)
