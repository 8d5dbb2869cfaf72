"""Vegetarian: no meat, fish or shellfish, by ingredient. Common practice."""

from collections.abc import Mapping

from .common import Avoid, Facts

KEY = "vegetarian"
LABEL = "Vegetarian"
SUMMARY = "No meat, fish or shellfish, nor what is made of them; milk, eggs and honey are eaten."
SOURCE = "common practice"
SOURCES = (SOURCE,)
SCHOOLS = {}
STANCES = {}
HANDOUT = ("Stock, gelatin, Worcestershire-style sauce and some cheeses are made with animals: read the label.",)
_WHYS = {
    "meat": "meat, or made of it",
    "fish": "fish, or made of it",
    "crustacean_shellfish": "an animal",
    "mollusc": "an animal",
    "gelatin": "made of bones and skin",
    "rennet": "may be set with animal rennet",
}


def targets(facts: Facts, schools: Mapping[str, str]) -> list:
    return []


def missing(facts: Facts, schools: Mapping[str, str]) -> list[str]:
    return []


def avoids(schools: Mapping[str, str]) -> tuple[Avoid, ...]:
    return tuple(Avoid(tag, why, SOURCE) for tag, why in _WHYS.items())
