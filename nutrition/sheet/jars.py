"""Which of these jars? The same line with one product or another, beside each other."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.food.table import Food, foods
from nutrition.limits.avoid import Finding, find
from nutrition.limits.eater import Eater
from nutrition.notes import NOTHING, Note, note
from nutrition.reading.edits import with_food
from nutrition.reading.whole import whole_dish
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.verdicts import OPEN, SHUT, UNSURE, Verdict, judge


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


def gates_by_answer(
    dish: Dish, position: int, eater: Eater, food_ids: Sequence[str], meal: str = "dinner"
) -> dict[str, Note]:
    """What each food a line may be does to the gates: those that then stand otherwise than they do with the line left open.

    Weighed as the words of the line weigh that food. A food that changes no gate says nothing. Raises IndexError for a line that is not there.
    """
    dish, gates = whole_dish(dish), eater.gates(meal)
    now = [verdict.state for verdict in judge(gates, analyze_lines(dish.lines, dish.servings))]
    found = {}
    for food_id in food_ids:
        line = with_food(dish.lines[position], food_id, kitchen=dish.kitchen)
        lines = (
            *dish.lines[:position],
            replace(line, sure="sure", ask=NOTHING, others=()),
            *dish.lines[position + 1 :],
        )
        then = judge(gates, analyze_lines(lines, dish.servings))
        changed = {
            state: tuple(v.gate.nutrient for v, was in zip(then, now, strict=True) if v.state == state != was)
            for state in (OPEN, SHUT, UNSURE)
        }
        if any(changed.values()):
            found[food_id] = note("sheet.gates_then", opens=changed[OPEN], shuts=changed[SHUT], leaves=changed[UNSURE])
    return found


def _with(line: Line, food_id: str) -> Line:
    is_same = food_id == line.food_id
    return line if is_same else replace(line, food_id=food_id, sure="sure", ask=NOTHING, others=(), words_hold=False)
