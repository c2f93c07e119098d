"""What one circuit does at its nominal values: every part's V, I and P, every node's voltage.

Ohm's law in every branch and Kirchhoff's current law at the supply, from the potentials that the
node equations give.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import TopologyError
from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit
from lowfold.core.solving.nets import Load, nominal_nets, reached_nodes
from lowfold.core.solving.nodes import potentials, supply_resistance

__all__ = ["PartState", "Solution", "solution_of", "solve"]

FloatArray = npt.NDArray[np.float64]
BoolArray = npt.NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class PartState:
    """What one part carries."""

    ref: str
    ohms: float
    volts: float  #: across it, positive where its first end is higher
    amps: float
    watts: float


@dataclass(frozen=True, slots=True)
class Solution:
    """A circuit solved at its nominal values."""

    total_ohms: float  #: between the supply's ends with resistive loads; inf where nothing conducts
    supply_amps: float
    terminal_volts: float
    supply_watts: float  #: EMF times current
    parts: tuple[PartState, ...]
    voltages: tuple[float, ...]  #: by node index; NaN where undefined
    load_amps: tuple[float, ...]  #: what each load really draws
    #: Positions of the current loads that get too little: their node is at 0 V, or below it.
    held: tuple[int, ...]


def solve(
    circuit: Circuit,
    supply_v: float,
    source_ohms: float = 0.0,
    loads: Sequence[Load] = (),
    low_v: float = 0.0,
) -> Solution:
    """Solve `circuit` on a supply: every part's V, I, P and every node's voltage.

    Parameters
    ----------
    supply_v : float
        EMF of the supply, V; with an infinite `source_ohms`, the current of a source, A.
    source_ohms : float
        Resistance inside the supply, Ω; the terminal voltage is EMF − I·r.
    loads : sequence of Load
        From their nodes to 0 V.
    low_v : float
        What the supply's low end lies at, V, in a circuit that is `lifted` by that.

    Raises
    ------
    DomainError, TopologyError
        For a negative source resistance; for a load on a node nothing reaches.
    """
    nets = nominal_nets(circuit, supply_v, source_ohms, loads, low_v)
    unloaded = reached_nodes(circuit, circuit.ends)
    for load in loads:
        if load.amps is not None and not unloaded[load.at]:
            msg = "a current load hangs on a junction that nothing connects to the supply"
            raise TopologyError(msg, field="loads")
    gaps, starved = potentials(nets)
    total = supply_resistance(circuit, loads)
    return solution_of(circuit, supply_v, source_ohms, loads, gaps[0], starved[0], total)


def solution_of(
    circuit: Circuit,
    supply_v: float,
    source_ohms: float,
    loads: Sequence[Load],
    gaps: FloatArray,
    starved: BoolArray,
    total_ohms: float,
) -> Solution:
    """Return what a circuit does, its potentials being known.

    Parameters
    ----------
    gaps : (nodes, nodes) ndarray of float64
        V of one node above another, as `potentials` returns them.
    starved : (loads,) ndarray of bool
        Which loads hold their node at 0 V.
    total_ohms : float
        Between the supply's ends, Ω.
    supply_v : float
        EMF, V.
    source_ohms : float
        Ω inside the supply.
    loads : Sequence[Load]
        What hangs from nodes to 0 V, Ω or A.
    """
    between = np.nan_to_num(gaps)
    rows = between.tolist()
    parts = []
    leaving = []
    for b in circuit.branches:
        across = rows[b.a][b.b]
        parts.append(PartState(b.ref, b.ohms, across, across / b.ohms, across * across / b.ohms))
        if b.a != b.b and SUPPLY in (b.a, b.b):
            leaving.append(parts[-1].amps if b.a == SUPPLY else -parts[-1].amps)
    load_amps = _drawn(circuit, parts, loads, between[:, GROUND], starved)
    leaving += [a for a, load in zip(load_amps, loads, strict=True) if load.at == SUPPLY]
    supply_amps = math.fsum(leaving)
    emf = rows[SUPPLY][GROUND] if math.isinf(source_ohms) else supply_v
    return Solution(
        total_ohms=total_ohms,
        supply_amps=supply_amps,
        terminal_volts=float(gaps[SUPPLY, GROUND]),
        supply_watts=float(emf * supply_amps),
        parts=tuple(parts),
        voltages=tuple(gaps[:, GROUND].tolist()),
        load_amps=tuple(load_amps),
        held=tuple(np.flatnonzero(starved).tolist()),
    )


def _drawn(
    circuit: Circuit,
    parts: Sequence[PartState],
    loads: Sequence[Load],
    volts: FloatArray,
    held: BoolArray,
) -> list[float]:
    """Return what each load draws, A; loads that hold one node share its inflow by rating."""
    drawn = []
    for position, load in enumerate(loads):
        if load.ohms is not None:
            drawn.append(float(volts[load.at]) * load.siemens)
        elif not held[position] or volts[load.at] < 0:
            drawn.append(float(load.amps or 0.0) if volts[load.at] > 0 else 0.0)
        else:
            into = math.fsum(
                p.amps * (1 if b.b == load.at else -1)
                for p, b in zip(parts, circuit.branches, strict=True)
                if load.at in (b.a, b.b) and b.a != b.b
            )
            sharing = [k for k, other in enumerate(loads) if held[k] and other.at == load.at]
            total = math.fsum(loads[k].amps or 0.0 for k in sharing)
            drawn.append(into * float(load.amps or 0.0) / total)
    return drawn
