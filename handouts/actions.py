"""What may be done with a card: make sure of things, release it, give out a link, withdraw it."""

import hmac
from dataclasses import replace
from datetime import timedelta

from django.db import transaction
from django.db.models import F, Max
from django.template.loader import render_to_string
from django.utils import timezone

from accounts.models import User
from accounts.tokens import digest, new_token
from bench.models import Try
from nutrition.notes import Problem
from people.actions import mark_what_holds
from people.regimen import held_to, held_to_digest
from records.log import record
from ui.guard import hold

from .card import build
from .checklist import checklist, label_rows, readiness_of
from .forms import MadeSure
from .models import HandoutLink, PrivateLink, Readiness, Recall, Release

#: After so many wrong words a link is withdrawn.
MOST_WRONG_WORDS = 10


@transaction.atomic
def make_sure(attempt: Try, said: MadeSure, user: User) -> Readiness:
    """Keep what a person made sure of (forms.MadeSure)."""
    hold(attempt)
    card, ready = build(attempt), readiness_of(attempt)
    if said.portion is not None:
        ready.portion = said.portion
    for name in said.asked:
        setattr(ready, name, getattr(said, name))
    ready.has_label_margin, ready.prints_reasons = said.has_label_margin, said.prints_reasons
    ready.is_as_planned = said.is_as_planned
    accepted = ready.accepted | said.accepted
    ready.accepted = {nutrient: reason for nutrient, reason in accepted.items() if reason}
    ready.labels = {
        row.key: {
            "product": said.labels[row.key][0],
            "holds": [tag for tag in row.tags if tag in said.labels[row.key][1]],
        }
        for row in label_rows(card, ready)
        if row.key in said.labels
    }
    ready.set_by = user
    ready.save()
    return ready


@transaction.atomic
def release(attempt: Try, user: User) -> Release:
    """Send the card out as it stands: frozen, with the next number. Raises Problem naming what is in the way."""
    hold(attempt.bench)  # numbers are given out one at a time
    ready = readiness_of(attempt)
    card = build(attempt, ready)
    found = checklist(card, ready)
    if not found.is_ready:
        raise Problem("handouts.not_released", waiting="; ".join(item.label.lower() for item in found.waiting))
    number = (Release.objects.filter(bench=attempt.bench).aggregate(Max("number"))["number__max"] or 0) + 1
    body = render_to_string("handouts/card_body.html", card.for_template(release_number=number, released_by=user))
    tally = card.sight.tally
    held = held_to(card.regimen)
    mark_what_holds(attempt.bench.person)
    dish, weighed = card.sight.dish, attempt.weighed_g
    made = Release(
        digest=held_to_digest(held), dish=replace(dish, title=str(card.recipe)), cooked_serving_g=weighed and weighed / dish.servings,
        bench=attempt.bench, attempt=attempt, number=number, title=str(card.recipe), body=body, released_by=user,
        facts={"person": str(card.person), "tally": tally, "serves": card.serves, "grade": card.grade,
               "accepted": ready.accepted, "held_to": held, "as_planned": card.is_as_planned, "print": card.layout.print},
    )  # fmt: skip
    made.save()
    record("card.released", attempt.bench.person_id, f"release {number}", by=user)
    return made


@transaction.atomic
def recall(release_: Release, why: str, user: User) -> Recall:
    """Nobody should cook from this card any more: its links say so. Once is enough."""
    hold(release_)
    found, is_new = Recall.objects.get_or_create(release=release_, defaults={"why": why[:200], "recalled_by": user})
    if is_new:
        record("card.recalled", release_.bench.person_id, f"release {release_.number}", by=user)
    return found


@transaction.atomic
def give(link: PrivateLink, days: int, for_whom: str, user: User, word: str = "") -> str:
    """Open a link, not saved yet, for so many days; its token, which is shown once and kept nowhere.

    `word`: a second thing to know; a practice may want one for every link. Raises Problem.
    """
    if user.practice.links_ask and not word.strip():
        raise Problem("handouts.word_needed")
    token = new_token()
    link.token_digest, link.for_whom, link.made_by = digest(token), for_whom, user
    link.expires_at = timezone.now() + timedelta(days=days)
    link.word_digest = link.digest_of(word) if word.strip() else ""
    link.save()
    record(f"{link.acts}.given", link.person_id, f"for {days} days", by=user)
    return token


@transaction.atomic
def give_link(
    release_: Release, days: int, for_whom: str, user: User, word: str = "", shows_plans: bool = False
) -> tuple[HandoutLink, str]:
    """A link to a card, and its token. `shows_plans`: whether the card says what plans the person follows. Raises Problem."""
    link = HandoutLink(release=release_, shows_plans=shows_plans)
    return link, give(link, days, for_whom, user, word)


@transaction.atomic
def withdraw(link: PrivateLink) -> None:
    """The link opens nothing from now on."""
    if link.withdrawn_at is None:
        link.withdrawn_at = timezone.now()
        link.save(update_fields=["withdrawn_at"])
        record(f"{link.acts}.withdrawn", link.person_id)


@transaction.atomic
def try_word(link: PrivateLink, typed: str) -> bool:
    """Whether this is the word of the link. So many wrong ones withdraw it: whoever guesses has all the time there is."""
    hold(link)
    link.refresh_from_db()
    if hmac.compare_digest(link.digest_of(typed), link.word_digest):
        return link.is_open
    link.wrong_words += 1
    if link.wrong_words >= MOST_WRONG_WORDS:
        link.withdrawn_at = link.withdrawn_at or timezone.now()
    link.save(update_fields=["wrong_words", "withdrawn_at"])
    return False


def opened(link: PrivateLink) -> None:
    """Count one look, and write it down."""
    record(f"{link.acts}.opened", link.person_id)
    type(link).anywhere.filter(pk=link.pk).update(opened=F("opened") + 1, opened_at=timezone.now())
