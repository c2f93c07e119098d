"""The best pairs of two legs without looking at them all, for any figure that rises along a table.

For each outer leg every demand on the figure leaves one run of neighbours in the sorted table of
inner legs. A few pairs about each outer leg's best bound what the best ones cost; every pair in the
runs of “costs at most that” is then looked at, so that none that counts is missed (docs/search.md).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from fractions import Fraction
from typing import Final, Protocol, TypeVar

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import TooLargeError
from lowfold.core.search.combine import Table
from lowfold.core.search.ranking import SLACK, Ranked, best_first

__all__ = [
    "Pairs",
    "best_pairs",
    "both_in_stock",
    "from_comfortable",
    "parallel_of",
    "runs",
    "shortlist",
    "spread_out",
]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.int64]
BoolArray = npt.NDArray[np.bool_]

R = TypeVar("R", bound=Ranked)

#: Output resistance that breaks ties: stiff enough for a converter's input, light enough for a
#: battery (common practice).
COMFORTABLE_OHMS: Final = 10e3
MOST_PAIRS: Final = 4_000_000  #: pairs that are told apart at once, some 300 MB
FEW: Final = 20_000  #: pairs that are looked at without bounding them further
TIES: Final = 3  #: equally good pairs judged per listed candidate
LEAST_JUDGED: Final = 96  #: of equally good pairs, however few are listed


class Pairs(Protocol):
    """Outer legs u against a sorted table of inner legs v, all figures vectorised."""

    @property
    def limit(self) -> int:
        """How many pairs are wanted."""
        ...

    @property
    def inner_ohms(self) -> FloatArray:
        """The table of inner legs, rising, Ω."""
        ...

    @property
    def rounding(self) -> float:
        """By how much two equal costs may differ in floats."""
        ...

    def allowed(self) -> tuple[IntArray, IntArray]:
        """Return each outer leg's run [start, stop) of inner legs that keep every bound."""
        ...

    def best_of_each(
        self, start: IntArray, stop: IntArray, reach: int
    ) -> tuple[IntArray, IntArray]:
        """Return the pairs about each outer leg's best in its run."""
        ...

    def valid(self, u: IntArray, v: IntArray) -> BoolArray:
        """Return which pairs keep every bound and are in stock."""
        ...

    def cost(self, u: IntArray, v: IntArray) -> FloatArray:
        """Return what the preference makes small."""
        ...

    def off(self, u: IntArray, v: IntArray) -> FloatArray:
        """Return how far the output lies from its target, which decides between equal costs."""
        ...

    def error(self, u: IntArray, v: IntArray) -> FloatArray:
        """Return how far the nominal output is from its target, a signed fraction of that."""
        ...

    def output_ohms(self, u: IntArray, v: IntArray) -> FloatArray:
        """Return the resistance seen at the tap, Ω."""
        ...

    def at_most(self, cost: float) -> tuple[IntArray, IntArray]:
        """Return each outer leg's run of inner legs that cost at most `cost`."""
        ...


def shortlist(pairs: Pairs, known: float = math.inf) -> Iterator[tuple[int, int]]:
    """Yield every pair that can be among the best `limit`, ties included.

    Parameters
    ----------
    known : float
        A cost that `limit` pairs of other tables keep to already.
    pairs : Pairs
        Outer and inner legs, with their figures.

    Raises
    ------
    TooLargeError
        Where more pairs are equally good than can be told apart.
    """
    start, stop = pairs.allowed()
    if known < math.inf:
        start, stop = _narrowed(start, stop, pairs.at_most(known))
    everything, width = int((stop - start).sum()), len(pairs.inner_ohms)
    # Any `limit` pairs bound the cost of the best ones; the nearer they are, the tighter.
    reach, bound = 1, known
    while everything > (pairs.limit if known == math.inf else FEW):
        u, v = pairs.best_of_each(start, stop, reach)
        u, v = np.divmod(np.unique(u * width + v), width)
        valid = pairs.valid(u, v)
        costs = pairs.cost(u[valid], v[valid])
        if len(costs) >= pairs.limit:
            bound = min(bound, float(np.partition(costs, pairs.limit - 1)[pairs.limit - 1]))
            break
        if len(u) == everything:
            break
        reach *= 2
    if bound < known:
        start, stop = _narrowed(start, stop, pairs.at_most(bound))
    left = int((stop - start).sum())
    if left > MOST_PAIRS:
        msg = (
            f"{left} pairs of these legs are as good as the best: what is asked for hardly depends "
            "on them. Narrow the range of values, or see whether the load or the source decides "
            "the output alone"
        )
        raise TooLargeError(msg, field="values")
    u, v = spread_out(start, stop)
    valid = pairs.valid(u, v)
    u, v = u[valid], v[valid]
    most = max(TIES * pairs.limit, LEAST_JUDGED)
    if len(u) > most:
        # Only exact ties are that many: a sum or a ratio that recurs in every decade.
        coarse, near = (
            _coarse(figure, pairs.rounding) for figure in (pairs.cost(u, v), pairs.off(u, v))
        )
        comfort = _coarse(from_comfortable(pairs.output_ohms(u, v)), SLACK)
        first = np.lexsort((comfort, near, coarse))[:most]
        u, v = u[first], v[first]
    yield from zip(u.tolist(), v.tolist(), strict=True)


def best_pairs(
    limit: int,
    tables: Iterable[tuple[Table, Table]],
    legs_of: Callable[[Table, Table], Pairs],
    pair_of: Callable[[Table, int, Table, int, float], R],
) -> tuple[list[R], int]:
    """Return the best `limit` pairs of legs out of several tables, and how many were searched.

    Parameters
    ----------
    limit : int
        Pairs wanted.
    tables : iterable of (Table, Table)
        Outer and inner legs.
    legs_of : callable
        Returns the figures of two tables.
    pair_of : callable
        Returns a pair by its tables and rows, and how far off its target it is, a fraction.
    """
    found: list[tuple[float, R]] = []
    searched, rounding = 0, 0.0
    for outer, inner in tables:
        if not (len(outer.ohms) and len(inner.ohms)):
            continue
        legs = legs_of(outer, inner)
        searched += len(outer.ohms) * len(inner.ohms)
        known = found[limit - 1][0] if len(found) >= limit else math.inf
        pairs = np.array(list(shortlist(legs, known)), dtype=np.intp).reshape(-1, 2)
        costs = legs.cost(pairs[:, 0], pairs[:, 1]).tolist()
        errors = legs.error(pairs[:, 0], pairs[:, 1]).tolist()
        found += [
            (cost, pair_of(outer, u, inner, v, error))
            for cost, error, (u, v) in zip(costs, errors, pairs.tolist(), strict=True)
        ]
        found.sort(key=lambda one: one[0])
        rounding = max(rounding, legs.rounding)
    return best_first(found, limit, rounding), searched


def _coarse(figures: FloatArray, rounding: float) -> FloatArray:
    """Return figures on a grid of their own rounding, so that what ties in truth ties in floats.

    The grid does not depend on how many are wanted: the first is the same however many follow.
    """
    with np.errstate(divide="ignore"):
        decade = np.floor(np.log10(np.abs(figures)))
    step = np.maximum(rounding, 10.0 ** (np.where(np.isfinite(decade), decade, -300.0) - 11))
    grid: FloatArray = np.round(figures / step) * step
    return grid


def _narrowed(
    start: IntArray, stop: IntArray, near: tuple[IntArray, IntArray]
) -> tuple[IntArray, IntArray]:
    start = np.maximum(start, near[0])
    return start, np.maximum(np.minimum(stop, near[1]), start)


def spread_out(start: IntArray, stop: IntArray) -> tuple[IntArray, IntArray]:
    """Return every pair (row, place) of the runs [start, stop) of each row.

    Parameters
    ----------
    start, stop : (rows,) IntArray
        Ends of each row's run; none where stop is not above start.

    Returns
    -------
    rows, places : (n,) IntArray
        Row by row, each run rising.
    """
    lengths = np.maximum(stop - start, 0)
    u = np.repeat(np.arange(len(lengths)), lengths)
    v = np.arange(int(lengths.sum())) + np.repeat(start - np.cumsum(lengths) + lengths, lengths)
    return u, v


def from_comfortable(output_ohms: FloatArray | float) -> FloatArray:
    """Return how far an output resistance is from a comfortable one, in factors of e.

    Parameters
    ----------
    output_ohms : FloatArray | float
        Resistance seen at the tap, Ω.
    """
    away: FloatArray = np.abs(np.log(np.asarray(output_ohms) / COMFORTABLE_OHMS))
    return away


def parallel_of(one: Fraction, other: Fraction) -> float:
    """Return two exact resistances in parallel, correctly rounded, Ω.

    Parameters
    ----------
    one, other : Fraction
        Ω, each > 0.
    """
    product = one.numerator * other.numerator
    return product / (one.numerator * other.denominator + other.numerator * one.denominator)


def runs(
    rising: FloatArray, rows: int, low: FloatArray | float, high: FloatArray | float
) -> tuple[IntArray, IntArray]:
    """Return for each of `rows` the run [start, stop) of `rising` from `low` to `high`.

    Parameters
    ----------
    rising : FloatArray
        Values in order.
    rows : int
        How many outer legs there are.
    low : FloatArray | float
        (rows,) or one: lower ends.
    high : FloatArray | float
        (rows,) or one: upper ends.
    """
    start = np.searchsorted(rising, np.broadcast_to(low, (rows,)) * (1 - SLACK), "left")
    stop = np.searchsorted(rising, np.broadcast_to(high, (rows,)) * (1 + SLACK), "right")
    return start, np.maximum(start, stop)


def both_in_stock(one: Table, u: IntArray, other: Table, v: IntArray) -> BoolArray:
    """Return which pairs of rows their pool has enough parts for, (n,).

    Legs of two pools, one of them in place, take nothing from one another.

    Parameters
    ----------
    one : Table
        Table of the outer legs.
    u : IntArray
        Rows of `one`, (n,).
    other : Table
        Table of the inner legs.
    v : IntArray
        Rows of `other`, (n,).
    """
    if one.pool != other.pool:
        return one.pool.in_stock(one.leaves[u]) & other.pool.in_stock(other.leaves[v])
    if not one.pool.counted:
        return np.ones(len(u), dtype=np.bool_)
    return one.pool.in_stock(np.concatenate((one.leaves[u], other.leaves[v]), axis=1))
