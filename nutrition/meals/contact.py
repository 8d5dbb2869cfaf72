"""Traces: which dishes are cooked first, and which in a pan of their own, when somebody at the table reacts to what another dish holds."""

from dataclasses import dataclass

from nutrition.food.tags import ALLERGENS, CONTAINS
from nutrition.limits.avoid import hits_as_named
from nutrition.limits.plans import PLANS
from nutrition.limits.plans.allergens import CROSS_CONTACT
from nutrition.meals.table import Place, Table
from nutrition.notes import Note, note


@dataclass(frozen=True, slots=True)
class Contact:
    """One allergen that somebody keeps out and a dish on the table holds. `first`: dishes they eat, cooked before `after`,
    those that hold it; `steps`: what to do in the kitchen, in the words of the plans."""

    tag: str
    seats: tuple[int, ...]
    first: tuple[int, ...]
    after: tuple[int, ...]
    steps: tuple[str, ...]

    def words(self, table: Table) -> tuple[Note, ...]:
        names = tuple(table.places[at].seat.name for at in self.seats)
        first, after = (tuple(table.dishes[at].title for at in side) for side in (self.first, self.after))
        order = (note("meal.cook_first", tag=self.tag, names=names, first=first, after=after),) if first else ()
        return (note("meal.own_pan", tag=self.tag, names=names, dishes=after), *order)


def _reacts(place: Place, tag: str) -> bool:
    """Whether traces matter: a plan that keeps it out says how to cook without them."""
    return any(key not in PLANS or PLANS[key].cross_contact for key, _ in place.seat.eater.keeps_out.get(tag, ()))


def _steps(place: Place) -> tuple[str, ...]:
    own = tuple(step for key in place.seat.eater.plans for step in PLANS[key].cross_contact)
    return own + (CROSS_CONTACT if "severe_allergy" in place.seat.eater.facts.circumstances else ())


def contacts(table: Table) -> list[Contact]:
    """One for each allergen that matters to somebody here and that some dish holds, in the order of the list."""
    holds = [
        {hit.tag for line in each.dish.lines for hit in hits_as_named(line) if hit.verdict == CONTAINS}
        for each in table.dishes
    ]
    found = []
    for tag in ALLERGENS:
        seats = tuple(at for at, place in enumerate(table.places) if _reacts(place, tag))
        after = tuple(at for at, tags in enumerate(holds) if tag in tags)
        if not seats or not after:
            continue
        eaten = {at for seat in seats for at, portion in enumerate(table.places[seat].seat.portions) if portion}
        steps = tuple(dict.fromkeys(step for seat in seats for step in _steps(table.places[seat])))
        found.append(Contact(tag, seats, tuple(sorted(eaten - set(after))), after, steps))
    return found
