"""What the meals room says."""

from collections.abc import Sequence

from nutrition.food.nutrients import BY_KEY
from nutrition.food.tags import TAGS
from nutrition.food.units import kitchen_number
from nutrition.reading.steps import duration
from nutrition.sheet.cautions import text_of
from nutrition.sheet.verdicts import SHUT


def _and(words: Sequence[str]) -> str:
    return " and ".join(", ".join(words).rsplit(", ", 1))


def _tags(tags: Sequence[str]) -> str:
    return _and([TAGS[tag].lower() for tag in tags])


def _takes(nutrient: str, part: float, state: str, is_open_ended: bool) -> str:
    """ "62 % of the sodium"; of a dish that passes the meal's limit by itself, that it does."""
    label = BY_KEY[nutrient].label.lower()
    if is_open_ended:
        return f"{label}: how much is not known"
    share = f"{part:.0%} of the meal’s {label}"
    return f"alone {share}" if state == SHUT else f"may pass the meal’s {label} alone" if state != "open" else share


def _serving(nutrient: str, part: float, state: str, is_open_ended: bool) -> str:
    label = BY_KEY[nutrient].label.lower()
    if is_open_ended:
        return f"{label}: how much is not known"
    return f"{part:.0%} of the {label} a serving may hold"


def _mind(kind: str, about: str) -> str:
    """What is to be minded of a dish."""
    return f"mind: {text_of(about) if kind == 'caution' else f'will not eat {about}'}"


def _counted(count: float, one: str, many: str, grams: float) -> str:
    return f"{kitchen_number(count)} {one if count <= 1 else many} ({grams:.0f} g)"


def _servings(servings: float) -> str:
    return f"{kitchen_number(servings)} serving{'s' * (servings > 1)}"


def _take_out(step: int, names: Sequence[str], lines: Sequence[str], part: float, servings: float, grams: float) -> str:
    return (
        f"Before step {step}, before {_and(lines)} go{'es' * (len(lines) == 1)} in, take out the part of {_and(names)}: "
        f"{_servings(servings)}, {part:.0%} of the pot, about {grams:.0f} g as weighed in. "
        f"It goes on in a pan of its own, with its part of what follows and without {_and(lines)}."
    )


def _amounts(lines: Sequence[tuple[str, float | None]]) -> str:
    """ "150 g of cream and 2.6 g of salt"; what nobody weighed by its name alone."""
    return _and(
        [name if grams is None else f"{grams:.{0 if grams >= 10 else 1}f} g of {name}" for name, grams in lines]
    )


def _goes_on(lines: Sequence[tuple[str, float | None]]) -> str:
    return f"The rest goes on with {_amounts(lines)}."


def _when_done(names: Sequence[str], lines: Sequence[tuple[str, float | None]], part: float, servings: float) -> str:
    return (
        f"Leave {_and([name for name, _ in lines])} out of the pot. When it is done, take out the part of {_and(names)}: "
        f"{_servings(servings)}, {part:.0%} of it. Then {_amounts(lines)} "
        f"for the rest: stir in, and taste."
    )


def _own_pot(names: Sequence[str], lines: Sequence[str], servings: float) -> str:
    return (
        f"{_and(lines).capitalize()} go{'es' * (len(lines) == 1)} in at the beginning, or no step says when: cook the part of "
        f"{_and(names)}, {_servings(servings)}, in a pot of its own from the start."
    )


def _own_batch(names: Sequence[str], lines: Sequence[str], servings: float) -> str:
    return f"{_and(lines).capitalize()} cannot be taken out again: make the part of {_and(names)}, {_servings(servings)}, as a batch of its own."


def _pays(nutrient: str, part: float, share: float) -> str:
    return f"takes {part:.0%} of the meal’s {BY_KEY[nutrient].label.lower()} where its share is {share:.0%}"


def _ready_early(minutes: float, how: str) -> str:
    return f"Ready {duration(minutes * 60)} early. {how}"


def _borrowed_heat(own_c: int, c: int, own: float, minutes: float) -> str:
    return (
        f"In the oven at {c} °C with the others instead of {own_c} °C: about {duration(minutes * 60)} instead of "
        f"{duration(own * 60)}. Look, or take its temperature, before you trust it."
    )


SENTENCES = {
    "ready_early": _ready_early,
    "borrowed_heat": _borrowed_heat,
    "portion_unread": "“{words}” is no portion that can be read. Write it as in half, 2, 180 g, 3 spoons, 2 slices, 1/6 of it, or none.",
    "portion_too_much": "“{words}” would be {servings:,.3g} servings of one dish; up to 20 are expected. Check the number.",
    "portion_unweighed": "What this dish weighs is not known, so grams of it say nothing. Write the portion in servings, as in half or 2.",
    "no_weight": "“{words}” leaves open how much it is. Write it with its weight, as in 1 slice of bread, 35 g.",
    "contains": lambda tags: f"contains {_tags(tags)}",
    "check_label": lambda tags: f"check the label: {_tags(tags)}",
    "step_adds": "a step adds {words}: check it",
    "mind": _mind,
    "named": "noted allergy: {words} is named",
    "takes": _takes,
    "serving": _serving,
    "counted": _counted,
    "pays": _pays,
    "room_pays": _pays,
    "take_out": _take_out,
    "goes_on": _goes_on,
    "left_out_for_all": lambda names, lines: (
        f"Leave {_and(lines)} out: nobody who eats of it ({_and(names)}) has {'it' if len(lines) == 1 else 'them'}."
    ),
    "own_pot": _own_pot,
    "own_batch": _own_batch,
    "when_done": _when_done,
    "cook_first": lambda tag, names, first, after: (
        f"For {_and(names)}: cook {_and(first)} first, before {_and(after)}, with clean boards, pans and spoons."
    ),
    "own_pan": lambda tag, names, dishes: (
        f"{_and(dishes)} contain{'s' * (len(dishes) == 1)} {TAGS[tag].lower()}, which {_and(names)} keep{'s' * (len(names) == 1)} out: a pan and a spoon of its own, also at the table."
    ),
}
