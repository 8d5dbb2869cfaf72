"""Reminders tied to what is in the dish and who eats it. They never say "safe" and never forbid."""

import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass

from .recipe import Line


@dataclass(frozen=True, slots=True)
class Caution:
    """A sentence for the cook, its source, and the positions (from 0) of the lines it is about."""

    text: str
    source: str
    lines: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class _Rule:
    plans: frozenset[str]
    nutrients: frozenset[str]
    words: re.Pattern
    text: str
    source: str


def _rule(plans: str, nutrients: str, words: str, text: str, source: str) -> _Rule:
    return _Rule(frozenset(plans.split()), frozenset(nutrients.split()), re.compile(words, re.I), text, source)


_RULES = (
    _rule(
        "kidney",
        "potassium_mg",
        r"potassium chloride|salt substitute|lo ?salt|lite salt|half potassium",
        "A salt substitute of potassium chloride adds a great deal of potassium: not where potassium is limited.",
        "common practice; KDOQI 2020",
    ),
    _rule(
        "kidney",
        "potassium_mg",
        r"cream of tartar",
        "Cream of tartar is about one sixth potassium: count it where potassium is limited.",
        "USDA: 16,500 mg potassium per 100 g",
    ),
    _rule(
        "kidney",
        "",
        r"carambola|star ?fruit",
        "Star fruit can poison people whose kidneys are weak: leave it out.",
        "National Kidney Foundation, common practice",
    ),
    _rule(
        "kidney",
        "phosphorus_mg",
        r"phosphat|baking powder, double|self-rising|process(?:ed)? cheese|american|bacon|ham\b|sausage|luncheon|cola",
        "May hold phosphate additives, nearly all of which is absorbed: look for “phos” in the list of ingredients.",
        "Kalantar-Zadeh 2010, from memory",
    ),
    _rule(
        "diabetes",
        "carbohydrate_g",
        r"^honey|maple|agave|^sugars, coconut|^syrup|molasses|^dates",
        "Natural sweeteners are still sugar: the carbohydrate counts as much.",
        "common practice",
    ),
)


def cautions_for(lines: Sequence[Line], plans: Collection[str], limited: Collection[str]) -> list[Caution]:
    """Reminders for a dish. `limited`: nutrients with a maximum, whichever plan or person set it."""
    found = []
    for rule in _RULES:
        if not (rule.plans & set(plans) or rule.nutrients & set(limited)):
            continue
        hits = tuple(i for i, line in enumerate(lines) if rule.words.search(f"{line.description or ''}\n{line.text}"))
        if hits:
            found.append(Caution(rule.text, rule.source, hits))
    return found
