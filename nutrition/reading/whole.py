"""A dish as it is eaten: its lines, with what its steps leave of each, and behind them what its steps add.

Every figure, finding and claim is asked of this.
"""

import functools
from collections.abc import Sequence
from dataclasses import replace

from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.method import REFUSE
from nutrition.food.names import normalized
from nutrition.notes import note
from nutrition.reading.lines import clean
from nutrition.reading.method import method_of
from nutrition.reading.recipe import read_line
from nutrition.reading.unlisted import Unlisted, unlisted

#: How the key of a line begins that a step adds.
FROM_STEP = "step-"


def key_of(added: Unlisted) -> str:
    """The key of the line that an addition makes; the same as long as the step says it."""
    return f"{FROM_STEP}{added.step}-{'-'.join(added.words.split())}"[:40]


def marked(dish: Dish) -> Dish:
    """The dish with what its steps leave of each line noted at it: pure reading, until somebody says what is eaten.

    >>> from nutrition.reading.recipe import read_line
    >>> steps = ("Marinate the tofu in the soy sauce for an hour.", "Discard the marinade and grill the tofu.")
    >>> [line.leaves for line in marked(Dish("Tofu", 2, (read_line("300 g tofu"), read_line("4 tbsp soy sauce")), steps)).lines]
    [(), (('poured-off', 'all'),)]
    """
    if not dish.steps:
        return dish
    return _marked(dish)


@functools.lru_cache(maxsize=2_048)
def _marked(dish: Dish) -> Dish:
    own = dish.listed.lines
    found: dict[int, list[tuple[str, str]]] = {}
    for each in method_of(dish.steps, own).leaves:
        # A piece is counted as what is eaten of it: only a weight may hold bone and shell.
        if each.how not in REFUSE or own[each.line].how in _WEIGHED:
            found.setdefault(each.line, []).append((each.as_, each.share))
    lines = tuple(replace(line, leaves=tuple(found.get(at, ()))) for at, line in enumerate(own))
    return dish if lines == own else dish.with_lines((*lines, *dish.added))


_WEIGHED = ("weight", "package")


def whole_dish(dish: Dish) -> Dish:
    """The dish with what its steps add: behind its lines, one for each, of which the weight is vague or not known. What was waved off
    is not in it. Of a whole dish the same dish.

    >>> from nutrition.reading.recipe import read_line
    >>> soup = Dish("Soup", 4, (read_line("500 g carrots"),), ("Simmer.", "Stir in some butter."))
    >>> [(line.text, line.step, line.weight) for line in whole_dish(whole_dish(soup)).lines[1:]]
    [('butter', 2, None)]
    """
    if not dish.steps:
        return dish
    return _whole(dish)


@functools.lru_cache(maxsize=2_048)
def _whole(dish: Dish) -> Dish:
    own = marked(dish).listed.lines
    waved = {normalized(words) for words, _ in dish.waved}
    found = (
        as_line(each, dish.serves, dish.kitchen)
        for each in unlisted(dish.steps, own)
        if normalized(each.words) not in waved
    )
    # Water that stays holds nothing that is counted.
    lines = (*own, *(line for line in found if line.weight is None or line.weight.most))
    return dish if lines == dish.lines else dish.with_lines(lines)


def open_additions(dish: Dish) -> tuple[Line, ...]:
    """What a whole dish's steps add of which nobody knows how much: what is to be asked."""
    return tuple(line for line in dish.added if not line.is_weighed)


def without(dish: Dish, lines: Sequence[Line], why: str) -> Dish:
    """The dish with these lines left of it. What its steps then name of the ones that are gone is not added by them: somebody left it
    out, and said so."""
    left = dish.with_lines(lines)
    there = {line.text for line in dish.lines if line.step} | {
        line.text for line in whole_dish(dish).lines if line.step
    }
    kept = {line.text for line in lines if line.step}
    gone = [
        line.text for line in whole_dish(left).lines if line.step and (line.text not in there or line.text not in kept)
    ]
    return replace(left, waved=(*left.waved, *((words, why) for words in dict.fromkeys(gone)))) if gone else left


def as_line(added: Unlisted, serves: float | None = None, kitchen: str = "") -> Line:
    """What a step adds as a line: of a vague weight where the step says how it goes in, else of none."""
    line = read_line(clean(f"{added.words}, {added.cue}" if added.cue else added.words), serves, kitchen)
    ask = note("reading.step_adds", step=added.step, words=added.words)
    # Of what goes in nobody knows how, a line without an amount would be a spoonful: here it may be a cupful.
    weight = line.weight if added.cue or (line.weight and not line.weight.most) else None
    sure = line.sure if line.food_id and weight else "check"
    return replace(line, weight=weight, text=added.words, key=key_of(added), sure=sure, ask=ask, step=added.step)
