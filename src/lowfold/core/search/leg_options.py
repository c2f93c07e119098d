"""What one leg can be made of: single parts, two of them, or equal parts in series and parallel.

Equal parts share a leg's voltage and power alike: s in series and p strings of them have R·s/p, and
each takes 1/(s·p) of the power at 1/s of the voltage (common practice). Every way is one row, so
that a search of legs can weigh all of them together.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Final, Literal

import numpy as np
import numpy.typing as npt

from lowfold.core.network.tree import Element, Part, chain, group
from lowfold.core.parts.pool import PLENTY, Pool
from lowfold.core.search.combine import SERIES, table

__all__ = ["MOST_IN_LEGS", "Leg", "LegOptions", "Structure", "leg_options"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.int64]

Structure = Literal["single", "pair", "array"]
MOST_IN_LEGS: Final = 16  #: parts of a whole in which equal parts stand in for one


#: A leg's resistance, Ω, and the shares of its power and voltage that one part of it has most of.
Leg = tuple[float, float, float]


@dataclass(frozen=True, eq=False)
class LegOptions:
    """Legs of one structure, sorted by resistance."""

    pool: Pool
    structure: Structure
    ohms: FloatArray  #: (n,) rising, Ω
    parts: IntArray  #: (n,)
    heat: FloatArray  #: (n,) share of the leg's power that its hottest part takes
    reach: FloatArray  #: (n,) largest share of the leg's voltage across one part
    row: IntArray  #: (n,) of the table, or of the pool's values
    in_series: IntArray  #: (n,) equal parts in a string; 1 but for arrays
    in_parallel: IntArray  #: (n,) strings

    @staticmethod
    def stated(legs: Sequence[Leg]) -> LegOptions:
        """Return given legs in their order, which no pool was asked for."""
        ohms, heat, reach = np.array(legs, dtype=np.float64).reshape(-1, 3).T
        ones = np.ones(len(ohms), dtype=np.int64)
        return LegOptions(Pool((), ()), "single", ohms, ones, heat, reach, ones, ones, ones)

    def network(self, place: int) -> Element:
        """Return the leg in a row, its parts unnamed."""
        row = int(self.row[place])
        if self.structure == "pair":
            return table(self.pool, 2).network(row)
        each = Part(self.pool.ohms[row])
        string = chain([each] * int(self.in_series[place]))
        return group([string] * int(self.in_parallel[place]))

    def some(self, rows: npt.NDArray[np.bool_]) -> LegOptions:
        """Return some of the rows, in the same order."""
        columns = (self.ohms, self.parts, self.heat, self.reach, self.row)
        shapes = (self.in_series, self.in_parallel)
        return LegOptions(self.pool, self.structure, *(c[rows] for c in (*columns, *shapes)))  # type: ignore[arg-type]


@lru_cache(maxsize=48)
def leg_options(pool: Pool, structure: Structure) -> LegOptions:
    """Return every leg of one structure that a pool has enough parts for.

    Parameters
    ----------
    structure : str
        One part, two parts in series or parallel, or 2 to 15 equal parts.
    """
    if structure == "pair":
        return _pairs(pool)
    shapes = [(1, 1)] if structure == "single" else list(_shapes())
    return _arrays(pool, structure, shapes)


def _shapes() -> Iterator[tuple[int, int]]:
    """Yield strings and how many of them, two parts to one less than there may be in all."""
    for series in range(1, MOST_IN_LEGS):
        for parallel in range(1, (MOST_IN_LEGS - 1) // series + 1):
            if series * parallel > 1:
                yield series, parallel


def _arrays(pool: Pool, structure: Structure, shapes: Sequence[tuple[int, int]]) -> LegOptions:
    values = np.asarray(pool.ohms, dtype=np.float64)
    counts = np.minimum(np.asarray(pool.counts, dtype=np.int64), PLENTY)
    columns = []
    for series, parallel in shapes:
        rows = np.flatnonzero(counts >= series * parallel)
        same = np.ones(len(rows), dtype=np.int64)
        columns.append((values[rows] * series / parallel, rows, series * same, parallel * same))
    ohms, row, strings, beside = (np.concatenate([c[k] for c in columns]) for k in range(4))
    order = np.lexsort((strings * beside, ohms))
    ohms, row, strings, beside = (c[order] for c in (ohms, row, strings, beside))
    parts = strings * beside
    return LegOptions(pool, structure, ohms, parts, 1 / parts, 1 / strings, row, strings, beside)


def _pairs(pool: Pool) -> LegOptions:
    found = table(pool, 2)
    values = np.asarray(pool.ohms, dtype=np.float64)
    small, large = values[found.left], values[found.right]
    low, high = np.minimum(small, large), np.maximum(small, large)
    kept = pool.in_stock(found.leaves)
    reach = np.where(found.join == SERIES, high / (low + high), 1.0)
    ones = np.ones(len(found.ohms), dtype=np.int64)
    every = LegOptions(
        pool, "pair", found.ohms, 2 * ones, found.share, reach, np.arange(len(found.ohms)), ones,
        ones,
    )  # fmt: skip
    return every.some(kept)
