"""What every plan module shares."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from rapidfuzz import process

from nutrition.limits.gates import Target
from nutrition.limits.life import ADULT_KG, ADULT_YEARS, EnergyNeed, energy_need
from nutrition.limits.measured import Decision, Measurement, decide
from nutrition.limits.person import KIDNEY_STAGES, circumstances_of
from nutrition.limits.tallies import Tally
from nutrition.notes import Note, Problem

SEXES = {"female": "female", "male": "male"}
#: Where somebody is in life, beyond their age, and what is so of them then.
LIFE_STAGES = {
    "pregnant-1": "pregnant, first trimester",
    "pregnant-2": "pregnant, second trimester",
    "pregnant-3": "pregnant, third trimester",
    "breast-feeding": "breast-feeding",
}


@dataclass(frozen=True, slots=True)
class Facts:
    """What is known of a person. `weight_kg`, `height_cm`, `energy_kcal` and `fluid_ml` (a day), `age_years` may be unknown.

    `plans`: every plan they follow; `circumstances`: keys of CIRCUMSTANCES; `sex`, `life_stage`, `kidney_stage`: keys of
    SEXES, LIFE_STAGES, KIDNEY_STAGES, empty where unknown. `measured`: bloods, which count as old or new by `today`.
    `medicines`: as listed. What follows from medicines, stage of life, age and kidneys is among the circumstances, whoever
    makes the value.
    """

    weight_kg: float | None = None
    energy_kcal: float | None = None
    plans: tuple[str, ...] = ()
    circumstances: tuple[str, ...] = ()
    age_years: float | None = None
    sex: str = ""
    height_cm: float | None = None
    life_stage: str = ""
    kidney_stage: str = ""
    fluid_ml: float | None = None
    measured: tuple[Measurement, ...] = ()
    today: date | None = None
    medicines: str = ""

    @property
    def is_child(self) -> bool:
        """Below 18; where the age is not known, so light that it may be."""
        if self.age_years is None:
            return self.weight_kg is not None and self.weight_kg < ADULT_KG
        return self.age_years < ADULT_YEARS

    def __post_init__(self) -> None:
        if self.weight_kg is not None and not 2 <= self.weight_kg <= 400:
            raise Problem("limits.body_weight", weight=self.weight_kg)
        if self.energy_kcal is not None and not 300 <= self.energy_kcal <= 8000:
            raise Problem("limits.energy", energy=self.energy_kcal)
        if self.age_years is not None and not 0 <= self.age_years <= 120:
            raise Problem("limits.age", age=self.age_years)
        if self.height_cm is not None and not 40 <= self.height_cm <= 250:
            raise Problem("limits.height", height=self.height_cm)
        if self.fluid_ml is not None and not 200 <= self.fluid_ml <= 8000:
            raise Problem("limits.fluid", fluid=self.fluid_ml)
        for name, known in (("sex", SEXES), ("life_stage", LIFE_STAGES), ("kidney_stage", KIDNEY_STAGES)):
            if getattr(self, name) and getattr(self, name) not in known:
                raise Problem("limits.no_such_choice", name=name, key=getattr(self, name), all=", ".join(known))
        derived = circumstances_of(
            self.circumstances,
            medicines=self.medicines,
            life_stage=self.life_stage,
            age_years=self.age_years,
            kidney_stage=self.kidney_stage,
        )
        object.__setattr__(self, "circumstances", derived)

    @property
    def energy_need(self) -> EnergyNeed | None:
        """What equations say of the energy a day, where sex, age, height and weight are known."""
        return energy_need(self.sex, self.age_years, self.height_cm, self.weight_kg)

    @property
    def need_kcal(self) -> float | None:
        """The energy a day they are to have: as prescribed, else what equations say of somebody who hardly moves; None where neither
        is known."""
        need = self.energy_need
        return self.energy_kcal or (need.inactive if need else None)

    def decide(self, of: str) -> Decision:
        """What the newest blood result of "potassium" or "phosphate" says."""
        return decide(of, self.measured, self.today)


@dataclass(frozen=True, slots=True)
class NotLimited:
    """What a plan limits by blood results, where no limit stands: why. `is_doubtful`: the results do not leave it free."""

    nutrient: str
    why: Note
    is_doubtful: bool = False

    @property
    def words(self) -> str:
        """ "not limited, last potassium 4.4 mmol/L on …"; where nobody drafted since, that no limit stands."""
        return f"{'no limit stands, though' if self.is_doubtful else 'not limited,'} {self.why}"


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


@dataclass(frozen=True, slots=True)
class Claimed:
    """Words by which dishes call themselves fit for a plan: `words` over a title, `settings` the words go by."""

    key: str
    words: str
    settings: Mapping[str, str] = field(default_factory=dict)


class shelves:
    """Where a clinic would shelve a plan. A plan may name a shelf of its own; it comes after these."""

    SALT = "Kidney, heart and salt"
    SUGAR = "Sugar, carbohydrate, weight"
    GUT = "Gut and metabolism"
    EATEN = "What is not eaten"
    ALLERGENS = "Free of allergens"
    OTHER = "Other plans"
    IN_ORDER = (SALT, SUGAR, GUT, EATEN)


Settings = Mapping[str, str]


@dataclass(frozen=True)
class Plan:
    """One diet plan with all there is to it; each stands in a module of its own that ends with its PLAN.

    `schools`: questions on which authorities differ, setting name -> School; a person's settings choose among them.
    `stances`: what it wants or limits, topic -> "want", "limit", "fuel" or "steady" (limits/conflicts.py).
    `handout` and `cross_contact`: advice for the card, in a cook's words. `cautions`: keys of tables/cautions.tsv.
    `circumstances`: what is so of whoever follows it. `claims`: words of a title that are held to it. `depends_on`: plans whose coming or going changes its drafts.
    `excludes`: plans that nobody follows beside it, key -> why; `handout_of`: advice by the settings, before the rest.
    The functions take the person's facts and the chosen settings: draft targets (never prescriptions), what is not
    known and keeps a target from being set, what is not limited and why, what is kept out, what is counted, and a dated
    course. `child_targets_of`:
    the same below 18; None where a pediatric dietitian sets them, and no figure of adults is drafted.
    """

    key: str
    label: str
    summary: str = ""
    shelf: str = shelves.OTHER
    place: int = 0
    sources: tuple[str, ...] = ()
    schools: Mapping[str, School] = field(default_factory=dict)
    stances: Mapping[str, str] = field(default_factory=dict)
    handout: tuple[str, ...] = ()
    cross_contact: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    circumstances: tuple[str, ...] = ()
    claims: tuple[Claimed, ...] = ()
    depends_on: frozenset[str] = frozenset()
    targets_of: Callable[[Facts, Settings], list[Target]] = lambda facts, settings: []
    missing_of: Callable[[Facts, Settings], list[str]] = lambda facts, settings: []
    not_limited_of: Callable[[Facts, Settings], list[NotLimited]] = lambda facts, settings: []
    child_targets_of: Callable[[Facts, Settings], list[Target]] | None = None
    child_missing_of: Callable[[Facts, Settings], list[str]] | None = None
    avoids_of: Callable[[Settings], tuple[Avoid, ...]] = lambda settings: ()
    tallies_of: Callable[[Settings], list[Tally]] = lambda settings: []
    course_of: Callable[[date, int], Sequence[Any]] | None = None
    excludes: Mapping[str, str] = field(default_factory=dict)
    handout_of: Callable[[Settings], tuple[str, ...]] = lambda settings: ()

    def advice(self, settings: Settings) -> tuple[str, ...]:
        """What the card says of it, in a cook's words."""
        return (*self.handout_of(settings), *self.handout)

    def choose(self, wanted: Mapping[str, str]) -> dict[str, str]:
        """The settings: what is wanted, else the defaults. `wanted` may name settings of other plans too.

        A name "plan.setting" is for that plan alone. Raises ValueError naming what there is.
        """
        chosen = {name: school.default for name, school in self.schools.items()}
        for full, option in wanted.items():
            plan, _, name = full.rpartition(".")
            if name not in self.schools or (plan and plan != self.key):
                continue
            if option not in self.schools[name].options:
                options = list(self.schools[name].options)
                near = nearest(option, options)
                raise ValueError(
                    f"{name} of {self.key} can be {', '.join(options)}, not {option!r}; the nearest are {near}"
                )
            chosen[name] = option
        return chosen


def nearest(word: str, known: Iterable[str]) -> str:
    """The three nearest of what is known, for a refusal."""
    return ", ".join(match for match, _, _ in process.extract(word, list(known), limit=3))


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
        "less-fiber": "total less fiber (and less erythritol and allulose, which the body does not use)",
        "net": "total less fiber and half of the polyols (erythritol and allulose not at all)",
    },
    "total",
)


def per_kg(nutrient: str, weight_kg: float, low: float | None, high: float | None, plan: str, source: str) -> Target:
    """A target set by body weight, a day. `low` and `high` per kilogram."""
    least, most = (None if side is None else side * weight_kg for side in (low, high))
    stated = " to ".join(f"{side:g}" for side in (low, high) if side is not None)
    said = f"{stated} {nutrient.rsplit('_', 1)[1]}/kg, {source}"
    return Target(nutrient, minimum=least, maximum=most, plan=plan, source=said)
