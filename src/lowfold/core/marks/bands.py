"""Colour bands, three to six (IEC 60062, from memory)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Final

from lowfold.core.errors import DomainError
from lowfold.core.marks.colours import (
    COLOURS,
    DIGITS,
    MULTIPLIERS,
    OLDER_TOLERANCES,
    TCR_PPM,
    TOLERANCES,
    called,
    confused_with,
)
from lowfold.core.marks.mark import End, MarkRead
from lowfold.core.values.quantities import FRACTION, OHM, PPM_PER_KELVIN, write

__all__ = ["BANDS", "Exchanged", "exchanged", "read_bands", "write_bands"]

#: How many bands there may be, and how many of them are digits.
BANDS: Final[dict[int, int]] = {3: 2, 4: 2, 5: 3, 6: 3}
NO_BAND: Final = 0.2  #: tolerance where no band tells it


@dataclass(frozen=True, slots=True)
class Exchanged:
    """What it would be if one colour were another that is easily taken for it."""

    read: MarkRead
    band: int  #: from 1
    seen: str
    instead: str


def read_bands(colours: Sequence[str]) -> list[MarkRead]:
    """Return what bands say from either end, wherever they can be read.

    Parameters
    ----------
    colours : sequence of str
        Names in the order seen, 3 to 6.

    Raises
    ------
    DomainError
        For a number of bands that stands for nothing, a word that is no colour, or where a colour
        cannot stand in its place from either end: the place from the left is told.
    """
    if len(colours) not in BANDS:
        said = "1 band is" if len(colours) == 1 else f"{len(colours)} bands are"
        msg = f"{said} seen; a resistor has 3 to 6"
        raise DomainError(msg, field="bands")
    seen = [called(name) for name in colours]
    for place, name in enumerate(seen, start=1):
        if name not in COLOURS:
            there = ", ".join(COLOURS)
            msg = f"band {place}: “{colours[place - 1]}” is no colour of a band; there are {there}"
            raise DomainError(msg, field=f"bands.{place - 1}")
    ends: tuple[tuple[End, list[str]], ...] = (("left", seen), ("right", seen[::-1]))
    found = []
    wrong: list[tuple[int, str]] = []
    for end, row in ends:
        read = _from(row, end)
        if isinstance(read, MarkRead):
            found += [read, *_older(read, row)]
        else:
            wrong.append(read)
    if not found:
        place, words = wrong[0]
        msg = f"band {place}: {words}, and from the other end band {wrong[1][0]}: {wrong[1][1]}"
        raise DomainError(msg, field=f"bands.{place - 1}")
    return found


def _from(  # noqa: PLR0911 a return for each place that may be wrong
    row: Sequence[str], end: End
) -> MarkRead | tuple[int, str]:
    """Read bands from their first; else return which one cannot stand there, and why."""
    digits = BANDS[len(row)]
    value = 0
    for place, name in enumerate(row[:digits], start=1):
        if name not in DIGITS:
            return place, f"{name} is no digit"
        if place == 1 and DIGITS[name] == 0:
            return place, "black is no first digit"
        value = 10 * value + DIGITS[name]
    ohms = Decimal(value).scaleb(MULTIPLIERS[row[digits]])
    if len(row) == digits + 1:
        return MarkRead(ohms, NO_BAND, None, end)
    if row[digits + 1] not in TOLERANCES:
        return digits + 2, f"{row[digits + 1]} stands for no tolerance"
    tolerance = TOLERANCES[row[digits + 1]]
    if len(row) == digits + 2:
        return MarkRead(ohms, tolerance, None, end)
    if row[-1] not in TCR_PPM:
        return len(row), f"{row[-1]} stands for no temperature coefficient"
    return MarkRead(ohms, tolerance, TCR_PPM[row[-1]], end)


def _older(read: MarkRead, row: Sequence[str]) -> list[MarkRead]:
    """Return what the same bands say by an older edition, where that is something else."""
    digits = BANDS[len(row)]
    before = OLDER_TOLERANCES.get(row[digits + 1]) if len(row) > digits + 1 else None
    return [] if before is None else [replace(read, tolerance=before, older=True)]


def exchanged(colours: Sequence[str]) -> list[Exchanged]:
    """Return readings from the left with one easily confused colour exchanged.

    Parameters
    ----------
    colours : sequence of str
        Names in the order seen, 3 to 6, each a colour.
    """
    seen = [called(name) for name in colours]
    found = []
    for place, name in enumerate(seen):
        for instead in confused_with(name):
            read = _from([*seen[:place], instead, *seen[place + 1 :]], "left")
            if isinstance(read, MarkRead):
                found.append(Exchanged(read, place + 1, name, instead))
    return found


def write_bands(  # noqa: PLR0911 a return for each reason
    ohms: Decimal, tolerance: float | None, tcr_ppm: float | None, count: int
) -> tuple[str, ...] | str:
    """Return the bands of a part, or why there are none.

    Parameters
    ----------
    ohms : Decimal
        Ω, as stated.
    tolerance : float or None
        Half width, a fraction.
    tcr_ppm : float or None
        ppm/K.
    count : int
        4, 5 or 6 bands.
    """
    if not ohms:
        return "a link of 0 Ω has one black band"
    if tolerance is None:
        return "no tolerance is stated, and its band stands for one"
    last = next((name for name, stands in TOLERANCES.items() if stands == tolerance), None)
    if last is None:
        shown = write(tolerance, FRACTION, 4, trim=True)
        if tolerance == NO_BAND:
            return f"± {shown} is three bands: it has no band of its own"
        return f"no band stands for ± {shown}"
    digits = BANDS[count]
    value = _digits(ohms, digits)
    if value is None:
        shown = write(float(ohms), OHM, 6, trim=True)
        return f"{shown} does not fit {digits} digits and a power of ten from 10⁻³ to 10⁹"
    mantissa, power = value
    names = {digit: name for name, digit in DIGITS.items()}
    powers = {exponent: name for name, exponent in MULTIPLIERS.items()}
    row = [*(names[int(d)] for d in str(mantissa)), powers[power], last]
    if count == 6:
        if tcr_ppm is None:
            return "no temperature coefficient is stated, and the sixth band stands for it"
        sixth = next((name for name, stands in TCR_PPM.items() if stands == tcr_ppm), None)
        if sixth is None:
            return f"no band stands for {write(tcr_ppm, PPM_PER_KELVIN, 4, trim=True)}"
        row.append(sixth)
    return tuple(row)


def _digits(ohms: Decimal, count: int) -> tuple[int, int] | None:
    """Return `count` digits and the power of ten that make a value; None if none do."""
    power = ohms.adjusted() - count + 1
    mantissa = ohms.scaleb(-power)
    if mantissa != int(mantissa) or power not in MULTIPLIERS.values():
        return None
    return int(mantissa), power
