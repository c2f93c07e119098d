"""What parts are at hand and what a few of them make: sorted tables the searches look up.

A table holds every distinct combination of exactly one size once. Sorted by resistance, it answers
“what lies nearest to x” by bisection, and larger searches meet in the middle over two tables.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property, lru_cache
from threading import RLock
from typing import Final

import numpy as np
import numpy.typing as npt
from cachetools import LRUCache, cached

from lowfold.core.network.tree import Element, Part, chain, exact_resistance, group
from lowfold.core.parts.pool import Pool

__all__ = ["PARALLEL", "SERIES", "SINGLE", "Table", "table"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.int32]
BoolArray = npt.NDArray[np.bool_]
JoinArray = npt.NDArray[np.uint8]

SINGLE, SERIES, PARALLEL = 0, 1, 2
#: Bytes the cached tables may hold together.
CACHED_BYTES: Final = 400_000_000
#: Smallest level of a table (see `Table.levels`).
LEAST_LEVEL: Final = 64
MOST_EXACT: Final = 2048  #: exact resistances kept of a table


@dataclass(frozen=True, eq=False)
class Table:
    """Combinations of exactly `parts` parts from a pool, sorted by resistance.

    A combination of several parts joins row `left` of the table of `split` parts with row `right`
    of the table of the other parts; of a pair, `left` is the smaller value.
    """

    pool: Pool
    parts: int
    ohms: FloatArray  #: (n,) rising, Ω
    left: IntArray  #: (n,)
    right: IntArray  #: (n,); equal to `left` in a table of single parts
    join: JoinArray  #: (n,) SINGLE, SERIES or PARALLEL
    split: JoinArray  #: (n,) parts in the left one

    @property
    def nbytes(self) -> int:
        """Return the bytes held once every derived column is filled in."""
        return len(self.ohms) * (8 + 4 + 4 + 1 + 1 + 4 * self.parts + 8 + 32)

    def network(self, row: int) -> Element:
        """Return combination `row`, larger value first in series, smaller first in parallel."""
        if self.parts == 1:
            return Part(self.pool.ohms[int(self.left[row])])
        split = int(self.split[row])
        first = table(self.pool, split).network(int(self.left[row]))
        second = table(self.pool, self.parts - split).network(int(self.right[row]))
        return chain([second, first]) if self.join[row] == SERIES else group([first, second])

    @cached_property
    def exact(self) -> Callable[[int], Fraction]:
        """Tell the resistance of a combination by its row, as a ratio of integers, Ω.

        What is ranked recurs from one question to the next, so that it is kept.
        """
        return lru_cache(MOST_EXACT)(lambda row: exact_resistance(self.network(row)))

    def some(self, rows: npt.NDArray[np.intp] | slice) -> Table:
        """Return a table of some of the rows, in the same order."""
        columns = (self.ohms, self.left, self.right, self.join, self.split)
        return Table(self.pool, self.parts, *(c[rows] for c in columns))  # type: ignore[arg-type]

    @cached_property
    def leaves(self) -> IntArray:
        """Positions in the pool of each combination's parts, (n, parts)."""
        if self.parts == 1:
            return self.left[:, None]
        found = np.empty((len(self.ohms), self.parts), dtype=np.int32)
        for split, rows in self._by_split():
            found[rows, :split] = table(self.pool, split).leaves[self.left[rows]]
            found[rows, split:] = table(self.pool, self.parts - split).leaves[self.right[rows]]
        return found

    @cached_property
    def share(self) -> FloatArray:
        """Share of each combination's power that its hottest part takes, (n,), 1 for one part.

        In series power divides as resistance, in parallel as conductance.
        """
        if self.parts == 1:
            return np.ones(len(self.ohms))
        found = np.empty(len(self.ohms))
        for split, rows in self._by_split():
            whole = self.ohms[rows]
            of_two = []
            for size, place in ((split, self.left[rows]), (self.parts - split, self.right[rows])):
                side = table(self.pool, size)
                ratio = side.ohms[place] / whole
                taken = np.where(self.join[rows] == SERIES, ratio, 1 / ratio)
                of_two.append(taken * side.share[place])
            found[rows] = np.maximum(*of_two)
        return found

    @cached_property
    def levels(self) -> tuple[FloatArray, tuple[tuple[npt.NDArray[np.intp], FloatArray], ...]]:
        """The combinations whose power is spread most evenly: half of all, a quarter, and so on.

        Returns
        -------
        edges : (k,) ndarray of float64
            The largest `share` in each level, rising; the last level holds all.
        rows : k pairs of arrays
            Rows of each level, rising, and their resistances, which rise too.
        """
        order = np.argsort(self.share, kind="stable")
        sizes = [len(order)]
        while sizes[-1] >= 2 * LEAST_LEVEL:
            sizes.append(sizes[-1] // 2)
        rows = tuple(np.sort(order[:size]) for size in reversed(sizes))
        edges = np.array([self.share[order[size - 1]] for size in reversed(sizes)])
        return edges, tuple((some, self.ohms[some]) for some in rows)

    def _by_split(self) -> Iterator[tuple[int, npt.NDArray[np.intp]]]:
        for split in np.unique(self.split):
            yield int(split), np.flatnonzero(self.split == split)


@cached(LRUCache(CACHED_BYTES, getsizeof=lambda found: found.nbytes), lock=RLock())
def table(pool: Pool, parts: int) -> Table:
    """Return the table of exactly `parts` parts, sorted; cached for the latest pools.

    Parameters
    ----------
    parts : int
        How many parts each combination has.
    """
    ohms = np.asarray(pool.ohms, dtype=np.float64)
    if parts == 1:
        places = np.arange(len(ohms), dtype=np.int32)
        none = np.zeros(len(ohms), dtype=np.uint8)
        return _frozen(Table(pool, 1, ohms, places, places, none, none + np.uint8(1)))
    if parts == 2:
        return _sorted(pool, 2, [_pairs(pool, ohms, kind) for kind in (SERIES, PARALLEL)])
    composed = [
        _composed(pool, parts, split, kind)
        for kind in (SERIES, PARALLEL)
        for split in range(parts - 1, 0, -1)
    ]
    return _sorted(pool, parts, composed)


#: Columns of a table in the making: Ω, left, right, join, split.
_Columns = tuple[FloatArray, IntArray, IntArray, int, int]


def _pairs(pool: Pool, ohms: FloatArray, kind: int) -> _Columns:
    left, right = (side.astype(np.int32) for side in np.triu_indices(len(ohms)))
    twice = (left != right) | (np.asarray(pool.counts, dtype=np.int64)[left] >= 2)
    left, right = left[twice], right[twice]
    return _joined(ohms[left], ohms[right], kind), left, right, kind, 1


def _joined(one: FloatArray, two: FloatArray, kind: int) -> FloatArray:
    return one + two if kind == SERIES else one * two / (one + two)


def _composed(pool: Pool, parts: int, split: int, kind: int) -> _Columns:
    """Join components of `split` parts with rests whose components are no greater.

    A component of a chain is no chain itself, and dually; ordering components by size and row
    makes every multiset of them appear once.
    """
    big, rest = table(pool, split), table(pool, parts - split)
    components = np.flatnonzero(big.join != kind)
    size, top = _greatest(rest, kind)
    fits = (size[None, :] < split) | (
        (size[None, :] == split) & (top[None, :] <= components[:, None])
    )
    first, right = np.nonzero(fits)
    left = components[first]
    leaves = np.concatenate((big.leaves[left], rest.leaves[right]), axis=1)
    kept = pool.in_stock(leaves)
    left, right = left[kept], right[kept]
    ohms = _joined(big.ohms[left], rest.ohms[right], kind)
    return ohms, left.astype(np.int32), right.astype(np.int32), kind, split


def _greatest(found: Table, kind: int) -> tuple[IntArray, IntArray]:
    """Return size and row of each combination's greatest component when joined by `kind`."""
    rows = np.arange(len(found.ohms), dtype=np.int32)
    whole = np.full(len(rows), found.parts, dtype=np.int32)
    if found.parts == 1:
        return whole, rows
    inside = found.join == kind
    size = np.where(inside, found.split.astype(np.int32), whole)
    # Of a pair the greater is on the right; of more it was put on the left.
    greatest = found.right if found.parts == 2 else found.left
    return size, np.where(inside, greatest, rows)


def _sorted(pool: Pool, parts: int, columns: Sequence[_Columns]) -> Table:
    ohms = np.concatenate([c[0] for c in columns])
    order = np.argsort(ohms, kind="stable")
    left, right = (np.concatenate([c[k] for c in columns])[order] for k in (1, 2))
    join, split = (
        np.concatenate([np.full(len(c[0]), c[k], dtype=np.uint8) for c in columns])[order]
        for k in (3, 4)
    )
    return _frozen(Table(pool, parts, ohms[order], left, right, join, split))


def _frozen(found: Table) -> Table:
    for array in (found.ohms, found.left, found.right, found.join, found.split):
        array.setflags(write=False)
    return found
