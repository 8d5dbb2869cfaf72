"""Paper: the same card as PDF, in both sizes, large or in black and white. Nothing is fetched."""

import functools

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


def chosen(query):
    """(paper size, print) of a request's query, at their defaults when it says nothing sensible."""
    size, look = query.get("size", "letter"), query.get("print", "")
    return (size if size in SIZES else "letter"), (look if look in PRINTS else "")


def pdf_of(body, title, author, size="letter", look=""):
    """A tagged PDF of a card's body, as bytes."""
    from weasyprint import CSS, HTML

    context = {"body": body, "title": title, "author": author, "look": PRINTS[look][1]}
    html = render_to_string("handouts/card_paper.html", context)
    style = finders.find("css/card.css") or settings.STATIC_ROOT / "css" / "card.css"
    page = CSS(string=f"@page {{ size: {SIZES[size]} }}")
    return HTML(string=html, base_url=str(settings.BASE_DIR)).write_pdf(
        stylesheets=[CSS(filename=str(style), font_config=_fonts()), page], font_config=_fonts(), pdf_variant="pdf/ua-1"
    )
