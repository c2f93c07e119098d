"""Node equations of a circuit, for one set of values or for many at once.

Kirchhoff's current law at every node with Ohm's law in every branch, in conductances. The matrix
is that of a grounded resistor network (symmetric, a Stieltjes matrix), so it is regular wherever
every node reaches the supply or its return; nodes that do not have no defined voltage.

A current load draws its current only while its node stays above 0 V, else it holds the node at
0 V. Which loads hold is a linear complementarity problem with that matrix: starting with all of
them holding and releasing every load whose node takes in more than it draws, repeated, reaches the
one solution in at most as many rounds as there are loads (R. Chandrasekaran, Opsearch 7, 1970;
from memory).
"""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import DomainError, TopologyError
from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit

__all__ = [
    "Load",
    "PartState",
    "Solution",
    "Values",
    "node_gaps",
    "nominal_values",
    "reached_nodes",
    "solve",
    "supply_resistance",
    "transfer_ohms",
]

FloatArray = npt.NDArray[np.float64]
BoolArray = npt.NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Load:
    """What hangs from a node to 0 V: a resistance or a current, exactly one of them."""

    at: int  #: node index
    ohms: float | None = None
    amps: float | None = None

    def __post_init__(self) -> None:
        given = [x for x in (self.ohms, self.amps) if x is not None]
        if len(given) != 1:
            msg = "a load is a resistance or a current: give exactly one of ohm and a"
            raise DomainError(msg, field="loads")
        if self.ohms is not None and not 0 < self.ohms < math.inf:
            msg = f"a load of {self.ohms:g} Ω is no load: it must be above 0 Ω and finite"
            raise DomainError(msg, field="loads")
        if self.amps is not None and not 0 <= self.amps < math.inf:
            msg = f"a load draws 0 A or more from its node, got {self.amps:g} A"
            raise DomainError(msg, field="loads")

    @property
    def siemens(self) -> float:
        return 0.0 if self.ohms is None else 1 / self.ohms


@dataclass(frozen=True, slots=True)
class Values:
    """Values of a circuit's branches and surroundings, m sets at once."""

    siemens: FloatArray  #: (m, branches)
    supply_v: FloatArray  #: (m,); of a current source, its A
    load_siemens: FloatArray  #: (m, loads)
    load_amps: FloatArray  #: (m, loads)
    source_ohms: float = 0.0  #: inf makes the supply a current source


def nominal_values(
    circuit: Circuit, supply_v: float, source_ohms: float, loads: Sequence[Load]
) -> Values:
    """Return the one set of values a circuit has when nothing deviates."""
    if not source_ohms >= 0:
        msg = f"the source resistance is 0 Ω or more, got {source_ohms:g} Ω"
        raise DomainError(msg, field="source_ohm")
    return Values(
        siemens=np.array([[1 / b.ohms for b in circuit.branches]]).reshape(1, -1),
        supply_v=np.array([float(supply_v)]),
        load_siemens=np.array([[load.siemens for load in loads]]).reshape(1, -1),
        load_amps=np.array([[load.amps or 0.0 for load in loads]]).reshape(1, -1),
        source_ohms=float(source_ohms),
    )


def reached_nodes(circuit: Circuit, start: Collection[int]) -> BoolArray:
    """Return which nodes have a conducting way to one of `start`, (nodes,)."""
    reached = np.zeros(circuit.nodes, dtype=np.bool_)
    reached[list(start)] = True
    changed = True
    while changed:
        changed = False
        for b in circuit.branches:
            if reached[b.a] != reached[b.b]:
                reached[b.a] = reached[b.b] = changed = True
    return reached


def _conductances(circuit: Circuit, values: Values, loads: Sequence[Load]) -> FloatArray:
    """Return what ties each node to each other, (m, nodes, nodes) in S; zero on the diagonal."""
    tied = np.zeros((values.supply_v.shape[0], circuit.nodes, circuit.nodes))
    for column, b in enumerate(circuit.branches):
        if b.a != b.b:
            tied[:, b.a, b.b] += values.siemens[:, column]
            tied[:, b.b, b.a] += values.siemens[:, column]
    ends = [(load.at, values.load_siemens[:, column]) for column, load in enumerate(loads)]
    if 0 < values.source_ohms < math.inf:
        ends.append((SUPPLY, np.asarray(1 / values.source_ohms)))
    for node, siemens in ends:
        tied[:, node, GROUND] += siemens
        tied[:, GROUND, node] += siemens
    return tied


def _eliminate(
    tied: FloatArray,
    entering: FloatArray,
    unknown: Sequence[int],
    gaps: FloatArray,
    held: BoolArray,
) -> None:
    """Fill in `gaps`, (m, nodes, nodes) V between nodes, for the `unknown` nodes.

    Star–mesh elimination, node by node, only adding and multiplying conductances, and a way back
    in differences of potential, not in potentials: nothing cancels, so 10 mΩ beside 10 MΩ costs
    no figures (W. K. Grassmann, M. I. Taksar and D. P. Heyman, Operations Research 33, 1985; from
    memory).
    """
    tied, entering = tied.copy(), entering.copy()
    steps = []
    remaining = [n for n in range(tied.shape[1]) if n not in set(unknown)]
    later = list(unknown)
    for node in unknown:
        later.remove(node)
        rest = [*remaining, *later]
        toward = tied[:, node, rest]
        total = toward.sum(axis=1)
        grounded = np.array([n == GROUND for n in rest], dtype=np.float64)
        share = np.where(held[:, node, None], grounded, toward / total[:, None])
        own = np.where(held[:, node], 0.0, entering[:, node] / total)
        steps.append((node, rest, share, own))
        if later:
            tied[np.ix_(range(len(tied)), later, rest)] += (
                tied[:, later, node][:, :, None] * share[:, None, :]
            )
            entering[:, later] += tied[:, later, node] * own[:, None]
            tied[:, later, later] = 0.0
    for node, rest, share, own in reversed(steps):
        here = gaps[:, rest][:, :, rest]
        here[np.isnan(here)] = 0.0  # nodes nothing reaches have no share
        gap = (here * share[:, None, :]).sum(axis=2) - own[:, None]
        gaps[:, rest, node] = gap
        gaps[:, node, rest] = -gap
        gaps[:, node, node] = 0.0


def node_gaps(
    circuit: Circuit, values: Values, loads: Sequence[Load]
) -> tuple[FloatArray, BoolArray]:
    """Solve the node equations for every set of values.

    Parameters
    ----------
    circuit : Circuit
    values : Values
        m sets; conductances > 0 in S, supply in V.
    loads : sequence of Load
        Where the loads hang; their figures are taken from `values`.

    Returns
    -------
    gaps : (m, nodes, nodes) ndarray of float64
        V of one node above another; ``gaps[:, n, GROUND]`` are the node voltages. Between nodes
        without a conducting way to the supply or its return they have no meaning (NaN against
        0 V).
    held : (m, loads) ndarray of bool
        Which current loads get less than they would draw and hold their node at 0 V.

    Raises
    ------
    TopologyError
        If a current source has no conducting way to its return.
    """
    sets = values.supply_v.shape[0]
    tied = _conductances(circuit, values, loads)
    gaps = np.full((sets, circuit.nodes, circuit.nodes), np.nan)
    gaps[:, GROUND, GROUND] = 0.0
    entering = np.zeros((sets, circuit.nodes))
    known = {GROUND}
    if values.source_ohms == 0:
        known.add(SUPPLY)
        gaps[:, SUPPLY, SUPPLY] = 0.0
        gaps[:, SUPPLY, GROUND] = values.supply_v
        gaps[:, GROUND, SUPPLY] = -values.supply_v
    elif math.isinf(values.source_ohms):
        entering[:, SUPPLY] = values.supply_v
    else:
        entering[:, SUPPLY] = values.supply_v / values.source_ohms
    start = {*known, *(load.at for load in loads)}
    if 0 < values.source_ohms < math.inf:
        start.add(SUPPLY)
    reached = reached_nodes(circuit, start)
    if not reached[SUPPLY]:
        msg = "a current source needs a conducting way to its return"
        raise TopologyError(msg, field="network")
    unknown = [n for n in range(circuit.nodes) if reached[n] and n not in known]
    drawn = np.zeros((sets, circuit.nodes))
    for column, load in enumerate(loads):
        drawn[:, load.at] += values.load_amps[:, column]
    drawn[values.supply_v <= 0] = 0.0  # no node is above 0 V, so no current load draws
    drawn[:, list(known)] = 0.0  # a current out of an ideal supply moves no node
    held = drawn > 0
    while True:
        _eliminate(tied, entering - drawn, unknown, gaps, held)
        if not held.any():
            break
        taken_in = entering - (tied * np.nan_to_num(gaps)).sum(axis=2)
        released = held & (taken_in > drawn)
        if not released.any():
            break
        held &= ~released
    columns = [held[:, load.at] & (values.load_amps[:, c] > 0) for c, load in enumerate(loads)]
    return gaps, np.stack(columns, axis=1) if columns else np.zeros((sets, 0), dtype=np.bool_)


def transfer_ohms(
    circuit: Circuit,
    node: int,
    source_ohms: float = 0.0,
    loads: Sequence[Load] = (),
    tied_down: Collection[int] = (),
) -> FloatArray:
    """Return every node's voltage when 1 A enters `node` with the supply dead, (nodes,) in Ω.

    At `node` itself this is the Thévenin resistance a load there sees (L. Thévenin, Comptes
    rendus 97, 1883); elsewhere the transfer resistance, the same both ways (reciprocity). Zero at
    nodes without a conducting way to 0 V.

    Parameters
    ----------
    source_ohms : float
        0 ties the supply's positive end to 0 V, inf (a current source) leaves it open.
    loads : sequence of Load
        Resistive ones count; current loads are open circuits here.
    tied_down : collection of int
        Nodes held at 0 V.
    """
    known = {GROUND, *tied_down} | ({SUPPLY} if source_ohms == 0 else set())
    if node in known:
        return np.zeros(circuit.nodes)
    gaps = np.zeros((1, circuit.nodes, circuit.nodes))
    values = nominal_values(circuit, 0.0, source_ohms, loads)
    start = {*known, *(load.at for load in loads if load.ohms is not None)}
    if 0 < source_ohms < math.inf:
        start.add(SUPPLY)
    reached = reached_nodes(circuit, start)
    unknown = [n for n in range(circuit.nodes) if reached[n] and n not in known]
    entering = np.zeros((1, circuit.nodes))
    entering[0, node] = 1.0
    never = np.zeros((1, circuit.nodes), dtype=np.bool_)
    if reached[node]:
        _eliminate(_conductances(circuit, values, loads), entering, unknown, gaps, never)
    found: FloatArray = gaps[0, :, GROUND]
    return found


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
    held: tuple[int, ...]  #: positions of the current loads that hold their node at 0 V


def supply_resistance(circuit: Circuit, loads: Sequence[Load] = ()) -> float:
    """Return the resistance between the supply's ends, resistive loads connected, in Ω.

    Infinite where nothing conducts.
    """
    resistive = [load for load in loads if load.ohms is not None]
    values = nominal_values(circuit, 1.0, 0.0, resistive)
    gaps, _ = node_gaps(circuit, values, resistive)
    beside = math.fsum(load.siemens for load in resistive if load.at == SUPPLY)
    siemens = _leaving_supply(circuit, gaps[0], values) + beside
    return 1 / siemens if siemens > 0 else math.inf


def _leaving_supply(circuit: Circuit, gaps: FloatArray, values: Values) -> float:
    """Return the current from the supply's positive end into the parts, A."""
    return math.fsum(
        gaps[SUPPLY, b.b if b.a == SUPPLY else b.a] * values.siemens[0, i]
        for i, b in enumerate(circuit.branches)
        if SUPPLY in {b.a, b.b} and b.a != b.b
    )


def solve(
    circuit: Circuit, supply_v: float, source_ohms: float = 0.0, loads: Sequence[Load] = ()
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

    Raises
    ------
    DomainError, TopologyError
        For a negative source resistance; for a load on a node nothing reaches.
    """
    values = nominal_values(circuit, supply_v, source_ohms, loads)
    unloaded = reached_nodes(circuit, (GROUND, SUPPLY))
    for load in loads:
        if load.amps is not None and not unloaded[load.at]:
            msg = "a current load hangs on a junction that nothing connects to the supply"
            raise TopologyError(msg, field="loads")
    gaps, held = node_gaps(circuit, values, loads)
    volts = gaps[0, :, GROUND]
    known = np.nan_to_num(volts)
    between = np.nan_to_num(gaps[0])
    parts = []
    for b in circuit.branches:
        across = float(between[b.a, b.b])
        parts.append(PartState(b.ref, b.ohms, across, across / b.ohms, across * across / b.ohms))
    load_amps = _drawn(circuit, parts, loads, known, held[0])
    at_supply = [a for a, load in zip(load_amps, loads, strict=True) if load.at == SUPPLY]
    supply_amps = math.fsum([_leaving_supply(circuit, between, values), *at_supply])
    emf = known[SUPPLY] if math.isinf(source_ohms) else supply_v
    return Solution(
        total_ohms=supply_resistance(circuit, loads),
        supply_amps=supply_amps,
        terminal_volts=float(volts[SUPPLY]),
        supply_watts=float(emf * supply_amps),
        parts=tuple(parts),
        voltages=tuple(float(v) for v in volts),
        load_amps=tuple(load_amps),
        held=tuple(int(i) for i in np.flatnonzero(held[0])),
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
        elif not held[position]:
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
