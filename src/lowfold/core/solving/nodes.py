"""Node equations of a circuit, for one set of values or for many at once.

Kirchhoff's current law at every node with Ohm's law in every branch, in conductances. The matrix
is that of a grounded resistor network (symmetric, a Stieltjes matrix), so it is regular wherever
every node reaches the supply or its return; nodes that do not have no defined voltage. The supply's
low end is one more node of given potential where it does not lie at 0 V.

A current load draws its current only while its node stays above 0 V, else it holds the node at
0 V; where that would take a current out of the load its node is below 0 V, and it draws nothing.
Which loads hold is a linear complementarity problem with that matrix: starting with all of
them holding and releasing every load whose node takes in more than it draws, repeated, reaches the
one solution in at most as many rounds as there are loads (R. Chandrasekaran, Opsearch 7, 1970;
from memory). Loads that would have to give are then let go, and all is done again: without them no
node lies higher, so that none of them would have drawn, and again there are at most as many rounds.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from typing import Any, Final

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import DomainError, TopologyError
from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit
from lowfold.core.network.graph import distances

__all__ = [
    "Load",
    "Nets",
    "PartState",
    "Solution",
    "nets_of",
    "nominal_nets",
    "potentials",
    "reached_nodes",
    "resistances",
    "solution_of",
    "solve",
    "supply_resistance",
    "transfer_ohms",
]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.intp]
BoolArray = npt.NDArray[np.bool_]

#: Numbers held at once while solving many sets, some tens of megabytes.
MOST_CELLS: Final = 2**22


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
class Nets:
    """Networks solved together: m sets of values, each with ends of its own for its branches."""

    nodes: int
    a: IntArray  #: (m or 1, branches): first ends
    b: IntArray  #: (m or 1, branches): second ends
    siemens: FloatArray  #: (m, branches); 0 where a branch is open
    at: IntArray  #: (m or 1, loads)
    load_siemens: FloatArray  #: (m, loads)
    load_amps: FloatArray  #: (m, loads)
    supply_v: FloatArray  #: (m,); of a current source, its A
    source_ohms: float = 0.0  #: inf makes the supply a current source
    entering: FloatArray | None = None  #: (m, nodes) A put into each node besides
    at_zero: BoolArray | None = None  #: (m, nodes): nodes tied to 0 V besides
    low: int = GROUND  #: the supply's low end
    low_v: FloatArray | None = None  #: (m,) V it lies at, where it is a node of its own

    def some(self, rows: slice) -> Nets:
        """Return some of the sets."""

        def cut(values: npt.NDArray[Any]) -> npt.NDArray[Any]:
            return values if len(values) == 1 < len(self.supply_v) else values[rows]

        return Nets(
            self.nodes,
            cut(self.a),
            cut(self.b),
            self.siemens[rows],
            cut(self.at),
            self.load_siemens[rows],
            self.load_amps[rows],
            self.supply_v[rows],
            self.source_ohms,
            None if self.entering is None else self.entering[rows],
            None if self.at_zero is None else self.at_zero[rows],
            self.low,
            None if self.low_v is None else self.low_v[rows],
        )


def nets_of(
    circuit: Circuit,
    siemens: FloatArray,
    supply_v: FloatArray,
    source_ohms: float = 0.0,
    loads: Sequence[Load] = (),
    load_siemens: FloatArray | None = None,
    load_amps: FloatArray | None = None,
    low_v: float = 0.0,
) -> Nets:
    """Return sets of values for one circuit.

    Parameters
    ----------
    siemens : (m, branches) ndarray of float64
        S, each above 0.
    supply_v : (m,) ndarray of float64
        V; of a current source, its A.
    source_ohms : float
        Ω inside the supply; inf makes it a current source.
    loads : sequence of Load
        Where the loads hang, and what they are where the arrays do not say.
    load_siemens, load_amps : (m, loads) ndarray of float64, optional
        What each load is in each set, S and A.
    low_v : float
        What the supply's low end lies at, V, in a circuit in which it is a node of its own.
    circuit : Circuit
        The network laid out as nodes and branches.

    Raises
    ------
    DomainError
        For a negative source resistance.
    """
    if not source_ohms >= 0:
        msg = f"the source resistance is 0 Ω or more, got {source_ohms:g} Ω"
        raise DomainError(msg, field="source_ohm")
    if low_v and circuit.low == GROUND:
        msg = "the supply's low end is off 0 V in a circuit whose node 0 is 0 V: lift it first"
        raise ValueError(msg)
    sets = len(supply_v)
    if load_siemens is None:
        load_siemens = np.tile([x.siemens for x in loads], (sets, 1))
    if load_amps is None:
        load_amps = np.tile([x.amps or 0.0 for x in loads], (sets, 1))
    return Nets(
        nodes=circuit.nodes,
        a=np.array([[b.a for b in circuit.branches]], dtype=np.intp),
        b=np.array([[b.b for b in circuit.branches]], dtype=np.intp),
        siemens=siemens.reshape(sets, len(circuit.branches)),
        at=np.array([[x.at for x in loads]], dtype=np.intp),
        load_siemens=load_siemens.reshape(sets, len(loads)),
        load_amps=load_amps.reshape(sets, len(loads)),
        supply_v=supply_v,
        source_ohms=float(source_ohms),
        low=circuit.low,
        low_v=None if circuit.low == GROUND else np.full(sets, float(low_v)),
    )


def nominal_nets(
    circuit: Circuit,
    supply_v: float,
    source_ohms: float = 0.0,
    loads: Sequence[Load] = (),
    low_v: float = 0.0,
) -> Nets:
    """Return the one set of values a circuit has when nothing deviates.

    Parameters
    ----------
    supply_v, source_ohms
        V (of a current source, A) and Ω inside it.
    circuit : Circuit
        The network laid out as nodes and branches.
    loads : Sequence[Load]
        What hangs from nodes to 0 V, Ω or A.
    low_v : float
        What the supply's low end lies at, V, in a circuit in which it is a node of its own.

    Raises
    ------
    DomainError
        For a negative source resistance.
    """
    siemens = np.array([[1 / b.ohms for b in circuit.branches]])
    supply = np.array([float(supply_v)])
    return nets_of(circuit, siemens, supply, source_ohms, loads, low_v=low_v)


def reached_nodes(circuit: Circuit, start: Collection[int]) -> BoolArray:
    """Return which nodes have a conducting way to one of `start`, (nodes,).

    Parameters
    ----------
    circuit : Circuit
        The network laid out as nodes and branches.
    start : Collection[int]
        Nodes reached to begin with.
    """
    reached = np.zeros(circuit.nodes, dtype=np.bool_)
    reached[list(distances(circuit.branches, start))] = True
    return reached


def _spread(reached: BoolArray, linked: BoolArray) -> BoolArray:
    """Return what can be reached over links, (m, nodes)."""
    while True:
        further = reached | (linked & reached[:, :, None]).any(axis=1)
        if (further == reached).all():
            return further
        reached = further


def _conductances(nets: Nets, supply: int) -> FloatArray:
    """Return what joins each node to each other, (m, nodes, nodes) in S; zero on the diagonal."""
    sets, n = len(nets.supply_v), nets.nodes
    first = np.arange(sets)[:, None] * n
    between: npt.NDArray[Any] = np.bincount(
        ((first + nets.a) * n + nets.b).ravel(), nets.siemens.ravel(), minlength=sets * n * n
    ).reshape(sets, n, n)
    if nets.at.size:
        between = between + np.bincount(
            ((first + nets.at) * n + GROUND).ravel(),
            nets.load_siemens.ravel(),
            minlength=sets * n * n,
        ).reshape(sets, n, n)
    if 0 < nets.source_ohms < math.inf:
        between[:, supply, GROUND] += 1 / nets.source_ohms
    joined: FloatArray = between + between.transpose(0, 2, 1)
    joined[:, np.arange(n), np.arange(n)] = 0.0
    return joined


def _reached(nets: Nets, supply: int, joined: FloatArray, drawing: BoolArray) -> BoolArray:
    """Return which nodes have a potential in each set, (m or 1, nodes)."""
    linked = joined > 0
    if len(nets.a) == 1 and bool((nets.siemens > 0).all()) and len(linked):
        linked = linked[:1]
        drawing = drawing.any(axis=0).reshape(1, -1)
    start = drawing.copy()
    start[:, [GROUND, nets.low]] = True
    if nets.source_ohms == 0:
        start[:, supply] = True
    return _spread(start, linked)


def _eliminate(
    joined: FloatArray, entering: FloatArray, known: int, gaps: FloatArray, at_zero: BoolArray
) -> None:
    """Fill in `gaps`, (m, nodes, nodes) V between nodes, for all but the first `known` nodes.

    Star–mesh elimination, node by node, only adding and multiplying conductances, and a way back
    in differences of potential, not in potentials: nothing cancels, so 10 mΩ beside 10 MΩ costs
    no figures (W. K. Grassmann, M. I. Taksar and D. P. Heyman, Operations Research 33, 1985; from
    memory).
    """
    joined, entering = joined.copy(), entering.copy()
    steps = []
    for node in range(joined.shape[1] - 1, known - 1, -1):
        toward = joined[:, node, :node]
        total = toward.sum(axis=1)
        lone = total <= 0
        share = toward / np.where(lone, 1.0, total)[:, None]
        tied = at_zero[:, node] | lone
        own = np.where(tied, 0.0, entering[:, node] / np.where(lone, 1.0, total))
        if tied.any():
            share[tied] = 0.0
            share[tied, GROUND] = 1.0
        steps.append((node, share, own))
        if node > known:
            later = slice(known, node)
            joined[:, later, :node] += joined[:, later, node, None] * share[:, None, :]
            entering[:, later] += joined[:, later, node] * own[:, None]
            place = np.arange(known, node)
            joined[:, place, place] = 0.0
    for node, share, own in reversed(steps):
        gap = np.matmul(gaps[:, :node, :node], share[:, :, None])[:, :, 0] - own[:, None]
        gaps[:, :node, node] = gap
        gaps[:, node, :node] = -gap


def potentials(nets: Nets) -> tuple[FloatArray, BoolArray]:
    """Solve the node equations for every set of values.

    Parameters
    ----------
    nets : Nets
        Sets of values, m at once.

    Returns
    -------
    gaps : (m, nodes, nodes) ndarray of float64
        V of one node above another; ``gaps[:, n, GROUND]`` are the node voltages. NaN for nodes
        without a conducting way to the supply or its return.
    starved : (m, loads) ndarray of bool
        Which current loads get less than they would draw and hold their node at 0 V.

    Raises
    ------
    TopologyError
        If a current source has no conducting way to its return.
    """
    sets, n = len(nets.supply_v), nets.nodes
    step = max(1, MOST_CELLS // n**2)
    if sets <= step:
        return _potentials(nets)
    gaps = np.empty((sets, n, n))
    starved = np.empty(nets.load_amps.shape, dtype=np.bool_)
    for start in range(0, sets, step):
        some = slice(start, start + step)
        gaps[some], starved[some] = _potentials(nets.some(some))
    return gaps, starved


def _potentials(nets: Nets) -> tuple[FloatArray, BoolArray]:
    """Solve with the nodes turned round: of those not known the first is eliminated first."""
    given = [GROUND, *([SUPPLY] if nets.source_ohms == 0 else [])]
    given += [] if nets.low in given else [nets.low]
    known = len(given)
    rest = [n for n in range(nets.nodes - 1, -1, -1) if n not in given]
    place = np.empty(nets.nodes, dtype=np.intp)
    place[[*given, *rest]] = np.arange(nets.nodes)
    turned = replace(
        nets, a=place[nets.a], b=place[nets.b], at=place[nets.at], low=int(place[nets.low])
    )
    order = np.array([*given, *rest], dtype=np.intp)
    if nets.entering is not None:
        turned = replace(turned, entering=nets.entering[:, order])
    if nets.at_zero is not None:
        turned = replace(turned, at_zero=nets.at_zero[:, order])
    gaps, starved = _turned_potentials(turned, int(place[SUPPLY]), known)
    return gaps[:, place[:, None], place], starved


def _turned_potentials(nets: Nets, supply: int, known: int) -> tuple[FloatArray, BoolArray]:
    sets, n = len(nets.supply_v), nets.nodes
    joined = _conductances(nets, supply)
    gaps = np.zeros((sets, n, n))
    entering = np.zeros((sets, n)) if nets.entering is None else nets.entering.copy()
    low_v: FloatArray | float = 0.0 if nets.low_v is None else nets.low_v
    gaps[:, nets.low, GROUND] = low_v
    gaps[:, GROUND, nets.low] = -low_v
    if nets.source_ohms == 0:
        gaps[:, supply, nets.low] = nets.supply_v - low_v
        gaps[:, nets.low, supply] = low_v - nets.supply_v
        gaps[:, supply, GROUND] = nets.supply_v
        gaps[:, GROUND, supply] = -nets.supply_v
    elif math.isinf(nets.source_ohms):
        entering[:, supply] += nets.supply_v
    else:
        entering[:, supply] += nets.supply_v / nets.source_ohms
    drawn = np.zeros((sets, n))
    rows = np.arange(sets)
    for column in range(nets.load_amps.shape[1]):
        drawn[rows, nets.at[:, column]] += nets.load_amps[:, column]
    # Where neither end of the supply is above 0 V no node is, and no current load draws.
    drawn[np.maximum(nets.supply_v, low_v) <= 0] = 0.0
    reached = _reached(nets, supply, joined, drawn > 0)
    if not reached[:, supply].all():
        msg = "a current source needs a conducting way to its return"
        raise TopologyError(msg, field="network")
    drawn[:, :known] = 0.0  # a current out of an ideal supply moves no node
    at_zero = np.zeros((sets, n), dtype=np.bool_) if nets.at_zero is None else nets.at_zero
    _eliminate(joined, entering - drawn, known, gaps, at_zero)
    drawing = drawn > 0
    # Where every load is fed without any holding its node, that is the one solution.
    short = (drawing & (gaps[:, :, GROUND] <= 0)).any(axis=1)
    held = np.zeros((sets, n), dtype=np.bool_)
    if short.any():
        gaps[short], held[short] = _clipped(
            joined[short], entering[short], drawn[short], known, gaps[short], at_zero[short]
        )
    gaps[np.broadcast_to(~reached, (sets, n))] = np.nan
    gaps.transpose(0, 2, 1)[np.broadcast_to(~reached, (sets, n))] = np.nan
    starved = held[rows[:, None], nets.at] & (nets.load_amps > 0)
    return gaps, starved


def _clipped(
    joined: FloatArray,
    entering: FloatArray,
    drawn: FloatArray,
    known: int,
    gaps: FloatArray,
    at_zero: BoolArray,
) -> tuple[FloatArray, BoolArray]:
    """Solve sets in which some load starves: gaps, and at which nodes it does."""
    wanted = drawn > 0
    while True:
        gaps, held = _held(joined, entering, drawn, known, gaps, at_zero)
        giving = held & (entering - (joined * gaps).sum(axis=2) < 0)
        if not giving.any():
            return gaps, wanted & (held | (drawn == 0))
        drawn = np.where(giving, 0.0, drawn)


def _held(
    joined: FloatArray,
    entering: FloatArray,
    drawn: FloatArray,
    known: int,
    gaps: FloatArray,
    at_zero: BoolArray,
) -> tuple[FloatArray, BoolArray]:
    """Solve sets in which some load starves: gaps, and which nodes are held at 0 V."""
    held = drawn > 0
    while True:
        _eliminate(joined, entering - drawn, known, gaps, at_zero | held)
        taken_in = entering - (joined * gaps).sum(axis=2)
        released = held & (taken_in > drawn)
        if not released.any():
            return gaps, held
        held &= ~released


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
    circuit : Circuit
        The network laid out as nodes and branches.
    node : int
        Index of the junction.
    """
    if node in (GROUND, circuit.low) or (node == SUPPLY and source_ohms == 0):
        return np.zeros(circuit.nodes)
    resistive = [load for load in loads if load.ohms is not None]
    start = {GROUND, circuit.low, *(x.at for x in resistive)}
    if math.isfinite(source_ohms):
        start.add(SUPPLY)
    reached = reached_nodes(circuit, start)
    if not reached[node] or node in tied_down:
        return np.zeros(circuit.nodes)
    if not reached[SUPPLY]:  # it floats: 1 Ω ties it down without carrying anything
        resistive.append(Load(SUPPLY, ohms=1.0))
    entering = np.zeros((1, circuit.nodes))
    entering[0, node] = 1.0
    at_zero = np.zeros((1, circuit.nodes), dtype=np.bool_)
    at_zero[0, list(tied_down)] = True
    nets = replace(
        nominal_nets(circuit, 0.0, source_ohms, resistive), entering=entering, at_zero=at_zero
    )
    found: FloatArray = np.nan_to_num(potentials(nets)[0][0, :, GROUND])
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
    #: Positions of the current loads that get too little: their node is at 0 V, or below it.
    held: tuple[int, ...]


def supply_resistance(circuit: Circuit, loads: Sequence[Load] = ()) -> float:
    """Return the resistance between the supply's ends, resistive loads connected, in Ω.

    Infinite where nothing conducts.

    Parameters
    ----------
    circuit : Circuit
        The network laid out as nodes and branches.
    loads : Sequence[Load]
        What hangs from nodes to 0 V, Ω or A.
    """
    resistive = [load for load in loads if load.ohms is not None]
    nets = nominal_nets(circuit, 1.0, 0.0, resistive)
    return float(resistances(nets, potentials(nets)[0])[0])


def resistances(nets: Nets, gaps: FloatArray) -> FloatArray:
    """Return the resistance between the supply's ends in every set, (m,) in Ω.

    Infinite where nothing conducts.

    Parameters
    ----------
    nets : Nets
        With 1 V across the supply's ends and no current loads.
    gaps : (m, nodes, nodes) ndarray of float64
        Its potentials.
    """
    rows = np.arange(len(gaps))[:, None]
    across = np.nan_to_num(gaps[rows, nets.a, nets.b]) * nets.siemens
    sign = (nets.a == SUPPLY).astype(np.float64) - (nets.b == SUPPLY)
    siemens = (across * sign).sum(axis=1)
    if nets.at.size:
        siemens = siemens + np.where(nets.at == SUPPLY, nets.load_siemens, 0.0).sum(axis=1)
    with np.errstate(divide="ignore"):
        found: FloatArray = np.where(siemens > 0, 1 / siemens, np.inf)
    return found


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
    circuit : Circuit
        The network laid out as nodes and branches.

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
    circuit : Circuit
        The network laid out as nodes and branches.
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
