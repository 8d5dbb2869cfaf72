"""What is behind a private link, a card first of all: read only, without an account, and nothing else of the practice."""

import functools

from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpResponseNotAllowed
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods
from lxml import html as lxml_html

from accounts.permissions import allowed
from accounts.scope import within
from accounts.tokens import digest

from . import actions
from .forms import WordForm
from .models import HandoutLink
from .paper import PRINTS, SIZES, chosen
from .tasks import paper_of, released_card
from .views import pdf_response

#: Nobody keeps a copy on the way, and no address is passed on.
_PRIVATE = {"Cache-Control": "private, no-store", "Referrer-Policy": "no-referrer", "X-Robots-Tag": "noindex, nofollow"}


def _private(response):
    for name, value in _PRIVATE.items():
        response[name] = value
    return response


#: Who typed the word once is not asked again for an hour.
_KNOWN_S = 3600


def _knows(request, link):
    """Whether whoever asks has shown that they know the word of the link."""
    said = request.get_signed_cookie("card", default="", salt="open-gate-card", max_age=_KNOWN_S)
    return not link.word_digest or said == link.token_digest


def behind_link(model, *related, stop=None):
    """For a view of whoever holds a link of this kind: `view(request, link, token)`. An old link says that it has ended, and no more;
    guesses are not found, whatever they look like.

    `related`: what is read along; `stop`: of a request and a link, an answer in place of the view, or None.
    """

    def of_link(view):
        @login_not_required
        @require_http_methods(["GET", "HEAD", "POST"])
        @functools.wraps(view)
        def found(request, token):
            link = model.anywhere.filter(token_digest=digest(token)).select_related("practice", *related).first()
            if link is None:
                raise Http404("no such link")
            if not link.is_open:
                return _private(render(request, "handouts/public_ended.html", status=410))
            if not _knows(request, link):
                return _private(_ask_word(request, link))
            with within(link.practice_id):
                stopped = stop(request, link) if stop else None
            if stopped:
                return _private(stopped)
            if request.method == "POST":
                return _private(HttpResponseNotAllowed(["GET", "HEAD"]))
            return _private(view(request, link, token))

        return found

    return of_link


def _ask_word(request, link):
    """The page that asks for the word; the right one leads on."""
    form, wrong = WordForm(request.POST), False
    if request.method == "POST":
        with within(link.practice_id):
            if actions.try_word(link, form.word):
                token = request.resolver_match.kwargs["token"]
                path = f"{request.path.partition(token)[0]}{token}/"
                answer = redirect(request.path)
                answer.set_signed_cookie(
                    "card", link.token_digest, salt="open-gate-card", max_age=_KNOWN_S, path=path,
                    secure=request.is_secure(), httponly=True, samesite="Lax",
                )  # fmt: skip
                return answer
        wrong = True
        if not _is_open_still(link):
            return render(request, "handouts/public_ended.html", status=410)
    return render(request, "handouts/public_word.html", {"wrong": wrong}, status=403 if wrong else 200)


def _is_open_still(link):
    everywhere = type(link).anywhere.all()
    link.refresh_from_db(using=None, fields=["withdrawn_at", "expires_at"], from_queryset=everywhere)
    return link.is_open


def _recalled(request, link):
    """What is said in place of a card that was recalled."""
    if recall := link.release.recalled:
        said = {"release": link.release, "recall": recall}
        return render(request, "handouts/public_recalled.html", said, status=410)
    return None


_of_card = behind_link(HandoutLink, "release__practice", "release__bench", stop=_recalled)


def _body_for(link):
    """The card as this link shows it: without the names of plans, unless whoever gave the link chose so."""
    body = link.release.stamped(tells_limits=link.release.practice.links_tell_changes)
    if link.shows_plans or "data-diagnosis" not in body:
        return body
    whole = lxml_html.fragment_fromstring(body, create_parent="div")
    for told in whole.xpath("//*[@data-diagnosis]"):
        told.drop_tree()
    return "".join(lxml_html.tostring(each, encoding="unicode") for each in whole)


@allowed("handouts.open_link")
@_of_card
def card(request, link, token):
    """The card as it was released; says when a later one has replaced it."""
    _, look = chosen(request.GET, link.release.facts.get("print", ""))
    with within(link.practice_id):
        actions.opened(link)
        newest = link.release.newest
        says_so = link.release.practice.links_tell_changes
        has_other_limits = says_so and link.release.has_other_limits()
        body = _body_for(link)
    context = {
        "release": link.release,
        "body": body,
        "link": link,
        "newest": newest,
        "has_other_limits": has_other_limits,
        "look": PRINTS[look][1],
        "print": look,
        "prints": PRINTS,
        "sizes": SIZES,
        "token": token,
    }
    return render(request, "handouts/public.html", context)


@allowed("handouts.open_link")
@_of_card
def card_pdf(request, link, token):
    """The same card on paper."""
    size, look = chosen(request.GET, link.release.facts.get("print", ""))
    with within(link.practice_id):
        _, title, author = released_card(link.release)
        return pdf_response(bytes(paper_of((_body_for(link), title, author), size, look, link.release).pdf), "card")
