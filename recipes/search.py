"""The library searched: by words of the title or of the foods, by tag, folder, part of a meal, minutes of hands, by what was decided and
how it tasted; in several orders."""

from django.apps import apps
from django.db.models import Avg, Exists, F, OuterRef, Q

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


def _means():
    """(recipe, mean) of the marks for taste over all that was cooked of it."""
    tastings = apps.get_model("kitchen", "Tasting").objects.filter(taste__isnull=False).order_by()
    return tastings.values("cook__attempt__bench__recipe").annotate(mean=Avg("taste"))


def _tasted(least):
    """Recipes of at least so many marks out of ten."""
    return _means().filter(mean__gte=least).values("cook__attempt__bench__recipe")


def searched(
    words="", tag="", role="", most_minutes=None, order="title", is_away=False, folder="", decided="", least_mark=None
):
    """Recipes of the library that answer to all of it. What no lines of theirs are worked out of yet is found by its title alone."""
    is_behind = False
    if words or role or most_minutes or order == "quickest":
        _, unkept, left = work_out_some()
        is_behind = bool(unkept or left)
    found = Recipe.objects.filter(is_read=True, put_away_at__isnull=not is_away)
    asked = words.lower().split()[:MOST_WORDS]
    if is_behind:
        for word in asked:
            named = Worked.objects.filter(words__contains=word).values("recipe")
            found = found.filter(Q(pk__in=named) | Q(title__icontains=word))
    elif asked:
        named = Worked.objects.filter(*(Q(words__contains=word) for word in asked)).values("recipe")
        # What nobody said the servings of is worked out of nothing: it goes by its title.
        by_title = Recipe.objects.filter(*(Q(title__icontains=word) for word in asked), worked=None).values("pk")
        found = found.filter(pk__in=named.union(by_title, all=True))
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
    if order == "liked":
        found = found.annotate(mark=Avg("benches__tries__cooks__tastings__taste"))
    if least_mark:
        found = found.filter(pk__in=_tasted(least_mark))
    return found.order_by(*_ORDER_BY[order])
