"""What can be put on a table, by the words typed: what is left over from others, cards and tries of those who sit here, the library; and
what of the library a day has room for."""

from dataclasses import dataclass

import numpy as np

from bench.models import Try
from handouts.models import Release
from nutrition.food.nutrients import INDEX
from nutrition.limits.noted import name_in
from nutrition.limits.roles import ROLES, WHOLE, guess_role
from nutrition.meals.leftovers import Batch
from nutrition.meals.library import TO_LOOK_AT, brings, fits, guest_of_day
from nutrition.meals.suits import is_enough, meals_for
from nutrition.sheet.verdicts import STATES
from recipes.library import STATE_OF, Fit, fitting, library
from recipes.models import Recipe

from .batches import left_over_for
from .days import DaySight
from .models import Occasion, OnTable
from .sight import guests_of, table_of

#: Of each kind so many at the most; of cards and tries half as many.
MOST = 12


@dataclass(frozen=True)
class Offered:
    """`left_overs`: (dish, servings left, its batch, whether it comes from the freezer only); `recipes`: (recipe, how it stands to everybody, the
    gate's state), the best first; `missing`: how many recipes are not worked out yet."""

    left_overs: list[tuple[OnTable, float, Batch, bool]]
    cards: list[Release]
    tries: list[Try]
    recipes: list[tuple[Recipe, Fit | None, str]]
    missing: int

    @property
    def is_nothing(self) -> bool:
        return not (self.left_overs or self.cards or self.tries or self.recipes)


def offered(occasion: Occasion, words: str) -> Offered:
    """`words`: of a title; nothing typed is everything, but what is past its days."""
    people = occasion.seats.there().values("person")  # type: ignore[attr-defined]
    cards = Release.objects.standing().filter(bench__person__in=people, dish__isnull=False)
    tries = Try.objects.in_lists().from_the_bench().filter(bench__person__in=people)
    recipes = Recipe.objects.filter(is_read=True, put_away_at=None, serves__gt=0)
    if words:
        cards, recipes = cards.filter(title__icontains=words), recipes.filter(title__icontains=words)
        tries = tries.filter(bench__recipe__title__icontains=words)
    found, missing = fitting(guests_of(table_of(occasion)), occasion.meal)
    best = sorted(
        recipes.only("title", "serves", "is_read"),
        key=lambda each: (found[each.pk].order if each.pk in found else (2, 0), each.title),
    )
    return Offered(
        _left_overs(occasion, words),
        list(cards.select_related("bench__person").defer("body", "dish")[: MOST // 2]),
        list(tries.order_by("-is_finished", "-touched_at")[: MOST // 2]),
        [(each, fit := found.get(each.pk), fit.gate if fit else "") for each in best[:MOST]],
        missing,
    )


def _left_overs(occasion: Occasion, words: str) -> list[tuple[OnTable, float, Batch, bool]]:
    found = []
    for row, servings, batch in left_over_for(occasion):
        is_past = batch.eat_by < occasion.on
        if (words and words.lower() in str(row).lower()) or not (words or is_past):
            found.append((row, servings, batch, is_past))
    return found[:MOST]


#: The meals at which one thing is the meal, and others stand beside it.
MAIN_DISHES = ("lunch", "dinner")


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
