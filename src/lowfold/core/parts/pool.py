"""Values to choose from, and how many there are of each."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import DomainError

__all__ = ["PLENTY", "Pool"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.signedinteger]
BoolArray = npt.NDArray[np.bool_]

PLENTY: Final = 2**30  #: count of a part there is no lack of


@dataclass(frozen=True)
class Pool:
    """Values at hand, rising, with how many there are of each."""

    ohms: tuple[float, ...]
    counts: tuple[int, ...]

    @cached_property
    def _hash(self) -> int:
        return hash((self.ohms, self.counts))

    def __hash__(self) -> int:  # a pool is looked up at every row that becomes a network
        return self._hash

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

    @cached_property
    def counted(self) -> bool:
        """Whether any value can run out."""
        return any(count < PLENTY for count in self.counts)

    def in_stock(self, leaves: IntArray) -> BoolArray:
        """Return which combinations there are enough parts for, (n,).

        Parameters
        ----------
        leaves : (n, parts) ndarray of int
            Positions in the pool of each combination's parts.
        """
        if not self.counted:
            return np.ones(len(leaves), dtype=np.bool_)
        counts = np.asarray(self.counts, dtype=np.int64)
        enough: BoolArray = np.ones(len(leaves), dtype=np.bool_)
        for column in range(leaves.shape[1]):
            alike = (leaves == leaves[:, column : column + 1]).sum(axis=1)
            enough &= alike <= counts[leaves[:, column]]
        return enough
