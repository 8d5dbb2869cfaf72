"""Programs with whole numbers, solved by HiGHS: counted work ends a search, not the clock, so that the same question
gets the same answer on a busy machine.

Its searches within searches (RINS, RENS, reduced costs) are off: on programs of the size of a dish they take four fifths
of the time and change little (benchmarks/way_through.py). Work in vain is cut off by nodes; the clock is the last resort.
"""

from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import partial

import highspy
import numpy as np

#: How a search ended: with a solution, with proof that there is none, or with neither.
FOUND, NONE, STOPPED = "found", "none", "stopped"
_SETTINGS: dict[str, bool | int] = {
    "output_flag": False,
    "threads": 1,
    "mip_heuristic_run_rins": False,
    "mip_heuristic_run_rens": False,
    "mip_heuristic_run_root_reduced_cost": False,
    # Cuts are let go soon: the programs are small, and each one kept slows every node.
    "mip_lp_age_limit": 3,
    "mip_pool_age_limit": 3,
    # ... and none is sought after the root: the same ways a quarter sooner.
    "mip_allow_cut_separation_at_nodes": False,
}


@dataclass(slots=True)
class Rows:
    """Linear rows between bounds, as they are added."""

    starts: list[int] = field(default_factory=lambda: [0])
    columns: list[int] = field(default_factory=list)
    values: list[float] = field(default_factory=list)
    low: list[float] = field(default_factory=list)
    high: list[float] = field(default_factory=list)

    def add(self, entries: Iterable[tuple[int, float]], at_least: float = -np.inf, at_most: float = np.inf) -> None:
        """One row; entries of the same column add up."""
        merged: dict[int, float] = {}
        for column, value in entries:
            merged[column] = merged.get(column, 0.0) + value
        merged = {column: value for column, value in merged.items() if value}
        self.columns.extend(merged)
        self.values.extend(merged.values())
        self.starts.append(len(self.columns))
        self.low.append(at_least)
        self.high.append(at_most)

    def first(self, count: int) -> "Rows":
        """The first rows, to go on from."""
        end = self.starts[count]
        of_rows = (self.starts[: count + 1], self.columns[:end], self.values[:end])
        return Rows(*of_rows, self.low[:count], self.high[:count])


@dataclass(frozen=True, slots=True)
class Answer:
    """How it ended; what was found and what it costs; `is_proven`: least within the gap asked for. `dear`: what one more
    of each column would cost, of a program without whole numbers."""

    ended: str
    x: np.ndarray = field(default_factory=partial(np.zeros, 0))
    cost: float = np.inf
    is_proven: bool = False
    dear: np.ndarray = field(default_factory=partial(np.zeros, 0))


def solve(
    costs: np.ndarray,
    most: np.ndarray,
    whole: np.ndarray | None,
    rows: Rows,
    *,
    gap: float = 0.0,
    nodes: int = 1_000,
    seconds: float = 10.0,
    searches_within: bool = False,
    good_enough: float = -np.inf,
) -> Answer:
    """The least costly point from 0 to `most` within the rows. `whole`: 1 where a column takes whole numbers only.
    `good_enough`: a cost at which the search ends, whatever else there could be. `searches_within`: with its searches within searches, which pay where any solution is hard to come by (benchmarks/tables.py).
    """
    program = highspy.HighsLp()
    program.num_col_, program.num_row_ = len(costs), len(rows.low)
    program.col_cost_, program.col_lower_, program.col_upper_ = costs, np.zeros(len(costs)), most
    program.row_lower_, program.row_upper_ = np.array(rows.low), np.array(rows.high)
    program.a_matrix_.format_ = highspy.MatrixFormat.kRowwise
    program.a_matrix_.start_ = np.array(rows.starts)
    program.a_matrix_.index_ = np.array(rows.columns)
    program.a_matrix_.value_ = np.array(rows.values)
    if whole is not None:
        kinds = (highspy.HighsVarType.kContinuous, highspy.HighsVarType.kInteger)
        program.integrality_ = [kinds[int(each)] for each in whole]
    settings = {**_SETTINGS, "mip_rel_gap": gap, "mip_max_nodes": nodes, "time_limit": seconds}
    if np.isfinite(good_enough):
        settings["objective_target"] = good_enough
    if searches_within:
        settings |= {"mip_heuristic_run_rins": True, "mip_heuristic_run_rens": True}
    solver = highspy.Highs()  # type: ignore[no-untyped-call]
    for name, value in settings.items():
        solver.setOptionValue(name, value)
    solver.passModel(program)
    solver.run()
    status, found = solver.getModelStatus(), solver.getInfo()
    if status in (highspy.HighsModelStatus.kInfeasible, highspy.HighsModelStatus.kUnboundedOrInfeasible):
        return Answer(NONE)
    if found.primal_solution_status != highspy.SolutionStatus.kSolutionStatusFeasible:
        return Answer(STOPPED)
    solution = solver.getSolution()
    return Answer(
        FOUND,
        np.array(solution.col_value),
        found.objective_function_value,
        status == highspy.HighsModelStatus.kOptimal,
        np.array(solution.col_dual),
    )
