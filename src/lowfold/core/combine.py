"""What parts are at hand and what one or two of them make: sorted tables the searches look up.

A table holds every distinct combination of exactly one size once: for two parts, each unordered
pair in series and in parallel. Sorted by resistance, it answers “what lies nearest to x” by
bisection, and larger searches meet in the middle over two tables.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import DomainError
from lowfold.core.network import Element, Part, chain, group

__all__ = ["PLENTY", "SINGLE", "Pool", "Table", "around", "table"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.int32]
BoolArray = npt.NDArray[np.bool_]

PLENTY: Final = 2**30  #: count of a part there is no lack of
SINGLE, SERIES, PARALLEL = 0, 1, 2
#: Resistances nearer than this are one value computed in two ways.
SAME: Final = 1e-12


@dataclass(frozen=True, slots=True)
class Pool:
    """Values at hand, rising, with how many there are of each."""

    ohms: tuple[float, ...]
    counts: tuple[int, ...]

    @staticmethod
    def plenty(values: Sequence[float] | FloatArray) -> Pool:
        """Return a pool with no lack of any of the rising `values`, Ω."""
        ohms = tuple(float(v) for v in values)
        return Pool(ohms, (PLENTY,) * len(ohms))

    @staticmethod
    def stock(counts: Mapping[float, int]) -> Pool:
        """Return a pool of what is in a drawer: Ω to how many."""
        for ohms, count in counts.items():
            if not ohms > 0 or count < 0:
                msg = (
                    f"a stock line of {count} × {ohms:g} Ω: values are above 0 Ω, counts 0 or more"
                )
                raise DomainError(msg, field="values.stock")
        kept = sorted(item for item in counts.items() if item[1] > 0)
        return Pool(tuple(o for o, _ in kept), tuple(c for _, c in kept))

    @property
    def counted(self) -> bool:
        """Whether any value can run out."""
        return any(count < PLENTY for count in self.counts)


@dataclass(frozen=True, slots=True)
class Table:
    """Combinations of exactly `parts` parts from a pool, sorted by resistance."""

    pool: Pool
    parts: int
    ohms: FloatArray  #: (n,) rising, Ω
    left: IntArray  #: (n,) position of the first value in the pool
    right: IntArray  #: (n,) position of the second; equal to `left` in a table of single parts
    join: npt.NDArray[np.uint8]  #: (n,) SINGLE, SERIES or PARALLEL

    def network(self, row: int) -> Element:
        """Return combination `row`, larger part first in series, smaller first in parallel."""
        first = Part(self.pool.ohms[self.left[row]])
        if self.join[row] == SINGLE:
            return first
        second = Part(self.pool.ohms[self.right[row]])
        return chain([second, first]) if self.join[row] == SERIES else group([first, second])

    def hottest_watts(self, volts: FloatArray) -> FloatArray:
        """Return the power of each combination's hottest part, (n,) in W.

        Parameters
        ----------
        volts : (n,) ndarray of float64
            Voltage across each combination, V.
        """
        low = np.asarray(self.pool.ohms)[self.left]  # left is the smaller of a pair
        high = np.asarray(self.pool.ohms)[self.right]
        # In series the larger part is the hotter, in parallel the smaller; alone, V²/R.
        in_series = volts**2 * high / (low + high) ** 2
        hottest: FloatArray = np.where(self.join == SERIES, in_series, volts**2 / low)
        return hottest


@lru_cache(maxsize=8)
def table(pool: Pool, parts: int) -> Table:
    """Return the table of exactly `parts` parts (1 or 2), sorted; cached for the latest pools."""
    ohms = np.asarray(pool.ohms, dtype=np.float64)
    if parts == 1:
        places = np.arange(len(ohms), dtype=np.int32)
        return _frozen(pool, 1, ohms, places, places, np.zeros(len(ohms), dtype=np.uint8))
    left, right = (side.astype(np.int32) for side in np.triu_indices(len(ohms)))
    twice = (left != right) | (np.asarray(pool.counts, dtype=np.int64)[left] >= 2)
    left, right = left[twice], right[twice]
    total = ohms[left] + ohms[right]
    both = np.concatenate((total, ohms[left] * ohms[right] / total))
    join = np.repeat(np.array([SERIES, PARALLEL], dtype=np.uint8), len(total))
    order = np.argsort(both, kind="stable")
    first, second = (np.concatenate((side, side))[order] for side in (left, right))
    return _frozen(pool, 2, both[order], first, second, join[order])


def _frozen(
    pool: Pool,
    parts: int,
    ohms: FloatArray,
    left: IntArray,
    right: IntArray,
    join: npt.NDArray[np.uint8],
) -> Table:
    for array in (ohms, left, right, join):
        array.setflags(write=False)
    return Table(pool, parts, ohms, left, right, join)


def around(rising: FloatArray, wanted: float, count: int) -> slice:
    """Return where the `count` entries below and above `wanted` stand, ties at the ends included.

    Any quantity monotonic in the entries has its `count` nearest to the value at `wanted` here.
    """
    middle = int(np.searchsorted(rising, wanted))
    start, stop = max(middle - count, 0), min(middle + count, len(rising))
    if start < stop:
        start = int(np.searchsorted(rising, rising[start] * (1 - SAME)))
        stop = int(np.searchsorted(rising, rising[stop - 1] * (1 + SAME), side="right"))
    return slice(start, stop)
