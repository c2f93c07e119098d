"""Arrays of equal parts: strings of s in series, p of them in parallel.

An array of equal parts has R·s/p, and every part takes the same share of the power, so it is the
way to share what no few parts can take (a dummy load out of 5 W parts; n × n parts have the
resistance of one and n² times its power, common practice).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction
from typing import Final

import numpy as np

from lowfold.core.network.tree import Element, Part, chain, group
from lowfold.core.parts.pool import Pool
from lowfold.core.search.contexts import Drive

__all__ = ["MOST_IN_ARRAY", "PartArray", "search_arrays"]

MOST_IN_ARRAY: Final = 100  #: parts


@dataclass(frozen=True, slots=True)
class PartArray:
    """One array; figures unrounded, nominal."""

    ohms: float  #: of each part
    in_series: int  #: parts in each string
    in_parallel: int  #: strings
    whole_ohms: float
    error: float
    part_watts: float  #: what each part takes

    @property
    def parts(self) -> int:
        return self.in_series * self.in_parallel

    @property
    def network(self) -> Element:
        """Return the array as strings in parallel, parts unnamed."""
        string = chain([Part(self.ohms)] * self.in_series)
        return group([string] * self.in_parallel)


def search_arrays(
    pool: Pool,
    target_ohms: float,
    drive: Drive,
    *,
    more_than: int = 0,
    within: float | None = None,
    limit: int = 20,
    most: int = MOST_IN_ARRAY,
    beside: float | None = None,
) -> list[PartArray]:
    """Return the best arrays of equal parts in which no part takes more than it may, exactly.

    With `within` the fewest parts come first, otherwise the smallest |error|.

    Parameters
    ----------
    more_than : int
        Only arrays of more parts than this.
    within : float, optional
        Accepted |error|, a fraction.
    beside : float, optional
        Ω of a load in parallel with the array, counted in the whole.
    pool : Pool
        Values to choose from, Ω.
    target_ohms : float
        Ω of the whole.
    drive : Drive
        What the whole is driven by, and what each part may take.
    limit : int
        Candidates wanted.
    most : int
        Parts of an array at most.
    """
    values = np.asarray(pool.ohms)
    target = Fraction(repr(float(target_ohms)))
    found: list[tuple[tuple[object, ...], PartArray]] = []
    if not len(values):
        return []
    alone = target_ohms
    if beside is not None:
        alone = target_ohms * beside / (beside - target_ohms) if beside > target_ohms else math.inf
    for series in range(1, most + 1):
        for parallel in range(1, most // series + 1):
            parts = series * parallel
            if parts <= more_than:
                continue
            # Each size's error is least beside the value that would hit; the nearest that are
            # cool enough lie one way, where the whole takes less.
            place = int(np.searchsorted(values, alone * parallel / series))
            for step in (-1, 1):
                at = place - (step < 0)
                while 0 <= at < len(values):
                    one = _judged(pool, at, series, parallel, target, drive, beside)
                    if one is not None:
                        size = one.parts
                        error = abs(one.error)
                        if within is None or error <= within * (1 + 1e-12):
                            key = (error, size) if within is None else (size, error)
                            found.append(((*key, series), one))
                        break
                    at += step
    found.sort(key=lambda f: f[0])
    return [one for _, one in found[:limit]]


def _judged(
    pool: Pool,
    at: int,
    series: int,
    parallel: int,
    target: Fraction,
    drive: Drive,
    beside: float | None,
) -> PartArray | None:
    """Return the array of one value if there are enough of it and none is too hot."""
    parts = series * parallel
    if pool.counts[at] < parts:
        return None
    ohms = pool.ohms[at]
    array = whole = Fraction(repr(float(ohms))) * series / parallel
    if beside is not None:
        load = Fraction(repr(float(beside)))
        whole = array * load / (array + load)
    taken = float(drive.whole_watts(np.array([float(whole)]))[0])
    each = taken * float(whole / array) / parts  # of parallel powers, the share of conductance
    if not each <= drive.allowed_watts * (1 + 1e-12) or not math.isfinite(each):
        return None
    return PartArray(ohms, series, parallel, float(whole), float(whole / target - 1), each)
