"""What a part is sold under, the ambient it works in, and how far that lets its value wander.

A part's half-width is its tolerance, plus |TCR| times the largest |ΔT|, plus drift: the
extreme-value budget (common practice).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final

from lowfold.core.errors import DomainError
from lowfold.core.parts.ratings import FULL_POWER_C, ZERO_POWER_C

__all__ = ["REFERENCE_C", "Environment", "PartLimits", "half_width"]

REFERENCE_C: Final = 25.0  #: where values are stated (common practice)


@dataclass(frozen=True, slots=True, kw_only=True)
class PartLimits:
    """What a part is sold under; None is not stated."""

    tolerance: float = 0.0
    tcr_ppm: float = 0.0
    drift: float = 0.0
    rated_watts: float | None = None
    limiting_volts: float | None = None
    full_power_c: float = FULL_POWER_C
    zero_power_c: float = ZERO_POWER_C

    def measured(self) -> PartLimits:
        """Return the limits of a part whose value was read off a meter: it is what it is."""
        return replace(self, tolerance=0.0, tcr_ppm=0.0, drift=0.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Environment:
    """Ambient temperature over the part's life, °C."""

    low_c: float = REFERENCE_C
    high_c: float = REFERENCE_C
    reference_c: float = REFERENCE_C

    def __post_init__(self) -> None:
        if self.low_c > self.high_c:
            msg = f"the coldest, {self.low_c:g} °C, is above the hottest, {self.high_c:g} °C"
            raise DomainError(msg, field="environment.low_c")

    @property
    def largest_dt(self) -> float:
        return max(abs(self.low_c - self.reference_c), abs(self.high_c - self.reference_c))


def half_width(tolerance: float, tcr_ppm: float, largest_dt: float, drift: float) -> float:
    """Return a part's extreme-value half-width: tolerance + |TCR|·|ΔT| + drift, a fraction.

    Parameters
    ----------
    tolerance, drift : float
        Fractions, ≥ 0.
    tcr_ppm : float
        ppm/K, of either sign.
    largest_dt : float
        Largest |T − reference|, K.
    """
    return tolerance + abs(tcr_ppm) * 1e-6 * abs(largest_dt) + drift
