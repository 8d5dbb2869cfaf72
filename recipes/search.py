"""The library searched: by words of the title or of the foods, by tag, part of a meal, minutes of hands; in several orders."""

from django.db.models import Exists, OuterRef, Q

from .library import work_out_some
from .models import Recipe, Worked

ORDERS = {"title": "by title", "newest": "newest first", "quickest": "quickest first"}
_ORDER_BY = {"title": ("title", "pk"), "newest": ("-created_at", "-pk"), "quickest": ("worked__minutes", "title", "pk")}
#: So many words of a search count.
MOST_WORDS = 6


def searched(words="", tag="", role="", most_minutes=None, order="title", is_away=False):
    """Recipes of the library that answer to all of it. What no lines of theirs are worked out of yet is found by its title alone."""
    if words or role or most_minutes or order == "quickest":
        work_out_some()
    found = Recipe.objects.filter(is_read=True, put_away_at__isnull=not is_away)
    for word in words.lower().split()[:MOST_WORDS]:
        in_foods = Worked.objects.filter(recipe=OuterRef("pk"), words__contains=word)
        found = found.filter(Q(title__icontains=word) | Exists(in_foods))
    if tag:
        found = found.filter(tags__contains=[tag])
    if role:
        found = found.filter(worked__role=role)
    if most_minutes:
        found = found.filter(worked__minutes__lte=most_minutes)
    return found.order_by(*_ORDER_BY[order])
