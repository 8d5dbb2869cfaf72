"""Foods and the practice's own names for them."""

import math

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from accounts.permissions import allowed
from nutrition.food.contents import hits_of_food
from nutrition.food.label import forms as label_forms
from nutrition.food.measures import measures_of
from nutrition.food.nutrients import NUTRIENTS
from nutrition.food.table import foods
from nutrition.food.tags import ALLERGENS
from nutrition.reading.matching import search_foods
from nutrition.swaps.weights import weights
from ui.posted import whole

from . import actions
from .forms import LabelForm, SwapRuleForm, filled
from .models import Alias, OwnLabel, SwapRule

#: Names of one's own on one page.
A_PAGE = 60


@allowed("pantry.see")
@require_safe
def pantry(request):
    """Search the table; the names this practice has taught, the swaps it knows."""
    return _page(request, SwapRuleForm())


def _page(request, form, status=200):
    words = request.GET.get("q", "").strip()[:80]
    return render(
        request,
        "pantry/pantry.html",
        {
            "words": words,
            "foods": search_foods(words, 25) if words else [],
            "aliases": Paginator(Alias.objects.all(), A_PAGE).get_page(request.GET.get("page")),
            "count": len(foods()),
            "rules": SwapRule.objects.all(),
            "labels": OwnLabel.objects.filter(retired_on=None).select_related("entered_by"),
            "retired": OwnLabel.objects.exclude(retired_on=None),
            "form": form,
        },
        status=status,
    )


@allowed("pantry.see")
@require_safe
def felt(request):
    """What a way through weighs."""
    return render(request, "pantry/felt.html", {"weights": weights()})


@allowed("pantry.change")
@require_POST
def add_rule(request):
    """A swap rule of the practice's own."""
    form = SwapRuleForm(request.POST)
    if not form.is_valid():
        return _page(request, form, 422)
    form.rule.set_by = request.user
    form.rule.save()
    return redirect("pantry:pantry")


@allowed("pantry.change")
@require_POST
def delete_rule(request, pk):
    """Take a rule away."""
    get_object_or_404(SwapRule, pk=pk).delete()
    return redirect("pantry:pantry")


@allowed("pantry.see")
@require_safe
def choose(request):
    """Foods to choose from, for a search box inside another room (htmx)."""
    words = request.GET.get("q", "").strip()[:80]
    found = search_foods(words, 9) if words else []
    is_radio = request.GET.get("as") == "radio"
    return render(request, "pantry/choose.html", {"foods": found, "words": words, "is_radio": is_radio})


@allowed("pantry.see")
@require_safe
def names(request):
    """Names of foods for a field that is being typed in (htmx): options of its list."""
    words = next((request.GET[key] for key in request.GET if key == "replaces" or key.startswith("food")), "").strip()[
        :80
    ]
    found = search_foods(words, 12) if words else []
    return render(request, "pantry/names.html", {"foods": found})


@allowed("pantry.see")
@require_safe
def food(request, food_id):
    """Everything the table knows of a food: values, source, confidence, household measures."""
    try:
        found = foods().by_id(food_id)
    except KeyError:
        raise Http404("no food has this id") from None
    table = foods()
    values = [
        (
            nutrient,
            None if math.isnan(value := float(table.per_100g[found.row, i])) else value,
            float(table.at_most_per_100g[found.row, i]),
        )
        for i, nutrient in enumerate(NUTRIENTS)
    ]
    entered = OwnLabel.objects.filter(pk=whole(food_id.removeprefix("own:label-"))).first()
    context = {"food": found, "values": values, "measures": measures_of(found)}
    if food_id.startswith("own:") and entered:
        hits = [hit for hit in hits_of_food(food_id) if hit.tag in ALLERGENS]
        context |= {
            "entered": entered,
            "hits": hits,
            "additives": list(dict.fromkeys(word for _, word in entered.label.additives)),
        }
        context["earlier"] = entered.corrections
    return render(request, "pantry/food.html", context)


@allowed("pantry.change")
@require_http_methods(["GET", "POST"])
def enter(request):
    """A label in the hand, typed as it is printed. `food_id`: what it stands for; `words`: what lines call it; `back`: a page."""
    is_posted = request.method == "POST"
    form = LabelForm(request.POST) if is_posted else LabelForm(request.GET, is_posted=False)
    if is_posted and form.is_valid() and not form.questions:
        kept = actions.enter_label(form.label, form.cleaned_data["serving"], request.user, **_beside(form))
        messages.success(request, f"{kept.name} is a food of your practice now.")
        return redirect(form.back or reverse("pantry:food", args=[kept.food_id]))
    return _label_page(request, form)


@allowed("pantry.change")
@require_http_methods(["GET", "POST"])
def correct(request, pk):
    """A kept label, to put right what was mistyped."""
    kept, is_posted = get_object_or_404(OwnLabel, pk=pk), request.method == "POST"
    form = LabelForm(request.POST) if is_posted else LabelForm(filled(kept) | request.GET.dict(), is_posted=False)
    if is_posted and form.is_valid() and not form.questions:
        kept = actions.correct_label(kept, form.label, form.cleaned_data["serving"], request.user, **_beside(form))
        messages.success(
            request, f"{kept.name} is corrected, in every dish that uses it. Cards that went out with it say so."
        )
        return redirect(form.back or reverse("pantry:food", args=[kept.food_id]))
    return _label_page(request, form, kept)


def _beside(form):
    """What goes with a label that its form of print has no place for."""
    return {name: form.cleaned_data[name] for name in ("words", "found_in", "g_per_100_ml")}


def _label_page(request, form, kept=None):
    is_posted = request.method == "POST"
    context = {
        "form": form, "back": form.back, "typed": form.data, "is_posted": is_posted, "kept": kept,
        "forms": [(each.key, each.name) for each in label_forms().values()],
    }  # fmt: skip
    return render(request, "pantry/label.html", context, status=422 if is_posted else 200)


@allowed("pantry.change")
@require_POST
def retire(request, pk):
    """The maker changed it: it is offered no more, and stays in what was made with it."""
    actions.retire(get_object_or_404(OwnLabel, pk=pk), request.user)
    return redirect("pantry:pantry")


@allowed("pantry.change")
@require_POST
def forget(request, pk):
    """Take back a name."""
    get_object_or_404(Alias, pk=pk).delete()
    return redirect("pantry:pantry")
