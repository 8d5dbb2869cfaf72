"""Heart: saturated fat as a share of energy, sodium, fiber, no trans fat. From memory of the documents named."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import LABEL_FORM, Avoid, Claimed, Facts, Plan, School, shelves
from nutrition.limits.plans.diabetes import FIBER
from nutrition.limits.tallies import sodium_tallies

KEY = "heart"
_SATURATED = {
    "aha": (0.06, "less than 6 % of energy, AHA/ACC Lifestyle Guideline 2013"),
    "guidelines": (0.10, "less than 10 % of energy, Dietary Guidelines for Americans 2020-2025"),
}
_SODIUM = {
    "guidelines": (2300, "Dietary Guidelines for Americans 2020-2025"),
    "aha": (1500, "American Heart Association, ideal limit"),
}
TRANS = "FDA final determination on partially hydrogenated oils, 2015; WHO 2018"
SCHOOLS = {
    "saturated": School("How much saturated fat?", {key: words for key, (_, words) in _SATURATED.items()}, "aha"),
    "sodium": School(
        "Whose sodium limit?",
        {key: f"{limit:,} mg a day - {source}" for key, (limit, source) in _SODIUM.items()},
        "guidelines",
    ),
    "label": LABEL_FORM,
}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    limit, source = _SODIUM[settings["sodium"]]
    found = [Target("sodium_mg", maximum=limit, plan=KEY, source=source)]
    if facts.energy_kcal:
        share, source = _SATURATED[settings["saturated"]]
        grams = share * facts.energy_kcal / 9
        found.append(Target("saturated_fat_g", maximum=grams, plan=KEY, source=source))
        found.append(Target("fiber_g", minimum=0.014 * facts.energy_kcal, plan=KEY, source=FIBER))
    return found


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    return [] if facts.energy_kcal else ["energy need a day: saturated fat is a share of it, fiber goes by it"]


def avoids(settings: Mapping[str, str]) -> tuple[Avoid, ...]:
    return (Avoid("trans_fat", "industrial trans fat raises the risk of heart disease", TRANS),)


PLAN = Plan(
    key=KEY,
    label="Heart",
    summary="Little saturated fat and sodium, no trans fat, plenty of fiber.",
    shelf=shelves.SALT,
    place=2,
    sources=(*(source for _, source in _SATURATED.values()), TRANS, FIBER),
    schools=SCHOOLS,
    stances={"salt": "limit", "fat": "limit", "whole grains": "want"},
    targets_of=targets,
    missing_of=missing,
    avoids_of=avoids,
    handout=(
        "Oil in place of butter, lean meat, fish twice a week; cheese in small amounts.",
        "“Partially hydrogenated” in the ingredients is trans fat: leave it on the shelf.",
        "Pulses, oats, fruit and vegetables bring the fiber.",
    ),
    cautions=("licorice-sodium",),
    claims=(Claimed("heart-healthy", r"heart[- ](?:healthy|smart|friendly)"),),
    tallies_of=sodium_tallies,
)
