"""A mark as read: a value with what else it says, and whether that is a part one can buy."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Final, Literal

from lowfold.core.checking.verdict import ROUNDING
from lowfold.core.values.preferred import SERIES, mantissas
from lowfold.core.values.quantities import FRACTION, OHM, write

__all__ = ["SOLD_AT", "MarkRead", "likeliest_first", "series_of", "sold", "words_of"]

End = Literal["left", "right"]

#: Tolerance a series is usually sold at, fraction; E24 at 1 and 2 % too (common practice).
SOLD_AT: Final[dict[float, tuple[str, ...]]] = {
    0.2: ("E3", "E6"),
    0.1: ("E12",),
    0.05: ("E24",),
    0.02: ("E48", "E24"),
    0.01: ("E96", "E24"),
}
#: Half a per cent and tighter.
FINEST: Final = ("E192",)


@dataclass(frozen=True, slots=True)
class MarkRead:
    """One reading of a mark."""

    ohms: Decimal  #: Ω, as marked
    tolerance: float | None  #: fraction; None where it is not marked
    tcr_ppm: float | None = None
    end: End = "left"  #: from which it is read
    usual: float | None = None  #: tolerance of its kind where none is marked (common practice)
    older: bool = False  #: as an older edition of the standard has it

    @property
    def lowest(self) -> float:
        return float(self.ohms) * (1 - (self.tolerance or 0.0))

    @property
    def highest(self) -> float:
        return float(self.ohms) * (1 + (self.tolerance or 0.0))

    @property
    def series(self) -> tuple[str, ...]:
        """Return every standard series that has the value."""
        return series_of(self.ohms)

    def holds(self, low: float, high: float) -> bool:
        """Return whether it may be a part that measures from `low` to `high` Ω.

        Where no tolerance is marked, a part of its kind's usual one.
        """
        slack, half = 1 + ROUNDING, self.tolerance or self.usual or 0.0
        least, most = (float(self.ohms) * (1 + sign * half) for sign in (-1, 1))
        return least <= high * slack and low <= most * slack


def series_of(ohms: Decimal) -> tuple[str, ...]:
    """Return every standard series that has a value, the coarsest first.

    Parameters
    ----------
    ohms : Decimal
        Ω, above 0; a zero-ohm link is of no series.
    """
    if ohms <= 0:
        return ()
    digits = "".join(str(d) for d in ohms.as_tuple().digits).strip("0")
    if len(digits) > 3:
        return ()
    wanted = int(digits.ljust(3, "0"))
    return tuple(name for name in SERIES if wanted in mantissas(name))


def sold(read: MarkRead) -> bool:
    """Return whether the value is one of a series that is sold at the tolerance marked.

    Parameters
    ----------
    read : MarkRead
        As marked; without a tolerance any series will do.
    """
    if read.tolerance is None:
        return bool(read.series) or not read.ohms
    return any(name in read.series for name in SOLD_AT.get(read.tolerance, FINEST))


def likeliest_first(
    readings: list[MarkRead], measured: tuple[float, float] | None = None
) -> list[MarkRead]:
    """Return readings: those a measurement holds for first, then the sold, then from the left.

    Parameters
    ----------
    readings : list of MarkRead
    measured : (low, high), optional
        Between what the part lies by the meter, Ω.
    """

    def rank(read: MarkRead) -> tuple[bool, bool, bool, bool]:
        away = measured is not None and not read.holds(*measured)
        return away, read.older, not sold(read), read.end == "right"

    return sorted(readings, key=rank)


def words_of(read: MarkRead, measured: tuple[float, float] | None = None) -> str:
    """Say what a reading is: the value, whether such parts are sold, and what the meter says of it.

    Parameters
    ----------
    measured : (low, high), optional
        Between what the part lies by the meter, Ω.
    """
    value = write(float(read.ohms), OHM, 6, trim=True)
    if not read.ohms:
        first = "0 Ω: a link"
    elif read.tolerance is None:
        usual = f", usually {write(read.usual, FRACTION, 2, trim=True)}" if read.usual else ""
        first = f"{value}; no tolerance is marked{usual}"
    else:
        first = f"{value} ± {write(read.tolerance, FRACTION, 4, trim=True)}"
    first = f"{first} by an older edition" if read.older else first
    said = [f"{first}, read from the right" if read.end == "right" else first]
    if read.series and sold(read):
        said.append(f"a value of {read.series[0]}")
    elif read.series:
        said.append(f"a value of {read.series[0]}, which is not usually sold at this tolerance")
    elif read.ohms:
        said.append("no value of a standard series")
    if measured is not None:
        low, high = (write(ohms, OHM, 4, trim=True) for ohms in measured)
        if read.holds(*measured):
            said.append("what is measured may be it")
        else:
            said.append(f"it is not what is measured: that lies from {low} to {high}")
    return "; ".join(said)
