"""What may be done with a card: make sure of things, release it, give out a link, withdraw it."""

from datetime import timedelta

from django.db import transaction
from django.db.models import F, Max
from django.template.loader import render_to_string
from django.utils import timezone

from bench.models import Bench
from nutrition.reading.edits import EditProblem
from ui.posted import whole

from .card import build
from .checklist import checklist, label_rows, readiness_of
from .models import HandoutLink, Release, digest

MOST_LINK_DAYS = 366


def _whole(typed, what, most):
    typed = (typed or "").strip()
    if not typed:
        return None
    if whole(typed, most + 1) > most:
        raise EditProblem(f"“{typed[:20]}” {what} was read; a whole number from 0 to {most} is expected.")
    return whole(typed)


@transaction.atomic
def make_sure(attempt, post, user):
    """Keep what the form says. Raises EditProblem; then nothing is saved."""
    card, ready = build(attempt), readiness_of(attempt)
    ready.portion = " ".join(post.get("portion", ready.portion).split())[:160]
    ready.keep_days = _whole(post.get("keep_days", _text(ready.keep_days)), "days", 30)
    ready.freeze_months = _whole(post.get("freeze_months", _text(ready.freeze_months)), "months", 24)
    ready.has_label_margin = post.get("label_margin") == "on"
    for name in post:
        if name.startswith("accept-"):
            reason = " ".join(post[name].split())[:300]
            ready.accepted = {k: v for k, v in ready.accepted.items() if k != name[7:]} | (
                {name[7:]: reason} if reason else {}
            )
    labels = {}
    for row in label_rows(card, ready):
        if post.get(f"read-{row.key}"):
            holds = [tag for tag in row.tags if tag in post.getlist(f"holds-{row.key}")]
            labels[row.key] = {"product": " ".join(post.get(f"product-{row.key}", "").split())[:120], "holds": holds}
    ready.labels, ready.set_by = labels, user
    ready.save()
    return ready


def _text(number):
    return "" if number is None else str(number)


@transaction.atomic
def release(attempt, user):
    """Send the card out as it stands: frozen, with the next number. Raises EditProblem naming what is in the way."""
    Bench.objects.select_for_update().get(pk=attempt.bench_id)  # numbers are given out one at a time
    ready = readiness_of(attempt)
    card = build(attempt, ready)
    found = checklist(card, ready)
    if not found.is_ready:
        raise EditProblem("Not released. Still open: " + "; ".join(item.label.lower() for item in found.waiting) + ".")
    number = (Release.objects.filter(bench=attempt.bench).aggregate(Max("number"))["number__max"] or 0) + 1
    body = render_to_string("handouts/card_body.html", card | {"release_number": number, "released_by": user})
    tally = card["sight"].tally
    made = Release(
        bench=attempt.bench, attempt=attempt, number=number, title=str(card["recipe"]), body=body, released_by=user,
        facts={"person": str(card["person"]), "tally": tally, "serves": card["serves"], "grade": card["grade"],
               "accepted": ready.accepted},
    )  # fmt: skip
    made.save()
    return made


def give_link(release_, days, for_whom, user):
    """A link and its token, which is shown once and kept nowhere. Raises EditProblem."""
    days = _whole(days, "days", MOST_LINK_DAYS)
    if not days:
        raise EditProblem(f"For how many days should the link work? Type a number from 1 to {MOST_LINK_DAYS}.")
    token = HandoutLink.new_token()
    link = HandoutLink(
        release=release_, token_digest=digest(token), for_whom=" ".join(for_whom.split())[:80], made_by=user,
        expires_at=timezone.now() + timedelta(days=days),
    )  # fmt: skip
    link.save()
    return link, token


def withdraw(link):
    """The link opens nothing from now on."""
    if link.withdrawn_at is None:
        link.withdrawn_at = timezone.now()
        link.save(update_fields=["withdrawn_at"])


def opened(link):
    """Count one look."""
    HandoutLink.anywhere.filter(pk=link.pk).update(opened=F("opened") + 1, opened_at=timezone.now())
