"""Today: what waits, and a finished example to open."""

from django.db.models import Count, Q
from django.shortcuts import render

from accounts.permissions import allowed
from bench.models import Decision, Try
from bench.renewal import behind_anywhere
from kitchen.models import Cook
from nutrition.reading.matching import search_foods
from people.models import Person
from recipes.models import Recipe


@allowed("practice.see")
def today(request):
    """Recipes to read, pots on the stove, cooks to judge, tries to finish, targets nobody has confirmed; a finished dish to look at."""
    tries = Try.objects.select_related("bench__recipe", "bench__person")
    drafts = Person.objects.annotate(drafts=Count("targets", filter=Q(targets__confirmed_on__isnull=True))).filter(
        drafts__gt=0
    )
    cooks = list(
        Cook.objects.annotate(decided=Count("attempt__decisions"))
        .filter(decided=0)
        .select_related("attempt__bench__recipe", "attempt__bench__person")[:24]
    )
    return render(
        request,
        "today/today.html",
        {
            "on_the_stove": [cook for cook in cooks if not cook.finished_at][:4],
            "to_judge": [cook for cook in cooks if cook.finished_at][:8],
            "to_read": Recipe.objects.filter(is_read=False).order_by("-created_at")[:8],
            "to_finish": tries.filter(is_finished=False, cooked_in=None, cooks=None).order_by("-touched_at")[:8],
            "to_confirm": drafts[:8],
            "finished": tries.filter(is_finished=True)
            .exclude(decisions__choice=Decision.GIVE_UP)
            .order_by("-touched_at")[:4],
            "behind": behind_anywhere(4),
            "has_people": Person.objects.exists,  # asked only on an empty day
        },
    )


@allowed("practice.see")
def keys(request):
    """Every key, on a page of its own."""
    return render(request, "today/keys.html")


@allowed("practice.see")
def find(request):
    """One box for people, recipes and foods."""
    words = request.GET.get("q", "").strip()[:80]
    context = {"words": words}
    if words:
        context |= {
            "people": Person.objects.filter(name__icontains=words)[:8],
            "recipes": Recipe.objects.filter(title__icontains=words)[:8],
            "foods": search_foods(words, 12),
        }
    return render(request, "today/find.html", context)
