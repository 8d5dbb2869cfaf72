"""What could take over a line's job, and what follows from it, before it is taken.

Offers never bring in what a plan or an allergen list keeps out, nor what the person will not eat; when nothing is
left, the reason is said. Every effect is the ordinary analysis of the dish with the offer in it.
"""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from math import isfinite

from ..analysis import analyze
from ..avoid import CHECK, CONTAINS, find, hits_of_food, hits_of_line
from ..cautions import cautions_for
from ..composition import foods
from ..cooking import AS_IS, bring, choices
from ..examine import Eater
from ..gates import OPEN, SHUT, Gate, Verdict, judge
from ..matching import cook_name
from ..nutrients import BY_KEY
from ..recipe import Line
from . import balance
from .catalog import Rule, rules_for
from .jobs import jobs_of

#: What a minute of work, an exotic food and another ingredient weigh in the ranking (assumptions, stated here).
COST_MINUTE, COST_EXOTIC, COST_INGREDIENT = 0.01, 0.08, 0.03


@dataclass(frozen=True, slots=True)
class Effect:
    """One gate before and after an offer."""

    before: Verdict
    after: Verdict

    @property
    def nutrient(self) -> str:
        return self.before.gate.nutrient


@dataclass(frozen=True, slots=True)
class Offer:
    """One way to do it. `lines`: the whole dish with the offer in it; `to`: (food id, grams) that come in.

    `kind`: swap, less, more, drop or state.
    """

    id: str
    kind: str
    job: str
    text: str
    to: tuple[tuple[str, float], ...]
    lines: tuple[Line, ...]
    effects: tuple[Effect, ...]
    allergens_added: tuple[str, ...]
    allergens_removed: tuple[str, ...]
    warnings: tuple[str, ...]
    method: tuple[str, ...]
    household: str
    source: str
    score: float

    @property
    def opens(self) -> int:
        """How many gates it opens, less those it closes."""
        return sum((e.after.state == OPEN) - (e.before.state == OPEN) for e in self.effects)


@dataclass(frozen=True, slots=True)
class Offers:
    """What there is for one line, best first, and why there is nothing when there is not."""

    jobs: tuple[str, ...]
    offers: tuple[Offer, ...]
    none_because: str = ""


def taken(lines: Sequence[Line], position: int, rule: Rule) -> tuple[Line, ...]:
    """The dish with the rule in place of one line; several foods stand one after another."""
    line = lines[position]
    if rule.factor == 0:
        return (*lines[:position], *lines[position + 1 :])
    if rule.factor is not None:
        new = [_scaled(line, rule.factor)]
    else:
        new = [_in_place(line, food_id, ratio, rule) for food_id, ratio in rule.to]
    return (*lines[:position], *new, *lines[position + 1 :])


def _scaled(line: Line, factor: float) -> Line:
    grams = None if line.grams is None else line.grams * factor
    return replace(line, low=line.low * factor, grams=grams, high=line.high * factor, is_edited=True)


def _in_place(line: Line, food_id: str, ratio: float, rule: Rule) -> Line:
    if food_id == line.food_id:
        return _scaled(line, ratio)
    new = _scaled(line, ratio)
    return replace(
        new, text=cook_name(food_id), food_id=food_id, how="weight", sure="likely", rule=rule.household or "by weight",
        why=f"in place of {line.text}: {rule.source}", ask="", others=(), words_hold=False, state="",
        advice=rule.do_differently, part=_part(line, rule),
    )  # fmt: skip


def _part(line: Line, rule: Rule) -> str:
    """What is made instead of bought stands together, under a name of its own."""
    is_made = len(rule.to) > 1 and rule.do_differently.startswith("Make instead")
    return f"{cook_name(line.food_id).capitalize()}, made instead of bought" if is_made else line.part


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
    """The dish and the eater an engine works on. `kind` of dish; `dislikes`: words; `rules`: a practice's own.

    `jobs`: position -> jobs that a person set; then only ways to do those jobs are offered.
    """

    lines: tuple[Line, ...]
    serves: float
    eater: Eater
    meal: str = "dinner"
    kind: str = "any"
    dislikes: tuple[str, ...] = ()
    rules: tuple[Rule, ...] = ()
    jobs: Mapping[int, tuple[str, ...]] = field(default_factory=dict)

    def jobs_of(self, position: int) -> tuple[str, ...]:
        """What a line does here: as a person said, else as read."""
        return self.jobs.get(position) or jobs_of(self.lines[position], self.kind)

    @cached_property
    def gates(self) -> list[Gate]:
        return self.eater.gates(self.meal)

    @cached_property
    def kept_out(self) -> frozenset[str]:
        """Tags that some plan keeps out."""
        return frozenset(tag for key in self.eater.plans for tag in _tags_of(self.eater, key))

    def forbidden(self, food_id: str) -> str:
        """Why this food may not be offered; empty when it may."""
        for hit in hits_of_food(food_id):
            if hit.verdict == CONTAINS and hit.tag in self.kept_out:
                return f"it contains {hit.tag.replace('_', ' ')}"
        name = f"{cook_name(food_id)} {foods().by_id(food_id).description}".lower()
        disliked = next((word for word in self.dislikes if re.search(rf"\b{re.escape(word)}", name)), "")
        return f"{disliked} is not eaten" if disliked else ""


def _tags_of(eater: Eater, key: str) -> Iterable[str]:
    from ..plans import PLANS, choose

    return (avoid.tag for avoid in PLANS[key].avoids(choose(key, eater.plans[key])))


def dislikes_of(text: str) -> tuple[str, ...]:
    """Words of a list with commas, singular enough to be found.

    >>> dislikes_of("liver, mushrooms")
    ('liver', 'mushroom')
    """
    words = (" ".join(part.lower().split()) for part in re.split(r"[,;]", text))
    return tuple(word.removesuffix("s") for word in words if word)


def _candidates(bench: Workbench, position: int) -> Iterable[tuple[str, Rule | None, str, tuple[Line, ...], str]]:
    """(kind, rule, key, lines with it, why not) of everything that could be done to a line."""
    line = bench.lines[position]
    is_out = any(hit.verdict == CONTAINS and hit.tag in bench.kept_out for hit in hits_of_line(line))
    for rule in rules_for(line.description or "", bench.kind, bench.rules):
        if rule.factor is None and (line.grams or 0) > rule.most_grams:
            continue
        if (is_out and rule.factor) or (position in bench.jobs and rule.job not in bench.jobs[position]):
            continue
        if [food_id for food_id, _ in rule.to] == [line.food_id]:
            continue
        kind = "swap" if rule.factor is None else "drop" if rule.factor == 0 else "less" if rule.factor < 1 else "more"
        if kind == "drop" and len(bench.lines) == 1:
            continue
        new_foods = [food_id for food_id, _ in rule.to]
        why_not = next(filter(None, map(bench.forbidden, new_foods)), "")
        yield kind, rule, rule.id, taken(bench.lines, position, rule), why_not
    for key, _, stands in choices(line):
        if not stands and key != AS_IS and not is_out:
            lines = (*bench.lines[:position], bring(line, key), *bench.lines[position + 1 :])
            yield "state", None, key, lines, ""


def offers(bench: Workbench, position: int, most: int = 12) -> Offers:
    """Ranked offers for one line. Raises IndexError when there is no such line."""
    line = bench.lines[position]
    jobs = bench.jobs_of(position)
    if not line.is_weighed:
        return Offers(jobs, (), "This line has no food or no weight yet: settle that first.")
    gates = bench.gates
    before = judge(gates, analyze(bench.lines, bench.serves))
    had = _findings([line], bench.eater)
    limited = {gate.nutrient for gate in gates if gate.high}
    cautions_had = {caution.key for caution in _cautions([line], bench.eater, limited)}
    found, refused = {}, []
    for kind, rule, key, lines, why_not in _candidates(bench, position):
        if why_not:
            refused.append(why_not)
            continue
        offer = _offer(bench, position, kind, rule, key, lines, before, had, cautions_had, limited)
        same = (kind, offer.to)
        if same not in found or found[same].score < offer.score:
            found[same] = offer
    ranked = sorted(found.values(), key=lambda offer: -offer.score)
    why = "" if ranked else _why_none(line, refused)
    return Offers(jobs, tuple(ranked[:most]), why)


def _why_none(line: Line, refused: Sequence[str]) -> str:
    if refused:
        reasons = "; ".join(dict.fromkeys(refused))
        return f"Every way known for {line.description} is kept out: {reasons}."
    return f"No rule is known for {line.description}. Less of it, another food by hand, or a rule of your own will do."


def _findings(lines: Sequence[Line], eater: Eater) -> dict[str, str]:
    return {finding.tag: finding.verdict for finding in find(lines, allergen_list=eater.allergen_list)}


def _cautions(lines: Sequence[Line], eater: Eater, limited: set[str]):
    return cautions_for(lines, list(eater.plans), limited, eater.facts.circumstances)


def _offer(bench, position, kind, rule, key, lines, before, had, cautions_had, limited) -> Offer:
    after = judge(bench.gates, analyze(lines, bench.serves)) if lines else before
    new = lines[position : position + len(lines) - len(bench.lines) + 1]
    now = _findings(new, bench.eater)
    cautions_now = _cautions(new, bench.eater, limited)
    upset = balance.check(bench.lines, lines, bench.kind)
    warnings = [rule.caution.capitalize() + "."] if rule and rule.caution else []
    warnings += [w.text for w in upset] + [c.text for c in cautions_now if c.lines and c.key not in cautions_had]
    warnings += [
        f"Check the label for {tag.replace('_', ' ')}." for tag, verdict in now.items()
        if verdict == CHECK and tag in bench.kept_out
    ]  # fmt: skip
    gain = sum(badness(b) - badness(a) for b, a in zip(before, after, strict=True))
    opened = sum((a.state == OPEN) - (b.state == OPEN) for b, a in zip(before, after, strict=True))
    closed = sum(a.state == SHUT and b.state != SHUT for b, a in zip(before, after, strict=True))
    lifted = sum(1 for tag in bench.kept_out if had.get(tag) == CONTAINS and now.get(tag) != CONTAINS)
    cost = (COST_MINUTE * rule.minutes + COST_EXOTIC * rule.exotic if rule else 0.02) + COST_INGREDIENT * max(
        len(new) - 1, 0
    )
    cost += 0.05 * len(upset) + (0.15 if kind == "drop" else 0.0)
    return Offer(
        id=key,
        kind=kind,
        job=rule.job if rule else "",
        text=_said(bench.lines[position], kind, rule, key, new),
        to=tuple((line.food_id, line.grams or 0.0) for line in new),
        lines=tuple(lines),
        effects=tuple(Effect(b, a) for b, a in zip(before, after, strict=True)),
        allergens_added=tuple(tag for tag, v in now.items() if v == CONTAINS and had.get(tag) != CONTAINS),
        allergens_removed=tuple(tag for tag, v in had.items() if v == CONTAINS and now.get(tag) != CONTAINS),
        warnings=tuple(dict.fromkeys(warnings)),
        method=tuple(filter(None, [rule.do_differently if rule else "", _minutes(rule), _more(len(new))])),
        household=rule.household if rule else "",
        source=rule.source if rule else "cooking methods of this table",
        score=lifted + opened - closed + min(gain, 3.0) * 0.5 - cost,
    )


def _more(count: int) -> str:
    return f"{count - 1} more ingredient{'s' * (count > 2)}." if count > 1 else ""


def _minutes(rule: Rule | None) -> str:
    return f"About {rule.minutes} minutes more." if rule and rule.minutes else ""


def _said(line: Line, kind: str, rule: Rule | None, key: str, new: Sequence[Line]) -> str:
    name = cook_name(line.food_id)
    if kind == "drop":
        return f"Leave out the {name}"
    if kind in ("less", "more"):
        return f"{'Less' if kind == 'less' else 'More'} {name}: {new[0].grams:.0f} g" if new[0].grams >= 10 else (
            f"{'Less' if kind == 'less' else 'More'} {name}: {new[0].grams:.1f} g"
        )  # fmt: skip
    if kind == "state":
        words = next(words for state, words, _ in choices(line) if state == key)
        return f"{name[:1].upper()}{name[1:]}: {words}"
    parts = [
        f"{cook_name(each.food_id)} {each.grams:.0f} g"
        if each.grams >= 10
        else f"{cook_name(each.food_id)} {each.grams:.1f} g"
        for each in new
    ]
    text = " + ".join(parts)
    return text[:1].upper() + text[1:]


def effect_words(effect: Effect) -> str:
    """ "Sodium 820 → 410 mg"."""
    nutrient = BY_KEY[effect.nutrient]
    return f"{nutrient.label} {nutrient.show(effect.before.amount)} → {nutrient.show(effect.after.amount)}"
