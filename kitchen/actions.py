"""What may be done in the kitchen: begin a cook, tap, time, spend, finish, taste. Each verb one transaction."""

import secrets
from collections.abc import Mapping
from dataclasses import replace
from datetime import timedelta

from django.db import IntegrityError, transaction
from django.utils import timezone

from accounts.models import User
from bench.actions import standing_edit, start_version
from bench.models import Try
from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.naming import name_of
from nutrition.food.names import cook_name
from nutrition.notes import Problem
from nutrition.reading.steps import MOST_TIMER_S, duration
from nutrition.stove import cooked
from nutrition.stove.cooked import Tap as CoreTap
from nutrition.stove.cooked import as_cooked, checked
from nutrition.stove.spending import SPENDABLES
from nutrition.swaps.telling import told
from records.log import record
from ui.guard import hold
from ui.templatetags.ui import grams as grams_words

from .models import Cook, Tap, Tasting, Timer

MOST_TIMERS = 12


@transaction.atomic
def begin(attempt: Try, user: User) -> Cook:
    """Cook a try: the dish and its steps as they stand now. A cook of it that is under way is gone on with."""
    hold(attempt)
    under_way = attempt.cooks.filter(finished_at=None).first()
    if under_way:
        return under_way
    edit = standing_edit(attempt)
    cook = Cook(attempt=attempt, plan=edit.dish, started_by=user)
    cook.save()
    record("cook.begun", attempt.bench.person_id, by=user)
    return cook


def _still_cooking(cook: Cook) -> None:
    """Hold the cook for this transaction, so that two browsers act one after another. Raises Problem."""
    if Cook.objects.select_for_update().values_list("finished_at", flat=True).get(pk=cook.pk):
        raise Problem("kitchen.finished")


def taps_of(cook: Cook) -> list[CoreTap]:
    return [tap.as_tap() for tap in cook.taps.filter(taken_back_at=None)]


def pot_of(cook: Cook) -> Dish:
    """The dish in the pot."""
    return as_cooked(cook.plan, taps_of(cook))


def _said(kind: str, line: Line | None, grams: float | None, food_id: str, minutes: float | None) -> str:
    name = name_of(line) if line else ""
    other = cook_name(food_id) if food_id else ""
    amount = "" if grams is None else grams_words(grams)
    words = {
        cooked.WEIGHED: f"{name}: {amount} weighed in",
        cooked.MORE: f"{name}: {amount} more",
        cooked.LESS: f"{name}: {amount} less",
        cooked.SKIPPED: f"{name}: left out",
        cooked.OTHER: f"{other}{', ' + amount if amount else ''} in place of {name}",
        cooked.ADDED: f"{other}: {amount} added",
        cooked.LONGER: f"{minutes or 0:g} min longer",
        cooked.SPENT: f"{amount} spent",
        cooked.LEFT: f"{name}: {amount} left behind",
    }[kind]
    return words[:1].upper() + words[1:]


@transaction.atomic
def tap(
    cook: Cook,
    user: User,
    kind: str,
    *,
    key: str = "",
    grams: float | None = None,
    food_id: str = "",
    minutes: float | None = None,
    step: int = 0,
    token: str = "",
) -> Tap | None:
    """Record one thing. The same token again changes nothing. Raises Problem; then nothing is saved."""
    _still_cooking(cook)
    token, step = token[:64] or secrets.token_urlsafe(16), min(step, len(cook.plan.steps))
    key, food_id = key[:40], food_id if kind in (cooked.OTHER, cooked.ADDED) else ""
    if cook.taps.filter(token=token).exists():
        return None
    checked(CoreTap(kind, key, grams, food_id), cook.plan, taps_of(cook))
    line = pot_of(cook).line(key)
    words = _said(kind, line, grams, food_id, minutes)
    if kind == cooked.SPENT:
        words = f"{key.capitalize()}: {words[:1].lower()}{words[1:]}"
    made = Tap(
        cook=cook, token=token, kind=kind, key=key, grams=grams, food_id=food_id, minutes=minutes, step=step,
        words=words[:200], made_by=user,
    )  # fmt: skip
    try:
        with transaction.atomic():
            made.save()
    except IntegrityError:  # the same tap came twice at once: the other one counts
        return None
    return made


@transaction.atomic
def take_back(cook: Cook) -> Tap:
    """Take the last tap back. Raises Problem when there is none."""
    _still_cooking(cook)
    last = cook.taps.filter(taken_back_at=None).last()
    if last is None:
        raise Problem("kitchen.nothing_to_take_back")
    last.taken_back_at = timezone.now()
    last.save(update_fields=["taken_back_at"])
    return last


@transaction.atomic
def start_timer(cook: Cook, label: str, seconds: int, step: int, token: str = "") -> Timer:
    """A timer that ends so many seconds from now. The same token again changes nothing. Raises Problem."""
    _still_cooking(cook)
    if not 1 <= seconds <= MOST_TIMER_S:
        raise Problem("kitchen.timer_length", length=duration(max(seconds, 0)))
    if cook.timers.filter(stopped_at=None).count() >= MOST_TIMERS:
        raise Problem("kitchen.too_many_timers", most=MOST_TIMERS)
    token = token[:64] or secrets.token_urlsafe(16)
    timer, _ = cook.timers.get_or_create(
        token=token,
        defaults={
            "practice_id": cook.practice_id,
            "label": (" ".join(label.split()) or "timer")[:80],
            "step": min(step, len(cook.plan.steps)),
            "ends_at": timezone.now() + timedelta(seconds=seconds),
        },
    )
    return timer


@transaction.atomic
def change_timer(timer: Timer, act: str) -> None:
    """Stop it, or give it another minute."""
    if act == "stop":
        timer.stopped_at = timezone.now()
    elif act == "minute":
        timer.ends_at = max(timer.ends_at, timezone.now()) + timedelta(minutes=1)
        timer.stopped_at = None
    else:
        raise Problem("ui.not_understood", place="timer")
    timer.save(update_fields=["stopped_at", "ends_at"])


@transaction.atomic
def set_shares(cook: Cook, kind: str, grams_by_step: Mapping[int, float]) -> None:
    """How an allowance is spread over the steps: step number -> grams. Raises Problem."""
    _still_cooking(cook)
    cook.refresh_from_db(fields=["shares"])
    if kind not in {each.key for each in SPENDABLES}:
        raise Problem("kitchen.not_counted_out", key=kind)
    cook.shares = cook.shares | {kind: {str(step): grams for step, grams in grams_by_step.items()}}
    cook.save(update_fields=["shares"])


@transaction.atomic
def finish(
    cook: Cook,
    user: User,
    serves: float,
    *,
    cooked_g: float | None = None,
    minutes_taken: float | None = None,
    minutes_hands_on: float | None = None,
    pans: float | None = None,
    notes: str = "",
    spent: Mapping[str, float] | None = None,
) -> Cook:
    """The cook is done: what went in becomes a version of its own beside the try. Raises Problem.

    `spent`: what was counted out -> grams in all, as weighed at dishing up; left out, the taps stand, and without taps
    the recipe's amount.
    """
    _still_cooking(cook)
    for key, grams in (spent or {}).items():
        _settle_spending(cook, key, grams, user)
    # What was put in place of something at the stove is told in the steps as the try is told in them.
    dish = told(cook.attempt.bench.written, replace(pot_of(cook), serves=serves)).listed
    if not dish.lines:
        raise Problem("kitchen.nothing_cooked")
    cook.cooked_g, cook.serves_cooked = cooked_g, serves
    cook.minutes_taken, cook.minutes_hands_on, cook.pans = minutes_taken, minutes_hands_on, pans
    cook.notes, cook.finished_at = notes.strip()[:4000], timezone.now()
    name = f"Cooked {timezone.localtime(cook.started_at):%b %-d}"
    cook.result = start_version(cook.attempt, name, dish, "as cooked", user, cooked_g=cooked_g)
    cook.save()
    cook.timers.filter(stopped_at=None).update(stopped_at=timezone.now())
    record("cook.finished", cook.attempt.bench.person_id, by=user)
    return cook


def _settle_spending(cook: Cook, key: str, total: float, user: User) -> None:
    """What the taps do not tell of an amount counted out is one tap more."""
    tapped = sum(tap.grams or 0.0 for tap in taps_of(cook) if tap.kind == cooked.SPENT and tap.key == key)
    if total < tapped - 0.05:
        what = next(each.label.lower() for each in SPENDABLES if each.key == key)
        raise Problem("kitchen.spent_less_than_tapped", total=total, what=what, tapped=tapped)
    if total > tapped + 0.05 or not tapped:
        tap(cook, user, cooked.SPENT, key=key, grams=round(total - tapped, 2), step=cook.at_step)


@transaction.atomic
def taste(
    cook: Cook, taster: str, *, taste: float | None = None, ease: float | None = None, missed: str = "", notes: str = ""
) -> Tasting:
    """What one taster says; the same name again replaces what they said before."""
    said = {"taste": taste, "ease": ease, "missed": missed.strip()[:200], "notes": notes.strip()[:2000]}
    found, _ = Tasting.objects.update_or_create(
        cook=cook, taster=taster, defaults=said | {"practice_id": cook.practice_id}
    )
    record("cook.tasted", cook.attempt.bench.person_id)
    return found


@transaction.atomic
def stop_timer(cook: Cook, pk: int, act: str) -> None:
    """One timer of this cook. Raises Timer.DoesNotExist."""
    change_timer(Timer.objects.get(pk=pk, cook=cook), act)
