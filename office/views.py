"""The office: one's own account, who works here, the log, and everything about one person on one page."""

import csv

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.core.paginator import Paginator
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from accounts.models import User
from accounts.permissions import ROLES, allowed, may
from accounts.tokens import digest
from nutrition.notes import Problem
from people import actions as people_actions
from people.history import history_of
from people.models import Person
from recipes.models import Recipe
from records.acts import ACTS
from records.log import record
from records.models import Entry
from ui.numbers import first_error

from . import actions
from .exporting import Encoder, everything_about
from .forms import EraseForm, HandOverForm, InviteForm, JoinForm, LogForm, MemberForm, OwnForm, PracticeForm
from .models import Invitation

A_PAGE = 100


def _member(request, pk):
    """Somebody of one's own practice; strangers are not found."""
    return get_object_or_404(User, pk=pk, practice=request.user.practice_id)


@allowed("account.own")
@require_http_methods(["GET", "POST"])
def own(request):
    """One's own account: name, password, second factor, where one is signed in."""
    from allauth.mfa.models import Authenticator

    form = OwnForm(request.POST or None, initial={"name": request.user.name})
    if request.method == "POST" and form.is_valid():
        actions.rename_self(request.user, form.cleaned_data["name"])
        messages.success(request, "Your name is changed. What you signed before keeps the name it was signed with.")
        return redirect("office:own")
    context = {
        "form": form,
        "factors": Authenticator.objects.filter(user=request.user),
        "sessions": len(actions.sessions_of(request.user)),
        "role": ROLES[request.user.role],
    }
    return render(request, "office/own.html", context, status=422 if form.errors else 200)


@allowed("account.own")
@require_POST
def end_sessions(request):
    """Sign oneself out everywhere else."""
    count = actions.end_sessions(request.user, but=request.session.session_key)
    record("sessions.ended")
    messages.success(request, f"Signed out in {count} other place{'s' if count != 1 else ''}.")
    return redirect("office:own")


def _members(request, status=200, **context):
    everyone = User.objects.filter(practice=request.user.practice_id)
    context = {
        "practice": request.user.practice,
        "members": [(each, actions.member_stamp(each)) for each in everyone.order_by("-is_active", "name")],
        "roles": ROLES,
        "invitations": [each for each in Invitation.objects.select_related("made_by") if each.is_open],
        "invite_form": InviteForm(initial={"role": "staff"}),
        "practice_form": PracticeForm(initial=vars(request.user.practice)),
    } | context
    return render(request, "office/members.html", context, status=status)


@allowed("practice.manage")
@require_safe
def members(request):
    """Who works here, as what; who is asked to join; how the practice wants it."""
    return _members(request)


@allowed("practice.manage")
@require_POST
def invite(request):
    """An invitation; its link is shown on this one answer and never again."""
    form = InviteForm(request.POST)
    if not form.is_valid():
        return _members(request, 422, invite_form=form)
    asked = form.cleaned_data
    try:
        made, token = actions.invite(
            request.user.practice, asked["email"], asked["role"], asked["credential"], request.user
        )
    except Problem as problem:
        form.add_error(None, str(problem))
        return _members(request, 422, invite_form=form)
    address = request.build_absolute_uri(f"/office/join/{token}/")
    return render(request, "office/invited.html", {"invitation": made, "address": address})


@allowed("practice.manage")
@require_POST
def withdraw(request, pk):
    """The invitation admits nobody any more."""
    actions.withdraw(get_object_or_404(Invitation, pk=pk))
    return redirect("office:members")


@allowed("practice.join")
@login_not_required
@require_http_methods(["GET", "POST"])
def join(request, token):
    """Whoever holds the link chooses a name and a password, and signs in."""
    found = Invitation.anywhere.filter(token_digest=digest(token)).select_related("practice").first()
    if found is None:
        raise Http404("no such invitation")
    form = JoinForm(request.POST or None, email=found.email)
    context = {"invitation": found, "form": form, "role": ROLES[found.role]}
    if not found.is_open:
        return render(request, "office/join.html", context | {"ended": True}, status=410)
    if request.method == "POST" and form.is_valid():
        try:
            actions.join(found, form.cleaned_data["name"], form.cleaned_data["password"])
        except Problem:
            return render(request, "office/join.html", context | {"ended": True}, status=410)
        messages.success(request, f"You are one of {found.practice} now. Sign in with {found.email}.")
        return redirect("account_login")
    return render(request, "office/join.html", context, status=422 if form.errors else 200)


@allowed("practice.manage")
@require_POST
def change_member(request, pk):
    """Another role or license."""
    member, form = _member(request, pk), MemberForm(request.POST)
    try:
        if not form.is_valid():
            messages.error(request, first_error(form))
        else:
            asked = form.cleaned_data
            actions.change_member(member, asked["role"], asked["credential"], request.user, form.seen)
            messages.success(request, f"{member.name}: {member.role_name.lower()}.")
    except Problem as problem:
        messages.error(request, str(problem))
    return redirect("office:members")


@allowed("practice.manage")
@require_POST
def set_active(request, pk):
    """Close an account, or open it again."""
    member = _member(request, pk)
    try:
        actions.set_active(member, not member.is_active, request.user)
    except Problem as problem:
        messages.error(request, str(problem))
    return redirect("office:members")


@allowed("practice.manage")
@require_POST
def practice(request):
    """How the practice wants it."""
    form = PracticeForm(request.POST)
    try:
        if form.is_valid():
            actions.set_practice(request.user.practice, form.cleaned_data, request.user)
            messages.success(request, "Kept.")
            return redirect("office:members")
    except Problem as problem:
        form.add_error(None, str(problem))
    return _members(request, 422, practice_form=form)


def _entries(form):
    """The log as asked for, the newest first."""
    wanted, found = form.wanted, Entry.objects.all()
    if act := wanted.get("act"):
        found = found.filter(act__startswith=act)
    for name in ("by", "person"):
        if (value := wanted.get(name, "")).isdecimal():
            found = found.filter(**{name: int(value[:18])})
    if since := wanted.get("since"):
        found = found.filter(at__date__gte=since)
    if until := wanted.get("until"):
        found = found.filter(at__date__lte=until)
    return found


def _with_names(entries):
    """(entry, sentence) with the names people have now; who was erased is a number."""
    names = dict(Person.objects.filter(pk__in={each.person for each in entries}).values_list("pk", "name"))
    return [
        (
            each,
            ACTS.get(each.act, each.act).format(
                person=names.get(each.person, f"person {each.person}"), thing=each.thing
            ),
        )
        for each in entries
    ]


@allowed("practice.log")
@require_safe
def log(request):
    """Who did what, when, from where: filtered, and as CSV."""
    form = LogForm(request.GET)
    found = _entries(form)
    if request.GET.get("as") == "csv":
        record("log.exported")
        return _csv(found[:50_000])
    page = Paginator(found, A_PAGE).get_page(request.GET.get("page"))
    context = {
        "page": page,
        "rows": _with_names(page.object_list),
        "form": form,
        "wanted": form.wanted,
        "acts": sorted({act.split(".")[0] for act in ACTS}),
        "members": User.objects.filter(practice=request.user.practice_id),
        "people": Person.objects.only("name"),
    }
    return render(request, "office/log.html", context, status=422 if form.errors else 200)


#: A cell that begins so would be a formula where it is opened.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def _csv(entries):
    answer = HttpResponse(
        content_type="text/csv; charset=utf-8", headers={"Content-Disposition": 'attachment; filename="log.csv"'}
    )
    write = csv.writer(answer).writerow
    write(("at", "by", "act", "person", "thing", "address", "request"))
    for each in entries:
        row = (each.at.isoformat(), each.by_name, each.act, each.person, each.thing, each.address, each.request)
        write(f"'{value}" if str(value).startswith(_FORMULA) else value for value in row)
    return answer


@allowed("people.log")
@require_safe
def person_log(request, pk):
    """One person: every change with before and after, and who looked, released, linked."""
    person = get_object_or_404(Person.objects.select_related("in_care_of"), pk=pk)
    context = {
        "person": person,
        "history": history_of(person)[:200],
        "entries": _with_names(list(Entry.objects.filter(person=pk)[:200])),
        "colleagues": [
            each
            for each in User.objects.filter(practice=request.user.practice_id, is_active=True)
            if may(each, "people.look_after")
        ],
    }
    return render(request, "office/person_log.html", context)


@allowed("people.hand_over")
@require_POST
def hand_over(request, pk):
    """A colleague looks after them from now on."""
    person = get_object_or_404(Person, pk=pk)
    to = _member(request, HandOverForm(request.POST).to)
    try:
        people_actions.hand_over(person, to, request.user)
        messages.success(request, f"{to.name} looks after {person} from now on.")
    except Problem as problem:
        messages.error(request, str(problem))
    return redirect("office:person_log", pk)


@allowed("people.export")
@require_safe
def export(request, pk):
    """Everything about one person: a page to read, or JSON to take along."""
    person = get_object_or_404(Person, pk=pk)
    record("person.exported", person)
    found = everything_about(person)
    if request.GET.get("as") == "json":
        headers = {"Content-Disposition": 'attachment; filename="person.json"'}
        return JsonResponse(found, Encoder, json_dumps_params={"indent": 1, "ensure_ascii": False}, headers=headers)
    return render(request, "office/export.html", {"subject": person, "found": found})


@allowed("people.erase")
@require_http_methods(["GET", "POST"])
def erase(request, pk):
    """Everything about one person goes, once their name was typed."""
    person, form = get_object_or_404(Person, pk=pk), EraseForm(request.POST)
    problem = ""
    if request.method == "POST":
        form.is_valid()
        try:
            actions.erase(person, form.cleaned_data.get("typed_name", ""), request.user)
            messages.success(request, "Erased. The log keeps that somebody was here, as a number.")
            return redirect("people:people")
        except Problem as refusal:
            problem = str(refusal)
    named = Recipe.objects.filter(source_text__icontains=person.name) | Recipe.objects.filter(
        title__icontains=person.name
    )
    context = {"person": person, "problem": problem, "typed": form.data.get("typed_name", ""), "named": named[:12]}
    return render(request, "office/erase.html", context, status=422 if problem else 200)
