"""Measures of the kitchen and the clinic: mass, volume, temperature, salt, mmol.

Sources: NIST Handbook 44 Appendix C (US customary), UK Weights and Measures Act (imperial),
EU 1169/2011 Annex I (salt = sodium x 2.5), standard atomic weights (mmol). Small measures
(dash, pinch, smidgen) and oven marks are common practice.

>>> round(to_grams(1, "lb"), 2)
453.59
>>> to_ml(1, "pint"), to_ml(1, "pint", "uk")
(473.176473, 568.26125)
"""

import functools
import re
import unicodedata
from fractions import Fraction

GRAMS = {"g": 1.0, "kg": 1000.0, "mg": 0.001, "oz": 28.349523125, "lb": 453.59237, "stone": 6350.29318}
#: US cups and spoons; teaspoons elsewhere differ by less than the spoon in hand.
ML = {
    "ml": 1.0,
    "cl": 10.0,
    "dl": 100.0,
    "l": 1000.0,
    "cup": 236.5882365,
    "tbsp": 14.78676478125,
    "tsp": 4.92892159375,
    "dsp": 10.0,
    "fl oz": 29.5735295625,
    "pint": 473.176473,
    "quart": 946.352946,
    "gallon": 3785.411784,
    "dash": 4.92892159375 / 8,
    "pinch": 4.92892159375 / 16,
    "smidgen": 4.92892159375 / 32,
    "drop": 0.05,
}
#: What the same word holds in a British recipe (imperial pint and ounce, metric spoons and cup).
ML_UK = {
    "fl oz": 28.4130625,
    "pint": 568.26125,
    "quart": 1136.5225,
    "gallon": 4546.09,
    "tbsp": 15.0,
    "tsp": 5.0,
    "cup": 250.0,
}
#: US nutrition labels round their household measures: 21 CFR 101.9(b)(5)(viii).
LABEL_ML = {"cup": 240.0, "tbsp": 15.0, "tsp": 5.0, "fl oz": 30.0}
LABEL_OZ_GRAMS = 28.0
ATOMIC_WEIGHT = {"sodium_mg": 22.99, "potassium_mg": 39.10, "phosphorus_mg": 30.97, "calcium_mg": 40.08}
SALT_PER_SODIUM = 2.5


def to_grams(quantity: float, unit: str) -> float:
    """Grams of a mass. Raises KeyError for anything that is not a unit of mass."""
    return float(quantity) * GRAMS[unit]


def to_ml(quantity: float, unit: str, kitchen: str = "us") -> float:
    """Milliliters of a volume in a "us" or "uk" kitchen. Raises KeyError for other units."""
    table = ML | ML_UK if kitchen == "uk" else ML
    return float(quantity) * table[unit]


def celsius(fahrenheit: float) -> float:
    """Exact conversion; `oven_celsius` rounds to what an oven can be set to.

    >>> celsius(212)
    100.0
    """
    return (fahrenheit - 32) * 5 / 9


def fahrenheit(celsius_degrees: float) -> float:
    return celsius_degrees * 9 / 5 + 32


def oven_celsius(degrees_fahrenheit: float, *, fan: bool = False) -> int:
    """Rounded to 5 degrees; a fan oven is set 20 degrees lower (common practice).

    >>> oven_celsius(350), oven_celsius(350, fan=True)
    (175, 155)
    """
    return round((celsius(degrees_fahrenheit) - (20 if fan else 0)) / 5) * 5


def oven_fahrenheit(degrees_celsius: float) -> int:
    """Rounded to 25 degrees.

    >>> oven_fahrenheit(180)
    350
    """
    return round(fahrenheit(degrees_celsius) / 25) * 25


def salt_g(sodium_mg: float) -> float:
    """Grams of salt that hold this much sodium, as EU labels count it.

    >>> salt_g(2000)
    5.0
    """
    return sodium_mg * SALT_PER_SODIUM / 1000


def sodium_mg(salt_grams: float) -> float:
    return salt_grams * 1000 / SALT_PER_SODIUM


def mmol(amount_mg: float, key: str) -> float:
    """Millimoles of sodium, potassium, phosphorus or calcium. Raises KeyError for other nutrients.

    >>> round(mmol(2300, "sodium_mg"))
    100
    """
    return amount_mg / ATOMIC_WEIGHT[key]


_SPOON = {Fraction(n, d) for d in (2, 3, 4, 8) for n in range(1, d)}
_CUP = {Fraction(n, d) for d in (2, 3, 4) for n in range(1, d)}
_GLYPHS = dict(
    zip(
        map(Fraction, ["1/4", "1/2", "3/4", "1/3", "2/3", "1/8", "3/8", "5/8", "7/8"]),
        ["¼", "½", "¾", "⅓", "⅔", "⅛", "⅜", "⅝", "⅞"],
        strict=True,
    )
)
#: A number as recipes write it: "7.5", "7,5", "2½", "1 1/2", "3/4", "½".
NUMBER = r"(?:\d+\s*/\s*\d+|\d+(?:[.,]\d+)?(?:\s*[½⅓⅔¼¾⅛⅜⅝⅞]|\s+\d\s*/\s*\d)?|[½⅓⅔¼¾⅛⅜⅝⅞])"


def number_of(text: str) -> float:
    """The value of words that match NUMBER.

    >>> [number_of(text) for text in ("7.5", "7,5", "2½", "1 1/2", "3/4", "½")]
    [7.5, 7.5, 2.5, 1.5, 0.75, 0.5]
    """
    plain = unicodedata.normalize("NFKC", re.sub(r"(\d)\s*([½⅓⅔¼¾⅛⅜⅝⅞])", r"\1 \2", text)).replace("⁄", "/")
    parts = re.sub(r"\s*/\s*", "/", plain.replace(",", ".")).split()
    return float(sum(Fraction(part) for part in parts))


@functools.lru_cache(maxsize=1 << 14)
def _nearest(quantity: float) -> tuple[float, str]:
    """The nearest number a cook writes: its value and its text."""
    if quantity >= 10:
        return float(round(quantity)), f"{round(quantity)}"
    whole = int(quantity)
    rest = Fraction(quantity - whole).limit_denominator(100)
    nearest = min([Fraction(0), Fraction(1), *(_CUP if whole else _SPOON)], key=lambda f: abs(f - rest))
    if nearest == 1:
        whole, nearest = whole + 1, Fraction(0)
    if nearest == 0:
        return (float(whole), str(whole)) if whole else (quantity, f"{quantity:.2g}")
    return float(whole + nearest), f"{whole or ''}{_GLYPHS[nearest]}"


def kitchen_number(quantity: float) -> str:
    """A number as a cook writes it: whole, or with the nearest fraction a cup or spoon is made for.

    >>> kitchen_number(1.5), kitchen_number(0.33), kitchen_number(12.0), kitchen_number(0.13)
    ('1½', '⅓', '12', '⅛')
    """
    return _nearest(quantity)[1]


@functools.lru_cache(maxsize=1 << 14)
def household(ml: float) -> str:
    """A volume in the largest US household measure that tells it within 8 %; else in the nearest.

    >>> household(59), household(15), household(2.4), household(103)
    ('¼ cup', '1 tbsp', '½ tsp', '7 tbsp')
    """
    fits = []
    for unit, least in (("cup", 0.24), ("tbsp", 0.95), ("tsp", 0.0)):
        quantity = ml / ML[unit]
        if quantity >= least:
            value, text = _nearest(quantity)
            plural = "s" if unit == "cup" and value > 1 else ""
            fits.append((abs(value / quantity - 1), f"{text} {unit}{plural}"))
    return next((text for error, text in fits if error <= 0.08), min(fits)[1])
