"""Columns worked out from the measured ones: each food's least, likely and most per 100 g.

Unknown stays unknown (NaN in `amount`); then `least` and `most` still bound it. Rules and sources:

fats                     fats.py: mono, poly, omega-3, omega-6, trans by what the fat is of
polyols, allulose        sweeteners.py, and what each school counts of a carbohydrate
available carbohydrate   carbohydrate by difference less fiber (FAO/INFOODS CHOAVLDF), erythritol and allulose
net carbohydrate         the same less half of the other polyols (common practice)
absorbed phosphorus      plants 20 to 40 %, animal foods 40 to 60 %, additives over 90 % (Kalantar-Zadeh 2010)
phenylalanine            mg a gram of protein by food group: fruit 30, vegetables 38, others 50 (UK practice: 1 exchange
                         = 1 g protein = 50 mg), with the range of each group
counted protein          protein, less that of plain fruit and vegetables of at most 75 mg phenylalanine in 100 g
                         (MacDonald et al. 2011, Orphanet J Rare Dis 6; UK practice)
lactose                  tables/lactose.tsv; none in foods without milk
alcohol                  energy that protein, fat and carbohydrate leave over, at 7 kcal/g (21 CFR 101.9, Atwater)
water                    what protein, fat, carbohydrate by difference, alcohol and ash leave of 100 g (FAO/INFOODS);
                         ash from the minerals that are measured
fluid                    the water of what is liquid at room temperature: drinks, milk, broth, soup, ices, gelatin
                         desserts (common practice of fluid limits)
FODMAP loads             tables/fodmap.tsv, grams over the cut-off of one sitting (Varney et al. 2017)
All from memory of the documents named.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from nutrition.food.fats import fat_parts
from nutrition.food.made_of import SEVERAL_THINGS, SIMPLE, is_simple, made_of
from nutrition.food.nutrients import DERIVED_KEYS, INDEX
from nutrition.food.sweeteners import ALLULOSE, ERYTHRITOL, POLYOLS, sweeteners
from nutrition.food.sweeteners import KEYS as SWEETENERS
from nutrition.food.table import Foods
from nutrition.food.tags import CONTAINS
from nutrition.tables import Row, pattern, read_table

#: Grams a sitting (Varney et al. 2017, from memory). Fructose alone: for fresh fruit and vegetables with no other kind.
OLIGOSACCHARIDES_G = {"grain": 0.3, "legume": 0.3, "nut": 0.3}
OLIGOSACCHARIDES_OTHER_G = 0.2
FRUCTOSE_G, FRUCTOSE_ALONE_G, POLYOL_G, LACTOSE_G = 0.15, 0.4, 0.2, 1.0
#: Biological spread put on a content, by the confidence of its row (an assumption, stated).
SPREAD = {"high": (1.0, 1.0), "medium": (0.7, 1.4), "low": (0.5, 2.0)}
ABSORBED = {"plant": (0.2, 0.3, 0.4), "animal": (0.4, 0.5, 0.6), "additive": (0.9, 0.95, 1.0), "mixed": (0.2, 0.5, 1.0)}


@dataclass(frozen=True, slots=True)
class Columns:
    """Three arrays (foods, derived): NaN in `amount` where unknown."""

    least: np.ndarray
    amount: np.ndarray
    most: np.ndarray


def cut_off_g(row: Row, kind: str) -> float:
    """Grams of a food of fodmap.tsv that reach the cut-off of one kind; infinite when it holds none.

    >>> rye = {"group": "grain", "oligosaccharides_g": "1.2", "excess_fructose_g": "0", "sorbitol_g": "0", "mannitol_g": "0"}
    >>> round(cut_off_g(Row(rye), "oligosaccharides_g"))
    25
    """
    load = _load_per_100g(row, kind)
    return 100.0 / load if load else float("inf")


def _load_per_100g(row: Row, kind: str) -> float:
    content = row.number(kind)
    if kind == "oligosaccharides_g":
        return content / OLIGOSACCHARIDES_G.get(row["group"], OLIGOSACCHARIDES_OTHER_G)
    if kind == "excess_fructose_g":
        others = sum(row.number(other) for other in ("oligosaccharides_g", "sorbitol_g", "mannitol_g"))
        alone = row["group"] in ("fruit", "vegetable") and others <= 0.05
        return content / (FRUCTOSE_ALONE_G if alone else FRUCTOSE_G)
    return content / POLYOL_G


def spread_of(row: Row) -> tuple[float, float]:
    """How far below and above a value may lie that is known with the confidence of its row."""
    return SPREAD[row.one_of("confidence", SPREAD)]


def a_sitting_of(key: str) -> str:
    """What one sitting may hold of a FODMAP group, in grams; empty for everything else.

    >>> a_sitting_of("oligosaccharide_load"), a_sitting_of("sodium_mg")
    ('0.2 g, in grains, pulses and nuts 0.3 g', '')
    """
    return {
        "oligosaccharide_load": f"{OLIGOSACCHARIDES_OTHER_G:g} g, in grains, pulses and nuts {OLIGOSACCHARIDES_G['grain']:g} g",
        "fructose_load": f"{FRUCTOSE_G:g} g, in fruit and vegetables that hold no other group {FRUCTOSE_ALONE_G:g} g",
        "sorbitol_load": f"{POLYOL_G:g} g",
        "mannitol_load": f"{POLYOL_G:g} g",
    }.get(key, "")


#: Grams of ash for a gram of each element: sodium with its chlorine, the others as oxides. What is not measured of it
#: (chlorine with potassium, silica, carbonate) makes the real ash up to half as much again.
ASH_PER_G = {
    "sodium_mg": 2.54,
    "potassium_mg": 1.2,
    "phosphorus_mg": 2.29,
    "calcium_mg": 1.4,
    "magnesium_mg": 1.66,
}
ASH_SPREAD = (0.8, 1.5)
#: Vinegar's acid stands in no other column (21 CFR 525.825: at least 4 g in 100 ml).
VINEGAR_ACID_G = 5.0


FODMAP_KINDS = {
    "oligosaccharide_load": "oligosaccharides_g",
    "fructose_load": "excess_fructose_g",
    "sorbitol_load": "sorbitol_g",
    "mannitol_load": "mannitol_g",
}


def derive(
    table: Foods, lists: Sequence[str] = (), said: Mapping[str, Mapping[int, tuple[float, float, float]]] | None = None
) -> Columns:
    """Every derived column of a table that has the measured ones.

    `lists`: what labels print as ingredients, food by food. `said`: column -> row -> least, likely and most, where a label
    prints itself what else is worked out.
    """
    count, said = len(table), said or {}
    least, amount, most = (np.full((count, len(DERIVED_KEYS)), np.nan) for _ in range(3))
    for key, sides in (fat_parts(table) | sweeteners(table, lists)).items():
        column = DERIVED_KEYS.index(key)
        least[:, column], amount[:, column], most[:, column] = _as_said(sides, said.get(key, {}))
    sweet = {key: tuple(side[:, DERIVED_KEYS.index(key)] for side in (least, amount, most)) for key in SWEETENERS}
    available = _available(table, sweet)
    for key, sides in (("available_carbohydrate_g", available), ("net_carbohydrate_g", _net(available, sweet))):
        column = DERIVED_KEYS.index(key)
        least[:, column], amount[:, column], most[:, column] = sides
    for key, worker in (
        ("absorbed_phosphorus_mg", _absorbed),
        ("phenylalanine_mg", _phenylalanine),
        ("counted_protein_g", _counted_protein),
        ("lactose_g", _lactose),
        ("alcohol_g", _alcohol),
    ):
        column = DERIVED_KEYS.index(key)
        least[:, column], amount[:, column], most[:, column] = _as_said(worker(table), said.get(key, {}))
    alcohol = DERIVED_KEYS.index("alcohol_g")
    water = _water(table, *(side[:, alcohol] for side in (least, amount, most)))
    for key, sides in (("water_g", water), ("fluid_ml", _fluid(table, water))):
        column = DERIVED_KEYS.index(key)
        least[:, column], amount[:, column], most[:, column] = sides
    _fodmap(table, least, amount, most)
    return Columns(*(array.astype(np.float32) for array in (least, amount, most)))


def _as_said(sides, said):
    """The three sides with what labels print in the place of what was worked out."""
    for row, span in said.items():
        for side, value in zip(sides, span, strict=True):
            side[row] = value
    return sides


def _measured(table, key):
    """(known with NaN, most) of a measured nutrient."""
    return table.per_100g[:, INDEX[key]].astype(float), table.at_most_per_100g[:, INDEX[key]].astype(float)


def _water(table, alcohol_least, alcohol, alcohol_most):
    """What is left of 100 g. Unknown where one of protein, fat and carbohydrate is."""
    parts = [_measured(table, key) for key in ("protein_g", "fat_g", "carbohydrate_g")]
    ash = sum(np.nan_to_num(_measured(table, key)[0]) * grams / 1000 for key, grams in ASH_PER_G.items())
    acid = np.array([VINEGAR_ACID_G if "vinegar" in name.lower() else 0.0 for name in table.descriptions])
    solids = acid + sum(known for known, _ in parts)
    amount = 100 - solids - ash * 1.1 - np.nan_to_num(alcohol)
    solids_least = sum(np.nan_to_num(known) for known, _ in parts)
    solids_most = 1.4 * acid + sum(most for _, most in parts)
    most = 100 - solids_least - ash * ASH_SPREAD[0] - alcohol_least
    least = 100 - solids_most - ash * ASH_SPREAD[1] - np.nan_to_num(alcohol_most) - 0.5
    least, amount, most = (side.clip(0, 100) for side in (least, amount, most))
    return np.minimum(least, np.where(np.isnan(amount), least, amount)), amount, np.fmax(most, amount)


def _fluid(table, water):
    """The water of what is liquid at room temperature; nothing of the rest, unknown where nobody said what it is."""
    texts = [f"{name} [{category}]" for name, category in zip(table.descriptions, table.categories, strict=True)]
    counts = np.array([bool(pattern("fluid").search(text) and not pattern("no_fluid").search(text)) for text in texts])
    least, amount, most = (np.where(counts, side, 0.0) for side in water)
    is_open = np.array([not category for category in table.categories]) & ~counts
    return least, np.where(is_open, np.nan, amount), np.where(is_open, water[2], most)


def _available(table, sweet):
    """Carbohydrate less fiber, and less what the body does not use: erythritol and allulose."""
    carbohydrate, most = _measured(table, "carbohydrate_g")
    fiber, fiber_most = _measured(table, "fiber_g")
    unused_least, unused, unused_most = (sum(sides) for sides in zip(sweet[ERYTHRITOL], sweet[ALLULOSE], strict=True))
    amount = np.maximum(carbohydrate - fiber - unused, 0)
    least = table.at_least_per_100g[:, INDEX["carbohydrate_g"]].astype(float) - fiber_most - unused_most
    least = np.maximum(least, 0)
    most = (most - np.nan_to_num(fiber) - unused_least).clip(0)
    return np.fmin(least, amount), amount, np.fmax(most, amount)


def _net(available, sweet):
    """Available carbohydrate less half of the polyols that are used."""
    used = [sweet[POLYOLS][0] - sweet[ERYTHRITOL][2], sweet[POLYOLS][1] - sweet[ERYTHRITOL][1], sweet[POLYOLS][2]]
    least, amount, most = available
    amount = np.maximum(amount - used[1].clip(0) / 2, 0)
    least = np.maximum(least - used[2].clip(0) / 2, 0)
    most = np.maximum(most - used[0].clip(0) / 2, 0)
    return np.fmin(least, amount), amount, np.fmax(most, amount)


def phosphorus_class(description: str, category: str) -> str:
    """plant, animal, additive, or mixed where it cannot be told."""
    if pattern("phosphate_additive").search(description):
        return "additive"
    if pattern("mixed_categories").search(category) or pattern("may_hold_phosphate").search(description):
        return "mixed"
    if pattern("animal_categories").search(category):
        return "animal"
    return "plant" if pattern("plant_categories").search(category) else "mixed"


def _absorbed(table):
    phosphorus, most = _measured(table, "phosphorus_mg")
    parts = np.array(
        [ABSORBED[phosphorus_class(*pair)] for pair in zip(table.descriptions, table.categories, strict=True)]
    )
    return np.nan_to_num(phosphorus) * parts[:, 0], phosphorus * parts[:, 1], most * parts[:, 2]


#: Least, likely and most phenylalanine, mg a gram of protein. Potatoes, corn and pulses count as other food.
PHENYLALANINE = {"fruit": (20, 30, 40), "vegetable": (27, 38, 48), "other": (27, 50, 57)}
#: Up to so much in 100 g a plain fruit or vegetable is free.
FREE_PHENYLALANINE_MG = 75


def _plant_groups(table):
    """ "fruit", "vegetable" or "other" of every food; only what is one thing, raw or plainly cooked, is of the first two."""
    found = []
    for name, category in zip(table.descriptions, table.categories, strict=True):
        group = next(
            (each for each in ("fruit", "vegetable") if pattern(f"{each}_categories").search(category)), "other"
        )
        is_plain = group != "other" and not pattern("no_free_plant").search(name) and is_simple(name, category)
        found.append(group if is_plain else "other")
    return found


def _phenylalanine(table):
    protein, most = _measured(table, "protein_g")
    rates = np.array([PHENYLALANINE[group] for group in _plant_groups(table)], dtype=float)
    return np.nan_to_num(protein) * rates[:, 0], protein * rates[:, 1], most * rates[:, 2]


def _counted_protein(table):
    protein, most = _measured(table, "protein_g")
    groups = _plant_groups(table)
    highest = most * np.array([PHENYLALANINE[group][2] for group in groups])
    is_free = (np.array(groups) != "other") & ~np.isnan(protein) & (highest <= FREE_PHENYLALANINE_MG)
    return tuple(np.where(is_free, 0.0, side) for side in (np.nan_to_num(protein), protein, most))


def _first(rules, text):
    return next((row for pattern, row in rules if pattern.search(text)), None)


def _holds(table: Foods, row: int, tag: str) -> str:
    hits = made_of(table.descriptions[row], table.categories[row]).hits
    return next((hit.verdict for hit in hits if hit.tag == tag), "")


def lactose_rules() -> list[tuple[re.Pattern[str], tuple[float, float, float]]]:
    """Which foods, and their lactose in g per 100 g: least, likely, most; of lactose.tsv."""
    return [
        (
            row.pattern("words"),
            (row.number("least"), row.number("lactose_g"), max(row.number("most"), row.number("lactose_g"))),
        )
        for row in read_table("lactose.tsv")
    ]


def _lactose(table):
    rules = lactose_rules()
    least, amount, most = (np.zeros(len(table)) for _ in range(3))
    sugars_most = np.minimum(_measured(table, "sugars_g")[1], _measured(table, "carbohydrate_g")[1])
    for row, name in enumerate(table.descriptions):
        milk = _holds(table, row, "milk")
        if not milk:
            continue
        rule = (
            _first(rules, name.lower())
            if milk == CONTAINS and not pattern("mixed_categories").search(table.categories[row])
            else None
        )
        if rule:
            least[row], amount[row], most[row] = rule
        else:
            amount[row], most[row] = np.nan, sugars_most[row]
    return least, amount, most


def _alcohol(table):
    energy, _ = _measured(table, "energy_kcal")
    rest = sum(
        f * np.nan_to_num(_measured(table, k)[0]) for k, f in (("protein_g", 4), ("fat_g", 9), ("carbohydrate_g", 4))
    )
    amount = np.zeros(len(table))
    for row in range(len(table)):
        if _holds(table, row, "alcohol") == CONTAINS:
            left = (energy[row] - rest[row]) / 7
            amount[row] = left if np.isnan(left) or left > 0.5 else 0.0
    known = np.nan_to_num(amount)
    return known * 0.9, amount, np.where(np.isnan(amount), 45.0, known * 1.1)


def _is_told_by(rule, kinds: tuple[str, ...]) -> bool:
    """Whether what a row of fodmap.tsv says of a plant is told of a food of these kinds: not of a dip or a salad of it."""
    if rule["group"] in ("fruit", "vegetable"):
        return not {SEVERAL_THINGS, "dressing or dip", "sweet", "omelet or egg dish", "coat"} & set(kinds)
    return SEVERAL_THINGS not in kinds


def fodmap_rules() -> list[tuple[re.Pattern[str], Row]]:
    """Which plants, and their row of fodmap.tsv. Whole words: no port in imported, no rum in drumsticks."""
    return [
        (row.pattern("words", around=r"(?<![a-z])(?:{})(?:(?<=\W)|(?:s|es)?(?![a-z]))"), row)
        for row in read_table("fodmap.tsv")
    ]


def _fodmap(table, least, amount, most):
    rules = fodmap_rules()
    columns = {DERIVED_KEYS.index(key): kind for key, kind in FODMAP_KINDS.items()}
    for row, name in enumerate(table.descriptions):
        category = table.categories[row]
        kinds = made_of(name, category).kinds
        is_composed = pattern("composed_categories").search(category) or pattern("of_two_foods").search(name)
        rule = None if is_composed else _first(rules, name.lower())
        if rule and not _is_told_by(rule, kinds):
            rule = None
        if rule:
            low, high = spread_of(rule)
            for column, kind in columns.items():
                load = _load_per_100g(rule, kind)
                least[row, column], amount[row, column], most[row, column] = load * low, load, load * high
        elif pattern("no_fodmap_categories").search(category) and SIMPLE in kinds:
            least[row, list(columns)] = amount[row, list(columns)] = most[row, list(columns)] = 0.0
    for column in columns:
        unknown = np.isnan(amount[:, column])
        least[unknown, column] = 0.0
        most[unknown, column] = np.nanpercentile(amount[:, column], 95)
