"""The meter is a load too: usual voltage inputs, and what each would read (common practice)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from lowfold.core.bench.models import NEEDLE, MeterModel

__all__ = ["METERS", "MeterReading", "readings"]

METERS: Final = (
    MeterModel(name="10 MΩ input", input_ohms=10e6),
    MeterModel(name="1 MΩ input", input_ohms=1e6),
    NEEDLE,
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
        ohms = meter.input_on(meter.range_for("volts", volts)) or math.inf
        share = 1.0 if math.isinf(ohms) else ohms / (ohms + source_ohms)
        found.append(MeterReading(meter.name, ohms, volts * share, share - 1))
    return tuple(found)
