"""The bench: every change answers with the whole bench, so that lines, gates and totals move together."""

from django.contrib import messages
from django.core.paginator import Paginator
from django.db.models import Prefetch, Q
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from accounts.permissions import allowed
from accounts.prepared import prepared
from errands.models import Errand
from errands.run import ask, stop
from nutrition.food.nutrients import BY_KEY, NUTRIENTS
from nutrition.limits.gates import MEAL_SHARES
from nutrition.limits.roles import ROLES
from nutrition.notes import Problem
from nutrition.reading.answers import answers_of
from nutrition.reading.recipe import words_of_food
from nutrition.sheet.jars import gates_by_answer
from nutrition.sheet.jars import jars as compare_jars
from nutrition.swaps.jobs import JOBS
from nutrition.swaps.offers import offers_for
from nutrition.swaps.told import told
from pantry.models import labels_like, labels_of
from people.day import open_conflicts
from people.models import Person
from people.regimen import regimen_of, regimens
from recipes.models import Recipe
from ui import lately
from ui.guard import Stale
from ui.numbers import first_error
from ui.posted import whole
from ui.templatetags.ui import IN_A_SELECT

from . import actions
from .forms import BranchForm, EditForm, KeepForm, PutAwayForm, SeenForm, TakeForm, WayForm
from .lessons import lessons_for
from .models import Bench, FoundWay, Try
from .renewal import behind, bring_up_to_date
from .sight import Gauge, look, posts_of
from .sight import compare as compare_
from .sight import why as why_
from .ways import held_to, shown, workbench_of

#: Dishes on one page of the list.
A_PAGE = 60
#: People on one page of the table; the one the dish is for stands first.
AT_A_TABLE = 20
#: Labels beside each other.
MOST_JARS = 6


@allowed("bench.see")
@require_safe
def benches(request):
    """Dishes on the bench, the latest first, or what was put away."""
    tries = Prefetch("tries", Try.objects.only("bench_id", "name", "is_finished"))
    is_away = request.GET.get("away") == "1"
    rows = Bench.objects.filter(put_away_at__isnull=not is_away).select_related("recipe", "person")
    rows = rows.only("meal", "recipe__title", "person__name")
    found = Paginator(rows.prefetch_related(tries), A_PAGE).get_page(request.GET.get("page"))
    return render(
        request,
        "bench/benches.html",
        {
            "benches": found,
            "is_away": is_away,
            "person_lately": lately.person(request),
            "recipes": list(Recipe.objects.filter(is_read=True).only("title")[: IN_A_SELECT + 1]),
            "people": Person.objects.there().only("name"),
            "meals": MEAL_SHARES,
        },
    )


@allowed("bench.change")
@require_POST
def put_away(request, pk):
    """Put a dish out of the way, or on the bench again."""
    found = get_object_or_404(Bench.objects.select_related("recipe", "person"), pk=pk)
    if PutAwayForm(request.POST).is_back:
        actions.bring_back(found, request.user)
        return redirect(found)
    actions.put_away(found, request.user)
    messages.info(request, f"{found} is put away. Everything of it is kept: see what is put away, below.")
    return redirect("bench:benches")


@allowed("bench.change")
@require_POST
def take(request):
    """Take a recipe to the bench for somebody."""
    form = TakeForm(request.POST)
    recipe = get_object_or_404(Recipe, pk=form.recipe)
    person = get_object_or_404(Person, pk=form.person)
    if not recipe.is_read:
        messages.error(request, f"{recipe} has not been read yet: settle its lines first.")
        return redirect(recipe)
    bench, attempt = actions.take_to_bench(recipe, person, form.meal_or("dinner"), request.user)
    return redirect("bench:try", bench.pk, attempt.pk)


@allowed("bench.see")
@require_safe
def bench(request, pk):
    """The latest try of a bench."""
    found = get_object_or_404(Bench, pk=pk)
    attempt = found.tries.order_by("-touched_at").first()
    if attempt is None:
        raise Http404("this bench has no try")
    return redirect("bench:try", found.pk, attempt.pk)


@prepared
def _tries_at(bench_id, try_id):
    return Try.objects.with_bench().filter(pk=try_id, bench=bench_id)


@prepared
def _names_of_tries(bench_id):
    return Try.objects.filter(bench=bench_id).only("name", "bench_id")


def _attempt(pk, try_pk):
    return _tries_at.one_or_404(pk, try_pk)


def _draw(request, attempt, *, line="", template="bench/bench.html", status=200, **context):
    bench_ = attempt.bench
    lately.worked_with(request, bench_.person_id)
    edit_ = actions.standing_edit(attempt)
    regimen = regimen_of(bench_.person, bench_.role)
    seen = SeenForm.of(request)
    sight = look(bench_, edit_, regimen.eater, seen.watch, attempt, seen.order)
    chosen = next((thread for thread in sight.threads if thread.key == line), None)
    jar_ids = labels_like(chosen.now)[:MOST_JARS] if chosen and chosen.now else []
    context = {
        "bench": bench_,
        "attempt": attempt,
        "edit": edit_,
        "tries": _names_of_tries(bench_.pk),
        "sight": sight,
        "chosen": chosen,
        "offered": (may_be := offered(chosen, jar_ids)),
        "gates_then": _gates_then(edit_.dish, chosen, regimen.eater, may_be, bench_.meal),
        "holds": {each.food_id: each.holds for each in answers_of(chosen.now)} if chosen and chosen.now else {},
        "jars": len(jar_ids),
        "label_for": _usual(chosen),
        "label_words": words_of_food(chosen.now.text) if chosen and chosen.now else "",
        "back_here": f"{attempt.get_absolute_url()}?line={line}" if chosen else "",
        "found": (found := _offers(bench_, edit_, regimen, sight, chosen)),
        "lessons": lessons_for(found.offers, chosen.now.food_id) if found else {},
        "can_undo": attempt.cursor > 0,
        "can_redo": attempt.cursor < edit_.last,
        "drafts": regimen.drafts,
        "behind": behind(bench_),
        "targets": regimen.targets,
        "plans": regimen.plans,
        "unsettled": open_conflicts(regimen.eater),
        "lines": sight.lines_now,
        "meals": MEAL_SHARES,
        "roles": ROLES,
        "nutrients": NUTRIENTS,
        "all_jobs": JOBS,
        "editing": whole(request.GET.get("step")),
    } | context
    return render(request, template, context, status=status)


def _gates_then(dish, thread, eater, food_ids, meal):
    """What each food that a doubtful line may be does to the gates; nothing for a line without a place in the dish."""
    position = dish.position(thread.key) if thread and food_ids else None
    return {} if position is None else gates_by_answer(dish, position, eater, food_ids, meal)


def _offers(bench_, edit_, regimen, sight, chosen):
    """What could take over the chosen line; None when no line is open."""
    if not chosen or not chosen.now or chosen.now.step:
        return None
    return offers_for(workbench_of(bench_, edit_.dish, regimen.eater), chosen.position)


def _usual(thread):
    """The food of the table that a label for the chosen line would stand for."""
    now = thread.now if thread else None
    return (
        next((each for each in (now.food_id, *now.others) if each and not each.startswith("own:")), "") if now else ""
    )


@allowed("bench.see")
@require_safe
def jars(request, pk, try_pk):
    """Which of these jars: the labels for one line beside each other, with what each does to the gates."""
    attempt = _attempt(pk, try_pk)
    edit_, regimen = actions.standing_edit(attempt), regimen_of(attempt.bench.person, attempt.bench.role)
    dish = edit_.dish
    position = dish.position(request.GET.get("line", ""))
    if position is None:
        raise Http404("no such line in this try")
    line = dish.lines[position]
    labels = labels_of(labels_like(line)[:MOST_JARS])
    food_ids = dict.fromkeys([*([line.food_id] if line.food_id else []), *labels])
    found = compare_jars(dish, position, regimen.eater, list(food_ids), attempt.bench.meal)
    context = {
        "bench": attempt.bench,
        "attempt": attempt,
        "line": line,
        "jars": [(jar, labels.get(jar.food.id)) for jar in found],
        "nutrients": [verdict.gate.nutrient for verdict in found[0].verdicts] if found else [],
        "version": attempt.version,
    }
    return render(request, "bench/jars.html", context)


def offered(thread, jar_ids=()):
    """Foods a doubtful line may be: the practice's own jars first, what it was read as, what else the words may mean."""
    if not thread or not thread.now or thread.now.sure != "check":
        return []
    return list(dict.fromkeys(each for each in (*jar_ids, thread.now.food_id, *thread.now.others) if each))[:9]


@allowed("bench.see")
@require_safe
def try_(request, pk, try_pk):
    """A try on the bench; with htmx only the workspace, as when another line is opened."""
    attempt = _attempt(pk, try_pk)
    template = "bench/bench_workspace.html" if request.htmx else "bench/bench.html"
    return _draw(request, attempt, line=request.GET.get("line", ""), template=template)


def _carry_out(form, attempt, user):
    """The verb asked for. Returns the key of the line to keep open."""
    version, key, act = form.cleaned_data["version"], form.value("line"), form.value("act")
    if act == "amount":
        actions.set_amount(attempt, version, key, form.value("amount"), user)
    elif act == "food":
        actions.set_food(attempt, version, key, form.value("food_id"), user)
    elif act == "state":
        actions.set_state(attempt, version, key, form.value("state"), user)
    elif act == "jobs":
        actions.set_jobs(attempt, version, key, form.jobs)
    elif act == "offer":
        eater = regimen_of(attempt.bench.person, attempt.bench.role).eater
        workbench = workbench_of(attempt.bench, actions.standing_edit(attempt).dish, eater)
        actions.take_offer(attempt, version, key, form.value("offer"), workbench, user)
    elif act == "retype":
        actions.retype(attempt, version, key, form.value("text"), user)
    elif act == "step":
        actions.write_step(attempt, version, form.place, form.step_text(attempt), user)
    elif act == "eaten":
        actions.say_eaten(attempt, version, *form.answer, user)
    elif act == "wave_off":
        actions.wave_off(attempt, version, key, form.value("why"), user)
    elif act == "drop":
        actions.drop(attempt, version, key, user)
    elif act == "put_back":
        actions.put_back(attempt, version, key, user)
    elif act == "add":
        return actions.add(attempt, version, form.value("text"), user)
    elif act == "serves":
        actions.set_serves(attempt, version, form.servings(), user)
    elif act in ("undo", "redo"):
        actions.move(attempt, version, -1 if act == "undo" else 1)
    else:
        raise Problem("ui.not_understood", place="bench")
    return key


@allowed("bench.change")
@require_POST
def edit(request, pk, try_pk):
    """One change. Refused edits come back with the sentence and what was typed; nothing is half-saved."""
    attempt, form = _attempt(pk, try_pk), EditForm(request.POST)
    form.is_valid()
    key = form.value("line")
    template = "bench/bench_workspace.html" if request.htmx else "bench/bench.html"
    try:
        key = _carry_out(form, attempt, request.user)
    except Problem as refusal:
        is_stale = isinstance(refusal, Stale)
        said = {"stale": True} if is_stale else {"problem": str(refusal)}
        context = said | {"typed": form.typed, "act": form.value("act"), "editing": form.place}
        status = 409 if is_stale else 422
        return _draw(request, _attempt(pk, try_pk), line=key, template=template, status=status, **context)
    if not request.htmx:
        return redirect(attempt)
    return _draw(request, attempt, line=key, template=template)


@allowed("bench.change")
@require_POST
def renew(request, pk):
    """The dish as the recipe stands now, and a try to begin from."""
    found = get_object_or_404(Bench.objects.select_related("recipe"), pk=pk)
    try:
        attempt = bring_up_to_date(found, request.user)
    except Problem as problem:
        messages.error(request, str(problem))
        return redirect(found)
    messages.success(
        request, "The bench has the recipe as it stands now. In your tries, what you changed yourself stayed."
    )
    return redirect(attempt)


@allowed("bench.change")
@require_POST
def branch(request, pk, try_pk):
    """A new try that starts from this one, or from the dish as written."""
    attempt = _attempt(pk, try_pk)
    parent = None if BranchForm(request.POST).is_from_written else attempt
    return redirect(actions.start_try(attempt.bench, parent, request.user))


@allowed("bench.change")
@require_POST
def keep(request, pk, try_pk):
    """Name a try, note what was learned, say whether it is finished."""
    attempt, form = _attempt(pk, try_pk), KeepForm(request.POST)
    if not form.is_valid():
        typed = {name: form.data.get(name, "") for name in ("name", "notes", "cooked")}
        return _draw(request, attempt, status=422, problem=first_error(form), typed=typed, act="keep")
    kept = form.cleaned_data
    try:
        actions.finish(attempt, kept["notes"], kept["name"], kept["cooked"], kept["seen"])
    except Stale:
        typed = {"name": kept["name"], "notes": kept["notes"], "cooked": form.data.get("cooked", "")}
        return _draw(request, _attempt(pk, try_pk), status=409, stale=True, typed=typed, act="keep")
    if kept["finished"]:
        actions.set_finished(attempt, kept["finished"] == "yes")
        messages.success(request, f"{attempt.name} is marked {'finished' if attempt.is_finished else 'unfinished'}.")
    return redirect(attempt)


@allowed("bench.change")
@require_POST
def meal(request, pk):
    """For which meal the dish is judged, and as what part of it."""
    found, form = get_object_or_404(Bench, pk=pk), TakeForm(request.POST)
    actions.set_meal(found, form.meal_or(found.meal), form.role_or(found.role))
    return redirect(found.tries.filter(pk=form.back_to).first() or found)


@allowed("bench.see")
@require_safe
def compare(request, pk, try_pk):
    """As written beside the try, in amounts and percent, per serving or per 100 g."""
    attempt = _attempt(pk, try_pk)
    edit_ = actions.standing_edit(attempt)
    eater = regimen_of(attempt.bench.person, attempt.bench.role).eater
    sight = look(attempt.bench, edit_, eater, attempt=attempt)
    beside = attempt.bench.tries.filter(pk=whole(request.GET.get("with"))).exclude(pk=attempt.pk).first()
    other = look(attempt.bench, actions.standing_edit(beside), eater, attempt=beside) if beside else None
    watched = [gauge.nutrient for gauge in sight.gauges]
    per = "100g" if request.GET.get("per") == "100g" else "serving"
    return render(
        request,
        "bench/compare.html",
        {
            "bench": attempt.bench,
            "attempt": attempt,
            "tries": attempt.bench.tries.all(),
            "sight": sight,
            "per": per,
            "rows": compare_(sight.written, sight.now, per, watched, other.now if other else None),
            "beside": beside,
            "beside_choices": [(each.pk, each.name) for each in attempt.bench.tries.all() if each.pk != attempt.pk],
            "other": other,
            "watched": watched,
        },
    )


@allowed("bench.see")
@require_safe
def why(request, pk, try_pk, key):
    """Where one figure comes from: lines, foods, rules, sources, and whose posts it is held against."""
    if key not in BY_KEY:
        raise Http404(f"no nutrient is called {key}")
    attempt = _attempt(pk, try_pk)
    regimen = regimen_of(attempt.bench.person, attempt.bench.role)
    sight = look(attempt.bench, actions.standing_edit(attempt), regimen.eater, key, attempt)
    return render(
        request,
        "bench/why.html",
        {
            "bench": attempt.bench,
            "attempt": attempt,
            "sight": sight,
            "key": key,
            "gauge": next((gauge for gauge in sight.gauges if gauge.nutrient == key), None),
            "parts": why_(sight, key),
            "posts": posts_of(regimen.eater, key, attempt.bench.meal),
            "total": sight.now.amount(key),
            "interval": sight.now.interval(key),
        },
    )


@allowed("bench.see")
@require_safe
def table(request, pk, try_pk):
    """The gates of everyone at the table, for one serving of this try."""
    attempt = _attempt(pk, try_pk)
    edit_ = actions.standing_edit(attempt)
    theirs = attempt.bench.person
    whole = Person.objects.there().filter(household=theirs.household) if theirs.household else Person.objects.there()
    people = whole.annotate(is_theirs=Q(pk=theirs.pk)).order_by("-is_theirs", "name")
    page = Paginator(people, AT_A_TABLE).get_page(request.GET.get("page"))
    sights = [(each, look(attempt.bench, edit_, each.eater, attempt=attempt)) for each in regimens(page.object_list)]
    context = {
        "bench": attempt.bench,
        "attempt": attempt,
        "sights": sights,
        "page": page,
        "household": theirs.household,
    }
    return render(request, "bench/table.html", context)


@allowed("bench.see")
@require_safe
def preview(request, pk, try_pk):
    """The big gates as they would be with an offer taken; nothing is saved."""
    attempt = _attempt(pk, try_pk)
    edit_, regimen = actions.standing_edit(attempt), regimen_of(attempt.bench.person, attempt.bench.role)
    sight = look(attempt.bench, edit_, regimen.eater, request.GET.get("watch", ""), attempt)
    thread = next((each for each in sight.threads if each.key == request.GET.get("line") and each.now), None)
    if thread is None:
        raise Http404("no such line in this try")
    found = offers_for(workbench_of(attempt.bench, edit_.dish, regimen.eater), thread.position)
    offer = next((offer for offer in found.offers if offer.id == request.GET.get("offer")), None)
    if offer is None:
        raise Http404("no such offer")
    gauges = [Gauge(effect.after, effect.before.amount, effect.nutrient == sight.watch) for effect in offer.effects]
    return render(request, "bench/bench_preview.html", {"gauges": gauges, "offer": offer})


#: What a cook may ask of a line: its value in the form, in words, and the share of the line that stays.
KEEP_CHOICES = (("", "may change"), ("half", "at least half of it"), ("all", "never touch"))
KEPT_SHARES = {"": 0.0, "half": 0.5, "all": 1.0}


def _share_kept(request, key):
    """How much of a line must stay: 0, a half, or all of it."""
    if key in request.GET.getlist("pin"):
        return 1.0
    return KEPT_SHARES.get(request.GET.get(f"keep-{key}", ""), 0.0)


#: What a cook may ask of a way besides what must stay.
WISHES = ("is_likely", "never", "nothing_new", "one_pot")


@allowed("bench.see")
@require_safe
def way(request, pk, try_pk):
    """The way through: pins, what to be certain of, and what was found."""
    attempt = _attempt(pk, try_pk)
    lines = actions.standing_edit(attempt).dish.lines
    shares = {line.key: _share_kept(request, line.key) for line in lines}
    context = {
        "bench": attempt.bench,
        "attempt": attempt,
        "rows": [
            (line.key, line, next(value for value, share in KEPT_SHARES.items() if share == shares[line.key]))
            for line in lines
        ],
        "keep_choices": KEEP_CHOICES,
        "is_likely": request.GET.get("sure") == "likely",
        "is_certain": request.GET.get("sure") != "likely",
        "never": " ".join(request.GET.get("never", "").split())[:200],
        "nothing_new": request.GET.get("nothing_new") == "on",
        "one_pot": request.GET.get("one_pot") == "on",
    }
    context["has_wishes"] = any(shares.values()) or any(context[name] for name in WISHES)
    if "find" in request.GET:
        kept = {key: share for key, share in shares.items() if share}
        wishes = {name: context[name] for name in WISHES}
        asked = {"try": attempt.pk, "shares": kept, **wishes}
        context |= _of_errand(ask("way", request.user, **asked), attempt)
    template = "bench/way_found.html" if request.htmx else "bench/way.html"
    return render(request, template, context)


def _workbench(attempt):
    eater = regimen_of(attempt.bench.person, attempt.bench.role).eater
    return workbench_of(attempt.bench, actions.standing_edit(attempt).dish, eater)


def _of_errand(errand, attempt):
    """What the page shows of a search: that it goes on, or what it found."""
    seen = {"is_asked": True, "errand": errand}
    if not errand.is_done:
        return seen
    outcome, workbench = errand.result or {}, _workbench(attempt)
    ways = shown(workbench, FoundWay.objects.filter(attempt=attempt, pk__in=outcome.get("ways", ())))
    return seen | {
        "outcome": outcome,
        "ways": [(way, way.stages, way.pk, way.told_to(workbench)) for way in ways if way.stages],
        "told": told(workbench, workbench.lines) if outcome.get("is_through") else None,
    }


@allowed("bench.see")
@require_http_methods(["GET", "POST"])
def way_state(request, pk, try_pk, errand_pk):
    """How far a search is (htmx asks again and again); posted to, it is stopped."""
    attempt = _attempt(pk, try_pk)
    errand = get_object_or_404(Errand, pk=errand_pk, asked_by=request.user, kind="way")
    if request.method == "POST":
        stop(errand)
        errand.refresh_from_db()
    context = {"bench": attempt.bench, "attempt": attempt} | _of_errand(errand, attempt)
    return render(request, "bench/way_found.html", context)


@allowed("bench.change")
@require_POST
def take_way(request, pk, try_pk):
    """Take a way, or its first changes, on a try of its own."""
    attempt, form = _attempt(pk, try_pk), WayForm(request.POST)
    form.is_valid()
    found = FoundWay.objects.filter(attempt=attempt, pk=form.cleaned_data.get("way")).select_related("attempt__bench")
    try:
        limits = held_to(_workbench(attempt))
        return redirect(actions.take_way(found.first(), form.cleaned_data.get("count"), request.user, limits))
    except Stale:
        messages.error(
            request,
            f"The try, or what {attempt.bench.person} is held to, was changed since this way was found. "
            "Nothing was taken: find a way through again.",
        )
    except Problem as problem:
        messages.error(request, str(problem))
    return redirect("bench:way", pk, try_pk)
