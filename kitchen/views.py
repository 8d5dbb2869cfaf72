"""The kitchen: cook mode, the scale, and what really went in."""

from django.conf import settings
from django.contrib import messages
from django.core.paginator import Paginator
from django.http import Http404, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from accounts.permissions import allowed
from bench.models import Try
from nutrition.notes import Problem
from nutrition.reading.matching import search_foods
from nutrition.stove.cooked import SPENT
from people.regimen import regimen_of
from ui.numbers import first_error
from ui.posted import whole

from . import actions
from .forms import FinishForm, ScaleForm, SeenForm, SharesForm, TapForm, TimerForm
from .models import Cook, Timer
from .scale import ScaleGone, steady_weight, the_scale
from .stove import as_cooked_of, look_at

_WITH = ("attempt__bench__recipe", "attempt__bench__person", "started_by", "result")

#: Cooks on one page of the list.
A_PAGE = 40


def _cook(pk):
    return get_object_or_404(Cook.objects.select_related(*_WITH), pk=pk)


@allowed("kitchen.see")
@require_safe
def cooks(request):
    """What is on the stove, what waits to be tasted or decided, what was cooked."""
    rows = Cook.objects.in_lists()
    waits = rows.waiting().prefetch_related("tastings")
    return render(
        request,
        "kitchen/cooks.html",
        {
            "cooking": rows.on_the_stove(),
            "waits": Paginator(waits, A_PAGE).get_page(request.GET.get("waiting")),
            "done": Paginator(rows.settled(), A_PAGE).get_page(request.GET.get("page")),
            "to_cook": Try.objects.in_lists().not_cooked().order_by("-touched_at")[:12],
        },
    )


@allowed("kitchen.cook")
@require_POST
def begin(request, try_pk):
    """Begin to cook a try, or go on with it."""
    attempt = get_object_or_404(Try.objects.select_related("bench__recipe", "bench__person"), pk=try_pk)
    return redirect(actions.begin(attempt, request.user))


def _draw(request, cook, *, template="kitchen/stove.html", status=200, **context):
    seen = SeenForm.of(request)
    if request.htmx:
        template = "kitchen/stove_step.html"
    stove_ = look_at(cook, seen.step, seen.line)
    context = {
        "cook": cook,
        "bench": cook.attempt.bench,
        "stove": stove_,
        "timers": list(cook.timers.filter(stopped_at=None)),
        "taps": list(cook.taps.filter(taken_back_at=None).order_by("-pk")[:6]),
        "has_scale": bool(settings.SCALE_URL),
        "is_standin": settings.SCALE_IS_STANDIN,
    } | context
    return render(request, template, context, status=status)


@allowed("kitchen.see")
@require_safe
def stove(request, pk):
    """Cook mode at a step; the step is remembered, so that a reload comes back to it."""
    cook = _cook(pk)
    if cook.finished_at:
        return redirect("kitchen:cooked", pk)
    number = whole(request.GET.get("step"), None)
    if number is not None and number != cook.at_step and number <= len(cook.plan.steps):
        Cook.objects.filter(pk=cook.pk).update(at_step=number)
    return _draw(request, cook)


def _answer(request, cook, problem=""):
    """The step anew; refused taps come back with the sentence and what was typed."""
    typed = SeenForm.of(request).typed if problem else {}
    if not request.htmx:
        if problem:
            messages.error(request, problem)
        return redirect("kitchen:stove", cook.pk)
    return _draw(request, cook, problem=problem, typed=typed, status=422 if problem else 200)


@allowed("kitchen.cook")
@require_POST
def tap(request, pk):
    """Record one thing, or take the last one back."""
    cook, form = _cook(pk), TapForm(request.POST)
    try:
        if form.kind == "back":
            actions.take_back(cook)
        else:
            actions.tap(
                cook,
                request.user,
                form.kind,
                key=form.key,
                grams=_weighed(form.kind) if form.from_scale else form.grams(),
                food_id=form.food_id,
                minutes=form.minutes(),
                step=form.step,
                token=form.token,
            )
    except (Problem, ScaleGone) as problem:
        return _answer(request, cook, str(problem))
    return _answer(request, cook)


def _weighed(kind):
    """Grams as the scale shows them once it stands still. Raises Problem or ScaleGone."""
    device = the_scale()
    if device is None:
        raise ScaleGone("No scale is set up in this kitchen. Type the weight.")
    reading = steady_weight(device)
    if reading.is_over:
        raise Problem("kitchen.scale_over")
    if not reading.is_steady:
        raise Problem("kitchen.scale_moving", grams=reading.grams)
    if reading.grams <= 0 and kind != SPENT:
        raise Problem("kitchen.scale_empty", grams=reading.grams)
    return max(reading.grams, 0.0)


@allowed("kitchen.cook")
@require_POST
def timer(request, pk):
    """Start a timer, stop it, or give it a minute."""
    cook, form = _cook(pk), TimerForm(request.POST)
    try:
        if form.timer is not None:
            actions.stop_timer(cook, form.timer, form.act)
        else:
            actions.start_timer(cook, form.label, form.seconds(), form.step, form.token)
    except Timer.DoesNotExist:
        raise Http404("no such timer") from None
    except Problem as problem:
        return _answer(request, cook, str(problem))
    return _answer(request, cook)


@allowed("kitchen.cook")
@require_POST
def shares(request, pk):
    """How what may be spent is spread over the steps."""
    cook = _cook(pk)
    form = SharesForm(request.POST, len(cook.plan.steps))
    try:
        actions.set_shares(cook, form.kind, form.shares())
    except Problem as problem:
        return _answer(request, cook, str(problem))
    return _answer(request, cook)


@allowed("kitchen.see")
@require_safe
def foods_to_choose(request, pk):
    """Foods for "another food went in" (`key` of the line) or "something else went in" (`grams`), by the words typed."""
    cook = _cook(pk)
    words = request.GET.get("q", "").strip()[:80]
    found = search_foods(words, 6) if words else []
    asked = {name: request.GET.get(name, "")[:20] for name in ("key", "step", "grams")}
    context = {"cook": cook, "found": found} | asked
    return render(request, "kitchen/stove_foods.html", context)


@allowed("kitchen.see")
@require_safe
def scale(request, pk):
    """What the scale shows, for the page to poll: {"state": steady|moving|over|gone|none, "words"}."""
    _cook(pk)
    device = the_scale()
    if device is None:
        return JsonResponse({"state": "none", "words": "No scale here: type the weight."})
    try:
        reading = device.read()
    except ScaleGone as problem:
        return JsonResponse({"state": "gone", "words": str(problem)})
    state = "over" if reading.is_over else "steady" if reading.is_steady else "moving"
    return JsonResponse({"state": state, "grams": reading.grams, "words": f"{reading.grams:.1f} g"})


@allowed("kitchen.cook")
@require_POST
def set_scale(request, pk):
    """Tare; and, for the stand-in only, put something on it."""
    cook, form = _cook(pk), ScaleForm(request.POST)
    device = the_scale()
    try:
        if device is None:
            raise ScaleGone("No scale is set up in this kitchen.")
        if form.act == "tare":
            device.tare()
        elif settings.SCALE_IS_STANDIN and form.act in ("load", "add"):
            device.send(f"{form.act} {form.grams():.1f}")
        elif settings.SCALE_IS_STANDIN and form.act == "empty":
            device.send("empty")
    except (ScaleGone, Problem) as problem:
        return _answer(request, cook, str(problem))
    return _answer(request, cook)


def _dish_up(cook, form, user):
    known, whole_numbers = form.cleaned_data, ("minutes_taken", "minutes_hands_on", "pans")
    counted = {name: None if known[name] is None else round(known[name]) for name in whole_numbers}
    actions.finish(
        cook,
        user,
        known["serves_cooked"],
        cooked_g=known["cooked_g"],
        notes=known["notes"],
        spent=form.spent(),
        **counted,
    )


@allowed("kitchen.cook")
@require_http_methods(["GET", "POST"])
def finish(request, pk):
    """Weigh the dish, count the pieces, close the cook. A refusal keeps what was typed."""
    cook = _cook(pk)
    if cook.finished_at:
        return redirect("kitchen:cooked", pk)
    form, problem = FinishForm(request.POST), ""
    if request.method == "POST":
        try:
            if form.is_valid():
                _dish_up(cook, form, request.user)
                return redirect("kitchen:cooked", pk)
            problem = first_error(form)
        except Problem as refusal:
            problem = str(refusal)
    stove_ = look_at(cook, len(cook.plan.steps))
    context = {"cook": cook, "bench": cook.attempt.bench, "stove": stove_, "typed": form.data, "problem": problem}
    return render(request, "kitchen/finish.html", context, status=422 if problem else 200)


@allowed("kitchen.see")
@require_safe
def cooked(request, pk):
    """Planned beside cooked, and what made the difference."""
    cook = _cook(pk)
    if not cook.finished_at:
        return redirect("kitchen:stove", pk)
    regimen = regimen_of(cook.attempt.bench.person, cook.attempt.bench.role)
    return render(
        request,
        "kitchen/cooked.html",
        {
            "cook": cook,
            "bench": cook.attempt.bench,
            "seen": as_cooked_of(cook, regimen),
            "taps": cook.taps.filter(taken_back_at=None).select_related("made_by"),
        },
    )
