"""Texture by IDDSI level 3 to 7: food words and the size of pieces. Advice only; a speech-language clinician decides.

From memory of the IDDSI framework, 2019.
"""

from collections.abc import Mapping

from nutrition.limits.plans.common import Plan, School, shelves

IDDSI = "IDDSI Framework, 2019"
_LEVELS = {
    "3": "3, liquidized",
    "4": "4, puréed",
    "5": "5, minced and moist",
    "6": "6, soft and bite-sized",
    "7": "7, easy to chew",
}
_ADVICE = {
    "3": ("Smooth, pours slowly off a spoon, no lumps, no fibers, no skins; it can be drunk from a cup.",),
    "4": ("Smooth, no lumps, holds its shape on a spoon; thin liquid does not part from it.",),
    "5": (
        "Lumps of at most 4 mm (children 2 mm), moist, mashed with a fork’s light pressure; no thin liquid parts from it.",
    ),
    "6": ("Pieces of at most 15 mm (children 8 mm), tender throughout, cut with the side of a fork.",),
    "7": ("Tender enough to break with the side of a fork; no size is set.",),
}
SCHOOLS = {"level": School("Which level, as the clinician set it?", _LEVELS, "6")}


def handout(settings: Mapping[str, str]) -> tuple[str, ...]:
    return tuple(f"Level {_LEVELS[settings['level']]}: {words}" for words in _ADVICE[settings["level"]])


PLAN = Plan(
    key="texture",
    label="Texture, by IDDSI level",
    summary="Names what is hard, dry, crumbly, stringy, sticky or mixed, and pieces that are too big. Advice only.",
    shelf=shelves.OTHER,
    place=6,
    sources=(IDDSI,),
    schools=SCHOOLS,
    handout_of=handout,
    handout=(
        "Test each portion with a fork and spoon, warm as it is served. A speech-language clinician decides.",
        "No dry crusts, no skins, no bones; drinks have a level of their own.",
    ),
    cautions=("texture-hard", "texture-stringy", "texture-sticky", "texture-mixed", "texture-pieces", "texture-large"),
)
