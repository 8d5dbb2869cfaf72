"""The library searched: by words of the title or of the foods, by tag, folder, part of a meal, minutes of hands, by what was decided and
how it tasted; in several orders."""

from django.apps import apps
from django.db.models import Avg, Exists, F, OuterRef, Q, Subquery

from .library import work_out_some
from .models import Recipe, Worked

ORDERS = {"title": "by title", "newest": "newest first", "quickest": "quickest first", "liked": "best liked first"}
_ORDER_BY = {
    "title": ("title", "pk"),
    "newest": ("-created_at", "-pk"),
    "quickest": ("worked__minutes", "title", "pk"),
    "liked": (F("mark").desc(nulls_last=True), "title", "pk"),
}
#: What became of a dish on the benches of this practice.
DECIDED = {"keep": "kept", "again": "to be tried again", "give up": "given up", "uncooked": "never cooked"}
#: So many words of a search count.
MOST_WORDS = 6


def _decided(choice):
    """Recipes a try of which was decided so, and not otherwise since; or that nobody has cooked."""
    if choice == "uncooked":
        cooks = apps.get_model("kitchen", "Cook").objects.filter(attempt__bench__recipe=OuterRef("pk"))
        return ~Exists(cooks)
    decisions = apps.get_model("bench", "Decision").objects.order_by()
    later = decisions.filter(attempt=OuterRef("attempt"), pk__gt=OuterRef("pk"))
    standing = decisions.filter(~Exists(later), choice=choice)
    return Q(pk__in=standing.values("attempt__bench__recipe"))


def _mark():
    """The mean mark for taste over all that was cooked of a recipe."""
    tastings = apps.get_model("kitchen", "Tasting").objects.filter(taste__isnull=False).order_by()
    of_this = tastings.filter(cook__attempt__bench__recipe=OuterRef("pk")).values("cook__attempt__bench__recipe")
    return Subquery(of_this.annotate(mean=Avg("taste")).values("mean"))


def searched(
    words="", tag="", role="", most_minutes=None, order="title", is_away=False, folder="", decided="", least_mark=None
):
    """Recipes of the library that answer to all of it. What no lines of theirs are worked out of yet is found by its title alone."""
    if words or role or most_minutes or order == "quickest":
        work_out_some()
    found = Recipe.objects.filter(is_read=True, put_away_at__isnull=not is_away)
    for word in words.lower().split()[:MOST_WORDS]:
        in_foods = Worked.objects.filter(recipe=OuterRef("pk"), words__contains=word)
        found = found.filter(Q(title__icontains=word) | Exists(in_foods))
    if tag:
        found = found.filter(tags__contains=[tag])
    if folder:
        found = found.filter(folder=folder)
    if role:
        found = found.filter(worked__role=role)
    if most_minutes:
        found = found.filter(worked__minutes__lte=most_minutes)
    if decided:
        found = found.filter(_decided(decided))
    if least_mark or order == "liked":
        found = found.annotate(mark=_mark())
    if least_mark:
        found = found.filter(mark__gte=least_mark)
    return found.order_by(*_ORDER_BY[order])
