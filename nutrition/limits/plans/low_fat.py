"""Low fat, for the gallbladder or the pancreas. Common practice."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Facts, Plan, School, shelves

KEY = "low-fat"
SOURCE = "low fat, 30 to 50 g a day or 10 to 15 g a meal: common practice"
_DAY = {"30": 30, "40": 40, "50": 50}
_MEAL = {"meal-10": 10, "meal-15": 15}
SCHOOLS = {
    "fat": School(
        "How much fat?",
        {key: f"{grams} g a day" for key, grams in _DAY.items()}
        | {key: f"{grams} g a meal" for key, grams in _MEAL.items()},
        "40",
    )
}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    if (chosen := settings["fat"]) in _MEAL:
        return [Target("fat_g", maximum=_MEAL[chosen], scope="meal", plan=KEY, source=SOURCE)]
    return [Target("fat_g", maximum=_DAY[chosen], plan=KEY, source=SOURCE)]


PLAN = Plan(
    key=KEY,
    label="Low fat",
    summary="Little fat of any kind, spread evenly over the day.",
    shelf=shelves.GUT,
    place=6,
    sources=(SOURCE,),
    schools=SCHOOLS,
    stances={"fat": "limit"},
    targets_of=targets,
    handout=(
        "Steam, poach, bake in paper; weigh oil with the spoon, never pour it.",
        "Spread what fat there is over the meals: one rich meal brings the pain.",
    ),
)
