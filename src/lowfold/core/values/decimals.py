"""A figure as the decimal that was written, so that what ties in truth ties exactly."""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache

__all__ = ["decimal"]


@lru_cache(maxsize=4096)
def decimal(value: float) -> Fraction:
    """Return the shortest decimal that reads as `value`, as a ratio of integers.

    Parameters
    ----------
    value : float
        In any unit, finite.

    Examples
    --------
    >>> decimal(0.1)
    Fraction(1, 10)
    """
    return Fraction(repr(float(value)))
