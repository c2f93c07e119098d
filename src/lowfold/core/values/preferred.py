"""Preferred values: the E series of IEC 60063 (from memory), their unions and ranges.

A value is an integer of three digits and a decade, so that the same value from two series is the
same float, and `1.2 × 10` never becomes `12.000000000000002`.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable
from functools import cache, lru_cache
from typing import TYPE_CHECKING, Final, TypeAlias

from lowfold.core.errors import DomainError
from lowfold.core.values.ranges import DEFAULT_RANGE, WIDEST_RANGE

__all__ = [
    "SERIES",
    "commonest_series",
    "mantissas",
    "read_series",
    "series_values",
]

if TYPE_CHECKING:
    import numpy as np
    import numpy.typing as npt

    FloatArray: TypeAlias = npt.NDArray[np.float64]

#: E24 is historic: eight of its values are not what rounding 10^(i/24) gives.
E24: Final = (
    *(100, 110, 120, 130, 150, 160, 180, 200, 220, 240, 270, 300),
    *(330, 360, 390, 430, 470, 510, 560, 620, 680, 750, 820, 910),
)
SERIES: Final = ("E3", "E6", "E12", "E24", "E48", "E96", "E192")


@cache
def mantissas(series: str) -> tuple[int, ...]:
    """Return one decade of `series` as three-digit integers, rising from 100.

    Parameters
    ----------
    series : str
        Name of one.

    Raises
    ------
    DomainError
        If `series` is none of `SERIES`.
    """
    if series not in SERIES:
        msg = f"“{series}” is not a series of preferred values: use {', '.join(SERIES)}"
        raise DomainError(msg, field="series")
    count = int(series[1:])
    if count <= len(E24):
        return E24[:: len(E24) // count]
    rounded = [round(100 * 10 ** (i / count)) for i in range(count)]
    return tuple(920 if m == 919 else m for m in rounded)  # the one exception to the rule


def read_series(text: str) -> tuple[str, ...]:
    """Read a union such as `E24 + E96` or `e24, e96` into names of series.

    Parameters
    ----------
    text : str
        As typed.

    Raises
    ------
    DomainError
        Naming the word that is no series.
    """
    joined = re.sub(r"\bE[\s-]+(?=[0-9])", "E", text.upper())
    words = joined.replace("+", " ").replace(",", " ").replace("∪", " ").split()
    if not words:
        msg = f"no series is named: use {', '.join(SERIES)}, or a union such as E24 + E96"
        raise DomainError(msg, field="series")
    for word in words:
        mantissas(word)
    return tuple(sorted(set(words), key=SERIES.index))


@lru_cache(maxsize=64)
def _values(series: tuple[str, ...], low: float, high: float) -> FloatArray:
    # Loaded here: who reads one mark needs no arrays.
    import numpy as np  # noqa: PLC0415

    decades = range(math.floor(math.log10(low)) - 1, math.floor(math.log10(high)) + 2)
    united = sorted({m for name in series for m in mantissas(name)})
    # float("120e-1") is correctly rounded where 120 * 0.1 is not.
    every = np.array([float(f"{m}e{d - 2}") for d in decades for m in united])
    kept = every[(every >= low) & (every <= high)]
    kept.setflags(write=False)
    return kept


def series_values(
    series: Iterable[str], low: float = DEFAULT_RANGE[0], high: float = DEFAULT_RANGE[1]
) -> FloatArray:
    """Return the union of `series` from `low` to `high` inclusive, rising, (n,) in Ω.

    Parameters
    ----------
    series : Iterable[str]
        Names of preferred series.
    low : float
        Least, Ω.
    high : float
        Greatest, Ω.

    Raises
    ------
    DomainError
        If no series is named, one is unknown, or the range is empty or beyond `WIDEST_RANGE`.
    """
    names = tuple(sorted(set(series)))
    if not names:
        msg = f"no series is named: use {', '.join(SERIES)}"
        raise DomainError(msg, field="series")
    if not WIDEST_RANGE[0] <= low <= high <= WIDEST_RANGE[1]:
        msg = (
            f"the range {low:g} Ω to {high:g} Ω is not inside 1 mΩ to 1 GΩ with its lower end first"
        )
        raise DomainError(msg, field="min_ohm")
    return _values(names, float(low), float(high))


@lru_cache(maxsize=4096)
def _mantissa_of(ohms: float) -> int | None:
    """Return the three-digit mantissa of a value, or None if it has more digits."""
    digits = f"{ohms:.12e}"
    mantissa = digits[0] + digits[2:4]
    return int(mantissa) if set(digits[4:14]) <= {"0"} else None


def commonest_series(values: Iterable[float]) -> str:
    """Return the most widely stocked series that holds every value: E3 before E6, and so on.

    Empty where no series does. Fewer values to a decade are stocked more widely (common practice).

    Parameters
    ----------
    values : Iterable[float]
        Ω.
    """
    wanted = {_mantissa_of(v) for v in values}
    for series in SERIES:
        if wanted <= set(mantissas(series)):
            return series
    return ""
