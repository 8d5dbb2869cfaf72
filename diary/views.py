"""The diary of a dish: every try, cook, tasting, decision, release and link on one time line."""

from dataclasses import dataclass
from datetime import datetime

from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_safe

from accounts.permissions import allowed
from bench.models import Bench, Decision, Edit
from handouts.models import HandoutLink, Release
from kitchen.models import Cook, Tasting
from ui.templatetags.ui import grams, mark_of


@dataclass(frozen=True, slots=True)
class Entry:
    """One thing that happened. `kind` decides its mark; `said` is what somebody noted."""

    at: datetime
    kind: str
    words: str
    who: str = ""
    said: str = ""
    address: str = ""


def _tries(bench):
    """A try is one entry with its edits in a row; what a cook left behind is told by the cook."""
    edits = (
        Edit.objects.filter(attempt__bench=bench, attempt__cooked_in=None)
        .select_related("attempt", "made_by")
        .defer("dish")
        .order_by("attempt_id", "number")
    )
    by_try = {}
    for edit in edits:
        by_try.setdefault(edit.attempt, []).append(edit)
    for attempt, own in by_try.items():
        done = [edit.summary for edit in own[1 : attempt.cursor + 1]]
        shown = done[:6] + ([f"and {len(done) - 6} more"] if len(done) > 6 else [])
        said = "; ".join(filter(None, [*shown, attempt.notes]))
        yield Entry(
            own[0].made_at,
            "try",
            f"{attempt.name}: {own[0].summary}",
            str(own[0].made_by),
            said,
            attempt.get_absolute_url(),
        )


def _cooks(bench):
    for cook in Cook.objects.filter(attempt__bench=bench).select_related("attempt", "started_by"):
        address, who = cook.get_absolute_url(), str(cook.started_by)
        yield Entry(cook.started_at, "cook", f"{cook.attempt.name} put on the stove", who, "", address)
        if cook.finished_at:
            weight = f", {grams(cook.cooked_g)} in all" if cook.cooked_g else ""
            words = f"{cook.attempt.name} dished up: {cook.serves_cooked:g} portions{weight}"
            yield Entry(cook.finished_at, "cook", words, who, cook.notes, address)


def _tastings(bench):
    for each in Tasting.objects.filter(cook__attempt__bench=bench).select_related("cook__attempt"):
        words = f"{each.taster} tasted {each.cook.attempt.name}: taste {mark_of(each.taste)}, ease {mark_of(each.ease)}"
        said = " ".join(filter(None, [f"Missed {each.missed}." if each.missed else "", each.notes]))
        yield Entry(each.made_at, "taste", words, each.taster, said)


def _decisions(bench):
    for each in Decision.objects.filter(attempt__bench=bench).select_related("attempt", "decided_by"):
        words = f"{each.attempt.name}: {each.get_choice_display()}"
        yield Entry(
            each.decided_at, "decision", words, str(each.decided_by), each.reason, each.attempt.get_absolute_url()
        )


def _releases(bench):
    for each in Release.objects.filter(bench=bench).select_related("released_by"):
        yield Entry(
            each.released_at,
            "release",
            f"Release {each.number} went out",
            str(each.released_by),
            "",
            each.get_absolute_url(),
        )
    for link in HandoutLink.objects.filter(release__bench=bench).select_related("release", "made_by"):
        whom = f" to {link.for_whom}" if link.for_whom else ""
        yield Entry(link.made_at, "link", f"A link to release {link.release.number} was given{whom}", str(link.made_by))
        if link.withdrawn_at:
            yield Entry(link.withdrawn_at, "link", f"The link{whom} was withdrawn")


@allowed("bench.see")
@require_safe
def diary(request, bench_pk):
    """Everything that happened to a dish for one person, the latest first."""
    bench = get_object_or_404(Bench.objects.select_related("recipe", "person"), pk=bench_pk)
    entries = [entry for source in (_tries, _cooks, _tastings, _decisions, _releases) for entry in source(bench)]
    entries.append(Entry(bench.created_at, "bench", f"Taken to the bench for {bench.person}"))
    entries.sort(key=lambda entry: entry.at, reverse=True)
    return render(request, "diary/diary.html", {"bench": bench, "entries": entries})
