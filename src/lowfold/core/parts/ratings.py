"""What a rating is worth: derated for the ambient, and the standard power steps.

Common practice throughout; the part's own data sheet rules.
"""

from __future__ import annotations

from typing import Final

from lowfold.core.errors import DomainError

__all__ = [
    "FULL_POWER_C",
    "STANDARD_WATTS",
    "STRESS",
    "ZERO_POWER_C",
    "derated_watts",
    "suggested_watts",
]

FULL_POWER_C: Final = 70.0  #: up to here the full rating holds
ZERO_POWER_C: Final = 155.0  #: film limit, typical
STRESS: Final = 0.5  #: steady use at no more than half the derated rating


#: Powers that parts are sold for: chips 0402 to 2512, leaded film and wirewound.
STANDARD_WATTS: Final = (1 / 16, 1 / 10, 1 / 8, 1 / 4, 1 / 2, 3 / 4, 1.0, 2.0, 5.0)


def derated_watts(
    rated_watts: float,
    ambient_c: float,
    full_power_c: float = FULL_POWER_C,
    zero_power_c: float = ZERO_POWER_C,
) -> float:
    """Return the rating at `ambient_c`: full up to one corner, then straight to zero at the other.

    Parameters
    ----------
    rated_watts : float
        W, up to `full_power_c`.
    ambient_c : float
        °C.
    full_power_c : float
        °C up to which the whole rating holds.
    zero_power_c : float
        °C at which nothing may be taken.

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
    worst_watts : float
        The most it may have to take, W.
    """
    for watts in STANDARD_WATTS:
        if worst_watts <= stress * derating * watts:
            return watts
    return None
