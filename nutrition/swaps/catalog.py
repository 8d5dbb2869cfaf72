"""The swap rules: tables/swaps.tsv, and rules a practice adds. A rule is data; the engine decides what follows.

`to` is written as cook's names with grams per gram of what goes out ("rice flour * 0.65 + potato starch * 0.35"),
or "@less 0.5", "@more 1.5", "@drop".
"""

import functools
import re
from collections.abc import Iterable
from dataclasses import dataclass

from ..composition import foods, read_table
from ..matching import matcher, normalized
from .jobs import JOBS


class RuleProblem(ValueError):
    """A rule that cannot be; the sentence says what was read and what to do."""


@dataclass(frozen=True, slots=True)
class Rule:
    """One way to do a job. `to`: (food id, grams per gram); `factor` for less or more of the same, 0 for leaving out."""

    id: str
    job: str
    words: re.Pattern
    to: tuple[tuple[str, float], ...]
    factor: float | None
    where: frozenset[str]
    household: str
    do_differently: str
    limits: str
    caution: str
    school: str
    minutes: int
    exotic: int
    source: str
    test_line: str = ""

    @property
    def most_grams(self) -> float:
        """The limit in grams the rule names, infinite when it names none ("up to 60 g", "up to 3 eggs (150 g)")."""
        match = re.search(r"(\d+) g", self.limits)
        return float(match[1]) if match else float("inf")

    def suits(self, description: str, kind: str) -> bool:
        return bool(self.words.search(description.lower())) and bool(self.where & {"any", kind} or kind == "any")


def read_to(text: str) -> tuple[tuple[tuple[str, float], ...], float | None]:
    """The foods and ratios of a rule as written, or the factor of one that keeps the food. Raises RuleProblem.

    >>> read_to("@less 0.5")
    ((), 0.5)
    """
    text = text.strip()
    if text == "@drop":
        return (), 0.0
    keeps = re.fullmatch(r"@(less|more) (\d+(?:\.\d+)?)", text)
    if keeps:
        factor = float(keeps[2])
        if not (0 < factor < 1 if keeps[1] == "less" else 1 < factor <= 5):
            raise RuleProblem(f"“{text}” was read; less is between 0 and 1, more between 1 and 5.")
        return (), factor
    parts = []
    for part in text.split(" + "):
        name, star, ratio = part.rpartition(" * ")
        try:
            grams = float(ratio) if star else 1.0
        except ValueError:
            raise RuleProblem(f"“{ratio}” is not a ratio. Write food * number, as in rice flour * 0.9.") from None
        if not 0 < grams <= 50:
            raise RuleProblem(f"A ratio of {grams:g} was read for “{name}”; more than 0 and up to 50 is expected.")
        parts.append((food_called((name if star else part).strip()), grams))
    return tuple(parts), None


@functools.cache
def food_called(name: str) -> str:
    """The id of the food a cook calls this. Raises RuleProblem."""
    if not re.search(r"[a-zA-Z]", name):
        raise RuleProblem("No food was named. Write food * number, as in rice flour * 0.9.")
    match = matcher().match(name)
    # A cook's name means the food as it is bought; a description of the same words may be the cooked or diluted one.
    if foods().has(name) and normalized(match.name) != normalized(name):
        return foods().by_description(name).id
    if match.row < 0:
        raise RuleProblem(f"“{name}” is not a food of the tables. Write a plain name, as in rice flour.")
    return foods().ids[match.row]


def rule_from(row: dict[str, str]) -> Rule:
    """A rule from a row as written. Raises RuleProblem."""
    if row["job"] not in JOBS:
        raise RuleProblem(f"“{row['job']}” is not a job; one of {', '.join(JOBS)}.")
    try:
        words = re.compile(row["from_words"])
    except re.error:
        raise RuleProblem(f"“{row['from_words']}” cannot be read as the food it replaces. Use plain words.") from None
    to, factor = read_to(row["to"])
    return Rule(
        row["id"], row["job"], words, to, factor, frozenset(row["where"].split()), row["household"], row["do_differently"],
        row["limits"], row["caution"], row["school"], int(row["minutes"] or 0), int(row["exotic"] or 0), row["source"],
        row.get("test_line", ""),
    )  # fmt: skip


@functools.cache
def catalog() -> tuple[Rule, ...]:
    """Every rule that ships."""
    return tuple(rule_from(row) for row in read_table("swaps.tsv"))


def own_rule(replaces: str, job: str, to: str, household: str, do_differently: str, source: str, rule_id: str) -> Rule:
    """A rule of a practice: `replaces` and `to` as a cook names foods. Raises RuleProblem, also for one that leads to itself."""
    goes = food_called(replaces.strip())
    parts, factor = read_to(to)
    if goes in {food_id for food_id, _ in parts}:
        raise RuleProblem(f"The rule puts “{replaces}” in its own place. Name another food, or use @less 0.5.")
    words = re.compile(re.escape(foods().by_id(goes).description.lower()) + "$")
    if job not in JOBS:
        raise RuleProblem(f"“{job}” is not a job; one of {', '.join(JOBS)}.")
    return Rule(
        rule_id, job, words, parts, factor, frozenset(["any"]), household, do_differently, "", "", "", 0, 0,
        source or "own rule",
    )  # fmt: skip


def rules_for(description: str, kind: str, own: Iterable[Rule] = ()) -> list[Rule]:
    """Rules that suit a food in a kind of dish, a practice's own first."""
    return [rule for rule in (*own, *catalog()) if rule.suits(description, kind)]
