"""What stands on a card: asked of the core, worded for a kitchen."""

import re
from dataclasses import dataclass

from bench.actions import standing_step
from bench.sight import look
from nutrition.food.contents import ALLERGENS, CONTAINS, TAGS
from nutrition.food.measures import household_measure
from nutrition.food.nutrients import BY_KEY, INDEX
from nutrition.food.table import foods
from nutrition.giving.ceilings import TOLERATED, ceilings
from nutrition.giving.reading_level import grade
from nutrition.giving.shopping import Wanted, shopping
from nutrition.limits.avoid import hits_of_line
from nutrition.sheet.safety import COOLING, COOLING_SOURCE, REHEAT_F
from nutrition.swaps.method import steps_now
from people.day import open_conflicts
from people.regimen import regimen_of
from ui import rails
from ui.templatetags.ui import grams

_FRACTIONS = {2: "half", 3: "a third", 4: "a quarter", 5: "a fifth", 6: "a sixth", 8: "an eighth", 10: "a tenth"}


@dataclass(frozen=True, slots=True)
class CardLine:
    """One ingredient: in household measures, in grams, and what it is."""

    part: str
    measure: str
    name: str
    grams: float | None
    is_vague: bool
    low: float
    high: float
    method: str = ""


def portion_words(serves):
    """A portion as a share of the dish.

    >>> portion_words(6), portion_words(7), portion_words(1)
    ('a sixth of the dish', 'one of 7 equal parts', 'the whole dish')
    """
    if serves == 1:
        return "the whole dish"
    return f"{_FRACTIONS[serves]} of the dish" if serves in _FRACTIONS else f"one of {serves:g} equal parts"


#: A bare count above one: "about 3", "1½", with no measure after it.
_COUNTED = re.compile(r"^(about )?(1[½⅓⅔¼¾]|[2-9]|[1-9]\d)[½⅓⅔¼¾]?$")


def _plural(name):
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


def _line(row):
    line = row.now
    if not line.is_edited or not line.food_id:
        # The words were never touched: they are the amount.
        return CardLine(line.part, "", line.text, line.grams, line.is_vague, line.low, line.high, row.method)
    food = foods().by_id(line.food_id)
    measure = household_measure(food, line.grams) if line.grams else ""
    name = _plural(line.name) if _COUNTED.match(measure) else line.name
    return CardLine(line.part, measure, name, line.grams, line.is_vague, line.low, line.high, row.method)


def _grams(line):
    return grams(line.grams)


def _change(row):
    """What was done to a line, in one sentence with its grams."""
    if row.kind == "dropped":
        return f"{row.written.name.capitalize()}: left out"
    if row.kind == "added":
        return f"{row.now.name.capitalize()}: added, {_grams(row.now)}"
    name = row.now.name.capitalize()
    if row.kind == "swapped":
        return f"{name}, {_grams(row.now)}, in place of {row.written.name}, {_grams(row.written)}"
    if row.kind == "cooked":
        return f"{name}: {row.method or 'cooked as written'}"
    return f"{name}: {_grams(row.now)} instead of {_grams(row.written)}"


#: A change that moves a gate by less than this share of its post is not given as a reason.
WORTH_SAYING = 0.03


def _because(row, sight):
    """What a change does to one portion, in plain words: the two gates it helps most, and what it takes out."""
    helped, columns = [], {gauge.nutrient: gauge.verdict.gate for gauge in sight.gauges}
    written_at = {each.key: i for i, each in enumerate([r for r in sight.rows if r.written])} if not sight.order else {}
    for key, gate in columns.items():
        was = sight.written.by_line[written_at[row.key], INDEX[key]] if row.written and row.key in written_at else 0.0
        now = sight.now.by_line[row.position, INDEX[key]] if row.now else 0.0
        change, label = now - was, BY_KEY[key].label.lower()
        if gate.high and -change > WORTH_SAYING * gate.high.limit:
            helped.append((-change / gate.high.limit, f"{BY_KEY[key].show(-change)} less {label}"))
        elif gate.low and not gate.high and change > WORTH_SAYING * gate.low.limit:
            helped.append((change / gate.low.limit, f"{BY_KEY[key].show(change)} more {label}"))
    gone = []
    if row.written:
        before, after = (_tags(each) for each in (row.written, row.now))
        gone = [f"no {TAGS[item.tag].lower()}" for item in sight.sheet.avoided if item.tag in before - after]
    said = [words for _, words in sorted(helped, reverse=True)[:2]] + gone
    return " and ".join(said)


def _tags(line):
    return {hit.tag for hit in hits_of_line(line) if hit.verdict == CONTAINS} if line else set()


def _changes(sight):
    """(what was changed, what it does to one portion) of every line that is not as written."""
    return [(_change(row), _because(row, sight)) for row in sight.rows if row.kind != "kept"]


def verdict_words(gauge):
    """A gate for the person who eats: "within the limit: 150 mg to spare"."""
    verdict, unit = gauge.verdict, BY_KEY[gauge.nutrient].unit
    state = {"open": "within the limit", "shut": "outside the limit", "unsure": "not certain"}[verdict.state]
    return f"{state}: {rails.with_unit(rails.margin(verdict), unit)}"


def gauge_words(gauge):
    """A gate for the checklist: "Sodium 742 of 700 mg, 42 over"."""
    return f"{BY_KEY[gauge.nutrient].label} {rails.holds(gauge.verdict)}, {rails.margin(gauge.verdict)}"


def build(attempt, ready=None):
    """Everything the card prints. `ready`: what was made sure of (checklist.readiness_of); without it, a first look."""
    bench = attempt.bench
    step = standing_step(attempt)
    regimen = regimen_of(bench.person)
    targets = regimen.targets
    sight = look(bench, step, regimen.eater, attempt=attempt)
    present = [row for row in sight.rows if row.now]
    confirmed = sorted({target.confirmed_by.signature for target in targets if target.confirmed_by})
    steps = steps_now(bench.recipe.all_steps, sight.changed)
    advice = list(dict.fromkeys(row.now.advice for row in present if row.now.advice))
    changes = _changes(sight)
    texts = [each.proposed or each.text for each in steps] + advice + [f"{what}. {why}." for what, why in changes]
    return {
        "bench": bench,
        "attempt": attempt,
        "practice": attempt.practice,
        "person": bench.person,
        "recipe": bench.recipe,
        "plans": regimen.choices,
        "regimen": regimen,
        "sight": sight,
        "sheet": sight.sheet,
        "ready": ready,
        "unsettled": open_conflicts(regimen.eater),
        "not_found": [
            label.lower() for tag, label in ALLERGENS.items() if tag not in {f.tag for f in sight.sheet.allergens}
        ],
        "cooling": (COOLING, COOLING_SOURCE),
        "reheat_f": REHEAT_F,
        "serves": step.serves,
        "double": 2 * step.serves,
        "portion": portion_words(step.serves),
        "lines": [_line(row) for row in present],
        "names": [line.name for line in sight.lines_now],
        "steps": steps,
        "balance": sight.balance,
        "advice": advice,
        "changes": changes,
        "grade": grade(" ".join(texts)),
        "labels_read": _labels_read(ready, sight),
        "words_of": gauge_words,
        "limits": [(gauge, verdict_words(gauge)) for gauge in sight.gauges],
        "confirmed_by": confirmed,
        "drafts": regimen.drafts,
        "targets": targets,
        "unweighed": [row.now.text for row in present if not row.now.is_weighed],
    } | _shop(bench, sight, ready)


def _shop(bench, sight, ready):
    """What the card says of the shop: label ceilings, and the list by aisle."""
    margin = TOLERATED if ready and ready.has_label_margin else 0.0
    limits = ceilings(sight.lines_now, sight.serves, [gauge.verdict.gate for gauge in sight.gauges], margin)
    return {
        "ceilings": limits,
        "ceiling_rows": _by_line(limits, sight.lines_now),
        "has_margin": bool(margin),
        "shopping": shopping([Wanted(str(bench.recipe), sight.lines_now, 1.0, limits)]),
    }


def _by_line(limits, lines):
    """(name of the goods, its ceilings) in the order of the lines."""
    found = {}
    for each in limits:
        found.setdefault(each.line, []).append(each)
    return [
        (lines[position].text if lines[position].text_stands else lines[position].name.capitalize(), each)
        for position, each in found.items()
    ]


def _labels_read(ready, sight):
    """(line, product, what its label names) of every label that was read before the release."""
    if not ready:
        return []
    rows = {row.key: row.now for row in sight.rows if row.now}
    return [
        (
            rows[key].text if rows[key].text_stands else rows[key].name,
            noted.get("product", ""),
            [TAGS[tag].lower() for tag in noted.get("holds", ())],
        )
        for key, noted in ready.labels.items()
        if key in rows
    ]
