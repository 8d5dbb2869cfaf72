"""What the foods of the table hold of allergens and of what plans avoid: tables/contents.tsv, built by
tools/build_contents.py from the rule of made_of.py and read row by row for the commonest foods.

A label speaks first; a food of nobody's table is read by the rule.
"""

import functools
from dataclasses import dataclass

from nutrition.food.additives import by_name
from nutrition.food.made_of import made_of
from nutrition.food.spoken import TRACES, hits_of_words, look_for
from nutrition.food.table import foods, remembered
from nutrition.food.tags import CHECK, CONTAINS, FOOD, TAGS, Hit, strongest
from nutrition.notes import note
from nutrition.tables import pattern, read_table

#: Who decided what a row holds: the rule, or somebody who read the row.
RULE, REVIEW = "rule", "review"


@dataclass(frozen=True, slots=True)
class Contents:
    """One row of contents.tsv. `kinds`: what it was taken for; `decided`: rule or review."""

    contains: tuple[str, ...]
    check: tuple[str, ...]
    kinds: tuple[str, ...]
    decided: str


@functools.cache
def contents() -> dict[str, Contents]:
    """Food id -> what it holds, of every food of the table."""
    return {
        row["food"]: Contents(
            row.listed("contains", TAGS),
            row.listed("check", TAGS),
            row.listed("kinds", between="; "),
            row.one_of("decided", ("rule", "review")),
        )
        for row in read_table("contents.tsv")
    }


@remembered
def hits_of_food(food_id: str) -> tuple[Hit, ...]:
    """What a food holds, one hit a tag. Raises KeyError when there is none of this id."""
    food = foods().by_id(food_id)
    if food.id in foods().printed:
        return hits_of_label(food.description, *foods().printed[food.id])
    by_rule = made_of(food.description, food.category).hits
    row = contents().get(food.id)
    if not row:
        return by_rule
    why = {(hit.tag, hit.verdict): hit for hit in by_rule}
    decided = [(tag, CONTAINS) for tag in row.contains] + [(tag, CHECK) for tag in row.check]
    return tuple(why.get(each) or _reviewed(*each, food.description) for each in decided)


def _reviewed(tag: str, verdict: str, description: str) -> Hit:
    """What a reading of the row found and no rule says."""
    because = note("food.look_for", text=look_for(tag))
    return Hit(tag, verdict, description, FOOD, because, "common practice: the row was read")


def hits_of_label(name: str, ingredients: str, may_contain: str) -> tuple[Hit, ...]:
    """What a label says it holds: its list, what it states to contain, its line of traces as a matter to look at, and
    what the name says outright. "Contains: soy" is the maker's word, whatever the list leaves open (soy lecithin).

    A name that sends one to the label ("stock") has been answered: somebody read it.

    >>> [(hit.tag, hit.verdict) for hit in hits_of_label("Green sauce", "basil, cashews, salt", "may contain milk")]
    [('tree_nut', 'contains'), ('milk', 'check the label')]
    """
    ingredients = by_name(ingredients)
    if ingredients:
        name = pattern("flavor_of").sub(" ", name)  # "chicken flavor noodles": the list says whether there is any
    said, perhaps = _statements(may_contain)
    traces = tuple(hit.softened(TRACES) for hit in hits_of_words(perhaps, FOOD)) if perhaps else ()
    outright = (hit for hit in hits_of_words(name, FOOD) if hit.verdict == CONTAINS)
    stated = hits_of_words(said, FOOD) if said else ()
    return strongest(*hits_of_words(ingredients, FOOD), *outright, *stated, *traces)


def _statements(printed: str) -> tuple[str, str]:
    """What the maker says a packet contains, and what it may contain.

    >>> _statements("Contains: soy, milk. May contain nuts.")
    ('soy, milk', 'May contain nuts')
    >>> _statements("milk and nuts"), _statements("Contains milk, may contain nuts")
    (('', 'milk and nuts'), ('milk', 'may contain nuts'))
    """
    said, perhaps = [], []
    for sentence in pattern("sentence_end").split(printed):
        sentence = sentence.strip(" .")
        stated, traces = pattern("says_contains").match(sentence), pattern("traces").search(sentence)
        if stated and not (traces and traces.start() == 0):
            said.append(sentence[stated.end() : traces.start() if traces else None].strip(" .:,"))
            perhaps += [traces[0]] if traces else []
        elif sentence:
            perhaps.append(sentence)
    return "; ".join(said), "; ".join(perhaps)
