"""DASH: potassium, calcium, magnesium and fiber wanted, sodium and saturated fat limited. From memory of NHLBI."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import LABEL_FORM, Claimed, Facts, Plan, School, shelves
from nutrition.limits.tallies import sodium_tallies

KEY = "dash"
NHLBI = "NHLBI, DASH eating plan at 2,100 kcal"
SCHOOLS = {
    "sodium": School("How much sodium?", {"2300": "2,300 mg a day", "1500": "1,500 mg a day"}, "2300"),
    "label": LABEL_FORM,
}
#: A day at 2,100 kcal.
WANTED = {"potassium_mg": 4700, "calcium_mg": 1250, "magnesium_mg": 500, "fiber_g": 30}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    found = [Target("sodium_mg", maximum=float(settings["sodium"]), plan=KEY, source=NHLBI)]
    found += [Target(nutrient, minimum=least, plan=KEY, source=NHLBI) for nutrient, least in WANTED.items()]
    if facts.energy_kcal:
        most = 0.06 * facts.energy_kcal / 9
        found.append(Target("saturated_fat_g", maximum=most, plan=KEY, source=f"6 % of energy, {NHLBI}"))
    return found


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    return [] if facts.energy_kcal else ["energy need a day: saturated fat is a share of it"]


PLAN = Plan(
    key=KEY,
    label="DASH",
    summary="Vegetables, fruit, low-fat dairy, whole grains and nuts for blood pressure; little salt.",
    shelf=shelves.SALT,
    place=6,
    sources=(NHLBI,),
    schools=SCHOOLS,
    stances={"salt": "limit", "potassium": "want", "fat": "limit", "whole grains": "want"},
    targets_of=targets,
    missing_of=missing,
    handout=(
        "A day: grains 6 to 8, vegetables 4 to 5, fruit 4 to 5, low-fat dairy 2 to 3 servings, meat and fish up to 6 oz.",
        "A week: nuts, seeds and pulses 4 to 5 servings; sweets 5 or fewer.",
        "Potassium is wanted here. With weak kidneys, or a medicine that raises potassium, ask the clinic first.",
    ),
    cautions=("licorice-sodium",),
    claims=(Claimed("dash", r"\bDASH\b(?! of)"),),
    tallies_of=sodium_tallies,
)
