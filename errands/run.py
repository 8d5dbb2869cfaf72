"""Asking for long work and doing it. Rooms name what they can do with `@errand("kind")` in their tasks.py."""

import logging

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from accounts.scope import within
from nutrition.notes import Problem
from ui.guard import hold

from .models import DOING, DONE, FAILED, STOPPED, WAITING, Errand

_DOERS = {}
_log = logging.getLogger(__name__)


def errand(kind):
    """For a function of the errand that does the work and returns plain values."""

    def named(doer):
        _DOERS[kind] = doer
        return doer

    return named


@transaction.atomic
def ask(kind, user, **args):
    """Have it done beside the requests; what the user asked of this kind before is let go. At once where settings say so."""
    if kind not in _DOERS:
        raise LookupError(f"nobody does errands of the kind {kind!r}")
    hold(user)
    Errand.objects.filter(asked_by=user, kind=kind, state__in=(WAITING, DOING)).update(
        state=STOPPED, ended_at=timezone.now()
    )
    asked = Errand(kind=kind, args=args, asked_by=user)
    asked.save()
    if settings.ERRANDS_AT_ONCE:
        carry_out(asked)
    else:
        from .tasks import run

        run.defer(errand=asked.pk, practice=asked.practice_id)
    return asked


def carry_out(asked):
    """Do it, and keep what came of it. What was let go meanwhile is not done, and its end is not written over."""
    mine = Errand.objects.filter(pk=asked.pk, state=WAITING)
    if not mine.update(state=DOING):
        return
    ended = {"state": DONE}
    try:
        ended["result"] = _DOERS[asked.kind](asked)
    except Problem as problem:
        ended |= {"state": FAILED, "problem": str(problem)}
    except Exception:
        if settings.ERRANDS_AT_ONCE:
            raise
        _log.exception("an errand of the kind %s failed", asked.kind)
        ended |= {"state": FAILED, "problem": "Something broke on our side while this was done. Ask for it again."}
    Errand.objects.filter(pk=asked.pk, state=DOING).update(ended_at=timezone.now(), **ended)
    asked.refresh_from_db()


def stop(asked):
    """Nobody waits for it any more."""
    Errand.objects.filter(pk=asked.pk, state__in=(WAITING, DOING)).update(state=STOPPED, ended_at=timezone.now())


def carry_out_by_number(number, practice):
    """As a worker does it: in the practice it was asked in."""
    with within(practice):
        found = Errand.objects.select_related("asked_by").filter(pk=number).first()
        if found is not None:
            carry_out(found)
