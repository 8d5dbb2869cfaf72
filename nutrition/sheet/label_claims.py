"""What a label says of itself in its name, held against its list and its figures by the claims that dishes are held to."""

import re

from nutrition.dish.cooking import CookedWeight
from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.food.additives import by_name
from nutrition.food.label import Label, forms
from nutrition.food.own import with_own
from nutrition.food.table import using
from nutrition.notes import Note, note
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.claims import Serving, claims_in

_ID = "own:label-in-hand"


def label_claims(label: Label) -> tuple[Note, ...]:
    """Every claim of the name that does not hold, and every one that its list leaves open; none where all of them hold.

    Claims about what is in it need the list: without one they are open. "Unsalted" beside salt, "vegan" beside whey.
    """
    # The list stands in the place of the line's words, so that what was added is found in it.
    line = Line(by_name(label.ingredients) or label.name, _ID, Grams.exactly(label.per_g), "weight", "sure")
    with using(with_own([label.as_food(_ID)])):
        serving = Serving(
            (line,),
            analyze_lines([line], 1),
            CookedWeight(label.per_g, label.per_g, label.per_g, "the label"),
            label.name,
        )
        claims = claims_in(serving, forms()[label.form].law)
    return tuple(
        note(
            "food.label_claim" if claim.holds is False else "food.label_claim_open",
            words=_as_said(claim.words, label.name),
            why=claim.why,
        )
        for claim in claims
        if claim.holds is not True and (claim.holds is False or label.ingredients)
    )


def _as_said(words: str, name: str) -> str:
    """The claim in the label's own words."""
    said = re.search(r"\bunsalted\b", name, re.I)
    return said[0].lower() if said and words == "no salt added" else words


def label_questions(label: Label) -> tuple[Note, ...]:
    """Everything worth a second look before a label is kept: its figures, then its claims."""
    return (*label.questions, *label_claims(label))
