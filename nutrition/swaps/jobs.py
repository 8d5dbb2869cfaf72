"""What each line does in this dish, read from its food, the kind of dish and the words of the steps.

tables/jobs.tsv; common practice. A person's own choice of jobs for a line wins over what is read.
"""

import functools
import re
from collections.abc import Mapping, Sequence

from nutrition.dish.dish import KINDS
from nutrition.dish.line import Line
from nutrition.food.table import foods, remembered
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


@functools.cache
def _rules() -> tuple[tuple[str, re.Pattern[str], frozenset[str], float], ...]:
    return tuple(
        (row.one_of("job", JOBS), row.pattern("words", re.I), row.words("dishes", KINDS), row.number("weight"))
        for row in read_table("jobs.tsv")
    )


@remembered
def _jobs_of_food(food_id: str, kind: str) -> tuple[str, ...]:
    description = foods().by_id(food_id).description
    found = [job for job, words, kinds, _ in _rules() if words.search(description) and (kinds & {"any", kind})]
    return tuple(dict.fromkeys(found))


#: Steps that put crumbs on a dish, and steps that put them into it.
_ON_TOP = re.compile(r"\b(top|scatter|sprinkle|cover|strew)\b[^.;]*\b(crumb|breadcrumb|panko)", re.I)
_MIXED_IN = re.compile(r"\b(mix|stir|combine|knead|work|mash)\b[^.;]*\b(crumb|breadcrumb|panko)", re.I)
_CRUMBS = re.compile(r"crumbs|panko", re.I)


def _by_place(line: Line, found: tuple[str, ...], steps: Sequence[str]) -> tuple[str, ...]:
    """Crumbs bind what they are mixed into, whatever the dish is called; a topping binds nothing."""
    told = ". ".join(steps)
    if not (line.food_id and _CRUMBS.search(foods().by_id(line.food_id).description)):
        return found
    if _MIXED_IN.search(told):
        return found if "binds" in found else ("binds", *found)
    return tuple(job for job in found if job != "binds") if _ON_TOP.search(told) else found


def jobs_of(
    line: Line,
    kind: str = "any",
    own: Mapping[str, Sequence[str]] | None = None,
    key: str = "",
    steps: Sequence[str] = (),
) -> tuple[str, ...]:
    """The jobs of one line, heaviest first. `own`: line key -> jobs that a person set; `steps`: what is done with it."""
    if own and key in own:
        return tuple(own[key])
    if not line.food_id:
        return ()
    found = _jobs_of_food(line.food_id, kind)
    if steps:
        found = _by_place(line, found, steps)
    if line.weight and line.weight.likely <= 12:
        found = tuple(job for job in found if job not in ("bulk", "protein")) or found
    return tuple(sorted(found, key=lambda job: -weight_of(job)))


@functools.cache
def weight_of(job: str) -> float:
    """How much a dish changes when this job is not done, 1 to 5."""
    return max((weight for name, _, _, weight in _rules() if name == job), default=1.0)
