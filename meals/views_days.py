"""A person's days and weeks: looked at, shopped for, printed, copied, planned."""

from datetime import date, timedelta

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.timezone import localdate
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from accounts.permissions import allowed
from accounts.scope import within
from errands.models import Errand
from errands.run import ask, stop
from handouts.actions import opened, withdraw
from handouts.forms import LinkForm
from handouts.public import behind_link
from nutrition.limits.gates import MEAL_SHARES
from nutrition.notes import Problem
from people.models import Person
from recipes.models import Recipe
from ui import lately
from ui.numbers import first_error
from ui.posted import whole

from . import actions
from .days import WEEK, week_of
from .forms import AtHomeForm, CopyForm, LayForm, PlanForm
from .models import WeekLink
from .offered import dishes_for
from .provisions import at_home_of, calendar_of, labels_to_read, shopping_of
from .words import batch_words, by_day, is_enough, what_it_is


def _date(text):
    """A day as an address carries it; today for anything else."""
    try:
        return date.fromisoformat(text or "")
    except ValueError:
        return localdate()


@allowed("meals.see")
@require_safe
def day(request, person_pk, on=""):
    """One person's day, meal by meal, on one fence."""
    person = get_object_or_404(Person, pk=person_pk)
    lately.worked_with(request, person.pk)
    on = _date(on)
    week_ = week_of(person, on, 1)
    context = {
        "person": person,
        "on": on,
        "sight": week_.days[0],
        "before": on - timedelta(days=1),
        "after": on + timedelta(days=1),
        "meals": MEAL_SHARES,
        "people": Person.objects.there().only("name"),
    }
    return render(request, "meals/day.html", context)


@allowed("meals.see")
@require_safe
def day_dishes(request, person_pk, on, meal):
    """Dishes of the library that stay within what a day still leaves, to be eaten at a meal (htmx)."""
    person = get_object_or_404(Person, pk=person_pk)
    if meal not in MEAL_SHARES:
        raise Http404("no such meal")
    on = _date(on)
    found, missing = dishes_for(week_of(person, on, 1).days[0], meal)
    context = {"person": person, "on": on, "meal": meal, "found": found, "missing": missing}
    return render(request, "meals/day_dishes.html", context)


@allowed("meals.see")
@require_safe
def whose(request):
    """To the week of whoever was chosen."""
    return redirect("meals:week", get_object_or_404(Person, pk=whole(request.GET.get("person"))).pk)


@allowed("meals.see")
@require_safe
def week(request, person_pk, on=""):
    """One person's week at a glance, from the Monday of the day asked for."""
    person = get_object_or_404(Person, pk=person_pk)
    lately.worked_with(request, person.pk)
    on = _date(on)
    monday = on - timedelta(days=on.weekday())
    sight = week_of(person, monday)
    context = {
        "person": person,
        "monday": monday,
        "sunday": monday + timedelta(days=6),
        "sight": sight,
        "has_household": bool(person.household)
        and Person.objects.there().filter(household=person.household).count() > 1,
        "batches": [(row, batch_words(batch, row.occasion.on)) for row, batch in sight.batches],
        "people": Person.objects.there().only("name"),
        "before": monday - timedelta(days=7),
        "after": monday + timedelta(days=7),
    }
    return render(request, "meals/week.html", context)


def _week_of(request, person_pk, on):
    person, on = get_object_or_404(Person, pk=person_pk), _date(on)
    monday = on - timedelta(days=on.weekday())
    return person, monday, week_of(person, monday)


@allowed("meals.see")
@require_safe
def shopping_list(request, person_pk, on):
    """What a week asks of the shop, over all its tables: each food once, with the most its label may say."""
    return _shopping(request, *_week_of(request, person_pk, on))


def _shopping(request, person, monday, week_, status=200, **said):
    found, tables = shopping_of(week_, at_home_of(person, monday))
    context = {
        "person": person,
        "monday": monday,
        "sunday": monday + timedelta(days=6),
        "found": found,
        "tables": tables,
        "region": week_.regimen.eater.label_region,
        "keeps_out": week_.regimen.eater.keeps_out_words,
    } | said
    page = "meals/_shopping_list.html" if request.htmx else "meals/shopping.html"
    return render(request, page, context, status=status)


@allowed("meals.change")
@require_POST
def at_home(request, person_pk, on):
    """How much of a food is at home. Refused, it comes back with the sentence and what was typed."""
    person, monday, week_ = _week_of(request, person_pk, on)
    form = AtHomeForm(request.POST)
    if not form.is_known:
        raise Http404("no such food")
    try:
        actions.set_at_home(person, monday, form.food_id, form.typed)
    except Problem as problem:
        said = {"problem": str(problem), "at": form.food_id, "refused": {form.food_id: form.typed}}
        return _shopping(request, person, monday, week_, 422, **said)
    if not request.htmx:
        return redirect("meals:shopping", person.pk, monday.isoformat())
    return _shopping(request, person, monday, week_)


def _sheet(person, monday, week_):
    return {
        "person": person,
        "monday": monday,
        "sunday": monday + timedelta(days=6),
        "sight": week_,
        "labels": labels_to_read(week_),
    }


@allowed("meals.see")
@require_safe
def sheet(request, person_pk, on):
    """The week on paper: dishes, portions, labels to read; large print where asked for; and the private links to it."""
    person, monday, week_ = _week_of(request, person_pk, on)
    links = WeekLink.objects.filter(week__person=person, week__monday=monday).select_related("made_by")
    context = _sheet(person, monday, week_) | {"is_large": request.GET.get("large") == "1", "links": links}
    return render(request, "meals/sheet.html", context)


@allowed("handouts.link")
@require_POST
def give_week(request, person_pk, on):
    """A private link to a week as it stands now; its address is shown on this one answer and never again."""
    person, monday, week_ = _week_of(request, person_pk, on)
    body, form = render_to_string("meals/_week_sheet.html", _sheet(person, monday, week_)), LinkForm(request.POST)
    try:
        word, _ = form.besides
        link, token = actions.give_week(person, monday, body, form.days(), form.for_whom, request.user, word)
    except Problem as problem:
        messages.error(request, str(problem))
        return redirect("meals:sheet", person.pk, on)
    context = {
        "opens": link.week,
        "back": reverse("meals:sheet", args=[person.pk, monday.isoformat()]),
        "link": link,
        "address": request.build_absolute_uri(reverse("meals:public_week", args=[token])),
    }
    return render(request, "handouts/link.html", context)


@allowed("handouts.link")
@require_POST
def withdraw_week(request, pk):
    """The link opens nothing from now on."""
    link = get_object_or_404(WeekLink.objects.select_related("week"), pk=pk)
    withdraw(link)
    messages.success(request, "The link is withdrawn: it opens nothing any more.")
    return redirect("meals:sheet", link.week.person_id, link.week.monday.isoformat())


@allowed("handouts.open_link")
@behind_link(WeekLink, "week__practice")
def public_week(request, link, token):
    """A week as it was given out, for whoever holds its link; says when limits have changed, or a later sheet has replaced it."""
    with within(link.practice_id):
        opened(link)
        changed = link.practice.links_tell_changes and link.week.has_other_limits()
        context = {
            "week": link.week,
            "link": link,
            "has_other_limits": changed,
            "is_large": request.GET.get("large") == "1",
        }
        return render(request, "meals/week_public.html", context)


@allowed("meals.see")
@require_safe
def calendar(request, person_pk, on):
    """The week as a calendar file."""
    _, monday, week_ = _week_of(request, person_pk, on)
    body = calendar_of(week_, lambda occasion: request.build_absolute_uri(occasion.get_absolute_url()))
    answer = HttpResponse(body, content_type="text/calendar; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="meals-{monday:%Y-%m-%d}.ics"'
    return answer


@allowed("meals.change")
@require_POST
def copy(request, person_pk, on):
    """A day or a week to another one, theirs or somebody else's; judged anew for whoever eats it then."""
    person, form = get_object_or_404(Person, pk=person_pk), CopyForm(request.POST)
    if not form.is_valid():
        messages.error(request, first_error(form))
        return redirect("meals:week_from", person.pk, on)
    asked, since = form.cleaned_data, _date(on)
    to = get_object_or_404(Person, pk=asked["person"]) if asked["person"] else person
    start = asked["to"] - timedelta(days=asked["to"].weekday()) if asked["days"] == WEEK else asked["to"]
    count = actions.copy_days(person, since, asked["days"], to, start, request.user)
    messages.success(
        request, f"{count} dish{'es' * (count != 1)} copied for {to}. Every gate is held against {to} now."
    )
    return redirect("meals:week_from", to.pk, start.isoformat())


@allowed("meals.change")
@require_POST
def plan(request, person_pk):
    """Plan the open places of a week; asked for another, what was found before is not found again."""
    person, form = get_object_or_404(Person, pk=person_pk), PlanForm(request.POST)
    if not form.is_valid():
        return render(request, "meals/plan_found.html", {"person": person, "refusal": first_error(form)}, status=422)
    asked = form.cleaned_data
    monday = asked["monday"] - timedelta(days=asked["monday"].weekday())
    before = Errand.objects.filter(pk=asked["another"] or 0, asked_by=request.user, kind="plan").first()
    not_again = list(before.args["not_again"]) if before else []
    not_again += [
        [each["day"], each["meal"], each["key"]]
        for each in ((before.result or {}).get("choices", []) if before else [])
    ]
    wish = {"is_household": asked["household"], "with_snack": asked["snack"], "not_again": not_again}
    return _planned(request, person, ask("plan", request.user, person=person.pk, monday=monday.isoformat(), **wish))


def _planned(request, person, errand):
    monday = date.fromisoformat(errand.args["monday"])
    days, stuck = by_day(errand.result, monday) if errand.is_done else ([], [])
    context = {"person": person, "errand": errand, "monday": monday, "days": days, "stuck": stuck}
    if errand.is_done:
        context |= {"is_enough": is_enough(errand.result), "what_it_is": what_it_is(errand.result, days, stuck)}
    return render(request, "meals/plan_found.html", context)


def _errand_of(request, person_pk, errand_pk):
    person = get_object_or_404(Person, pk=person_pk)
    errand = get_object_or_404(Errand, pk=errand_pk, asked_by=request.user, kind="plan", args__person=person.pk)
    return person, errand


@allowed("meals.change")
@require_http_methods(["GET", "POST"])
def plan_state(request, person_pk, errand_pk):
    """How far the planning is (htmx asks again and again); posted to, it is stopped."""
    person, errand = _errand_of(request, person_pk, errand_pk)
    if request.method == "POST":
        stop(errand)
        errand.refresh_from_db()
    return _planned(request, person, errand)


@allowed("meals.change")
@require_POST
def take_plan(request, person_pk, errand_pk):
    """Lay the tables of a plan as it was shown."""
    person, errand = _errand_of(request, person_pk, errand_pk)
    monday = date.fromisoformat(errand.args["monday"])
    if errand.is_done:
        count = actions.take_plan(person, monday, errand.result["choices"], request.user)
        messages.success(
            request, f"{count} dish{'es' * (count != 1)} came onto tables. Portions can be changed at each of them."
        )
    return redirect("meals:week_from", person.pk, monday.isoformat())


@allowed("meals.change")
@require_POST
def lay(request, person_pk):
    """A table for a person's meal on a day, with everybody of their household where they have one; and a dish on it for them."""
    person, form = get_object_or_404(Person, pk=person_pk), LayForm(request.POST)
    if not form.is_valid():
        messages.error(request, first_error(form))
        return redirect("meals:week", person.pk)
    asked = form.cleaned_data
    if not asked["recipe"]:
        return redirect(actions.begin_for(person, asked["on"], asked["meal"], request.user))
    recipe = get_object_or_404(Recipe, pk=asked["recipe"])
    try:
        actions.eat(person, asked["on"], asked["meal"], recipe, request.user)
    except Problem as problem:
        messages.error(request, str(problem))
    return redirect("meals:day", person.pk, asked["on"].isoformat())
