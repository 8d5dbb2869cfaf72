"""What was measured of a person: weights and blood results with their dates, and what they decide.

Ranges and units: tables/measures.tsv.
"""

import functools
import math
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from nutrition.notes import Note, Problem, note
from nutrition.tables import read_table

#: A result older than this decides nothing any more (common practice: bloods every one to three months).
FRESH_DAYS = 92
BELOW, WITHIN, ABOVE = "below", "within", "above"


@dataclass(frozen=True, slots=True)
class Measure:
    """One row of measures.tsv: what is measured, in one unit. `low` and `high` None: no usual range is kept."""

    key: str
    of: str
    label: str
    unit: str
    factor: float
    offset: float
    least: float
    most: float
    low: float | None
    high: float | None

    @property
    def usual(self) -> tuple[float, float]:
        """The usual range in this row's own unit. Raises ValueError where none is kept."""
        if self.low is None or self.high is None:
            raise ValueError(f"no usual range of {self.label} is kept")
        return (self.low - self.offset) / self.factor, (self.high - self.offset) / self.factor

    @property
    def called(self) -> str:
        """ "Phosphate, mg/dL"."""
        return f"{self.label}, {self.unit}" if self.unit else self.label


@functools.cache
def measures() -> dict[str, Measure]:
    """Every measure by its key."""

    return {
        row["key"]: Measure(
            key=row["key"],
            of=row["of"],
            label=row.text("label"),
            unit=row["unit"],
            factor=row.number("factor"),
            offset=row.number("offset"),
            least=row.number("least"),
            most=row.number("most"),
            low=row.number_or_none("low"),
            high=row.number_or_none("high"),
        )
        for row in read_table("measures.tsv")
    }


@dataclass(frozen=True, slots=True)
class Measurement:
    """One value as the clinic wrote it. Raises Problem for what is not measured here, and for what cannot be.

    >>> Measurement("phosphate_mmol_l", 2.0, date(2026, 11, 2)).side
    'above'
    """

    key: str
    value: float
    on: date

    def __post_init__(self) -> None:
        if self.key not in measures():
            raise Problem("limits.no_such_measure", key=self.key, all=", ".join(measures()))
        measure = self.measure
        if not (math.isfinite(self.value) and measure.least <= self.value <= measure.most):
            raise Problem(
                "limits.cannot_be_measured",
                what=measure.label,
                value=self.value,
                unit=measure.unit,
                least=measure.least,
                most=measure.most,
            )

    @property
    def measure(self) -> Measure:
        return measures()[self.key]

    @property
    def side(self) -> str:
        """Below, within or above the usual range; empty where none is kept."""
        measure = self.measure
        if measure.low is None or measure.high is None:
            return ""
        value = round(self.value * measure.factor + measure.offset, 2)
        return BELOW if value < measure.low else ABOVE if value > measure.high else WITHIN

    @property
    def in_another_unit(self) -> "Measurement | None":
        """The same number in the other unit, where that is likelier meant: it is out of range here and not there, or far
        too low here and high there. A unit mixed up frees what should be limited.

        >>> str(Measurement("phosphate_mg_dl", 1.9, date(2026, 11, 2)).in_another_unit.words)
        'phosphate 1.9 mmol/L on November 2, 2026'
        >>> Measurement("phosphate_mg_dl", 5.6, date(2026, 11, 2)).in_another_unit is None
        True
        """
        if self.side in ("", WITHIN):
            return None
        for other in measures().values():
            if other.of == self.measure.of and other.key != self.key and other.least <= self.value <= other.most:
                read = Measurement(other.key, self.value, self.on)
                if read.side == WITHIN or (self.side, read.side) == (BELOW, ABOVE):
                    return read
        return None

    @property
    def words(self) -> Note:
        """ "potassium 4.4 mmol/L on November 2, 2026"."""
        measure = self.measure
        return note("limits.measured", label=measure.label, value=self.value, unit=measure.unit, on=self.on)


def last_of(of: str, measured: Iterable[Measurement]) -> Measurement | None:
    """The newest of what is measured; of one day the one that was written last."""
    mine = sorted((each for each in measured if each.measure.of == of), key=lambda each: each.on)
    return mine[-1] if mine else None


@dataclass(frozen=True, slots=True)
class Decision:
    """Whether a result says that something is limited, and why."""

    is_limited: bool
    why: Note
    is_known: bool = True


def decide(of: str, measured: Iterable[Measurement], today: date | None) -> Decision:
    """What the newest result says. Without one, or with an old one, it stays limited: nothing is assumed.

    >>> bool(decide("potassium", [Measurement("potassium_mmol_l", 4.4, date(2026, 11, 2))], date(2026, 11, 26)).is_limited)
    False
    >>> decide("potassium", [], None).is_limited
    True
    """
    last = last_of(of, (each for each in measured if today is None or each.on <= today))
    if last is None:
        return Decision(True, note("limits.no_result", of=of), is_known=False)
    if today is None or (today - last.on).days > FRESH_DAYS:
        return Decision(True, note("limits.old_result", result=last.words), is_known=False)
    low, high = last.measure.usual
    why = note("limits.result", result=last.words, side=last.side, low=low, high=high, unit=last.measure.unit)
    return Decision(last.side == ABOVE, why)
