"""Lactose intolerance: so many grams a sitting. EFSA 2010, from memory."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Facts, Plan, School, shelves

KEY = "lactose"
EFSA = "EFSA 2010, opinion on lactose thresholds: 12 g in a sitting is tolerated by most"
SCHOOLS = {
    "lactose": School(
        "How much at a sitting?",
        {"12": f"12 g - {EFSA}", "6": "6 g (common practice)", "1": "1 g - Varney et al. 2017"},
        "12",
    )
}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    source = SCHOOLS["lactose"].options[settings["lactose"]]
    return [Target("lactose_g", maximum=float(settings["lactose"]), scope="meal", plan=KEY, source=source)]


PLAN = Plan(
    key=KEY,
    label="Low lactose",
    summary="Milk sugar within what one sitting can take; milk protein is no matter.",
    shelf=shelves.GUT,
    place=2,
    sources=(EFSA,),
    schools=SCHOOLS,
    targets_of=targets,
    handout=("Hard ripened cheese and lactose-free milk hold next to none. Lactose-free is not dairy-free.",),
)
