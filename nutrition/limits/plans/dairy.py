"""Dairy-free: no milk protein. Not the same as lactose. From memory of the documents named."""

from collections.abc import Mapping

from nutrition.limits.plans.common import Avoid, Plan, shelves

SOURCE = "EU 1169/2011 Annex II; FALCPA 2004"


def avoids(settings: Mapping[str, str]) -> tuple[Avoid, ...]:
    return (Avoid("milk", "milk protein is kept out", SOURCE),)


PLAN = Plan(
    key="dairy-free",
    label="Dairy-free",
    summary="No milk of any animal and nothing made of it. Lactose-free milk is still milk.",
    shelf=shelves.EATEN,
    place=1,
    sources=(SOURCE,),
    avoids_of=avoids,
    handout=(
        "Lactose-free goods still hold milk protein.",
        "Calcium: choose plant drinks with calcium added, and shake the carton.",
    ),
)
