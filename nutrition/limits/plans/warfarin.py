"""With warfarin and its kin: vitamin K steady, not low. From memory of the NHS and of CHEST 2012."""

from collections.abc import Mapping

from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Facts, Plan, School, shelves

KEY = "vitamin-k"
SOURCE = "steady from week to week; adequate intake DRI 2001, 120 µg men, 90 µg women"
SCHOOLS = {
    "usual": School(
        "How much vitamin K is usual a day?",
        {
            "unknown": "not known: nothing is drafted",
            "60": "about 60 µg",
            "90": "about 90 µg",
            "120": "about 120 µg",
            "200": "about 200 µg",
        },
        "unknown",
    )
}
#: How far one day may lie from what is usual (common practice).
SPREAD = (0.5, 1.5)


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    if settings["usual"] == "unknown":
        return []
    usual = float(settings["usual"])
    low, high = (share * usual for share in SPREAD)
    source = f"half to one and a half times the usual {usual:g} µg, common practice; {SOURCE}"
    return [Target("vitamin_k_ug", minimum=low, maximum=high, plan=KEY, source=source)]


def missing(facts: Facts, settings: Mapping[str, str]) -> list[str]:
    return (
        []
        if settings["usual"] != "unknown"
        else ["how much vitamin K is usual, in the plan’s setting: it stays steady at that"]
    )


PLAN = Plan(
    key=KEY,
    label="Steady vitamin K",
    summary="With warfarin and its kin: as much vitamin K this week as last, not as little as can be.",
    shelf=shelves.OTHER,
    place=5,
    sources=(SOURCE, "NHS advice on warfarin; CHEST 2012"),
    schools=SCHOOLS,
    targets_of=targets,
    missing_of=missing,
    handout=(
        "Green leaves stay on the plate: about the same amount every week. Tell the clinic before that changes.",
        "Cranberry and grapefruit with care; no new supplement without asking.",
    ),
    circumstances=("warfarin",),
)
