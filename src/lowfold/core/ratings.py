"""What parts are sold for: typical ratings, limiting voltages and standard power steps.

Common practice throughout; the part's own data sheet rules.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from lowfold.core.errors import DomainError
from lowfold.core.quantities import WATT, read

__all__ = [
    "FULL_POWER_C",
    "STANDARD_WATTS",
    "STRESS",
    "TYPICAL",
    "ZERO_POWER_C",
    "Rating",
    "derated_watts",
    "read_rating",
    "suggested_watts",
]

FULL_POWER_C: Final = 70.0  #: up to here the full rating holds
ZERO_POWER_C: Final = 155.0  #: film limit, typical
STRESS: Final = 0.5  #: steady use at no more than half the derated rating


@dataclass(frozen=True, slots=True)
class Rating:
    """A part's power rating and the voltage its body stands."""

    name: str
    watts: float  #: continuous, up to `FULL_POWER_C`
    limiting_volts: float | None = None  #: None where only √(P·R) limits


TYPICAL: Final[dict[str, Rating]] = {
    r.name: r
    for r in (
        Rating("0402", 1 / 16, 50.0),
        Rating("0603", 1 / 10, 75.0),
        Rating("0805", 1 / 8, 150.0),
        Rating("1206", 1 / 4, 200.0),
        Rating("2010", 3 / 4, 200.0),
        Rating("2512", 1.0, 200.0),
    )
}
LEADED: Final = (
    Rating("1/8 W film", 1 / 8, 200.0),
    Rating("1/4 W film", 1 / 4, 250.0),
    Rating("1/2 W film", 1 / 2, 350.0),
    Rating("1 W film", 1.0, 500.0),
    Rating("2 W film", 2.0, 500.0),
    Rating("5 W wirewound", 5.0),
)
STANDARD_WATTS: Final = tuple(sorted({r.watts for r in (*TYPICAL.values(), *LEADED)}))


def read_rating(text: str) -> Rating:
    """Read a chip size (`0603`) or a leaded part's power (`1/4 W`, `250 mW`) as a rating.

    A power that is one of the typical leaded parts brings that part's limiting voltage; any other
    power has none stated.

    Raises
    ------
    DomainError
        Naming the sizes that are known.
    """
    word = text.strip()
    if word in TYPICAL:
        return TYPICAL[word]
    if word.isdigit() and len(word) == 4:
        msg = f"“{word}” is not among the sizes with a typical rating: {', '.join(TYPICAL)}"
        raise DomainError(msg, field="rating")
    watts = read(word, WATT)
    if not 0 < watts <= 1000:
        msg = f"“{word}” is no power rating: write a size such as 0603 or a power such as 1/4 W"
        raise DomainError(msg, field="rating")
    for rating in LEADED:
        if math.isclose(rating.watts, watts, rel_tol=1e-9):
            return rating
    return Rating(f"{word}", watts)


def derated_watts(
    rated_watts: float,
    ambient_c: float,
    full_power_c: float = FULL_POWER_C,
    zero_power_c: float = ZERO_POWER_C,
) -> float:
    """Return the rating at `ambient_c`: full up to one corner, then straight to zero at the other.

    Raises
    ------
    DomainError
        If the corners are not in rising order.
    """
    if not full_power_c < zero_power_c:
        msg = f"full power ends at {full_power_c:g} °C, which must lie below {zero_power_c:g} °C"
        raise DomainError(msg, field="parts")
    left = (zero_power_c - ambient_c) / (zero_power_c - full_power_c)
    return rated_watts * min(max(left, 0.0), 1.0)


def suggested_watts(worst_watts: float, stress: float, derating: float) -> float | None:
    """Return the smallest of `STANDARD_WATTS` that carries `worst_watts`, or None beyond them.

    Parameters
    ----------
    stress : float
        Share of the derated rating that may be used.
    derating : float
        Derated over full rating at the hottest ambient, 0 to 1.
    """
    for watts in STANDARD_WATTS:
        if worst_watts <= stress * derating * watts:
            return watts
    return None
