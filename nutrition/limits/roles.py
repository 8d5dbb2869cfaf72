"""What part of a meal a dish is: a whole meal, or a part that leaves room for the rest.

A part is held against its share of what the meal allows, and against nothing a meal asks for: what is to be reached at least is
reached over the meal or the day. The shares are common practice of menu planning, from memory.
"""

import re
from dataclasses import dataclass

WHOLE = "whole"
#: Meals whose dish stands alone as a rule.
_ALONE = ("breakfast", "snack")
_BY_TITLE = (
    ("drink", re.compile(r"\b(drink|smoothie|lemonade|punch|juice|tea|shake)\b", re.I)),
    ("sauce", re.compile(r"^(?!.*\b(in|with)\b).*\b(sauce|dip|dressing|relish|chutney|gravy|salsa)\b", re.I)),
    ("dessert", re.compile(r"\b(dessert|custard|compote|sorbet|trifle|mousse)\b", re.I)),
)
_BY_KIND = {"salad": "salad", "bread": "bread", "cake": "dessert"}


@dataclass(frozen=True, slots=True)
class Role:
    """`label`: as one would say it; `share`: of what a meal allows."""

    label: str
    share: float


#: key -> role, in the order of a menu.
ROLES = {
    WHOLE: Role("whole meal", 1.0),
    "main": Role("main", 0.65),
    "side": Role("side", 0.25),
    "salad": Role("salad", 0.2),
    "soup": Role("soup before", 0.2),
    "bread": Role("bread", 0.15),
    "sauce": Role("sauce or dip", 0.15),
    "dessert": Role("dessert", 0.2),
    "drink": Role("drink", 0.1),
}


def guess_role(kind: str, title: str, meal: str) -> str:
    """The role a dish has as a rule; a person may correct it.

    >>> guess_role("salad", "Carrot salad", "dinner"), guess_role("stew", "Beef stew", "dinner"), guess_role("cake", "Scones", "snack")
    ('salad', 'whole', 'whole')
    """
    if meal in _ALONE:
        return WHOLE
    named = next((role for role, words in _BY_TITLE if words.search(title)), "")
    return named or _BY_KIND.get(kind, WHOLE)
