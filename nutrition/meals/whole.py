"""A way over a whole table: portions first; where none do, dishes are changed one after the other, each by what it owes.

Every round tries the dishes that bring most of what is too much, or that somebody cannot have, and keeps the change after which the
fewest are left over, the fewest go without a dish, and the dish stays nearest. That is a way, and need not be the least of all: other
orders are not looked at.
"""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from time import monotonic

from nutrition.food.nutrients import INDEX
from nutrition.meals.fitting import Miss, fitting
from nutrition.meals.portions import Portion
from nutrition.meals.table import Place, Seat, Served, Table, lay
from nutrition.meals.together import ways_for_all
from nutrition.sheet.verdicts import SHUT
from nutrition.swaps.way_through import Way
from nutrition.swaps.wish import Wish

#: So many dishes are changed at most, so many are tried in a round, and so many seconds is one way sought.
MOST_CHANGED, MOST_TRIED, SECONDS_A_WAY = 4, 3, 8.0


#: What a meal counts for that no search of portions came to an end with.
_UNTOLD = 10.0


@dataclass(frozen=True)
class WholeWay:
    """`table`: as it would be. `changed`: dish -> its way, in the order they were found; `portions`: seat -> portions, of those whose
    portions are not as they were; `left`: seat -> what the nearest portions miss, of those who are not through with it all.

    `without`: (seat, dish) where somebody gets nothing of what they had, since they cannot have it.
    """

    table: Table
    changed: Mapping[int, Way]
    portions: Mapping[int, tuple[Portion, ...]]
    left: Mapping[int, tuple[Miss, ...]]
    without: tuple[tuple[int, int], ...]
    moved: float

    @property
    def is_nothing(self) -> bool:
        """Whether all stays as it is."""
        return not (self.changed or self.portions)

    @property
    def lack(self) -> tuple[int, int, float]:
        """How far it is from what was asked: who is left over, how often somebody goes without, and by how much limits are missed."""
        missed = sum(sum(map(_share, misses)) or _UNTOLD for misses in self.left.values())
        return len(self.left), len(self.without), round(missed, 3)

    @property
    def cost(self) -> tuple[float, float]:
        """How far it is from what was on the table: of the dishes, and of the portions."""
        return sum(way.cost for way in self.changed.values()), self.moved


def way_for_table(table: Table, seconds: float = 60.0) -> WholeWay:
    """The nearest portions and the least changes found with which everybody's meal is through; as many as can be, where not all can."""
    until = monotonic() + seconds
    best = _settled(table, table.dishes, {})
    while any(best.lack) and len(best.changed) < MOST_CHANGED:
        tried = []
        for dish in _owing(table, best):
            left = until - monotonic()
            wish = Wish(ways=1, one_pot=True, seconds=min(SECONDS_A_WAY, left))
            outcome = ways_for_all(_asked_of(table, best, dish), dish, wish, shares_out=True) if left > 0 else None
            if outcome and outcome.ways and outcome.ways[0].changes:
                tried.append(_with(table, best, dish, outcome.ways[0]))
        found = min(tried, key=lambda each: (each.lack, each.cost), default=best)
        if found.lack >= best.lack:
            return best
        best = found
    return best


def _share(miss: Miss) -> float:
    post = miss.gate.low if miss.side == "low" else miss.gate.high
    return miss.by / max(post.limit, 1e-6) if post else 0.0


def _with(table: Table, best: WholeWay, dish: int, way: Way) -> WholeWay:
    """The best so far, with one more dish changed."""
    served = best.table.dishes[dish]
    mended = replace(served, dish=replace(served.dish, lines=way.lines, serves=way.serves))
    dishes = (*best.table.dishes[:dish], mended, *best.table.dishes[dish + 1 :])
    return _settled(table, dishes, {**best.changed, dish: way})


def _settled(table: Table, dishes: Sequence[Served], changed: Mapping[int, Way]) -> WholeWay:
    """These dishes before the same eaters, with the nearest portions from what they have now."""
    seats = [_at(place.seat, table.dishes, dishes) for place in table.places]
    portions: dict[int, tuple[Portion, ...]] = {}
    left: dict[int, tuple[Miss, ...]] = {}
    for at, place in enumerate(lay(dishes, seats, table.meal).places):
        if _is_barred(place) or any(verdict.state == SHUT for verdict in place.verdicts):
            found = fitting(place)
            if found and not found.misses:
                portions[at] = found.portions
            else:
                left[at] = found.misses if found else ()
    after = lay(
        dishes, [replace(seat, portions=portions.get(at, seat.portions)) for at, seat in enumerate(seats)], table.meal
    )
    without = tuple(
        (at, dish)
        for at, place in enumerate(after.places)
        for dish, crossing in enumerate(place.crossings)
        if crossing.is_barred and seats[at].portions[dish] and not place.seat.portions[dish]
    )
    moved = sum(
        abs(new.likely - old.likely)
        for place, seat in zip(after.places, seats, strict=True)
        for old, new in zip(seat.portions, place.seat.portions, strict=True)
    )
    return WholeWay(after, changed, portions, left, without, moved)


def _at(seat: Seat, before: Sequence[Served], now: Sequence[Served]) -> Seat:
    """Somebody at a table of changed dishes: what their part is without stands elsewhere, or is gone."""
    without = {}
    for dish, positions in seat.without.items():
        was = {(line.key, line.food_id) for line in (before[dish].dish.lines[position] for position in positions)}
        lines = enumerate(now[dish].dish.lines)
        without[dish] = frozenset(at for at, line in lines if (line.key, line.food_id) in was)
    return replace(seat, without={dish: positions for dish, positions in without.items() if positions})


def _is_barred(place: Place) -> bool:
    return any(crossing.is_barred and crossing.portion for crossing in place.crossings)


def _owing(table: Table, best: WholeWay) -> list[int]:
    """The dishes to change next: what brings most of what is too much, and what somebody has to go without."""
    owes: dict[int, float] = defaultdict(float)
    for _, dish in best.without:
        owes[dish] += 1
    for seat, misses in best.left.items():
        place = best.table.places[seat]
        for dish, crossing in enumerate(place.crossings):
            owes[dish] += crossing.is_barred and bool(crossing.portion)
        for miss in misses:
            brings = place.spread[1, :, INDEX[miss.gate.nutrient]]
            for dish, part in enumerate(brings / max(float(brings.sum()), 1e-9)):
                owes[dish] += _share(miss) * float(part)
    free = [at for at, served in enumerate(table.dishes) if not served.is_plain and at not in best.changed]
    return sorted((at for at in free if owes[at] > 0), key=lambda at: -owes[at])[:MOST_TRIED]


def _asked_of(table: Table, best: WholeWay, dish: int) -> Table:
    """The table a dish is to be changed for: who would go without it has the portion they had."""
    barred = {seat for seat, each in best.without if each == dish}
    seats = [
        replace(place.seat, portions=table.places[at].seat.portions) if at in barred else place.seat
        for at, place in enumerate(best.table.places)
    ]
    return lay(best.table.dishes, seats, table.meal)
