"""What is done with the lines of a dish: its steps as they were read, once, for whoever asks. Values only; reading/method.py reads."""

from dataclasses import dataclass

POURED_OFF, STRAINED_OUT, LIFTED_OUT, LEFT_IN_PAN = "poured_off", "strained_out", "lifted_out", "left_in_pan"
PRESSED_OUT, LEFT_OVER, SOAKED_OUT = "pressed_out", "left_over", "soaked_out"
PEEL = "peel"
#: What is bought with a line and eaten by nobody.
REFUSE = ("bone", "shell", "pit", "cob", PEEL)
#: Ways in which something of a line is not eaten.
HOWS = (POURED_OFF, STRAINED_OUT, LIFTED_OUT, LEFT_IN_PAN, PRESSED_OUT, LEFT_OVER, SOAKED_OUT, *REFUSE)
#: Appliance -> operations (tables/operations.tsv) that need it.
APPLIANCES = {
    "oven": frozenset(("bake",)),
    "grill": frozenset(("grill",)),
    "hob": frozenset(("deep_fry", "fry", "boil", "boil_drain", "steam", "heat_dry")),
    "fridge": frozenset(("chill",)),
}
#: Where something is while a time passes: an appliance, in somebody's hands, or left alone.
OVEN, GRILL, HOB, FRIDGE, HANDS, WAIT = "oven", "grill", "hob", "fridge", "hands", "wait"
#: Of a line of which this share or more is eaten, next to all is.
CLEARLY_LESS = 0.9


@dataclass(frozen=True, slots=True)
class Use:
    """A line (position from 0) that a step takes in hand. `how`: "named", "group" or "product" (through what it became part of);
    `share`: "all", "part", "half" or "rest" of it; `does`: the operations of the clauses that take it, in no order."""

    line: int
    how: str
    share: str = "all"
    does: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True)
class Added:
    """What no line holds and a step puts in or beside: its words, and the tags of allergens and kept-out things they show."""

    words: str
    tags: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Leaves:
    """A line of which a step leaves something that is not eaten. `how`: one of HOWS; `as_`: the row of tables/cooking_methods.tsv that says what of it is eaten;
    `eaten`: share of what it is done to, least and most, and the `likely` one; `step`: from 1; `share`: how much of the line it is done to, as of a Use."""

    line: int
    how: str
    as_: str
    eaten: tuple[float, float]
    likely: float
    step: int
    share: str = "all"


@dataclass(frozen=True, slots=True)
class Time:
    """A time a step names: to the first look and to the last. `where` it passes; `is_watched`: somebody stands by."""

    seconds: int
    most_seconds: int
    where: str
    is_watched: bool


@dataclass(frozen=True, slots=True)
class Step:
    """One step, numbered from 1. `operations`: keys of tables/operations.tsv in their order there; `heats`: whether what it takes in
    hand gets hot; `times`: each it names; `oven_c`, `inside_c`: heat in °C, where it names one; `pieces_mm`: sizes of the pieces it cuts;
    `vessels`: pans, bowls and machines it names; `in_liquid`: whether it speaks of a soup, or of what lies in its juice; `in_part`: whether of a
    half or a part of something."""

    number: int
    text: str
    uses: tuple[Use, ...]
    adds: tuple[Added, ...]
    operations: tuple[str, ...]
    heats: bool
    times: tuple[Time, ...] = ()
    oven_c: int | None = None
    inside_c: int | None = None
    leaves: tuple[Leaves, ...] = ()
    pieces_mm: tuple[int, ...] = ()
    vessels: tuple[str, ...] = ()
    in_liquid: bool = False
    in_part: bool = False

    @property
    def seconds(self) -> tuple[tuple[int, int], ...]:
        """(to the first look, to the last) of each time it names."""
        return tuple((time.seconds, time.most_seconds) for time in self.times)

    @property
    def appliance(self) -> str:
        """What it needs: "oven", "grill", "hob" or "fridge"; empty for hands alone. The hottest counts."""
        return next((appliance for appliance, does in APPLIANCES.items() if does & set(self.operations)), "")


@dataclass(frozen=True, slots=True)
class Method:
    """All steps. `raw`: positions of lines of which a part is read to meet no heat: a reading, no finding, and none to tell anybody by (what
    is said of raw eggs, fish and meat is sheet/uncooked's to say); `unnamed`: that no step takes in hand; `products`: what the lines
    were made into, with the lines inside, as (name, positions)."""

    steps: tuple[Step, ...]
    raw: tuple[int, ...]
    unnamed: tuple[int, ...]
    products: tuple[tuple[str, tuple[int, ...]], ...]

    @property
    def leaves(self) -> tuple[Leaves, ...]:
        """All that is left behind, in the order of the steps."""
        return tuple(each for step in self.steps for each in step.leaves)

    @property
    def poured_off(self) -> tuple[Leaves, ...]:
        """Lines of which clearly less is eaten than listed: of each the way that leaves least."""
        least: dict[int, Leaves] = {}
        for each in self.leaves:
            if (
                each.eaten[1] < CLEARLY_LESS and each.eaten < least.get(each.line, each).eaten
            ) or each.line not in least:
                least[each.line] = each
        return tuple(each for each in least.values() if each.eaten[1] < CLEARLY_LESS)
