"""Days and weeks of a person as they are looked at: the tables they sit at, meal by meal, and what those days hold together."""

from collections import Counter
from dataclasses import dataclass, field
from datetime import date, timedelta
from functools import cached_property

from nutrition.food.nutrients import INDEX
from nutrition.limits.gates import MEAL_SHARES
from nutrition.meals.day import Day, averages, day_of
from nutrition.meals.leftovers import Batch
from nutrition.meals.portions import Portion
from nutrition.meals.snacks import Snack, snacks_for
from nutrition.meals.table import Crossing, Place, lay
from nutrition.meals.table import Seat as CoreSeat
from nutrition.sheet.verdicts import SHUT, UNSURE, Verdict
from people.models import Person
from people.regimen import Regimen

from .batches import batches_of
from .loading import Laid, Loaded, core_seat, load
from .models import Occasion, OnTable, Seat
from .words import portion_words

MEALS = tuple(MEAL_SHARES)
WEEK = 7


@dataclass(frozen=True)
class Eaten:
    """One dish of a meal as the person has it: the words of their portion."""

    row: Laid
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
        return self.place.own_limits

    @property
    def state(self) -> str:
        """By what is kept out, and by limits that are of each meal and no share of the day."""
        return self.place.on_its_own


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
        return averages([day.day for day in self.planned])

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
    rows: list[Laid] = []
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
