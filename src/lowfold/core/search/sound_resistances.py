"""Every way to make a resistance that is sound: in its window at every corner, and cool.

Parts of one need deviate alike, so that the whole lies anywhere in ± their half-width (Rayleigh's
monotonicity law); what lies beside it, anywhere in its own range. A part takes its share of what
the whole takes, most where that is greatest: across a voltage at the low end, carrying a current at
the high one.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from lowfold.core.search.leg_options import LegOptions
from lowfold.core.search.sound_dividers import PASSING

__all__ = ["ResistanceDemand", "SoundWholes", "sound_wholes"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.int64]


@dataclass(frozen=True, slots=True, kw_only=True)
class ResistanceDemand:
    """What a resistance is to keep to."""

    target_ohms: float
    within: float
    half_width: float  #: of each part, a fraction
    beside: tuple[float, float] = (0.0, 0.0)  #: S that lie beside it, least and most
    across_volts: float | None = None
    through_amps: float | None = None


@dataclass(frozen=True, eq=False)
class SoundWholes:
    """Rows of what a whole can be made of."""

    options: LegOptions
    rows: IntArray
    used: FloatArray  #: share of the window used
    watts: FloatArray  #: what the hottest part takes at least, at its worst; 0 without a use
    volts: FloatArray  #: across the part that has most

    def __len__(self) -> int:
        return len(self.rows)


def sound_wholes(
    need: ResistanceDemand,
    options: LegOptions,
    *,
    most_watts: float | None = None,
    most_volts: float | None = None,
) -> SoundWholes:
    """Return every sound one of some ways to make a resistance.

    Parameters
    ----------
    need : ResistanceDemand
        What it is to keep to.
    options : LegOptions
        What it can be made of.
    most_watts, most_volts : float, optional
        What a part may take and have across it so that its gate says pass.
    """
    target, window = need.target_ohms, need.within * need.target_ohms
    least, most = need.beside
    low = options.ohms * (1 - need.half_width)
    high = options.ohms * (1 + need.half_width)
    ends = low / (1 + low * most), high / (1 + high * least)
    used = np.maximum(target - ends[0], ends[1] - target) / window
    watts, volts = np.zeros(len(low)), np.zeros(len(low))
    if need.across_volts is not None:
        watts, volts = need.across_volts**2 / low, np.full(len(low), need.across_volts)
    elif need.through_amps is not None:
        volts = need.through_amps * ends[1]
        watts = np.maximum(volts**2 / high, (need.through_amps * ends[0]) ** 2 / low)
    watts, volts = watts * options.heat, volts * options.reach
    kept = used <= PASSING
    if most_watts is not None:
        kept &= watts <= most_watts * PASSING
    if most_volts is not None:
        kept &= volts <= most_volts * PASSING
    rows = np.flatnonzero(kept)
    return SoundWholes(options, rows, used[rows], watts[rows], volts[rows])
