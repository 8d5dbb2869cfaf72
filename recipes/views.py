"""The library, bringing a recipe in, and reading it line by line."""

from urllib.parse import urlencode

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe
from django_htmx.http import trigger_client_event

from accounts.permissions import allowed, may
from nutrition.dish.dish import KINDS
from nutrition.dish.line import SURENESS
from nutrition.dish.renewal import is_behind
from nutrition.food.nutrients import CORE_KEYS
from nutrition.food.table import foods
from nutrition.limits.roles import ROLES
from nutrition.notes import Problem
from nutrition.reading.eaten import questions_of
from nutrition.reading.edits import foods_to_choose
from nutrition.reading.whole import open_additions, whole_dish
from nutrition.sheet.analysis import analyze
from nutrition.sheet.as_food import printed_of
from nutrition.sheet.doubts import weight_of_doubts
from nutrition.sheet.verdicts import MIND, UNSURE
from pantry.models import labels_like
from people.models import Person
from ui import lately
from ui.numbers import first_error
from ui.posted import whole
from ui.templatetags.ui import IN_A_SELECT

from . import actions, parts
from .forms import (
    AwayForm,
    BringForm,
    EatenForm,
    FactsForm,
    LineForm,
    PartForm,
    SearchForm,
    ShelfForm,
    WavedForm,
    WordsForm,
)
from .library import fits_people, fits_person
from .models import PartUse, Recipe, RecipeLine, named_in
from .search import DECIDED, ORDERS, searched
from .touched import touched_by_delete

#: Recipes on one page of the library.
A_PAGE = 60
#: So many are named where none fits a whole household.
NEAREST = 6


#: So many foods are offered for a line, each with its key.
MOST_FOODS = 9


@allowed("recipes.see")
@require_safe
def recipes(request):
    """The library: searched by words, foods, tags, parts of a meal, minutes and whom it fits; what is being read stands first."""
    form, context = SearchForm(request.GET), {}
    sees_benches = may(request.user, "bench.see")
    if form.tells_of_tries and not sees_benches:
        form = SearchForm(
            {name: value for name, value in request.GET.items() if name not in ("decided", "mark", "order")}
        )
    columns = ("title", "serves", "is_read", "tags", "folder")
    shown = searched(
        form.words, form.tag, form.role, form.minutes, form.order, form.is_away, form.folder, form.decided, form.mark
    )
    if "fits" in request.GET and may(request.user, "people.see"):
        context, states = _for_whom(form)
        if states is not None:
            shown = shown.filter(pk__in=[pk for pk, fit in states.items() if fit.state >= 0])
    # Looked for once: to count what answers takes as long as to find it.
    page = Paginator(list(shown.values_list("pk", flat=True)), A_PAGE).get_page(request.GET.get("page"))
    found = Recipe.objects.only(*columns).in_bulk(page.object_list)
    names = Recipe.objects.filter(pk__in=page.object_list, benches__isnull=False)
    eaters = {}
    for pk, name in names.values_list("pk", "benches__person__name").order_by("benches__person__name"):
        eaters.setdefault(pk, []).append(name)
    context |= {
        "reading": Recipe.objects.filter(is_read=False).only(*columns)[:A_PAGE],
        "page": page,
        "recipes": [(found[pk], eaters.get(pk, [])) for pk in page],
        "asked": form,
        "roles": ROLES,
        "orders": {key: words for key, words in ORDERS.items() if sees_benches or key != "liked"},
        "decisions": DECIDED if sees_benches else {},
    }
    return render(request, "recipes/recipes.html", context)


def _for_whom(form):
    """(what the page shows of whom a dish is to fit, recipe -> how it stands to them): one person, or everybody of a household, which is
    named by one of them, since no name stands in an address."""
    people = list(Person.objects.there())
    homes = {each.household: f"home-{each.pk}" for each in reversed(people) if each.household}
    context = {"people": people, "households": sorted(homes.items())}
    is_home, number = form.fits.startswith("home-"), whole(form.fits.removeprefix("home-"))
    one = next((each for each in people if each.pk == number), None)
    if one is None or (is_home and not one.household):
        return context, None
    if is_home:
        states, missing = fits_people(Person.objects.there().filter(household=one.household))
    else:
        states, missing = fits_person(one)
    context |= {
        "fits_for": f"everybody of {one.household}" if is_home else str(one),
        "fits": homes[one.household] if is_home else one.pk,
        "missing": missing,
        "must_look": {pk for pk, fit in states.items() if fit.gate == UNSURE},
        "to_mind": {pk for pk, fit in states.items() if fit.gate == MIND},
        "nearest": _nearest(states) if is_home else [],
    }
    return context, states


def _nearest(states):
    """[(recipe, how it stands)] of those that are through for most of a household, where none is for everybody."""
    if any(fit.state >= 0 for fit in states.values()):
        return []
    best = sorted((pk for pk, fit in states.items() if fit.through), key=lambda pk: states[pk].order)[:NEAREST]
    found = Recipe.objects.only("title", "is_read").in_bulk(best)
    return [(found[pk], states[pk]) for pk in best]


@allowed("recipes.see")
@require_safe
def options(request):
    """Recipes of the library as options of a select, by the words typed (htmx). `not`: one that is left out."""
    words = request.GET.get("q", "").strip()[:80]
    found = Recipe.objects.filter(is_read=True, title__icontains=words).exclude(pk=whole(request.GET.get("not")))
    return render(request, "ui/options.html", {"rows": found.only("title")[:IN_A_SELECT]})


@allowed("recipes.see")
@require_safe
def folders(request):
    """The folders in use, as options of a text box (htmx)."""
    return render(request, "recipes/_folders.html", {"folders": Recipe.folders()})


@allowed("recipes.change")
@require_http_methods(["GET", "POST"])
def bring(request):
    """Paste or upload a recipe. A refusal keeps what was typed."""
    context = {"text": "", "problem": ""}
    if request.method == "POST":
        form = BringForm(request.POST, request.FILES)
        try:
            found = [actions.bring_in(source, text, request.user) for source, text in form.sources()]
            if len(found) > 1:
                names = ", ".join(f"“{recipe}”" for recipe in found)
                messages.success(
                    request, f"{len(found)} recipes were found and stand in the library one by one: {names}."
                )
            return redirect("recipes:reading", found[0].pk)
        except Problem as problem:
            context = {"text": form.text[: actions.LONGEST_SOURCE], "problem": str(problem)}
    return render(request, "recipes/import.html", context, status=422 if context["problem"] else 200)


def _reading(request, recipe, **context):
    rows = list(recipe.lines.all())
    # The order stands while one reads: doubtful at the first look, accepted or not, come first.
    waiting = [row for row in rows if not row.is_settled]
    named = named_in(rows, recipe)
    # What a line leaves open of the whole dish comes first: the stock before the pinch of pepper.
    weights = dict(zip((row.pk for row in rows), weight_of_doubts([row.as_read for row in rows]), strict=True))
    for row in rows:
        row.named = named.get(row.pk)
    context = {
        "recipe": recipe,
        "doubtful": sorted(
            waiting, key=lambda row: (-SURENESS.index(row.as_read.sure), -weights[row.pk], row.position)
        ),
        "settled": [row for row in rows if row.is_settled],
        "count": len(rows),
        "added": open_additions(whole_dish(recipe.dish_of(rows))),
        "left": (left := questions_of(recipe.dish_of(rows))),
        "next_left": next((each for each in left if not each.said), None),
        "kinds": KINDS,
    } | context
    return render(request, "recipes/reading.html", context, status=422 if context.get("problem") else 200)


@allowed("recipes.change")
@require_http_methods(["GET", "POST"])
def reading(request, pk):
    """Each line as understood, the doubtful ones first; title, servings, kind."""
    recipe = get_object_or_404(Recipe, pk=pk)
    if request.method == "POST":
        form = FactsForm(request.POST)
        try:
            if not form.is_valid():
                return _reading(request, recipe, problem=first_error(form), typed=form.typed, **_typed_words(request))
            actions.set_facts(recipe, **form.cleaned_data)
            _read_typed_words(request, recipe)
        except Problem as problem:
            return _reading(request, recipe, problem=str(problem), typed=form.typed, **_typed_words(request))
        if form.is_done:
            return _finish(request, recipe, form.typed)
        return redirect("recipes:reading", pk)
    return _reading(request, recipe)


def _typed_words(request):
    """What stands in the boxes of words, where the page sent them along."""
    form = WordsForm(request.POST)
    return {"typed_words": form.cleaned_data} if form.is_sent and form.is_valid() else {}


def _read_typed_words(request, recipe):
    """Words that were typed and only saved along are read too; boxes that nobody touched, or of an older page, say nothing."""
    said = _typed_words(request).get("typed_words")
    if not said or said["seen"] != recipe.words_stamp:
        return
    if any(
        said[box].split() != words.split() for box, words in (("words", recipe.words), ("steps", recipe.step_words))
    ):
        actions.rewrite(recipe, said["words"], said["steps"], said["seen"])


@allowed("recipes.change")
@require_POST
def rewrite(request, pk):
    """The lines and steps as typed anew, with the title and the servings beside them; what is refused stays in its box."""
    recipe, form = get_object_or_404(Recipe, pk=pk), WordsForm(request.POST)
    form.is_valid()
    said, facts = form.cleaned_data, FactsForm(request.POST)
    typed = {"typed_words": said} | ({"typed": facts.typed} if facts.is_sent else {})
    try:
        if facts.is_sent:
            if not facts.is_valid():
                return _reading(request, recipe, problem=first_error(facts), **typed)
            actions.set_facts(recipe, **facts.cleaned_data)
        actions.rewrite(recipe, said["words"], said["steps"], said["seen"])
    except Problem as problem:
        return _reading(request, recipe, problem=str(problem), **typed)
    messages.success(request, "Read anew. Lines whose words stayed kept what was accepted of them.")
    return redirect("recipes:reading", pk)


@allowed("recipes.change")
@require_POST
def wave_off(request, pk):
    """What a step names and nobody adds, with a word why."""
    recipe, form = get_object_or_404(Recipe, pk=pk), WavedForm(request.POST)
    try:
        actions.wave_off(recipe, form.words, form.why)
    except Problem as problem:
        return _reading(request, recipe, problem=str(problem), waved_words={form.words: form.why})
    return redirect("recipes:reading", pk)


@allowed("recipes.change")
@require_POST
def eaten(request, pk):
    """What is eaten of what a step leaves behind."""
    recipe, form = get_object_or_404(Recipe, pk=pk), EatenForm(request.POST)
    try:
        actions.say_eaten(recipe, form.step, form.how, form.is_so)
    except Problem as problem:
        return _reading(request, recipe, problem=str(problem))
    return redirect("recipes:reading", pk)


def _finish(request, recipe, typed=None):
    try:
        actions.let_in(recipe)
    except Problem as problem:
        return _reading(request, recipe, problem=str(problem), typed=typed)
    messages.success(request, f"{recipe} is in the library.")
    return redirect("recipes:recipe", recipe.pk)


@allowed("recipes.change")
@require_POST
def finish_reading(request, pk):
    """Let the recipe into the library."""
    return _finish(request, get_object_or_404(Recipe, pk=pk))


def _carry_out(form, row, user):
    """The verb asked for; how many other lines went with it. Raises Problem."""
    if form.act == "accept":
        actions.accept(row, form.version)
    elif form.act == "food":
        return actions.choose_food(row, form.food_id, user, form.version)
    elif form.act == "amount":
        actions.set_amount(row, form.amount, form.version)
    elif form.act == "retype":
        actions.retype(row, form.text, form.version)
    elif form.act == "part":
        parts.line_becomes_part(row, get_object_or_404(Recipe, pk=form.part), user)
    elif form.act == "answer":
        return actions.answer(row, form.food_id, form.version)
    elif form.act == "none":
        actions.take_out(row, form.version)
    elif form.act != "close":
        raise Problem("ui.not_understood", place="line")
    return 0


@allowed("recipes.change")
@require_http_methods(["GET", "POST"])
def line(request, pk):
    """One line of the reading: open its choices, accept it, give it another food or amount (htmx)."""
    row = get_object_or_404(RecipeLine.objects.select_related("recipe"), pk=pk)
    problem, is_open, form, settled = "", request.method == "GET", LineForm(request.POST), 0
    if request.method == "POST":
        try:
            settled = _carry_out(form, row, request.user)
        except Problem as refusal:
            problem, is_open = str(refusal), True
            row = RecipeLine.objects.select_related("recipe").get(pk=pk)
    if form.act == "part" and not problem:
        messages.success(
            request, "It is a part of this dish now; its lines stand below, and follow the recipe they come from."
        )
        return redirect("recipes:reading", row.recipe_id)
    if form.act == "none" and not problem:
        messages.success(request, f"“{row.as_read.text}” is no ingredient, and stands in the lines no more.")
        return (
            HttpResponse(status=204, headers={"HX-Refresh": "true"})
            if request.htmx
            else redirect("recipes:reading", row.recipe_id)
        )
    context = {"row": row, "problem": problem, "is_open": is_open, "typed": form.data}
    if is_open:
        ids = dict.fromkeys([row.line.food_id or "", *labels_like(row.line), *foods_to_choose(row.line)])
        context["foods"] = [foods().by_id(food_id) for food_id in [each for each in ids if each][:MOST_FOODS]]
    if settled:
        messages.success(request, f"{settled} more line{'s' * (settled > 1)} with the same doubt settled with it.")
    if not request.htmx:
        return redirect("recipes:reading", row.recipe_id)
    if settled:  # other lines of the page stand otherwise now
        return HttpResponse(status=204, headers={"HX-Refresh": "true"})
    waiting = sum(not other.is_settled for other in row.recipe.lines.all())
    answer = render(request, "recipes/reading_line.html", context | {"waiting": waiting}, status=200)
    if form.act == "retype" and not problem:  # the box of all words follows, unless somebody is typing in it
        trigger_client_event(answer, "words", {"words": row.recipe.words, "seen": row.recipe.words_stamp})
    return answer


def _clearly_more(analysis, key):
    """The upper bound where it differs from the amount as printed, else the amount."""
    amount, most = analysis.amount(key), analysis.interval(key)[1]
    return most if most > amount * 1.02 + 0.05 else amount


@allowed("recipes.see")
@require_safe
def recipe(request, pk):
    """A dish of the library: what a serving holds, and for whom it has been on the bench."""
    found = get_object_or_404(Recipe.objects.prefetch_related("lines"), pk=pk)
    if not found.is_read:
        return redirect("recipes:reading", pk)
    return _recipe(request, found)


def _as_food(found, dish):
    """The dish as a food of its own, as the pantry's form takes it; empty where its figures are not known."""
    printed = printed_of(dish, found.whole_g) if dish.serves else {}
    if not printed:
        return ""
    figures = {field: f"{value:.2f}".rstrip("0").rstrip(".") for field, value in printed.items()}
    ingredients = ", ".join(row.as_read.text for row in found.lines.all())
    said = {"form": "eu", "name": found.title, "serving": "100 g", "found_in": f"our recipe “{found.title}”, as cooked"}
    return urlencode(said | figures | {"ingredients": ingredients[:1500]})


def _recipe(request, found, status=200, **context):
    dish = found.dish
    analysis = analyze(dish)
    uses = list(found.parts.select_related("part"))
    benches = list(found.benches.select_related("person").prefetch_related("tries"))
    return render(
        request,
        "recipes/recipe.html",
        {
            "uses": uses,
            "used_in": found.used_in.select_related("recipe"),
            "waiting": parts.waiting(found, uses),
            "could_be_parts": list(
                Recipe.objects.filter(is_read=True).exclude(pk=found.pk).only("title")[: IN_A_SELECT + 1]
            ),
            "behind": [bench.pk for bench in benches if is_behind(bench.written, dish)],
            "recipe": found,
            "lines": found.lines.all(),
            "kinds": KINDS,
            "analysis": analysis,
            "as_food": _as_food(found, dish),
            "holds": [(key, analysis.amount(key), _clearly_more(analysis, key)) for key in CORE_KEYS],
            "benches": benches,
            "people": Person.objects.there(),
            "person_lately": lately.person(request),
        }
        | context,
        status=status,
    )


@allowed("recipes.change")
@require_POST
def use_part(request, pk):
    """Take another recipe in as a part. A refusal keeps what was typed."""
    found = get_object_or_404(Recipe, pk=pk)
    form = PartForm(request.POST)
    part = get_object_or_404(Recipe, pk=form.part)
    typed = form.amount
    try:
        use = parts.use_part(found, part, typed, request.user)
    except Problem as problem:
        return _recipe(request, found, 422, problem=str(problem), typed={"part": part.pk, "amount": typed})
    messages.success(request, f"{use.part} is in: {use.rule}.")
    return redirect(found)


@allowed("recipes.change")
@require_POST
def part(request, pk):
    """Accept what changed in a part, or take the part out."""
    use = get_object_or_404(PartUse.objects.select_related("recipe", "part"), pk=pk)
    recipe = use.recipe
    if PartForm(request.POST).act == "out":
        parts.take_out(use)
        messages.info(request, f"{use.part} is taken out.")
        return redirect(recipe)
    try:
        parts.accept(use, request.user)
    except Problem as problem:
        return _recipe(request, recipe, 422, problem=str(problem))
    messages.success(request, f"{use.part} is in as it stands now.")
    return redirect(recipe)


@allowed("recipes.change")
@require_POST
def tags(request, pk):
    """Words of the practice's own for a recipe, and its folder."""
    found, form = get_object_or_404(Recipe, pk=pk), ShelfForm(request.POST)
    if form.is_valid():
        folder = form.cleaned_data["folder"] if "folder" in form.data else found.folder
        actions.set_shelf(found, form.cleaned_data["tags"], folder)
    else:
        messages.error(request, first_error(form))
    return redirect(found)


@allowed("recipes.change")
@require_POST
def put_away(request, pk):
    """Out of the way of lists and plans, or among the others again."""
    found, form = get_object_or_404(Recipe, pk=pk), AwayForm(request.POST)
    is_away = not (form.is_valid() and form.cleaned_data["back"])
    actions.set_put_away(found, is_away)
    messages.info(
        request,
        f"{found} is put away: no list and no plan has it. All of it is kept." if is_away else f"{found} is back.",
    )
    return redirect(found)


@allowed("recipes.change")
@require_POST
def duplicate(request, pk):
    """The same dish once more, to be changed by itself."""
    return redirect(actions.duplicate(get_object_or_404(Recipe.objects.prefetch_related("lines"), pk=pk), request.user))


@allowed("recipes.change")
@require_http_methods(["GET", "POST"])
def delete(request, pk):
    """Take a recipe away for good; looked at, what that would touch."""
    found = get_object_or_404(Recipe, pk=pk)
    if request.method == "GET":
        return render(request, "recipes/delete.html", {"recipe": found, "touched": touched_by_delete(found)})
    try:
        actions.take_away(found)
    except Problem as problem:
        messages.error(request, str(problem))
        return redirect(found)
    messages.info(request, f"{found} was taken away.")
    return (
        HttpResponse(status=204, headers={"HX-Redirect": "/recipes/"}) if request.htmx else redirect("recipes:recipes")
    )
