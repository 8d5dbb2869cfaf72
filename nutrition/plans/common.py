"""What every plan module shares."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from ..gates import Target

#: What of a person changes a caution. Recorded only when somebody says so.
CIRCUMSTANCES = {
    "insulin": "takes insulin, a sulfonylurea or a glinide",
    "sglt2": "takes an SGLT2 inhibitor",
    "raises_potassium": "takes a medicine that raises potassium (ACE inhibitor, ARB, spironolactone and kin)",
    "warfarin": "takes warfarin or another vitamin K antagonist",
    "grapefruit": "takes a medicine that grapefruit disturbs (some statins, calcium channel blockers, transplant medicines)",
    "blood_pressure": "has high blood pressure or low potassium",
    "low_immunity": "is pregnant, very young, old or has low immunity",
    "under_one": "is under one year old",
    "severe_allergy": "has had a severe allergic reaction",
    "no_alcohol": "should have no alcohol",
}


@dataclass(frozen=True, slots=True)
class Facts:
    """What is known of a person. `weight_kg` and `energy_kcal` (a day) may be unknown.

    `plans`: every plan they follow; `circumstances`: keys of CIRCUMSTANCES.
    """

    weight_kg: float | None = None
    energy_kcal: float | None = None
    plans: tuple[str, ...] = ()
    circumstances: tuple[str, ...] = ()

    def __post_init__(self):
        if self.weight_kg is not None and not 2 <= self.weight_kg <= 400:
            raise ValueError(f"a body weight of {self.weight_kg:g} kg cannot be; 2 to 400 kg is expected")
        if self.energy_kcal is not None and not 300 <= self.energy_kcal <= 8000:
            raise ValueError(f"{self.energy_kcal:g} kcal a day cannot be; 300 to 8,000 is expected")


@dataclass(frozen=True, slots=True)
class School:
    """A question on which authorities differ. `options`: key -> words; one is the default."""

    question: str
    options: Mapping[str, str]
    default: str = field(default="")


@dataclass(frozen=True, slots=True)
class Avoid:
    """Something a plan keeps out: a key of avoid.TAGS, and why. `is_strict`: traces matter too."""

    tag: str
    why: str
    source: str
    is_strict: bool = False


#: Settings that several plans offer, in the same words everywhere.
LABEL_FORM = School(
    "Which labels are read?",
    {
        "us": "US: total carbohydrate holds the fiber; sodium in mg",
        "eu": "EU and UK: carbohydrate leaves the fiber out; salt in g (sodium × 2.5)",
    },
    "us",
)
#: 21 CFR 101.9(c); EU 1169/2011 Annex I: from memory.
LABEL_ADVICE = {
    "us": "US labels: the fiber is inside total carbohydrate; sodium stands in mg for one label serving.",
    "eu": "EU and UK labels: the fiber is already left out of carbohydrate; salt in g ÷ 2.5 is sodium in g.",
}
CARBOHYDRATE_COUNT = School(
    "Which carbohydrate counts?",
    {
        "total": "total carbohydrate",
        "less-fiber": "total less fiber",
        "net": "total less fiber and half of the polyols (erythritol not at all)",
    },
    "total",
)
CARBOHYDRATE_KEYS = {
    "total": "carbohydrate_g",
    "less-fiber": "available_carbohydrate_g",
    "net": "net_carbohydrate_g",
}


def per_kg(nutrient: str, weight_kg: float, low: float | None, high: float | None, plan: str, source: str) -> Target:
    """A target set by body weight, a day. `low` and `high` per kilogram."""
    sides = [None if side is None else side * weight_kg for side in (low, high)]
    stated = " to ".join(f"{side:g}" for side in (low, high) if side is not None)
    return Target(nutrient, *sides, plan=plan, source=f"{stated} {nutrient.rsplit('_', 1)[1]}/kg, {source}")
