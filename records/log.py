"""Writing the log. One line for an act; looking at a person once in a while, not at every click."""

from collections import OrderedDict
from math import inf
from time import monotonic

from accounts.scope import current_practice_id

from .acting import acting
from .acts import ACTS
from .models import Entry

#: The same eyes on the same person are written down again after so many seconds.
LOOK_AGAIN_S = 900
_MOST_REMEMBERED = 10_000
_looked: OrderedDict[tuple[int, int], float] = OrderedDict()


def record(act, person=None, thing="", by=None, **details):
    """Write one act down. `person`: whom it is about (a Person or its number); `thing`: without anybody's name in it."""
    if act not in ACTS:
        raise LookupError(f"no act is called {act!r}; records/acts.py has {', '.join(ACTS)}")
    _entry(act, person, by or acting().user, thing, details).save()


def _entry(act, person, user, thing="", details=None):
    who = acting()
    return Entry(
        practice_id=current_practice_id(), by=user, by_name=user.name if user else "", act=act,
        person=getattr(person, "pk", person), thing=str(thing)[:200], details=details or {}, address=who.address,
        request=who.request,
    )  # fmt: skip


def forget_looks():
    """Write every look down again from now on."""
    _looked.clear()


def looked_at(*people):
    """Somebody signed in looks at people: for each, once every quarter of an hour, it is written down."""
    user = acting().user
    if user is None:
        return
    now, fresh = monotonic(), []
    for person in people:
        key = user.pk, person.pk
        if now - _looked.get(key, -inf) >= LOOK_AGAIN_S:
            fresh.append(_entry("person.seen", person, user))
            _looked[key] = now
            _looked.move_to_end(key)
    while len(_looked) > _MOST_REMEMBERED:
        _looked.popitem(last=False)
    if fresh:
        Entry.objects.bulk_create(fresh)
