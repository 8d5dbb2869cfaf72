"""The times and the heat a step names, as clocks and dials read them. Nothing is guessed that the words do not say."""

import re
from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass

from nutrition.food.units import celsius, fahrenheit, kitchen_number, oven_celsius, oven_fahrenheit

#: Fan ovens are set this much lower; gas marks as on British cookers (common practice).
GAS_MARKS = {
    110: "¼",
    130: "½",
    140: "1",
    150: "2",
    165: "3",
    180: "4",
    190: "5",
    200: "6",
    220: "7",
    230: "8",
    245: "9",
}
#: A figure up to this is the heat inside the food, above it the oven's, unless the words say which.
WARMEST_INSIDE_C = 100
MOST_TIMER_S = 24 * 3600


@dataclass(frozen=True, slots=True)
class Wait:
    """A time a step names. `seconds` to the first look, `most_seconds` to the last; `label` says what is waited for."""

    label: str
    seconds: int
    most_seconds: int

    @property
    def words(self) -> str:
        """
        >>> Wait("simmer", 1500, 1800).words
        '25 to 30 min'
        """
        first, last = duration(self.seconds), duration(self.most_seconds)
        if first == last:
            return first
        both = first.endswith(" min") and last.endswith(" min")
        return f"{first.removesuffix(' min') if both else first} to {last}"


@dataclass(frozen=True, slots=True)
class Oven:
    """One oven setting in every way a dial may read, in the nearest step of the dial."""

    c: int
    fan_c: int
    f: int
    gas: str

    @property
    def words(self) -> str:
        gas = f", gas {self.gas}" if self.gas else ""
        return f"{self.c} °C, fan {self.fan_c} °C, {self.f} °F{gas}"


def duration(seconds: float) -> str:
    """
    >>> duration(90), duration(1500), duration(5400), duration(3600)
    ('1½ min', '25 min', '1 h 30 min', '1 h')
    """
    if seconds < 60:
        return f"{seconds:.0f} s"
    if seconds < 3600:
        return f"{kitchen_number(seconds / 60)} min"
    hours, minutes = divmod(round(seconds / 60), 60)
    return f"{hours} h {minutes} min" if minutes else f"{hours} h"


_WORDS = {
    "a": 1,
    "an": 1,
    "one": 1,
    "two": 2,
    "three": 3,
    "four": 4,
    "five": 5,
    "six": 6,
    "seven": 7,
    "eight": 8,
    "nine": 9,
    "ten": 10,
    "twelve": 12,
    "fifteen": 15,
    "twenty": 20,
    "twenty-five": 25,
    "thirty": 30,
    "forty": 40,
    "forty-five": 45,
    "fifty": 50,
    "sixty": 60,
    "half": 0.5,
    "half an": 0.5,
    "half a": 0.5,
    "a couple of": 2,
    "another": 1,
    "a few": 3,
}


_FRACTIONS = {"½": 0.5, "¼": 0.25, "¾": 0.75, "⅓": 1 / 3, "⅔": 2 / 3}
_NUMBER = rf"(?:\d+(?:[.,]\d+)?\s?[½¼¾⅓⅔]?|[½¼¾⅓⅔]|\d+\s\d/\d|{'|'.join(sorted(_WORDS, key=len, reverse=True))})"
_UNIT = r"(?P<{}>hours?|hrs?|h|minutes?|mins?|min|seconds?|secs?)"
_TIME = re.compile(
    rf"\b(?P<low>{_NUMBER})(?:\s*(?:-|–|to|or)\s*(?P<high>{_NUMBER}))?(?:\s*-?\s*|\s+more\s+){_UNIT.format('unit')}\b"
    rf"(?:(?:\s+and)?\s+(?P<more>\d+|a half|half)(?:\s*{_UNIT.format('unit2')}\b)?)?",
    re.I,
)
_SECONDS = {"h": 3600, "m": 60, "s": 1}
_VERB = re.compile(
    r"\b(simmer|boil|bake|roast|fry|cook|soften|brown|rest|chill|cool|rise|prove|proof|soak|steep|infuse|stand|whisk|"
    r"beat|knead|steam|poach|grill|broil|toast|reduce|marinate|freeze|blanch|saut[eé]|stir|warm|heat|press|drain|set)\w*",
    re.I,
)


def _number(text: str) -> float | None:
    text = text.strip().lower().replace(",", ".")
    if text in _WORDS:
        return float(_WORDS[text])
    total = 0.0
    for glyph, value in _FRACTIONS.items():
        if glyph in text:
            total, text = total + value, text.replace(glyph, "")
    parts = text.split()
    for part in parts:
        above, _, below = part.partition("/")
        try:
            total += float(above) / float(below) if below else float(above)
        except (ValueError, ZeroDivisionError):
            return None
    return total


def _wait(found: re.Match[str], verbs: Sequence[re.Match[str]]) -> Wait | None:
    unit = _SECONDS[found["unit"][0].lower()]
    low, high = _number(found["low"]), _number(found["high"]) if found["high"] else None
    if low is None:
        return None
    first, last = low * unit, (high if high is not None else low) * unit
    if found["more"] and (found["unit2"] or not found["more"].isdigit()):
        own = _SECONDS[found["unit2"][0].lower()] if found["unit2"] else unit
        extra = (float(found["more"]) if found["more"].isdigit() else 0.5) * own
        first, last = first + extra, last + extra
    if not 1 <= first <= last <= MOST_TIMER_S:
        return None
    before = bisect_right(verbs, found.start(), key=re.Match.end)
    after = bisect_left(verbs, found.end(), key=re.Match.start)
    verb = verbs[before - 1] if before else verbs[after] if after < len(verbs) else None
    return Wait(verb[0].lower() if verb else "wait", round(first), round(last))


def waits_of(text: str) -> tuple[Wait, ...]:
    """Every time a step names.

    >>> [(w.label, w.words) for w in waits_of("Fry for 2-3 minutes a side, then bake 1 hour 20 minutes.")]
    [('fry', '2 to 3 min'), ('bake', '1 h 20 min')]
    """
    verbs = list(_VERB.finditer(text))
    return tuple(filter(None, (_wait(found, verbs) for found in _TIME.finditer(text))))


_DEGREES = re.compile(
    r"(?P<figure>\d{2,3})\s*(?:°\s*|º\s*|degrees?\s+)?(?P<scale>[CF])\b|gas(?: mark)?\s*(?P<gas>[1-9]|½|¼)", re.I
)
_INSIDE = re.compile(r"inside|internal|cent(?:er|re)|core|thermometer|thickest|reach|read", re.I)
_OVEN = re.compile(r"oven|pre-?heat|bake|roast", re.I)
_COOKS_AT = re.compile(r"\bcook(?:ed|ing)?(?: (?:it|them|this|everything|uncovered|covered))? at\b", re.I)
_FRIES = re.compile(r"deep[- ]?fr|\bfr(?:y|ied|ying)\b|syrup|caramel", re.I)
_MAY_SWIM = re.compile(r"\boil\b|\bfat\b|\bsugar\b", re.I)
_STOP = re.compile(r"[.;]\s|\n")
_FAN = re.compile(r"^\s*\)?\s*fan|fan[- ](?:oven )?(?:at |to )?\(?$", re.I)


def oven(c: float) -> Oven:
    """A setting as every dial reads it.

    >>> oven(180).words
    '180 °C, fan 160 °C, 350 °F, gas 4'
    """
    gas = min(GAS_MARKS, key=lambda mark: abs(mark - c))
    degrees_f = fahrenheit(c)
    return Oven(
        c=oven_celsius(degrees_f),
        fan_c=oven_celsius(degrees_f, fan=True),
        f=oven_fahrenheit(c),
        gas=GAS_MARKS[gas] if abs(gas - c) <= 8 else "",
    )


def heat_of(text: str) -> tuple[Oven | None, int | None]:
    """The oven's setting and the heat to reach inside, °C, where a step names them.

    >>> heat_of("Bake at 350 °F until it reads 165 °F inside.")[0].c, heat_of("Bake until it reads 165 °F inside.")
    (175, (None, 74))

    The heat of oil or of boiling sugar is no oven's.

    >>> heat_of("Deep-fry at 165 °C for 12 minutes."), heat_of("Boil the syrup to 118 °C.")
    ((None, None), (None, None))
    >>> heat_of("Toss in the oil and cook at 200 °C.")[0].c
    200
    """
    setting = inside = None
    marks = {mark: c for c, mark in GAS_MARKS.items()}
    for found in _DEGREES.finditer(text):
        if found["gas"]:
            setting = setting or oven(marks[found["gas"]])
            continue
        figure = float(found["figure"])
        c = celsius(figure) if found["scale"].upper() == "F" else figure
        around = text[max(0, found.start() - 40) : found.end() + 12]
        is_fan = _FAN.search(text[found.end() : found.end() + 8]) or _FAN.search(
            text[max(0, found.start() - 10) : found.start()]
        )
        if c <= WARMEST_INSIDE_C and (_INSIDE.search(around) or not _OVEN.search(text)):
            inside = inside if inside is not None else int(c + 0.5)
        elif 50 <= c <= 300 and not (is_fan and setting) and not _is_of_fat(text, found):
            setting = setting or oven(c + 20 if is_fan else c)
    return setting, inside


def _is_of_fat(text: str, degrees: re.Match[str]) -> bool:
    """Whether it is the heat of frying oil or of boiling sugar, by the sentence around; oil that is brushed on something stands in an oven."""
    sentence = _STOP.split(text[: degrees.start()])[-1] + degrees[0] + _STOP.split(text[degrees.end() :])[0]
    if _OVEN.search(sentence) or _COOKS_AT.search(sentence):
        return False
    return bool(_FRIES.search(sentence) or (_MAY_SWIM.search(sentence) and not _OVEN.search(text)))
