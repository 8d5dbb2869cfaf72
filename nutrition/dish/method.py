"""What is done with the lines of a dish: its steps as they were read, once, for whoever asks. Values only; reading/method.py reads."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Use:
    """A line (position from 0) that a step takes in hand. `how`: "named", "group" or "product" (through what it became part of);
    `share`: "all", "part", "half" or "rest" of it."""

    line: int
    how: str
    share: str = "all"


@dataclass(frozen=True, slots=True)
class Added:
    """What no line holds and a step puts in or beside: its words, and the tags of allergens and kept-out things they show."""

    words: str
    tags: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Step:
    """One step, numbered from 1. `operations`: keys of tables/operations.tsv in their order there; `heats`: whether what it takes in
    hand gets hot; `seconds`: (to the first look, to the last) of each time it names; `oven_c`, `inside_c`: heat in °C, where it names one."""

    number: int
    text: str
    uses: tuple[Use, ...]
    adds: tuple[Added, ...]
    operations: tuple[str, ...]
    heats: bool
    seconds: tuple[tuple[int, int], ...] = ()
    oven_c: int | None = None
    inside_c: int | None = None


@dataclass(frozen=True, slots=True)
class Method:
    """All steps. `raw`: positions of lines of which a part is read to meet no heat: a reading, no finding, and none to tell anybody by (what
    is said of raw eggs, fish and meat is sheet/uncooked's to say); `unnamed`: that no step takes in hand; `products`: what the lines
    were made into, with the lines inside, as (name, positions)."""

    steps: tuple[Step, ...]
    raw: tuple[int, ...]
    unnamed: tuple[int, ...]
    products: tuple[tuple[str, tuple[int, ...]], ...]
