"""What stands on a card: asked of the core, worded for a kitchen."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from accounts.models import Practice
from bench.actions import standing_edit
from bench.models import Bench, Try
from bench.sight import Gauge, Sight, Thread, look
from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.dish.naming import name_of
from nutrition.food.measures import household_measure
from nutrition.food.nutrients import BY_KEY, INDEX
from nutrition.food.table import foods
from nutrition.food.tags import ALLERGENS, TAGS
from nutrition.giving.ceilings import TOLERATED, Ceiling, ceilings
from nutrition.giving.reading_level import grade
from nutrition.giving.shopping import Shopping, Wanted, shopping
from nutrition.sheet.examine import Sheet
from nutrition.sheet.safety import HouseRules
from nutrition.swaps.balance import Upset
from nutrition.swaps.preparations import tips_of
from nutrition.swaps.telling import StepNow
from people.day import open_conflicts
from people.models import Person, PersonTarget, PlanChoice
from people.regimen import Regimen, regimen_of
from recipes.models import Recipe
from ui import rails
from ui.templatetags.ui import grams

from .layout import Layout, layout_of
from .models import Readiness

_FRACTIONS = {2: "half", 3: "a third", 4: "a quarter", 5: "a fifth", 6: "a sixth", 8: "an eighth", 10: "a tenth"}


@dataclass(frozen=True, slots=True)
class CardLine:
    """One ingredient: in household measures, in grams, and what it is."""

    heading: str
    measure: str
    name: str
    weight: Grams | None
    method: str = ""

    @property
    def words(self) -> str:
        return f"{self.measure} {self.name}" if self.measure else self.name

    @property
    def grams(self) -> float | None:
        return self.weight.likely if self.weight else None

    @property
    def is_vague(self) -> bool:
        return self.weight is not None and self.weight.is_wide


def portion_words(serves: float) -> str:
    """A portion as a share of the dish.

    >>> portion_words(6), portion_words(7), portion_words(1)
    ('a sixth of the dish', 'one of 7 equal parts', 'the whole dish')
    """
    if serves == 1:
        return "the whole dish"
    return f"{_FRACTIONS[int(serves)]} of the dish" if serves in _FRACTIONS else f"one of {serves:g} equal parts"


#: A bare count above one: "about 3", "1½", with no measure after it.
_COUNTED = re.compile(r"^(about )?(1[½⅓⅔¼¾]|[2-9]|[1-9]\d)[½⅓⅔¼¾]?$")


def _plural(name: str) -> str:
    """More than one of a thing a cook counts.

    >>> _plural("turnip"), _plural("potato"), _plural("bay leaf"), _plural("cherry")
    ('turnips', 'potatoes', 'bay leaves', 'cherries')
    """
    for ending, many in (("leaf", "leaves"), ("loaf", "loaves"), ("o", "oes"), ("s", "s")):
        if name.endswith(ending):
            return name.removesuffix(ending) + many
    if name.endswith("y") and name[-2:-1] not in "aeiou":
        return name[:-1] + "ies"
    return f"{name}es" if name.endswith(("sh", "ch", "x")) else f"{name}s"


def _line(thread: Thread) -> CardLine:
    line = thread.line
    if not line.is_edited or not line.food_id:
        # The words were never touched: they are the amount.
        words = f"{line.text} (step {line.step} adds it)" if line.step else line.text
        return CardLine(line.heading, "", words, line.weight, thread.method)
    measure = household_measure(foods().by_id(line.food_id), line.span.likely) if line.grams else ""
    name = _plural(name_of(line)) if _COUNTED.match(measure) else name_of(line)
    return CardLine(line.heading, measure, name, line.weight, thread.method)


def _change(thread: Thread) -> str:
    """What was done to a line, in one sentence with its grams."""
    was = thread.written or thread.line
    name, now = name_of(thread.line).capitalize(), grams(thread.line.grams)
    if thread.change == "dropped":
        return f"{name}: left out"
    if thread.change == "added":
        return f"{name}: added, {now}"
    if thread.change == "swapped":
        return f"{name}, {now}, in place of {name_of(was)}, {grams(was.grams)}"
    if thread.change == "cooked":
        return f"{name}: {thread.method or 'cooked as written'}"
    return f"{name}: {now} instead of {grams(was.grams)}"


#: A change that moves a gate by less than this share of its post is not given as a reason.
WORTH_SAYING = 0.03


def _because(thread: Thread, sight: Sight) -> str:
    """What a change does to one portion, in plain words: the two gates it helps most, and what it takes out."""
    helped, columns = [], {gauge.nutrient: gauge.verdict.gate for gauge in sight.gauges}
    written_at = (
        {each.key: i for i, each in enumerate([t for t in sight.threads if t.written])} if not sight.order else {}
    )
    for key, gate in columns.items():
        was = (
            sight.written.by_line[written_at[thread.key], INDEX[key]]
            if thread.written and thread.key in written_at
            else 0.0
        )
        now = sight.now.by_line[thread.position, INDEX[key]] if thread.now else 0.0
        change, label = float(now - was), BY_KEY[key].label.lower()
        if gate.high and -change > WORTH_SAYING * gate.high.limit:
            helped.append((-change / gate.high.limit, f"{BY_KEY[key].show(-change)} less {label}"))
        elif gate.low and not gate.high and change > WORTH_SAYING * gate.low.limit:
            helped.append((change / gate.low.limit, f"{BY_KEY[key].show(change)} more {label}"))
    gone = []
    if thread.written:
        before, after = (sight.holds(each) for each in (thread.written, thread.now))
        gone = [f"no {TAGS[item.tag].lower()}" for item in sight.sheet.avoided if item.tag in before - after]
    said = [words for _, words in sorted(helped, reverse=True)[:2]] + gone
    return " and ".join(said)


def _changes(sight: Sight) -> list[tuple[str, str]]:
    """(what was changed, what it does to one portion) of every line that is not as written."""
    return [(_change(thread), _because(thread, sight)) for thread in sight.threads if thread.change != "kept"]


def verdict_words(gauge: Gauge, accepted: str = "") -> str:
    """A gate for the person who eats: "within the limit: 150 mg to spare"; why it may be shut, where that was accepted.

    A limit that is broken, or may be, is said beside it.
    """
    verdict, unit = gauge.verdict, BY_KEY[gauge.nutrient].unit
    limit = "" if verdict.gate.is_conflict else f" of {rails.limit_words(verdict.gate)}"
    state = {
        "open": "within the limit",
        "shut": f"outside the limit{limit}",
        "unsure": f"not certain, with a limit{limit}",
    }[verdict.state]
    said = f"{state}: {rails.with_unit(rails.margin(verdict), unit)}"
    return f"{said}; accepted: {accepted}" if accepted and verdict.state != "open" else said


def gauge_words(gauge: Gauge) -> str:
    """A gate for the checklist: "Sodium 742 of 700 mg, 42 over"."""
    return f"{BY_KEY[gauge.nutrient].label} {rails.holds(gauge.verdict)}, {rails.margin(gauge.verdict)}"


@dataclass(frozen=True)
class Card:
    """Everything a card prints, and what the checklist before it looks at.

    `ready`: what was made sure of (checklist.readiness_of); None for a first look. `changes`: (what was changed, what it
    does to one portion). `limits`: (gauge, in words) of every gate. `labels_read`: (line, product, what its label names).
    """

    attempt: Try
    regimen: Regimen
    sight: Sight
    ready: Readiness | None
    lines: list[CardLine]
    steps: list[StepNow]
    changes: list[tuple[str, str]]
    ceilings: list[Ceiling]
    has_margin: bool
    shopping: Shopping

    words_of = staticmethod(gauge_words)

    @property
    def bench(self) -> Bench:
        return self.attempt.bench

    @property
    def practice(self) -> Practice:
        return self.attempt.practice

    @property
    def person(self) -> Person:
        return self.bench.person

    @property
    def recipe(self) -> Recipe:
        return self.bench.recipe

    @property
    def plans(self) -> list[PlanChoice]:
        return self.regimen.plans

    @property
    def targets(self) -> list[PersonTarget]:
        return self.regimen.targets

    @property
    def drafts(self) -> int:
        return self.regimen.drafts

    @property
    def sheet(self) -> Sheet:
        return self.sight.sheet

    @property
    def balance(self) -> list[Upset]:
        return self.sight.balance

    @property
    def serves(self) -> float:
        return self.sight.serves

    @property
    def rules(self) -> HouseRules:
        """Whose rules of cooling and reheating it quotes."""
        return self.sheet.safety.rules

    @cached_property
    def layout(self) -> Layout:
        return layout_of(self.person)

    @property
    def is_as_planned(self) -> bool:
        """Whether it goes out before anybody has cooked it."""
        return bool(self.ready and self.ready.is_as_planned) and getattr(self.attempt, "cooked_in", None) is None

    @property
    def double(self) -> float:
        return 2 * self.serves

    @property
    def portion(self) -> str:
        return portion_words(self.serves)

    @cached_property
    def unsettled(self) -> list[Any]:
        return open_conflicts(self.regimen.eater)

    @cached_property
    def not_found(self) -> list[str]:
        """The listed allergens nothing was found of, in words."""
        found = {finding.tag for finding in self.sheet.allergens}
        return [label.lower() for tag, label in ALLERGENS.items() if tag not in found]

    @property
    def names(self) -> list[str]:
        return [name_of(line) for line in self.sight.lines_now]

    @cached_property
    def advice(self) -> list[str]:
        """What to do differently, each said of what it is about."""
        return [f"{subject}: {advice}" for subject, advice in tips_of(self.sight.lines_now)]

    @cached_property
    def grade(self) -> float | None:
        texts = [each.now for each in self.steps] + self.advice
        return grade(" ".join([*texts, *(f"{what}. {why}." for what, why in self.changes)]))

    @cached_property
    def limits(self) -> list[tuple[Gauge, str]]:
        accepted = self.ready.accepted if self.ready and self.ready.prints_reasons else {}
        return [(gauge, verdict_words(gauge, accepted.get(gauge.nutrient, ""))) for gauge in self.sight.gauges]

    @property
    def confirmed_by(self) -> list[str]:
        """Who stands behind the limits, as they sign."""
        return self.regimen.confirmed_by

    @property
    def unweighed(self) -> list[str]:
        open_ = (line for line in self.sight.lines_now if not line.is_weighed)
        return [f"{line.text} (step {line.step} adds it)" if line.step else line.text for line in open_]

    @property
    def to_check(self) -> list[Thread]:
        """Lines whose words leave open what a limit may hang on; what only a step names is said among what is not counted."""
        return [row for row in self.sight.to_check if not row.line.step]

    @property
    def ceiling_rows(self) -> list[tuple[str, list[Ceiling]]]:
        return _by_line(self.ceilings, self.sight.lines_now)

    @property
    def labels_read(self) -> list[tuple[str, str, list[str]]]:
        return _labels_read(self.ready, self.sight)

    def for_template(self, **more: Any) -> dict[str, Any]:
        """The card under its own name, and the rooms a template looks into most."""
        return {"card": self, "bench": self.bench, "attempt": self.attempt, "sight": self.sight} | more


def build(attempt: Try, ready: Readiness | None = None) -> Card:
    """The card of a try. `ready`: what was made sure of; without it, a first look."""
    bench = attempt.bench
    regimen = regimen_of(bench.person, bench.role)
    sight = look(bench, standing_edit(attempt), regimen.eater, attempt=attempt)
    margin = TOLERATED if ready and ready.has_label_margin else 0.0
    gates = [gauge.verdict.gate for gauge in sight.gauges]
    limits = ceilings(sight.lines_now, sight.serves, gates, margin)
    return Card(
        attempt=attempt,
        regimen=regimen,
        sight=sight,
        ready=ready,
        lines=[_line(thread) for thread in sight.threads if thread.now],
        steps=[step for step in sight.steps if not step.is_out],
        changes=_changes(sight),
        ceilings=limits,
        has_margin=bool(margin),
        shopping=shopping([Wanted(str(bench.recipe), sight.lines_now, 1.0, limits)]),
    )


def _by_line(limits: Sequence[Ceiling], lines: Sequence[Line]) -> list[tuple[str, list[Ceiling]]]:
    """(name of the goods, its ceilings) in the order of the lines."""
    found: dict[int, list[Ceiling]] = {}
    for each in limits:
        found.setdefault(each.line, []).append(each)
    return [
        (lines[position].text if lines[position].text_stands else name_of(lines[position]).capitalize(), each)
        for position, each in found.items()
    ]


def _labels_read(ready: Readiness | None, sight: Sight) -> list[tuple[str, str, list[str]]]:
    """(line, product, what its label names) of every label that was read before the release."""
    if not ready:
        return []
    rows = {thread.key: thread.now for thread in sight.threads if thread.now}
    return [
        (
            rows[key].text if rows[key].text_stands else name_of(rows[key]),
            noted.get("product", ""),
            [TAGS[tag].lower() for tag in noted.get("holds", ())],
        )
        for key, noted in ready.labels.items()
        if key in rows
    ]
