"""Reminders tied to what is in the dish and who eats it. They never say "safe" and never forbid.

Rules: tables/cautions.tsv.
"""

import functools
import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass

from .analysis import Analysis
from .composition import read_table
from .recipe import Line


@dataclass(frozen=True, slots=True)
class Caution:
    """A sentence for the cook, its source, and the positions (from 0) of the lines it is about."""

    text: str
    source: str
    lines: tuple[int, ...] = ()
    key: str = ""


@dataclass(frozen=True, slots=True)
class _Rule:
    key: str
    plans: frozenset[str]
    limited: frozenset[str]
    circumstances: frozenset[str]
    words: re.Pattern | None
    nutrient: str
    at_least: float
    text: str
    source: str

    def concerns(self, plans: Collection[str], limited: Collection[str], circumstances: Collection[str]) -> bool:
        """Whether the person is one this is for."""
        named = self.plans or self.limited
        by_plan = "*" in self.plans or any(_matches(mine, plan) for mine in self.plans for plan in plans)
        by_plan = by_plan or self.limited & set(limited)
        return bool((by_plan or not named) and (not self.circumstances or self.circumstances & set(circumstances)))


def _matches(mine: str, plan: str) -> bool:
    return mine == plan or (mine.endswith("*") and plan.startswith(mine[:-1]))


@functools.cache
def _rules() -> tuple[_Rule, ...]:
    rules = []
    for row in read_table("cautions.tsv"):
        nutrient, _, least = row["holds"].partition(">=")
        rules.append(
            _Rule(
                row["key"],
                frozenset(row["plans"].split()),
                frozenset(row["limited"].split()),
                frozenset(row["circumstances"].split()),
                re.compile(row["words"], re.I | re.M) if row["words"] else None,
                nutrient,
                float(least or 0),
                row["text"],
                row["source"],
            )
        )
    return tuple(rules)


def _words_of(line: Line) -> str:
    """What is read for a line: its food, and its words while they still hold."""
    return f"{line.description or ''}\n{line.text if line.words_hold else ''}"


def cautions_for(
    lines: Sequence[Line],
    plans: Collection[str],
    limited: Collection[str],
    circumstances: Collection[str] = (),
    analysis: Analysis | None = None,
) -> list[Caution]:
    """Reminders for a dish. `limited`: nutrients with a maximum, whichever plan or person set it.

    `analysis` is needed for reminders that hang on an amount; what may be there counts.
    """
    found = []
    texts = [_words_of(line) for line in lines]
    for rule in _rules():
        if not rule.concerns(plans, limited, circumstances):
            continue
        hits = tuple(i for i, text in enumerate(texts) if rule.words and rule.words.search(text))
        if rule.words and not hits:
            continue
        if rule.nutrient:
            if analysis is None or analysis.amount(rule.nutrient) < rule.at_least:
                continue
            shares = analysis.shares(rule.nutrient)
            hits = tuple(i for i, share in enumerate(shares) if share >= 0.1)
        found.append(Caution(rule.text, rule.source, hits, rule.key))
    return found
