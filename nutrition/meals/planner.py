"""Plan for me: the open places of days filled from dishes and plain foods, so that every day is within every limit.

A day of one eater is a program with whole numbers: at each open meal one dish, in quarters of a serving, and some plain foods beside
it; the most they hold against what a day or a meal allows, the least against what it asks for. What is liked, what repeats, what work
it makes, what is new to buy and what a label leaves open are its costs (tables/planned.tsv). Days are planned one after another, each the
best for itself after the days before it; of the week as a whole that is no proof, and none is claimed. A meal that several share is chosen
first, for all of them, and each one's day around it.

Nothing a plan keeps out or somebody noted ever comes in. A day that cannot be within its limits is left open, with what the nearest misses.
"""

import functools
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from nutrition.dish.line import Line
from nutrition.food.nutrients import INDEX
from nutrition.limits.gates import Gate, gates_for
from nutrition.meals.fitting import Miss
from nutrition.meals.planned import Asked, Candidate, Choice, Diner, Fed, Fixed, Plan, Stuck
from nutrition.meals.room import AsEaten, foods_as_eaten, lets_in, of_one
from nutrition.meals.table import meal_gates
from nutrition.sheet.analysis import Analysis
from nutrition.swaps.solver import FOUND, NONE, Answer, Rows, solve
from nutrition.tables import read_table, words_of

#: A dish is eaten in quarters of a serving, from a half to one and a half; plain foods in halves of a unit.
QUARTER, LEAST_QUARTERS, ONE, MOST_QUARTERS = 0.25, 2, 4, 6
#: So many dishes are looked at for a place, the least costly first (all of them before a day is said to be impossible); so many plain
#: foods beside it, and eaten at once.
MOST_DISHES, MOST_PLAIN, PLAIN_AT_ONCE = 24, 12, 3
#: Of what a shared meal may take of each one's day: its share and a quarter more, so that the rest of the day has room.
SHARED_ROOM = 1.25
#: Nodes of one day’s search and its gap; what costs no more than this above the least that could be is called the best.
BEST_WITHIN = 0.08
#: So many times all dishes are looked at for what the best do not fill; after that a plan says that it was not proven.
MOST_THOROUGH = 3
#: So many choices of dishes are tried for which no quarters are found, before portions and dishes are looked for at once.
MOST_CHOICES = 8
_SEARCH: dict[str, Any] = {"gap": 0.04, "nodes": 30, "seconds": 4.0, "searches_within": True}


@functools.cache
def _costs() -> dict[str, float]:
    return {row.text("name"): row.number("value") for row in read_table("planned.tsv")}


@dataclass
class _Dishes:
    """What of all candidates somebody may have: the tags of which a label decides, by key; barred ones are not in it. `minds`: what is
    to be minded of each, by key."""

    labels: dict[str, tuple[str, ...]]
    plain: dict[str, tuple[str, ...]]
    minds: dict[str, tuple[str, ...]]


@dataclass
class _Week:
    """What the week has had so far: how often each dish and when last, which foods, how much of a batch is left."""

    times: dict[str, int] = field(default_factory=dict)
    days: dict[str, set[int]] = field(default_factory=dict)
    foods: set[str] = field(default_factory=set)
    left: dict[str, float] = field(default_factory=dict)

    def has(self, key: str, day: int, lines: Iterable[Line]) -> None:
        self.times[key] = self.times.get(key, 0) + 1
        self.days.setdefault(key, set()).add(day)
        self.foods |= {line.food_id for line in lines if line.food_id}


def plan(asked: Asked) -> Plan:
    """The open places of so many days. Nothing to fill is an empty plan."""
    by_key = {each.key: each for each in asked.candidates}
    may = [_may(diner, asked.candidates) for diner in asked.diners]
    week = _Week(left={each.key: each.left for each in asked.candidates})
    for fixed in asked.fixed:
        for key in fixed.keys:
            if key in by_key:
                week.has(key, fixed.day, by_key[key].served.dish.lines)
    choices: list[Choice] = []
    stuck: list[Stuck] = []
    fed: list[Fed] = []
    proven, cost = True, 0.0
    for day in range(asked.first, asked.days):
        stands = [fixed for fixed in asked.fixed if fixed.day == day]
        shared = [_Place(day, meal, tuple(range(len(asked.diners)))) for meal in asked.meals if meal in asked.shared]
        alone = [
            [_Place(day, meal, (at,)) for meal in asked.meals if meal not in asked.shared]
            for at in range(len(asked.diners))
        ]
        for places in [[each] for each in shared] + alone:
            open_places = [each for each in places if not _is_filled(each, stands)]
            if not open_places:
                continue
            found, missed, is_proven, price = _filled(asked, may, week, stands, open_places, len(stuck) < MOST_THOROUGH)
            proven, cost = proven and is_proven, cost + price
            choices += found
            stuck += missed
            for choice in found:
                dish = by_key[choice.key]
                week.has(choice.key, day, dish.served.dish.lines)
                week.left[choice.key] = max(week.left[choice.key] - choice.servings, 0.0)
                stands.append(
                    Fixed(day, choice.meal, choice.diner, _spread(dish.served.analysis, choice), (choice.key,))
                )
        fed += [_fed(day, at, diner, stands) for at, diner in enumerate(asked.diners)]
    return Plan(tuple(choices), tuple(stuck), proven and not stuck, cost, tuple(fed))


def _fed(day: int, at: int, diner: Diner, stands: Sequence[Fixed]) -> Fed:
    """What everything that stands on a day gives somebody."""
    energy = sum(float(fixed.spread[1, INDEX["energy_kcal"]]) for fixed in stands if fixed.diner == at)
    return Fed(day, at, energy, diner.eater.facts.need_kcal)


#: A column, whose it is, at which meal, and what one of it brings: (3, nutrients).
_Amount = tuple[int, int, str, np.ndarray]
_Filled = tuple[list["Choice"], list["Stuck"], bool, float]


def _filled(
    asked: Asked,
    may: Sequence["_Dishes"],
    week: "_Week",
    stands: Sequence[Fixed],
    places: Sequence["_Place"],
    is_thorough: bool,
) -> _Filled:
    """The places filled from the dishes that suit best; from all of them where those do not do and there is time for it."""
    program = _Program(asked, may, week, stands, places)
    found, stuck, is_proven, cost = program.filled()
    is_short = program.is_trimmed or any(each.meal for each in stuck)
    if not (stuck and is_short):
        return found, stuck, is_proven, cost
    if is_thorough:
        return _Program(asked, may, week, stands, places, len(asked.candidates), screens=False).filled()
    return found, [replace(each, is_proven=False) for each in stuck], False, cost


@dataclass(frozen=True, slots=True)
class _Place:
    day: int
    meal: str
    diners: tuple[int, ...]


def _is_filled(place: _Place, stands: Sequence[Fixed]) -> bool:
    return all(any(each.meal == place.meal and each.diner == at for each in stands) for at in place.diners)


def _may(diner: Diner, candidates: Sequence[Candidate]) -> _Dishes:
    labels, minds = {}, {}
    for each in candidates:
        may, by_label, to_mind = lets_in(diner.eater, each.served.seen)
        if may:
            labels[each.key], minds[each.key] = by_label, to_mind
    plain = {}
    for food in foods_as_eaten():
        may, by_label, to_mind = lets_in(diner.eater, food.seen)
        if may and not to_mind:
            plain[food.one] = by_label
    return _Dishes(labels, plain, minds)


def _spread(analysis: Analysis, choice: Choice) -> np.ndarray:
    """(3, nutrients) of a choice."""
    total: np.ndarray = choice.servings * _sides(analysis)
    for food, count in choice.beside:
        total = total + count * _sides(of_one(food.one))
    return total


def _sides(analysis: Analysis) -> np.ndarray:
    return np.array([analysis.at_least, analysis.amounts, analysis.at_most])


class _Program:
    """One search: the open places of one day that belong together, with their columns and rows. `screens`: a dish of which half a
    serving alone passes a limit is not looked at.

    Columns of a dish at a place: whether it is there, a serving for each who eats it; then for each by how many quarters theirs is more
    than one, and by how many less.
    Columns of a plain food for one of them: whether, and how many halves. Then, where limits may be missed, by how much each is.
    """

    def __init__(
        self,
        asked: Asked,
        may: Sequence[_Dishes],
        week: _Week,
        stands: Sequence[Fixed],
        places: Sequence[_Place],
        most_dishes: int = MOST_DISHES,
        screens: bool = True,
    ):
        self.asked, self.may, self.week, self.stands, self.places = asked, may, week, stands, places
        self.most_dishes, self.screens, self.is_trimmed = most_dishes, screens, False
        self.costs: list[float] = []
        self.most: list[float] = []
        self.whole: list[int] = []
        self.rows = Rows()
        #: (place, candidate, column of whether, {diner: columns of quarters more, and less})
        self.dishes: list[tuple[int, Candidate, int, dict[int, tuple[int, int]]]] = []
        #: (place, diner, food, column of halves)
        self.plain: list[tuple[int, int, AsEaten, int]] = []
        self.limits = self._limits()
        for at, place in enumerate(places):
            self._add_dishes(at, place)
            for diner in place.diners:
                self._add_plain(at, place, diner)
        self.once = self._never_twice()

    def _column(self, cost: float, most: float, whole: int = 1) -> int:
        self.costs.append(cost)
        self.most.append(most)
        self.whole.append(whole)
        return len(self.costs) - 1

    def _add_dishes(self, at: int, place: _Place) -> None:
        suited = [each for each in self.asked.candidates if place.meal in each.meals and self._is_let_in(each, place)]
        self.is_trimmed |= len(suited) > self.most_dishes
        suited = sorted(suited, key=lambda each: (self._price(each, place), each.key))[: self.most_dishes]
        there = []
        for each in suited:
            whether = self._column(self._price(each, place), 1.0)
            quarters = {}
            for diner in place.diners:
                bounds = MOST_QUARTERS - ONE, ONE - LEAST_QUARTERS
                more, less = (self._column(_costs()["off one"], most) for most in bounds)
                for column, most in zip((more, less), bounds, strict=True):
                    self.rows.add([(column, 1.0), (whether, -float(most))], at_most=0.0)
                quarters[diner] = more, less
            self.dishes.append((at, each, whether, quarters))
            there.append((whether, 1.0))
        self.rows.add(there, 1.0, 1.0)

    def _never_twice(self) -> list[int]:
        """No dish stands twice on a day: a row each for those that could. Their numbers."""
        columns: dict[str, list[int]] = {}
        for _, each, whether, _ in self.dishes:
            columns.setdefault(each.key, []).append(whether)
        found = []
        for several in columns.values():
            if len(several) > 1:
                found.append(len(self.rows.low))
                self.rows.add([(column, 1.0) for column in several], at_most=1.0)
        return found

    def _is_let_in(self, each: Candidate, place: _Place) -> bool:
        if (place.day, place.meal, each.key) in self.asked.not_again:
            return False
        if not all(each.key in self.may[diner].labels for diner in place.diners):
            return False
        if not self.screens:
            return True
        least = LEAST_QUARTERS * QUARTER * _sides(each.served.analysis)[2]
        ceilings = (
            (gate, left)
            for whose, meal, gate, side, left in self.limits
            if side == "high" and whose in place.diners and meal in ("", place.meal)
        )
        return all(least[INDEX[gate.nutrient]] <= left for gate, left in ceilings)

    def _price(self, each: Candidate, place: _Place) -> float:
        week, free = self.week, self.asked.free_minutes.get(place.day, 0.0)
        near = {place.day - 1, place.day + 1, place.day} & week.days.get(each.key, set())
        minutes = (
            0.0
            if week.left.get(each.key, 0.0) >= len(place.diners) * LEAST_QUARTERS * QUARTER
            else max(each.minutes - free, 0.0)
        )
        labels = sum(
            bool(self.may[diner].labels[each.key] or self.may[diner].minds[each.key]) for diner in place.diners
        )
        new = sum(line.food_id not in week.foods for line in each.served.dish.lines if line.food_id)
        costs = {
            "dish": 1.0,
            "liking": -each.liked,
            "hour": minutes / 60,
            "again": week.times.get(each.key, 0),
            "next day": bool(near),
            "label": labels,
            "new food": new,
        }
        return sum(_costs()[name] * much for name, much in costs.items())

    def _add_plain(self, at: int, place: _Place, diner: int) -> None:
        parts, allowed = list(words_of(f"beside_{place.meal}")), self.may[diner].plain
        foods = [
            food for food in foods_as_eaten() if food.part in parts and food.one in allowed and not allowed[food.one]
        ]
        foods = sorted(foods, key=lambda food: parts.index(food.part))
        # A few of each part, so that fruit does not crowd out the bread.
        picked = [food for part in parts for food in [each for each in foods if each.part == part][:3]][:MOST_PLAIN]
        there = []
        for food in picked:
            whether, halves = self._column(_costs()["plain"], 1.0), self._column(_costs()["half unit"], 2 * food.most)
            self.rows.add([(halves, 1.0), (whether, -2 * food.most)], at_most=0.0)
            self.rows.add([(halves, 1.0), (whether, -1.0)], at_least=0.0)
            self.plain.append((at, diner, food, halves))
            there.append((whether, 1.0))
        if there:
            self.rows.add(there, at_most=PLAIN_AT_ONCE)

    def _limits(self) -> list[tuple[int, str, Gate, str, float]]:
        """(diner, meal or "" for the day, gate, side, what is left of it after what stands)."""
        found = []
        for diner in sorted({each for place in self.places for each in place.diners}):
            eater = self.asked.diners[diner].eater
            meals = [place.meal for place in self.places if diner in place.diners]
            own = [each for each in self.stands if each.diner == diner]
            of_day = [target for target in eater.standing_targets() if target.scope == "day"]
            is_last = self._completes(diner)
            for gate in gates_for(of_day, "day", {"day": 1.0}):
                if is_last:
                    found += _left(diner, "", gate, own)
                elif gate.high:
                    share = min(sum(eater.shares[meal] for meal in meals) * SHARED_ROOM, 1.0)
                    found.append((diner, "", gate, "high", gate.high.limit * share))
            for meal in meals:
                of_meal, of_serving = meal_gates(eater, meal)
                for gate in (*of_meal, *of_serving):
                    asks = [post for post in gate.posts if post.target.scope != "day"]
                    if asks:
                        low, high = ((post if post in asks else None) for post in (gate.low, gate.high))
                        found += _left(
                            diner, meal, Gate(gate.nutrient, low, high), [each for each in own if each.meal == meal]
                        )
        return found

    def _completes(self, diner: int) -> bool:
        """Whether somebody's day is all there once these places are filled."""
        there = {each.meal for each in self.stands if each.diner == diner} | {
            place.meal for place in self.places if diner in place.diners
        }
        return set(self.asked.meals) <= there

    def filled(self) -> tuple[list[Choice], list[Stuck], bool, float]:
        if any(not any(at == dish[0] for dish in self.dishes) for at in range(len(self.places))):
            bare = next(place for at, place in enumerate(self.places) if not any(at == dish[0] for dish in self.dishes))
            return [], [Stuck(bare.day, diner, bare.meal, ()) for diner in bare.diners], True, 0.0
        columns = list(self._amounts())
        starts = len(self.rows.low)
        for limit in self.limits:
            self.rows.add(*self._row(limit, columns))
        answer = self._searched()
        if answer.ended == FOUND:
            return self._choices(answer.x), [], answer.is_proven, answer.cost
        nearest, misses = self._nearest(columns, starts)
        if nearest is not None and not misses:
            # What the first search had no time to find.
            return self._choices(nearest), [], False, float(np.dot(nearest, self.costs))
        day, is_proven = self.places[0].day, answer.ended == NONE
        diners = dict.fromkeys(diner for place in self.places for diner in place.diners)
        by_diner = {diner: tuple(miss for whose, miss in misses if whose == diner) for diner in diners}
        return (
            [],
            [Stuck(day, diner, "", found, is_proven) for diner, found in by_diner.items() if found or not misses],
            is_proven,
            0.0,
        )

    def _searched(self) -> Answer:
        """First which dishes, with portions of any size, then their quarters: portions of any size cost no more, so what costs no
        more than they do is the best. A choice of dishes that no quarters fill is left out, and the next one asked for; where none of
        a few is filled, all at once."""
        costs, most, whole = (np.array(each, dtype=float) for each in (self.costs, self.most, self.whole))
        loose = whole.copy()
        loose[self._portions()] = 0.0
        rows, count = self.rows, len(self.rows.low)
        first = best = solve(costs, most, loose, rows, **_SEARCH)
        good_enough = best.cost * (1 + BEST_WITHIN) if best.ended == FOUND else -np.inf
        is_settled = True
        for _ in range(MOST_CHOICES):
            if first.ended != FOUND:
                break
            there = [whether for _, _, whether, _ in self.dishes if first.x[whether] > 0.5]
            chosen = most.copy()
            chosen[[whether for _, _, whether, _ in self.dishes if whether not in there]] = 0.0
            filled = solve(costs, chosen, whole, self.rows, **_SEARCH, good_enough=good_enough)
            if filled.ended == FOUND:
                return replace(filled, is_proven=best.is_proven and filled.cost <= good_enough)
            is_settled &= filled.ended == NONE
            rows = rows.first(len(rows.low))
            rows.add([(whether, 1.0) for whether in there], at_most=len(there) - 1.0)
            first = solve(costs, most, loose, rows, **_SEARCH)
        if first.ended == NONE and is_settled:
            return first
        return solve(costs, most, whole, self.rows.first(count), **_SEARCH, good_enough=good_enough)

    def _portions(self) -> list[int]:
        """The columns of how much: of a dish, and of plain foods, whether and how many."""
        of_dishes = (column for _, _, _, quarters in self.dishes for pair in quarters.values() for column in pair)
        return [*of_dishes, *(column for each in self.plain for column in (each[3] - 1, each[3]))]

    def _amounts(self) -> Iterable[_Amount]:
        """What one of each column brings to whom."""
        for at, each, whether, quarters in self.dishes:
            holds = QUARTER * _sides(each.served.analysis)
            for diner, (more, less) in quarters.items():
                for column, times in ((whether, ONE), (more, 1), (less, -1)):
                    yield column, diner, self.places[at].meal, times * holds
        for at, diner, food, column in self.plain:
            yield column, diner, self.places[at].meal, 0.5 * _sides(of_one(food.one))

    def _row(
        self, limit: tuple[int, str, Gate, str, float], columns: Sequence[_Amount]
    ) -> tuple[list[tuple[int, float]], float, float]:
        diner, meal, gate, side, left = limit
        key, of = INDEX[gate.nutrient], 0 if side == "low" else 2
        entries = []
        for column, whose, where, holds in columns:
            if whose == diner and meal in ("", where):
                amount = float(holds[of, key])
                if not np.isfinite(amount):
                    # Of what nobody knows the most, none can be planned where there is a limit.
                    self.most[column] = 0.0
                else:
                    entries.append((column, amount))
        return (entries, left, np.inf) if side == "low" else (entries, -np.inf, left)

    def _choices(self, x: np.ndarray) -> list[Choice]:
        found = []
        for at, each, whether, quarters in self.dishes:
            if x[whether] < 0.5:
                continue
            place = self.places[at]
            for diner, (more, less) in quarters.items():
                beside = tuple(
                    (food, round(float(x[halves])) / 2)
                    for where, whose, food, halves in self.plain
                    if (where, whose) == (at, diner) and x[halves] > 0.5
                )
                labels = tuple(dict.fromkeys(self.may[diner].labels[each.key]))
                minds = self.may[diner].minds[each.key]
                servings = (ONE + round(float(x[more])) - round(float(x[less]))) * QUARTER
                found.append(Choice(place.day, place.meal, diner, each.key, servings, beside, labels, minds))
        return found

    def _nearest(self, columns: Sequence[_Amount], starts: int) -> tuple[np.ndarray | None, list[tuple[int, Miss]]]:
        """(the choice that misses least, what it misses of whom): the same program with every limit allowed to give way, at a
        price, and a dish may stand twice on the day. None where no search came to an end."""
        rows = self.rows.first(starts)
        # Twice the same is better than nothing.
        for row in self.once:
            rows.high[row] = np.inf
        slacks = []
        for limit in self.limits:
            _, _, gate, side, _ = limit
            post = gate.low if side == "low" else gate.high
            slack = self._column(_costs()["miss"] / max(post.limit if post else 1.0, 1e-6), np.inf, 0)
            entries, low, high = self._row(limit, columns)
            rows.add([*entries, (slack, 1.0 if side == "low" else -1.0)], low, high)
            slacks.append(slack)
        answer = solve(
            np.array(self.costs),
            np.array(self.most),
            np.array(self.whole),
            rows,
            **_SEARCH,
        )
        if answer.ended != FOUND:
            return None, []
        missed = [
            (diner, Miss(gate, side, float(answer.x[slack])))
            for (diner, _, gate, side, _), slack in zip(self.limits, slacks, strict=True)
            if answer.x[slack] > 1e-6
        ]
        return answer.x, missed


def _left(diner: int, meal: str, gate: Gate, stands: Sequence[Fixed]) -> list[tuple[int, str, Gate, str, float]]:
    """Both sides of a gate less what stands already: the most against the ceiling, the least against the floor."""
    held = sum((each.spread for each in stands), np.zeros((3, len(INDEX))))
    key, found = INDEX[gate.nutrient], []
    # Where nobody knows how much stands there, what is known of it counts: no choice could help the rest.
    most = float(held[2, key]) if np.isfinite(held[2, key]) else float(held[1, key])
    if gate.low:
        found.append((diner, meal, gate, "low", gate.low.limit - float(held[0, key])))
    if gate.high:
        found.append((diner, meal, gate, "high", gate.high.limit - most))
    return found
