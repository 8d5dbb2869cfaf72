"""Lactose intolerance: so many grams a sitting. EFSA 2010, from memory."""

from collections.abc import Mapping

from ..gates import Target
from .common import Facts, School

KEY = "lactose"
LABEL = "Low lactose"
SUMMARY = "Milk sugar within what one sitting can take; milk protein is no matter."
EFSA = "EFSA 2010, opinion on lactose thresholds: 12 g in a sitting is tolerated by most"
SOURCES = (EFSA,)
SCHOOLS = {
    "lactose": School(
        "How much at a sitting?",
        {"12": f"12 g - {EFSA}", "6": "6 g (common practice)", "1": "1 g - Varney et al. 2017"},
        "12",
    )
}
STANCES = {}
HANDOUT = ("Hard ripened cheese and lactose-free milk hold next to none. Lactose-free is not dairy-free.",)


def targets(facts: Facts, schools: Mapping[str, str]) -> list[Target]:
    source = SCHOOLS["lactose"].options[schools["lactose"]]
    return [Target("lactose_g", maximum=float(schools["lactose"]), scope="meal", plan=LABEL, source=source)]


def missing(facts: Facts, schools: Mapping[str, str]) -> list[str]:
    return []


def avoids(schools: Mapping[str, str]) -> tuple:
    return ()
