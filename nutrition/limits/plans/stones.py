"""Kidney stones of calcium oxalate: little salt, enough calcium, oxalate named. From memory of AUA 2014."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import LABEL_FORM, Facts, Plan, shelves
from nutrition.limits.tallies import sodium_tallies

KEY = "kidney-stones"
AUA = "AUA Guideline, Medical Management of Kidney Stones, 2014"
OXALATE = "oxalate by food: Massey 2007, J Am Diet Assoc 107(7)"


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    return [
        Target("sodium_mg", maximum=2300, plan=KEY, source=AUA),
        Target("calcium_mg", minimum=1000, plan=KEY, source=f"1,000 to 1,200 mg from food, {AUA}"),
    ]


PLAN = Plan(
    key=KEY,
    label="Kidney stones, calcium oxalate",
    summary="Little salt, enough calcium with meals, what is rich in oxalate named.",
    shelf=shelves.OTHER,
    place=4,
    sources=(AUA, OXALATE),
    schools={"label": LABEL_FORM},
    stances={"salt": "limit", "fluid": "want"},
    targets_of=targets,
    handout=(
        "Calcium is eaten with the meal: it holds oxalate back in the gut. Supplements only as the clinic says.",
        "Enough to drink for 2½ liters of urine a day, unless the clinic has limited fluid.",
        "Meat, poultry and fish in moderate portions; vegetables and fruit at every meal.",
        "What is rich in oxalate: leave it out, or boil it, pour the water off, and eat it with milk or cheese.",
    ),
    cautions=("oxalate",),
    tallies_of=sodium_tallies,
)
