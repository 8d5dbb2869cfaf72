"""Which of these jars? The same line with one product or another, beside each other."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.food.table import Food, foods
from nutrition.limits.avoid import Finding, find
from nutrition.limits.eater import Eater
from nutrition.notes import NOTHING
from nutrition.reading.whole import whole_dish
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.verdicts import OPEN, SHUT, Verdict, judge


@dataclass(frozen=True, slots=True)
class Jar:
    """One product on the line. `per_serving`: nutrient -> what it brings to one serving of the dish."""

    food: Food
    verdicts: tuple[Verdict, ...]
    per_serving: dict[str, float]
    allergens: tuple[Finding, ...]

    @property
    def opens(self) -> int:
        return sum(verdict.state == OPEN for verdict in self.verdicts)

    @property
    def shuts(self) -> int:
        return sum(verdict.state == SHUT for verdict in self.verdicts)


def jars(dish: Dish, position: int, eater: Eater, food_ids: Sequence[str], meal: str = "dinner") -> list[Jar]:
    """The dish with each food on one line at the same weight; those that shut fewest gates first.

    Raises KeyError for a food that is not among those in use, IndexError for a line that is not there.
    """
    dish = whole_dish(dish)
    found, gates = [], eater.gates(meal)
    for food_id in food_ids:
        line = _with(dish.lines[position], food_id)
        lines = (*dish.lines[:position], line, *dish.lines[position + 1 :])
        analysis = analyze_lines(lines, dish.servings)
        verdicts = judge(gates, analysis)
        brings = analyze_lines([line], dish.servings)
        found.append(
            Jar(
                foods().by_id(food_id),
                tuple(verdicts),
                {verdict.gate.nutrient: brings.amount(verdict.gate.nutrient) for verdict in verdicts},
                tuple(find([line], allergen_list=eater.allergen_list)),
            )
        )
    return sorted(found, key=lambda jar: (jar.shuts, -jar.opens))


def _with(line: Line, food_id: str) -> Line:
    is_same = food_id == line.food_id
    return line if is_same else replace(line, food_id=food_id, sure="sure", ask=NOTHING, others=(), words_hold=False)
