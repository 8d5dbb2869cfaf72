"""What one serving holds: one matrix product over the foods in memory, with intervals.

amount   = known values at the middle weight
at_least = least values at the low weight (measured values have no spread; derived ones do)
at_most  = ceilings (composition.at_most_per_100g) at the high weight; infinite when a line has no food or weight
A line to check is every food its words may mean at once: the least of the poorest, the most of the richest. One whose words may mean
something else altogether may be anything: nothing at the least, without end at the most.
What is eaten of a line (cooking.share_eaten) multiplies its values on each side.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from nutrition.dish.cooking import share_eaten
from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.food.nutrients import INDEX, KEYS
from nutrition.food.table import Foods, foods, using
from nutrition.reading.questions import is_in_question
from nutrition.reading.whole import whole_dish


@dataclass(frozen=True, slots=True)
class Analysis:
    """Per serving. Vectors in the order of nutrients.KEYS; `by_line` is (lines, nutrients) of known amounts.

    `unknown_by_line` marks where a line's own value is unknown; `unweighed` are positions (from 0) of
    lines without food or weight, or whose food is in question, which make every upper bound infinite.
    """

    amounts: np.ndarray
    at_least: np.ndarray
    at_most: np.ndarray
    by_line: np.ndarray
    unknown_by_line: np.ndarray
    unweighed: tuple[int, ...]
    serving_grams: float
    weight_share_known: np.ndarray

    def amount(self, key: str) -> float:
        return float(self.amounts[INDEX[key]])

    def interval(self, key: str) -> tuple[float, float]:
        """The least and the most one serving may hold; the most may be infinite."""
        return float(self.at_least[INDEX[key]]), float(self.at_most[INDEX[key]])

    def shares(self, key: str) -> np.ndarray:
        """Each line's part of the known amount, 0 to 1."""
        column = self.by_line[:, INDEX[key]]
        total = column.sum()
        return column / total if total else np.zeros_like(column)

    def unknown_lines(self, key: str) -> list[int]:
        """Positions of lines whose amount of this nutrient is not known."""
        own = np.flatnonzero(self.unknown_by_line[:, INDEX[key]]).tolist()
        return sorted({*own, *self.unweighed})

    def per_100g(self, key: str) -> float:
        """Per 100 g of the dish as weighed in (raw weights), zero for a dish without weight."""
        return 100 * self.amount(key) / self.serving_grams if self.serving_grams else 0.0


@dataclass(frozen=True, slots=True)
class Weighed:
    """The lines of a recipe as arrays: food rows and grams (3, lines) at low, middle, high.

    `in_question`: positions of lines that may be something else altogether; `may_be`: (position, food rows) of lines whose words leave open which of several foods they mean.
    `kept`: (position, (3, nutrients)) what is eaten of a line, least, likely, most; from cooking.share_eaten.
    """

    rows: np.ndarray
    grams: np.ndarray
    unweighed: tuple[int, ...]
    may_be: tuple[tuple[int, np.ndarray], ...] = ()
    in_question: tuple[int, ...] = ()
    kept: tuple[tuple[int, np.ndarray], ...] = ()

    def ceilings(self) -> np.ndarray:
        """(lines, nutrients): the most 100 g of each line may hold."""
        most = foods().at_most_per_100g
        found: np.ndarray = most[self.rows]
        for position, rows in self.may_be:
            found[position] = np.maximum(found[position], most[rows].max(axis=0))
        return found

    def floors(self) -> np.ndarray:
        """(lines, nutrients): the least 100 g of each line may hold."""
        least = foods().at_least_per_100g
        found: np.ndarray = least[self.rows]
        for position, rows in self.may_be:
            found[position] = np.minimum(found[position], least[rows].min(axis=0))
        found[list(self.in_question)] = 0.0
        return found

    @property
    def is_endless(self) -> bool:
        """Whether nobody can say how much there may be."""
        return bool(self.unweighed or self.in_question)

    def spans(self, serves: float) -> tuple[np.ndarray, np.ndarray]:
        """(lines, nutrients): the least and the most of each line in one serving; infinite where it has no food or weight."""
        share, least, most = self.grams / (100.0 * serves), self.floors(), self.ceilings()
        for position, left in self.kept:
            least[position] *= left[0]
            most[position] *= left[2]
        least, most = share[0][:, None] * least, share[2][:, None] * most
        most[[*self.unweighed, *self.in_question]] = np.inf
        return least, most


def weighed(lines: Sequence[Line]) -> Weighed:
    """Arrays of the lines; lines without food or weight stand with row 0 and zero grams and are listed."""
    table = foods()
    rows = table.rows([line.food_id for line in lines])
    missing = tuple(i for i, line in enumerate(lines) if rows[i] < 0 or line.weight is None)
    weights = [(w.least, w.likely, w.most) if (w := line.weight) else (0.0, 0.0, 0.0) for line in lines]
    grams = np.array(weights, dtype=np.float64).reshape(-1, 3).T
    if missing:
        grams = grams.copy()
        grams[:, list(missing)] = 0.0
    open_lines = [(i, table.rows(line.others)) for i, line in enumerate(lines) if line.sure == "check" and line.others]
    may_be = tuple((i, others[others >= 0]) for i, others in open_lines if (others >= 0).any())
    cooked = tuple(
        (i, eaten) for i, line in enumerate(lines) if rows[i] >= 0 and (eaten := share_eaten(line)) is not None
    )
    in_question = tuple(i for i, line in enumerate(lines) if i not in missing and is_in_question(line))
    return Weighed(np.maximum(rows, 0), grams, missing, may_be, in_question, cooked)


def analyze(dish: Dish, foods: Foods | None = None) -> Analysis:
    """One serving of a dish, with what its steps add. `foods`: other foods than the table that ships. Raises Problem when
    nobody said how many it serves."""
    with using(foods):
        return analyze_lines(whole_dish(dish).lines, dish.servings)


def analyze_lines(lines: Sequence[Line], serves: float) -> Analysis:
    """One serving of these lines. Raises ValueError when `serves` is not above zero."""
    return analyze_weighed(weighed(lines), serves)


def analyze_weighed(recipe: Weighed, serves: float) -> Analysis:
    """As `analyze_lines`, for a recipe already brought into arrays."""
    if not serves > 0:
        raise ValueError(f"servings must be above zero, not {serves}")
    table = foods()
    share = recipe.grams / (100.0 * serves)
    least, known, most = recipe.floors(), table.known[recipe.rows], recipe.ceilings()
    unknown = table.is_unknown[recipe.rows]
    for position, left in recipe.kept:
        least[position] *= left[0]
        known[position] *= left[1]
        most[position] *= left[2]
    amounts, at_least, at_most = share[1] @ known, share[0] @ least, share[2] @ most
    if recipe.is_endless:
        at_most = np.full(len(KEYS), np.inf)
    serving = float(share[1].sum() * 100)
    rests_on = 1 - (share[1] @ unknown) * 100 / serving if serving else np.zeros(len(KEYS))
    return Analysis(
        amounts=amounts,
        at_least=at_least,
        at_most=at_most,
        by_line=share[1][:, None] * known,
        unknown_by_line=unknown & (share[2] > 0)[:, None],
        unweighed=(*recipe.unweighed, *recipe.in_question),
        serving_grams=serving,
        weight_share_known=rests_on,
    )


def analyze_many(recipes: Sequence[Weighed], serves: Sequence[float]) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(at_least, amounts, at_most), each (recipes, nutrients), in one pass over all lines."""
    table = foods()
    counts = np.array([len(recipe.rows) for recipe in recipes])
    if not counts.all():
        raise ValueError("a recipe without lines cannot be analyzed")
    starts = np.concatenate(([0], np.cumsum(counts)[:-1]))
    rows = np.concatenate([recipe.rows for recipe in recipes])
    grams = np.concatenate([recipe.grams for recipe in recipes], axis=1)
    share = (grams / np.repeat(np.asarray(serves, dtype=float), counts) / 100.0).astype(np.float32)
    known, ceiling = table.known[rows], np.concatenate([recipe.ceilings() for recipe in recipes])
    least = np.concatenate([recipe.floors() for recipe in recipes])
    for start, recipe in zip(starts, recipes, strict=True):
        for position, kept_here in recipe.kept:
            for column, part in zip((least, known, ceiling), kept_here, strict=True):
                column[start + position] *= part
    low = np.add.reduceat(share[0][:, None] * least, starts, axis=0)
    middle = np.add.reduceat(share[1][:, None] * known, starts, axis=0)
    most = np.add.reduceat(share[2][:, None] * ceiling, starts, axis=0)
    most[[i for i, recipe in enumerate(recipes) if recipe.is_endless]] = np.inf
    return low, middle, most
