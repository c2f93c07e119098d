"""A network as seen from some of its junctions, the others taken out one by one (star–mesh)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable

import numpy as np
import numpy.typing as npt

__all__ = ["StarMesh"]

FloatArray = npt.NDArray[np.float64]


class StarMesh:
    """Conductances between junctions and currents into them, columns of samples each.

    Parameters
    ----------
    ties : iterable of (int, int, FloatArray or float)
        Two junctions and the conductance between them, S; of one junction twice it is none.
    """

    def __init__(self, ties: Iterable[tuple[int, int, FloatArray | float]]) -> None:
        self.ties: dict[int, dict[int, FloatArray | float]] = {}
        self.entering: dict[int, FloatArray | float] = {}
        for a, b, siemens in ties:
            if a != b:
                self._add(a, b, siemens)

    def _add(self, a: int, b: int, siemens: FloatArray | float) -> None:
        for one, two in ((a, b), (b, a)):
            row = self.ties.setdefault(one, {})
            row[two] = row[two] + siemens if two in row else siemens

    def copied(self) -> StarMesh:
        """Return the same mesh, to be reduced further; its columns are never changed in place."""
        other = StarMesh(())
        other.ties = {node: dict(row) for node, row in self.ties.items()}
        other.entering = dict(self.entering)
        return other

    def tie(self, a: int, b: int) -> FloatArray | float | None:
        """Return the conductance between two junctions, S; None where there is none."""
        return self.ties.get(a, {}).get(b)

    def reduce_to(self, kept: set[int]) -> int:
        """Take out every junction but those kept, the one with fewest ties first.

        Returns
        -------
        int
            How many conductances changed on the way.
        """
        changed = 0
        while inner := [n for n in self.ties if n not in kept]:
            node = min(inner, key=lambda n: len(self.ties[n]))
            row = self.ties.pop(node)
            for other in row:
                del self.ties[other][node]
            if not row:
                continue
            changed += math.comb(len(row), 2)
            total = sum(row.values())
            for (a, one), (b, two) in itertools.combinations(row.items(), 2):
                self._add(a, b, one * two / total)
            amps = self.entering.pop(node, None)
            if amps is not None:
                for other, siemens in row.items():
                    self.entering[other] = self.entering.get(other, 0.0) + amps * siemens / total
        return changed
