"""Low fiber, for a time. Common practice."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Facts, Plan, School, shelves

KEY = "low-fiber"
SOURCE = "low fiber, 10 to 15 g a day: common practice"
SCHOOLS = {"fiber": School("How much fiber a day?", {"10": "10 g", "15": "15 g"}, "10")}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    return [Target("fiber_g", maximum=float(settings["fiber"]), plan=KEY, source=SOURCE)]


PLAN = Plan(
    key=KEY,
    label="Low fiber",
    summary="Little fiber for as long as the clinic says.",
    shelf=shelves.GUT,
    place=5,
    sources=(SOURCE,),
    schools=SCHOOLS,
    stances={"whole grains": "limit"},
    targets_of=targets,
    handout=(
        "White bread, white rice, peeled and well cooked vegetables, ripe fruit without skin and seeds.",
        "No nuts, seeds, whole grains, pulses, skins or strings.",
        "For a time only: the clinic says when fiber comes back.",
    ),
)
