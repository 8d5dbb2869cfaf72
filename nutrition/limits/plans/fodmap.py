"""Low FODMAP: cut-offs for one sitting in three phases, and the calendar of the way back.

Cut-offs: Varney et al. 2017, contents of foods: tables/fodmap.tsv and tables/lactose.tsv, all from
memory. The load of a serving is the sum of grams over cut-off grams; shut above 1. Times: strict 2 to
6 weeks, then one group at a time over 3 days with rising portions and days off between (common practice).
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from nutrition.food.nutrients import BY_KEY
from nutrition.limits.gates import Target
from nutrition.limits.plans.common import Claimed, Facts, Plan, School, shelves

VARNEY = "Varney et al. 2017, J Gastroenterol Hepatol 32 S1, cut-offs a sitting"
#: School -> (gate, limit); a group is called as its gate is.
GROUPS = {
    "oligosaccharides": ("oligosaccharide_load", 1.0),
    "fructose": ("fructose_load", 1.0),
    "sorbitol": ("sorbitol_load", 1.0),
    "mannitol": ("mannitol_load", 1.0),
    "lactose": ("lactose_g", 1.0),
}
_FREE = {"limited": "limited", "free": "tolerated: not limited"}
SCHOOLS = {
    "phase": School(
        "Which phase?",
        {
            "strict": "strict: every group limited, 2 to 6 weeks",
            "reintroduction": "reintroduction: one group at a time",
            "own": "own plan: only what brings complaints",
        },
        "strict",
    )
} | {group: School(f"{BY_KEY[nutrient].label}?", _FREE, "limited") for group, (nutrient, _) in GROUPS.items()}


def targets(facts: Facts, settings: Mapping[str, str]) -> list[Target]:
    strict = settings["phase"] == "strict"
    return [
        Target(nutrient, maximum=limit, scope="meal", plan=KEY, source=f"{BY_KEY[nutrient].label}: {VARNEY}")
        for group, (nutrient, limit) in GROUPS.items()
        if strict or settings[group] == "limited"
    ]


@dataclass(frozen=True, slots=True)
class Stage:
    """A stretch of the course: first and last day, and what it is for. `portion`: small, medium, large, or none."""

    first: date
    last: date
    group: str
    portion: str
    words: str


#: Test food and portions by group; amounts are common practice, to be set with the dietitian.
TRIALS = (
    ("lactose", "milk", ("60 ml", "125 ml", "250 ml")),
    ("fructose above glucose", "honey", ("1 tsp", "2 tsp", "1 tbsp")),
    ("sorbitol", "avocado or blackberries", ("20 g", "40 g", "80 g")),
    ("mannitol", "sweet potato or cauliflower", ("50 g", "75 g", "150 g")),
    ("fructans of wheat", "wheat bread", ("½ slice", "1 slice", "2 slices")),
    ("fructans of onion", "onion", ("¼ tbsp", "½ tbsp", "1 tbsp")),
    ("fructans of garlic", "garlic", ("¼ clove", "½ clove", "1 clove")),
    ("GOS of pulses", "canned chickpeas, rinsed", ("1 tbsp", "2 tbsp", "¼ cup")),
)

KEY = "low-fodmap"
TEST_DAYS, DAYS_OFF = 3, 3


def course(start: date, strict_weeks: int = 4) -> list[Stage]:
    """The dated course: the strict phase, then each group over three days and three days off.

    Raises ValueError when the strict phase is not 2 to 6 weeks.

    >>> stages = course(date(2026, 3, 2))
    >>> stages[0].last, stages[1].first, stages[1].portion
    (datetime.date(2026, 3, 29), datetime.date(2026, 3, 30), 'small')
    """
    if not 2 <= strict_weeks <= 6:
        raise ValueError(f"a strict phase of {strict_weeks} weeks was asked for; 2 to 6 weeks is expected")
    day = start + timedelta(weeks=strict_weeks)
    stages = [Stage(start, day - timedelta(days=1), "", "", f"strict, {strict_weeks} weeks")]
    for group, food, portions in TRIALS:
        for size, amount in zip(("small", "medium", "large"), portions, strict=True):
            stages.append(Stage(day, day, group, size, f"{food}, {amount}"))
            day += timedelta(days=TEST_DAYS // 3)
        last = day + timedelta(days=DAYS_OFF - 1)
        stages.append(Stage(day, last, "", "", "days off: back to the strict phase"))
        day = last + timedelta(days=1)
    stages.append(Stage(day, day, "", "", "own plan: sit down with the dietitian"))
    return stages


PLAN = Plan(
    key=KEY,
    label="Low FODMAP",
    summary="Fermentable sugars under the cut-off of one sitting, for a limited time and with a way back.",
    shelf=shelves.GUT,
    place=1,
    sources=(VARNEY, "course: common practice"),
    schools=SCHOOLS,
    targets_of=targets,
    child_targets_of=targets,
    handout=(
        "The strict phase lasts 2 to 6 weeks, not longer: then the way back begins, with the dietitian.",
        "Garlic and onion: warm them in oil and lift them out, or use the green of scallions. In water they "
        "leak into the dish.",
        "Canned pulses, drained and rinsed, in small amounts; lactose-free milk.",
        "Several small amounts add up over one meal: the gates count them together.",
    ),
    cautions=("polyols-fodmap", "garlic-in-water"),
    claims=(Claimed("low-fodmap", r"low[- ]fodmap|fodmap[- ](?:friendly|safe)"),),
    course_of=course,
)
