"""What every plan module shares."""

from collections.abc import Mapping
from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True)
class Facts:
    """What is known of a person. `weight_kg` and `energy_kcal` (a day) may be unknown; `plans`: every plan they follow."""

    weight_kg: float | None = None
    energy_kcal: float | None = None
    plans: tuple[str, ...] = ()

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
