"""What can be put on a table, by the words typed: what is left over from others, cards and tries of those who sit here, the library."""

from dataclasses import dataclass

from bench.models import Try
from handouts.models import Release
from nutrition.meals.leftovers import Batch
from recipes.library import Fit, fitting
from recipes.models import Recipe

from .days import left_over_for
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
