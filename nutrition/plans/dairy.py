"""Dairy-free: no milk protein. Not the same as lactose. From memory of the documents named."""

from collections.abc import Mapping

from .common import Avoid, Facts

KEY = "dairy-free"
LABEL = "Dairy-free"
SUMMARY = "No milk of any animal and nothing made of it. Lactose-free milk is still milk."
SOURCE = "EU 1169/2011 Annex II; FALCPA 2004"
SOURCES = (SOURCE,)
SCHOOLS = {}
STANCES = {}
HANDOUT = (
    "Lactose-free goods still hold milk protein.",
    "Calcium: choose plant drinks with calcium added, and shake the carton.",
)


def targets(facts: Facts, schools: Mapping[str, str]) -> list:
    return []


def missing(facts: Facts, schools: Mapping[str, str]) -> list[str]:
    return []


def avoids(schools: Mapping[str, str]) -> tuple[Avoid, ...]:
    return (Avoid("milk", "milk protein is kept out", SOURCE),)
