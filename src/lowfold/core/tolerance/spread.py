"""How far an output or a resistance may lie from its nominal value: worst corner and RSS.

Extremes are exact over the box (see `box`). The root-sum-square spread combines sensitivities at
the nominal point as uncorrelated contributions (JCGM 100:2008, 5.1.2).
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import TopologyError
from lowfold.core.network.circuit import GROUND, Branch
from lowfold.core.solving.nodes import (
    nominal_nets,
    potentials,
    supply_resistance,
    transfer_ohms,
)
from lowfold.core.tolerance.box import TOGETHER, Box
from lowfold.core.tolerance.extremes import extremes

__all__ = [
    "OutputSpread",
    "ResistanceSpread",
    "Sensitivity",
    "output_spread",
    "resistance_spread",
    "sensitivities",
]

FloatArray = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Sensitivity:
    """How an output follows one value: S = (∂V/∂x)·(x/V)."""

    name: str  #: a part's designator, “supply”, or “together” for what tracking parts share
    relative: float
    contribution_v: float  #: S · half-width · V, signed


@dataclass(frozen=True, slots=True)
class OutputSpread:
    """A node's voltage over the box, V."""

    nominal: float
    unloaded: float
    lowest: float
    highest: float
    lowest_corner: Mapping[str, str]
    highest_corner: Mapping[str, str]
    rss: float  #: half width
    sensitivities: tuple[Sensitivity, ...]
    proven: bool = True  #: False where tracking parts were looked at in steps


@dataclass(frozen=True, slots=True)
class ResistanceSpread:
    """The resistance between the supply's ends over the box, Ω."""

    nominal: float
    lowest: float
    highest: float
    moves: tuple[tuple[str, float], ...]  #: by part: what it moves the whole by, first order, Ω

    @property
    def rss(self) -> float:
        """Return the root-sum-square half width, Ω."""
        return math.hypot(*(m for _, m in self.moves))


def output_spread(box: Box, node: int) -> OutputSpread:
    """Return the voltage of `node` over the box: nominal, extremes with their corners, RSS.

    Raises
    ------
    TopologyError
        If nothing conducts to the node.
    TooLargeError
        If the box has too many corners.
    """
    nominal = _voltage(box, node, loaded=True)
    lowest, highest = math.inf, -math.inf
    low_ends: Mapping[str, str] = {}
    high_ends: Mapping[str, str] = {}
    for end, still in box.variants():
        low, high = extremes(still, (node, GROUND))
        shared = {TOGETHER: end} if end else {}
        if low.volts < lowest:
            lowest, low_ends = low.volts, {**shared, **low.ends}
        if high.volts > highest:
            highest, high_ends = high.volts, {**shared, **high.ends}
    each = sensitivities(box, node)
    return OutputSpread(
        nominal=nominal,
        unloaded=_voltage(box, node, loaded=False),
        lowest=lowest,
        highest=highest,
        lowest_corner=low_ends,
        highest_corner=high_ends,
        rss=math.hypot(*(s.contribution_v for s in each)),
        sensitivities=each,
        proven=box.proven,
    )


def _voltage(box: Box, node: int, *, loaded: bool) -> float:
    loads = box.nominal_loads if loaded else ()
    nets = nominal_nets(box.circuit, box.supply.volts, box.supply.source_ohms, loads)
    volts = float(potentials(nets)[0][0, node, GROUND])
    if math.isnan(volts):
        msg = "nothing connects this junction to the supply, so it has no voltage"
        raise TopologyError(msg, field="outputs")
    return volts


def sensitivities(box: Box, node: int) -> tuple[Sensitivity, ...]:
    """Return how the voltage of `node` follows each part and the supply, loads nominal.

    By the adjoint network (S. W. Director and R. A. Rohrer, IEEE Trans. Circuit Theory 16, 1969;
    from memory): ∂V/∂G = −(voltage across the part)·(voltage across it when 1 A enters the node
    with the supply dead). Zero where the output is zero.
    """
    loads = box.nominal_loads
    nets = nominal_nets(box.circuit, box.supply.volts, box.supply.source_ohms, loads)
    gaps, held = potentials(nets)
    base = np.nan_to_num(gaps[0])
    # Below 0 V nothing is drawn, so a negative supply alone drives the network.
    drawn = math.fsum(r.load.amps or 0.0 for r in box.loads) if box.supply.volts > 0 else 0.0
    output = float(base[node, GROUND])
    if output == 0 or node == GROUND:
        names = [b.ref for b in box.circuit.branches]
        return tuple(Sensitivity(name, 0.0, 0.0) for name in [*names, "supply"])
    tied = {r.load.at for r, holds in zip(box.loads, held[0], strict=True) if holds}
    adjoint = transfer_ohms(box.circuit, node, box.supply.source_ohms, loads, tied)
    found = []
    for branch, half in zip(box.circuit.branches, box.own, strict=True):
        across = base[branch.a, branch.b]
        back = adjoint[branch.a] - adjoint[branch.b]
        relative = float(across * back / branch.ohms / output)
        found.append(Sensitivity(branch.ref, relative, relative * half * output))
    if box.common:
        pairs = zip(found, box.tracked, strict=True)
        shared = math.fsum(s.relative for s, tracks in pairs if tracks)
        found.append(Sensitivity(TOGETHER, shared, shared * box.common * output))
    # Only the supply and current loads drive the network, so V is linear in them.
    gain = 1.0 if not drawn else _supply_share(box, adjoint, output)
    found.append(Sensitivity("supply", gain, gain * box.supply.tolerance * output))
    return tuple(found)


def _supply_share(box: Box, adjoint: FloatArray, output: float) -> float:
    """Return the part of `output` that the supply makes, as a fraction of it."""
    taken = math.fsum((r.load.amps or 0.0) * float(adjoint[r.load.at]) for r in box.loads)
    return (output + taken) / output


def resistance_spread(box: Box) -> ResistanceSpread:
    """Return the resistance between the supply's ends over the box, resistive loads included.

    The extremes are at all parts and loads low and all of them high (Rayleigh's monotonicity law).
    Current loads are no resistance and stay out.

    Raises
    ------
    TopologyError
        If nothing conducts between the supply's ends.
    """
    loads = box.nominal_loads
    nominal = supply_resistance(box.circuit, loads)
    if math.isinf(nominal):
        msg = "nothing conducts between the supply's ends, so there is no resistance to judge"
        raise TopologyError(msg, field="resistance")
    ends = []
    hung = [r for r in box.loads if r.load.ohms is not None]
    for ohms, beside in (
        (box.lowest_together, [replace(r.load, ohms=r.low) for r in hung]),
        (box.highest_together, [replace(r.load, ohms=r.high) for r in hung]),
    ):
        pairs = zip(box.circuit.branches, ohms, strict=True)
        moved = replace(box.circuit, branches=tuple(replace(b, ohms=r) for b, r in pairs))
        ends.append(supply_resistance(moved, beside))
    # ∂R/∂Rᵢ = (iᵢ/i)²: the share of the squared current (Cohn's theorem, from memory).
    resistive = [load for load in loads if load.ohms is not None]
    gaps = np.nan_to_num(potentials(nominal_nets(box.circuit, 1.0, 0.0, resistive))[0][0])
    moves = [
        (b.ref, float((gaps[b.a, b.b] / b.ohms * nominal) ** 2 * b.ohms * half))
        for b, half in zip(box.circuit.branches, box.own, strict=True)
    ]
    if box.common:
        whole = (gaps[b.a, b.b] ** 2 / b.ohms for b, t in _tracking(box) if t)
        moves.append((TOGETHER, math.fsum(whole) * nominal**2 * box.common))
    return ResistanceSpread(nominal, ends[0], ends[1], tuple(moves))


def _tracking(box: Box) -> Iterator[tuple[Branch, bool]]:
    return zip(box.circuit.branches, box.tracked, strict=True)
