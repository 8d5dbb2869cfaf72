"""Vegan: nothing of an animal, by ingredient. Common practice."""

from collections.abc import Mapping

from . import vegetarian
from .common import Avoid, Facts

KEY = "vegan"
LABEL = "Vegan"
SUMMARY = "Nothing of an animal: no meat, fish, milk, egg or honey."
SOURCE = "common practice"
SOURCES = (SOURCE,)
SCHOOLS = {}
STANCES = {}
HANDOUT = ("Plant-based is not free of soy or nuts. Vitamin B12 comes from fortified foods or a supplement.",)


def targets(facts: Facts, schools: Mapping[str, str]) -> list:
    return []


def missing(facts: Facts, schools: Mapping[str, str]) -> list[str]:
    return []


def avoids(schools: Mapping[str, str]) -> tuple[Avoid, ...]:
    own = (("milk", "from an animal"), ("egg", "from an animal"), ("honey", "from bees"))
    rest = tuple(avoid for avoid in vegetarian.avoids(schools) if avoid.tag != "rennet")
    return rest + tuple(Avoid(tag, why, SOURCE) for tag, why in own)
