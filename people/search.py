"""People searched: by words of a name or a household, by plan; in several orders."""

from django.db.models import Count, Q

from .models import Person

ORDERS = {"name": "by name", "household": "by household", "newest": "newest first"}
_ORDER_BY = {"name": ("name", "pk"), "household": ("household", "name", "pk"), "newest": ("-created_at", "-pk")}
MOST_WORDS = 6


def searched(words="", plan="", order="name", is_away=False):
    """Those who answer to all of it, with how many targets of theirs stand (`count`) and are drafts (`drafts`)."""
    found = Person.objects.filter(put_away_at__isnull=not is_away)
    for word in words.split()[:MOST_WORDS]:
        found = found.filter(Q(name__icontains=word) | Q(household__icontains=word))
    if plan:
        found = found.filter(plans__key=plan)
    standing = Q(targets__removed_at__isnull=True)
    return (
        found.prefetch_related("plans")
        .annotate(
            count=Count("targets", filter=standing, distinct=True),
            drafts=Count("targets", filter=standing & Q(targets__confirmed_on__isnull=True), distinct=True),
        )
        .order_by(*_ORDER_BY[order])
    )
