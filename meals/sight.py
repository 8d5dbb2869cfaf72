"""A table as it is looked at: the rows of the database, what the core says of them, and what stands where on the page."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cached_property

from nutrition.dish.naming import description_of
from nutrition.food.nutrients import BY_KEY
from nutrition.food.units import kitchen_number
from nutrition.limits.plans import PLANS, missing_for
from nutrition.limits.roles import ROLES
from nutrition.meals.contact import Contact, contacts
from nutrition.meals.library import Guest
from nutrition.meals.pairing import Pairing, pairings, to_blame
from nutrition.meals.room import Fits, room_for
from nutrition.meals.splitting import PotLine, Split, all_parts, pot_lines, steps_told
from nutrition.meals.table import NOT_EATEN, Crossing, Place, Table, lay
from nutrition.notes import Problem
from nutrition.sheet.verdicts import OPEN, SHUT, THROUGH, UNSURE, Verdict
from people.regimen import Regimen

from .loading import Laid, Loaded, core_seat, load
from .models import Helping, Occasion, OnTable, Seat
from .words import portion_words

#: What of a meal there may be room for, in the order it is told, and how many of it.
PARTS = ("bread", "salad", "dessert", "fruit", "starch", "spread", "drink")
SHOWN, SHOWN_OF_A_PART = 3, 2


class Row(Laid):
    """A dish of the table, with what is said of it."""

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


def table_of(occasion: Occasion, asked_for: int = 0) -> TableSight:
    """A table with everything on it."""
    return _laid(occasion, load([occasion]), asked_for)


def tables_of(occasions: list[Occasion]) -> list[TableSight]:
    """Several tables, in as many queries as one."""
    loaded = load(occasions)
    return [_laid(occasion, loaded) for occasion in occasions]


def _laid(occasion: Occasion, loaded: Loaded, asked_for: int = 0) -> TableSight:
    seats, rows = loaded.seats[occasion.pk], loaded.rows[occasion.pk]
    dishes = [_row(loaded.dishes[row.pk]) for row in rows if not row.is_away]
    sitting = [seat for seat in seats if not seat.is_away]
    regimen = {seat.pk: loaded.people.get(seat.person_id or 0) for seat in sitting}
    core = [core_seat(seat, regimen[seat.pk], dishes, loaded.helpings) for seat in sitting]
    table = lay([row.served for row in dishes], core, occasion.meal)
    columns = [_column(seat, place, regimen[seat.pk]) for seat, place in zip(sitting, table.places, strict=True)]
    away: list[Seat | OnTable] = [seat for seat in seats if seat.is_away]
    away += [row for row in rows if row.is_away]
    return TableSight(occasion, dishes, columns, table, loaded.helpings, away, asked_for)


def _row(laid: Laid) -> Row:
    return Row(laid.row, laid.served, laid.is_gone)


def _column(seat: Seat, place: Place, regimen: Regimen | None) -> Column:
    facts, plans = place.seat.eater.facts, place.seat.eater.plans
    missing = tuple(f"{PLANS[key].label}: {what}" for key in plans for what in missing_for(key, facts, plans[key]))
    return Column(seat, place, tuple(PLANS[key].label for key in plans), missing, regimen.drafts if regimen else 0)


def guests_of(sight: TableSight) -> list[Guest]:
    """Everybody at a table, as the library is asked for them."""
    return [Guest(column.place.seat.eater) for column in sight.columns]
