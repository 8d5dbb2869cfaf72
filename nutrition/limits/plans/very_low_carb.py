"""Very low carbohydrate: 20 to 50 g of non-fiber carbohydrate a day. Feinman et al. 2015, from memory.

Fat is the fuel and salt is wanted, not avoided (common practice); another plan that limits them is a conflict.
"""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import (
    CARBOHYDRATE_COUNT,
    LABEL_FORM,
    Claimed,
    Facts,
    Plan,
    School,
    shelves,
)
from nutrition.limits.plans.low_carb import FEINMAN
from nutrition.limits.tallies import CARBOHYDRATE_KEYS, carbohydrate_counted, carbohydrate_tallies

KEY = "very-low-carb"
SCHOOLS = {
    "limit": School("Carbohydrate a day?", {"20": "20 g", "30": "30 g", "50": "50 g"}, "50"),
    "count": School(CARBOHYDRATE_COUNT.question, CARBOHYDRATE_COUNT.options, "less-fiber"),
    "label": LABEL_FORM,
}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    nutrient = CARBOHYDRATE_KEYS[carbohydrate_counted(settings)]
    return [Target(nutrient, maximum=float(settings["limit"]), plan=KEY, source=f"20 to 50 g a day, {FEINMAN}")]


PLAN = Plan(
    key=KEY,
    label="Very low carbohydrate",
    summary="20 to 50 g of carbohydrate a day, so that fat is the fuel; salt is wanted.",
    shelf=shelves.SUGAR,
    place=3,
    sources=(FEINMAN,),
    schools=SCHOOLS,
    stances={"carbohydrate": "limit", "fat": "fuel", "salt": "want", "protein": "want", "whole grains": "limit"},
    excludes={
        "pregnancy": "pregnancy asks for at least 175 g carbohydrate (DRI 2005)",
        "gestational-diabetes": "pregnancy asks for at least 175 g carbohydrate (DRI 2005)",
        "breast-feeding": "breast-feeding asks for 210 g carbohydrate (DRI 2005)",
    },
    targets_of=targets,
    handout=(
        "Count what is left after the fiber; sweeteners ending in -ol count half, erythritol not.",
        "Salt is wanted on this plan unless a doctor limits it.",
        "Tablets and insulin may need less: change them with the clinic only, before you start.",
    ),
    cautions=("natural-sweeteners", "low-carb-medicine", "low-carb-sglt2", "low-carb-general"),
    claims=(Claimed("keto", r"\bketo\b|ketogenic", {"limit": "50"}),),
    tallies_of=carbohydrate_tallies,
)
