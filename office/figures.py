"""Figures to be verified: values nobody has opened the book for, the ones this practice uses most first."""

from django.contrib import messages
from django.core.paginator import Paginator
from django.db.models import Count, F
from django.db.models.fields.json import KT
from django.http import Http404
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_safe

from accounts.permissions import allowed
from nutrition.food.nutrients import CORE_KEYS
from nutrition.food.table import foods
from pantry import actions
from pantry.models import Verified
from recipes.models import RecipeLine

from .forms import VerifyForm

#: How sources say that nobody opened the document; screens say "to be verified".
UNVERIFIED = "from memory"
A_PAGE = 60


def _used():
    """Food id -> in how many recipe lines of the practice it stands."""
    lines = (
        RecipeLine.objects.order_by().annotate(food=KT("as_read__food_id")).values("food").annotate(count=Count("pk"))
    )
    return dict(lines.values_list("food", F("count")))


@allowed("pantry.see")
@require_safe
def figures(request):
    """Foods whose figures are to be verified, by how often they stand in the practice's recipes."""
    table, used = foods(), _used()
    settled = dict(Verified.objects.values_list("food_id", "found_in"))
    open_foods = [table.food(row) for row, source in enumerate(table.text["sources"]) if UNVERIFIED in source]
    rows = sorted(
        ((food, used.get(food.id, 0), settled.get(food.id, "")) for food in open_foods),
        key=lambda row: (bool(row[2]), -row[1], row[0].description),
    )
    context = {
        "page": Paginator(rows, A_PAGE).get_page(request.GET.get("page")),
        "count": len(rows),
        "settled": len(settled),
    }
    return render(request, "office/figures.html", context)


@allowed("pantry.change")
@require_http_methods(["GET", "POST"])
def verify(request, food_id):
    """One food with the book beside it: its figures, what the book says, edition and page."""
    try:
        food = foods().by_id(food_id)
    except KeyError:
        raise Http404("no food has this id") from None
    form = VerifyForm(request.POST)
    stood = Verified.objects.filter(food_id=food.id).first()
    is_posted = request.method == "POST"
    if is_posted and form.is_valid():
        actions.verify(food.id, form.found, form.cleaned_data["found_in"], request.user)
        messages.success(request, f"{food.description} is settled: {form.cleaned_data['found_in']}.")
        return redirect(reverse("office:figures"))
    before = stood.found if stood and not is_posted else {}
    wrong = {key: errors[0] for key, errors in form.errors.items()} if is_posted else {}
    values = [
        (
            key,
            float(foods().value(food.description, key)),
            form.data.get(key) or before.get(key, ""),
            wrong.get(key, ""),
        )
        for key in CORE_KEYS
    ]
    context = {"food": food, "values": values, "typed": form.data, "wrong": wrong, "stood": stood}
    return render(request, "office/verify.html", context, status=422 if wrong else 200)
