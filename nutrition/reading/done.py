"""What the steps do to a line, as far as a method of the kitchen asks: a method is on offer only where a step does it, or the line says so.

"Marinade, poured off" of a brownie's sugar is no offer: no step marinates, and none pours off.
"""

import functools
from collections.abc import Sequence

from nutrition.dish.cooking import Method, methods, treatments
from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.food.spoken import without_accents
from nutrition.reading.mentions import Called, called, is_meant
from nutrition.reading.unlisted import tokens_named


def on_offer(dish: Dish, position: int) -> list[tuple[str, str, bool]]:
    """(key, words, whether it stands) of what may be done to a line in this dish; as cooking.treatments, less what nobody does."""
    line = dish.lines[position]
    return [
        (key, words, stands)
        for key, words, stands in treatments(line)
        if stands or key not in methods() or is_done(methods()[key], line, dish.steps)
    ]


def is_done(method: Method, line: Line, steps: Sequence[str]) -> bool:
    """Whether a step that names the line does it, or the line's own words say it is done.

    >>> from nutrition.reading.recipe import read_line
    >>> soy = read_line("4 tbsp soy sauce")
    >>> is_done(methods()["poured-off"], soy, ["Stir the soy sauce into the noodles."])
    False
    >>> is_done(methods()["poured-off"], soy, ["Marinate the tofu in the soy sauce for 1 hour, then drain it."])
    True
    """
    if not method.does.pattern:
        return True
    if line.words_hold and method.does.search(line.text):
        return True
    return any(method.does.search(step) for step in _naming(called(line), tuple(steps)))


@functools.lru_cache(maxsize=4_096)
def _naming(line: Called, steps: tuple[str, ...]) -> tuple[str, ...]:
    """The steps that name a line, lower case, each with the one after it: "Boil the potatoes." "Drain.\""""
    plain = [without_accents(step.lower()) for step in steps]
    named = [any(is_meant(tokens, True, [line]) for tokens in tokens_named(step)) for step in steps]
    return tuple(" ".join(plain[at : at + 2]) for at, is_named in enumerate(named) if is_named)
