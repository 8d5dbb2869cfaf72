"""Rooms about people."""

from django.apps import apps
from django.contrib import messages
from django.core.paginator import Paginator
from django.db.models import Count
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.timezone import localdate
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from accounts.permissions import allowed
from accounts.prepared import prepared
from nutrition.limits.plans import PLANS, missing_for
from nutrition.notes import Problem
from ui.guard import Stale

from . import actions
from .day import conflicts_of, day_strip, parts_of
from .foresight import foresee
from .forms import (
    ConfirmForm,
    CourseForm,
    MeasureForm,
    PersonForm,
    PlansForm,
    RoleSharesForm,
    SettleForm,
    SharesForm,
    TallyForm,
    TargetForm,
)
from .list_forms import AwayForm, SearchForm
from .models import Person, PersonTally, PersonTarget
from .regimen import regimen_of
from .search import ORDERS, searched

#: People on one page of the list.
A_PAGE = 60


@allowed("people.see")
@require_safe
def people(request):
    """Everyone, with their plans and how many of their targets are drafts; or who was put away."""
    is_away = request.GET.get("away") == "1"
    return _people(request, SearchForm({"away": "1"} if is_away else {}), request.GET.get("page"))


@allowed("people.see")
@require_POST
def find(request):
    """Who answers to what was typed. Posted, so that no name stands in an address, a log or a history."""
    return _people(request, SearchForm(request.POST), 1)


def _people(request, form, page):
    found = searched(form.words, form.plan, form.order, form.is_away)
    context = {
        "page": Paginator(found, A_PAGE).get_page(page),
        "asked": form,
        "orders": ORDERS,
        "plans": PLANS,
    }
    return render(request, "people/_people_list.html" if request.htmx else "people/people.html", context)


@allowed("people.change")
@require_POST
def put_away(request, pk):
    """Out of the lists, or back."""
    found, is_back = get_object_or_404(Person, pk=pk), AwayForm(request.POST).is_back
    actions.set_put_away(found, not is_back, request.user)
    said = "is in the lists again" if is_back else "is put away. Dishes, cards and history stay as they are"
    messages.info(request, f"{found} {said}.")
    return redirect(found)


@allowed("people.change")
@require_POST
def duplicate(request, pk):
    """Somebody new on the same plans."""
    new = actions.another_like(get_object_or_404(Person, pk=pk), request.user)
    messages.info(
        request, f"{new} has the same plans, with limits drafted anew. Say who they are: nothing of a body came along."
    )
    return redirect("people:edit", new.pk)


@prepared
def _people_at(person_id):
    return Person.objects.filter(pk=person_id).select_related("in_care_of")


@prepared
def _benches_of(person_id):
    benches = (
        apps.get_model("bench", "Bench")
        .objects.filter(person=person_id)
        .select_related("recipe")
        .annotate(count=Count("tries"))
    )
    return benches.only("meal", "recipe__title", "person_id")[:12]


def _page(request, person, **context):
    regimen = regimen_of(person, with_names=True)
    eater = regimen.eater
    missing = {choice.label: missing_for(choice.key, eater.facts, choice.settings) for choice in regimen.plans}
    context = {
        "person": person,
        "regimen": regimen,
        "choices": regimen.plans,
        "targets": regimen.targets,
        "conflicts": conflicts_of(eater),
        "day": day_strip(eater),
        "role_shares": parts_of(eater),
        "avoided": eater.keeps_out,
        "missing": {label: lacks for label, lacks in missing.items() if lacks},
        "drafts": regimen.drafts,
        "removed": regimen.removed,
        "course": next((choice for choice in regimen.plans if choice.plan.course_of), None),
        "today": localdate(),
        "target_form": TargetForm(),
        "tally_form": TallyForm(),
        "measure_form": MeasureForm(),
        "measured": person.measurements[::-1],
        "benches": _benches_of(person.pk),
    } | context
    return render(request, "people/person.html", context, status=422 if context.get("refused") else 200)


@allowed("people.see")
@require_safe
def person(request, pk):
    """Who they are, what they follow, what they are held to."""
    return _page(request, _people_at.one_or_404(pk))


@allowed("people.change")
@require_http_methods(["GET", "POST"])
def add(request):
    """A new person, with plans at once."""
    form = PersonForm(request.POST or None, follows={key for key in PLANS if key in request.POST})
    plans_form = PlansForm(request.POST or None)
    if request.method == "POST" and form.is_valid() and plans_form.is_valid():
        new = actions.add_person(form.save(commit=False), plans_form.wanted() | form.ticks, request.user)
        messages.success(
            request, f"{new.name} is added. The targets below are drafts until a licensed practitioner confirms them."
        )
        return redirect(new)
    status = 422 if request.method == "POST" else 200
    context = {"form": form, "plans_form": plans_form, "households": Person.households()}
    return render(request, "people/add.html", context, status=status)


@allowed("people.change")
@require_http_methods(["GET", "POST"])
def edit(request, pk):
    """Change who they are; plans that go by weight or energy draft again."""
    found = get_object_or_404(Person, pk=pk)
    chosen = {choice.key: choice.schools for choice in found.plans.all()}
    form = PersonForm(request.POST or None, instance=get_object_or_404(Person, pk=pk), follows=set(chosen))
    status = 422 if request.method == "POST" else 200
    if request.method == "POST" and form.is_valid():
        try:
            drafts_again = actions.change_person(found, form.changes, form.shown, request.user)
            if form.ticks:
                actions.set_plans(get_object_or_404(Person, pk=pk), chosen | form.ticks, request.user)
            if drafts_again:
                messages.info(
                    request,
                    "Weight, energy or age changed: what nobody stands behind was drafted again. What was confirmed or "
                    "typed stands; where a plan would say something else now, it says so beside it.",
                )
            return redirect(found)
        except Stale:
            status = 409
    context = {
        "form": form,
        "person": found,
        "stale": form.against(found) if status == 409 else (),
        "households": Person.households(),
    }
    return render(request, "people/edit.html", context, status=status)


@allowed("people.change")
@require_http_methods(["GET", "POST"])
def plans(request, pk):
    """Follow these plans."""
    found = get_object_or_404(Person, pk=pk)
    chosen = {choice.key: choice.schools for choice in found.plans.all()}
    form = PlansForm(request.POST if request.method == "POST" else None, chosen=chosen)
    status = 422 if request.method == "POST" else 200
    if request.method == "POST" and form.is_valid():
        try:
            actions.set_plans(found, form.wanted(), request.user, form.version)
            return redirect(found)
        except Stale:
            status = 409
    context = {"person": found, "plans_form": form, "stale": status == 409, "choices": found.plans.all()}
    return render(request, "people/plans.html", context, status=status)


@allowed("people.change")
@require_POST
def foresee_plans(request, pk):
    """What these plans would change, before they are saved."""
    found = get_object_or_404(Person, pk=pk)
    form = PlansForm(request.POST)
    context = {}
    if form.is_valid():
        foreseen = foresee(regimen_of(found), form.chosen())
        context = {"foreseen": foreseen, "day": day_strip(foreseen.eater)}
    return render(request, "people/plans_foreseen.html", context | {"plans_form": form, "is_foreseen": True})


@allowed("people.change")
@require_POST
def measure(request, pk):
    """Write down a weight or a blood result."""
    found = get_object_or_404(Person, pk=pk)
    form = MeasureForm(request.POST, age_years=found.age_years)
    if not form.is_valid():
        return _page(request, found, measure_form=form, refused=True)
    data = form.cleaned_data
    return _carried_out(
        request,
        found,
        form,
        lambda: actions.measure(found, data["key"], data["value"], data["on"], request.user, form.version),
    )


@allowed("people.change")
@require_POST
def take_back_measured(request, pk):
    """A value written down by mistake."""
    found = get_object_or_404(Person, pk=pk)
    form = MeasureForm(request.POST, age_years=found.age_years)
    if form.is_valid():
        data = form.cleaned_data
        key, value, on = data["key"], data["value"], data["on"]
        return _carried_out(
            request,
            found,
            form,
            lambda: actions.take_back_measured(found, key, value, on, request.user, form.version),
        )
    return redirect(found)


@allowed("targets.change")
@require_POST
def draft_again(request, pk):
    """The drafts of the plans as they would be today."""
    found = get_object_or_404(Person, pk=pk)
    actions.redraft(found, request.user)
    return redirect(f"{found.get_absolute_url()}#targets")


@allowed("targets.change")
@require_POST
def add_target(request, pk):
    """A limit of their own."""
    found = get_object_or_404(Person, pk=pk)
    form = TargetForm(request.POST, instance=PersonTarget(person=found, practice_id=found.practice_id))
    if not form.is_valid():
        return _page(request, found, target_form=form, refused=True)
    actions.save_target(form.save(commit=False), request.user)
    return redirect(f"{found.get_absolute_url()}#targets")


@allowed("targets.change")
@require_http_methods(["GET", "POST"])
def edit_target(request, pk):
    """Change one limit; it is a draft again."""
    target = get_object_or_404(PersonTarget.objects.select_related("person"), pk=pk)
    version = target.version
    form = TargetForm(request.POST or None, instance=target)
    try:
        if request.method == "POST":
            target.check_fresh(form.version_or(version))
        if request.method == "POST" and form.is_valid():
            actions.save_target(form.save(commit=False), request.user)
            return redirect(f"{target.person.get_absolute_url()}#targets")
    except Stale:
        now = PersonTarget.objects.select_related("person").get(pk=pk)
        context = {"form": form, "target": now, "person": now.person, "stale": True}
        return render(request, "people/target.html", context, status=409)
    status = 422 if request.method == "POST" else 200
    return render(
        request, "people/target.html", {"form": form, "target": target, "person": target.person}, status=status
    )


@allowed("targets.confirm")
@require_POST
def confirm_target(request, pk):
    """A licensed practitioner confirms one target."""
    target = get_object_or_404(PersonTarget.objects.select_related("person"), pk=pk)
    return _confirm(request, target.person, [target])


@allowed("targets.confirm")
@require_POST
def confirm_all(request, pk):
    """... or every draft of a person."""
    found = get_object_or_404(Person, pk=pk)
    return _confirm(request, found, found.targets.filter(confirmed_on__isnull=True))


def _confirm(request, found, targets):
    try:
        actions.confirm_all(targets, request.user, ConfirmForm(request.POST).seen)
    except Problem as problem:
        messages.error(request, str(problem))
    return redirect(f"{found.get_absolute_url()}#targets")


@allowed("targets.change")
@require_POST
def delete_target(request, pk):
    """Take one limit away."""
    target = get_object_or_404(PersonTarget.objects.select_related("person"), pk=pk)
    try:
        actions.remove_target(target, ConfirmForm(request.POST).version_of(pk), request.user)
        messages.info(request, f"{target.in_words}: removed. It can be put back below the targets.")
    except Stale as refusal:
        messages.error(request, str(refusal))
    return redirect(f"{target.person.get_absolute_url()}#targets")


@allowed("targets.change")
@require_POST
def put_back(request, pk):
    """A limit that was removed stands again."""
    target = get_object_or_404(PersonTarget.every.select_related("person"), pk=pk)
    actions.put_back(target, request.user)
    return redirect(f"{target.person.get_absolute_url()}#targets")


@allowed("targets.change")
@require_POST
def take_drafted(request, pk):
    """What the plan says now, in place of a prescription."""
    target = get_object_or_404(PersonTarget.objects.select_related("person"), pk=pk)
    try:
        actions.take_drafted(target, request.user, ConfirmForm(request.POST).version_of(pk))
    except Problem as refusal:
        messages.error(request, str(refusal))
    return redirect(f"{target.person.get_absolute_url()}#targets")


def _carried_out(request, found, form, verb):
    """Back to the page, or the page again with the refusal where it belongs."""
    try:
        verb()
    except Problem as refusal:
        return _page(request, found, refused=True, refusal=str(refusal), typed=form.data)
    return redirect(found)


@allowed("people.change")
@require_POST
def settle(request, pk):
    """Which plan leads where two pull apart."""
    found = get_object_or_404(Person, pk=pk)
    conflicts = regimen_of(found).eater.conflicts()
    form = SettleForm(request.POST)
    form.is_valid()
    topic, leader = (form.cleaned_data.get(name, "") for name in ("topic", "leader"))
    return _carried_out(request, found, form, lambda: actions.settle(found, topic, leader, conflicts, form.version))


@allowed("people.change")
@require_POST
def shares(request, pk):
    """How the day is shared out over the meals."""
    found = get_object_or_404(Person, pk=pk)
    form = SharesForm(request.POST)
    return _carried_out(request, found, form, lambda: actions.set_shares(found, form.shares(), form.version))


@allowed("people.change")
@require_POST
def role_shares(request, pk):
    """What each part of a meal may take of it."""
    found = get_object_or_404(Person, pk=pk)
    form = RoleSharesForm(request.POST)
    return _carried_out(request, found, form, lambda: actions.set_role_shares(found, form.shares(), form.version))


@allowed("people.change")
@require_POST
def course(request, pk):
    """When the course of a plan began, and how long its strict phase is."""
    found = get_object_or_404(Person, pk=pk)
    choice = next((each for each in found.plans.all() if each.plan.course_of), None)
    if choice is None:
        raise Http404("no plan of this person has a course")
    form = CourseForm(request.POST)
    return _carried_out(request, found, form, lambda: actions.start_course(choice, *form.course(), form.version))


@allowed("people.change")
@require_POST
def add_tally(request, pk):
    """A tally of their own."""
    found = get_object_or_404(Person, pk=pk)
    form = TallyForm(request.POST, instance=PersonTally(person=found, practice_id=found.practice_id))
    if not form.is_valid():
        return _page(request, found, tally_form=form, refused=True)
    data = form.cleaned_data
    try:
        actions.save_tally(form.save(commit=False), request.user, data["free"], data["one_free_a_day"])
    except Problem as refusal:
        form.add_error(None, str(refusal))
        return _page(request, found, tally_form=form, refused=True)
    return redirect(f"{found.get_absolute_url()}#tallies")


@allowed("people.change")
@require_POST
def delete_tally(request, pk):
    """Take a tally away."""
    tally = get_object_or_404(PersonTally.objects.select_related("person"), pk=pk)
    actions.remove_tally(tally)
    return redirect(f"{tally.person.get_absolute_url()}#tallies")
