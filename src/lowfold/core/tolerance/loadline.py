"""Output against load, from none to the heaviest: a straight line, and where it leaves the window.

Whatever else is in the network, what hangs from a junction sees a voltage behind a resistance
(L. Thévenin, Comptes rendus 97, 1883), so the output falls by that resistance for every ampere.
At each corner of the box the line is another one; the lowest and the highest output at a load are
the lower and the upper envelope of these lines, and the load that still passes at the worst corner
is the least of what each line allows, exactly.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import TopologyError
from lowfold.core.network.circuit import GROUND
from lowfold.core.solving.nets import Load, nominal_nets
from lowfold.core.solving.nodes import potentials, supply_resistance, transfer_ohms
from lowfold.core.tolerance.box import Box
from lowfold.core.tolerance.corners import corners

__all__ = ["LoadLine", "Passing", "load_line", "nominal_line"]

FloatArray = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Passing:
    """Loads that keep an output inside its window, in both ways a load is stated.

    A load resistance passes from `heaviest_ohms` up to `lightest_ohms`; a load current from
    `least_amps` to `most_amps`. inf Ω and 0 A are no load at all. Each by itself: where the ends
    are the wrong way round, no load stated in that way passes, and one stated in the other may.
    """

    least_amps: float
    most_amps: float
    heaviest_ohms: float
    lightest_ohms: float

    @property
    def currents(self) -> bool:
        """Whether any current passes."""
        return self.least_amps <= self.most_amps and not math.isinf(self.least_amps)

    @property
    def resistances(self) -> bool:
        """Whether any resistance passes."""
        return self.heaviest_ohms <= self.lightest_ohms > 0


@dataclass(frozen=True, slots=True)
class LoadLine:
    """What hangs from a junction sees, the loads elsewhere connected."""

    open_volts: float  #: with nothing connected here, all nominal
    source_ohms: float  #: Thévenin resistance, all nominal; the slope, V per A downwards
    corner_volts: FloatArray  #: (m,) the same at every corner of the box
    corner_ohms: FloatArray  #: (m,)
    #: False where a load here can starve a current load elsewhere, or places were scanned.
    proven: bool = True
    over_box: bool = True  #: False where the corners are those of nominal parts and supply

    @property
    def short_amps(self) -> float:
        """Return the current into a short here, A; inf without any resistance."""
        return self.open_volts / self.source_ohms if self.source_ohms else math.inf

    def volts(self, amps: FloatArray) -> FloatArray:
        """Return the nominal output at load currents, V; a load never pulls below 0 V."""
        return _pulled(np.full(len(amps), self.open_volts), amps * self.source_ohms)

    def extremes(self, amps: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return the lowest and the highest output over the box at load currents, V."""
        drops = amps[None, :] * self.corner_ohms[:, None]
        every = _pulled(np.broadcast_to(self.corner_volts[:, None], drops.shape), drops)
        return every.min(axis=0), every.max(axis=0)

    def volts_into(self, ohms: float) -> float:
        """Return the nominal output into a load resistance, V; inf Ω is none."""
        if math.isinf(ohms):
            return self.open_volts
        return self.open_volts * ohms / (ohms + self.source_ohms)

    def connected(self, loads: Sequence[Load]) -> tuple[float, float]:
        """Return the nominal output with `loads` here, V, and the Ω that one more load sees."""
        siemens = math.fsum(x.siemens for x in loads)
        amps = np.array([math.fsum(x.amps or 0.0 for x in loads)])
        behind = self.source_ohms / (1 + self.source_ohms * siemens)
        volts = self.volts_into(1 / siemens if siemens else math.inf)
        return float(_pulled(np.array([volts]), amps * behind)[0]), behind

    def passing(self, low: float, high: float) -> Passing | None:
        """Return the loads that keep the nominal output within `low` to `high` V, or None."""
        return _passing(np.array([self.open_volts]), np.array([self.source_ohms]), low, high)

    def passing_at_worst(self, low: float, high: float) -> Passing | None:
        """Return the loads that keep it there at every corner of the box, or None."""
        return _passing(self.corner_volts, self.corner_ohms, low, high)


def _pulled(volts: FloatArray, drop: FloatArray) -> FloatArray:
    """Return voltages less a drop, but not through 0 V; a current load needs its node above it."""
    return np.where(volts > 0, np.maximum(volts - drop, 0.0), volts)


def _passing(volts: FloatArray, ohms: FloatArray, low: float, high: float) -> Passing | None:
    """Return what passes on every line; a negative window mirrors into a positive one."""
    if high < 0 or (low < 0 and -low > high):
        volts, low, high = -volts, -high, -low
    if volts.min() < low:
        return None
    if low <= 0:  # a load never pulls through 0 V, so none is too heavy
        low = 0.0
    # Without resistance the output stands still, whatever is drawn.
    with np.errstate(divide="ignore", invalid="ignore"):
        most = float(np.where(ohms > 0, (volts - low) / ohms, np.inf).min()) if low else math.inf
        stuck = np.where(volts > high, np.inf, 0.0)
        least = max(0.0, float(np.where(ohms > 0, (volts - high) / ohms, stuck).max()))
        # Of a load resistance: V·R/(R + Rs) reaches `low` here and `high` there.
        at_low = np.where(ohms > 0, np.inf, 0.0)
        heaviest = float(np.where(volts > low, low * ohms / (volts - low), at_low).max())
        lightest = float(np.where(volts > high, high * ohms / (volts - high), np.inf).min())
    found = Passing(least, most, heaviest, lightest)
    return found if found.currents or found.resistances else None


def nominal_line(open_volts: float, source_ohms: float) -> LoadLine:
    """Return a line of which only the nominal ends are known.

    Parameters
    ----------
    open_volts : float
        With nothing connected, V.
    source_ohms : float
        Ω inside the supply.
    """
    return LoadLine(open_volts, source_ohms, np.array([open_volts]), np.array([source_ohms]))


def load_line(box: Box, node: int) -> LoadLine:
    """Return the line of the junction `node`, whatever hangs there now taken off.

    Parameters
    ----------
    node : int
        Index of the junction.

    Raises
    ------
    TopologyError
        If nothing conducts to the junction.
    TooLargeError
        If the box has too many corners.
    """
    others = tuple(r for r in box.loads if r.load.at != node)
    bare = replace(box, loads=others)
    loads = bare.nominal_loads
    supply = box.supply
    nets = nominal_nets(box.circuit, supply.volts, supply.source_ohms, loads, supply.low_volts)
    open_volts = float(potentials(nets)[0][0, node, GROUND])
    if math.isnan(open_volts):
        msg = "nothing connects this junction to the supply, so it has no voltage"
        raise TopologyError(msg, field="outputs")
    source = float(transfer_ohms(box.circuit, node, box.supply.source_ohms, loads)[node])
    probe = min(max(source, 1e-6), 1e12)
    most = _most_amps(bare, node)
    volts, ohms = [], []
    for _, still in bare.variants():
        found = corners(still, (node, GROUND), drawn=most)
        unloaded, loaded = found.gap(), found.loaded(probe).gap()
        with np.errstate(divide="ignore", invalid="ignore"):
            drop = np.nan_to_num(unloaded / loaded - 1, nan=0.0, posinf=0.0)
        volts.append(unloaded)
        ohms.append(probe * np.maximum(drop, 0.0))
    drawn = any(r.load.amps is not None and r.high > 0 for r in others)
    return LoadLine(
        open_volts,
        source,
        np.concatenate(volts),
        np.concatenate(ohms),
        proven=bare.proven and not (drawn and box.above_zero),
    )


def _most_amps(box: Box, node: int) -> float:
    """Return a current, A, that brings the output to 0 V wherever in the box it is.

    No junction is further above 0 V than an end of the supply, and the resistance seen is least
    with all parts low (Rayleigh's monotonicity law).
    """
    pairs = zip(box.circuit.branches, box.low, strict=True)
    low = replace(box.circuit, branches=tuple(replace(b, ohms=r) for b, r in pairs))
    inside = box.supply.source_ohms
    hung = [replace(r.load, ohms=r.low) for r in box.loads if r.load.ohms is not None]
    seen = float(transfer_ohms(low, node, inside, hung)[node])
    top = max(box.supply.volts * (1 + box.supply.tolerance), box.supply.low_volts)
    if math.isinf(inside):
        pairs = zip(box.circuit.branches, box.high, strict=True)
        top *= supply_resistance(
            replace(box.circuit, branches=tuple(replace(b, ohms=r) for b, r in pairs))
        )
    return top / seen if seen > 0 else 0.0
