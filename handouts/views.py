"""Handouts: the card, the shopping list, the checklist before it goes out, releases and their links."""

from django.contrib import messages
from django.core.paginator import Paginator
from django.db.models import Exists, OuterRef
from django.http import HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.text import slugify
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from accounts.permissions import allowed
from accounts.prepared import prepared
from bench.models import Try
from errands.models import Errand
from errands.run import ask
from kitchen.models import Cook
from nutrition.giving.shopping import Wanted, shopping
from nutrition.notes import Problem
from people.actions import lay_out_cards
from people.models import Person
from records.log import record
from ui.guard import Stale
from ui.posted import whole

from . import actions
from .card import build
from .checklist import checklist, readiness_of
from .forms import LayoutForm, LinkForm, ReadinessForm, RecallForm
from .layout import layout_of
from .models import HandoutLink, Release
from .paper import PRINTS, SIZES, chosen
from .tasks import card_of, kept, released_card

#: Cards on one page of the list; other dishes of the same person a shopping list offers, the latest first.
A_PAGE, ON_A_LIST = 40, 30


@prepared
def _tries_at(try_id):
    return Try.objects.with_bench().select_related("cooked_in__started_by").filter(pk=try_id)


def _attempt(request, try_pk):
    found = _tries_at.one_or_404(try_pk)
    found.practice = request.user.practice  # nobody else's is found
    return found


def _release(pk):
    return get_object_or_404(
        Release.objects.select_related("bench__recipe", "bench__person", "released_by", "practice"), pk=pk
    )


def pdf_response(pdf, name):
    return HttpResponse(
        pdf, content_type="application/pdf", headers={"Content-Disposition": f'inline; filename="{name or "card"}.pdf"'}
    )


@allowed("handouts.see")
@require_safe
def handouts(request):
    """What has gone out, the newest of every dish first; what could go out next."""
    later = Release.objects.filter(bench=OuterRef("bench"), number__gt=OuterRef("number"))
    newest = (
        Release.objects.filter(~Exists(later))
        .with_what_became_of_them()
        .select_related("bench__person", "released_by", "recall")
        .only("title", "number", "released_at", "released_by__name", "bench__person__name", "recall__recalled_at")
        .prefetch_related("links")
        .order_by("-released_at")
    )
    out = Release.objects.filter(attempt=OuterRef("pk"))
    ready = Try.objects.in_lists().filter(Exists(Cook.objects.filter(result=OuterRef("pk"))), ~Exists(out))
    context = {
        "released": Paginator(newest, A_PAGE).get_page(request.GET.get("page")),
        "ready": ready.order_by("-pk")[:20],
    }
    return render(request, "handouts/handouts.html", context)


@allowed("handouts.see")
@require_safe
def card(request, try_pk):
    """The card of a try on screen: a preview until it is released."""
    attempt = _attempt(request, try_pk)
    _, look = chosen(request.GET, layout_of(attempt.bench.person).print)
    context = build(attempt, readiness_of(attempt)).for_template(look=PRINTS[look][1], print=look, prints=PRINTS)
    return render(request, "handouts/card.html", context)


def _paper(request, card, name, **args):
    """The PDF where it was rendered before; else a page that waits while it is."""
    size, look = chosen(request.GET)
    found = kept(card, size, look)
    if found is None:
        errand = ask("pdf", request.user, size=size, look=look, **args)
        found = kept(card, size, look)
        if found is None:
            return render(request, "handouts/paper_waits.html", {"errand": errand}, status=202)
    return pdf_response(bytes(found.pdf), name)


@allowed("handouts.see")
@require_safe
def card_pdf(request, try_pk):
    """The card as a tagged PDF, with the bundled fonts; nothing is fetched."""
    attempt = _attempt(request, try_pk)
    record("card.printed", attempt.bench.person_id)
    return _paper(
        request, card_of(attempt), slugify(f"{attempt.bench.recipe} {attempt.bench.person}"), **{"try": attempt.pk}
    )


@allowed("handouts.see")
@require_safe
def paper_state(request, errand_pk):
    """How far a paper is: the page asks again and again, and goes to the PDF when it is there."""
    errand = get_object_or_404(Errand, pk=errand_pk, asked_by=request.user, kind="pdf")
    return JsonResponse({"over": errand.is_over, "done": errand.is_done, "problem": errand.problem})


@allowed("handouts.see")
@require_safe
def shopping_list(request, try_pk):
    """What to buy for a try, as often as it is cooked, and for others beside it: one list, each food once."""
    attempt = _attempt(request, try_pk)
    typed, problem = request.GET.get("times", "1").strip().replace(",", "."), ""
    chosen_ = [pk for pk in map(whole, request.GET.getlist("with")) if pk and pk != attempt.pk][:12]
    finished = Try.objects.filter(is_finished=True, bench__person=attempt.bench.person_id).exclude(pk=attempt.pk)
    beside = [each.pk for each in finished.only("pk").order_by("-touched_at")[:ON_A_LIST]]
    others = list(
        Try.objects.filter(pk__in={*beside, *chosen_}).select_related("bench__recipe", "bench__person", "practice")
    )
    cards = [build(each, readiness_of(each)) for each in [attempt, *(o for o in others if o.pk in chosen_)]]
    try:
        times = float(typed)
        found = shopping([_wanted(each, times if each.attempt == attempt else 1.0) for each in cards])
    except ValueError:
        problem = f"“{typed[:20]}” times was read; a number above 0 and up to 100 is expected. Shown once."
        times, found = 1.0, shopping([_wanted(each, 1.0) for each in cards])
    context = {
        "attempt": attempt, "bench": attempt.bench, "found": found, "times": times, "typed": typed, "problem": problem,
        "others": others, "chosen": chosen_,
    }  # fmt: skip
    return render(request, "handouts/shopping.html", context, status=422 if problem else 200)


def _wanted(card, times):
    return Wanted(str(card.recipe), card.sight.lines_now, times, card.ceilings)


@allowed("handouts.release")
@require_http_methods(["GET", "POST"])
def release(request, try_pk):
    """The checklist; with everything made sure of, the release. A refusal keeps what was typed."""
    attempt, form, problem = _attempt(request, try_pk), ReadinessForm(request.POST), ""
    if request.method == "POST":
        try:
            actions.make_sure(attempt, form.made_sure(), request.user)
            if form.is_release:
                made = actions.release(attempt, request.user)
                messages.success(request, f"{made} is out. It will not change any more.")
                return redirect(made)
            return redirect("handouts:release", try_pk)
        except Problem as refusal:
            problem = str(refusal)
    ready = readiness_of(attempt)
    made = build(attempt, ready)
    context = made.for_template(
        ready=ready,
        found=checklist(made, ready),
        problem=problem,
        typed=form.data if problem else {},
        releases=Release.objects.filter(bench=attempt.bench).select_related("released_by"),
    )
    return render(request, "handouts/release.html", context, status=422 if problem else 200)


@allowed("people.change")
@require_http_methods(["GET", "POST"])
def lay_out(request, person_pk):
    """How the cards of a person are laid out."""
    person, status, stale = get_object_or_404(Person, pk=person_pk), 200, False
    form = LayoutForm(request.POST if request.method == "POST" else None, layout=layout_of(person))
    if request.method == "POST":
        status = 422
        try:
            if form.is_valid():
                lay_out_cards(person, form.card(), form.version)
                messages.success(
                    request, f"The next cards for {person} look like this. Those that are out stay as they are."
                )
                return redirect(person)
        except Stale:
            status, stale = 409, True
    return render(request, "handouts/lay_out.html", {"person": person, "form": form, "stale": stale}, status=status)


@allowed("handouts.see")
@require_safe
def released(request, pk):
    """A card as it went out, and its links."""
    found = _release(pk)
    _, look = chosen(request.GET, found.facts.get("print", ""))
    return render(
        request,
        "handouts/released.html",
        {
            "release": found,
            "body": found.stamped(),
            "newest": found.newest,
            "look": PRINTS[look][1],
            "print": look,
            "prints": PRINTS,
            "sizes": SIZES,
            "links": found.links.select_related("made_by"),
        },
    )


@allowed("handouts.see")
@require_safe
def released_pdf(request, pk):
    """A released card as PDF, in the paper size and print asked for."""
    found = _release(pk)
    record("card.printed", found.bench.person_id)
    return _paper(request, released_card(found), slugify(f"{found.title} {found.number}"), release=found.pk)


@allowed("handouts.release")
@require_POST
def recall(request, pk):
    """Nobody should cook from this card any more."""
    found = _release(pk)
    actions.recall(found, RecallForm(request.POST).why, request.user)
    messages.success(request, "The card is recalled: its links say that nobody should cook from it.")
    return redirect(found)


@allowed("handouts.link")
@require_POST
def give_link(request, pk):
    """A private link; its address is shown on this one answer and never again."""
    found = _release(pk)
    try:
        form = LinkForm(request.POST)
        link, token = actions.give_link(found, form.days(), form.for_whom, request.user, *form.besides)
    except Problem as problem:
        messages.error(request, str(problem))
        return redirect(found)
    address = request.build_absolute_uri(f"/card/for/{token}/")
    return render(
        request,
        "handouts/link.html",
        {"opens": found, "back": found.get_absolute_url(), "link": link, "address": address},
    )


@allowed("handouts.link")
@require_POST
def withdraw(request, pk):
    """The link opens nothing from now on."""
    link = get_object_or_404(HandoutLink.objects.select_related("release"), pk=pk)
    actions.withdraw(link)
    messages.success(request, "The link is withdrawn: it opens nothing any more.")
    return redirect(link.release)
