"""The library as one shelf, worked out as far as it was not: what fits everybody is asked of all of it at once."""

from dataclasses import dataclass

from django.db.models import Exists, F, OuterRef

from accounts.models import Practice
from accounts.permissions import may
from accounts.scope import current_practice_id
from nutrition.limits.roles import guess_role
from nutrition.meals.library import (
    SAID,
    SHAPE,
    TO_LOOK_AT,
    Guest,
    Held,
    Shelf,
    fits,
    for_everybody,
    held,
    packed,
    packed_flags,
    shelf,
    unpacked,
    unpacked_flags,
)
from nutrition.meals.oven import hands_on
from people.regimen import regimen_of, regimens
from records.acting import acting

from .models import Recipe, RecipeLine, Worked

#: Changes whenever the words of what is kept are put together otherwise.
WORDS = "each-once"
#: What `fits` says -> the state of a gate.
STATE_OF = {said: state for state, said in SAID.items()}
#: So many recipes are worked out anew while somebody waits; the rest the next time.
AT_ONCE = 150


@dataclass(frozen=True)
class Library:
    """`pks`, `titles` and `kinds` in the order of the shelf; `missing`: how many recipes are not worked out yet."""

    pks: list[int]
    titles: list[str]
    kinds: list[str]
    shelf: Shelf
    missing: int


def foods_stamp():
    """Changes with the practice's own foods and with the shape of what is kept."""
    return (
        f"{SHAPE}-{WORDS}-{Practice.objects.values_list('own_foods_stamp', flat=True).get(pk=current_practice_id())}"[
            :80
        ]
    )


def _worked(recipe, stamp):
    dish = recipe.dish
    found = held(dish)
    return Worked(
        recipe=recipe,
        practice_id=recipe.practice_id,
        of=recipe.changed_at,
        stamp=stamp,
        spread=packed(found.spread),
        contains=list(found.contains),
        check_label=list(found.check),
        flags=packed_flags(found.flags),
        names=list(found.names),
        words=" ".join(dict.fromkeys(" ".join((recipe.title, *found.names)).lower().split())),
        role=guess_role(dish.kind, dish.title, "dinner"),
        minutes=hands_on(dish),
    )


_KEPT = ("of", "stamp", "spread", "contains", "check_label", "flags", "names", "words", "role", "minutes")


def work_out_some():
    """What changed since it was last worked out, so many at once. (the stamp that counts, rows that were not kept, how many are
    left): whoever only reads writes nothing, and has what they asked for all the same."""
    stamp = foods_stamp()
    fresh = Worked.objects.filter(recipe=OuterRef("pk"), of=OuterRef("changed_at"), stamp=stamp)
    lines = RecipeLine.objects.filter(recipe=OuterRef("pk"))
    stale = Recipe.objects.filter(~Exists(fresh), Exists(lines), is_read=True, serves__gt=0)
    now = list(stale.order_by("pk").values_list("pk", flat=True)[:AT_ONCE])
    rows = (
        [_worked(recipe, stamp) for recipe in Recipe.objects.filter(pk__in=now).prefetch_related("lines")]
        if now
        else []
    )
    left = stale.count() - len(rows) if len(rows) == AT_ONCE else 0
    user = acting().user
    if user is not None and not may(user, "recipes.change"):
        return stamp, rows, left
    Worked.objects.bulk_create(rows, update_conflicts=True, unique_fields=["recipe"], update_fields=_KEPT)
    return stamp, [], left


def library(meal="dinner", with_names=True, only=None):
    """Everything that can be put on a table and is not put away. `with_names`: with the names of its foods, which only a noted
    word asks for. `only`: of these recipes (primary keys)."""
    stamp, unkept, left = work_out_some()
    there = Worked.objects.filter(
        stamp=stamp, of=F("recipe__changed_at"), recipe__is_read=True, recipe__put_away_at=None
    )
    if only is not None:
        there, unkept = there.filter(recipe__in=only), [each for each in unkept if each.recipe_id in only]
    columns = ["recipe_id", "recipe__title", "recipe__kind", "spread", "contains", "check_label", "flags"]
    rows = list(there.values_list(*columns, *(["names"] if with_names else [])))
    rows += [
        (
            each.recipe_id,
            each.recipe.title,
            each.recipe.kind,
            *(getattr(each, name) for name in (*columns[3:], "names")),
        )
        for each in unkept
        if each.recipe.put_away_at is None
    ]
    spreads = unpacked(bytes(row[3]) for row in rows)
    flags = unpacked_flags(bytes(row[6]) for row in rows)
    dishes = [
        Held(spread, tuple(row[4]), tuple(row[5]), tuple(row[7]) if with_names else (), own)
        for row, spread, own in zip(rows, spreads, flags, strict=True)
    ]
    roles = [guess_role(kind, title, meal) for _, title, kind, *_ in rows]
    pks, titles, kinds = ([row[at] for row in rows] for at in range(3))
    return Library(pks, titles, kinds, shelf(dishes, roles), left)


@dataclass(frozen=True, slots=True)
class Fit:
    """How a dish stands to everybody asked for: the worst state of all, as `fits` says it; for how many it is through; of how many."""

    state: int
    through: int
    guests: int

    @property
    def gate(self):
        """The state of its gate."""
        return STATE_OF[self.state]

    @property
    def order(self):
        """The best first."""
        return -self.state, -self.through


def fitting(guests: list[Guest], meal: str, only: set[int] | None = None) -> tuple[dict[int, Fit], int]:
    """(recipe -> how it stands; how many recipes are not worked out yet). `only`: of these recipes."""
    found = library(meal, with_names=any(guest.eater.never for guest in guests), only=only)
    each = fits(found.shelf, guests, meal)
    through = (each > TO_LOOK_AT).sum(axis=1)
    rows = zip(found.pks, for_everybody(each), through, strict=True)
    return {pk: Fit(int(worst), int(count), len(guests)) for pk, worst, count in rows}, found.missing


def fits_person(person, meal="dinner", only=None):
    """As `fitting`, of one serving for one person."""
    return fitting([Guest(regimen_of(person).eater)], meal, only)


def fits_people(people, meal="dinner"):
    """As `fitting`, of one serving for each of several (a queryset)."""
    return fitting([Guest(each.eater) for each in regimens(people)], meal)
