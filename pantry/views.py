"""Foods and the practice's own names for them."""

import math

from django.core.paginator import Paginator
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST, require_safe

from accounts.permissions import allowed
from nutrition.food.measures import measures_of
from nutrition.food.nutrients import NUTRIENTS
from nutrition.food.table import foods
from nutrition.reading.matching import search_foods

from .forms import SwapRuleForm
from .models import Alias, SwapRule

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
            "form": form,
        },
        status=status,
    )


@allowed("pantry.change")
@require_POST
def add_rule(request):
    """A swap rule of the practice's own."""
    form = SwapRuleForm(request.POST)
    if not form.is_valid():
        return _page(request, form, 422)
    rule = form.save(commit=False)
    rule.set_by = request.user
    rule.save()
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
    return render(request, "pantry/choose.html", {"foods": found, "words": words})


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
    return render(
        request,
        "pantry/food.html",
        {"food": found, "values": values, "measures": measures_of(found)},
    )


@allowed("pantry.change")
@require_POST
def forget(request, pk):
    """Take back a name."""
    get_object_or_404(Alias, pk=pk).delete()
    return redirect("pantry:pantry")
