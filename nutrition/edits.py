"""Changes to one line of a try: another amount, another food. Values in, a new Line out.

Every refusal is an EditProblem whose sentence says what was read, what was expected and what to do.
"""

import re
from dataclasses import replace

from .composition import foods
from .lines import parse
from .matching import matcher
from .recipe import Line, read_line, worst
from .weights import MOST_GRAMS, weigh


class EditProblem(ValueError):
    """What was typed cannot be taken; the sentence is for the cook."""


_PLAIN = re.compile(r"^\s*([+-]?\d+(?:[.,]\d+)?)\s*(g|grams?)?\s*$", re.I)


def with_amount(line: Line, typed: str) -> Line:
    """The line with another amount: "450", "450 g", "1½ cups", "2 large". A bare number is grams."""
    typed = typed.strip()
    if not line.food_id:
        raise EditProblem("This line has no food yet. Choose the food first, then its amount.")
    if not typed:
        raise EditProblem("No amount was typed. Type grams or a measure, as in 450 or 1½ cups.")
    food = foods().by_id(line.food_id)
    if re.match(r"\s*[-−–]", typed):
        raise EditProblem(f"“{typed}” is below zero. Type an amount above zero, or drop the line.")
    plain = _PLAIN.match(typed)
    if plain:
        grams = float(plain[1].replace(",", "."))
        low = high = grams
        how, rule, sure = "weight", "typed in grams", "sure"
    else:
        weight = weigh(parse(f"{typed} {_plain_name(food.description)}"), food)
        if weight.grams is None or weight.how == "none":
            raise EditProblem(
                f"“{typed}” was not understood as an amount of {food.description}. Type grams, as in 450."
            )
        low, grams, high, how, rule, sure = weight.low, weight.grams, weight.high, weight.how, weight.rule, weight.sure
    if not 0 < grams <= MOST_GRAMS:
        raise EditProblem(
            f"“{typed}” is {grams:,.0f} g. Type an amount above 0 and up to {MOST_GRAMS:,.0f} g; to leave the food out, drop the line."
        )
    sure = worst(line.sure_of_food, sure)
    return replace(line, low=low, grams=grams, high=high, how=how, rule=rule, sure=sure, is_edited=True)


def _plain_name(description: str) -> str:
    return re.split(r"[,(]", description.lower())[0]


def with_food(line: Line, food_id: str, *, words_hold: bool = False) -> Line:
    """Another food at the same weight. Raises EditProblem when there is no such food.

    `words_hold`: the food is what the words meant, not something put in its place; so is any food the words left open.
    """
    try:
        food = foods().by_id(food_id)
    except KeyError:
        raise EditProblem("That food is not in the table any more. Search for it again.") from None
    words_hold = words_hold or food.id in (line.food_id, *line.others)
    weight = (line.low, line.grams, line.high, line.how, line.rule)
    if line.grams is None:
        again = weigh(parse(line.text), food)
        weight = (again.low, again.grams, again.high, again.how, again.rule)
    low, grams, high, how, rule = weight
    return replace(
        line, food_id=food.id, low=low, grams=grams, high=high, how=how, rule=rule,
        sure="sure" if grams is not None else "check", why="chosen by hand", ask="", others=(), is_edited=True,
        words_hold=line.words_hold and words_hold, state="", advice="",
    )  # fmt: skip


def reread(text: str, serves: float, aliases=None) -> Line:
    """A line typed anew, as in a recipe. Raises EditProblem when no words were typed."""
    if not text.strip():
        raise EditProblem("Nothing was typed. Write the line as in a recipe, as in 2 tbsp lemon juice.")
    if len(text) > 300:
        raise EditProblem(f"{len(text)} characters were typed; one ingredient line of at most 300 is expected.")
    return read_line(text.strip(), serves, aliases=aliases)


def choices(line: Line, limit: int = 9) -> list[str]:
    """Food ids to choose from for a line: the match, what else it may be, then the nearest by words."""
    found = dict.fromkeys([line.food_id] if line.food_id else [])
    found.update(dict.fromkeys(line.others))
    parsed = parse(line.text)
    words = parsed.names[0] if parsed.names else line.text
    found.update(dict.fromkeys(foods().ids[row] for row in matcher().search(words, limit)))
    return list(found)[:limit]
