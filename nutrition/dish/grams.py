"""A weight as it is known: the least, the likely and the most."""

from collections.abc import Iterator
from dataclasses import dataclass

#: A span wider than this share of its most is worth an "about".
WIDE = 0.02


@dataclass(frozen=True, slots=True)
class Grams:
    """Grams as a span. All the arithmetic of weights is here.

    >>> Grams(100, 150, 200) * 2, Grams.exactly(50).is_wide
    (Grams(least=200, likely=300, most=400), False)
    """

    least: float
    likely: float
    most: float

    @classmethod
    def exactly(cls, grams: float) -> "Grams":
        """As a scale shows it."""
        return cls(grams, grams, grams)

    @classmethod
    def between(cls, least: float, most: float) -> "Grams":
        """Likely in the middle."""
        return cls(least, (least + most) / 2, most)

    def __iter__(self) -> Iterator[float]:
        return iter((self.least, self.likely, self.most))

    def __mul__(self, factor: float) -> "Grams":
        return Grams(self.least * factor, self.likely * factor, self.most * factor)

    def __truediv__(self, divisor: float) -> "Grams":
        return Grams(self.least / divisor, self.likely / divisor, self.most / divisor)

    def __add__(self, other: "Grams") -> "Grams":
        return Grams(self.least + other.least, self.likely + other.likely, self.most + other.most)

    def by(self, share: "Grams") -> "Grams":
        """Each side by its own factor: a span of shares makes a wider span of grams."""
        return Grams(self.least * share.least, self.likely * share.likely, self.most * share.most)

    def changed(self, by: float) -> "Grams":
        """So much more on every side, or less, never below nothing.

        >>> Grams(2, 3, 4).changed(-2.5)
        Grams(least=0.0, likely=0.5, most=1.5)
        """
        return Grams(*(max(side + by, 0.0) for side in self))

    @property
    def is_wide(self) -> bool:
        """Whether it is worth an "about".

        >>> Grams(199, 200, 201).is_wide, Grams(180, 200, 220).is_wide
        (False, True)
        """
        return self.most - self.least > WIDE * max(self.most, 1.0)


NONE = Grams(0.0, 0.0, 0.0)
