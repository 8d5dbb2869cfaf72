"""Long work of the handouts: rendering a card on paper."""

from django.template.loader import render_to_string

from bench.models import Try
from errands.run import errand

from .card import build
from .checklist import readiness_of
from .models import Paper, Release
from .paper import key_of, pdf_of


def card_of(attempt):
    """(body, title, author) of the card of a try as it stands now."""
    body = render_to_string("handouts/card_body.html", build(attempt, readiness_of(attempt)).for_template())
    return body, f"{attempt.bench.recipe} for {attempt.bench.person}", str(attempt.practice)


def released_card(release):
    """... and of a release, as it went out, with what became of it since."""
    return release.stamped(), release.title, str(release.practice)


def kept(card, size, look):
    """The paper of a card, if it was rendered before."""
    return Paper.objects.filter(key=key_of(*card, size, look)).first()


@errand("pdf")
def render_paper(asked):
    """Args: release or try, size, look. The number of the paper."""
    size, look = asked.args["size"], asked.args["look"]
    release = None
    if number := asked.args.get("release"):
        release = Release.objects.select_related("practice").get(pk=number)
        card = released_card(release)
    else:
        tries = Try.objects.select_related("bench__recipe", "bench__person", "practice", "cooked_in__started_by")
        card = card_of(tries.get(pk=asked.args["try"]))
    return paper_of(card, size, look, release).pk


def paper_of(card, size, look, release=None):
    """The paper of a card, rendered if it never was."""
    found = kept(card, size, look)
    if found is None:
        made = {"pdf": pdf_of(*card, size, look), "release": release}
        found, _ = Paper.objects.get_or_create(key=key_of(*card, size, look), defaults=made)
    return found
