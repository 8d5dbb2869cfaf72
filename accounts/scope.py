"""The one place that keeps practices apart.

A request runs inside the scope of its user's practice (accounts.middleware); every model of a practice
uses `ScopedManager`, which filters by that scope and refuses to answer without one. What belongs to
another practice is therefore not found, wherever it is asked for.
"""

from contextlib import ExitStack, contextmanager
from contextvars import ContextVar

from django.db import models

_practice_id: ContextVar[int | None] = ContextVar("practice_id", default=None)


class NoPractice(RuntimeError):
    """A query on practice data outside every scope: a fault in the code, never in the request."""


def current_practice_id() -> int:
    practice_id = _practice_id.get()
    if practice_id is None:
        raise NoPractice("no practice is in scope: use accounts.scope.within(practice)")
    return practice_id


#: What comes along into a practice, named by rooms above: functions of a Practice or its id, to context managers.
_companions = []


def comes_along(companion):
    """For a function of a practice (or its id) that gives a context manager: entered wherever the practice is."""
    _companions.append(companion)
    return companion


@contextmanager
def only_numbered(practice_id):
    """Run a block inside a practice without what comes along: for whoever makes SQL and asks nothing."""
    token = _practice_id.set(practice_id)
    try:
        yield
    finally:
        _practice_id.reset(token)


@contextmanager
def within(practice):
    """Run a block inside a practice (a Practice or its id)."""
    with only_numbered(getattr(practice, "pk", practice)), ExitStack() as stack:
        for companion in _companions:
            stack.enter_context(companion(practice))
        yield


class ScopedManager(models.Manager):
    """Rows of the practice in scope; raises NoPractice outside every scope."""

    def get_queryset(self):
        return super().get_queryset().filter(practice_id=current_practice_id())


def scoped(queryset):
    """A manager of the practice's rows with a room's own questions: `objects = scoped(CookQuerySet)`."""
    return ScopedManager.from_queryset(queryset)()


class PracticeRow(models.Model):
    """A row that belongs to a practice. Saved without one, it takes the practice in scope."""

    practice = models.ForeignKey("accounts.Practice", on_delete=models.CASCADE, editable=False, related_name="+")

    objects = ScopedManager()

    class Meta:
        abstract = True

    def save(self, **kwargs):
        if self.practice_id is None:
            self.practice_id = current_practice_id()
        elif self.practice_id != current_practice_id():
            raise NoPractice(f"{self._meta.label} {self.pk} belongs to another practice than the one in scope")
        super().save(**kwargs)
