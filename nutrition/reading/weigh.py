"""Measure or count -> grams, and by which rule.

Grams stated in the line win; then the food's own household measures (tables/household_weights.tsv:
exact description, then the longest pattern, then the category); each answer says which was used.
"""

import functools
import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from nutrition.dish.grams import Grams
from nutrition.dish.line import worst
from nutrition.food.measures import Measure, find_measure, grams_per_ml
from nutrition.food.names import normalized
from nutrition.food.table import Food
from nutrition.food.units import GRAMS, to_ml
from nutrition.notes import Note, note
from nutrition.reading.lines import Amount, ParsedLine, parse
from nutrition.tables import pattern, read_table, words_of

MOST_GRAMS = 50_000.0
#: What a drinking glass is filled with, least, likely, most (common practice).
GLASS_ML = Grams(150, 200, 250)
#: A scoop of ice cream or mash, and the one that lies in a tin of powder, which weighs so much a milliliter (common practice; the label decides).
SCOOP_ML, POWDER_SCOOP_ML, POWDER_PER_ML = Grams(60, 100, 140), Grams(30, 66, 100), Grams(0.3, 0.45, 0.6)
#: A heaped spoon or cup holds up to this much more than a level one (common practice).
HEAPED = 1.6
#: One of a kind or measure nobody knows weighs from a fiftieth (a bird chili beside a chili) to twice as much as the common one, and a
#: milliliter of what nobody measured from 0.1 g (leaves) to 1.5 g (syrup, sugar); common practice.
UNKNOWN_PIECE, UNKNOWN_ML = Grams(0.02, 1.0, 2.0), Grams(0.1, 1.0, 1.5)
#: "plus extra" of what is greased, dusted or sprinkled with: up to a spoon (common practice).
EXTRA_G = 7.0
#: Packages that a food may be sold in, each standing for the others where its own weight is not known.
_SOLD_IN = ("package", "packet", "bag", "tub", "box", "jar", "sachet", "block")
_LIKE_A_PACKAGE = frozenset((*_SOLD_IN, "pouch", "container", "pot", "envelope", "carton"))


@dataclass(frozen=True, slots=True)
class Weight:
    """Grams of a line; None where they cannot be told. `how`: weight, volume, count, package or none.

    `per_serving`: the grams are for one serving.
    """

    grams: Grams | None
    how: str
    rule: Note
    sure: str = "sure"
    per_serving: bool = False


NO_AMOUNT = Weight(None, "none", note("reading.no_amount"), "check")


def _first_word_of(line: ParsedLine, words: str) -> str:
    """The first word of the line that stands in a list of the vocabulary, as the list reads it."""
    known = words_of(words)
    said = re.findall(r"[a-z]+", f"{' '.join(line.names)} {line.preparation} {line.text}".lower())
    return next((known[word] for word in said if word in known), "")


def _size(line: ParsedLine) -> str:
    text = f"{line.size} {line.text}".lower().replace("extra-large", "extra large").replace("little", "small")
    said = [size for size in words_of("size") if re.search(rf"\b{size}s?\b", text)]
    return next((size for size in said if size in words_of("variety")), said[0] if said else "")


def _as_measured(measure: Measure) -> Note:
    code = "reading.class_average" if measure.is_average else "reading.measure"
    return note(code, name=measure.name, grams=measure.grams, source=measure.source)


def _times(one: float, amount: Amount, how: str, rule: Note, sure: str = "sure") -> Weight:
    return Weight(Grams.between(amount.low * one, amount.high * one), how, rule, sure)


@functools.cache
def _drained_shares() -> list[tuple[re.Pattern[str], float]]:
    return [(row.pattern("words", re.I), row.number("share")) for row in read_table("drained_shares.tsv")]


#: What is left of a can or jar of which no label is known (labels of canned goods and pickles, from memory).
DRAINED = Grams(0.5, 0.62, 0.8)
_WHOLE = Grams.exactly(1.0)


def _share_when_drained(line: ParsedLine, food: Food, first: Amount) -> Grams:
    """What is left of a package whose own weight is stated, where it is used drained."""
    text = line.text.lower()
    drained = pattern("says_drained").search(text) and not pattern("says_undrained").search(text)
    packed = first.kind == "package" or re.search(r"\b(cans?|tins?|jars?)\b", text)
    # A food that is only listed drained is what is left of the can, whether or not the words say so.
    if not packed or "drained weight" in text or not (drained or pattern("listed_drained").search(food.description)):
        return _WHOLE
    known = next((Grams.exactly(share) for words, share in _drained_shares() if words.search(food.description)), None)
    return known or (DRAINED if drained else _WHOLE)


def _drained_weight(line: ParsedLine) -> float | None:
    """What the tin says is left when it is drained: it wins over any share."""
    found = pattern("drained_weight").search(line.text)
    figure = found and next(each for each in found.groups() if each)
    return float(figure.replace(",", ".")) if figure else None


def stated(line: ParsedLine) -> Weight:
    """Grams or ounces in a line whose food nobody knows; none where it is measured or counted.

    >>> stated(parse("250 g moonfruit")).grams, stated(parse("2 moonfruits")).grams
    (Grams(least=250.0, likely=250.0, most=250.0), None)
    """
    return _stated(line, _NOTHING_KNOWN) or NO_AMOUNT


_NOTHING_KNOWN = Food("", "", "", "", "", "", -1)


def _stated(line: ParsedLine, food: Food) -> Weight | None:
    """Grams or ounces in the line itself, for all of it or for each piece."""
    weights = [a for a in line.amounts if a.kind == "weight"]
    if not weights:
        return None
    stated = next((a for a in weights if a.unit in ("g", "kg")), weights[0])
    first, times, how, rule = line.amounts[0], 1.0, "weight", note("reading.stated")
    if first.kind in ("package", "count") and first is not stated:
        how = "package" if first.kind == "package" else "weight"
        if stated.of_each:
            times = first.middle
            rule = note("reading.so_many_of", count=first.middle, size=stated.middle, unit=stated.unit)
    elif stated is not first and first.kind == "volume":
        rule = note("reading.stated_beside")
    share = _share_when_drained(line, food, first)
    if drained := _drained_weight(line):
        times = first.middle if first.kind == "package" and first is not stated else 1.0
        return Weight(Grams.exactly(drained * times), how, note("reading.drained_weight", grams=drained))
    if share is not _WHOLE:
        rule = note("reading.when_drained", rule=rule, share=share.likely)
    grams = (Grams.between(stated.low, stated.high) * (GRAMS[stated.unit] * times)).by(share)
    return Weight(grams, how, rule, "sure" if share is _WHOLE else "likely")


@dataclass(frozen=True, slots=True)
class _VagueAmount:
    """One row of vague_amounts.tsv: for these foods after this cue, so many of a unit, a line or a serving."""

    cue: str
    foods: re.Pattern[str]
    span: Grams
    unit: str
    per: str
    source: str


@functools.cache
def _vague_amounts() -> tuple[_VagueAmount, ...]:
    return tuple(
        _VagueAmount(
            row.text("cue"),
            row.pattern("foods"),
            Grams(row.number("low"), row.number("middle"), row.number("high")),
            row.one_of("unit", ("g", "ml", "tsp", "handful", "each")),
            row.one_of("per", ("line", "serving")),
            row.text("source"),
        )
        for row in read_table("vague_amounts.tsv")
    )


def _vague(cue: str, food: Food, amount: Amount | None) -> Weight | None:
    """A stated assumption for "a glug", "to taste" and their kin; None where no row is for this food."""
    row = next((each for each in _vague_amounts() if each.cue == cue and each.foods.search(food.description)), None)
    if row is None:
        return None
    unit = row.unit
    if unit == "g":
        one = 1.0
    elif unit in ("handful", "each"):
        found = find_measure(food, [unit])
        if not found:
            return None
        one = found.grams
    else:
        per_ml = grams_per_ml(food, unit)
        one = to_ml(1, unit) * (per_ml[0] if per_ml else 1.0)
    times = amount.middle if amount and cue != "few" else 1.0
    rule = note("reading.vague", cue=cue, span=tuple(row.span), unit=unit, per=row.per, source=row.source)
    sure = "check" if row.span.least == 0 and row.span.most > 0 else "likely"
    return Weight(row.span * (one * times), "count" if cue == "handful" else "none", rule, sure, row.per == "serving")


def _measure_names(amount: Amount, unit: str, line: ParsedLine) -> Sequence[str]:
    """What the tables may call so many of a unit, the most exact first."""
    size, form = _size(line), _first_word_of(line, "form")
    if unit == "each":
        sheet = ["sheet"] if re.search(r"\b(sheets?|lasagna noodles?)\b", line.text, re.I) else []
        return [*sheet, f"each {size}".strip(), f"each {form}".strip(), "each", "piece", "fillet"]
    if unit in ("tin", "can"):
        return [f"{unit} {size}".strip(), unit, "can", "tin"]
    if unit in _LIKE_A_PACKAGE:
        return [unit, *_SOLD_IN]
    return [f"{unit} {size}".strip(), f"{unit} {form}".strip(), unit]


def _counted(amount: Amount, line: ParsedLine, food: Food) -> Weight | None:
    unit = amount.unit
    piece = pattern("pieces").search(line.names[0]) if unit == "each" and line.names else None
    own = normalized(f"{piece[1]}s") if piece else ""
    if own and (own not in food.description.lower() or find_measure(food, [own])):
        unit = own
    found = find_measure(food, _measure_names(amount, unit, line))
    if found is None and unit in words_of("size"):
        found = find_measure(food, [f"each {unit}", "each"])
    if found is None and unit == "glass" and (per_ml := grams_per_ml(food)):
        rule = note("reading.glass", least=GLASS_ML.least, most=GLASS_ML.most)
        return Weight(GLASS_ML * (per_ml[0] * amount.middle), "count", rule, "likely")
    if found is None and unit == "scoop":
        return _by_scoop(amount, food)
    if found is None and unit not in ("each", "pinch", "dash") and amount.kind == "count":
        return _part_of_one(amount, unit, line, food)
    if found is None:
        return None
    is_package = amount.kind == "package"
    sure = "likely" if found.is_average or is_package else "sure"
    if found.is_average and unit == "each":
        # What one of a whole class weighs on an average says little of this one.
        return Weight(UNKNOWN_PIECE * (found.grams * amount.middle), "count", _as_measured(found), "check")
    if unit == "each" and (size := _size(line)) and size not in found.name.split():
        if size in words_of("variety") and size in food.description.lower():
            return _times(found.grams, amount, "count", _as_measured(found), sure)
        if size in words_of("variety"):
            rule = note("reading.no_weight_of_size", size=size)
            return Weight(UNKNOWN_PIECE * (found.grams * amount.middle), "count", rule, "check")
        sure = worst(sure, "likely")
    weight = _times(found.grams, amount, "package" if is_package else "count", _as_measured(found), sure)
    share = _share_of_can(unit, line, food)
    if share is _WHOLE or weight.grams is None:
        return weight
    return replace(
        weight,
        grams=weight.grams.by(share),
        rule=note("reading.when_drained", rule=weight.rule, share=share.likely),
        sure="likely",
    )


def _share_of_can(unit: str, line: ParsedLine, food: Food) -> Grams:
    """What is left of a can that is used drained, where the food is not listed as it comes out of the can: maybe the measure is of that."""
    is_drained = pattern("says_drained").search(line.text) and not pattern("says_undrained").search(line.text)
    if unit not in ("can", "tin", "jar") or not is_drained or "drained" in food.description.lower():
        return _WHOLE
    return Grams(DRAINED.least, DRAINED.likely, 1.0)


def _part_of_one(amount: Amount, unit: str, line: ParsedLine, food: Food) -> Weight | None:
    """A measure nobody knows for this food is no piece of it: a half or a quarter, else a guess, and shown as one."""
    one = find_measure(food, [f"each {_size(line)}".strip(), "each"])
    if one is None:
        return None
    if unit in ("half", "halve", "quarter"):
        share = 4 if unit == "quarter" else 2
        rule = note("reading.share_of_one", share=share, rule=_as_measured(one))
        return _times(one.grams / share, amount, "count", rule, "likely")
    if one.is_average:
        return None  # a scoop of ice cream is no piece of a sweet
    rule = note("reading.unknown_measure", unit=unit, rule=_as_measured(one))
    return Weight(UNKNOWN_PIECE * (one.grams * amount.middle), "count", rule, "check")


def _by_scoop(amount: Amount, food: Food) -> Weight:
    """Scoops of a food whose label nobody kept: of ice cream or mash, or the small one that lies in a tin of powder."""
    is_powder = pattern("scooped_powder").search(food.description)
    ml = POWDER_SCOOP_ML if is_powder else SCOOP_ML
    per_ml = grams_per_ml(food)
    if per_ml and not (is_powder and per_ml[1].is_average):
        grams = ml * per_ml[0]
    else:
        grams = ml.by(POWDER_PER_ML) if is_powder else ml
    return Weight(grams * amount.middle, "count", note("reading.scoop", least=ml.least, most=ml.most), "check")


def _by_volume(volume: Amount, line: ParsedLine, food: Food) -> Weight:
    ml = to_ml(1, volume.unit, line.kitchen)
    per_ml = grams_per_ml(food, volume.unit, _first_word_of(line, "form"))
    if per_ml is None:
        is_liquid = pattern("liquid").search(food.description)
        if is_liquid:
            return _times(ml, volume, "volume", note("reading.as_water"), "likely")
        return Weight(UNKNOWN_ML * (ml * volume.middle), "volume", note("reading.as_water"), "check")
    density, measure = per_ml
    return _times(ml * density, volume, "volume", _as_measured(measure), "likely" if measure.is_average else "sure")


def weigh(line: ParsedLine, food: Food) -> Weight:
    """Grams of a line as a span. Never zero for want of knowledge: `grams` is None then.

    Refuses nothing; impossible amounts (zero, negative, tons) come back with `sure` "check".
    """
    weight = _weigh(line, food)
    grams = weight.grams
    if grams is None:
        return weight
    if grams.likely <= 0 and "water" not in food.description.lower() and weight.how != "none":
        return Weight(None, "none", note("reading.zero"), "check")
    if more := _after_plus(line, food):
        grams = grams + more
        weight = replace(weight, grams=grams, rule=note("reading.and_more", rule=weight.rule, grams=more.likely))
    if grams.likely > MOST_GRAMS:
        return Weight(None, "none", note("reading.too_heavy", grams=grams.likely, most=MOST_GRAMS), "check")
    if weight.how == "volume" and re.search(r"\b(heap(ed|ing)|rounded)\b", line.text, re.I):
        grams = grams.by(Grams(1, (1 + HEAPED) / 2, HEAPED))
        return replace(weight, grams=grams, rule=note("reading.heaped", rule=weight.rule, times=HEAPED), sure="likely")
    if line.extra and not weight.per_serving:
        rule = note("reading.extra", rule=weight.rule, grams=EXTRA_G)
        return replace(weight, grams=grams + Grams(0.0, 0.0, EXTRA_G), rule=rule)
    return weight


def _after_plus(line: ParsedLine, food: Food) -> Grams | None:
    """ "1 cup flour plus 2 tbsp": what is added, in whatever unit; None where nothing more of the same is named."""
    found = pattern("plus_more").search(line.text)
    if (
        not found
        or len(line.amounts) > 1
        or (line.amounts[:1] and line.amounts[0].unit in ("ml", "g") and "plus" in line.text[:12])
    ):
        return None
    more = _weigh(parse(f"{found[1]} {line.names[0] if line.names else ''}", line.kitchen), food)
    return more.grams


#: Vague words that leave a count of whole pieces standing: "2 tomatoes, to serve".
_BESIDE_A_COUNT = ("to taste", "serving", "few", "frying", "greasing")


def _weigh(line: ParsedLine, food: Food) -> Weight:
    stated = _stated(line, food)
    if stated:
        return stated
    first = line.amounts[0] if line.amounts else None
    is_bare = first is None or (
        first.kind == "count" and (first.unit in line.vague or first.unit in ("each", "pinch", "dash"))
    )
    counts_pieces = first is not None and first.unit == "each" and line.vague in _BESIDE_A_COUNT
    if line.vague and is_bare and not counts_pieces and (vague := _vague(line.vague, food, first)):
        return vague
    if first is None:
        return _vague("no amount", food, None) or NO_AMOUNT
    volume = next((a for a in line.amounts if a.kind == "volume"), None)
    if first.kind == "package" and volume:
        per_ml = grams_per_ml(food, volume.unit)
        one = to_ml(volume.middle, volume.unit, line.kitchen) * (per_ml[0] if per_ml else 1.0)
        rule = note("reading.so_many_of", count=first.middle, size=volume.middle, unit=volume.unit)
        return _times(one, first, "package", rule)
    if volume:
        return _by_volume(volume, line, food)
    if first.unit in ("pinch", "dash"):
        return _vague(first.unit, food, first) or NO_AMOUNT
    counted = _counted(first, line, food)
    return counted or Weight(None, "none", note("reading.no_weight_of_one", unit=first.unit), "check")
