"""What part of a meal a dish is: a whole meal, or a part that leaves room for the rest.

A part is held against its share of what the meal allows, and against nothing a meal asks for: what is to be reached at least is
reached over the meal or the day. Shares and guesses: tables/roles.tsv.
"""

import functools
import re
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from nutrition.dish.dish import KINDS
from nutrition.tables import Row, read_table

WHOLE = "whole"
#: The meals of a day that a table may be laid for.
MEALS = ("breakfast", "lunch", "dinner", "snack")
#: Meals whose dish stands alone as a rule.
_ALONE = ("breakfast", "snack")
_LIES_IN = re.compile(r"\b(?:in|with|on|over)\b", re.I)


@dataclass(frozen=True, slots=True)
class Role:
    """`label`: as one would say it; `share`: of what a meal allows; `words` of a title and `kinds` of dishes that are one; `alone_at`:
    meals of which it may take all."""

    label: str
    share: float
    words: re.Pattern[str] | None
    kinds: frozenset[str]
    alone_at: frozenset[str]


def _read(row: Row) -> Role:
    words = row.pattern_or_none("words", re.I)
    return Role(row.text("label"), row.number("share"), words, row.words("kinds", KINDS), row.words("alone_at", MEALS))


#: key -> role, in the order of a menu.
ROLES = {row["key"]: _read(row) for row in read_table("roles.tsv")}


def share_of(role: str, meal: str, own: Mapping[str, float] = MappingProxyType({})) -> float:
    """The part of what a meal allows that a dish in this role may take. `own`: somebody's own shares.

    >>> share_of("side", "dinner"), share_of("side", "dinner", {"side": 0.4}), share_of("snack", "snack")
    (0.25, 0.4, 1.0)
    """
    return 1.0 if meal in ROLES[role].alone_at else own.get(role, ROLES[role].share)


def itself(title: str) -> str:
    """A title without what the dish lies in or goes with, which is not what it is.

    >>> itself("Cod in parsley sauce"), itself("Harbor stew with toasts")
    ('Cod ', 'Harbor stew ')
    """
    return _LIES_IN.split(title)[0]


@functools.lru_cache(maxsize=1 << 15)
def guess_role(kind: str, title: str, meal: str) -> str:
    """The role a dish has as a rule; a person may correct it.

    >>> guess_role("salad", "Carrot salad", "dinner"), guess_role("stew", "Pork in apple juice", "dinner")
    ('salad', 'whole')
    """
    if meal in _ALONE:
        return WHOLE
    said = itself(title)
    named = (key for key, role in ROLES.items() if role.words and role.words.search(said))
    usual = (key for key, role in ROLES.items() if kind in role.kinds)
    return next(named, None) or next(usual, WHOLE)
