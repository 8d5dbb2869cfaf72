"""Halal: no pork, no alcohol; meat, gelatin and rennet by the label. Common practice."""

from collections.abc import Mapping

from nutrition.limits.plans.common import Avoid, Plan, shelves

SOURCE = "common practice; Codex CAC/GL 24-1997, from memory"


def avoids(settings: Mapping[str, str]) -> tuple[Avoid, ...]:
    return (
        Avoid("pork", "not halal", SOURCE),
        Avoid("alcohol", "not halal, in the pot either", SOURCE),
    )


PLAN = Plan(
    key="halal",
    label="Halal",
    summary="No pork and no alcohol; meat, gelatin and rennet are a matter of the label.",
    shelf=shelves.EATEN,
    place=6,
    sources=(SOURCE,),
    avoids_of=avoids,
    handout=(
        "Meat and poultry: with a halal certificate. Gelatin, rennet, shortening and flavorings: of halal animals or of plants.",
        "Vanilla extract, vinegar of wine and some sauces: schools differ; ask whoever eats.",
    ),
    cautions=("halal-meat", "halal-gelatin", "halal-rennet"),
)
