"""Reminders tied to what is in the dish and who eats it. They never say "safe" and never forbid.

Rules: tables/cautions.tsv.
"""

import functools
import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass

from nutrition.dish.line import Line
from nutrition.dish.naming import description_of
from nutrition.limits.plans import PLANS
from nutrition.sheet.analysis import Analysis
from nutrition.tables import read_table


@dataclass(frozen=True, slots=True)
class Caution:
    """A reminder: its key in tables/cautions.tsv with its sentence and source, and the lines (from 0) it is about."""

    key: str
    text: str
    source: str
    lines: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class _Rule:
    key: str
    whom: str
    limited: frozenset[str]
    circumstances: frozenset[str]
    words: re.Pattern[str] | None
    nutrient: str
    at_least: float
    text: str
    source: str

    def concerns(self, plans: Collection[str], limited: Collection[str], circumstances: Collection[str]) -> bool:
        """Whether the person is one this is for."""
        is_theirs = not (self.whom or self.limited) or self.whom == "everyone"
        is_theirs = is_theirs or any(self.key in PLANS[plan].cautions for plan in plans)
        is_theirs = is_theirs or bool(self.limited & set(limited))
        return is_theirs and bool(not self.circumstances or self.circumstances & set(circumstances))


@functools.cache
def _rules() -> tuple[_Rule, ...]:
    rules = []
    for row in read_table("cautions.tsv"):
        nutrient, _, least = row["holds"].partition(">=")
        rules.append(
            _Rule(
                row["key"],
                row["for"],
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
    return f"{description_of(line)}\n{line.text if line.words_hold else ''}"


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
        found.append(Caution(rule.key, rule.text, rule.source, hits))
    return found
