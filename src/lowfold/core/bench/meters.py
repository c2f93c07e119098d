"""The meter is a load too: usual voltage inputs, and what each would read (common practice)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

__all__ = ["METERS", "Meter", "MeterReading", "readings"]

#: Full scales of needle meters, V.
NEEDLE_RANGES: Final = (0.5, 2.5, 10.0, 50.0, 250.0, 1000.0)


@dataclass(frozen=True, slots=True)
class Meter:
    """A voltage input: a resistance, or so many Ω for every volt of its full scale."""

    name: str
    ohms: float | None = None
    ohms_per_volt: float | None = None

    def input_ohms(self, volts: float) -> float:
        """Return its resistance on the range that a voltage is read on."""
        if self.ohms is not None:
            return self.ohms
        scale = next((r for r in NEEDLE_RANGES if abs(volts) <= r), NEEDLE_RANGES[-1])
        return (self.ohms_per_volt or 0.0) * scale


METERS: Final = (
    Meter("10 MΩ input", ohms=10e6),
    Meter("1 MΩ input", ohms=1e6),
    Meter("needle, 20 kΩ/V", ohms_per_volt=20e3),
)


@dataclass(frozen=True, slots=True)
class MeterReading:
    """What a meter would show, accuracy aside, since it loads what it measures."""

    meter: str
    ohms: float
    volts: float
    off: float  #: against the voltage without it, a fraction


def readings(volts: float, source_ohms: float) -> tuple[MeterReading, ...]:
    """Return what each usual meter reads at a junction of `volts` behind `source_ohms`.

    Parameters
    ----------
    volts, source_ohms : float
        With everything connected but the meter, V and Ω.
    """
    found = []
    for meter in METERS:
        ohms = meter.input_ohms(volts)
        share = 1.0 if math.isinf(ohms) else ohms / (ohms + source_ohms)
        found.append(MeterReading(meter.name, ohms, volts * share, share - 1))
    return tuple(found)
