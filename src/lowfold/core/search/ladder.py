"""A ladder: a string of parts with one to four taps, each feeding its own load.

Seen from a tap, the string below it with its loads draws an affine current, I(V) = G·V + c, as long
as every current load is fed. Going up, one more part R puts the tap above at V + R·I(V). So every
tap's voltage follows from the parts below it and from the voltage of any one tap.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.parts.pool import Pool

__all__ = ["MOST_TAPS", "LadderNeed", "TapNeed", "tap_voltages"]

FloatArray = npt.NDArray[np.float64]

MOST_TAPS: Final = 4
MOST_VALUES: Final = 1500
MOST_LISTED: Final = 500


@dataclass(frozen=True, slots=True, kw_only=True)
class TapNeed:
    """What one tap should give, and what it feeds."""

    target_volts: float
    load_ohms: float | None = None
    load_amps: float | None = None

    @property
    def siemens(self) -> float:
        return 0.0 if self.load_ohms is None else 1 / self.load_ohms

    @property
    def amps(self) -> float:
        return self.load_amps or 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class LadderNeed:
    """Wanted taps, highest first, and what the ladder must keep to."""

    supply_volts: float
    taps: tuple[TapNeed, ...]
    pool: Pool
    supply_tolerance: float = 0.0
    source_ohms: float = 0.0
    low_volts: float = 0.0  #: at the ladder's other end; loads go to 0 V
    tolerance: float = 0.01  #: of each part
    min_amps: float | None = None  #: drawn from the supply, nominal, loaded
    max_amps: float | None = None
    limit: int = 20
    most_error: float = math.inf  #: of a tap, a fraction; nothing further off is asked for

    @property
    def span_volts(self) -> float:
        """Return what lies across the ladder and its source, V."""
        return self.supply_volts - self.low_volts

    def drawn_at_low(self, tap: TapNeed) -> float:
        """Return what a tap's load would draw at the voltage of the low end, A."""
        return tap.amps + tap.siemens * self.low_volts

    def __post_init__(self) -> None:
        if not 1 <= len(self.taps) <= MOST_TAPS:
            msg = f"{len(self.taps)} taps are asked for; a ladder here has 1 to {MOST_TAPS}"
            raise TooLargeError(msg, field="taps")
        if len(self.pool.ohms) > MOST_VALUES:
            msg = (
                f"{len(self.pool.ohms)} values are more than the {MOST_VALUES} searched: "
                "narrow the range"
            )
            raise TooLargeError(msg, field="values")
        if self.limit > MOST_LISTED:
            msg = f"{self.limit} candidates are asked for; at most {MOST_LISTED} are listed"
            raise TooLargeError(msg, field="limit")
        above = self.supply_volts
        for place, tap in enumerate(self.taps):
            if not max(0.0, self.low_volts) < tap.target_volts < above:
                over = "the supply" if place == 0 else "the tap above it"
                msg = (
                    f"tap {place + 1} wants {tap.target_volts:g} V, which is not between "
                    f"{max(0.0, self.low_volts):g} V and the {above:g} V of {over}: list the taps "
                    "highest first"
                )
                raise DomainError(msg, field=f"taps.{place}.target_v")
            if tap.load_ohms is not None and tap.load_amps is not None:
                msg = "a load is a resistance or a current: give one of the two"
                raise DomainError(msg, field=f"taps.{place}.load_a")
            above = tap.target_volts
        if None not in (self.min_amps, self.max_amps) and self.min_amps > self.max_amps:  # type: ignore[operator]
            msg = "the smallest current is above the largest"
            raise DomainError(msg, field="min_current_a")


def tap_voltages(
    ohms: FloatArray,
    supply_volts: FloatArray | float,
    source_ohms: float,
    siemens: FloatArray,
    amps: FloatArray,
    low_volts: float = 0.0,
) -> FloatArray:
    """Return every tap's voltage of many ladders at once, (n, taps) in V.

    The node equations of a string, eliminated from the bottom: exact where every current load is
    fed; where one is not, some voltage comes out at or below 0 V.

    Parameters
    ----------
    ohms : (n, taps + 1) ndarray of float64
        Top to bottom, Ω.
    siemens, amps : (taps,) ndarray of float64
        Each tap's load to 0 V.
    supply_volts : FloatArray | float
        EMF of the supply, V.
    source_ohms : float
        Ω inside the supply.
    low_volts : float
        At the ladder's other end, V.
    """
    taps = ohms.shape[1] - 1
    conductance = np.zeros(len(ohms))  # of what hangs below the tap
    draw = np.zeros(len(ohms))
    above: list[tuple[FloatArray, FloatArray]] = []
    for tap in range(taps - 1, -1, -1):
        below = ohms[:, tap + 1]
        # I into what is below: (V − R·c)·G/(1 + R·G) + c = V·G/(1+RG) + c/(1+RG), G the tap's own
        if tap == taps - 1:
            conductance = 1 / below
        else:
            grown = 1 + below * conductance
            conductance, draw = conductance / grown, draw / grown
        conductance = conductance + siemens[tap]
        draw = draw + amps[tap] + siemens[tap] * low_volts
        above.append((conductance, draw))
    volts = np.empty((len(ohms), taps))
    over = np.asarray(supply_volts, dtype=np.float64) - low_volts
    for tap, (into, drawn) in enumerate(reversed(above)):
        series = ohms[:, tap] + (source_ohms if tap == 0 else 0.0)
        over = (over - series * drawn) / (1 + series * into)
        volts[:, tap] = over
    return volts + low_volts
