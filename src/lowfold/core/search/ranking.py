"""What is best first: by cost in floats, and in exact ratios where floats cannot tell."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import groupby
from typing import Any, Final, Protocol, TypeVar

__all__ = ["SLACK", "Ranked", "best_first"]

R = TypeVar("R", bound="Ranked")

#: Rounding allowance of a figure and of a bound on one; what it lets in is judged again.
SLACK: Final = 1e-12


class Ranked(Protocol):
    """One candidate, to be ranked exactly."""

    def key(self) -> tuple[Any, ...]:
        """Return what it is ranked by, decided in exact ratios, the cost first."""
        ...

    @property
    def written(self) -> str:
        """How it is written, which decides where nothing else does."""
        ...


def best_first(found: Sequence[tuple[float, R]], limit: int, rounding: float) -> list[R]:
    """Return the best `limit`, by cost in floats and exactly where floats cannot tell.

    Parameters
    ----------
    found : sequence of (cost, one)
        Each is asked for its key only where costs lie so near each other that floats cannot tell
        them apart, and for how it is written only where its key is that of another.
    rounding : float
        By how much two equal costs may differ in floats; beside it each may be off by `SLACK` of
        itself.
    limit : int
        Candidates wanted.
    """
    rising = sorted(found, key=lambda one: one[0])
    best: list[R] = []
    start = 0
    while start < len(rising) and len(best) < limit:
        stop = start + 1
        while stop < len(rising):
            cost = rising[stop][0]
            if cost - rising[stop - 1][0] > 4 * (rounding + SLACK * abs(cost)):
                break
            stop += 1
        best += _told_apart([one for _, one in rising[start:stop]])
        start = stop
    return best[:limit]


def _told_apart(alike: list[R]) -> list[R]:
    if len(alike) == 1:
        return alike
    keyed = sorted(((one.key(), one) for one in alike), key=lambda pair: pair[0])
    found: list[R] = []
    for _, tied in groupby(keyed, key=lambda pair: pair[0]):
        some = [one for _, one in tied]
        found += sorted(some, key=lambda one: one.written) if len(some) > 1 else some
    return found
