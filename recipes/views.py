"""The library, bringing a recipe in, and reading it line by line."""

from django.contrib import messages
from django.contrib.postgres.aggregates import ArrayAgg
from django.db.models import Q, Value
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from nutrition.dish.parts import PartProblem
from nutrition.food.nutrients import CORE_KEYS
from nutrition.food.table import foods
from nutrition.reading.edits import EditProblem, choices
from nutrition.reading.page import SourceProblem, from_any, from_bytes
from nutrition.sheet.analysis import analyze
from people.models import Person
from ui.posted import whole

from . import actions, parts
from .models import PartUse, Recipe, RecipeLine


@require_safe
def recipes(request):
    """The library by dish; what is still being read stands first."""
    eaters = ArrayAgg("benches__person__name", filter=Q(benches__isnull=False), default=Value([]))
    found = Recipe.objects.only("title", "serves", "is_read").annotate(eaters=eaters)
    return render(
        request,
        "recipes/recipes.html",
        {"reading": found.filter(is_read=False), "recipes": found.filter(is_read=True)},
    )


@require_http_methods(["GET", "POST"])
def bring(request):
    """Paste or upload a recipe. A refusal keeps what was typed."""
    context = {"text": "", "problem": ""}
    if request.method == "POST":
        text, upload = request.POST.get("text", ""), request.FILES.get("file")
        context["text"] = text
        try:
            if upload:
                data = upload.read(6_000_000)
                source = from_bytes(data)
                text = text or data.decode("utf-8", errors="replace")
            else:
                source = from_any(text) if text.strip() else from_any(" ")
            recipe = actions.bring_in(source, text, request.user)
            return redirect("recipes:reading", recipe.pk)
        except SourceProblem as problem:
            context["problem"] = str(problem)
            context["text"] = text[:200_000]
    return render(request, "recipes/import.html", context, status=422 if context["problem"] else 200)


def _reading(request, recipe, **context):
    lines = list(recipe.lines.all())
    # The order stands while one reads: doubtful at the first look, accepted or not, come first.
    order = {"check": 0, "likely": 1, "sure": 2}
    waiting = [line for line in lines if not line.is_settled]
    context = {
        "recipe": recipe,
        "doubtful": sorted(waiting, key=lambda line: (order[line.sure], line.position)),
        "settled": [line for line in lines if line.is_settled],
        "count": len(lines),
    } | context
    return render(request, "recipes/reading.html", context, status=422 if context.get("problem") else 200)


@require_http_methods(["GET", "POST"])
def reading(request, pk):
    """Each line as understood, the doubtful ones first; title and servings."""
    recipe = get_object_or_404(Recipe, pk=pk)
    if request.method == "POST":
        typed = {name: request.POST.get(name, "") for name in ("title", "serves", "serving_grams")}
        try:
            actions.set_facts(recipe, typed["title"], typed["serves"], typed["serving_grams"])
        except EditProblem as problem:
            return _reading(request, recipe, problem=str(problem), typed=typed)
        if "done" in request.POST:
            return _finish(request, recipe, typed)
        return redirect("recipes:reading", pk)
    return _reading(request, recipe)


def _finish(request, recipe, typed=None):
    try:
        actions.let_in(recipe)
    except actions.NotReady as problem:
        return _reading(request, recipe, problem=str(problem), typed=typed)
    messages.success(request, f"{recipe} is in the library.")
    return redirect("recipes:recipe", recipe.pk)


@require_POST
def finish_reading(request, pk):
    """Let the recipe into the library."""
    return _finish(request, get_object_or_404(Recipe, pk=pk))


@require_http_methods(["GET", "POST"])
def line(request, pk):
    """One line of the reading: open its choices, accept it, give it another food or amount (htmx)."""
    found = get_object_or_404(RecipeLine.objects.select_related("recipe"), pk=pk)
    problem, is_open = "", request.method == "GET"
    if request.method == "POST":
        act = request.POST.get("act", "")
        typed = request.POST.get("amount") or request.POST.get("text") or ""
        try:
            actions.check_fresh(found, request.POST.get("stamp", ""), typed)
            if act == "accept":
                actions.accept(found)
            elif act == "food":
                actions.choose_food(found, request.POST.get("food_id", ""), request.user)
            elif act == "amount":
                actions.set_amount(found, request.POST.get("amount", ""))
            elif act == "retype":
                actions.retype(found, request.POST.get("text", ""))
            elif act != "close":
                raise EditProblem("That was not understood. Use the buttons of the line.")
        except EditProblem as refusal:
            problem, is_open = str(refusal), True
            found = RecipeLine.objects.select_related("recipe").get(pk=pk)
    context = {"line": found, "problem": problem, "is_open": is_open, "typed": request.POST}
    if is_open:
        context["choices"] = [foods().by_id(food_id) for food_id in choices(found.as_line())]
    if not request.htmx:
        return redirect("recipes:reading", found.recipe_id)
    waiting = sum(not other.is_settled for other in found.recipe.lines.all())
    return render(request, "recipes/reading_line.html", context | {"waiting": waiting}, status=200)


def _clearly_more(analysis, key):
    """The upper bound where it differs from the amount as printed, else the amount."""
    amount, most = analysis.amount(key), analysis.interval(key)[1]
    return most if most > amount * 1.02 + 0.05 else amount


@require_safe
def recipe(request, pk):
    """A dish of the library: what a serving holds, and for whom it has been on the bench."""
    found = get_object_or_404(Recipe, pk=pk)
    if not found.is_read:
        return redirect("recipes:reading", pk)
    return _recipe(request, found)


def _recipe(request, found, status=200, **context):
    lines = list(found.lines.all())
    core = [line.as_line() for line in lines]
    analysis = analyze(core, found.serves)
    uses = list(found.parts.select_related("part"))
    benches = list(found.benches.select_related("person").prefetch_related("tries"))
    return render(
        request,
        "recipes/recipe.html",
        {
            "uses": uses,
            "used_in": found.used_in.select_related("recipe"),
            "waiting": parts.waiting(found, uses),
            "could_be_parts": Recipe.objects.filter(is_read=True).exclude(pk=found.pk),
            "behind": [bench.pk for bench in benches if bench.is_behind(core)],
            "recipe": found,
            "lines": lines,
            "analysis": analysis,
            "holds": [(key, analysis.amount(key), _clearly_more(analysis, key)) for key in CORE_KEYS],
            "benches": benches,
            "people": Person.objects.all(),
        }
        | context,
        status=status,
    )


@require_POST
def use_part(request, pk):
    """Take another recipe in as a part. A refusal keeps what was typed."""
    found = get_object_or_404(Recipe, pk=pk)
    part = get_object_or_404(Recipe, pk=whole(request.POST.get("part")))
    typed = request.POST.get("amount", "")
    try:
        use = parts.use_part(found, part, typed, request.user)
    except PartProblem as problem:
        return _recipe(request, found, 422, problem=str(problem), typed={"part": part.pk, "amount": typed})
    messages.success(request, f"{use.part} is in: {use.rule}.")
    return redirect(found)


@require_POST
def part(request, pk):
    """Accept what changed in a part, or take the part out."""
    use = get_object_or_404(PartUse.objects.select_related("recipe", "part"), pk=pk)
    recipe = use.recipe
    if request.POST.get("act") == "out":
        parts.take_out(use)
        messages.info(request, f"{use.part} is taken out.")
        return redirect(recipe)
    try:
        parts.accept(use, request.user)
    except PartProblem as problem:
        return _recipe(request, recipe, 422, problem=str(problem))
    messages.success(request, f"{use.part} is in as it stands now.")
    return redirect(recipe)


@require_POST
def delete(request, pk):
    """Take a recipe that is still being read away again."""
    found = get_object_or_404(Recipe, pk=pk)
    if found.used_in.exists():
        messages.error(request, f"{found} is a part of another dish; it stays in the library.")
        return redirect(found)
    if found.benches.exists():
        messages.error(request, f"{found} is on the bench for somebody; it stays in the library.")
        return redirect(found)
    found.delete()
    messages.info(request, f"{found} was taken away.")
    return (
        HttpResponse(status=204, headers={"HX-Redirect": "/recipes/"}) if request.htmx else redirect("recipes:recipes")
    )
