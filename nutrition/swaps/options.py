"""What may be done to each line of a dish on its way through, and what a cook feels of it.

Each line is one of its options: as it is in another amount, a swap, a method, left out; sides stand on places of their
own after the lines. docs/decisions/0007-felt-change.md says what is weighed and why.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from math import isfinite

from nutrition.dish.cooking import methods
from nutrition.dish.line import Line
from nutrition.dish.method import REFUSE
from nutrition.dish.naming import description_of, name_of
from nutrition.food.names import normalized
from nutrition.notes import NOTHING, note
from nutrition.sheet.verdicts import OPEN
from nutrition.swaps.clashes import clashes, words_of
from nutrition.swaps.jobs import weight_of
from nutrition.swaps.offers import Effect, Offer, Workbench, offers_for
from nutrition.swaps.option import Option, make_option
from nutrition.swaps.sides import COST_CLASH, beside
from nutrition.swaps.taste import SEASONS, taste_of
from nutrition.swaps.weights import weight
from nutrition.swaps.wish import Wish
from nutrition.tables import pattern

MOST_OFFERS_A_LINE = 10
#: How far an amount may go by the heaviest job of a line. Strict: what a cook would still call the dish; wide: asked for
#: only when nothing else leads through.
STRICT = {
    "binds": (0.9, 1.1),
    "lifts": (0.8, 1.2),
    "gluten's work": (0.9, 1.1),
    "thickens": (0.8, 1.25),
    "protein": (0.6, 1.0),
    "bulk": (0.5, 1.5),
    "crunch": (0.4, 1.0),
    "sour": (0.4, 1.2),
    "salty": (0.2, 1.0),
    "sweet": (0.3, 1.0),
    "fat": (0.4, 1.0),
    "creamy": (0.4, 1.0),
}
WIDE = STRICT | {
    "binds": (0.9, 1.2),
    "gluten's work": (0.8, 1.2),
    "thickens": (0.7, 1.5),
    "protein": (0.2, 1.6),
    "bulk": (0.4, 1.8),
    "crunch": (0.3, 1.5),
    "sour": (0.3, 1.5),
    "salty": (0.0, 1.0),
    "fat": (0.4, 1.7),
    "creamy": (0.3, 1.3),
}
ORDINARY_STRICT, ORDINARY_WIDE = (0.5, 1.4), (0.3, 1.7)
#: Where food is to bring more than it would, so much more of what brings it.
FORTIFIED = 1.6
#: What a cook feels: a change at all, a swap by its distance from the dish, a method, an amount by the part of it.
COST_CHANGE, COST_DISTANCE, COST_STATE, COST_AMOUNT = map(weight, ("change", "distance", "method", "amount"))
#: ... and what a swap that is short of its ratio costs by the whole of it.
COST_SHORT = weight("short")
COST_WARNING, COST_EXOTIC, COST_MINUTE, COST_ITEM = map(weight, ("warning", "exotic", "minute", "item"))
#: A swap mends a gate that it brings nearer by so much of its post.
LEAST_MENDED = 0.02
#: Eaters of plans that keep one of these out know the products made for it.
_SPECIAL_TAGS = frozenset(("gluten", "wheat", "milk", "egg", "lactose"))
#: A swap that mends nothing is ballast for another gate, some foods no cook puts together, and what is made for one diet
#: is odd where nobody asks for it.
COST_BALLAST, COST_FOR_OTHERS = weight("ballast"), weight("for others")
#: A swap of the main thing is felt by its distance, not by its weight beyond this.
MOST_FELT = weight("most felt")
#: What the title names, or the dish has most of, is felt twice, and nothing this far from it takes its place.
FELT_TWICE, FAR = weight("felt twice"), 0.5
LEAST_OF_MAIN = 0.6
#: ... and less of it once more than another way to the same plate.
LESS_OF_IT = weight("less of it")
#: ... and of other lines nothing this far, as long as something nearer leads through.
LEAST_CLOSE = 0.45
#: What the title names keeps its name, or what is this near takes its place; the second when nothing else leads through.
SAME, NEARLY = 0.9, 0.7
#: However little there is of what seasons, so much of its weight is felt.
LEAST_SEASONING = 0.8
#: In a sweet dish sweetness is felt as one taste, and the lines that bring it only half as much each.
HALF_FELT = weight("half felt")
#: How far what takes over may be under its ratio; what is salty may be less of it in the same move. What is short of
#: the ratio is felt, so that it is short only where it has to be.
NEAR_RATIO, SALTY_RATIO = (0.75, 1.0), (0.3, 1.0)
#: ... where it is no more of the dish than this.
A_SPOONFUL = 0.06
#: Jobs without which the dish falls apart.
STRUCTURE = frozenset(("binds", "lifts", "thickens", "gluten's work"))
#: Stock, and water that is cooked with, stay at least so much.
LEAST_LIQUID = 0.85
#: Less of the dish than this is a sprinkling.
MINOR = 0.015
#: What the kitchen may be asked to do without asking the cook what the dish is about.
AUTOMATIC = frozenset(
    ("drained", "drained and rinsed", "boiled", "boiled-twice", "boiled-cubed", "browned", "trimmed", "infused-oil")
)
#: Of kinds of dish that are put together raw, what is odd to ask.
ODD = {"salad": frozenset(("infused-oil", "browned"))}
_LOADS = frozenset(("oligosaccharide_load", "fructose_load", "sorbitol_load", "mannitol_load"))
_MINERALS = frozenset(("potassium_mg", "phosphorus_mg", "absorbed_phosphorus_mg"))
#: ... and of these only where one of these nutrients is limited.
ONLY_FOR = {"infused-oil": _LOADS, "boiled": _MINERALS, "boiled-twice": _MINERALS, "boiled-cubed": _MINERALS}


def options_of(bench: Workbench, wish: Wish, is_wide: bool = False) -> list[Option]:
    """As it is first, then offers, for every line. What a plan keeps out is no option, not even as it is."""
    found: list[Option] = []
    total = sum(line.span.likely for line in bench.lines) or 1.0
    main, is_sweet = main_lines(bench), taste_of(bench) == "sweet"
    reads = _Reads(bench, wish, _methods_for(bench), is_wide)
    for position, line in enumerate(bench.lines):
        jobs = bench.jobs_of(position)
        weight = max((weight_of(job) for job in jobs), default=1.5)
        scale = weight * (0.35 + min(line.span.likely / total * 3, 1.0)) * (FELT_TWICE if position in main else 1.0)
        if jobs and jobs[0] in SEASONS:  # a spoonful of it is the taste of the pot
            scale = max(scale, weight * LEAST_SEASONING)
        if is_sweet and jobs[:1] == ("sweet",):
            scale *= HALF_FELT
        if position in wish.pinned or not line.is_weighed:
            found.append(make_option(bench, position, "kept", NOTHING, [line], (1.0, 1.0), 0.0))
            continue
        is_out = bool(bench.kept_out_of([line]))
        if not is_out:
            span = _amounts(bench, wish, position, is_wide)
            if position in main and not is_wide:
                span = (max(span[0], LEAST_OF_MAIN), max(span[1], LEAST_OF_MAIN))
            felt = scale * (LESS_OF_IT if position in main else 1.0)
            kept = make_option(bench, position, "kept", NOTHING, [line], span, 0.0, felt)
            kept.is_salt = bool(pattern("pure_salt").search(description_of(line)))
            kept.lever = "less salt" if jobs[:1] == ("salty",) else f"{position}"
            found.append(kept)
        swaps = list(reads.options(position, scale, is_out, position in main))
        found += swaps
        is_minor = line.span.likely < MINOR * total
        if is_out and (is_minor or not swaps) and position not in main and not set(jobs) & STRUCTURE:
            # Nothing stands in for what a plan keeps out, or it is a sprinkling: the dish can do without it.
            cost = COST_CHANGE + (COST_DISTANCE / 3 if is_minor else COST_DISTANCE) * scale
            text = note("swaps.offer_drop", food=line.food_id)
            found.append(make_option(bench, position, "drop", text, (), (0.0, 0.0), cost, scale))
    return found if wish.one_pot else found + beside(bench, len(bench.lines), wish)


def for_more(options: Iterable[Option], bench: Workbench, factor: float, wish: Wish) -> list[Option]:
    """The same options when the pot serves so many times as many; sides are of a serving, and reckoned anew. `bench`: with
    the new number of servings."""
    found = [
        replace(option, least=option.least / factor, amount=option.amount / factor, most=option.most / factor)
        for option in options
        if option.line < len(bench.lines)
    ]
    return found if wish.one_pot else found + beside(bench, len(bench.lines), wish)


def _amounts(bench: Workbench, wish: Wish, position: int, is_wide: bool) -> tuple[float, float]:
    """How much of the line there may be, as shares of what is written."""
    jobs, line = bench.jobs_of(position), bench.lines[position]
    low, high = (WIDE if is_wide else STRICT).get(
        jobs[0] if jobs else "", ORDINARY_WIDE if is_wide else ORDINARY_STRICT
    )
    asks_for_protein = any(v.gate.nutrient == "protein_g" and v.gate.low and v.state != OPEN for v in bench.verdicts)
    if (bench.fortifies and jobs[:1] != ("salty",)) or (asks_for_protein and jobs[:1] == ("protein",)):
        high = max(high, FORTIFIED)
    floor = max(wish.at_least.get(position, 0.0), LEAST_LIQUID if _is_liquid(line) else 0.0)
    return max(low, floor), max(high, floor)


@dataclass(frozen=True, slots=True)
class _Reads:
    """The offers of a line as options: which may be taken at all, and what each is felt like."""

    bench: Workbench
    wish: Wish
    methods: set[str]
    is_wide: bool

    def options(self, position: int, scale: float, is_out: bool, is_main: bool) -> Iterable[Option]:
        bench, wish = self.bench, self.wish
        is_named = position in named_lines(bench)
        least = FAR if is_main else 0.0 if self.is_wide else LEAST_CLOSE
        if position not in bench.offered:
            bench.offered[position] = offers_for(bench, position, MOST_OFFERS_A_LINE)
        for offer in bench.offered[position].offers:
            is_state = offer.kind == "state"
            if offer.kind in ("less", "more") or (not is_state and wish.at_least.get(position)):
                continue
            if is_state and offer.id not in self.methods:
                continue
            if any(not wish.lets_in(food_id, bench) for food_id, _ in offer.to):
                continue
            if not is_out and not is_state and offer.closeness < least:
                continue
            if is_named and not is_out and not is_state and not self._keeps_its_name(position, offer):
                continue
            if offer.id.startswith("fortify") and not bench.fortifies:
                continue
            is_odd = is_state and offer.id in ODD.get(bench.kind, ())
            if not is_state and any(clashes(bench, position, line) for line in new_of(bench, position, offer)):
                is_odd = True
            if (is_odd or _is_for_others(offer, bench)) and not (is_state or is_out or self.is_wide):
                continue
            yield self._option(position, offer, scale, is_out, is_odd)

    def _keeps_its_name(self, position: int, offer: Offer) -> bool:
        """Whether what the title promises is still there, under its name or as what everybody takes for it."""
        now = {word for line in offer.lines if line.is_edited for word in normalized(name_of(line)).split()}
        promised = _title_words(self.bench) & set(normalized(name_of(self.bench.lines[position])).split())
        return offer.closeness >= (NEARLY if self.is_wide else SAME) or bool(promised & now)

    def _option(self, position: int, offer: Offer, scale: float, is_out: bool, is_odd: bool) -> Option:
        bench, new = self.bench, new_of(self.bench, position, offer)
        count = len(new)
        felt = COST_STATE if offer.kind == "state" else COST_DISTANCE * (1 - offer.closeness) * min(scale, MOST_FELT)
        work = COST_EXOTIC * offer.exotic + COST_MINUTE * offer.minutes + COST_ITEM * max(count - 1, 0)
        cost = COST_CHANGE + felt + work + COST_WARNING * len(offer.warnings)
        if not is_out and not _mends(offer, bench):
            cost += COST_BALLAST
        if _is_for_others(offer, bench):
            cost += COST_FOR_OTHERS
        if is_odd:
            cost += COST_CLASH
        is_spoonful = bench.lines[position].span.likely < A_SPOONFUL * sum(line.span.likely for line in bench.lines)
        near = SALTY_RATIO if offer.job in SEASONS and count == 1 and is_spoonful else NEAR_RATIO
        near = (LEAST_LIQUID, 1.0) if _is_liquid(bench.lines[position]) else near
        span = (0.0, 0.0) if offer.kind == "drop" else near if offer.kind == "swap" else (1.0, 1.0)
        option = make_option(bench, position, offer.kind, offer.text, new, span, cost, scale)
        option.lever = f"{position} {offer.id}" if is_out else f"{position} {offer.kind}"
        option.eases = any(_eases(bench, line) for line in new)
        option.minutes = offer.minutes
        return option


def new_of(bench: Workbench, position: int, offer: Offer) -> tuple[Line, ...]:
    """What stands in the place of a line when an offer is taken."""
    return offer.lines[position : position + len(offer.lines) - len(bench.lines) + 1]


def _mends(offer: Offer, bench: Workbench) -> bool:
    """Whether it brings a gate nearer that is not open; more energy alone is ballast."""
    lifts = bench.kept_out.intersection(offer.allergens_removed)
    return bool(lifts) or any(_brings_nearer(effect) for effect in offer.effects)


def _brings_nearer(effect: Effect) -> bool:
    gate, before, after = effect.before.gate, effect.before, effect.after
    if before.state == OPEN:
        return False
    if gate.high and (isfinite(after.at_most) > isfinite(before.at_most)):
        return True
    less = gate.high and before.amount - after.amount >= LEAST_MENDED * gate.high.limit
    more = gate.low and after.amount - before.amount >= LEAST_MENDED * gate.low.limit
    return bool(less or (more and effect.nutrient != "energy_kcal"))


def _is_for_others(offer: Offer, bench: Workbench) -> bool:
    """Whether it is a product for a diet that is not this person's: gluten-free pasta where nobody asks for it."""
    if (
        bench.kept_out.intersection(offer.allergens_removed)
        or bench.kept_out & _SPECIAL_TAGS
        or _LOADS & {effect.nutrient for effect in offer.effects}
    ):
        return False
    special = pattern("special_food")
    return any(special.search(words_of(line)) for line in offer.lines if line.is_edited)


def _eases(bench: Workbench, line: Line) -> bool:
    """Whether it brings acid, spice or depth without salt."""
    if any(other.food_id == line.food_id for other in bench.lines):
        return False
    return bool(pattern("eases_salt").search(description_of(line)))


def _title_words(bench: Workbench) -> set[str]:
    """The words of the title that may name a food."""
    return {word for word in normalized(bench.dish.title).split() if not pattern("says_little").fullmatch(word)}


def _solid(bench: Workbench) -> list[int]:
    return [at for at, line in enumerate(bench.lines) if line.food_id and not _is_liquid(line)]


def named_lines(bench: Workbench) -> frozenset[int]:
    """The lines the title names."""
    title = _title_words(bench)
    return frozenset(at for at in _solid(bench) if title & set(normalized(name_of(bench.lines[at])).split()))


def main_lines(bench: Workbench) -> frozenset[int]:
    """The lines the title names, and the heaviest that is no liquid."""
    solid = _solid(bench)
    heaviest = max(solid, key=lambda at: bench.lines[at].span.likely, default=None)
    return named_lines(bench) | ({heaviest} if heaviest is not None else set())


def _is_liquid(line: Line) -> bool:
    """Stock, or water that is cooked with."""
    return bool(pattern("cooking_liquid").search(description_of(line)))


def _methods_for(bench: Workbench) -> set[str]:
    """What the kitchen may be asked to do for this eater: warmed in oil for FODMAP, boiled and poured off for minerals."""
    limited = {gate.nutrient for gate in bench.gates if gate.high}
    # What the steps are read to leave behind is said by a way too: that it is so is the cook's to do.
    read = {key for line in bench.lines for key, _ in line.left_open if methods()[key].left not in REFUSE}
    return read | {key for key in AUTOMATIC if key not in ONLY_FOR or ONLY_FOR[key] & limited}
