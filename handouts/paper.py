"""Paper: the same card as PDF, in both sizes, large or in black and white. Nothing is fetched."""

import functools
from hashlib import sha256
from pathlib import Path
from urllib.parse import unquote, urlsplit

from django.conf import settings
from django.contrib.staticfiles import finders
from django.template.loader import render_to_string

SIZES = {"letter": "Letter", "a4": "A4"}
#: How a card may be printed: key -> (words, class on the page).
PRINTS = {"": ("as it is", ""), "large": ("large print", "card-large"), "plain": ("black and white", "card-plain")}


@functools.cache
def _fonts():
    from weasyprint.text.fonts import FontConfiguration

    return FontConfiguration()


def chosen(query, usual=""):
    """(paper size, print) of a request's query, at their defaults when it says nothing sensible. `usual`: the print."""
    size, look = query.get("size", "letter"), query.get("print", usual)
    return (size if size in SIZES else "letter"), (look if look in PRINTS else usual)


def may_fetch(url):
    """Whether it ships with the app: the bundled fonts and the card's style. A card fetches nothing else."""
    path = Path(unquote(urlsplit(url).path)).resolve() if url.startswith("file:///") else None
    return path is not None and any(
        path.is_relative_to(folder) for folder in (settings.BASE_DIR / "static", settings.STATIC_ROOT)
    )


@functools.cache
def _fetcher():
    from weasyprint.urls import URLFetcher

    class Shipped(URLFetcher):
        def fetch(self, url, headers=None):
            if not may_fetch(url):
                raise ValueError("a card fetches nothing but what ships with the app")
            return super().fetch(url, headers)

    return Shipped(allowed_protocols=["file"], allow_redirects=False)


@functools.cache
def _style():
    """The card's style as it is now; a server that is updated is started anew."""
    return Path(finders.find("css/card.css") or settings.STATIC_ROOT / "css" / "card.css")


@functools.cache
def _style_digest():
    return sha256(_style().read_bytes()).hexdigest()


def key_of(body, title, author, size, look):
    """What a paper is known by: everything it is made from."""
    return sha256(repr((body, title, author, size, look, _style_digest())).encode()).hexdigest()


def pdf_of(body, title, author, size="letter", look=""):
    """A tagged PDF of a card's body, as bytes."""
    from weasyprint import CSS, HTML

    context = {"body": body, "title": title, "author": author, "look": PRINTS[look][1]}
    html = render_to_string("handouts/card_paper.html", context)
    page = CSS(string=f"@page {{ size: {SIZES[size]} }}", url_fetcher=_fetcher())
    card = CSS(filename=str(_style()), font_config=_fonts(), url_fetcher=_fetcher())
    return HTML(string=html, base_url=str(settings.BASE_DIR / "static"), url_fetcher=_fetcher()).write_pdf(
        stylesheets=[card, page], font_config=_fonts(), pdf_variant="pdf/ua-1"
    )
