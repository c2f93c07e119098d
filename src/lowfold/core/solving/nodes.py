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
from dataclasses import replace
from typing import Any, Final

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import TopologyError
from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit
from lowfold.core.solving.nets import Load, Nets, nominal_nets, reached_nodes

__all__ = ["potentials", "resistances", "supply_resistance", "transfer_ohms"]

FloatArray = npt.NDArray[np.float64]
BoolArray = npt.NDArray[np.bool_]

#: Numbers held at once while solving many sets, some tens of megabytes.
MOST_CELLS: Final = 2**22


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


def supply_resistance(circuit: Circuit, loads: Sequence[Load] = ()) -> float:
    """Return the resistance between the supply's ends, resistive loads connected, in Ω.

    Infinite where nothing conducts.

    Parameters
    ----------
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
