"""What somebody gets of a dish, in the words of the table: "half", "2", "180 g", "3 spoons", "2 slices", "1/6 of it"."""

import re
from collections.abc import Callable
from dataclasses import dataclass

from nutrition.dish.cooking import CookedWeight
from nutrition.food.units import GRAMS, ML, NUMBER, number_of
from nutrition.notes import Problem
from nutrition.tables import words_of

#: Nobody eats more servings than this of one dish; more is a slip of the finger.
MOST_SERVINGS = 20.0
#: Grams a milliliter of a dish holds: sauces, stews and grains lie around water, creams and batters a little off (common practice).
LIGHTEST, HEAVIEST = 0.9, 1.1
_AMOUNT = re.compile(
    rf"(?P<number>{NUMBER})?\s*(?P<unit>%|[a-z]+(?: oz)?\.?)?(?: (?P<whole>of (?:it|all|the .+)))?", re.I
)


@dataclass(frozen=True, slots=True)
class Portion:
    """So many servings of a dish, as a span; `words` as they were said. A scale knows grams and an estimate how much a
    serving weighs, so that "180 g" is a span too."""

    least: float
    likely: float
    most: float
    words: str = ""

    @classmethod
    def of(cls, servings: float, words: str = "") -> "Portion":
        return cls(servings, servings, servings, words or f"{servings:g}")

    def __bool__(self) -> bool:
        return self.most > 0

    def __mul__(self, factor: float) -> "Portion":
        return Portion(self.least * factor, self.likely * factor, self.most * factor, self.words)


ONE = Portion.of(1.0)


@dataclass(frozen=True, slots=True)
class Measured:
    """What a portion is measured by: how many servings the dish makes, what one weighs, how many pieces one is."""

    servings: float
    weight: CookedWeight
    pieces: float = 1.0


def read_portion(words: str, of: Measured | Callable[[], Measured]) -> Portion:
    """A portion from its words; nothing said is one serving. Raises Problem when they cannot be read. `of`: of the dish, or what tells
    it, asked only where the words are not of servings.

    >>> dish = Measured(4, CookedWeight(280, 300, 320, "", False), pieces=2)
    >>> [read_portion(words, dish).likely for words in ("", "half", "1 1/2", "150 g", "3 slices", "1/8 of it", "none")]
    [1.0, 0.5, 1.5, 0.5, 1.5, 0.5, 0.0]
    >>> read_portion("150 g", dish).least, round(read_portion("150 g", dish).most, 2)
    (0.46875, 0.54)
    """
    said = " ".join(words.lower().replace(",", ".").split())
    if not said:
        return ONE
    if said in words_of("portion_none"):
        return Portion.of(0.0, words)
    portion = _read(said, of if callable(of) else lambda: of)
    if portion is None:
        raise Problem("meal.portion_unread", words=words[:60])
    if portion.most > MOST_SERVINGS:
        raise Problem("meal.portion_too_much", words=words[:60], servings=portion.most)
    return Portion(portion.least, portion.likely, portion.most, words)


def _read(said: str, of: Callable[[], Measured]) -> Portion | None:
    spelled = next((word for word in words_of("portion_numbers") if said == word or said.startswith(f"{word} ")), "")
    if spelled:
        said = f"{words_of('portion_numbers')[spelled]}{said[len(spelled) :]}"
    found = _AMOUNT.fullmatch(said)
    if not found or not (found["number"] or found["unit"]):
        return None
    try:
        number = number_of(found["number"]) if found["number"] else 1.0
    except ZeroDivisionError:
        return None
    unit = words_of("portion_units").get((found["unit"] or "serving").rstrip("."))
    if unit == "%":
        number, unit = number / 100, "serving"
    if unit == "serving":
        return Portion.of(number * (of().servings if found["whole"] else 1.0))
    if unit == "piece":
        return Portion.of(number / of().pieces)
    if unit in GRAMS:
        return _by_weight(number * GRAMS[unit], number * GRAMS[unit], of())
    if unit in ML:
        return _by_weight(number * ML[unit] * LIGHTEST, number * ML[unit] * HEAVIEST, of())
    return None


def _by_weight(least_g: float, most_g: float, of: Measured) -> Portion | None:
    if not of.weight.least > 0:
        raise Problem("meal.portion_unweighed")
    weight, likely_g = of.weight, (least_g + most_g) / 2
    return Portion(float(least_g / weight.most), float(likely_g / weight.likely), float(most_g / weight.least))
