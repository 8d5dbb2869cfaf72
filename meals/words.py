"""What is said of tables, batches and plans: values in, words out."""

import re
from collections.abc import Mapping, Sequence
from datetime import date, timedelta
from typing import Any

from nutrition.food.units import kitchen_number
from nutrition.limits.gates import MEAL_SHARES
from nutrition.meals.leftovers import Batch

#: A plan as it was kept: choices, what is stuck, how much each day holds; plain values.
Kept = Mapping[str, Any]
#: (meal, [(dish, how much for whom)])
LaidMeals = list[tuple[str, list[tuple[str, str]]]]


def portion_words(words: str) -> str:
    """ "2 servings", "half a serving"; words that name what they count as they are."""
    plain = {"1": "1 serving", "half": "half a serving"}.get(words)
    return plain or (f"{words} servings" if re.fullmatch(r"[\d.,/ ½¼¾⅓⅔]+", words) else words)


def servings_words(words: str) -> str:
    """A portion that was found: "none", "half a serving", "1¾ servings"."""
    if words == "none":
        return words
    servings = float(words)
    if servings == 0.5:
        return "half a serving"
    return f"{kitchen_number(servings)} serving{'s' if servings > 1 else ''}"


def batch_words(batch: Batch, here: date) -> str:
    """ "A batch of 8: 4 here, 2 on Thursday, December 24; 2 are left: eat them by Friday, December 25, or freeze them until June 2027"."""
    uses = [
        f"{kitchen_number(use.servings)} {'here' if use.on == here else f'on {use.on:%A, %B} {use.on.day}'}"
        for use in batch.uses
        if use.servings
    ]
    said = f"A batch of {kitchen_number(batch.made)}: {', '.join(uses)}"
    late = [f"{use.on:%A}" for use in batch.too_late]
    if late:
        said += f". It keeps until {batch.eat_by:%A, %B} {batch.eat_by.day}: what is meant for {', '.join(late)} goes into the freezer"
    if batch.rest > 0.05:
        frozen = f", or frozen until {batch.frozen_until:%B %Y}" if batch.frozen_until else ""
        said += f". {kitchen_number(batch.rest)} left: to be eaten by {batch.eat_by:%A, %B} {batch.eat_by.day}{frozen}"
    if batch.rest < -0.05:
        said += f". That is {kitchen_number(-batch.rest)} more than there is"
    return f"{said}."


def by_day(result: Kept, monday: date) -> tuple[list[tuple[date, LaidMeals, list[tuple[str, bool]]]], list[str]]:
    """[(date, [(meal, [(dish, how much for whom)])], [(energy of the day in words, whether it is enough)])] of a plan, for the page; and
    what is left open, in words."""
    are_several = len({each["person"] for each in result["choices"]}) > 1
    days = []
    for number in sorted({each["day"] for each in result["choices"]}):
        chosen = [each for each in result["choices"] if each["day"] == number]
        meals = [
            (meal, _dishes_of([each for each in chosen if each["meal"] == meal], are_several)) for meal in MEAL_SHARES
        ]
        # Plans found before the energy was kept with them have none.
        fed = [_fed_words(each, are_several) for each in result.get("fed", ()) if each["day"] == number]
        days.append((monday + timedelta(days=number), [(meal, dishes) for meal, dishes in meals if dishes], fed))
    return days, [_stuck_words(each, monday) for each in result["stuck"]]


def _fed_words(fed: Kept, are_several: bool) -> tuple[str, bool]:
    """ "1,240 kcal for Ines, 62 % of 2,000", and whether that is enough."""
    whose = f" for {fed['name']}" if are_several else ""
    of = f", {fed['energy'] / fed['need']:.0%} of {fed['need']:,.0f}".replace("%", " %") if fed["need"] else ""
    return f"{fed['energy']:,.0f} kcal{whose}{of}", fed["is_enough"]


def is_enough(result: Kept) -> bool:
    """Whether no day of a plan holds too little of anybody's need."""
    return all(each["is_enough"] for each in result.get("fed", ()))


def what_it_is(result: Kept, days: Sequence[object], stuck: Sequence[object]) -> str:
    """The heading of a plan. Nothing is called within every limit that does not feed those it is for."""
    if not days:
        return "No plan"
    if stuck:
        return "A plan, with places left open"
    return "A plan within every limit" if is_enough(result) else "A plan with too little to eat"


def _dishes_of(chosen: Sequence[Kept], are_several: bool) -> list[tuple[str, str]]:
    """Each dish once, with what everybody has of it."""
    told: dict[tuple[str, str], list[str]] = {}
    for each in chosen:
        told.setdefault((each["key"], each["title"]), []).append(_told(each, are_several))
    return [(title, "; ".join(words)) for (_, title), words in told.items()]


def _told(choice: Kept, are_several: bool) -> str:
    """ "1¼ for Ines, 2 slices of bread (60 g)"."""
    whose = f" for {choice['name']}" if are_several else ""
    check = [f"check the label: {' and '.join(choice['check'])}"] if choice["check"] else []
    told = [f"{kitchen_number(choice['servings'])}{whose}", *(each["words"] for each in choice["beside"]), *check]
    # Plans found before reminders were kept with them have none.
    return ", ".join(told) + "".join(f"; mind: {words}" for words in choice.get("mind", ()))


def _stuck_words(stuck: Kept, monday: date) -> str:
    day = f"{monday + timedelta(days=stuck['day']):%A}"
    if stuck["meal"]:
        return f"{day}: no dish of the library suits {stuck['meal']} for {stuck['name']}."
    known = "no choice of these dishes" if stuck["is_proven"] else "in the work a day is given no choice was found that"
    misses = f"; the nearest leaves {', '.join(stuck['misses'])}" if stuck["misses"] else ""
    return f"{day}: {known} keeps {stuck['name']} within every limit{misses}."
