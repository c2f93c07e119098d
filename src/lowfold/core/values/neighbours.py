"""A value among the standard ones: which series have it, and what stands next to it in each."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import Decimal

from lowfold.core.errors import DomainError
from lowfold.core.values.preferred import SERIES, mantissas

__all__ = ["Among", "among", "beside"]


@dataclass(frozen=True, slots=True)
class Among:
    """A value among those of one series."""

    series: str
    below: float  #: Ω, the next value below
    nearest: float  #: Ω, by ratio; the value itself where the series has it
    above: float
    place: int  #: of the nearest in its decade, from 0

    def off(self, ohms: float) -> float:
        """Return how far the nearest is off, a fraction of what is wanted."""
        return self.nearest / ohms - 1


def among(ohms: float) -> tuple[Among, ...]:
    """Return a value among those of every series.

    Parameters
    ----------
    ohms : float
        From 1 mΩ to 1 TΩ.

    Raises
    ------
    DomainError
        For a value outside of it.
    """
    if not 1e-3 <= ohms <= 1e12:
        msg = f"series are told of from 1 mΩ to 1 TΩ, got {ohms:g} Ω"
        raise DomainError(msg, field="ohm")
    return tuple(_among(ohms, name) for name in SERIES)


def beside(ohms: float, series: str) -> tuple[float, float]:
    """Return the values next to one in a series, Ω: below and above it.

    Parameters
    ----------
    ohms : float
        From 1 mΩ to 1 TΩ.
    series : str
        One of `SERIES`.
    """
    found = _among(ohms, series)
    return found.below, found.above


def _among(ohms: float, series: str) -> Among:
    values = mantissas(series)
    exact = Decimal(repr(ohms))
    decade = exact.adjusted()
    every = [
        (Decimal(m).scaleb(power - 2), place)
        for power in (decade - 1, decade, decade + 1)
        for place, m in enumerate(values)
    ]
    below = max(v for v, _ in every if v < exact)
    above = min(v for v, _ in every if v > exact)
    near, place = min(every, key=lambda v: abs(math.log(float(v[0] / exact))))
    return Among(series, float(below), float(near), float(above), place)
