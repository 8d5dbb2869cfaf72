"""Where the times of a step pass: in the oven, on the hob, in the fridge, in somebody's hands, or nowhere. By what the clause around each
does (tables/operations.tsv), never by the one verb that stands nearest.
"""

import functools

from nutrition.dish.method import APPLIANCES, FRIDGE, GRILL, HANDS, HOB, OVEN, WAIT, Time
from nutrition.reading.clauses import heats, operations_in, sentences_of, where_clauses_part
from nutrition.reading.steps import waits_of
from nutrition.tables import pattern

#: Operations that somebody does, and those through which nothing is done.
_BY_HAND = frozenset(("mix", "blend"))
_LEFT = frozenset(
    ("rest", "cool", "marinate_keep", "marinate_discard", "brine_discard", "soak_discard", "strain_discard")
)


@functools.lru_cache(maxsize=4_096)
def times_of(text: str) -> tuple[Time, ...]:
    """Every time a step names, as `waits_of` finds them, with where it passes.

    >>> [(time.where, time.is_watched) for time in times_of("Fry for 3 minutes, stirring, then bake for 20 minutes. Leave to rest for 10 minutes.")]
    [('hob', True), ('oven', False), ('wait', False)]
    """
    named = waits_of(text)
    if not named:
        return ()
    found, where = [], ""
    for clause in _clauses(text):
        for wait in waits_of(clause):
            stays = where in (OVEN, GRILL, HOB) and pattern("other_heat").search(clause)
            where = where if stays else _where(clause) or where or WAIT
            found.append(Time(wait.seconds, wait.most_seconds, where, _is_watched(clause, where)))
    return (
        tuple(found)
        if len(found) == len(named)
        else tuple(Time(wait.seconds, wait.most_seconds, _where(text) or WAIT, False) for wait in named)
    )


def _clauses(text: str) -> list[str]:
    """The clauses of a step; one that names no time and does nothing of its own goes with the next ("turn off the oven and leave it in")."""
    found: list[str] = []
    for sentence in sentences_of(text):
        start, waits = 0, ""
        for part in (*(each.start() for each in where_clauses_part(sentence)), len(sentence)):
            clause, start = waits + sentence[start:part], part
            waits = "" if waits_of(clause) or operations_in(clause) else clause
            if not waits:
                found.append(clause)
        found += [waits] if waits else []
    return found


def _where(clause: str) -> str:
    """Where what a clause does is done; empty where it does not tell."""
    if pattern("stands_in_oven").search(clause):
        return OVEN
    does = set(operations_in(clause))
    for appliance in (OVEN, GRILL, FRIDGE, HOB):
        if does & APPLIANCES[appliance]:
            return appliance
    if does & _LEFT:
        return WAIT
    if heats(clause):
        return HOB
    return HANDS if does & _BY_HAND else ""


def _is_watched(clause: str, where: str) -> bool:
    """Whether somebody stands by: fries, stirs, whisks."""
    if where == HANDS:
        return True
    return where == HOB and bool(
        {"fry", "heat_dry", "deep_fry"} & set(operations_in(clause)) or pattern("watched").search(clause)
    )
