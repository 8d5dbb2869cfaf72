"""A practice's own foods beside the table, wherever the practice is in scope.

They are held in memory, practice by practice, as long as nobody changed them: every change gives Practice.own_foods_stamp
another word, and who reads compares. A practice without any costs nothing.
"""

from collections import OrderedDict
from contextlib import contextmanager
from contextvars import ContextVar
from threading import Lock
from uuid import uuid4

from accounts.models import Practice
from accounts.scope import comes_along, current_practice_id
from nutrition.food.own import with_own
from nutrition.food.table import the_table, using, using_when_asked

#: So many practices' foods a process holds, the ones asked for last: some 10 MB each.
MOST_HELD = 6
_held, _holding = OrderedDict(), Lock()
_here: ContextVar["_Foods | None"] = ContextVar("own_foods_here", default=None)


class _Foods:
    """The foods of one practice, come by at the first need inside one block."""

    def __init__(self, practice):
        self.practice, self.found = practice, None

    def __call__(self):
        if self.found is None:
            known = isinstance(self.practice, Practice)
            stamp = self.practice.own_foods_stamp if known else _stamp_of(self.practice)
            self.found = _foods_of(self.practice.pk if known else self.practice, stamp)
        return self.found


def _stamp_of(practice_id):
    return Practice.objects.values_list("own_foods_stamp", flat=True).get(pk=practice_id)


def _foods_of(practice_id, stamp):
    """The table with what the practice entered, as of a stamp; the table itself where it entered nothing."""
    if not stamp:
        return the_table()
    held, found = _held.get(practice_id, (None, None))
    if held != stamp:
        from .models import OwnLabel

        labels = OwnLabel._base_manager.filter(practice_id=practice_id).select_related("entered_by")
        with using(the_table()):
            found = with_own([each.as_food() for each in labels])
    with _holding:
        _held[practice_id] = stamp, found
        _held.move_to_end(practice_id)
        while len(_held) > MOST_HELD:
            _held.popitem(last=False)
    return found


@comes_along
@contextmanager
def own_foods(practice):
    """Every question inside the block is answered from the practice's own foods too."""
    here = _Foods(practice)
    token = _here.set(here)
    try:
        with using_when_asked(here):
            yield
    finally:
        _here.reset(token)


def changed():
    """The own foods of the practice in scope are others now: everybody reads them anew, this request first."""
    practice_id = current_practice_id()
    Practice.objects.filter(pk=practice_id).update(own_foods_stamp=uuid4().hex)
    here = _here.get()
    if here is not None:
        here.practice, here.found = practice_id, None
