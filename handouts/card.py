"""What stands on a card: asked of the core, worded for a kitchen."""

import re
from dataclasses import dataclass

from bench.actions import standing_step
from bench.sight import look
from nutrition.avoid import ALLERGENS
from nutrition.composition import foods
from nutrition.matching import matcher
from nutrition.safety import COOLING, COOLING_SOURCE, REHEAT_F
from nutrition.swaps.method import steps_now
from nutrition.weights import household_measure
from people.day import open_conflicts
from people.regimen import regimen_of
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
    vague = line.grams is not None and line.high - line.low > 0.02 * max(line.high, 1)
    if not line.is_edited or not line.food_id:
        # The words were never touched: they are the amount.
        return CardLine(line.part, "", line.text, line.grams, vague, line.low, line.high, row.method)
    food = foods().by_id(line.food_id)
    measure = household_measure(food, line.grams) if line.grams else ""
    name = _plural(_name(line)) if _COUNTED.match(measure) else _name(line)
    return CardLine(line.part, measure, name, line.grams, vague, line.low, line.high, row.method)


def _name(line):
    return matcher().cook_name(foods().by_id(line.food_id).row) if line.food_id else line.text


def _grams(line):
    return grams(line.grams)


def _change(row):
    """What was done to a line, in one sentence with its grams."""
    if row.kind == "dropped":
        return f"{_name(row.written).capitalize()}: left out"
    if row.kind == "added":
        return f"{_name(row.now).capitalize()}: added, {_grams(row.now)}"
    name = _name(row.now).capitalize()
    if row.kind == "swapped":
        return f"{name}, {_grams(row.now)}, in place of {_name(row.written)}, {_grams(row.written)}"
    if row.kind == "cooked":
        return f"{name}: {row.method or 'cooked as written'}"
    return f"{name}: {_grams(row.now)} instead of {_grams(row.written)}"


def build(attempt):
    """Everything the card prints."""
    bench = attempt.bench
    step = standing_step(attempt)
    regimen = regimen_of(bench.person)
    targets = regimen.targets
    sight = look(bench, step, regimen.eater, attempt=attempt)
    present = [row for row in sight.rows if row.now]
    confirmed = sorted({target.confirmed_by.signature for target in targets if target.confirmed_by})
    return {
        "bench": bench,
        "attempt": attempt,
        "person": bench.person,
        "recipe": bench.recipe,
        "plans": regimen.choices,
        "regimen": regimen,
        "sight": sight,
        "sheet": sight.sheet,
        "unsettled": open_conflicts(regimen.eater),
        "not_found": [
            label.lower() for tag, label in ALLERGENS.items() if tag not in {f.tag for f in sight.sheet.allergens}
        ],
        "cooling": (COOLING, COOLING_SOURCE),
        "reheat_f": REHEAT_F,
        "serves": step.serves,
        "portion": portion_words(step.serves),
        "lines": [_line(row) for row in present],
        "steps": steps_now(bench.recipe.steps, sight.changed),
        "balance": sight.balance,
        "advice": list(dict.fromkeys(row.now.advice for row in present if row.now.advice)),
        "changes": [_change(row) for row in sight.rows if row.kind != "kept"],
        "confirmed_by": confirmed,
        "drafts": regimen.drafts,
        "targets": targets,
        "unweighed": [row.now.text for row in present if not row.now.is_weighed],
    }
