"""Each part's worst power and voltage over the box, exact also where the peak lies inside it.

Whatever else is in the network, a part R sees a Thévenin source: P = V²·R/(R + Rth)². For any
fixed R, the voltage across it is monotonic in every other value, so |V| peaks at a corner of the
others. The worst point is therefore a corner of the others together with the R that is worst
there: Rth where that lies in the part's range (maximum power transfer), else the nearer end. Where
a current load starves in the box, linear programs find it instead (see `starving`).
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from lowfold.core.tolerance.box import Box
from lowfold.core.tolerance.corners import corners
from lowfold.core.tolerance.extremes import starved_power

__all__ = ["WorstPower", "worst_power"]


@dataclass(frozen=True, slots=True)
class WorstPower:
    """The most a part may have to take."""

    watts: float
    ohms: float  #: its own resistance at that point; may lie inside its range
    volts: float  #: largest voltage across it, at its high end


def worst_power(box: Box, position: int) -> WorstPower:
    """Return the worst power and voltage of the branch at `position` over the box.

    Parts that track each other are taken as independent here: a bound, never too low.

    Parameters
    ----------
    position : int
        Position of the branch.

    Raises
    ------
    TooLargeError
        If the other values have too many corners.
    """
    if box.tracking is not None:
        box = replace(box, tracking=None)
    branch = box.circuit.branches[position]
    low, high = box.low[position], box.high[position]
    if branch.a == branch.b:
        return WorstPower(0.0, branch.ohms, 0.0)
    starved = starved_power(box, position)
    if starved is not None:
        return WorstPower(*starved)
    found = corners(box, (branch.a, branch.b), power_of=position)
    column = next(i for i, m in enumerate(found.merged) if m.members == (position,))
    # Two probes give the straight line I⁻¹(R); they must differ for it to be readable.
    probes = (low, high) if high > low * 1.0001 else (branch.ohms * 0.99, branch.ohms * 1.01)
    amps = []
    for ohms in probes:
        siemens = found.nets.siemens.copy()
        siemens[:, column] = 1 / ohms
        probed = replace(found, nets=replace(found.nets, siemens=siemens))
        across = np.nan_to_num(probed.gap())
        amps.append(np.abs(across) / ohms)
    near, far = amps
    with np.errstate(divide="ignore", invalid="ignore"):
        seen = (far * probes[1] - near * probes[0]) / (near - far)
    # Equal currents: the part sees a current source, and its high end is worst.
    seen = np.where(near - far <= 1e-14 * near, np.inf, np.maximum(seen, 0.0))
    worst = np.clip(seen, low, high)
    with np.errstate(invalid="ignore"):
        source = np.where(np.isinf(seen), np.nan, near * (probes[0] + seen))
        power = np.where(np.isinf(seen), near**2 * high, source**2 * worst / (worst + seen) ** 2)
        top = np.where(np.isinf(seen), near * high, source * high / (high + seen))
    row = int(np.argmax(power))
    return WorstPower(float(power[row]), float(worst[row]), float(top.max()))
