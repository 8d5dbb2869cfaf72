"""Vegan: nothing of an animal, by ingredient. Common practice."""

from collections.abc import Mapping

from nutrition.limits.plans import vegetarian
from nutrition.limits.plans.common import Avoid, Plan, shelves

SOURCE = "common practice"


def avoids(settings: Mapping[str, str]) -> tuple[Avoid, ...]:
    own = (("milk", "from an animal"), ("egg", "from an animal"), ("honey", "from bees"))
    rest = tuple(avoid for avoid in vegetarian.avoids(settings) if avoid.tag != "rennet")
    return rest + tuple(Avoid(tag, why, SOURCE) for tag, why in own)


PLAN = Plan(
    key="vegan",
    label="Vegan",
    summary="Nothing of an animal: no meat, fish, milk, egg or honey.",
    shelf=shelves.EATEN,
    place=3,
    sources=(SOURCE,),
    avoids_of=avoids,
    handout=("Plant-based is not free of soy or nuts. Vitamin B12 comes from fortified foods or a supplement.",),
    cautions=("vegan-b12",),
)
