"""Figures as they are seen: a number as written, its unit apart."""

from __future__ import annotations

import math

from lowfold.core.values.quantities import FRACTION, Kind, write_pair
from lowfold.views.view import view

__all__ = ["Figure", "figure", "must", "signed"]


@view
class Figure:
    """A number as written, its unit apart."""

    text: str
    unit: str


def figure(
    value: float | None, kind: Kind, digits: int = 4, *, trim: bool = False
) -> Figure | None:
    """Write a value as number and unit, apart; None where there is none to write."""
    if value is None or not math.isfinite(value):
        return None
    text, unit = write_pair(value, kind, digits, trim=trim)
    return Figure(text=text, unit=unit)


def must(value: float, kind: Kind, digits: int) -> Figure:
    """Write a value that is there for certain."""
    text, unit = write_pair(value, kind, digits)
    return Figure(text=text, unit=unit)


def signed(value: float) -> Figure:
    """Write a fraction as per cent, with its sign."""
    text, unit = write_pair(value, FRACTION, 3)
    return Figure(text=("+" if value > 0 else "") + text, unit=unit)
