"""Measure or count -> grams, and by which rule.

Grams stated in the line win; then the food's own household measures (tables/household_weights.tsv:
exact description, then the longest pattern, then the category); each answer says which was used.
"""

import fnmatch
import functools
import re
from dataclasses import dataclass

from .composition import Food, read_table
from .lines import Amount, ParsedLine
from .units import GRAMS, ML, household, kitchen_number, to_ml

#: Small measures that are a share of a teaspoon when the food has no own figure for them.
_SPOONS = ("cup", "tbsp", "tsp", "fl oz")
_FORMS = [
    "chopped",
    "grated",
    "shredded",
    "sliced",
    "diced",
    "crumbled",
    "cubed",
    "mashed",
    "packed",
    "sifted",
    "ground",
    "slivered",
    "halves",
    "whipped",
    "shaved",
    "crushed",
    "crumbs",
    "cherry",
    "plum",
    "loose",
    "coarse",
    "cooked",
]
_FORM_OF = {"crumb": "crumbs", "half": "halves", "flaked": "sliced", "crumbled": "crumbled", "dice": "diced"}
_SIZES = (
    "extra large",
    "jumbo",
    "large",
    "medium",
    "small",
    "thick",
    "thin",
    "mini",
    "baby",
    "cherry",
    "plum",
    "half",
    "red",
)
#: What is left of a can after draining, where the line gives the can's own weight (labels, from memory).
DRAINED_SHARE = (
    (r"^(Beans|Chickpeas|Cowpeas)\b.*(drained)|^Lentils, mature seeds, cooked", 0.60),
    (r"^Fish, tuna", 0.75),
    (r"^Fish, salmon.*canned", 0.80),
    (r"^Corn, sweet, yellow, canned, whole kernel, drained", 0.66),
    (r"^(Mushrooms|Peas, green|Artichokes|Beans, snap).*(canned)", 0.60),
    (r"^Mung beans.*canned|^(Beets|Potatoes|Asparagus|Vegetables, mixed|Carrots|Spinach|Apricots|Pears).*canned", 0.62),
    (r"^Pineapple, canned|^Peaches, canned", 0.60),
)
MOST_GRAMS = 50_000.0
#: What a drinking glass is filled with, least, likely, most (common practice).
GLASS_ML = (150, 200, 250)
#: A heaped spoon or cup holds up to this much more than a level one (common practice).
HEAPED = 1.6


@dataclass(frozen=True, slots=True)
class Weight:
    """Grams as an interval. `how`: weight, volume, count, package or none; `per_serving`: grams are for one serving."""

    low: float
    grams: float | None
    high: float
    how: str
    rule: str
    sure: str = "sure"
    per_serving: bool = False


NONE = Weight(0.0, None, 0.0, "none", "no amount was read", "check")


@functools.cache
def _rows() -> tuple[dict[str, dict], list[tuple[str, re.Pattern, dict]], dict[str, dict]]:
    exact, patterns, categories = {}, [], {}
    for row in read_table("household_weights.tsv"):
        measures = {}
        for pair in row["measures"].split(";"):
            name, grams = pair.split("=")
            measures[name.strip()] = float(grams)
        entry = {"measures": measures, "food": row["food"], "source": row["source"]}
        if row["food"].startswith("category:"):
            categories[row["food"].removeprefix("category:")] = entry
        elif "*" in row["food"]:
            patterns.append((row["food"], re.compile(fnmatch.translate(row["food"]), re.I), entry))
        else:
            exact[row["food"].lower()] = entry
    patterns.sort(key=lambda item: -len(item[0]))
    return exact, patterns, categories


@functools.lru_cache(maxsize=8192)
def measures(description: str, category: str) -> tuple[dict, ...]:
    """The household measures that may serve a food, the most exact first."""
    exact, patterns, categories = _rows()
    found = [exact[description.lower()]] if description.lower() in exact else []
    found += [entry for _, pattern, entry in patterns if pattern.match(description)]
    if category in categories:
        found.append(categories[category])
    return tuple(found)


def _find(food: Food, names: list[str]) -> tuple[float, str] | None:
    for entry in measures(food.description, food.category):
        for name in names:
            if name in entry["measures"]:
                origin = "class average" if entry["food"].startswith("category:") else entry["source"]
                return entry["measures"][name], f"1 {name} = {entry['measures'][name]:g} g ({origin})"
    return None


def density(food: Food, form: str = "") -> tuple[float, str] | None:
    """Grams per milliliter in a form ("chopped"), and the rule; None when the food has no volume."""
    for entry in measures(food.description, food.category):
        origin = "class average" if entry["food"].startswith("category:") else entry["source"]
        for spoon in _SPOONS:
            for name in (f"{spoon} {form}".strip(), spoon):
                if name in entry["measures"]:
                    grams = entry["measures"][name]
                    return grams / ML[spoon], f"1 {name} = {grams:g} g ({origin})"
    return None


def _volume_density(food: Food, unit: str, form: str) -> tuple[float, str] | None:
    """Spoons of a food may be packed otherwise than cups: the nearest measure counts."""
    small = unit in ("tsp", "tbsp", "dsp", "dash", "pinch", "smidgen")
    order = (unit, "tsp", "tbsp", "cup") if small else (unit, "cup", "tbsp", "tsp")
    for entry in measures(food.description, food.category):
        origin = "class average" if entry["food"].startswith("category:") else entry["source"]
        for spoon in order:
            for name in (f"{spoon} {form}", spoon) if form else (spoon,):
                if name in entry["measures"] and spoon in ML:
                    return entry["measures"][name] / ML[spoon], f"1 {name} = {entry['measures'][name]:g} g ({origin})"
    return None


def _form(line: ParsedLine) -> str:
    words = re.findall(r"[a-z]+", f"{' '.join(line.names)} {line.preparation} {line.text}".lower())
    for word in words:
        word = _FORM_OF.get(word, word)
        if word in _FORMS:
            return word
    return ""


def _size(line: ParsedLine) -> str:
    text = f"{line.size} {line.text}".lower().replace("extra-large", "extra large").replace("little", "small")
    return next((size for size in _SIZES if re.search(rf"\b{size}\b", text)), "")


def _spread(weight_of_one: float, amount: Amount, how: str, rule: str, sure: str = "sure") -> Weight:
    low, high = amount.low * weight_of_one, amount.high * weight_of_one
    return Weight(low, (low + high) / 2, high, how, rule, sure)


def _stated(line: ParsedLine, food: Food) -> Weight | None:
    """Grams or ounces in the line itself, for all of it or for each piece."""
    weights = [a for a in line.amounts if a.kind == "weight"]
    if not weights:
        return None
    metric = next((a for a in weights if a.unit in ("g", "kg")), weights[0])
    one = GRAMS[metric.unit]
    first = line.amounts[0]
    times, how, rule = 1.0, "weight", "stated in the line"
    if first.kind in ("package", "count") and first is not metric:
        how = "package" if first.kind == "package" else "weight"
        if metric.of_each:
            times, rule = first.middle, f"{first.middle:g} of {metric.middle:g} {metric.unit}"
    elif metric is not first and first.kind == "volume":
        rule = "the weight stated beside the measure"
    share = 1.0
    drained = re.search(r"\bdrain|\brins", line.text, re.I) and not re.search(r"undrained|not drained", line.text, re.I)
    packed = first.kind == "package" or re.search(r"\b(cans?|tins?|jars?)\b", line.text, re.I)
    # A food that is only listed drained is what is left of the can, whether or not the words say so.
    is_drained_food = food.description.startswith("Fish, tuna") or re.search(
        r"canned, (.*drained|cooked)", food.description
    )
    if packed and (drained or is_drained_food) and "drained weight" not in line.text.lower():
        share = next((s for pattern, s in DRAINED_SHARE if re.search(pattern, food.description, re.I)), 1.0)
        if share < 1:
            rule += f"; about {share:.0%} is left when drained"
    sure = "sure" if share == 1 else "likely"
    low, high = metric.low * one * times * share, metric.high * one * times * share
    return Weight(low, (low + high) / 2, high, how, rule, sure)


def _vague(cue: str, line: ParsedLine, food: Food, amount: Amount | None) -> Weight | None:
    for row in read_vague():
        if row["cue"] != cue or not re.search(row["foods"], food.description):
            continue
        spans = [float(row[end]) for end in ("low", "middle", "high")]
        unit, times = row["unit"], amount.middle if amount and cue not in ("few",) else 1.0
        rule = f"“{cue}” taken as {spans[0]:g} to {spans[2]:g} {unit}, middle {spans[1]:g}, for each {row['per']} ({row['source']})"
        if unit == "g":
            one = 1.0
        elif unit in ("handful", "each"):
            found = _find(food, [unit, "each"] if unit == "each" else [unit])
            if not found:
                return None
            one = found[0]
        else:
            per_ml = _volume_density(food, unit, "")
            one = to_ml(1, unit) * (per_ml[0] if per_ml else 1.0)
        low, middle, high = (span * one * times for span in spans)
        sure = "check" if spans[0] == 0 and high > 0 else "likely"
        return Weight(low, middle, high, "none" if cue != "handful" else "count", rule, sure, row["per"] == "serving")
    return None


@functools.cache
def read_vague() -> list[dict[str, str]]:
    return read_table("vague_amounts.tsv")


#: Words that say a piece or a vessel and not a whole one of the food: "3 florets broccoli", "1 tray mushrooms".
_PIECES = re.compile(
    r"\b(floret|tray|plate|bowl|portion|serving|helping|spoonful|ladle|ladleful|scoop|medallion|joint|side|rack|crown|loin|wheel|"
    r"round|log|brick|lump|string|knuckle|measure|shot|nest|sprinkling|scattering|dusting|smear|dollop|chunk|cube|strip|"
    r"shaving|curl|ring|hal(?:f|ve)|quarter|segment|disc|baton|ribbon)s?\b",
    re.I,
)


def _counted(amount: Amount, line: ParsedLine, food: Food) -> Weight | None:
    size, form = _size(line), _form(line)
    unit = amount.unit
    piece = _PIECES.search(line.names[0]) if unit == "each" and line.names else None
    if piece and piece[1].lower() not in food.description.lower():
        unit = piece[1].lower()
    names = [f"{unit} {size}".strip(), f"{unit} {form}".strip(), unit]
    if unit == "each":
        sheet = ["sheet"] if re.search(r"\b(sheets?|lasagna noodles?)\b", line.text, re.I) else []
        names = [*sheet, f"each {size}".strip(), f"each {form}".strip(), "each", "piece", "fillet"]
    elif unit in ("tin", "can"):
        names = [f"{unit} {size}".strip(), unit, "can", "tin"]
    elif unit in (
        "package",
        "packet",
        "box",
        "bag",
        "pouch",
        "container",
        "pot",
        "tub",
        "sachet",
        "envelope",
        "carton",
        "block",
        "jar",
    ):
        names = [unit, "package", "packet", "bag", "tub", "box", "jar", "sachet", "block"]
    found = _find(food, names)
    if found is None and unit in _SIZES:
        found = _find(food, [f"each {unit}", "each"])
    if found is None and unit == "glass" and (per_ml := _volume_density(food, "cup", "")):
        low, middle, high = (ml * per_ml[0] * amount.middle for ml in GLASS_ML)
        return Weight(low, middle, high, "count", f"a glass taken as {GLASS_ML[0]} to {GLASS_ML[2]} ml", "likely")
    if found is None and unit not in ("each", "pinch", "dash") and amount.kind == "count":
        # A measure nobody knows for this food is no piece of it: a guess, and shown as one.
        one = _find(food, [f"each {size}".strip(), "each"])
        if one and unit in ("half", "halve", "quarter"):
            share = 4 if unit == "quarter" else 2
            return _spread(one[0] / share, amount, "count", f"1/{share} of one: {one[1]}", "likely")
        return one and _spread(one[0], amount, "count", f"no weight is known for 1 {unit}: {one[1]}", "check")
    if found is None:
        return None
    guess = "class average" in found[1] or amount.kind == "package"
    how = "package" if amount.kind == "package" else "count"
    return _spread(found[0], amount, how, found[1], "likely" if guess else "sure")


def _without_density(amount: Amount, line: ParsedLine) -> Weight:
    ml = to_ml(1, amount.unit, line.kitchen)
    return _spread(ml, amount, "volume", "no household measure known: weighed as water", "check")


def weigh(line: ParsedLine, food: Food) -> Weight:
    """Grams of a line as an interval. Never zero for want of knowledge: `grams` is None then.

    Refuses nothing; impossible amounts (zero, negative, tons) come back with `sure` "check".
    """
    weight = _weigh(line, food)
    if weight.grams is None:
        return weight
    if weight.grams <= 0 and "water" not in food.description.lower() and weight.how != "none":
        return Weight(0.0, None, 0.0, "none", "the amount read is zero or less", "check")
    if weight.grams > MOST_GRAMS:
        return Weight(
            0.0, None, 0.0, "none", f"{weight.grams:,.0f} g was read, more than {MOST_GRAMS / 1000:,.0f} kg", "check"
        )
    if weight.how == "volume" and re.search(r"\b(heap(ed|ing)|rounded)\b", line.text, re.I):
        middle, high = weight.grams * (1 + HEAPED) / 2, weight.high * HEAPED
        return Weight(weight.low, middle, high, "volume", f"{weight.rule}; heaped: up to {HEAPED:g} times", "likely")
    if line.extra and not weight.per_serving:
        return Weight(
            weight.low,
            weight.grams,
            weight.high + 7.0,
            weight.how,
            f"{weight.rule}; “extra” counted as up to 7 g",
            weight.sure,
        )
    return weight


def _weigh(line: ParsedLine, food: Food) -> Weight:
    stated = _stated(line, food)
    if stated:
        return stated
    first = line.amounts[0] if line.amounts else None
    if line.vague and (
        first is None
        or (first.kind == "count" and (first.unit in line.vague or first.unit in ("each", "pinch", "dash")))
    ):
        counted_one = (
            first is not None
            and first.unit == "each"
            and line.vague in ("to taste", "serving", "few", "frying", "greasing")
        )
        if not counted_one:
            vague = _vague(line.vague, line, food, first)
            if vague:
                return vague
    if first is None:
        return _vague("no amount", line, food, None) or NONE
    volume = next((a for a in line.amounts if a.kind == "volume"), None)
    if first.kind == "package" and volume:
        per_ml = _volume_density(food, volume.unit, "")
        one = to_ml(volume.middle, volume.unit, line.kitchen) * (per_ml[0] if per_ml else 1.0)
        return _spread(one, first, "package", f"{first.middle:g} of {volume.middle:g} {volume.unit}")
    if volume:
        per_ml = _volume_density(food, volume.unit, _form(line))
        if per_ml is None:
            return _without_density(volume, line)
        ml = to_ml(1, volume.unit, line.kitchen)
        return _spread(
            ml * per_ml[0], volume, "volume", per_ml[1], "likely" if "class average" in per_ml[1] else "sure"
        )
    if first.unit in ("pinch", "dash"):
        return _vague(first.unit, line, food, first) or NONE
    counted = _counted(first, line, food)
    if counted:
        return counted
    return Weight(0.0, None, 0.0, "none", f"no weight is known for 1 {first.unit} of this food", "check")


_COUNTED = frozenset(
    ("Vegetables and Vegetable Products", "Fruits and Fruit Juices", "Poultry Products", "Pork Products",
     "Beef Products", "Finfish and Shellfish Products", "Dairy and Egg Products", "Sausages and Luncheon Meats")
)  # fmt: skip


#: What no cook measures in cups.
_NOT_BY_CUP = frozenset(
    ("Beef Products", "Pork Products", "Poultry Products", "Baked Products", "Sausages and Luncheon Meats",
     "Finfish and Shellfish Products", "Lamb, Veal, and Game Products")
)  # fmt: skip
#: An eighth of a teaspoon, less what the eye allows; less than that is a pinch.
LEAST_SPOON_ML = 0.5


def _one_piece(food: Food) -> float | None:
    """Grams of one, where the food itself is counted; a class average counts nothing."""
    own = (e for e in measures(food.description, food.category) if not e["food"].startswith("category:"))
    return next((e["measures"]["each"] for e in own if "each" in e["measures"]), None)


def household_measure(food: Food, grams: float) -> str:
    """Grams in the measure a US cook would reach for; empty when the food has none.

    >>> from .composition import foods
    >>> household_measure(foods().by_description("Sugars, granulated"), 100)
    '½ cup'
    """
    loose = re.search(r"canned|frozen|juice|cooked|dried", food.description)
    one = _one_piece(food) if food.category in _COUNTED and not loose else None
    if one and one >= 15 and grams >= one / 2:
        return f"about {kitchen_number(round(2 * grams / one) / 2)}"
    per_ml = density(food)
    if per_ml is None or (food.category in _NOT_BY_CUP and "crumbs" not in food.description):
        return ""
    ml = grams / per_ml[0]
    return household(ml) if ml >= LEAST_SPOON_ML else "a pinch"
