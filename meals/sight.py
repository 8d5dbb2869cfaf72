"""A table as it is looked at: the rows of the database, what the core says of them, and what stands where on the page."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

from django.db.models import Count, F, Q, QuerySet

from accounts.prepared import prepared
from bench.models import Edit
from nutrition.dish.dish import Dish
from nutrition.dish.naming import description_of
from nutrition.food.nutrients import BY_KEY
from nutrition.food.units import kitchen_number
from nutrition.limits.eater import Eater
from nutrition.limits.plans import PLANS, Facts, missing_for, targets_for
from nutrition.limits.roles import ROLES
from nutrition.meals.contact import Contact, contacts
from nutrition.meals.library import Guest
from nutrition.meals.pairing import Pairing, pairings, to_blame
from nutrition.meals.portions import ONE, Portion, read_portion
from nutrition.meals.room import Fits, room_for
from nutrition.meals.splitting import PotLine, Split, all_parts, pot_lines, steps_told
from nutrition.meals.table import NOT_EATEN, Crossing, Place, Served, Table, lay
from nutrition.meals.table import Seat as CoreSeat
from nutrition.notes import Problem
from nutrition.sheet.verdicts import OPEN, SHUT, THROUGH, UNSURE, Verdict
from people.regimen import Regimen, regimens
from recipes.models import RecipeLine

from .models import Helping, Occasion, OnTable, Seat

#: What of a meal there may be room for, in the order it is told, and how many of it.
PARTS = ("bread", "salad", "dessert", "fruit", "starch", "spread", "drink")
SHOWN, SHOWN_OF_A_PART = 3, 2
#: What no table shows of where its dishes came from.
UNSEEN = (
    *(f"recipe__{name}" for name in ("source_text", "tags", "folder")),
    *("attempt__notes", "release__body", "release__facts", "release__dish"),
)


@dataclass(frozen=True)
class Row:
    """A dish of the table: its row, the dish as the core has it, and what became of where it came from."""

    row: OnTable
    served: Served
    is_gone: bool

    @property
    def address(self) -> str:
        source = self.row.release or self.row.attempt or self.row.recipe
        return source.get_absolute_url() if source else ""

    @property
    def what(self) -> str:
        """ "main · Try 2"."""
        card = None if self.row.is_own else self.row.release
        went_out = f"card {card.number}, as it went out" if card else ""
        of = [ROLES[self.row.role].label, went_out or (self.row.attempt.name if self.row.attempt else "")]
        return " · ".join(filter(None, of))

    @property
    def read_as(self) -> str:
        """Of a food typed in words, which food of the table it was taken for."""
        lines = self.served.dish.lines
        return description_of(lines[0]) or "no food of the table" if self.served.is_plain and len(lines) == 1 else ""

    @property
    def to_check(self) -> list[str]:
        """Lines whose words leave open which food they mean, or how much."""
        return [line.text for line in self.served.dish.lines if line.sure == "check"]

    @property
    def note(self) -> str:
        """What became of where it came from."""
        if self.row.release and self.row.release.recalled:
            return "Its card was recalled: nobody should cook from it any more."
        if self.row.left_over_of_id:
            return "Left over from another table: cooked once, counted once."
        if self.is_gone:
            return "Its recipe is gone from the library; this is how it stood."
        return "Changed for this table." if self.row.is_own else ""


@dataclass(frozen=True)
class Cell:
    """A crossing as the page draws it: the words of the portion, and the lines their part is taken out before."""

    column: "Column"
    dish: int
    crossing: Crossing
    words: str
    left_out: tuple[str, ...]
    is_watched: bool = False

    @property
    def is_eaten(self) -> bool:
        return self.crossing.state != NOT_EATEN

    @property
    def shown(self) -> str:
        return self.words or "1"

    @property
    def blamed(self) -> str:
        """ "most of the sodium and energy", where it brings too much of them."""
        names = self.column.blamed.get(self.crossing.dish, [])
        return f"most of the {' and '.join(', '.join(names).rsplit(', ', 1))}" if names else ""

    @property
    def key(self) -> str:
        """Of the crossing on the page."""
        return f"{self.column.seat.pk}-{self.dish}"


@dataclass(frozen=True)
class Column:
    """An eater of the table."""

    seat: Seat
    place: Place
    plans: tuple[str, ...]
    missing: tuple[str, ...] = ()
    drafts: int = 0

    @property
    def gauges(self) -> list[Verdict]:
        """The meal's gates, shut first, then what cannot be told."""
        return sorted(self.place.verdicts, key=lambda v: (SHUT, UNSURE, OPEN).index(v.state))

    @cached_property
    def blamed(self) -> dict[int, list[str]]:
        """Dish -> the nutrients of which it brings most where there is too much."""
        found: dict[int, list[str]] = {}
        for verdict in self.place.verdicts:
            if blame := to_blame(self.place, verdict.gate.nutrient):
                found.setdefault(blame[0], []).append(BY_KEY[verdict.gate.nutrient].label.lower())
        return found

    @property
    def has_limits(self) -> bool:
        return bool(self.place.verdicts or self.place.kept or self.plans)

    @cached_property
    def room(self) -> tuple[list[list[Fits]], list[list[Fits]]]:
        """Foods that still fit, part by part of a meal: those that are told, and those that are folded away."""
        found = room_for(self.place)
        fits = [found[part][:SHOWN_OF_A_PART] for part in PARTS if part in found]
        return [each[:1] for each in fits[:SHOWN]], [each[1:] for each in fits[:SHOWN] if each[1:]] + fits[SHOWN:]

    @property
    def kept_open(self) -> list[str]:
        """What is kept out and nothing listed was found of."""
        return [each.label for each in self.place.kept if each.state == OPEN]

    @property
    def is_over(self) -> bool:
        """Whether a ceiling is passed, or may be."""
        return any(self.place.left(each.gate.nutrient) < 0 for each in self.place.verdicts)

    @property
    def has_ceilings(self) -> bool:
        return any(verdict.gate.high for verdict in self.place.verdicts)


@dataclass(frozen=True)
class Apart:
    """A pot that is split: the keys of the lines some cannot have, their seats, and what to do in words. `is_taken`: they eat so."""

    row: Row
    keys: tuple[str, ...]
    seats: tuple[int, ...]
    words: tuple[str, ...]
    is_taken: bool


@dataclass(frozen=True)
class Pot:
    """A dish as it is cooked for a table. `names`: whose parts are taken out, split by split; `lines` of the pot in grams; `steps`:
    (number, words), number 0 for what is done with the parts; `portions`: (eater, words, what their part is without)."""

    servings: float
    names: list[str]
    lines: list[PotLine]
    steps: list[tuple[int, str]]
    portions: list[tuple[str, str, tuple[str, ...]]]
    traces: list[str]
    minds: list[str]
    keeps_out: list[tuple[str, str]]


@dataclass
class TableSight:
    """All of a table: `rows` down, `columns` across."""

    occasion: Occasion
    rows: list[Row]
    columns: list[Column]
    table: Table
    helpings: dict[tuple[int, int], Helping]
    away: list[Seat | OnTable] = field(default_factory=list)
    asked_for: int = 0
    #: Dish -> what is said of the batch it is of.
    batches: dict[int, str] = field(default_factory=dict)

    @property
    def watched(self) -> int:
        """Whose place a narrow screen shows: who was asked for, else the first who is not through."""
        seats = [column.seat.pk for column in self.columns]
        if self.asked_for in seats or not seats:
            return self.asked_for
        return next((column.seat.pk for column in self.columns if column.place.state not in THROUGH), seats[0])

    def cells(self, at: int) -> list[Cell]:
        """Of one dish, a cell an eater."""
        row, found, watched = self.rows[at], [], self.watched
        for column in self.columns:
            helping = self.helpings.get((column.seat.pk, row.row.pk))
            dish = row.served.dish
            left_out = tuple(line.text for line in dish.lines if helping and line.key in helping.without)
            found.append(
                Cell(
                    column,
                    row.row.pk,
                    column.place.crossings[at],
                    helping.words if helping else "",
                    left_out,
                    column.seat.pk == watched,
                )
            )
        return found

    @property
    def grid(self) -> list[tuple[Row, list[Cell], str, str]]:
        """(dish, its cells, how much of it is eaten, how much is short): words, empty for a plain food."""
        return [(row, self.cells(at), *self._eaten(at)) for at, row in enumerate(self.rows)]

    def _eaten(self, at: int) -> tuple[str, str]:
        served, short = self.rows[at].served, -self.table.spare(at)
        if served.is_plain:
            return "", ""
        eaten = self.table.eaten(at).likely
        words = f"{kitchen_number(eaten) if eaten else 0} of {kitchen_number(served.measured.servings)} eaten"
        return words, f"{kitchen_number(short)} short" if short > 0.01 and not self.rows[at].row.left_over_of_id else ""

    @property
    def through(self) -> int:
        return sum(column.place.state in THROUGH for column in self.columns)

    @property
    def shut_by_numbers(self) -> int:
        """Whose meal portions could open."""
        return sum(any(verdict.state == SHUT for verdict in column.place.verdicts) for column in self.columns)

    @cached_property
    def splits(self) -> list["Apart"]:
        """Of the dishes somebody cannot eat as they are, and of those that are split already."""
        found = []
        for at, row in enumerate(self.rows):
            taken, could = all_parts(self.table, at)
            found += [self._apart(row, split, True) for split in taken]
            found += [self._apart(row, split, False) for split in could]
        return found

    def _apart(self, row: Row, split: Split, is_taken: bool) -> "Apart":
        keys = tuple(row.served.dish.lines[at].key for at in split.without)
        seats = tuple(self.columns[at].seat.pk for at in split.seats)
        return Apart(row, keys, seats, tuple(str(each) for each in split.words(self.table)), is_taken)

    def pot_of(self, row: Row) -> Pot:
        """How a dish is cooked here: split as people eat, or as it could be where somebody cannot have it as it is."""
        at = self.row_of(row.row.pk)
        taken, could = all_parts(self.table, at)
        parts = [*taken, *could]
        eaten = [cell for cell in self.cells(at) if cell.is_eaten]
        return Pot(
            servings=row.served.measured.servings,
            names=[" and ".join(split.names(self.table)) for split in parts],
            lines=pot_lines(self.table, at, parts),
            steps=steps_told(self.table, at, parts),
            portions=[(str(cell.column.seat), portion_words(cell.shown), cell.left_out) for cell in eaten],
            traces=[
                words for contact, said in self.contacts if at in (*contact.first, *contact.after) for words in said
            ],
            minds=[f"{cell.column.seat}: {words}" for cell in eaten for words in cell.crossing.minds],
            keeps_out=self.keeps_out(cell.column for cell in eaten),
        )

    def keeps_out(self, columns: Iterable[Column] | None = None) -> list[tuple[str, str]]:
        """(eater, what they keep out in words) of these, or of everybody who sits here."""
        eaters = self.columns if columns is None else columns
        said = ((str(column.seat), column.place.seat.eater.keeps_out_words) for column in eaters)
        return [(name, str(words)) for name, words in said if words]

    @cached_property
    def contacts(self) -> list[tuple[Contact, list[str]]]:
        return [(each, [str(words) for words in each.words(self.table)]) for each in contacts(self.table)]

    @cached_property
    def pairings(self) -> list[tuple[Column, Pairing, str, str]]:
        """(eater, pairing, the dish, who pays): the one most over its share for each."""
        found = []
        for column in self.columns:
            for each in pairings(self.table, column.place)[:1]:
                payer = "" if each.payer is None else self.rows[each.payer].served.title
                found.append((column, each, self.rows[each.dish].served.title, payer))
        return found

    def row_of(self, pk: int) -> int:
        """Where a dish stands. Raises Problem when it is not here."""
        return _position([row.row.pk for row in self.rows], pk)

    def column_of(self, pk: int) -> int:
        return _position([column.seat.pk for column in self.columns], pk)


def _position(pks: list[int], pk: int) -> int:
    if pk not in pks:
        raise Problem("meals.not_here")
    return pks.index(pk)


@dataclass
class Loaded:
    """The rows of some tables, read at once. `people`: what the persons who sit at them are held to."""

    seats: dict[int, list[Seat]]
    rows: dict[int, list[OnTable]]
    helpings: dict[tuple[int, int], Helping]
    dishes: dict[int, Row]
    people: dict[int, Regimen]


@prepared
def _seats_at(occasion_ids: list[int]) -> QuerySet[Seat]:
    return Seat.objects.filter(occasion__in=occasion_ids).select_related("person")


@prepared
def _dishes_on(occasion_ids: list[int]) -> QuerySet[OnTable]:
    rows = OnTable.objects.filter(occasion__in=occasion_ids).select_related("recipe", "attempt", "release__recall")
    return rows.defer(*UNSEEN)


@prepared
def _helpings_at(occasion_ids: list[int]) -> QuerySet[Helping]:
    return Helping.objects.filter(seat__occasion__in=occasion_ids)


@prepared
def _lines_of(recipe_ids: list[int]) -> QuerySet[RecipeLine]:
    return RecipeLine.objects.filter(recipe__in=recipe_ids)


@prepared
def _standing_edits(try_ids: list[int]) -> QuerySet[Edit]:
    """The cursor of each try says which of its edits stands."""
    edits = Edit.objects.filter(attempt__in=try_ids, number=F("attempt__cursor"))
    seen = ("dish", "attempt__bench__recipe__title")
    return edits.select_related("attempt__bench__recipe").only("attempt_id", *seen)


def load(occasions: list[Occasion], people: Any = None) -> Loaded:
    """Everything on these tables, in as many queries however many they are. `people`: only these (a queryset of persons) are
    looked at; everybody who sits there where none are named."""
    ids = [occasion.pk for occasion in occasions]
    seats, rows, helpings = _seats_at(ids), _dishes_on(ids), _helpings_at(ids)
    sources = _sources([row for row in rows if row.follows])
    dishes = {row.pk: Row(row, _served(row, sources), _is_gone(row)) for row in rows if not row.is_away}
    sitting = {seat.person_id: seat.person for seat in seats if seat.person_id}
    held_to = regimens(sitting.values() if people is None else people)
    return Loaded(
        _by_occasion(ids, seats),
        _by_occasion(ids, rows),
        {(each.seat_id, each.dish_id): each for each in helpings},
        dishes,
        {each.person.pk: each for each in held_to},
    )


def _by_occasion(ids: list[int], rows: Sequence[Any]) -> dict[int, list[Any]]:
    return {pk: [row for row in rows if row.occasion_id == pk] for pk in ids}


def table_of(occasion: Occasion, asked_for: int = 0) -> TableSight:
    """A table with everything on it."""
    return _laid(occasion, load([occasion]), asked_for)


def tables_of(occasions: list[Occasion]) -> list[TableSight]:
    """Several tables, in as many queries as one."""
    loaded = load(occasions)
    return [_laid(occasion, loaded) for occasion in occasions]


def _laid(occasion: Occasion, loaded: Loaded, asked_for: int = 0) -> TableSight:
    seats, rows = loaded.seats[occasion.pk], loaded.rows[occasion.pk]
    dishes = [loaded.dishes[row.pk] for row in rows if not row.is_away]
    sitting = [seat for seat in seats if not seat.is_away]
    regimen = {seat.pk: loaded.people.get(seat.person_id or 0) for seat in sitting}
    core = [core_seat(seat, regimen[seat.pk], dishes, loaded.helpings) for seat in sitting]
    table = lay([row.served for row in dishes], core, occasion.meal)
    columns = [_column(seat, place, regimen[seat.pk]) for seat, place in zip(sitting, table.places, strict=True)]
    away: list[Seat | OnTable] = [seat for seat in seats if seat.is_away]
    away += [row for row in rows if row.is_away]
    return TableSight(occasion, dishes, columns, table, loaded.helpings, away, asked_for)


def _sources(rows: list[OnTable]) -> dict[tuple[str, int], Dish]:
    """The dishes as they stand now, of the rows that follow a try or a recipe."""
    attempts = [row.attempt_id for row in rows if row.attempt_id]
    standing = _standing_edits(attempts) if attempts else []
    found: dict[tuple[str, int], Dish] = {
        ("try", edit.attempt_id): replace(edit.dish, title=edit.attempt.bench.recipe.title) for edit in standing
    }
    recipes = {row.recipe.pk: row.recipe for row in rows if row.recipe and not row.attempt_id}
    lines: dict[int, list[RecipeLine]] = {pk: [] for pk in recipes}
    for line in _lines_of(recipes.keys()):
        lines[line.recipe_id].append(line)
    return found | {("recipe", pk): recipe.dish_of(lines[pk]) for pk, recipe in recipes.items()}


def _served(row: OnTable, sources: dict[tuple[str, int], Dish]) -> Served:
    """As its try or recipe stands; as it was kept where that is gone, or says no more how many it serves."""
    live = sources.get(("try", row.attempt_id or 0)) or sources.get(("recipe", row.recipe_id or 0))
    live = live if row.follows else None
    dish = live if live and live.serves and live.lines else row.kept
    is_plain = bool(row.words) and not row.recipe_id
    return Served(dish, row.role, row.cooked_serving_g, row.batches, row.pieces, is_plain)


def _is_gone(row: OnTable) -> bool:
    """Whether it was taken from the library, and the recipe is not there any more."""
    return not (row.words or row.recipe_id)


def core_seat(
    seat: Seat, regimen: Regimen | None, rows: list[Row], helpings: dict[tuple[int, int], Helping]
) -> CoreSeat:
    eater = regimen.eater if regimen else guest_of(seat)
    portions, without = [], {}
    for at, row in enumerate(rows):
        helping = helpings.get((seat.pk, row.row.pk))
        portions.append(portion_of(helping, row.served))
        if helping and helping.without:
            lines = row.served.dish.lines
            without[at] = frozenset(position for position, line in enumerate(lines) if line.key in helping.without)
    return CoreSeat(str(seat), eater, tuple(portions), without={at: each for at, each in without.items() if each})


def portion_words(words: str) -> str:
    """ "2 servings", "half a serving"; words that name what they count as they are."""
    plain = {"1": "1 serving", "half": "half a serving"}.get(words)
    return plain or (f"{words} servings" if re.fullmatch(r"[\d.,/ ½¼¾⅓⅔]+", words) else words)


def served_of(row: OnTable) -> Served:
    """One dish of a table as the core has it."""
    return _served(row, _sources([row] if row.follows else []))


def portion_of(helping: Helping | None, served: Served) -> Portion:
    """What was said; one serving where the words cannot be read any more (its weight is not known now)."""
    try:
        return read_portion(helping.words, served.measured) if helping else ONE
    except Problem:
        return ONE


def guest_of(seat: Seat) -> Eater:
    """A guest with limits only, as the core takes them."""
    plans = {key: settings for key, settings in seat.plans.items() if key in PLANS}
    facts = Facts(weight_kg=seat.weight_kg, energy_kcal=seat.energy_kcal, plans=tuple(plans))
    return Eater(facts, plans, tuple(target for key in plans for target in targets_for(key, facts, plans[key])))


def _column(seat: Seat, place: Place, regimen: Regimen | None) -> Column:
    facts, plans = place.seat.eater.facts, place.seat.eater.plans
    missing = tuple(f"{PLANS[key].label}: {what}" for key in plans for what in missing_for(key, facts, plans[key]))
    return Column(seat, place, tuple(PLANS[key].label for key in plans), missing, regimen.drafts if regimen else 0)


def guests_of(sight: TableSight) -> list[Guest]:
    """Everybody at a table, as the library is asked for them."""
    return [Guest(column.place.seat.eater) for column in sight.columns]


def coming(queryset: Any) -> Any:
    """Tables for a list: with how many dishes and eaters."""
    return queryset.annotate(
        eaters=Count("seats", filter=Q(seats__is_away=False), distinct=True),
        dish_count=Count("dishes", filter=Q(dishes__is_away=False), distinct=True),
    )
