"""Pairing: a dish over its share of a meal is fine when the meal is not; which dish pays for it, and which one is to blame when it
is."""

from dataclasses import dataclass

from nutrition.food.nutrients import INDEX
from nutrition.limits.roles import share_of
from nutrition.meals.table import Place, Table
from nutrition.notes import Note, note
from nutrition.sheet.verdicts import OPEN, SHUT

#: Nobody hears of less than this over a share.
WORTH_SAYING = 0.05


@dataclass(frozen=True, slots=True)
class Pairing:
    """`dish` takes `part` of what the meal allows of a nutrient where its share is `share`; `payer` (None: the room nobody uses)
    leaves `pays` of its own."""

    nutrient: str
    dish: int
    part: float
    share: float
    payer: int | None
    pays: float

    @property
    def words(self) -> Note:
        return note(
            "meal.pays" if self.payer is not None else "meal.room_pays",
            nutrient=self.nutrient,
            part=self.part,
            share=self.share,
        )


def _shares(table: Table, place: Place) -> list[float]:
    """What each dish may take of the meal; those that are eaten share all of it where no role leaves room."""
    own = place.seat.eater.role_shares
    wanted = [
        share_of(dish.role, table.meal, own) if place.seat.portions[at] else 0.0 for at, dish in enumerate(table.dishes)
    ]
    total = sum(wanted)
    return [each / total for each in wanted] if total > 1 else wanted


def pairings(table: Table, place: Place) -> list[Pairing]:
    """Of every ceiling that is met: the dish that takes more than its share, and who pays, the most over first."""
    shares, found = _shares(table, place), []
    for verdict in place.verdicts:
        if not verdict.gate.high or verdict.state != OPEN or not verdict.gate.high.limit:
            continue
        parts = place.spread[1, :, INDEX[verdict.gate.nutrient]] / verdict.gate.high.limit
        over = [part - share for part, share in zip(parts, shares, strict=True)]
        at = max(range(len(over)), key=over.__getitem__, default=None)
        if at is None or over[at] < WORTH_SAYING:
            continue
        under = [(share - part, other) for other, (part, share) in enumerate(zip(parts, shares, strict=True)) if share]
        pays, payer = max(under)
        unused = 1 - sum(shares)
        found.append(
            Pairing(
                verdict.gate.nutrient,
                at,
                float(parts[at]),
                shares[at],
                payer if pays >= unused else None,
                float(max(pays, unused)),
            )
        )
    return sorted(found, key=lambda each: each.share - each.part)


def to_blame(place: Place, nutrient: str) -> tuple[int, float] | None:
    """The dish that brings most of a nutrient whose ceiling is passed, and its part of what is eaten."""
    verdict = place.verdict(nutrient)
    if not verdict or verdict.state != SHUT or not verdict.gate.high or verdict.amount <= verdict.gate.high.limit:
        return None
    brought = place.spread[1, :, INDEX[nutrient]]
    at = int(brought.argmax())
    return at, float(brought[at] / brought.sum())
