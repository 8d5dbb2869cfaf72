"""Where the marks of a gate stand on its rail. Pure geometry: verdict in, numbers out.

The rail is scaled by its own upper post (by its lower one when it has no upper), so that the posts of
all rails stand in one line down the page. A mark beyond the end sits at the end with its factor.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite

from nutrition.food.nutrients import BY_KEY, SITTING, rounded
from nutrition.sheet.verdicts import MIND, OPEN, SHUT, UNSURE, Verdict

#: Share of the rail at which the scaling post stands.
FENCE = 0.56


@dataclass(frozen=True, slots=True)
class Size:
    """Pixels of one drawing of the rail."""

    width: int
    height: int
    mark: int
    post: int

    @property
    def middle(self):
        return self.height // 2


LARGE = Size(width=176, height=34, mark=6, post=10)
SMALL = Size(width=74, height=20, mark=4, post=7)


@dataclass(frozen=True, slots=True)
class Rail:
    """Ready to draw. Positions in pixels; `written` and `factor` may be None or empty."""

    size: Size
    state: str
    value: float
    written: float | None
    low_post: float | None
    high_post: float | None
    unknown_from: float | None
    unknown_width: float
    value_factor: str
    written_factor: str
    through_from: float
    through_width: float
    label: str

    @property
    def ink(self):
        """Color of the value, for paper; on screen the style decides."""
        return {OPEN: "#1c7567", SHUT: "#a3402b", UNSURE: "#7d5d0c"}[self.state]

    @property
    def pale(self):
        return {OPEN: "#bfe0d6", SHUT: "#f3d3ca", UNSURE: "#ecd79c"}[self.state]

    @property
    def ground(self):
        return f"M{self.size.mark} {self.size.middle}H{self.size.width - self.size.mark}"

    @property
    def posts(self):
        """One path for both posts."""
        top, bottom = self.size.middle - self.size.post, self.size.middle + self.size.post
        return "".join(f"M{x} {top}V{bottom}" for x in (self.low_post, self.high_post) if x is not None)

    @property
    def trail(self):
        return f"M{self.written} {self.size.middle}H{self.value}"

    @property
    def diamond(self):
        m = self.size.mark
        return f"M{self.value} {self.size.middle - m}l{m} {m}-{m} {m}-{m}-{m}z"

    @property
    def arrow(self):
        """In place of the hollow dot when the dish as written is off the rail."""
        return f"M{self.written - 4} {self.size.middle - 4}l5 4-5 4"

    @property
    def through_y(self):
        return self.size.middle - 1.5

    @property
    def unknown_y(self):
        return self.size.middle - 5


def rail(verdict: Verdict, written: float | None = None, size: Size = LARGE) -> Rail:
    """The rail of a verdict; `written` is the amount of the dish as written."""
    gate = verdict.gate
    high = gate.high.limit if gate.high else None
    low = gate.low.limit if gate.low else None
    fence = high if high is not None else low
    scale = fence / FENCE if fence else max(verdict.amount, written or 0.0, 1.0) * 1.2
    inner = size.width - 2 * size.mark

    def place(amount):
        return round(size.mark + inner * min(max(amount / scale, 0.0), 1.0), 1)

    def factor(amount):
        is_off = size is not SMALL and fence and amount > scale * 1.0001
        return f"×{amount / fence:.1f}" if is_off else ""

    start = place(verdict.at_least)
    end = place(verdict.at_most) if isfinite(verdict.at_most) else float(size.width)
    uncertain = not verdict.is_exact and end - start >= 1
    through_from = place(low) if low is not None else size.mark
    through_to = place(high) if high is not None else size.width - size.mark
    return Rail(
        size=size,
        state=verdict.state,
        value=place(verdict.amount),
        written=None if written is None else place(written),
        low_post=None if low is None else place(low),
        high_post=None if high is None else place(high),
        unknown_from=start if uncertain else None,
        unknown_width=round(max(end - start, 0.0), 1),
        value_factor=factor(verdict.amount),
        written_factor=factor(written)
        if written is not None and abs(written - verdict.amount) > 0.005 * verdict.amount
        else "",
        through_from=through_from,
        through_width=round(max(through_to - through_from, 0.0), 1),
        label=f"{BY_KEY[gate.nutrient].label}: {holds(verdict)}; {margin(verdict)}",
    )


@dataclass(frozen=True, slots=True)
class Stretch:
    """What one part of several brings, on a strip: where it begins and how long it is, its name and amount."""

    x: float
    width: float
    name: str
    amount: float


@dataclass(frozen=True, slots=True)
class Strip:
    """Several parts end to end on one rail, scaled as every rail is, so that its posts stand on the fence."""

    rail: Rail
    stretches: tuple[Stretch, ...]


STRIP = Size(width=460, height=26, mark=4, post=12)


def strip(verdict: Verdict, parts: Sequence[tuple[str, float]]) -> Strip:
    """The rail of a sum and its parts in order; what runs past the end of the rail ends there."""
    drawn = rail(verdict, None, STRIP)
    gate = verdict.gate
    fence = gate.high.limit if gate.high else gate.low.limit if gate.low else 0.0
    scale = fence / FENCE if fence else max(verdict.amount, 1.0) * 1.2
    inner, begun, found = STRIP.width - 2 * STRIP.mark, 0.0, []
    for name, amount in parts:
        start, end = (round(STRIP.mark + inner * min(at / scale, 1.0), 1) for at in (begun, begun + amount))
        found.append(Stretch(start, round(end - start, 1), name, amount))
        begun += amount
    return Strip(drawn, tuple(found))


def holds(verdict: Verdict) -> str:
    """What a serving holds against its posts: "412 of 600 mg", "241+ of 300 mg", "22 g"."""
    nutrient = BY_KEY[verdict.gate.nutrient]
    amount = rounded(verdict.amount, nutrient.unit)
    most = rounded(verdict.at_most, nutrient.unit) if isfinite(verdict.at_most) else ""
    more = "+" if verdict.at_most > verdict.amount * 1.02 and most != amount else ""
    if nutrient.unit == SITTING:
        return f"{amount}{more} {SITTING}"
    if verdict.gate.high and not verdict.gate.low:
        return f"{amount}{more} of {rounded(verdict.gate.high.limit, nutrient.unit)} {nutrient.unit}"
    return f"{amount}{more} {nutrient.unit}"


def margin(verdict: Verdict) -> str:
    """The verdict in words with its amount: "42 over", "188 to spare", "2 foods unknown"."""
    gate, unit = verdict.gate, BY_KEY[verdict.gate.nutrient].unit
    if gate.is_conflict:
        return f"the posts conflict: at least {rounded(gate.low.limit, unit)}, at most {rounded(gate.high.limit, unit)}"
    if verdict.state == SHUT:
        # With two posts the words say which one it is past; with one the amount beside them does.
        both = gate.high and gate.low
        if gate.high and verdict.at_least > gate.high.limit:
            past = f" {rounded(gate.high.limit, unit)}" if both else " its part" if gate.high.of else ""
            return f"{rounded(verdict.amount - gate.high.limit, unit)} over{past}"
        past = f" {rounded(gate.low.limit, unit)}" if both else ""
        return f"{rounded(gate.low.limit - verdict.amount, unit)} under{past}"
    if verdict.state == UNSURE:
        return unsure_because(verdict)
    if gate.high and gate.low:
        return between(rounded(gate.low.limit, unit), rounded(gate.high.limit, unit))
    if gate.high and gate.high.of:
        return f"leaves {rounded(gate.high.of - verdict.at_most, unit)} of {rounded(gate.high.of, unit)}"
    if gate.high:
        return f"{rounded(gate.high.limit - verdict.at_most, unit)} to spare"
    return f"{rounded(gate.low.limit, unit)} or more"


def between(low, high):
    """Two posts in words; one where they read the same.

    >>> between("15", "20"), between("10", "10")
    ('15 to 20', 'about 10')
    """
    return f"about {low}" if low == high else f"{low} to {high}"


def limit_words(gate) -> str:
    """What a gate asks for, for a reader who sees no posts: "15 to 20 g", "at least 9.5 g", "at most 875 mg"."""
    unit = BY_KEY[gate.nutrient].unit
    low, high = (rounded(post.limit, unit) if post else "" for post in (gate.low, gate.high))
    if low and high:
        return f"{between(low, high)} {unit}"
    return f"at least {low} {unit}" if low else f"at most {high} {unit}"


def with_unit(words, unit):
    """The words beside a rail, for a reader who has only the words.

    >>> with_unit("645 to spare", "mg"), with_unit("15 to 20", "g"), with_unit("9.5 or more", "g"), with_unit("leaves 5 of 8", "g")
    ('645 mg to spare', '15 to 20 g', '9.5 g or more', 'leaves 5 of 8 g')
    """
    if re.fullmatch(r"(\S+ to|about|leaves [\d.,<−-]+ of) [\d.,<]+", words):
        return f"{words} {unit}"
    return re.sub(r"^([\d.,<]+) (over|under|to spare|or more)", rf"\1 {unit} \2", words)


def unsure_because(verdict: Verdict) -> str:
    """Why it cannot be told: foods unknown, or amounts vague."""
    unit = BY_KEY[verdict.gate.nutrient].unit
    count = len(verdict.unknown_lines)
    if count and not isfinite(verdict.at_most):
        return f"{count} line{'s' * (count > 1)} without food or weight"
    if not isfinite(verdict.at_most):
        return "how much is not known"
    between = f"{rounded(verdict.at_least, unit)} to {rounded(verdict.at_most, unit)}"
    if count:
        return f"{between}: {count} food{'s' * (count > 1)} unknown"
    return f"{between}: vague or unsettled lines"


WORDS = {OPEN: "open", MIND: "open, with something to mind", SHUT: "shut", UNSURE: "can’t tell"}
