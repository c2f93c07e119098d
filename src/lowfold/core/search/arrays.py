"""Arrays of equal parts: strings of s in series, p of them in parallel.

An array of equal parts has R·s/p, and every part takes the same share of the power, so it is the
way to share what no few parts can take (a dummy load out of 5 W parts; n × n parts have the
resistance of one and n² times its power, common practice).
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from typing import Final

import numpy as np

from lowfold.core.network.tree import Element, Part, chain, group
from lowfold.core.parts.pool import Pool
from lowfold.core.search.contexts import ROUNDING, Drive
from lowfold.core.values.decimals import decimal

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
    target_ohms : float
        Ω of the whole.
    drive : Drive
        What the whole is driven by, and what each part may take.
    limit : int
        Candidates wanted.
    most : int
        Parts of an array at most.
    """
    if not len(pool.ohms):
        return []
    shapes = [
        (series, parallel)
        for series in range(1, most + 1)
        for parallel in range(1, most // series + 1)
        if series * parallel > more_than
    ]
    target = decimal(target_ohms)
    found = []
    for (series, parallel), at in _nearest_cool(pool, shapes, target_ohms, drive, beside):
        one = _array(pool.ohms[at], series, parallel, target, drive, beside)
        error, size = abs(one.error), one.parts
        if within is None or error <= within * (1 + ROUNDING):
            key = (error, size, series) if within is None else (size, error, series)
            found.append((key, one))
    found.sort(key=lambda f: f[0])
    return [one for _, one in found[:limit]]


def _nearest_cool(
    pool: Pool,
    shapes: list[tuple[int, int]],
    target_ohms: float,
    drive: Drive,
    beside: float | None,
) -> Iterator[tuple[tuple[int, int], int]]:
    """Yield the value that hits best from either side, of each shape, cool and in stock.

    Each size's error is least beside the value that would hit; the nearest that are cool enough lie
    one way, where the whole takes less.
    """
    values, counts = np.asarray(pool.ohms), np.asarray(pool.counts)
    alone = target_ohms
    if beside is not None:
        alone = target_ohms * beside / (beside - target_ohms) if beside > target_ohms else math.inf
    for shape in shapes:
        parts, over = shape[0] * shape[1], shape[0] / shape[1]
        array = values * over
        whole = array if beside is None else array * beside / (array + beside)
        each = drive.whole_watts(whole) * (whole / array) / parts
        usable = each <= drive.allowed_watts * (1 + ROUNDING)
        rows = np.flatnonzero(usable & (counts >= parts))
        place = int(np.searchsorted(rows, np.searchsorted(values, alone / over)))
        for row in rows[max(place - 1, 0) : place + 1].tolist():
            yield shape, row


def _array(
    ohms: float,
    series: int,
    parallel: int,
    target: Fraction,
    drive: Drive,
    beside: float | None,
) -> PartArray:
    """Return one array, its error unrounded."""
    array = whole = decimal(ohms) * series / parallel
    if beside is not None:
        load = decimal(beside)
        whole = array * load / (array + load)
    taken = float(drive.whole_watts(np.array([float(whole)]))[0])
    # Of parallel powers, the share of conductance
    each = taken * float(whole / array) / (series * parallel)
    return PartArray(ohms, series, parallel, float(whole), float(whole / target - 1), each)
