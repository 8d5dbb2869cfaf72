"""Changes to one line, as a person types or chooses them: values in, a new Line out. Every refusal is a Problem."""

import re
from collections.abc import Mapping
from dataclasses import replace

from nutrition.dish.grams import Grams
from nutrition.dish.line import Line, worst
from nutrition.food.table import foods
from nutrition.notes import NOTHING, Problem, note
from nutrition.reading.lines import parse
from nutrition.reading.matching import search_foods
from nutrition.reading.other_words import in_our_words
from nutrition.reading.recipe import read_line
from nutrition.reading.weigh import MOST_GRAMS, Weight, weigh

LONGEST_LINE = 300
_BARE_GRAMS = re.compile(r"^\s*([+-]?\d+(?:[.,]\d+)?)\s*(g|grams?)?\s*$", re.I)


def with_amount(line: Line, typed: str, kitchen: str = "") -> Line:
    """The line with another amount: "450", "450 g", "1½ cups", "2 large". A bare number is grams.

    `kitchen`: whose pints and spoons are meant; empty: as the words tell.
    """
    typed = typed.strip()
    if not line.food_id:
        raise Problem("reading.no_food_yet")
    if not typed:
        raise Problem("reading.no_amount_typed")
    if re.match(r"\s*[-−–]", typed):
        raise Problem("reading.below_zero", typed=typed)
    weight = _weight_typed(line.food_id, typed, kitchen)
    grams = weight.grams
    if grams is None or not 0 < grams.likely <= MOST_GRAMS:
        raise Problem("reading.amount_impossible", typed=typed, grams=grams.likely if grams else 0.0, most=MOST_GRAMS)
    sure = worst(line.sure_of_food, weight.sure)
    return line.edited(weight=grams, how=weight.how, rule=weight.rule, sure=sure)


#: What is said of an amount and names none: its article is no one.
_A_GOOD_DEAL = re.compile(r"\b(few|deal|several|lots?|plenty|many|much|more|some|little|enough)\b", re.I)


def _weight_typed(food_id: str, typed: str, kitchen: str) -> Weight:
    food, plain = foods().by_id(food_id), _BARE_GRAMS.match(typed)
    if plain:
        return Weight(Grams.exactly(float(plain[1].replace(",", "."))), "weight", note("reading.typed_in_grams"))
    name = re.split(r"[,(]", food.description.lower())[0]
    weight = weigh(parse(f"{typed} {name}", kitchen), food)
    if weight.grams is None or weight.how == "none" or _A_GOOD_DEAL.search(typed):
        raise Problem("reading.amount_unclear", typed=typed, food=food.description)
    return weight


def with_food(line: Line, food_id: str, *, words_hold: bool = False, kitchen: str | None = None) -> Line:
    """Another food: at the same weight where it takes the place of what was meant. Raises Problem when there is no such food.

    `words_hold`: the food is what the words meant, not something put in its place; so is any food the words left open. `kitchen`: whose cups
    and spoons weigh it anew where it is what the words meant and nobody typed its grams; None: the weight stands, as at the stove.
    """
    try:
        food = foods().by_id(food_id)
    except KeyError:
        raise Problem("reading.food_gone") from None
    words_hold = words_hold or food.id in (line.food_id, *line.others)
    is_measured = words_hold and not line.is_edited and line.how in ("volume", "count", "package")
    if line.weight is None or (kitchen is not None and is_measured):
        again = weigh(parse(in_our_words(line.text), kitchen or ""), food)
        if again.grams and not again.per_serving:
            line = replace(line, weight=again.grams, how=again.how, rule=again.rule)
    return line.edited(
        food_id=food.id,
        sure="sure" if line.weight else "check",
        why=note("reading.chosen_by_hand"),
        ask=NOTHING,
        others=(),
        words_hold=line.words_hold and words_hold,
        state="",
        advice="",
        made="",
        eaten=(),
    )


def sure_of_weight(line: Line, kitchen: str = "") -> str:
    """How sure a line is of its weight, whatever its food."""
    if not line.food_id or not line.weight:
        return "check"
    if line.how == "weight":
        return "sure"
    return weigh(parse(in_our_words(line.text), kitchen), foods().by_id(line.food_id)).sure


def reread(text: str, serves: float | None, kitchen: str = "", aliases: Mapping[str, str] | None = None) -> Line:
    """A line typed anew, as in a recipe. Raises Problem when no words were typed."""
    if not text.strip():
        raise Problem("reading.nothing_typed")
    if len(text) > LONGEST_LINE:
        raise Problem("reading.line_too_long", length=len(text), most=LONGEST_LINE)
    return read_line(text.strip(), serves, kitchen, aliases=aliases)


def foods_to_choose(line: Line, limit: int = 9) -> list[str]:
    """Food ids to choose from for a line: the match, what else it may be, then what the search box finds by its words."""
    found = dict.fromkeys([line.food_id] if line.food_id else [])
    found.update(dict.fromkeys(line.others))
    parsed = parse(in_our_words(line.text))
    words = parsed.names[0] if parsed.names else line.text
    found.update(dict.fromkeys(food.id for food in search_foods(words, limit)))
    return list(found)[:limit]
