"""Offers built from the job a line does, for what a plan keeps out and no rule stands in for.

Of the foods a cook calls by name, and of a practice's own, those that do the same job and are most alike in water, protein, fat
and carbohydrate. Nobody tasted them: they say so, and come after every rule.
"""

import functools
import re
from collections.abc import Iterable

import numpy as np

from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.food.names import cook_name
from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods, the_table, using
from nutrition.notes import note
from nutrition.swaps.jobs import jobs_of
from nutrition.swaps.rules import Rule
from nutrition.tables import read_table

#: How many are built for a line, how near they are taken to be, and how unlike they may be at most (g of 100 g, summed).
MOST_BUILT, BUILT_CLOSENESS, MOST_UNLIKE = 3, 0.45, 60.0
#: What makes one food like another on a plate.
_MAKE_UP = [INDEX[key] for key in ("protein_g", "fat_g", "carbohydrate_g", "fiber_g")]
_EVERYTHING = re.compile("")


def _make_up(food_id: str) -> np.ndarray:
    values = foods().known[foods().by_id(food_id).row]
    return np.array([*values[_MAKE_UP], 100.0 - values[_MAKE_UP[:3]].sum()])


def _first_job(food_id: str, kind: str) -> str:
    return next(iter(jobs_of(Line(food_id, food_id, Grams.exactly(100.0)), kind)), "")


@functools.cache
def _named(kind: str) -> tuple[tuple[str, str], ...]:
    """(food id, first job) of every food that cooks call by a name of its own."""
    with using(the_table()):
        ids = dict.fromkeys(
            foods().by_description(row["food"]).id for row in read_table("cooks_names.tsv") if row["sure"] != "check"
        )
        return tuple((food_id, _first_job(food_id, kind)) for food_id in ids)


def _pool(kind: str) -> Iterable[tuple[str, str]]:
    own = [str(each) for each in foods().ids[len(the_table()) :]]
    return (*((food_id, _first_job(food_id, kind)) for food_id in own), *_named(kind))


def built_for(line: Line, kind: str) -> list[Rule]:
    """Foods that do the heaviest job of a line, most alike first; what may not come in is for the caller to tell."""
    job = next(iter(jobs_of(line, kind)), "")
    if not job or line.food_id is None:
        return []
    own = _make_up(line.food_id)
    unlike = {
        food_id: float(np.abs(_make_up(food_id) - own).sum())
        for food_id, does in _pool(kind)
        if does == job and food_id != line.food_id and foods().has_id(food_id)
    }
    return [_rule(food_id, job) for food_id in sorted(unlike, key=unlike.__getitem__) if unlike[food_id] <= MOST_UNLIKE]


def _rule(food_id: str, job: str) -> Rule:
    return Rule(
        f"built-{food_id}",
        job,
        _EVERYTHING,
        ((food_id, 1.0),),
        None,
        frozenset({"any"}),
        str(note("swaps.same_amount")),
        str(note("swaps.built", food=cook_name(food_id))),
        "",
        "",
        "",
        0,
        0,
        "built from the job it does",
        closeness=BUILT_CLOSENESS,
    )
