"""Days and weeks of a person as they are looked at: the tables they sit at, meal by meal, and what those days hold together."""

from collections import Counter
from dataclasses import dataclass, field
from datetime import date, timedelta
from functools import cached_property
from statistics import mean

import numpy as np
from django.db.models import Q, QuerySet

from accounts.prepared import prepared
from nutrition.food.nutrients import INDEX
from nutrition.food.units import kitchen_number
from nutrition.limits.gates import MEAL_SHARES
from nutrition.limits.noted import name_in
from nutrition.limits.roles import ROLES, WHOLE, guess_role
from nutrition.meals.day import Day, day_of
from nutrition.meals.leftovers import Batch, Use, batch_of
from nutrition.meals.library import TO_LOOK_AT, brings, fits, guest_of_day
from nutrition.meals.portions import Portion
from nutrition.meals.snacks import Snack, snacks_for
from nutrition.meals.suits import is_enough, meals_for
from nutrition.meals.table import Crossing, Place, lay
from nutrition.meals.table import Seat as CoreSeat
from nutrition.sheet.verdicts import SHUT, STATES, UNSURE, Verdict, state_of, worst
from people.models import Person
from people.regimen import Regimen
from recipes.library import STATE_OF, library

from .models import Occasion, OnTable, Seat
from .sight import Loaded, Row, core_seat, load, portion_of, portion_words

MEALS = tuple(MEAL_SHARES)
WEEK = 7
#: Nobody eats on from a batch older than this, frozen or not.
LOOK_BACK = 30
#: The meals at which one thing is the meal, and others stand beside it.
MAIN_DISHES = ("lunch", "dinner")


@dataclass(frozen=True)
class Eaten:
    """One dish of a meal as the person has it: the words of their portion."""

    row: Row
    words: str
    crossing: Crossing

    @property
    def on_paper(self) -> str:
        """ "Barley soup: half a serving", "1 apple, 150 g"; and what its label must be read for."""
        served = self.row.served
        what = self.portion_words if served.is_plain else f"{served.title}: {self.portion_words}"
        said = [str(self.crossing.why)] if self.state == UNSURE else []
        said += [words for words in map(str, self.crossing.minds) if words not in said]
        return f"{what} ({'; '.join(said)})" if said else what

    @property
    def portion_words(self) -> str:
        """ "2 servings", "half a serving"; words that name what they count as they are, and of a plain food what it is."""
        if self.row.row.words and not self.row.row.recipe_id:
            return self.row.row.words if self.words == "1" else f"{self.words} × {self.row.row.words}"
        return portion_words(self.words)

    @property
    def state(self) -> str:
        """Whether they may have it at all: what it takes of a meal is a habit here, and the day tells of numbers."""
        return self.crossing.may_have


@dataclass(frozen=True)
class Sitting:
    """A person's meal of a day: the tables it is at (one, as a rule) and what they eat there."""

    meal: str
    occasions: tuple[Occasion, ...]
    eaten: tuple[Eaten, ...]
    place: Place

    @property
    def limits(self) -> list[Verdict]:
        """What is asked of this meal itself, and is no share of the day."""
        posts = ((v, post) for v in self.place.verdicts for post in (v.gate.low, v.gate.high) if post)
        return list({v.gate.nutrient: v for v, post in posts if post.target.scope == "meal"}.values())

    @property
    def state(self) -> str:
        """By what is kept out, and by limits that are of each meal and no share of the day."""
        return worst([*(each.state for each in self.eaten), *(verdict.state for verdict in self.limits)])


@dataclass(frozen=True)
class DaySight:
    """One day. `sittings`: meal -> what is eaten there; a meal nobody laid is not in it."""

    on: date
    regimen: Regimen
    sittings: dict[str, Sitting]

    @cached_property
    def day(self) -> Day:
        at = {
            meal: 60.0 * (time := sitting.occasions[0].serve_at).hour + time.minute
            for meal, sitting in self.sittings.items()
        }
        return day_of(self.regimen.eater, {meal: sitting.place for meal, sitting in self.sittings.items()}, at)

    @property
    def is_empty(self) -> bool:
        return not any(sitting.eaten for sitting in self.sittings.values())

    @property
    def slots(self) -> list[tuple[str, Sitting | None]]:
        return [(meal, self.sittings.get(meal)) for meal in MEALS]

    @cached_property
    def snacks(self) -> list[Snack]:
        return snacks_for(self.day)

    @property
    def strips(self) -> list[tuple[Verdict, list[tuple[str, float]]]]:
        """(gate of the day, what each meal brings) in the order of the day."""
        return [
            (
                each,
                [
                    (meal, float(place.spread[1, :, INDEX[each.gate.nutrient]].sum()))
                    for meal, place in self.day.places.items()
                ],
            )
            for each in self.day.verdicts
        ]


@dataclass
class WeekSight:
    """Seven days of one person. `batches`: what was cooked once and eaten on several days, (dish, batch)."""

    regimen: Regimen
    days: list[DaySight]
    batches: list[tuple[OnTable, Batch]] = field(default_factory=list)

    @property
    def planned(self) -> list[DaySight]:
        return [day for day in self.days if not day.is_empty]

    def in_state(self, *states: str) -> list[DaySight]:
        """The days that stand so against what is asked of them."""
        return [day for day in self.planned if day.day.state in states]

    @property
    def shut(self) -> list[DaySight]:
        return self.in_state(SHUT)

    @property
    def unsure(self) -> list[DaySight]:
        return self.in_state(UNSURE)

    @property
    def averages(self) -> list[Verdict]:
        """The mean of the days that have something on them, against the day's gates; floors only of days that are whole."""
        found = []
        for gate in self.days[0].day.gates:
            days = [day.day for day in self.planned if not gate.low or day.day.is_whole]
            if days:
                least, likely, most = (
                    float(mean(day.holds[side, INDEX[gate.nutrient]] for day in days)) for side in range(3)
                )
                found.append(Verdict(gate, likely, least, most, state_of(gate, least, most), ()))
        return found

    @property
    def repeats(self) -> list[tuple[str, int]]:
        """(dish, on how many days) of what comes more than once, the most frequent first."""
        on_days = Counter(
            title
            for day in self.planned
            for title in {each.row.served.title for s in day.sittings.values() for each in s.eaten}
        )
        return [(title, count) for title, count in on_days.most_common() if count > 1]

    @property
    def minds(self) -> dict[str, list[str]]:
        """What is to be minded over the week -> the dishes that give cause, each said once."""
        found: dict[str, dict[str, None]] = {}
        for day in self.planned:
            for each in (eaten for sitting in day.sittings.values() for eaten in sitting.eaten):
                for words in map(str, each.crossing.minds):
                    found.setdefault(words, {})[each.row.served.title] = None
        return {words: [*dishes] for words, dishes in found.items()}

    @property
    def foods(self) -> int:
        """How many different foods the week holds, salt and water and the like not counted apart."""
        return len(
            {
                line.food_id
                for day in self.planned
                for sitting in day.sittings.values()
                for each in sitting.eaten
                for line in each.row.served.dish.lines
                if line.food_id
            }
        )

    @property
    def meals(self) -> list[tuple[str, list[tuple[DaySight, Sitting | None]]]]:
        return [(meal, [(day, day.sittings.get(meal)) for day in self.days]) for meal in MEALS]


@dataclass(frozen=True)
class Fitting:
    """A dish of the library that a day has room for. `role`: the label of the part of a meal it is, empty for what is eaten by itself;
    `brings`: of all the day still lacks, in parts, added up."""

    pk: int
    title: str
    state: str
    role: str
    brings: float


def dishes_for(sight: DaySight, meal: str, most: int = 12) -> tuple[list[Fitting], int]:
    """(dishes of the library one serving of which stays within what the day leaves, at a meal they suit, those first that bring most of
    what is still to come, and nothing they noted or will not eat; how many are not worked out yet)."""
    never = sight.regimen.eater.never
    there = library(meal, with_names=bool(never))
    states = fits(there.shelf, [guest_of_day(sight.day, meal)], meal)[:, 0]
    brought = brings(there.shelf, sight.day)
    found = []
    for at in np.flatnonzero(states >= TO_LOOK_AT):
        title, kind = there.titles[at], there.kinds[at]
        if never and name_in(never, there.shelf.names[at]):
            continue
        role = guess_role(kind, title, "dinner")
        if meal not in meals_for(kind, title, role):
            continue
        energy, protein = (float(there.shelf.spread[at, 1, INDEX[key]]) for key in ("energy_kcal", "protein_g"))
        is_part = meal in MAIN_DISHES and not is_enough(energy, protein)
        label = ROLES["side" if role == WHOLE else role].label if is_part else ""
        found.append(Fitting(there.pks[at], title, STATE_OF[int(states[at])], label, float(brought[at])))
    found.sort(key=lambda each: (bool(each.role), STATES.index(each.state), -each.brings, each.title))
    return found[:most], there.missing


def week_of(person: Person, first: date, count: int = WEEK) -> WeekSight:
    """So many days from `first`, in as many queries as one table takes."""
    seats = Seat.objects.there().filter(person=person, occasion__on__range=(first, first + timedelta(days=count - 1)))
    occasions = list(Occasion.objects.filter(pk__in=seats.values("occasion")))
    loaded = load(occasions, Person.objects.filter(pk=person.pk))
    regimen = loaded.people[person.pk]
    days = []
    for number in range(count):
        on = first + timedelta(days=number)
        sittings = {}
        for meal in MEALS:
            here = tuple(occasion for occasion in occasions if occasion.on == on and occasion.meal == meal)
            if here:
                sittings[meal] = _sitting(meal, here, person, regimen, loaded)
        days.append(DaySight(on, regimen, sittings))
    return WeekSight(regimen, days, batches_of([row for rows in loaded.rows.values() for row in rows]))


def _sitting(meal: str, occasions: tuple[Occasion, ...], person: Person, regimen: Regimen, loaded: Loaded) -> Sitting:
    """Of several tables of one meal, one sitting: what they eat at all of them."""
    rows: list[Row] = []
    portions: list[Portion] = []
    without: dict[int, frozenset[int]] = {}
    words: list[str] = []
    seat = CoreSeat(str(person), regimen.eater, ())
    for occasion in occasions:
        own = next(each for each in loaded.seats[occasion.pk] if each.person_id == person.pk)
        here = [loaded.dishes[row.pk] for row in loaded.rows[occasion.pk] if not row.is_away]
        seat = core_seat(own, regimen, here, loaded.helpings)
        without |= {len(rows) + at: positions for at, positions in seat.without.items()}
        rows += here
        portions += seat.portions
        helpings = [loaded.helpings.get((own.pk, row.row.pk)) for row in here]
        words += [helping.words if helping and helping.words else "1" for helping in helpings]
    whole = CoreSeat(str(person), regimen.eater, tuple(portions), without=without)
    [place] = lay([row.served for row in rows], [whole], meal).places
    eaten = (Eaten(row, said, crossing) for row, said, crossing in zip(rows, words, place.crossings, strict=True))
    return Sitting(meal, occasions, tuple(each for each in eaten if each.crossing.portion), place)


@prepared
def _chained(dish_ids: list[int]) -> QuerySet[OnTable]:
    """What of these dishes was left over for another table, and what it became there."""
    links = Q(left_overs__isnull=False) | Q(left_over_of__isnull=False)
    family = OnTable.objects.there().filter(Q(pk__in=dish_ids) | Q(left_over_of__in=dish_ids))
    return family.filter(links).only("occasion_id").distinct()


def batches_of(rows: list[OnTable], region: str = "us") -> list[tuple[OnTable, Batch]]:
    """What of these dishes was cooked once for several tables, wherever those stand."""
    sources = {row.left_over_of_id or row.pk for row in rows}
    chained = _chained(sources)
    if not chained:
        return []
    occasions = list(Occasion.objects.filter(pk__in=[row.occasion_id for row in chained]))
    loaded = load(occasions, Person.objects.none())
    on = {occasion.pk: occasion.on for occasion in occasions}
    eaten = {row.pk: _eaten(row, loaded) for rows_ in loaded.rows.values() for row in rows_ if not row.is_away}
    found = []
    for source in (
        loaded.dishes[row.pk]
        for rows_ in loaded.rows.values()
        for row in rows_
        if row.pk in sources and not row.is_away
    ):
        family = [row.row for row in loaded.dishes.values() if source.row.pk in (row.row.pk, row.row.left_over_of_id)]
        if len(family) > 1:
            uses = sorted((Use(on[row.occasion_id], eaten[row.pk]) for row in family), key=lambda use: use.on)
            made = source.served.dish.servings * source.row.batches
            found.append((source.row, batch_of(source.served.dish, on[source.row.occasion_id], made, uses, region)))
    return found


def _eaten(row: OnTable, loaded: Loaded) -> float:
    """Servings of a dish that everybody at its table eats."""
    seats = [seat for seat in loaded.seats[row.occasion_id] if not seat.is_away]
    dish = loaded.dishes[row.pk]
    return sum(portion_of(loaded.helpings.get((seat.pk, row.pk)), dish.served).likely for seat in seats)


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


def left_over_for(occasion: Occasion) -> list[tuple[OnTable, float, Batch]]:
    """(dish of an earlier table of these people, servings left, its batch) that may be eaten on here."""
    people = Seat.objects.there().filter(occasion=occasion, person__isnull=False).values("person")
    since = occasion.on - timedelta(days=LOOK_BACK)
    earlier = (
        Occasion.objects.filter(seats__person__in=people, on__range=(since, occasion.on))
        .exclude(pk=occasion.pk)
        .distinct()
    )
    occasions = [each for each in earlier if (each.on, each.serve_at) <= (occasion.on, occasion.serve_at)]
    loaded = load(occasions, Person.objects.none())
    rows = [row for own in loaded.rows.values() for row in own if not (row.is_away or row.words or row.left_over_of_id)]
    chained = {row.pk: batch for row, batch in batches_of(rows)}
    on = {each.pk: each.on for each in occasions}
    found = []
    for row in rows:
        served = loaded.dishes[row.pk].served
        batch = chained.get(row.pk)
        if batch is None:
            uses = [Use(on[row.occasion_id], _eaten(row, loaded))]
            batch = batch_of(served.dish, on[row.occasion_id], served.dish.servings * row.batches, uses)
        if batch.rest > 0.05:
            found.append((row, batch.rest, batch))
    return found
