"""Vegetarian: no meat, fish or shellfish, by ingredient. Common practice."""

from collections.abc import Mapping

from nutrition.limits.plans.common import Avoid, Plan, shelves

SOURCE = "common practice"
_WHYS = {
    "meat": "meat, or made of it",
    "fish": "fish, or made of it",
    "crustacean_shellfish": "an animal",
    "mollusc": "an animal",
    "gelatin": "made of bones and skin",
    "rennet": "may be set with animal rennet",
}


def avoids(settings: Mapping[str, str]) -> tuple[Avoid, ...]:
    return tuple(Avoid(tag, why, SOURCE) for tag, why in _WHYS.items())


PLAN = Plan(
    key="vegetarian",
    label="Vegetarian",
    summary="No meat, fish or shellfish, nor what is made of them; milk, eggs and honey are eaten.",
    shelf=shelves.EATEN,
    place=2,
    sources=(SOURCE,),
    avoids_of=avoids,
    handout=("Stock, gelatin, Worcestershire-style sauce and some cheeses are made with animals: read the label.",),
)
