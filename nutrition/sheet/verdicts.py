"""A serving held against its gates: open, shut, or not to be told."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from nutrition.food.nutrients import INDEX
from nutrition.limits.gates import TOLERANCE, Gate
from nutrition.sheet.analysis import Analysis

OPEN, SHUT, UNSURE = "open", "shut", "unsure"
#: A caution: somebody may have it, and is told what to mind.
MIND = "mind"
#: From the best to the worst; and those in which somebody may eat it.
STATES, THROUGH = (OPEN, MIND, UNSURE, SHUT), (OPEN, MIND)


def worst(states: Iterable[str]) -> str:
    """The worst of several states; open where there is none.

    >>> worst(["open", "shut", "mind"]), worst([])
    ('shut', 'open')
    """
    return max(states, key=STATES.index, default=OPEN)


@dataclass(frozen=True, slots=True)
class Verdict:
    """A gate held against one serving. `at_most` infinite: no bound can be given."""

    gate: Gate
    amount: float
    at_least: float
    at_most: float
    state: str
    unknown_lines: tuple[int, ...]

    @property
    def is_exact(self) -> bool:
        return self.at_most - self.at_least <= TOLERANCE * max(self.at_most, 1.0)


def state_of(gate: Gate, at_least: float, at_most: float) -> str:
    """Open when all of the interval is through, shut when none of it is, else unsure.

    A gate whose posts conflict is shut: nothing can pass it.
    """
    if gate.is_conflict:
        return SHUT
    floor = gate.low.limit * (1 - TOLERANCE) if gate.low else -np.inf
    roof = gate.high.limit * (1 + TOLERANCE) if gate.high else np.inf
    if at_least > roof or at_most < floor:
        return SHUT
    return OPEN if at_least >= floor and at_most <= roof else UNSURE


def judge(gates: Iterable[Gate], analysis: Analysis) -> list[Verdict]:
    """Each gate held against one serving."""
    verdicts = []
    for gate in gates:
        at_least, at_most = analysis.interval(gate.nutrient)
        verdicts.append(
            Verdict(
                gate=gate,
                amount=analysis.amount(gate.nutrient),
                at_least=at_least,
                at_most=at_most,
                state=state_of(gate, at_least, at_most),
                unknown_lines=tuple(analysis.unknown_lines(gate.nutrient)),
            )
        )
    return verdicts


def fit_many(at_least: np.ndarray, at_most: np.ndarray, people: list[list[Gate]]) -> np.ndarray:
    """Recipes by people: 1 every gate open, 0 none shut but some unsure, -1 some gate shut. int8."""
    result = np.ones((len(at_least), len(people)), dtype=np.int8)
    for column, gates in enumerate(people):
        for gate in gates:
            key = INDEX[gate.nutrient]
            floor = gate.low.limit * (1 - TOLERANCE) if gate.low else -np.inf
            roof = gate.high.limit * (1 + TOLERANCE) if gate.high else np.inf
            least, most = at_least[:, key], at_most[:, key]
            shut = (least > roof) | (most < floor)
            through = (least >= floor) & (most <= roof) & (not gate.is_conflict)
            here = np.where(shut | gate.is_conflict, -1, np.where(through, 1, 0)).astype(np.int8)
            np.minimum(result[:, column], here, out=result[:, column])
    return result
