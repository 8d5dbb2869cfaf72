"""The food table: what 100 g of each food holds, where unknown is not zero.

`per_100g` has NaN where nobody measured; `at_most_per_100g` has, in those places, the most the food
is likely to hold (95th percentile of its category, never more than the whole it is part of) and the
measured value everywhere else; `at_least_per_100g` has the least. Built by tools/build_foods.py, the
derived columns by tools/build_derived.py; sources stand beside every food.
"""

import functools
import re
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from .nutrients import DERIVED_KEYS, INDEX, MEASURED_KEYS

TABLES = Path(__file__).parent / "tables"


@dataclass(frozen=True, slots=True)
class Food:
    """One food of the table. `id` is stable across builds; `row` is its place in the arrays."""

    id: str
    description: str
    category: str
    kind: str
    source: str
    confidence: str
    row: int


class FoodTable:
    """Foods and their two matrices, shape (foods, nutrients), per 100 g of edible part.

    >>> table = foods()
    >>> round(float(table.value("Salt, table", "sodium_mg")))
    38758
    """

    def __init__(self, path: Path, derived: Path | None = None):
        with np.load(path) as data:
            if tuple(data["keys"]) != MEASURED_KEYS:
                raise ValueError(f"{path.name} was built for other nutrients; run tools/build_foods.py")
            self.per_100g: np.ndarray = data["per_100g"]
            self.at_most_per_100g: np.ndarray = data["at_most_per_100g"]
            self._text = {
                name: data[name].tobytes().decode().split("\n")
                for name in ("ids", "descriptions", "categories", "kinds", "sources", "confidences")
            }
        self.ids: list[str] = self._text["ids"]
        self.descriptions: list[str] = self._text["descriptions"]
        self.categories: list[str] = self._text["categories"]
        self._row_by_id = {id_: row for row, id_ in enumerate(self.ids)}
        self._row_by_description = {text.lower(): row for row, text in enumerate(self.descriptions)}
        least = np.nan_to_num(self.per_100g, nan=0.0)
        if derived:
            least = self._join(derived, least)
        self.at_least_per_100g = least
        self.is_unknown = np.isnan(self.per_100g)
        #: What is there for certain where the value itself is unknown: the least.
        self.known = np.where(self.is_unknown, least, self.per_100g)

    def _join(self, path: Path, least: np.ndarray) -> np.ndarray:
        """Set the derived columns beside the measured ones."""
        with np.load(path) as data:
            if tuple(data["keys"]) != DERIVED_KEYS or len(data["amount"]) != len(self.per_100g):
                raise ValueError(f"{path.name} was built for other foods; run tools/build_derived.py")
            self.per_100g = np.hstack([self.per_100g, data["amount"]])
            self.at_most_per_100g = np.hstack([self.at_most_per_100g, data["most"]])
            return np.hstack([least, data["least"]])

    def __len__(self) -> int:
        return len(self.ids)

    def food(self, row: int) -> Food:
        fields = ("ids", "descriptions", "categories", "kinds", "sources", "confidences")
        return Food(*(self._text[field][row] for field in fields), row)

    def by_id(self, food_id: str) -> Food:
        """Raises KeyError when no food has this id."""
        return self.food(self._row_by_id[food_id])

    def by_description(self, description: str) -> Food:
        """Case does not matter. Raises KeyError when no food is called this."""
        return self.food(self._row_by_description[description.lower()])

    def has(self, description: str) -> bool:
        return description.lower() in self._row_by_description

    def rows(self, food_ids) -> np.ndarray:
        """Rows of the given ids; -1 where there is none."""
        return np.array([self._row_by_id.get(food_id, -1) for food_id in food_ids], dtype=np.intp)

    def value(self, description: str, key: str) -> float:
        """Per 100 g; NaN when unknown."""
        return float(self.per_100g[self._row_by_description[description.lower()], INDEX[key]])


_FINE_PRINT = re.compile(
    r"^(raw|includes skin|all commercial varieties|mature seeds|(un)?enriched|bleached|regular|red|ripe|year round average|"
    r"packed in tomato juice|with skin|choice|boneless|separable lean and fat|salad or cooking|all types|meat only|"
    r"broilers? or fryers|domesticated|pasteurized|unprepared|prepared with calcium sulfate|ready-to-serve|"
    r"double-acting|not fortified|without added ascorbic acid)$",
    re.I,
)


def plain_name(description: str) -> str:
    """A description without the table's fine print; never empty.

    >>> plain_name("Squash, summer, zucchini, includes skin, raw")
    'Squash, summer, zucchini'
    """
    first, *rest = re.sub(r" \([^)]*\)", "", description).split(", ")
    return ", ".join([first, *(part for part in rest if not _FINE_PRINT.match(part))][:4])


@functools.cache
def foods() -> FoodTable:
    """The table, read once a process."""
    return FoodTable(TABLES / "foods.npz", TABLES / "derived.npz")


def read_table(name: str) -> list[dict[str, str]]:
    """Rows of a tab-separated table under tables/ ("#" lines are its header)."""
    lines = (TABLES / name).read_text(encoding="utf-8").splitlines()
    rows = [line.split("\t") for line in lines if line.strip() and not line.startswith("#")]
    header, body = rows[0], rows[1:]
    return [dict(zip(header, row, strict=True)) for row in body]
