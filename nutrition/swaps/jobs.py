"""What each line does in this dish, read from its food, the kind of dish and what the steps do with it.

tables/jobs.tsv; common practice. A person's own choice of jobs for a line wins over what is read.
"""

import functools
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nutrition.dish.dish import KINDS
from nutrition.dish.line import Line
from nutrition.food.table import foods, remembered
from nutrition.reading.clauses import operations
from nutrition.tables import read_table

#: job -> words on screen, in the order a cook thinks of them.
JOBS = {
    "salty": "salty",
    "savory": "savory",
    "thickens": "thickens",
    "binds": "binds",
    "lifts": "lifts",
    "gluten's work": "gluten’s work",
    "creamy": "creamy",
    "fat": "fat",
    "browns": "browns",
    "sweet": "sweet",
    "sour": "sour",
    "crunch": "crunch",
    "bulk": "bulk",
    "protein": "protein",
    "milk": "milk",
    "color": "color",
    "keeps": "keeps",
}


@dataclass(frozen=True, slots=True)
class _Rule:
    """A row of tables/jobs.tsv. `through`: operations one of which the line goes through; `never`: none of which it goes through."""

    job: str
    words: re.Pattern[str]
    kinds: frozenset[str]
    through: frozenset[str]
    never: frozenset[str]
    weight: float

    def fits(self, description: str, kind: str, does: frozenset[str]) -> bool:
        """Whether a food does the job in a dish of this kind, done so with."""
        is_done = (not self.through or bool(self.through & does)) and self.never.isdisjoint(does)
        return is_done and not self.kinds.isdisjoint(("any", kind)) and bool(self.words.search(description))


@functools.cache
def _rules() -> tuple[_Rule, ...]:
    return tuple(
        _Rule(
            row.one_of("job", JOBS),
            row.pattern("words", re.I),
            row.words("dishes", KINDS),
            row.words("through", operations()),
            row.words("never", operations()),
            row.number("weight"),
        )
        for row in read_table("jobs.tsv")
    )


@functools.cache
def _deciding() -> frozenset[str]:
    """Operations that decide on a job."""
    return frozenset().union(*(rule.through | rule.never for rule in _rules()))


@remembered
def _jobs_of_food(food_id: str, kind: str, does: frozenset[str]) -> tuple[str, ...]:
    description = foods().by_id(food_id).description
    return tuple(dict.fromkeys(rule.job for rule in _rules() if rule.fits(description, kind, does)))


def jobs_of(
    line: Line,
    kind: str = "any",
    own: Mapping[str, Sequence[str]] | None = None,
    key: str = "",
    does: frozenset[str] = frozenset(),
) -> tuple[str, ...]:
    """The jobs of one line, heaviest first. `own`: line key -> jobs that a person set; `does`: the operations it goes through."""
    if own and key in own:
        return tuple(own[key])
    if not line.food_id:
        return ()
    found = _jobs_of_food(line.food_id, kind, does & _deciding())
    if line.weight and line.weight.likely <= 12:
        found = tuple(job for job in found if job not in ("bulk", "protein")) or found
    return tuple(sorted(found, key=lambda job: -weight_of(job)))


@functools.cache
def weight_of(job: str) -> float:
    """How much a dish changes when this job is not done, 1 to 5."""
    return max((rule.weight for rule in _rules() if rule.job == job), default=1.0)
