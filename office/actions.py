"""What may be done in the office: invite, change members, set up the practice, export and erase. Verbs take values."""

from datetime import timedelta
from typing import Any

import pgtrigger
from django.contrib.sessions.models import Session
from django.db import connection, transaction
from django.utils import timezone

from accounts.models import Practice, User
from accounts.permissions import OWNER, PRACTITIONER, ROLES
from accounts.scope import within
from accounts.tokens import digest, new_token
from bench.models import Decision
from handouts.models import Release
from kitchen.models import Tasting
from meals.actions import forget
from nutrition.notes import Problem
from people.history import EVENTS
from people.models import Person
from records.log import record
from records.models import Entry
from ui.guard import Stale, hold, stamp

from .models import INVITED_DAYS, Invitation

#: A log that is kept at all is kept so many months: shorter ones answer nobody's question.
LEAST_MONTHS = 12


def _licensed(role: str, credential: str) -> str:
    if role == PRACTITIONER and not credential.strip():
        raise Problem("office.license_needed")
    return credential.strip() if role in (OWNER, PRACTITIONER) else ""


@transaction.atomic
def invite(practice: Practice, email: str, role: str, credential: str, user: User) -> tuple[Invitation, str]:
    """An invitation and its token, which is shown once. Raises Problem."""
    if User.objects.filter(email__iexact=email).exists():
        raise Problem("office.already_here", email=email)
    token = new_token()
    made = Invitation(
        email=email, role=role, credential=_licensed(role, credential), token_digest=digest(token), made_by=user,
        expires_at=timezone.now() + timedelta(days=INVITED_DAYS),
    )  # fmt: skip
    made.save()
    record("member.invited", thing=ROLES[role][0].lower(), by=user)
    return made, token


@transaction.atomic
def join(invitation: Invitation, name: str, password: str) -> User:
    """Whoever holds the link becomes a member. Raises Problem when somebody was quicker."""
    invitation = Invitation.anywhere.select_for_update().get(pk=invitation.pk)
    if not invitation.is_open or User.objects.filter(email__iexact=invitation.email).exists():
        raise Problem("office.invitation_ended")
    user = User.objects.create_user(
        invitation.email, password, name=name, role=invitation.role, credential=invitation.credential,
        practice=invitation.practice,
    )  # fmt: skip
    with within(invitation.practice_id):
        invitation.joined_at = timezone.now()
        invitation.save(update_fields=["joined_at"])
        record("member.joined", thing=ROLES[user.role][0].lower(), by=user)
    return user


@transaction.atomic
def withdraw(invitation: Invitation) -> None:
    """The link admits nobody from now on."""
    invitation.expires_at = timezone.now()
    invitation.save(update_fields=["expires_at"])


def member_stamp(member: User) -> str:
    return stamp(member.role, member.credential, member.is_active)


def _guard(member: User, user: User) -> None:
    """Nobody changes themself, and an owner who can sign in is always left."""
    hold(member.practice)
    if member.pk == user.pk:
        raise Problem("office.not_yourself")
    others = User.objects.filter(practice=member.practice_id, role=OWNER, is_active=True).exclude(pk=member.pk)
    if member.role == OWNER and not others.exists():
        raise Problem("office.last_owner", name=member.name)


@transaction.atomic
def change_member(member: User, role: str, credential: str, user: User, seen: str = "") -> None:
    """Another role or license. Raises Problem, and Stale."""
    _guard(member, user)
    member.refresh_from_db()
    if seen and seen != member_stamp(member):
        raise Stale
    was = member.role_name
    member.role, member.credential = role, _licensed(role, credential)
    member.save(update_fields=["role", "credential"])
    record("member.changed", thing=f"{was} to {member.role_name}".lower(), by=user, member=member.pk)


@transaction.atomic
def set_active(member: User, is_active: bool, user: User) -> None:
    """Close an account, or open it again. What was done under it stays; its sessions end now. Raises Problem."""
    _guard(member, user)
    member.is_active = is_active
    member.save(update_fields=["is_active"])
    if not is_active:
        end_sessions(member)
    record("member.activated" if is_active else "member.deactivated", by=user, member=member.pk)


def sessions_of(member: User) -> list[Session]:
    """Where somebody is signed in, as the database knows."""
    open_ = Session.objects.filter(expire_date__gt=timezone.now()).order_by("-expire_date")
    return [each for each in open_.iterator() if each.get_decoded().get("_auth_user_id") == str(member.pk)]


@transaction.atomic
def end_sessions(member: User, but: str = "") -> int:
    """Sign somebody out everywhere; `but`: the session that stays. How many ended."""
    keys = [each.session_key for each in sessions_of(member) if each.session_key != but]
    Session.objects.filter(session_key__in=keys).delete()
    return len(keys)


@transaction.atomic
def rename_self(user: User, name: str) -> None:
    user.name = " ".join(name.split())
    user.save(update_fields=["name"])


@transaction.atomic
def set_practice(practice: Practice, wishes: dict[str, Any], user: User) -> None:
    """How the practice wants it: field -> value. Raises Problem."""
    months = wishes.get("keep_log_months", 0)
    if 0 < months < LEAST_MONTHS:
        raise Problem("office.months_out_of_range", months=months)
    changed = [name for name, value in wishes.items() if getattr(practice, name) != value]
    for name in changed:
        setattr(practice, name, wishes[name])
    practice.save(update_fields=changed)
    if changed:
        record("practice.changed", thing=", ".join(name.replace("_", " ") for name in changed), by=user)


@transaction.atomic
def erase(person: Person, typed_name: str, user: User) -> None:
    """Everything about somebody goes: targets, plans, dishes made for them, cards, links and the history of all of it.

    The log keeps that they were here as a number. Recipes stay: they are the practice's. Raises Problem.
    """
    if " ".join(typed_name.split()) != person.name:
        raise Problem("office.wrong_name", typed=typed_name[:60], name=person.name)
    hold(person)
    number, name = person.pk, person.name
    with connection.cursor() as cursor:
        cursor.execute("SET LOCAL open_gate.erasing = 'on'")
    Release.objects.filter(bench__person=person).delete()
    Decision.objects.filter(attempt__bench__person=person).delete()
    Tasting.objects.filter(taster__iexact=name).update(taster="somebody")
    forget(person)
    person.benches.all().delete()
    person.delete()
    with pgtrigger.ignore(*(f"{event._meta.label}:append_only" for event in EVENTS)):
        for event in EVENTS:
            event.objects.filter(**({"pgh_obj_id": number} if event is EVENTS[0] else {"person_id": number})).delete()
    record("person.erased", number, by=user)


@transaction.atomic
def tidy_log(practice: Practice) -> int:
    """Entries older than the practice keeps them go. How many."""
    if not practice.keep_log_months:
        return 0
    before = timezone.now() - timedelta(days=30.44 * practice.keep_log_months)
    with within(practice), pgtrigger.ignore("records.Entry:stands"):
        return Entry.objects.filter(at__lt=before).delete()[0]
