"""At the table: marks, several tries on one sheet, the decision, and what was learned."""

from dataclasses import dataclass
from statistics import fmean

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from accounts.permissions import allowed
from bench import lessons as lessons_
from bench.models import Bench, Decision
from nutrition.notes import Problem
from nutrition.swaps.jobs import JOBS
from people.models import Person
from people.regimen import regimen_of
from ui.numbers import first_error

from . import actions
from .forms import DecideForm, TasteForm
from .models import Cook
from .stove import as_cooked_of

#: As many cooks as can be told apart side by side; the diary has them all.
ON_A_SHEET = 8


@dataclass(frozen=True)
class Tasted:
    """One cook on the sheet: what the tasters said beside what the tool says."""

    seen: object
    tastings: list
    decision: Decision | None

    @property
    def cook(self):
        return self.seen.cook

    def _mean(self, mark):
        values = [getattr(t, mark) for t in self.tastings if getattr(t, mark) is not None]
        return fmean(values) if values else None

    @property
    def taste(self):
        return self._mean("taste")

    @property
    def ease(self):
        return self._mean("ease")


def tasted_of(bench, cooks):
    """The sheet of a bench: its finished cooks, the latest last."""
    regimen = regimen_of(bench.person, bench.role)
    found = []
    for cook in cooks:
        decisions = list(cook.attempt.decisions.all())
        found.append(
            Tasted(as_cooked_of(cook, regimen), list(cook.tastings.all()), decisions[0] if decisions else None)
        )
    return found


def _finished(**which):
    return (
        Cook.objects.filter(finished_at__isnull=False, **which)
        .select_related("attempt__bench__recipe", "attempt__bench__person", "result")
        .prefetch_related("tastings", "attempt__decisions")
        .order_by("started_at")
    )


@allowed("kitchen.judge")
@require_http_methods(["GET", "POST"])
def taste(request, pk):
    """Everybody at the table marks one cook. A refusal keeps what was typed."""
    cook = get_object_or_404(_finished(), pk=pk)
    typed, problem = {}, ""
    if request.method == "POST":
        form = TasteForm(request.POST)
        if form.is_valid():
            said = actions.taste(cook, **form.cleaned_data)
            messages.success(request, f"Kept what {said.taster} said.")
            return redirect("kitchen:taste", pk)
        problem, typed = first_error(form), form.data
    bench = cook.attempt.bench
    said = {tasting.taster for tasting in cook.tastings.all()}
    context = {
        "cook": cook,
        "bench": bench,
        "tasted": tasted_of(bench, [cook])[0],
        "people": [person for person in Person.objects.there() if person.name not in said],
        "choices": Decision.CHOICES,
        "typed": typed,
        "problem": problem,
    }
    return render(request, "kitchen/taste.html", context, status=422 if problem else 200)


@allowed("kitchen.judge")
@require_POST
def decide(request, pk):
    """Keep, try again or give up, with the reason."""
    cook = get_object_or_404(_finished(), pk=pk)
    form = DecideForm(request.POST)
    form.is_valid()
    try:
        decision = lessons_.decide(cook.attempt, form.data.get("choice", ""), form.data.get("reason", ""), request.user)
    except Problem as problem:
        bench = cook.attempt.bench
        context = {
            "cook": cook, "bench": bench, "tasted": tasted_of(bench, [cook])[0], "people": Person.objects.there(),
            "choices": Decision.CHOICES, "typed": form.data, "decide_problem": str(problem),
        }  # fmt: skip
        return render(request, "kitchen/taste.html", context, status=422)
    messages.success(request, f"{cook.attempt.name}: {decision.get_choice_display()}.")
    return redirect("kitchen:sheet", cook.attempt.bench_id)


@allowed("kitchen.see")
@require_safe
def sheet(request, bench_pk):
    """Several tries against each other."""
    bench = get_object_or_404(Bench.objects.select_related("recipe", "person"), pk=bench_pk)
    cooks = _finished(attempt__bench=bench)
    latest = list(cooks.order_by("-started_at")[:ON_A_SHEET])[::-1]
    context = {"bench": bench, "rows": tasted_of(bench, latest), "more": cooks.count() - len(latest)}
    return render(request, "kitchen/sheet.html", context)


@allowed("kitchen.see")
@require_safe
def lessons(request):
    """What was decided, by dish, job and reason."""
    words, job, choice = (request.GET.get(name, "").strip()[:80] for name in ("q", "job", "choice"))
    found = list(lessons_.find(words, job, choice)[:100])
    rows = [(each, [lessons_.swap_words(swap) for swap in each.swaps]) for each in found]
    context = {"rows": rows, "words": words, "job": job, "choice": choice, "jobs": JOBS, "choices": Decision.CHOICES}
    return render(request, "kitchen/lessons.html", context)
