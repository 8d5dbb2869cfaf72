"""The card behind a private link: read only, without an account, and nothing else of the practice."""

import functools

from django.contrib.auth.decorators import login_not_required
from django.http import Http404
from django.shortcuts import render
from django.views.decorators.http import require_safe

from accounts.permissions import allowed
from accounts.scope import within

from . import actions
from .models import HandoutLink, digest
from .paper import PRINTS, SIZES, chosen
from .tasks import paper_of, released_card
from .views import pdf_response

#: Nobody keeps a copy on the way, and no address is passed on.
_PRIVATE = {"Cache-Control": "private, no-store", "Referrer-Policy": "no-referrer", "X-Robots-Tag": "noindex, nofollow"}


def _private(response):
    for name, value in _PRIVATE.items():
        response[name] = value
    return response


def _link(token):
    """The link of a token. Guesses are not found, whatever they look like."""
    found = HandoutLink.anywhere.filter(token_digest=digest(token)).select_related("release__practice").first()
    if found is None:
        raise Http404("no such link")
    return found


def _of_link(view):
    """A view of whoever holds the link: `view(request, link, token)`. An old link says that it has ended, and no more."""

    @login_not_required
    @require_safe
    @functools.wraps(view)
    def found(request, token):
        link = _link(token)
        if not link.is_open:
            return _private(render(request, "handouts/public_ended.html", status=410))
        return _private(view(request, link, token))

    return found


@allowed("handouts.open_link")
@_of_link
def card(request, link, token):
    """The card as it was released; says when a later one has replaced it."""
    actions.opened(link)
    _, look = chosen(request.GET)
    with within(link.practice_id):
        newest = link.release.newest
    context = {
        "release": link.release,
        "link": link,
        "newest": newest,
        "look": PRINTS[look][1],
        "print": look,
        "prints": PRINTS,
        "sizes": SIZES,
        "token": token,
    }
    return render(request, "handouts/public.html", context)


@allowed("handouts.open_link")
@_of_link
def card_pdf(request, link, token):
    """The same card on paper."""
    size, look = chosen(request.GET)
    with within(link.practice_id):
        return pdf_response(bytes(paper_of(released_card(link.release), size, look, link.release).pdf), "card")
