"""What could take over a line's job, and what follows from it, before it is taken.

Offers never bring in what a plan or an allergen list keeps out, nor what the person will not eat; when nothing is
left, the reason is said. Every effect is the ordinary analysis of the dish with the offer in it.
"""

import itertools
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from math import isfinite
from typing import Any

from nutrition.dish.cooking import AS_IS, treated, treatments
from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.naming import description_of
from nutrition.food.contents import hits_of_food
from nutrition.food.names import all_names, cook_name
from nutrition.food.nutrients import BY_KEY
from nutrition.food.table import foods
from nutrition.food.tags import CHECK, CONTAINS
from nutrition.limits.avoid import by_list, find
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Gate
from nutrition.limits.noted import name_in, noted_words
from nutrition.limits.plans import PLANS
from nutrition.notes import NOTHING, Note, note, said
from nutrition.reading.done import on_offer
from nutrition.reading.method import read_method
from nutrition.reading.whole import marked, whole_dish
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.cautions import Caution, cautions_for
from nutrition.sheet.verdicts import OPEN, SHUT, Verdict, judge
from nutrition.swaps import balance
from nutrition.swaps.built import MOST_BUILT, built_for
from nutrition.swaps.jobs import jobs_of
from nutrition.swaps.preparations import heading_of
from nutrition.swaps.rules import Rule, rules_for
from nutrition.swaps.states import as_held
from nutrition.tables import pattern

#: What a minute of work, an exotic food and another ingredient weigh in the ranking (assumptions, stated here).
COST_MINUTE, COST_EXOTIC, COST_INGREDIENT = 0.01, 0.08, 0.03
#: ... and what another method, leaving out, and a warning of the balance weigh.
COST_STATE, COST_DROP, COST_UPSET = 0.02, 0.15, 0.05
#: ... and how far a swap leads from the dish: nearest first among those that do the same for the gates.
COST_FAR = 1.2


@dataclass(frozen=True, slots=True)
class Effect:
    """One gate before and after an offer."""

    before: Verdict
    after: Verdict

    @property
    def nutrient(self) -> str:
        return self.before.gate.nutrient


#: Stands for every kind of dish.
ANY_KIND = "any"
#: Of what the kitchen does otherwise with the same food.
AS_GOOD = 0.9


@dataclass(frozen=True, slots=True)
class Offer:
    """One way to do it. `lines`: the whole dish with the offer in it; `to`: (food id, grams) that come in.

    `kind`: swap, less, more, drop or state.
    """

    id: str
    kind: str
    job: str
    text: Note
    to: tuple[tuple[str, float], ...]
    lines: tuple[Line, ...]
    effects: tuple[Effect, ...]
    allergens_added: tuple[str, ...]
    allergens_removed: tuple[str, ...]
    warnings: tuple[Note, ...]
    method: tuple[Note, ...]
    household: str
    source: str
    score: float
    closeness: float = AS_GOOD
    minutes: int = 0
    exotic: int = 0

    @property
    def opens(self) -> int:
        """How many gates it opens, less those it closes."""
        return sum((e.after.state == OPEN) - (e.before.state == OPEN) for e in self.effects)


@dataclass(frozen=True, slots=True)
class Offers:
    """What there is for one line, best first, and why there is nothing when there is not."""

    jobs: tuple[str, ...]
    offers: tuple[Offer, ...]
    none_because: Note = NOTHING


def taken(lines: Sequence[Line], position: int, rule: Rule) -> tuple[Line, ...]:
    """The dish with the rule in place of one line; several foods stand one after another."""
    line = lines[position]
    if rule.factor == 0:
        return (*lines[:position], *lines[position + 1 :])
    if rule.factor is not None:
        new = [line.scaled(rule.factor).edited()]
    else:
        # The first takes the line's place and its key; what stands beside it is new.
        new = [_in_place(line, food_id, ratio, rule) for food_id, ratio in rule.to]
        if rule.keeps:
            new = [line.scaled(rule.keeps).edited(advice=rule.do_differently), *new]
        if len(new) > 1:
            new = [replace(each, made=rule.id) for each in new]
        new = [new[0], *(replace(each, key="") for each in new[1:])]
    return (*lines[:position], *new, *lines[position + 1 :])


def _in_place(line: Line, food_id: str, ratio: float, rule: Rule) -> Line:
    new = line.scaled(ratio)
    if food_id == line.food_id:
        return new.edited()
    return new.edited(
        text=cook_name(food_id),
        food_id=food_id,
        how="weight",
        sure="likely",
        rule=said(rule.household) or note("swaps.by_weight"),
        why=note("swaps.in_place_of", line=line.text, source=rule.source),
        ask=NOTHING,
        others=(),
        is_of_a_kind=False,
        words_hold=False,
        state="",
        made="",
        eaten=(),
        advice=rule.do_differently,
        heading=_heading(line, rule),
    )


def _heading(line: Line, rule: Rule) -> str:
    """What is made of several foods stands together, under a name of its own."""
    return heading_of(rule.id) or line.heading


def badness(verdict: Verdict) -> float:
    """How far a gate is from open, relative to its post: 0 when open, at most 10."""
    gate = verdict.gate
    if verdict.state == OPEN:
        return 0.0
    most = verdict.at_most if isfinite(verdict.at_most) else verdict.amount * 2 + 1
    over = (most - gate.high.limit) / max(gate.high.limit, 1e-9) if gate.high else 0.0
    under = (gate.low.limit - verdict.at_least) / max(gate.low.limit, 1e-9) if gate.low else 0.0
    return min(max(over, under, 0.02), 10.0)


@dataclass(frozen=True)
class Workbench:
    """The dish and the eater an engine works on. `dislikes`: as noted; `rules`: a practice's own.

    `jobs`: line key -> jobs that a person set; then only ways to do those jobs are offered. `learned`: (food that goes, food
    that comes first) -> how much nearer or farther a practice's own tastings put that swap.
    """

    dish: Dish
    eater: Eater
    meal: str = "dinner"
    dislikes: tuple[str, ...] = ()
    rules: tuple[Rule, ...] = ()
    jobs: Mapping[str, Sequence[str]] = field(default_factory=dict)
    learned: Mapping[tuple[str, str], float] = field(default_factory=dict)

    @cached_property
    def lines(self) -> tuple[Line, ...]:
        """With what the steps leave of each."""
        return marked(self.dish).lines

    @cached_property
    def added(self) -> tuple[Line, ...]:
        """What the steps add beside the lines: in every figure, and nothing here changes it."""
        keys = {line.key for line in self.lines if line.step}
        return tuple(line for line in whole_dish(self.dish).lines if line.step and line.key not in keys)

    def verdicts_of(self, lines: Sequence[Line]) -> tuple[Verdict, ...]:
        """The gates held against these lines and what the steps add."""
        return tuple(judge(self.gates, analyze_lines((*lines, *self.added), self.serves)))

    @cached_property
    def serves(self) -> float:
        return self.dish.servings

    @property
    def kind(self) -> str:
        return self.dish.kind

    def jobs_of(self, position: int) -> tuple[str, ...]:
        """What a line does here: as a person said, else as read."""
        line = self.lines[position]
        return tuple(self.jobs.get(line.key, ())) or jobs_of(
            line, self.kind, does=self.done_with.get(position, frozenset())
        )

    @cached_property
    def done_with(self) -> dict[int, frozenset[str]]:
        """Position of a line -> the operations it goes through."""
        found: dict[int, frozenset[str]] = {}
        for step in read_method(self.dish).steps:
            for use in step.uses:
                found[use.line] = found.get(use.line, frozenset()) | use.does
        return found

    @cached_property
    def totals(self) -> dict[str, float]:
        """What holds the written dish together."""
        return balance.totals(self.lines)

    @cached_property
    def gates(self) -> list[Gate]:
        return self.eater.gates(self.meal)

    @cached_property
    def offered(self) -> "dict[int, Offers]":
        """What was offered for a line, by its position: asked for once, however often a way is sought."""
        return {}

    @cached_property
    def verdicts(self) -> tuple[Verdict, ...]:
        """The gates as the dish stands."""
        return self.verdicts_of(self.lines)

    @cached_property
    def kept_out(self) -> frozenset[str]:
        """Tags that some plan keeps out."""
        return frozenset(self.eater.keeps_out)

    def kept_out_of(self, lines: Sequence[Line]) -> list[str]:
        """What lines hold that some plan keeps out, by the list of allergens that counts."""
        found = find(lines, self.kept_out, self.eater.allergen_list)
        return [finding.tag for finding in found if finding.verdict == CONTAINS]

    def tasted(self, food_id: str | None, new: Sequence[Line]) -> float:
        """How the practice's tastings shift the closeness of a swap; 0 for one it has not tasted."""
        return self.learned.get((food_id or "", new[0].food_id or "" if new else ""), 0.0)

    @property
    def fortifies(self) -> bool:
        """Whether food is to bring more energy and protein than it would."""
        return "enrichment" in self.eater.plans

    @cached_property
    def limits_potassium(self) -> bool:
        """Whether potassium is limited, the kidneys are weak, or a medicine raises it: no salt of potassium then."""
        return (
            any(gate.nutrient == "potassium_mg" and gate.high for gate in self.gates)
            or any("potassium-chloride" in PLANS[plan].cautions for plan in self.eater.plans)
            or not {"raises_potassium", "weak_kidneys"}.isdisjoint(self.eater.facts.circumstances)
        )

    def forbidden(self, food_id: str) -> Note:
        """Why this food may not be offered; nothing when it may."""
        if self.limits_potassium and pattern("potassium_salt").search(foods().by_id(food_id).description):
            return note("swaps.potassium_salt")
        for hit in hits_of_food(food_id):
            if hit.tag in self.kept_out and by_list(hit, self.eater.allergen_list).verdict == CONTAINS:
                return note("swaps.contains", tag=hit.tag)
        disliked = name_in(self._not_eaten, all_names(food_id)) if self._not_eaten else ""
        return note("swaps.not_eaten", words=disliked) if disliked else NOTHING

    @cached_property
    def _not_eaten(self) -> tuple[str, ...]:
        typed = (word for words in self.dislikes for word in noted_words(words))
        return tuple(dict.fromkeys((*self.eater.never, *typed)))


def _candidates(bench: Workbench, position: int) -> "Iterable[_Candidate]":
    """Everything that could be done to a line."""
    line = bench.lines[position]
    is_out = bool(bench.kept_out_of([line]))
    own_jobs = bench.jobs.get(line.key)
    for rule in _rules_for(bench, line, is_out):
        if rule.factor is None and line.span.likely > rule.most_grams:
            continue
        if (is_out and (rule.factor or rule.keeps)) or (own_jobs and rule.job not in own_jobs):
            continue
        if [food_id for food_id, _ in rule.to] == [line.food_id]:
            continue
        kind = "swap" if rule.factor is None else "drop" if rule.factor == 0 else "less" if rule.factor < 1 else "more"
        if kind == "drop" and len(bench.lines) == 1:
            continue
        new_foods = [food_id for food_id, _ in rule.to]
        why_not = next(filter(None, map(bench.forbidden, new_foods)), NOTHING)
        yield _Candidate(kind, rule, rule.id, taken(bench.lines, position, rule), why_not)
    for key, _, stands in on_offer(bench.dish, position):
        if not stands and key != AS_IS and not is_out:
            lines = (*bench.lines[:position], treated(line, key), *bench.lines[position + 1 :])
            yield _Candidate("state", None, key, lines)


def _rules_for(bench: Workbench, line: Line, is_out: bool) -> list[Rule]:
    """The rules for this kind of dish; for what a plan keeps out those of any kind, when none of them may come in, and then
    what is built from the job it does."""

    def stand_in(rules: Iterable[Rule]) -> bool:
        return any(
            rule.to
            and not rule.keeps
            and line.span.likely <= rule.most_grams
            and not any(bench.forbidden(food_id) for food_id, _ in rule.to)
            for rule in rules
        )

    def held(kind: str) -> list[Rule]:
        rules = rules_for(description_of(line), kind, bench.rules)
        return [each for rule in rules if (each := as_held(rule, line))]

    rules = held(bench.kind)
    if is_out and not stand_in(rules):
        rules = held(ANY_KIND)
    if is_out and not stand_in(rules):
        built = (rule for rule in built_for(line, bench.kind) if not bench.forbidden(rule.to[0][0]))
        return [*rules, *itertools.islice(built, MOST_BUILT)]
    return rules


def offers_for(bench: Workbench, position: int, most: int = 12) -> Offers:
    """Ranked offers for one line. Raises IndexError when there is no such line."""
    line = bench.lines[position]
    jobs = bench.jobs_of(position)
    if not line.is_weighed:
        return Offers(jobs, (), note("swaps.unsettled"))
    gates = bench.gates
    limited = frozenset(gate.nutrient for gate in gates if gate.high)
    before = _Before(
        verdicts=bench.verdicts,
        holds=_findings([line], bench.eater),
        cautions=frozenset(caution.key for caution in _cautions([line], bench.eater, limited)),
        limited=limited,
        totals=bench.totals,
    )
    found: dict[tuple[str, tuple[Any, ...]], Offer] = {}
    refused = []
    for done in _candidates(bench, position):
        if done.why_not:
            refused.append(done.why_not)
            continue
        offer = _offer(bench, position, done, before)
        same = (done.kind, offer.to)
        if same not in found or found[same].score < offer.score:
            found[same] = offer
    ranked = sorted(found.values(), key=lambda offer: -offer.score)
    why = NOTHING if ranked else _why_none(line, refused)
    return Offers(jobs, tuple(ranked[:most]), why)


def _why_none(line: Line, refused: Sequence[Note]) -> Note:
    if refused:
        return note("swaps.all_kept_out", food=description_of(line), reasons=tuple(dict.fromkeys(refused)))
    return note("swaps.no_rule", food=description_of(line))


def _findings(lines: Sequence[Line], eater: Eater) -> dict[str, str]:
    return {finding.tag: finding.verdict for finding in find(lines, allergen_list=eater.allergen_list)}


def _cautions(lines: Sequence[Line], eater: Eater, limited: Collection[str]) -> list[Caution]:
    return cautions_for(lines, list(eater.plans), limited, eater.facts.circumstances)


@dataclass(frozen=True, slots=True)
class _Before:
    """What stood before any offer for a line: the verdicts, what the line holds, and the cautions it brings."""

    verdicts: tuple[Verdict, ...]
    holds: dict[str, str]
    cautions: frozenset[str]
    limited: frozenset[str]
    totals: dict[str, float]


@dataclass(frozen=True, slots=True)
class _Candidate:
    """One thing that could be done to a line. `lines`: the dish with it; `why_not`: what keeps it from being
    offered."""

    kind: str
    rule: Rule | None
    key: str
    lines: tuple[Line, ...]
    why_not: Note = NOTHING


def _offer(bench: Workbench, position: int, done: _Candidate, before: _Before) -> Offer:
    rule, lines = done.rule, done.lines
    after = bench.verdicts_of(lines) if lines else before.verdicts
    new = lines[position : position + len(lines) - len(bench.lines) + 1]
    now = _findings(new, bench.eater)
    upset = balance.changed(before.totals, balance.totals(lines), bench.kind)
    effects = tuple(Effect(b, a) for b, a in zip(before.verdicts, after, strict=True))
    return Offer(
        id=done.key,
        kind=done.kind,
        job=rule.job if rule else "",
        text=_said(bench.lines[position], done, new),
        to=tuple((line.food_id or "", line.span.likely) for line in new),
        lines=lines,
        effects=effects,
        allergens_added=tuple(tag for tag, v in now.items() if v == CONTAINS and before.holds.get(tag) != CONTAINS),
        allergens_removed=tuple(tag for tag, v in before.holds.items() if v == CONTAINS and now.get(tag) != CONTAINS),
        warnings=tuple(dict.fromkeys(_warnings(bench, done, new, now, upset, before))),
        method=tuple(filter(None, _method(rule, len(new)))),
        household=rule.household if rule else "",
        source=rule.source if rule else "cooking methods of this table",
        score=_score(bench, effects, before.holds, now) - _cost(done, len(new), len(upset)),
        closeness=_closeness(bench, bench.lines[position], rule, new),
        minutes=rule.minutes if rule else 0,
        exotic=rule.exotic if rule else 0,
    )


def _closeness(bench: Workbench, line: Line, rule: Rule | None, new: Sequence[Line]) -> float:
    """How near a way is to the dish, as the rule says and the practice has tasted."""
    shift = bench.tasted(line.food_id, new)
    return min(max((rule.closeness if rule else AS_GOOD) + shift, 0.05), 1.0)


def _warnings(
    bench: Workbench, done: Any, new: Sequence[Line], now: Any, upset: Iterable[Any], before: Any
) -> Iterable[Note]:
    if done.rule and done.rule.caution:
        yield said(f"{done.rule.caution.capitalize()}.")
    yield from (each.text for each in upset)
    cautions = _cautions(new, bench.eater, before.limited)
    yield from (said(c.text) for c in cautions if c.lines and c.key not in before.cautions)
    yield from (note("swaps.check_label", tag=tag) for tag, v in now.items() if v == CHECK and tag in bench.kept_out)


def _method(rule: Rule | None, count: int) -> Iterable[Note]:
    """What to do differently, and what it costs in time and shopping."""
    if rule:
        yield said(rule.do_differently)
        yield note("swaps.minutes_more", minutes=rule.minutes) if rule.minutes else NOTHING
    yield note("swaps.ingredients_more", count=count - 1) if count > 1 else NOTHING


def _score(bench: Workbench, effects: Sequence[Effect], had: dict[str, str], now: dict[str, str]) -> float:
    gain = sum(badness(effect.before) - badness(effect.after) for effect in effects)
    opened = sum((e.after.state == OPEN) - (e.before.state == OPEN) for e in effects)
    closed = sum(e.after.state == SHUT and e.before.state != SHUT for e in effects)
    lifted = sum(1 for tag in bench.kept_out if had.get(tag) == CONTAINS and now.get(tag) != CONTAINS)
    return lifted + opened - closed + min(gain, 3.0) * 0.5


def _cost(done: _Candidate, count: int, upset: int) -> float:
    rule = done.rule
    work = COST_MINUTE * rule.minutes + COST_EXOTIC * rule.exotic if rule else COST_STATE
    dropped = COST_DROP if done.kind == "drop" else 0.0
    far = COST_FAR * (1 - rule.closeness) if rule and done.kind == "swap" else 0.0
    return work + far + COST_INGREDIENT * max(count - 1, 0) + COST_UPSET * upset + dropped


def _said(line: Line, done: _Candidate, new: Sequence[Line]) -> Note:
    """The offer in a few words: a note with the foods and their grams."""
    food = line.food_id or ""
    if done.kind in ("less", "more"):
        return note(f"swaps.offer_{done.kind}", food=food, grams=new[0].span.likely)
    if done.kind == "state":
        words = next(words for state, words, _ in treatments(line) if state == done.key)
        return note("swaps.offer_state", food=food, state=words)
    if done.kind == "drop":
        return note("swaps.offer_drop", food=food)
    return note("swaps.offer_swap", to=tuple((each.food_id, each.span.likely) for each in new))


def effect_words(effect: Effect) -> str:
    """ "Sodium 820 → 410 mg"."""
    nutrient = BY_KEY[effect.nutrient]
    return f"{nutrient.label} {nutrient.show(effect.before.amount)} → {nutrient.show(effect.after.amount)}"
