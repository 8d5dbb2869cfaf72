"""Meals: the list of tables, and one table. Every change answers with the whole table, so that portions, gates and what is left
move together."""

from datetime import datetime

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.timezone import localdate
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from accounts.permissions import allowed
from accounts.prepared import prepared
from bench.models import Try
from errands.models import Errand
from errands.run import ask, stop
from handouts.models import Release
from nutrition.dish.codec import from_data
from nutrition.limits.gates import MEAL_SHARES
from nutrition.limits.roles import ROLES
from nutrition.meals.fitting import fitting as portions_that_fit
from nutrition.meals.oven import SHELVES, timeline
from nutrition.notes import Problem
from people.models import Person
from recipes.models import Recipe
from ui import lately
from ui.guard import Stale
from ui.numbers import first_error
from ui.posted import said, whole

from . import actions
from .batches import batches_of
from .clock import clock_of, moved
from .forms import BeginForm, ChangeForm, DishForm, FactsForm, GuestForm
from .loading import coming, served_of
from .models import Occasion, OnTable, Seat
from .offered import offered
from .portions import for_all, portions_of
from .sight import table_of
from .whole_way import told_whole
from .words import batch_words

#: Tables on one page of the list.
A_PAGE = 60


@allowed("meals.see")
@require_safe
def meals(request):
    """The tables that are laid: those to come, then those that were."""
    return _meals(request, BeginForm(initial={"meal": "dinner", "on": localdate()}))


def _meals(request, form, status=200):
    rows = coming(Occasion.objects.all())
    ahead = list(rows.filter(on__gte=localdate())[:A_PAGE])
    past = Paginator(rows.filter(on__lt=localdate()).order_by("-on", "-serve_at"), A_PAGE).get_page(
        request.GET.get("page")
    )
    lately_with = Person.objects.filter(pk=lately.person(request)).values_list("household", flat=True).first()
    context = {
        "form": form,
        "ahead": ahead,
        "past": past,
        "households": Person.households(),
        "people": Person.objects.there().only("name"),
        "person_lately": lately.person(request),
        "household_lately": form.data.get("household", "") if form.is_bound else lately_with,
        "meals": MEAL_SHARES,
    }
    return render(request, "meals/meals.html", context, status=status)


@allowed("meals.change")
@require_POST
def begin(request):
    """Lay a table for a household, or an empty one."""
    form = BeginForm(request.POST)
    if not form.is_valid():
        return _meals(request, form, status=422)
    asked = form.cleaned_data
    on, meal = asked["on"], asked["meal"]
    occasion = actions.begin(on, meal, asked["household"], asked["title"], request.user, asked["serve_at"])
    if on < localdate():
        messages.info(request, f"{on:%A, %B} {on.day} is past: the table is laid all the same, as a record.")
    return redirect(occasion)


@prepared
def _occasions_at(occasion_id):
    return Occasion.objects.filter(pk=occasion_id)


@prepared
def _others(person_ids):
    return Person.objects.there().exclude(pk__in=person_ids).only("name", "household")


def _occasion(pk):
    return _occasions_at.one_or_404(pk)


def _draw(request, occasion, status=200, **context):
    sight = table_of(occasion, whole(said(request).get("eater")))
    told = {row.pk: batch_words(batch, occasion.on) for row, batch in batches_of([each.row for each in sight.rows])}
    sight.batches = {each.row.pk: told.get(each.row.left_over_of_id or each.row.pk, "") for each in sight.rows}
    people = _others([column.seat.person_id for column in sight.columns if column.seat.person_id])
    near = [person for person in people if occasion.household and person.household == occasion.household]
    context = {
        "occasion": occasion,
        "sight": sight,
        "people": [*near, *(person for person in people if person not in near)],
        "roles": ROLES,
        "meals": MEAL_SHARES,
    } | context
    template = "meals/table_workspace.html" if request.htmx else "meals/table.html"
    return render(request, template, context, status=status)


@allowed("meals.see")
@require_safe
def table(request, pk):
    """One table: dishes down, eaters across."""
    return _draw(request, _occasion(pk))


@allowed("meals.change")
@require_POST
def facts(request, pk):
    """What the occasion is called, its day, meal and time."""
    occasion, form = _occasion(pk), FactsForm(request.POST)
    if not form.is_valid():
        return _draw(request, occasion, status=422, problem=first_error(form), act="facts", typed=form.data)
    facts_ = {name: value for name, value in form.cleaned_data.items() if value or name == "title"}
    try:
        actions.set_facts(occasion, ChangeForm(request.POST).version, **facts_)
    except Stale:
        return _draw(request, _occasion(pk), status=409, stale=True, act="facts", typed=form.data)
    return redirect(occasion) if not request.htmx else _draw(request, occasion)


_ROWS = {
    model: prepared(lambda occasion_id, row_id, model=model: model.objects.filter(occasion=occasion_id, pk=row_id))
    for model in (Seat, OnTable)
}


def _row(model, occasion, pk):
    found = _ROWS[model].first(occasion.pk, pk)
    if found is None:
        raise Problem("meals.not_here")
    return found


def _portion(form, occasion, user):
    seat, dish = _row(Seat, occasion, form.seat), _row(OnTable, occasion, form.dish)
    if dish.is_away or seat.is_away:
        raise Problem("meals.not_here")
    actions.set_portion(occasion, form.version, seat, dish, form.value("words"), lambda: served_of(dish).measured, user)


def _add(form, occasion, user):
    """A try, a recipe or a food in words, whichever was chosen."""
    if form.left_over:
        actions.add_left_over(occasion, form.version, get_object_or_404(OnTable, pk=form.left_over))
    elif form.release:
        actions.add_release(occasion, form.version, get_object_or_404(Release, pk=form.release))
    elif form.attempt:
        actions.add_try(occasion, form.version, get_object_or_404(Try, pk=form.attempt))
    elif form.recipe:
        actions.add_recipe(occasion, form.version, get_object_or_404(Recipe, pk=form.recipe, is_read=True))
    elif form.value("food"):
        seat = _row(Seat, occasion, form.seat)
        actions.add_as_eaten(occasion, form.version, form.value("food"), form.count, seat.pk)
    elif form.value("words").strip():
        actions.add_food(occasion, form.version, form.value("words").strip(), form.seat or None)
    else:
        raise Problem("meals.nothing_to_add")


def _seat(form, occasion, user):
    if form.person:
        actions.seat_person(occasion, form.version, get_object_or_404(Person, pk=form.person), user)
        return
    guest = GuestForm(form.data)
    if not guest.is_valid():
        raise Problem("words.said", text=first_error(guest))
    asked = guest.cleaned_data
    actions.seat_guest(occasion, form.version, asked["guest"], asked["plan"], asked["weight_kg"], asked["energy_kcal"])


def _away(form, occasion, user):
    row = _row(Seat, occasion, form.seat) if form.seat else _row(OnTable, occasion, form.dish)
    actions.set_away(occasion, form.version, row, form.value("back") != "1")


def _dish(form, occasion, user):
    facts_ = DishForm(form.data)
    if not facts_.is_valid():
        raise Problem("words.said", text=first_error(facts_))
    actions.set_dish(occasion, form.version, _row(OnTable, occasion, form.dish), **facts_.cleaned_data)


def _fit(form, occasion, user):
    """The nearest portions that keep one eater within every limit."""
    sight = table_of(occasion)
    column = sight.columns[sight.column_of(form.seat)]
    found = portions_that_fit(column.place)
    if found is None or (found.misses and form.value("nearest") != "1"):
        missed = found.misses if found else ()
        raise Problem(
            "meals.no_portions", name=str(column.seat), misses=tuple((m.gate.nutrient, m.side, m.by) for m in missed)
        )
    actions.set_portions(occasion, form.version, {column.seat: portions_of(sight, column, found.portions)})


def _fit_all(form, occasion, user):
    """The nearest portions for everybody; what no portions mend is told, with the dish to change."""
    found = for_all(table_of(occasion))
    actions.set_portions(occasion, form.version, found.portions)
    return {"fitted": found}


def _take_out(form, occasion, user):
    """Somebody's part of a dish comes out of the pot before some lines, or stays in."""
    seats = [_row(Seat, occasion, int(pk)) for pk in form.data.getlist("seat") if pk.isdecimal()]
    actions.take_out(occasion, form.version, seats, _row(OnTable, occasion, form.dish), form.keys)


def _take_way(form, occasion, user):
    errand = Errand.objects.filter(pk=whole(form.value("errand")), asked_by=user, kind="table").first()
    ways = (errand.result or {}).get("ways", []) if errand and errand.is_done else []
    number = whole(form.value("way"))
    if not 0 < number <= len(ways) or errand.args["occasion"] != occasion.pk or errand.args["dish"] != form.dish:
        raise Problem("meals.no_way")
    if errand.result["version"] != occasion.version:
        raise Stale()
    row = _row(OnTable, occasion, form.dish)
    actions.change_dish(occasion, form.version, row, from_data(ways[number - 1]["dish"]), served_of(row).dish)


def _take_whole(form, occasion, user):
    errand = Errand.objects.filter(pk=whole(form.value("errand")), asked_by=user, kind="whole_table").first()
    if errand is None or not errand.is_done or errand.args["occasion"] != occasion.pk:
        raise Problem("meals.no_whole_way")
    if errand.result["version"] != occasion.version:
        raise Stale()
    rows, seats = ({each.pk: each for each in found.all()} for found in (occasion.dishes, occasion.seats))
    found = errand.result
    dishes = {
        rows[each["dish"]]: (from_data(each["to"]), served_of(rows[each["dish"]]).dish) for each in found["dishes"]
    }
    moved = ((seats[each["seat"]], each["portions"]) for each in found["places"] if each["seat"] in seats)
    portions = {seat: {pk: words for pk, words, _ in moves} for seat, moves in moved if moves}
    actions.take_whole(occasion, form.version, dishes, portions)


def _as_in_the_library(form, occasion, user):
    actions.as_in_the_library(occasion, form.version, _row(OnTable, occasion, form.dish))


ACTS = {
    "portion": _portion, "add": _add, "seat": _seat, "away": _away, "dish": _dish, "fit": _fit, "fit_all": _fit_all, "take_out": _take_out,
    "take_way": _take_way, "take_whole": _take_whole, "as_in_the_library": _as_in_the_library,
}  # fmt: skip


@allowed("meals.change")
@require_POST
def change(request, pk):
    """One change. Refused, it comes back with the sentence and what was typed; nothing is half-saved."""
    occasion, form = _occasion(pk), ChangeForm(request.POST)
    try:
        if form.value("act") not in ACTS:
            raise Problem("ui.not_understood", place="table")
        told = ACTS[form.value("act")](form, occasion, request.user)
    except Stale:
        return _draw(request, _occasion(pk), status=409, stale=True, act=form.value("act"), typed=form.data)
    except Problem as problem:
        place = {
            "problem": str(problem),
            "act": form.value("act"),
            "at": f"{form.seat}-{form.dish}",
            "typed": form.data,
            "ticked": form.data.getlist("plan"),
        }
        return _draw(request, _occasion(pk), status=422, **place)
    if not request.htmx:
        return redirect(occasion)
    return _draw(request, _occasion(pk), **told or {})


@allowed("meals.see")
@require_POST
def find(request, pk):
    """Dishes by the words typed: tries of those who sit here first, then the library. Posted, so that no address tells."""
    occasion, words = _occasion(pk), ChangeForm(request.POST).value("words").strip()[:80]
    context = {"occasion": occasion, "words": words, "offered": offered(occasion, words)}
    return render(request, "meals/table_found.html", context)


def _dish_on(occasion, dish_pk):
    sight = table_of(occasion)
    try:
        return sight, sight.rows[sight.row_of(dish_pk)]
    except Problem:
        raise Http404("no such dish on this table") from None


def _of_errand(request, occasion, row, errand):
    result = (errand.result or {}) if errand.is_done else {}
    context = {"occasion": occasion, "row": row, "errand": errand, "outcome": result}
    return render(request, "meals/table_ways.html", context)


@allowed("meals.change")
@require_POST
def way(request, pk, dish_pk):
    """Look for the least change of a dish with which everybody who eats it is through."""
    occasion = _occasion(pk)
    _, row = _dish_on(occasion, dish_pk)
    return _of_errand(request, occasion, row, ask("table", request.user, occasion=occasion.pk, dish=dish_pk))


@allowed("meals.change")
@require_http_methods(["GET", "POST"])
def way_state(request, pk, dish_pk, errand_pk):
    """How far the search is (htmx asks again and again); posted to, it is stopped."""
    occasion = _occasion(pk)
    _, row = _dish_on(occasion, dish_pk)
    errand = get_object_or_404(Errand, pk=errand_pk, asked_by=request.user, kind="table")
    if request.method == "POST":
        stop(errand)
        errand.refresh_from_db()
    return _of_errand(request, occasion, row, errand)


@allowed("meals.change")
@require_POST
def whole_table(request, pk):
    """Look for a way over the whole table: portions first, then dishes."""
    occasion = _occasion(pk)
    return _of_whole(request, occasion, ask("whole_table", request.user, occasion=occasion.pk))


@allowed("meals.change")
@require_http_methods(["GET", "POST"])
def whole_state(request, pk, errand_pk):
    """How far that is; posted to, it is stopped."""
    occasion = _occasion(pk)
    errand = get_object_or_404(Errand, pk=errand_pk, asked_by=request.user, kind="whole_table")
    if request.method == "POST":
        stop(errand)
        errand.refresh_from_db()
    return _of_whole(request, occasion, errand)


def _of_whole(request, occasion, errand):
    found = told_whole(occasion, errand.result) if errand.is_done and errand.result else None
    return render(request, "meals/table_whole.html", {"occasion": occasion, "errand": errand, "found": found})


@allowed("meals.cook")
@require_safe
def pot(request, pk, dish_pk):
    """A dish as it is cooked for this table: so many batches, whose part is taken out before what, who gets how much."""
    occasion = _occasion(pk)
    sight, row = _dish_on(occasion, dish_pk)
    return render(request, "meals/pot.html", {"occasion": occasion, "row": row, "pot": sight.pot_of(row)})


@allowed("meals.cook")
@require_safe
def clock(request, pk):
    """One oven, so many hands: who starts what when, back from the serving. It tells of nobody more than their pot needs."""
    occasion = _occasion(pk)
    sight = table_of(occasion)
    asked = {
        name: min(max(whole(request.GET.get(name), usual), 1), 4)
        for name, usual in (("cooks", 1), ("shelves", SHELVES))
    }
    dishes = [row.served for row in sight.rows if not row.served.is_plain]
    line = timeline(dishes, **asked)
    serve = datetime.combine(occasion.on, occasion.serve_at)
    context = {
        "occasion": occasion,
        "sight": sight,
        "keeps_out": sight.keeps_out(),
        "clock": clock_of(line, dishes, serve),
        "moved": moved(line, dishes),
        "silent": [dishes[at].title for at in line.silent],
        "choices": range(1, 5),
        **asked,
    }
    return render(request, "meals/clock.html", context)


@allowed("meals.change")
@require_POST
def clear(request, pk):
    """The table goes; recipes, tries and people stay."""
    occasion = _occasion(pk)
    try:
        actions.clear(occasion, ChangeForm(request.POST).version, request.user)
    except Stale:
        return _draw(request, _occasion(pk), status=409, stale=True)
    messages.info(request, f"{occasion} is cleared away. Recipes, tries and people are as they were.")
    return redirect("meals:meals")
