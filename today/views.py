"""Today: what waits, and a finished example to open."""

from django.db.models import Count, Exists, OuterRef, Q
from django.shortcuts import render

from accounts.permissions import allowed, may
from bench.models import Decision, Try
from bench.renewal import behind_anywhere
from handouts.models import Release
from kitchen.models import Cook
from nutrition.reading.matching import search_foods
from people.models import Person
from recipes.library import fits_person
from recipes.models import Recipe
from recipes.search import searched
from ui import lately

from .forms import FindForm

#: Dishes one box shows, and of how many it picks those that fit.
SHOWN, LOOKED_AT = 8, 60


@allowed("practice.see")
def today(request):
    """Recipes to read, pots on the stove, cooks to judge, tries to finish, targets nobody has confirmed; a finished dish to look at."""
    # Who may not open a bench is shown none: what stands there tells of diagnoses.
    sees_benches = may(request.user, "bench.see")
    tries = Try.objects.in_lists().order_by("-touched_at")
    cooks = Cook.objects.in_lists().order_by("-started_at")
    # Each of the two is cut by itself, so that many to judge never push a pot off the stove; asked for at once.
    waiting = list(cooks.on_the_stove()[:8].union(cooks.undecided()[:8], all=True).order_by("-started_at"))
    given_up = Decision.objects.filter(attempt=OuterRef("pk"), choice=Decision.GIVE_UP)
    finished = tries.filter(~Exists(given_up), is_finished=True)[:4]
    to_finish = tries.not_cooked().filter(is_finished=False)[:8]
    seen = list(to_finish.union(finished, all=True).order_by("-touched_at")) if sees_benches else []
    cards = (
        list(Release.objects.to_look_at().select_related("bench__person__held_to").defer("body", "dish")[:12])
        if sees_benches
        else []
    )
    standing_drafts = Q(targets__removed_at__isnull=True, targets__confirmed_on__isnull=True)
    drafts = Person.objects.there().annotate(drafts=Count("targets", filter=standing_drafts)).filter(drafts__gt=0)
    return render(
        request,
        "today/today.html",
        {
            "on_the_stove": [cook for cook in waiting if not cook.finished_at],
            "to_judge": [cook for cook in waiting if cook.finished_at],
            "to_read": Recipe.objects.filter(is_read=False)
            .only("title", "is_read", "created_at")
            .order_by("-created_at")[:8],
            "to_finish": [attempt for attempt in seen if not attempt.is_finished],
            "to_confirm": drafts[:8] if may(request.user, "people.see") else (),
            "finished": [attempt for attempt in seen if attempt.is_finished],
            "under_other_limits": [each for each in cards if each.is_under_other_limits],
            "not_cooked": [each for each in cards if each.is_not_cooked and not each.is_under_other_limits],
            "behind": behind_anywhere(4) if sees_benches else (),
            "sees_benches": sees_benches,
            "has_people": Person.objects.exists,  # asked only on an empty day
        },
    )


@allowed("practice.see")
def keys(request):
    """Every key, on a page of its own."""
    return render(request, "today/keys.html")


@allowed("practice.see")
def find(request):
    """One box for people, recipes and foods. Posted, so that no name stands in an address, a log or a history."""
    words = FindForm(request.POST).words
    context = {"words": words}
    if words:
        found, person = _dishes(request, words)
        context |= {
            "people": Person.objects.there().filter(name__icontains=words)[:8]
            if may(request.user, "people.see")
            else (),
            "recipes": found,
            "fits_for": person,
            "foods": search_foods(words, 12),
        }
    return render(request, "today/find.html", context)


def _dishes(request, words):
    """([(recipe, state)], for whom): by title or food; for the person last worked with, what fits stands first."""
    found = list(searched(words).only("title", "is_read")[:LOOKED_AT])
    found += Recipe.objects.filter(is_read=False, title__icontains=words).only("title", "is_read")[:SHOWN]
    person = Person.objects.filter(pk=lately.person(request)).first() if may(request.user, "people.see") else None
    if person is None or not found:
        return [(recipe, "") for recipe in found[:SHOWN]], None
    fits, _ = fits_person(person, only={recipe.pk for recipe in found})
    found.sort(key=lambda recipe: fits[recipe.pk].order if recipe.pk in fits else (2, 0))
    return [(recipe, fits[recipe.pk].gate if recipe.pk in fits else "") for recipe in found[:SHOWN]], person
