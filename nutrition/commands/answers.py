"""What several commands print, as JSON has it."""

import math
from collections.abc import Iterable

from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.naming import description_of
from nutrition.food.nutrients import KEYS
from nutrition.food.table import foods
from nutrition.sheet.analysis import Analysis
from nutrition.sheet.judge import Finding
from nutrition.sheet.verdicts import MIND, OPEN, Verdict


class Refused(Exception):
    """Said on one line of stderr, naming the option and the mend; exit 2."""


def line_json(line: Line) -> dict:
    grams = None if line.grams is None else round(line.grams, 2)
    return {"text": line.text, "food": description_of(line) or None, "grams": grams, "how": line.how, "sure": line.sure}


def listed(dish: Dish, positions: Iterable[int]) -> list[int]:
    """Numbers of lines from 1, of those the recipe lists; what its steps add has a step and no number."""
    return [at + 1 for at in positions if not dish.lines[at].step]


def finding_json(finding: Finding, dish: Dish) -> dict:
    """One finding, alike in every command: lines from 1; `step` where only a step names it."""
    return {
        "code": finding.code,
        "about": finding.about,
        "state": finding.state,
        "lines": listed(dish, finding.lines),
        "step": finding.step or None,
        "rule": finding.rule or None,
        "source": finding.source,
    }


def verdict_of(state: str) -> str:
    """A state as gates have it: what is only to be minded is through."""
    return OPEN if state == MIND else state


def finite(number: float, places: int = 3) -> float | None:
    return round(float(number), places) if math.isfinite(number) else None


def per_serving_json(analysis: Analysis, dish: Dish) -> dict:
    """`at_most` null: no bound can be given, because a line, or what a step adds, has no food or no weight."""
    return {
        key: {
            "amount": finite(analysis.amount(key)),
            "at_most": finite(analysis.interval(key)[1]),
            "unknown_lines": listed(dish, analysis.unknown_lines(key)),
        }
        for key in KEYS
    }


def gate_json(verdict: Verdict) -> dict:
    gate = verdict.gate
    of_meal = (
        {"max_of_meal": finite(gate.high.of), "left": finite(gate.high.of - verdict.at_most)}
        if gate.high and gate.high.of
        else {}
    )
    return {
        "nutrient": gate.nutrient,
        "min": finite(gate.low.limit) if gate.low else None,
        "max": finite(gate.high.limit) if gate.high else None,
        "amount": finite(verdict.amount),
        "verdict": verdict.state,
        "source": gate.source,
        **of_meal,
    }


def to_json(to: Iterable[tuple[str, float]]) -> list[dict]:
    return [{"food": foods().by_id(food_id).description, "grams": round(grams, 2)} for food_id, grams in to]
