"""What each of two legs can be: any of the values, or the one part that is in place already."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Protocol

from lowfold.core.parts.pool import Pool
from lowfold.core.search.combine import Table, table

__all__ = ["LegsNeed", "leg_pools", "leg_tables"]


class LegsNeed(Protocol):
    """A need for two legs, of which one may be in place."""

    @property
    def pool(self) -> Pool: ...

    @property
    def max_per_leg(self) -> int: ...

    @property
    def upper_ohms(self) -> float | None: ...

    @property
    def lower_ohms(self) -> float | None: ...


def leg_pools(pool: Pool, upper_ohms: float | None, lower_ohms: float | None) -> tuple[Pool, Pool]:
    """Return what the upper and the lower leg are chosen from.

    Parameters
    ----------
    pool : Pool
        Of a leg that is not in place.
    upper_ohms, lower_ohms : float or None
        A leg in place, Ω; nothing is taken from the pool for it.
    """
    upper, lower = (
        pool if ohms is None else Pool.plenty([ohms]) for ohms in (upper_ohms, lower_ohms)
    )
    return upper, lower


def leg_tables(need: LegsNeed) -> Iterator[tuple[Table, Table]]:
    """Yield the tables of upper and lower legs, those of fewest parts first."""
    upper, lower = leg_pools(need.pool, need.upper_ohms, need.lower_ohms)
    ups = range(1, 2 if need.upper_ohms is not None else need.max_per_leg + 1)
    downs = range(1, 2 if need.lower_ohms is not None else need.max_per_leg + 1)
    for up, down in sorted(((a, b) for a in ups for b in downs), key=sum):
        yield table(upper, up), table(lower, down)
