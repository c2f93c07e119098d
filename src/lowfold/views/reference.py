"""A value among those of every standard series."""

from __future__ import annotations

from lowfold.core.values.preferred import mantissas
from lowfold.views.view import view

__all__ = ["SOLD", "SeriesAnswer", "SeriesRow"]
#: What parts of a series are usually sold at (IEC 60063 and common practice).
SOLD = {
    "E3": "", "E6": "± 20 %", "E12": "± 10 %", "E24": "± 5 %, 1 % too", "E48": "± 2 %",
    "E96": "± 1 %", "E192": "± 0.5 % and tighter",
}  # fmt: skip


@view
class SeriesRow:
    name: str
    sold: str  #: At which tolerance, usually
    values: list[str]  #: One decade, as written
    place: int  #: Of the nearest value in that decade, from 0
    has: bool
    nearest_ohm: float
    below_ohm: float
    above_ohm: float
    nearest: str
    below: str
    above: str
    off: str  #: How far the nearest is off; empty where it is the value


@view
class SeriesAnswer:
    ohm: float
    shown: str
    power: int  #: Of ten, that a value of the tables is times for its decade
    series: list[SeriesRow]


def _mantissa(value: int, series: str) -> str:
    two_digits = all(m % 10 == 0 for m in mantissas(series))
    return f"{value / 100:.{1 if two_digits else 2}f}"
