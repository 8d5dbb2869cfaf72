"""Free of one listed allergen: one plan for each, made alike. EU 1169/2011 Annex II; FALCPA 2004, FASTER 2021; from
memory."""

from nutrition.food.tags import ALLERGENS, LISTS
from nutrition.limits.plans import gluten
from nutrition.limits.plans.common import Avoid, Plan, School, shelves

EU = "EU 1169/2011 Annex II"
US = "FALCPA 2004, FASTER 2021"
CROSS_CONTACT = (
    "Wash hands, board, knives and counter with soap before you start; cook this dish first.",
    "Keep spoons, oil, sieve and grill clean of it: fresh oil for frying, a clean cloth.",
    "Read every label every time, “may contain” too: makers change recipes.",
    "Keep the rescue medicine at hand as the clinic said.",
)


def on_lists(tag: str) -> str:
    """Which lists name an allergen, in words.

    >>> on_lists("sesame"), on_lists("celery")
    ('on the EU and US lists', 'on the EU list')
    """
    names = [name.upper() for name in ("eu", "us") if tag in LISTS[name]]
    return f"on the {' and '.join(names)} list{'s' * (len(names) > 1)}"


#: Whose list of tree nuts counts: the one list that the two laws draw differently.
_LISTS = {
    "list": School(
        "Whose list of tree nuts?",
        {"us": f"US: pine nuts count - {US}", "eu": f"EU: pine nuts are a matter of the label - {EU}"},
        "us",
    )
}
#: Cautions beside the one every allergen has.
_CAUTIONS = {
    "gluten": ("oats-celiac", "brewed-soy-gluten"),
    "wheat": ("brewed-soy-gluten",),
    "tree_nut": ("nuts-for-cream",),
    "peanut": ("nuts-for-cream",),
}


def free_of(tag: str) -> Plan:
    """The plan of one allergen."""
    sources = tuple(source for name, source in (("eu", EU), ("us", US)) if tag in LISTS[name])
    return Plan(
        key=f"free-of:{tag}",
        label=f"Free of {ALLERGENS[tag].lower()}",
        summary=on_lists(tag),
        shelf=shelves.ALLERGENS,
        sources=sources,
        schools=_LISTS if tag == "tree_nut" else {},
        handout=("“Free from” one thing is not free from the others, nor free of calories.",),
        cross_contact=gluten.PLAN.cross_contact if tag == "gluten" else CROSS_CONTACT,
        cautions=("free-of-not-light", *_CAUTIONS.get(tag, ())),
        avoids_of=lambda settings: (Avoid(tag, "an allergen kept out", "; ".join(sources), is_strict=True),),
    )


FREE_OF = tuple(free_of(tag) for tag in ALLERGENS)
