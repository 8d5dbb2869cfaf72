"""A whole person: what follows from what is known of them, and several of them as one, the strictest of each.

Circumstances are derived here and nowhere else: from medicines, from the stage of life, from age and from the kidneys.
"""

from collections.abc import Callable, Iterable, Sequence
from typing import Any

from nutrition.limits.medicines import medicines_in

#: What is so of somebody by age: (circumstance, from, below), years. CDC and FSIS, older adults and children under five;
#: alcohol below the age of adults: common practice. From memory.
_BY_AGE = (
    ("under_one", 0.0, 1.0),
    ("low_immunity", 0.0, 5.0),
    ("older", 65.0, 200.0),
    ("no_alcohol", 0.0, 18.0),
)
_OF_PREGNANCY = ("pregnant", "low_immunity", "no_alcohol")
#: KDIGO 2024, from memory: stages by filtration; 5 before dialysis, then the two kinds of it, and a transplant.
KIDNEY_STAGES = {
    "1": "stage 1",
    "2": "stage 2",
    "3a": "stage 3a",
    "3b": "stage 3b",
    "4": "stage 4",
    "5": "stage 5, no dialysis",
    "hemodialysis": "stage 5, on hemodialysis",
    "peritoneal": "stage 5, on peritoneal dialysis",
    "transplant": "with a transplant",
}
#: Before stage 3 the kidneys still clear what is eaten: protein is not held low, only not high (KDIGO 2024).
EARLY_KIDNEY_STAGES = ("1", "2")
#: Of several people whose stages differ, whose kidneys bear least potassium stands first.
_WORST_KIDNEYS = ("5", "hemodialysis", "4", "peritoneal", "3b", "transplant", "3a", "2", "1", "")


def circumstances_of_life(life_stage: str) -> tuple[str, ...]:
    """What is so of whoever is at that stage of life.

    >>> circumstances_of_life("pregnant-2"), circumstances_of_life("")
    (('pregnant', 'low_immunity', 'no_alcohol'), ())
    """
    if life_stage.startswith("pregnant"):
        return _OF_PREGNANCY
    return (life_stage.replace("-", "_"),) if life_stage else ()


def circumstances_of(
    ticked: Iterable[str],
    *,
    medicines: str = "",
    life_stage: str = "",
    age_years: float | None = None,
    kidney_stage: str = "",
) -> tuple[str, ...]:
    """Everything that is so of somebody: what was ticked, and what follows from the rest.

    >>> circumstances_of(["insulin"], medicines="lisinopril 10 mg", age_years=0.5)
    ('insulin', 'raises_potassium', 'under_one', 'low_immunity', 'no_alcohol')
    >>> circumstances_of([], kidney_stage="4"), circumstances_of([], kidney_stage="2", age_years=40)
    (('weak_kidneys',), ())
    """
    from_medicines = (each for medicine in medicines_in(medicines) for each in medicine.circumstances)
    by_age = (key for key, since, below in _BY_AGE if age_years is not None and since <= age_years < below)
    kidneys = ("weak_kidneys",) if kidney_stage and kidney_stage not in EARLY_KIDNEY_STAGES else ()
    return tuple(dict.fromkeys((*ticked, *from_medicines, *circumstances_of_life(life_stage), *by_age, *kidneys)))


def _least(values: Sequence[Any]) -> Any:
    return min((each for each in values if each is not None), default=None)


def _newest(values: Sequence[Any]) -> Any:
    return max((each for each in values if each is not None), default=None)


def _all_of(values: Sequence[Iterable[Any]]) -> tuple[Any, ...]:
    return tuple(dict.fromkeys(each for value in values for each in value))


def _words_of_all(values: Sequence[str]) -> str:
    return "; ".join(dict.fromkeys(filter(None, values)))


def _same(values: Sequence[str]) -> str:
    """What all share; empty where they differ: nobody is spoken of by what holds of another."""
    return values[0] if len(set(values)) == 1 else ""


def _riskiest_stage(values: Sequence[str]) -> str:
    return max(values, key=lambda stage: (stage.startswith("pregnant"), bool(stage)), default="")


def _worst_kidneys(values: Sequence[str]) -> str:
    return min(values, key=_WORST_KIDNEYS.index, default="")


#: Field of Facts -> how several people's are made one. Every field stands here: a test walks over them.
MERGED_FACTS: dict[str, Callable[[Sequence[Any]], Any]] = {
    "weight_kg": _least,
    "energy_kcal": _least,
    "plans": _all_of,
    "circumstances": _all_of,
    "age_years": _least,
    "sex": _same,
    "height_cm": _least,
    "life_stage": _riskiest_stage,
    "kidney_stage": _worst_kidneys,
    "fluid_ml": _least,
    "measured": _all_of,
    "today": _newest,
    "medicines": _words_of_all,
}
