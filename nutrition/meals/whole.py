"""A way over a whole table: portions first; where none do, dishes are changed one after the other, each by what it owes.

Every round tries the dishes that bring most of what is too much, or that somebody cannot have, and keeps the change after which the
fewest are left over, the fewest go without a dish, and the dish stays nearest; what a later change makes needless is undone. That is a
way, and need not be the least of all: other orders are not looked at.
"""

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from time import monotonic

from nutrition.dish.line import Line
from nutrition.food.nutrients import INDEX
from nutrition.meals.fitting import Miss, fitting
from nutrition.meals.portions import Portion
from nutrition.meals.table import Place, Seat, Served, Table, lay
from nutrition.meals.together import ways_for_all
from nutrition.sheet.verdicts import SHUT, THROUGH
from nutrition.swaps.telling import told
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

    `without`: (seat, dish) where somebody gets nothing of what they had, since they cannot have it; `doubtful`: seats that were through
    and for whom a label or an unknown would decide.
    """

    table: Table
    changed: Mapping[int, Way]
    portions: Mapping[int, tuple[Portion, ...]]
    left: Mapping[int, tuple[Miss, ...]]
    without: tuple[tuple[int, int], ...]
    doubtful: tuple[int, ...]
    moved: float

    @property
    def is_through(self) -> bool:
        """Whether every eater is through for certain: nothing is past a limit, and no label or unknown decides."""
        return all(place.state in THROUGH for place in self.table.places)

    @property
    def is_nothing(self) -> bool:
        """Whether all stays as it is."""
        return not (self.changed or self.portions)

    @property
    def lack(self) -> tuple[int, int, float, int]:
        """How far it is from what was asked: who is left over, how often somebody goes without, by how much limits are missed, and who
        is in doubt that was not."""
        missed = sum(sum(map(_share, misses)) or _UNTOLD for misses in self.left.values())
        return len(self.left), len(self.without), round(missed, 3), len(self.doubtful)

    @property
    def cost(self) -> tuple[float, float]:
        """How far it is from what was on the table: of the dishes, and of the portions."""
        return sum(way.cost for way in self.changed.values()), self.moved


def way_for_table(table: Table, seconds: float = 60.0) -> WholeWay:
    """The nearest portions and the least changes found with which everybody's meal is through; as many as can be, where not all can."""
    until = monotonic() + seconds
    best = _settled(table, table.dishes, {})
    gentle: dict[int, Way] = {}
    while any(best.lack[:3]) and len(best.changed) < MOST_CHANGED:
        tried = []
        for dish in _owing(table, best):
            for asked in _asked_of(table, best, dish):
                way = _way_of(asked, dish, until - monotonic())
                if way:
                    gentle[dish] = min(gentle.get(dish, way), way, key=lambda each: each.cost)
                    tried.append(_with(table, best, dish, way))
        found = min(tried, key=lambda each: (each.lack, each.cost), default=best)
        if found.lack >= best.lack:
            break
        best = found
    return _needed(table, best, gentle)


def _way_of(table: Table, dish: int, seconds: float) -> Way | None:
    """The least change of one dish for all who eat of it; without a smaller serving, since everybody's portion is sought anew."""
    if seconds <= 0:
        return None
    wish = Wish(ways=1, one_pot=True, seconds=min(SECONDS_A_WAY, seconds))
    ways = ways_for_all(table, dish, wish, shares_out=True).ways
    changes = tuple(change for change in ways[0].changes if change.kind != "serving") if ways else ()
    return replace(ways[0], changes=changes) if changes else None


def _needed(table: Table, best: WholeWay, gentle: Mapping[int, Way]) -> WholeWay:
    """Without the changes that a later one has made needless: the dish as it was, or the least change of it that was found."""
    for dish in list(best.changed):
        others = {at: way for at, way in best.changed.items() if at != dish}
        as_it_was = _settled(table, _put(best.table.dishes, dish, table.dishes[dish].dish.lines), others)
        less = _settled(table, _put(best.table.dishes, dish, gentle[dish].lines), {**others, dish: gentle[dish]})
        best = next((each for each in (as_it_was, less) if each.lack <= best.lack), best)
    return best


def _share(miss: Miss) -> float:
    post = miss.gate.low if miss.side == "low" else miss.gate.high
    return miss.by / max(post.limit, 1e-6) if post else 0.0


def _with(table: Table, best: WholeWay, dish: int, way: Way) -> WholeWay:
    """The best so far, with one more dish changed."""
    return _settled(table, _put(best.table.dishes, dish, way.lines), {**best.changed, dish: way})


def _put(dishes: Sequence[Served], dish: int, lines: Sequence[Line]) -> tuple[Served, ...]:
    """The dishes, one of them of these lines, and its steps as they are cooked then."""
    served = dishes[dish]
    return (*dishes[:dish], replace(served, dish=told(served.dish, served.dish.with_lines(lines))), *dishes[dish + 1 :])


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
    # What one serving may not hold, no portion mends.
    left |= {at: () for at, place in enumerate(after.places) if place.state == SHUT and at not in left}
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
    doubtful = tuple(
        at
        for at, (was, now) in enumerate(zip(table.places, after.places, strict=True))
        if was.state in THROUGH and now.state not in THROUGH
    )
    return WholeWay(after, changed, portions, left, without, doubtful, moved)


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
            owes[dish] += crossing.state == SHUT
        for miss in misses:
            brings = place.spread[1, :, INDEX[miss.gate.nutrient]]
            for dish, part in enumerate(brings / max(float(brings.sum()), 1e-9)):
                owes[dish] += _share(miss) * float(part)
    free = [at for at, served in enumerate(table.dishes) if not served.is_plain and at not in best.changed]
    return sorted((at for at in free if owes[at] > 0), key=lambda at: -owes[at])[:MOST_TRIED]


def _asked_of(table: Table, best: WholeWay, dish: int) -> Iterator[Table]:
    """The tables a dish may be changed for: who would go without it has the portion they had. Where somebody cannot have it, that alone
    may be enough: the figures of those who are left over are asked of it only besides."""
    without = {seat for seat, each in best.without if each == dish}
    seats = [
        replace(place.seat, portions=table.places[at].seat.portions) if at in without else place.seat
        for at, place in enumerate(best.table.places)
    ]
    asked = lay(best.table.dishes, seats, table.meal)
    if any(place.crossings[dish].is_barred and place.seat.portions[dish] for place in asked.places):
        of_food_alone = [
            replace(seat, eater=replace(seat.eater, targets=())) if at in best.left else seat
            for at, seat in enumerate(seats)
        ]
        yield lay(best.table.dishes, of_food_alone, table.meal)
    yield asked
