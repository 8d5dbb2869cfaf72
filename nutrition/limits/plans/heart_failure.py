"""Heart failure: no excess of sodium; potassium and fluid as the clinic says. From memory of AHA/ACC/HFSA 2022."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Facts, Plan, School, shelves

KEY = "heart-failure"
ACC = "AHA/ACC/HFSA Guideline for the Management of Heart Failure, 2022"
_SODIUM = {
    "2300": f"2,300 mg: no excess - {ACC}, with the Dietary Guidelines for Americans",
    "2000": "2,000 mg - common practice of heart failure clinics",
    "1500": "1,500 mg - American Heart Association; SODIUM-HF 2022 found no fewer events with it",
}
SCHOOLS = {"sodium": School("Sodium a day?", _SODIUM, "2000")}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    option = settings["sodium"]
    source = _SODIUM[option].partition(" - ")[2]
    return [Target("sodium_mg", maximum=float(option), plan=KEY, source=f"{source}; {ACC}: avoid excess")]


PLAN = Plan(
    key=KEY,
    label="Heart failure",
    summary="Sodium held without excess. Fluid only where the clinic limits it: take the plan Fluid beside it.",
    shelf=shelves.SALT,
    place=8,
    sources=(ACC, "SODIUM-HF, Lancet 2022"),
    schools=SCHOOLS,
    stances={"salt": "limit"},
    targets_of=targets,
    handout=(
        "Most salt comes in bread, cheese, cured meat, sauces and stock: the label decides.",
        "Weigh yourself as the clinic said: sudden gain is fluid. Tell the clinic.",
        "Eating too little is as bad here: appetite and weight matter more than a perfect plate.",
        "No salt substitute of potassium without asking: many heart medicines raise potassium.",
    ),
    cautions=("potassium-chloride",),
)
