"""The card: a page that prints, and the same page as PDF."""

import functools

from django.conf import settings
from django.contrib.staticfiles import finders
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render
from django.template.loader import render_to_string
from django.utils.text import slugify
from django.views.decorators.http import require_safe

from bench.models import Try

from .card import build


def _attempt(try_pk):
    return get_object_or_404(Try.objects.select_related("bench__recipe", "bench__person", "practice"), pk=try_pk)


@require_safe
def card(request, try_pk):
    """The card on screen."""
    return render(request, "handouts/card.html", build(_attempt(try_pk)))


@functools.cache
def _fonts():
    from weasyprint.text.fonts import FontConfiguration

    return FontConfiguration()


@require_safe
def card_pdf(request, try_pk):
    """The card as a tagged PDF, with the bundled fonts; nothing is fetched."""
    from weasyprint import CSS, HTML

    attempt = _attempt(try_pk)
    html = render_to_string("handouts/card_paper.html", build(attempt), request=request)
    style = finders.find("css/card.css") or settings.STATIC_ROOT / "css" / "card.css"
    pdf = HTML(string=html, base_url=str(settings.BASE_DIR)).write_pdf(
        stylesheets=[CSS(filename=str(style), font_config=_fonts())], font_config=_fonts(), pdf_variant="pdf/ua-1"
    )
    name = slugify(f"{attempt.bench.recipe} {attempt.bench.person}") or "card"
    return HttpResponse(
        pdf, content_type="application/pdf", headers={"Content-Disposition": f'inline; filename="{name}.pdf"'}
    )
