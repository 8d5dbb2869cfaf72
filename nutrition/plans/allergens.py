"""Free of one listed allergen: one plan for each, made alike. EU 1169/2011 Annex II; FALCPA 2004, FASTER 2021; from memory."""

from collections.abc import Mapping
from dataclasses import dataclass

from ..avoid import ALLERGENS, LISTS
from .common import Avoid, Facts, School

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


@dataclass(frozen=True)
class FreeOf:
    """The plan of one allergen, with the same names as a plan module."""

    tag: str

    @property
    def KEY(self):
        return f"free-of:{self.tag}"

    @property
    def LABEL(self):
        return f"Free of {ALLERGENS[self.tag].lower()}"

    @property
    def SUMMARY(self):
        return on_lists(self.tag)

    @property
    def SOURCES(self):
        return tuple(source for name, source in (("eu", EU), ("us", US)) if self.tag in LISTS[name])

    @property
    def SCHOOLS(self):
        if self.tag != "tree_nut":
            return {}
        options = {"us": f"US: pine nuts count - {US}", "eu": f"EU: pine nuts are a matter of the label - {EU}"}
        return {"list": School("Whose list of tree nuts?", options, "us")}

    STANCES = {}
    HANDOUT = ("“Free from” one thing is not free from the others, nor free of calories.",)

    def targets(self, facts: Facts, schools: Mapping[str, str]) -> list:
        return []

    def missing(self, facts: Facts, schools: Mapping[str, str]) -> list[str]:
        return []

    def avoids(self, schools: Mapping[str, str]) -> tuple[Avoid, ...]:
        return (Avoid(self.tag, "an allergen kept out", "; ".join(self.SOURCES), is_strict=True),)


FREE_OF = tuple(FreeOf(tag) for tag in ALLERGENS)
