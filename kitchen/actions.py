"""What may be done in the kitchen: begin a cook, tap, time, spend, finish, taste. Each verb one transaction."""

import secrets
from datetime import timedelta
from math import isfinite

from django.db import IntegrityError, transaction
from django.utils import timezone

from bench.actions import as_json, as_line, standing_step, start_version
from bench.sight import look
from nutrition.food.names import cook_name
from nutrition.limits.eater import Eater
from nutrition.reading.edits import EditProblem
from nutrition.reading.steps import MOST_TIMER_S, duration
from nutrition.stove import cooked
from nutrition.stove.cooked import Tap as CoreTap
from nutrition.stove.cooked import TapProblem, as_cooked, checked
from nutrition.stove.spending import KINDS
from nutrition.swaps.method import steps_now
from ui.templatetags.ui import grams as grams_words

from .models import Cook, Tap, Tasting, Timer

MOST_TIMERS = 12


@transaction.atomic
def begin(attempt, user):
    """Cook a try: its lines and steps as they stand now. A cook of it that is under way is gone on with."""
    under_way = attempt.cooks.filter(finished_at=None).first()
    if under_way:
        return under_way
    step = standing_step(attempt)
    sight = look(attempt.bench, step, Eater(), attempt=attempt)
    texts = [each.proposed or each.text for each in steps_now(attempt.bench.recipe.all_steps, sight.changed)]
    cook = Cook(attempt=attempt, plan=step.lines, serves=step.serves, steps=texts, started_by=user)
    cook.save()
    return cook


def number(typed, what, most, *, least=0.0, is_needed=False):
    """A number a person typed; None when nothing was and nothing need be. Raises EditProblem."""
    typed = (typed or "").strip().removesuffix("g").strip().replace(",", ".").replace("−", "-")
    if not typed:
        if is_needed:
            raise EditProblem(f"No {what} was typed. Type a number, as in 12.5.")
        return None
    try:
        value = float(typed)
    except ValueError:
        raise EditProblem(f"“{typed[:40]}” is not a number of {what}. Type a number, as in 12.5.") from None
    if not isfinite(value) or not least <= value <= most:
        raise EditProblem(f"{typed[:20]} {what} cannot be. Type a number from {least:g} to {most:,g}.")
    return value


def _still_cooking(cook):
    """Hold the cook for this transaction, so that two browsers act one after another. Raises EditProblem."""
    if Cook.objects.select_for_update().values_list("finished_at", flat=True).get(pk=cook.pk):
        raise EditProblem("This cook is finished: what went in stands. Begin another to cook it again.")


def taps_of(cook):
    return [tap.as_tap() for tap in cook.taps.filter(taken_back_at=None)]


def plan_rows(cook):
    return [(row["key"], as_line(row)) for row in cook.plan]


def rows_now(cook):
    """(key, line) of what is in the pot."""
    return as_cooked(plan_rows(cook), taps_of(cook))


def _said(kind, line, grams, food_id, minutes):
    name = line.name if line else ""
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
    }[kind]
    return words[:1].upper() + words[1:]


@transaction.atomic
def tap(cook, user, kind, *, key="", grams=None, food_id="", minutes=None, step=0, token=""):
    """Record one thing. The same token again changes nothing. Raises EditProblem; then nothing is saved."""
    _still_cooking(cook)
    token = token[:64] or secrets.token_urlsafe(16)
    if cook.taps.filter(token=token).exists():
        return None
    try:
        checked(CoreTap(kind, key, grams, food_id), plan_rows(cook), taps_of(cook))
    except TapProblem as problem:
        raise EditProblem(str(problem)) from None
    line = dict(rows_now(cook)).get(key)
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
def take_back(cook):
    """Take the last tap back. Raises EditProblem when there is none."""
    _still_cooking(cook)
    last = cook.taps.filter(taken_back_at=None).last()
    if last is None:
        raise EditProblem("Nothing has been recorded yet, so there is nothing to take back.")
    last.taken_back_at = timezone.now()
    last.save(update_fields=["taken_back_at"])
    return last


@transaction.atomic
def start_timer(cook, label, seconds, step, token=""):
    """A timer that ends so many seconds from now. The same token again changes nothing. Raises EditProblem."""
    _still_cooking(cook)
    if not 1 <= seconds <= MOST_TIMER_S:
        raise EditProblem(f"A timer of {duration(max(seconds, 0))} was read; from 1 second to 24 hours is expected.")
    if cook.timers.filter(stopped_at=None).count() >= MOST_TIMERS:
        raise EditProblem(f"{MOST_TIMERS} timers are running. Stop one first.")
    token = token[:64] or secrets.token_urlsafe(16)
    timer, _ = cook.timers.get_or_create(
        token=token,
        defaults={
            "practice_id": cook.practice_id,
            "label": (" ".join(label.split()) or "timer")[:80],
            "step": step,
            "ends_at": timezone.now() + timedelta(seconds=seconds),
        },
    )
    return timer


def change_timer(timer, act):
    """Stop it, or give it another minute."""
    if act == "stop":
        timer.stopped_at = timezone.now()
    elif act == "minute":
        timer.ends_at = max(timer.ends_at, timezone.now()) + timedelta(minutes=1)
        timer.stopped_at = None
    else:
        raise EditProblem("That was not understood. Use the buttons of the timer.")
    timer.save(update_fields=["stopped_at", "ends_at"])


@transaction.atomic
def set_shares(cook, kind, typed):
    """How an allowance is spread over the steps. `typed`: step number -> what was typed. Raises EditProblem."""
    _still_cooking(cook)
    cook.refresh_from_db(fields=["shares"])
    if kind not in {each.key for each in KINDS}:
        raise EditProblem(f"“{kind}” is not counted out here.")
    shares = {}
    for step, text in typed.items():
        part = number(text, f"grams for step {step}", 1000)
        if part:
            shares[str(step)] = part
    cook.shares = cook.shares | {kind: shares}
    cook.save(update_fields=["shares"])


@transaction.atomic
def finish(cook, post, user):
    """The cook is done: what went in becomes a version of its own beside the try. Raises EditProblem."""
    _still_cooking(cook)
    weight = number(post.get("cooked_g"), "grams cooked", 100_000, least=1)
    serves = number(post.get("serves_cooked"), "pieces or portions", 500, least=0.25, is_needed=True)
    minutes = number(post.get("minutes_taken"), "minutes", 2880)
    hands_on = number(post.get("minutes_hands_on"), "minutes", 2880)
    pans = number(post.get("pans"), "pans", 50)
    if minutes is not None and hands_on is not None and hands_on > minutes:
        raise EditProblem(f"{hands_on:g} minutes hands on was read, and only {minutes:g} in all. Mend one of the two.")
    _settle_spending(cook, post, user)
    rows = [as_json(line, key) for key, line in rows_now(cook)]
    if not rows:
        raise EditProblem("Every line was left out: nothing was cooked. Take the last tap back.")
    cook.cooked_g, cook.serves_cooked = weight, serves
    cook.minutes_taken, cook.minutes_hands_on, cook.pans = minutes, hands_on, pans
    cook.notes, cook.finished_at = post.get("notes", "").strip()[:4000], timezone.now()
    cook.result = start_version(
        cook.attempt, f"Cooked {cook.started_at:%b %-d}", rows, serves, "as cooked", user, cooked_g=weight
    )
    cook.save()
    cook.timers.filter(stopped_at=None).update(stopped_at=timezone.now())
    return cook


def _settle_spending(cook, post, user):
    """What was counted out, as typed at dishing up; left empty, the taps stand, and without taps the recipe's amount."""
    for kind in KINDS:
        total = number(post.get(f"spent-{kind.key}"), f"grams of {kind.label.lower()}", 1000)
        if total is None:
            continue
        tapped = sum(tap.grams or 0.0 for tap in taps_of(cook) if tap.kind == cooked.SPENT and tap.key == kind.key)
        if total < tapped - 0.05:
            raise EditProblem(
                f"{total:g} g of {kind.label.lower()} was typed, and {tapped:g} g were tapped at the stove. "
                "Go back and take a tap back, or leave the field as it is."
            )
        if total > tapped + 0.05 or not tapped:
            tap(cook, user, cooked.SPENT, key=kind.key, grams=round(total - tapped, 2), step=cook.at_step)


@transaction.atomic
def taste(cook, post):
    """What one taster says; the same name again replaces what they said before. Raises EditProblem."""
    name = " ".join(post.get("taster", "").split())[:80]
    if not name:
        raise EditProblem("Who tasted? Type a name or choose one.")
    marks = {mark: number(post.get(mark), f"marks for {mark}", 10) for mark in ("taste", "ease")}
    missed, notes = post.get("missed", "").strip()[:200], post.get("notes", "").strip()[:2000]
    if not any(value is not None for value in marks.values()) and not missed and not notes:
        raise EditProblem(f"Nothing was said for {name}: give a mark out of ten, or a few words.")
    found, _ = Tasting.objects.update_or_create(
        cook=cook, taster=name, defaults=marks | {"missed": missed, "notes": notes, "practice_id": cook.practice_id}
    )
    return found


def stop_timer(cook, pk, act):
    """One timer of this cook. Raises Timer.DoesNotExist."""
    change_timer(Timer.objects.get(pk=pk, cook=cook), act)
