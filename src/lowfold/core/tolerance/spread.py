"""How far an output or a resistance may lie from its nominal value: worst corner and RSS.

Extremes are exact over the box (see `box`). The root-sum-square spread combines sensitivities at
the nominal point as uncorrelated contributions (JCGM 100:2008, 5.1.2).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, partial

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import TopologyError
from lowfold.core.network.circuit import GROUND, Branch
from lowfold.core.solving.nets import nets_of, nominal_nets
from lowfold.core.solving.nodes import potentials, resistances, transfer_ohms
from lowfold.core.tolerance.box import TOGETHER, Box
from lowfold.core.tolerance.extremes import extremes

__all__ = [
    "OutputSpread",
    "ResistanceSpread",
    "Sensitivity",
    "output_spread",
    "resistance_spread",
    "resistance_spreads",
    "sensitivities",
    "unconnected",
]

FloatArray = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Sensitivity:
    """How an output follows one value: S = (∂V/∂x)·(x/V)."""

    name: str  #: a part's designator, “supply”, or “together” for what tracking parts share
    relative: float
    contribution_v: float  #: S · half-width · V, signed


@dataclass(frozen=True)
class OutputSpread:
    """A node's voltage over the box, V."""

    nominal: float
    unloaded: float
    lowest: float
    highest: float
    lowest_corner: Mapping[str, str]
    highest_corner: Mapping[str, str]
    #: Works out the sensitivities, which few of many networks are asked for.
    follow: Callable[[], tuple[Sensitivity, ...]] = field(compare=False, repr=False)
    proven: bool = True  #: False where tracking parts were looked at in steps

    @cached_property
    def sensitivities(self) -> tuple[Sensitivity, ...]:
        """Return how it follows each value, everything nominal."""
        return self.follow()

    @property
    def rss(self) -> float:
        """Return the root-sum-square half width, V."""
        return math.hypot(*(s.contribution_v for s in self.sensitivities))


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

    Parameters
    ----------
    node : int
        Index of the junction.

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
    return OutputSpread(
        nominal=nominal,
        unloaded=_voltage(box, node, loaded=False),
        lowest=lowest,
        highest=highest,
        lowest_corner=low_ends,
        highest_corner=high_ends,
        follow=partial(sensitivities, box, node),
        proven=box.proven,
    )


def _voltage(box: Box, node: int, *, loaded: bool) -> float:
    loads = box.nominal_loads if loaded else ()
    supply = box.supply
    nets = nominal_nets(box.circuit, supply.volts, supply.source_ohms, loads, supply.low_volts)
    volts = float(potentials(nets)[0][0, node, GROUND])
    if math.isnan(volts):
        raise unconnected()
    return volts


def unconnected() -> TopologyError:
    """Return the refusal of an output that nothing connects to the supply."""
    msg = "nothing connects this junction to the supply, so it has no voltage"
    return TopologyError(msg, field="outputs")


def sensitivities(box: Box, node: int) -> tuple[Sensitivity, ...]:
    """Return how the voltage of `node` follows each part and the supply, loads nominal.

    By the adjoint network (S. W. Director and R. A. Rohrer, IEEE Trans. Circuit Theory 16, 1969;
    from memory): ∂V/∂G = −(voltage across the part)·(voltage across it when 1 A enters the node
    with the supply dead). Zero where the output is zero.

    Parameters
    ----------
    node : int
        Index of the junction.
    """
    loads, supply = box.nominal_loads, box.supply
    nets = nominal_nets(box.circuit, supply.volts, supply.source_ohms, loads, supply.low_volts)
    gaps, starved = potentials(nets)
    # One whose junction is below 0 V draws nothing and holds nothing.
    held = {
        r.load.at
        for r, holds in zip(box.loads, starved[0], strict=True)
        if holds and gaps[0, r.load.at, GROUND] >= 0
    }
    adjoint = transfer_ohms(box.circuit, node, supply.source_ohms, loads, held)
    base = np.nan_to_num(gaps[0]).tolist()
    back = adjoint.tolist()
    output = base[node][GROUND]
    if output == 0 or node == GROUND:
        names = [b.ref for b in box.circuit.branches]
        return tuple(Sensitivity(name, 0.0, 0.0) for name in [*names, "supply"])
    found = []
    for branch, half in zip(box.circuit.branches, box.own, strict=True):
        moved = base[branch.a][branch.b] * (back[branch.a] - back[branch.b])
        relative = moved / branch.ohms / output
        found.append(Sensitivity(branch.ref, relative, relative * half * output))
    if box.common:
        pairs = zip(found, box.tracked, strict=True)
        shared = math.fsum(s.relative for s, tracks in pairs if tracks)
        found.append(Sensitivity(TOGETHER, shared, shared * box.common * output))
    # V is linear in the supply, its low end and the load currents that are drawn.
    drawn = math.fsum(
        float(adjoint[r.load.at]) * r.load.amps
        for r in box.loads
        if r.load.amps and r.load.at not in held and base[r.load.at][GROUND] > 0
    )
    low = 0.0
    if supply.low_volts:
        dead = nominal_nets(
            box.circuit,
            0.0,
            supply.source_ohms,
            [x for x in loads if x.ohms is not None],
            supply.low_volts,
        )
        dead = replace(dead, at_zero=np.isin(np.arange(box.circuit.nodes), list(held))[None])
        low = float(np.nan_to_num(potentials(dead)[0][0, node, GROUND]))
    gain = (output + drawn - low) / output if drawn or low else 1.0
    found.append(Sensitivity("supply", gain, gain * supply.tolerance * output))
    return tuple(found)


def resistance_spread(box: Box) -> ResistanceSpread:
    """Return the resistance between the supply's ends over the box, resistive loads included.

    The extremes are at all parts and loads low and all of them high (Rayleigh's monotonicity law).
    Current loads are no resistance and stay out.

    Raises
    ------
    TopologyError
        If nothing conducts between the supply's ends.
    """
    return resistance_spreads([box])[0]


def resistance_spreads(boxes: Sequence[Box]) -> list[ResistanceSpread]:
    """Return the same of several boxes whose branches lie between the same nodes.

    Parameters
    ----------
    boxes : Sequence[Box]
        With their branches between the same nodes.

    Raises
    ------
    TopologyError
        If nothing conducts between a supply's ends.
    """
    circuit = boxes[0].circuit
    hung = [[r for r in box.loads if r.load.ohms is not None] for box in boxes]
    nominal = [[b.ohms for b in box.circuit.branches] for box in boxes]
    ohms = np.array(
        [
            each
            for box, plain in zip(boxes, nominal, strict=True)
            for each in (plain, box.lowest_together, box.highest_together)
        ]
    ).reshape(3 * len(boxes), len(circuit.branches))
    beside = np.array(
        [
            each
            for loads in hung
            for each in (
                [r.load.siemens for r in loads],
                [1 / r.low for r in loads],
                [1 / r.high for r in loads],
            )
        ]
    ).reshape(len(ohms), len(hung[0]))
    loads = [r.load for r in hung[0]]
    nets = nets_of(circuit, 1 / ohms, np.ones(len(ohms)), 0.0, loads, beside)
    gaps, _ = potentials(nets)
    whole = resistances(nets, gaps).reshape(-1, 3).tolist()
    found = []
    for k, (box, (middle, low, high)) in enumerate(zip(boxes, whole, strict=True)):
        if math.isinf(middle):
            msg = "nothing conducts between the supply's ends, so there is no resistance to judge"
            raise TopologyError(msg, field="resistance")
        volts = np.nan_to_num(gaps[3 * k])
        # ∂R/∂Rᵢ = (iᵢ/i)²: the share of the squared current (Cohn's theorem, from memory).
        moves = [
            (b.ref, float((volts[b.a, b.b] / b.ohms * middle) ** 2 * b.ohms * half))
            for b, half in zip(box.circuit.branches, box.own, strict=True)
        ]
        if box.common:
            shared = (volts[b.a, b.b] ** 2 / b.ohms for b, t in _tracking(box) if t)
            moves.append((TOGETHER, math.fsum(shared) * middle**2 * box.common))
        found.append(ResistanceSpread(middle, low, high, tuple(moves)))
    return found


def _tracking(box: Box) -> Iterator[tuple[Branch, bool]]:
    return zip(box.circuit.branches, box.tracked, strict=True)
