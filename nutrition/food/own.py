"""Foods from elsewhere than the table: a practice's own, products by their labels. They join as foods like any
other."""

import warnings
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from nutrition.food.derived import derive
from nutrition.food.nutrients import DERIVED_KEYS, INDEX, MEASURED_KEYS
from nutrition.food.table import RETIRED, Foods, rows_of, the_table

ORIGINS = ("own:", "label:")
#: Part and whole, in the order they bound each other.
PARTS = (
    ("saturated_fat_g", "fat_g"),
    ("fiber_g", "carbohydrate_g"),
    ("sugars_g", "carbohydrate_g"),
    ("added_sugars_g", "sugars_g"),
)


@dataclass(frozen=True, slots=True)
class OwnFood:
    """A food of one's own. `per_100g`: nutrient key -> amount in its unit; what is left out is unknown, never zero.
    What else is worked out (trans fat, polyols, lactose) may be stated too, and then counts first.

    `id` begins with "own:" or "label:". `category`: one of the table's, for what of it is not known. `spans`: nutrient ->
    (least, most) where a value is known only so well. `ingredients` and `may_contain`: as printed; where there is a list it
    speaks of allergens first. `measures`: "cup" -> grams, where its label says; `beyond`: nutrient -> what its additives may
    add, unknown, to what its kind holds. `is_retired`: kept for what was made with it, offered no more. Raises ValueError for another
    beginning of the id, an unknown nutrient, or a value below zero.
    """

    id: str
    description: str
    category: str
    source: str
    per_100g: Mapping[str, float] = field(default_factory=dict)
    confidence: str = "label"
    spans: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    ingredients: str = ""
    may_contain: str = ""
    is_retired: bool = False
    measures: Mapping[str, float] = field(default_factory=dict)
    beyond: Mapping[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        if not self.id.startswith(ORIGINS):
            raise ValueError(f"an id of {' or '.join(ORIGINS)} is expected, not {self.id!r}")
        for key, value in self.per_100g.items():
            if key not in INDEX:
                raise ValueError(f"no nutrient per 100 g is called {key!r}")
            if not 0 <= value < 1e6:
                raise ValueError(f"{value} cannot be what 100 g of {self.description} hold of {key}")


def with_own(own: Sequence[OwnFood], base: Foods | None = None) -> Foods:
    """The table with foods of one's own joined to it.

    What a label leaves out may be as much as the richest twentieth of its category holds (of everything, for a category
    the table does not know), as in the table itself.

    >>> bread = OwnFood("own:loaf", "Bread, low protein, own", "Baked Products", "label", {"protein_g": 0.6})
    >>> table = with_own([bread])
    >>> table.value("Bread, low protein, own", "protein_g"), bool(table.is_unknown[-1, INDEX["sodium_mg"]])
    (0.6, True)
    """
    base = base or the_table()
    if not own:
        return base
    values = np.full((len(own), len(MEASURED_KEYS)), np.nan)
    least, most = np.zeros_like(values), np.empty_like(values)
    categories = np.array(base.categories)
    for row, each in enumerate(own):
        measured_here = {key: value for key, value in each.per_100g.items() if key in MEASURED_KEYS}
        for key, value in measured_here.items():
            values[row, INDEX[key]] = least[row, INDEX[key]] = value
        kin = base.at_most_per_100g[categories == each.category, : len(MEASURED_KEYS)]
        kin = kin if len(kin) else base.at_most_per_100g[:, : len(MEASURED_KEYS)]
        most[row] = np.where(np.isnan(values[row]), np.nanpercentile(kin, 95, axis=0), values[row])
        for key, (low, high) in each.spans.items():
            if key in MEASURED_KEYS:
                least[row, INDEX[key]], most[row, INDEX[key]] = low, high
        for key, more in each.beyond.items():  # unknown, and more than its kind may hold
            most[row, INDEX[key]] += more
        for part, of in PARTS:  # what is not printed is never more than what it is a part of
            most[row, INDEX[part]] = min(most[row, INDEX[part]], most[row, INDEX[of]])
    text = rows_of(
        [
            {
                "id": each.id,
                "description": each.description,
                "category": each.category,
                "kind": RETIRED if each.is_retired else each.id.partition(":")[0],
                "source": each.source,
                "confidence": each.confidence,
            }
            for each in own
        ]
    )
    measured = Foods(text, values, least, most)
    with warnings.catch_warnings():
        warnings.simplefilter(
            "ignore", RuntimeWarning
        )  # of a column nobody knows for any of them there is no percentile
        columns = derive(measured, [each.ingredients for each in own], _said(own))
    rich = np.nanpercentile(base.at_most_per_100g[:, len(MEASURED_KEYS) :], 95, axis=0)
    columns = replace(columns, most=np.where(np.isnan(columns.most), rich, columns.most))
    whole = Foods(
        text,
        np.hstack([values, columns.amount]),
        np.hstack([measured.at_least_per_100g, columns.least]),
        np.hstack([most, columns.most]),
    )
    printed = {each.id: (each.ingredients, each.may_contain) for each in own if each.ingredients}
    found = base.joined(whole, printed)
    found.measures = {each.id: dict(each.measures) for each in own if each.measures}
    return found


def _said(own: Sequence[OwnFood]) -> dict[str, dict[int, tuple[float, float, float]]]:
    """What labels print of what is worked out otherwise: column -> row -> least, likely, most."""
    said: dict[str, dict[int, tuple[float, float, float]]] = {}
    for row, each in enumerate(own):
        for key in each.per_100g.keys() & set(DERIVED_KEYS):
            low, high = each.spans.get(key, (each.per_100g[key],) * 2)
            said.setdefault(key, {})[row] = (low, each.per_100g[key], high)
    return said
