"""Small linear programs, solved by HiGHS: one set of limits, one aim after the other.

What was found for one aim is where the search for the next begins.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from typing import Final

import highspy
import numpy as np
import numpy.typing as npt

__all__ = ["Program"]

FloatArray = npt.NDArray[np.float64]

#: How far a limit may be missed, in units of the columns: the least that the solver takes.
MISSED: Final = 1e-10
#: The same where rounding keeps the solver from that: begun anew, then looser.
LOOSER: Final = (MISSED, 1e-8, 1e-6)
OPTIONS: Final[dict[str, bool | str | int | float]] = {
    "output_flag": False,
    "solver": "simplex",
    "presolve": "off",
    "parallel": "off",
    "threads": 1,
    "primal_feasibility_tolerance": MISSED,
    "dual_feasibility_tolerance": MISSED,
}


@lru_cache(maxsize=1)
def _options() -> highspy.HighsOptions:
    found = highspy.HighsOptions()
    for name, value in OPTIONS.items():
        setattr(found, name, value)
    return found


class Program:
    """Points of a polytope: rows @ point ≤ most, equal @ point = to, lowest ≤ point ≤ highest."""

    def __init__(
        self,
        rows: FloatArray,
        most: FloatArray,
        equal: FloatArray,
        to: FloatArray,
        bounds: Sequence[tuple[float, float]],
    ) -> None:
        lowest, highest = np.array(bounds).T
        matrix = np.vstack([rows, equal])
        places = np.nonzero(matrix)
        columns = matrix.shape[1]
        problem = highspy.HighsLp()
        problem.num_col_, problem.num_row_ = columns, len(matrix)
        problem.col_cost_ = np.zeros(columns)
        problem.col_lower_, problem.col_upper_ = lowest, highest
        problem.row_lower_ = np.concatenate([np.full(len(most), -highspy.kHighsInf), to])
        problem.row_upper_ = np.concatenate([most, to])
        problem.sense_ = highspy.ObjSense.kMaximize
        held = problem.a_matrix_
        held.format_ = highspy.MatrixFormat.kRowwise
        each = np.bincount(places[0], minlength=len(matrix))
        held.start_ = np.concatenate([[0], np.cumsum(each)]).astype(np.int32)
        held.index_, held.value_ = places[1].astype(np.int32), matrix[places]
        self._solver = highspy.Highs()  # type: ignore[no-untyped-call]
        self._solver.passOptions(_options())
        self._solver.passModel(problem)
        self._every = np.arange(columns, dtype=np.int32)

    def best(self, aim: FloatArray) -> FloatArray | None:
        """Return the point of greatest `aim`, (columns,), or None where there is none."""
        self._solver.changeColsCost(len(self._every), self._every, aim)
        self._solver.run()
        for missed in LOOSER:
            if self._solver.getModelStatus() != highspy.HighsModelStatus.kUnknown:
                break
            self._solver.clearSolver()
            self._solver.setOptionValue("primal_feasibility_tolerance", missed)
            self._solver.run()
        found = self._solver.getModelStatus() == highspy.HighsModelStatus.kOptimal
        if missed != MISSED:
            self._solver.setOptionValue("primal_feasibility_tolerance", MISSED)
        if not found:
            return None
        return np.array(self._solver.getSolution().col_value)
