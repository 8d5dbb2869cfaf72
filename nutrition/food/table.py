"""The food table: what 100 g of each food holds, where unknown is not zero; and the door foods come through.

`per_100g` has NaN where nobody measured; `at_most_per_100g` has, in those places, the most the food
is likely to hold (95th percentile of its category, never more than the whole it is part of) and the
measured value everywhere else; `at_least_per_100g` has the least. Built by tools/build_foods.py, the
derived columns by tools/build_derived.py; sources stand beside every food.

A food's id says where it is from: "usda:sr/salt-table", "curated:quark-low-fat", later "own:…" and "label:…".
Everything in the core asks `foods()`: the process-wide table, or the Foods given to the question being answered.
"""

import functools
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from pathlib import Path
from typing import Any, ParamSpec, TypeVar

import numpy as np
from numpy.typing import NDArray

from nutrition.food.nutrients import DERIVED_KEYS, INDEX, MEASURED_KEYS
from nutrition.tables import TABLES

Floats = NDArray[np.floating[Any]]
P = ParamSpec("P")
T = TypeVar("T")

#: The kind of a food that a later table lacks: it stays with its last known values and is not offered any more.
RETIRED = "Retired"
_FIELDS = ("ids", "descriptions", "categories", "kinds", "sources", "confidences")


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


class Foods:
    """Foods and their matrices, shape (foods, nutrients), per 100 g of edible part.

    `text`: the six texts of every food, in the order of Food. Missing derived columns: only measured ones are there.

    >>> round(float(foods().value("Salt, table", "sodium_mg")))
    38758
    """

    def __init__(self, text: dict[str, list[str]], per_100g: Floats, at_least: Floats, at_most: Floats):
        self.text = text
        self.ids, self.descriptions, self.categories = text["ids"], text["descriptions"], text["categories"]
        self.per_100g, self.at_least_per_100g, self.at_most_per_100g = per_100g, at_least, at_most
        self.is_unknown = np.isnan(per_100g)
        #: What is there for certain where the value itself is unknown: the least.
        self.known = np.where(self.is_unknown, at_least, per_100g)
        self._row_by_id = {id_: row for row, id_ in enumerate(self.ids)}
        # Of two foods of one name the first counts: no label takes the place of a food of the table by being called so.
        self._row_by_description = {
            self.descriptions[row].lower(): row
            for row in reversed(range(len(self.descriptions)))
            if self.text["kinds"][row] != RETIRED
        }
        #: What was worked out for these foods, by the function that did: see `remembered`.
        self.memory: dict[Callable[..., Any], dict[Any, Any]] = {}
        #: The foods these were joined to, whose rows come first; themselves where they stand alone.
        self.base = self
        #: Id -> the ingredient list and the line of traces, as a label prints them.
        self.printed: dict[str, tuple[str, str]] = {}
        #: Id -> grams of a household measure, as a label gives its serving.
        self.measures: dict[str, dict[str, float]] = {}

    @classmethod
    def load(cls, path: Path, derived: Path | None = None) -> "Foods":
        """The table as built. Raises ValueError when it was built for other nutrients or foods."""
        with np.load(path) as data:
            if tuple(data["keys"]) != MEASURED_KEYS:
                raise ValueError(f"{path.name} was built for other nutrients; run tools/build_foods.py")
            per_100g, most, sides = data["per_100g"], data["at_most_per_100g"], data["least"]
            text = {name: data[name].tobytes().decode().split("\n") for name in _FIELDS}
        # A known value is its own least, but where makers differ; of an unknown one there may be nothing.
        least = np.nan_to_num(per_100g, nan=0.0)
        least[sides[:, 0].astype(int), sides[:, 1].astype(int)] = sides[:, 2]
        if derived:
            with np.load(derived) as data:
                if tuple(data["keys"]) != DERIVED_KEYS or len(data["amount"]) != len(per_100g):
                    raise ValueError(f"{derived.name} was built for other foods; run tools/build_derived.py")
                per_100g = np.hstack([per_100g, data["amount"]])
                least, most = np.hstack([least, data["least"]]), np.hstack([most, data["most"]])
        return cls(text, per_100g, least, most)

    def joined(self, other: "Foods", printed: dict[str, tuple[str, str]] | None = None) -> "Foods":
        """These foods and others in one: the matrix stays one product. Of two foods of one id, the other's counts."""
        text = {name: [*self.text[name], *other.text[name]] for name in _FIELDS}
        pairs = ("per_100g", "at_least_per_100g", "at_most_per_100g")
        whole = Foods(text, *(np.vstack([getattr(self, name), getattr(other, name)]) for name in pairs))
        whole.base, whole.printed = self.base, self.printed | (printed or {})
        return whole

    def __len__(self) -> int:
        return len(self.ids)

    def food(self, row: int) -> Food:
        food_id, description, category, kind, source, confidence = (self.text[field][row] for field in _FIELDS)
        return Food(food_id, description, category, kind, source, confidence, row)

    def by_id(self, food_id: str) -> Food:
        """Raises KeyError when no food has this id."""
        return self.food(self._row_by_id[current_id(food_id)])

    def description(self, food_id: str) -> str:
        """Raises KeyError when no food has this id."""
        return self.descriptions[self._row_by_id[current_id(food_id)]]

    def by_description(self, description: str) -> Food:
        """Case does not matter. Raises KeyError when no food is called this."""
        return self.food(self._row_by_description[description.lower()])

    def has(self, description: str) -> bool:
        return description.lower() in self._row_by_description

    def has_id(self, food_id: str) -> bool:
        return current_id(food_id) in self._row_by_id

    def rows(self, food_ids: Iterable[str | None]) -> NDArray[np.intp]:
        """Rows of the given ids; -1 where there is none."""
        return np.array([self._row_by_id.get(food_id or "", -1) for food_id in food_ids], dtype=np.intp)

    def value(self, description: str, key: str) -> float:
        """Per 100 g; NaN when unknown."""
        return float(self.per_100g[self._row_by_description[description.lower()], INDEX[key]])


#: Where ids of older versions come from.
_OLDER = ("sr/", "fndds/", "foundation/")


def current_id(food_id: str) -> str:
    """An id as it is written now; ids of older versions did not say "usda:" or stood behind a slash.

    >>> current_id("sr/salt-table"), current_id("curated/quark-low-fat"), current_id("usda:sr/salt-table")
    ('usda:sr/salt-table', 'curated:quark-low-fat', 'usda:sr/salt-table')
    """
    if food_id.startswith("curated/"):
        return f"curated:{food_id.removeprefix('curated/')}"
    return f"usda:{food_id}" if food_id.startswith(_OLDER) else food_id


@functools.cache
def the_table() -> Foods:
    """The table that ships, read once a process."""
    return Foods.load(TABLES / "foods.npz", TABLES / "derived.npz")


#: Foods given to the question at hand; or how to come by them, asked at the first need.
_in_use: ContextVar[Foods | Callable[[], Foods] | None] = ContextVar("foods_in_use", default=None)


def foods() -> Foods:
    """The foods the question at hand is about: the process-wide table unless others were given."""
    given = _in_use.get()
    if given is None:
        return the_table()
    return given if isinstance(given, Foods) else given()


@contextmanager
def using_when_asked(these: Callable[[], Foods]) -> Iterator[None]:
    """Answer everything inside the block from the foods this gives; it is asked at every need, and has to be quick."""
    token = _in_use.set(these)
    try:
        yield
    finally:
        _in_use.reset(token)


@contextmanager
def using(these: Foods | None) -> Iterator[Foods]:
    """Answer everything inside the block from these foods; None: from those in use."""
    if these is None:
        yield foods()
        return
    token = _in_use.set(these)
    try:
        yield these
    finally:
        _in_use.reset(token)


def remembered(worker: Callable[P, T]) -> Callable[P, T]:
    """Work out once for the foods in use: as functools.cache, but own foods keep what is theirs to themselves."""
    return _once(worker, foods)


def remembered_of_table(worker: Callable[P, T]) -> Callable[P, T]:
    """Work out once for the table that own foods are joined to: for what no own food has a part in."""
    return _once(worker, lambda: foods().base)


def _once(worker: Callable[P, T], whose: Callable[[], Foods]) -> Callable[P, T]:
    @functools.wraps(worker)
    def found(*args: P.args, **kwargs: P.kwargs) -> T:
        kept = whose().memory
        memory: dict[Any, T] | None = kept.get(worker)
        if memory is None:
            memory = kept.setdefault(worker, {})
        asked = (args, *sorted(kwargs.items())) if kwargs else args
        try:
            return memory[asked]
        except KeyError:
            value = memory[asked] = worker(*args, **kwargs)
            return value

    return found


def rows_of(texts: Sequence[dict[str, str]]) -> dict[str, list[str]]:
    """The six texts of foods that come from elsewhere, column by column."""
    return {
        name: [row[name.removesuffix("s") if name != "categories" else "category"] for row in texts] for name in _FIELDS
    }
