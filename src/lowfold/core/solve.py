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
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from lowfold.core.circuit import GROUND, SUPPLY, Circuit
from lowfold.core.errors import DomainError, TopologyError

__all__ = [
    "Load",
    "PartState",
    "Solution",
    "Values",
    "node_voltages",
    "solve",
    "supply_resistance",
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
    supply_v: FloatArray  #: (m,)
    load_siemens: FloatArray  #: (m, loads)
    load_amps: FloatArray  #: (m, loads)
    source_ohms: float = 0.0


def nominal_values(
    circuit: Circuit, supply_v: float, source_ohms: float, loads: Sequence[Load]
) -> Values:
    """Return the one set of values a circuit has when nothing deviates."""
    if not 0 <= source_ohms < math.inf:
        msg = f"the source resistance is 0 Ω or more, got {source_ohms:g} Ω"
        raise DomainError(msg, field="source_ohm")
    return Values(
        siemens=np.array([[1 / b.ohms for b in circuit.branches]]).reshape(1, -1),
        supply_v=np.array([float(supply_v)]),
        load_siemens=np.array([[load.siemens for load in loads]]).reshape(1, -1),
        load_amps=np.array([[load.amps or 0.0 for load in loads]]).reshape(1, -1),
        source_ohms=float(source_ohms),
    )


def _reachable(circuit: Circuit, loads: Sequence[Load]) -> BoolArray:
    """Which nodes have a conducting way to the supply or its return, (nodes,)."""
    reached = np.zeros(circuit.nodes, dtype=np.bool_)
    reached[[GROUND, SUPPLY]] = True
    for load in loads:
        reached[load.at] = True  # a held current load ties its node to 0 V too
    changed = True
    while changed:
        changed = False
        for b in circuit.branches:
            if reached[b.a] != reached[b.b]:
                reached[b.a] = reached[b.b] = changed = True
    return reached


def node_voltages(
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
    voltages : (m, nodes) ndarray of float64
        V; NaN at nodes without a conducting way to the supply or its return.
    held : (m, loads) ndarray of bool
        Which current loads get less than they would draw and hold their node at 0 V.
    """
    sets = values.supply_v.shape[0]
    reached = _reachable(circuit, loads)
    fixed = values.source_ohms == 0
    known = {GROUND, SUPPLY} if fixed else {GROUND}
    unknown = [n for n in range(circuit.nodes) if reached[n] and n not in known]
    place = {node: row for row, node in enumerate(unknown)}
    matrix = np.zeros((sets, len(unknown), len(unknown)))
    inflow = np.zeros((sets, len(unknown)))
    for column, b in enumerate(circuit.branches):
        if b.a == b.b or not reached[b.a]:
            continue
        g = values.siemens[:, column]
        for here, there in ((b.a, b.b), (b.b, b.a)):
            if here not in place:
                continue
            matrix[:, place[here], place[here]] += g
            if there in place:
                matrix[:, place[here], place[there]] -= g
            elif there == SUPPLY:
                inflow[:, place[here]] += g * values.supply_v
    for column, load in enumerate(loads):
        if load.at in place:
            matrix[:, place[load.at], place[load.at]] += values.load_siemens[:, column]
    if not fixed:
        matrix[:, place[SUPPLY], place[SUPPLY]] += 1 / values.source_ohms
        inflow[:, place[SUPPLY]] += values.supply_v / values.source_ohms
    solved, held = _complementary(matrix, inflow, place, values, loads)
    voltages = np.full((sets, circuit.nodes), np.nan)
    voltages[:, GROUND] = 0.0
    voltages[:, SUPPLY] = values.supply_v
    voltages[:, unknown] = solved
    return voltages, held


def _complementary(
    matrix: FloatArray,
    inflow: FloatArray,
    place: dict[int, int],
    values: Values,
    loads: Sequence[Load],
) -> tuple[FloatArray, BoolArray]:
    """Solve with each current load either drawing its current or holding its node at 0 V."""
    sets, size = inflow.shape
    drawn = np.zeros((sets, size))
    for column, load in enumerate(loads):
        if load.at in place:
            drawn[:, place[load.at]] += values.load_amps[:, column]
    drawn[values.supply_v <= 0] = 0.0  # no node is above 0 V, so no current load draws
    held = drawn > 0
    for _ in range(size + 1):
        rows = np.where(held[:, :, None], np.eye(size), matrix)
        right = np.where(held, 0.0, inflow - drawn)
        solved = np.linalg.solve(rows, right[:, :, None])[:, :, 0] if size else inflow
        taken_in = inflow - np.einsum("mij,mj->mi", matrix, solved)
        released = held & (taken_in > drawn)
        if not released.any():
            break
        held &= ~released
    columns = [
        held[:, place[load.at]] & (values.load_amps[:, c] > 0)
        if load.at in place
        else np.zeros(sets, dtype=np.bool_)
        for c, load in enumerate(loads)
    ]
    return solved, np.stack(columns, axis=1) if columns else np.zeros((sets, 0), dtype=np.bool_)


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
    voltages, _ = node_voltages(circuit, values, resistive)
    amps = _leaving_supply(circuit, np.nan_to_num(voltages[0]), values, resistive)
    return 1 / amps if amps > 0 else math.inf


def _leaving_supply(
    circuit: Circuit, volts: FloatArray, values: Values, loads: Sequence[Load]
) -> float:
    flows = [
        (volts[b.a] - volts[b.b]) * values.siemens[0, i] * (1 if b.a == SUPPLY else -1)
        for i, b in enumerate(circuit.branches)
        if SUPPLY in (b.a, b.b) and b.a != b.b
    ]
    flows += [volts[SUPPLY] * load.siemens for load in loads if load.at == SUPPLY]
    return math.fsum(flows)


def solve(
    circuit: Circuit, supply_v: float, source_ohms: float = 0.0, loads: Sequence[Load] = ()
) -> Solution:
    """Solve `circuit` on a supply: every part's V, I, P and every node's voltage.

    Parameters
    ----------
    supply_v : float
        EMF of the supply, V.
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
    unloaded = _reachable(circuit, ())
    for load in loads:
        if load.amps is not None and not unloaded[load.at]:
            msg = "a current load hangs on a junction that nothing connects to the supply"
            raise TopologyError(msg, field="loads")
    voltages, held = node_voltages(circuit, values, loads)
    volts = voltages[0]
    known = np.nan_to_num(volts)
    parts = []
    for b in circuit.branches:
        across = float(known[b.a] - known[b.b])
        parts.append(PartState(b.ref, b.ohms, across, across / b.ohms, across * across / b.ohms))
    load_amps = _drawn(circuit, parts, loads, known, held[0])
    if source_ohms > 0:
        supply_amps = float((supply_v - volts[SUPPLY]) / source_ohms)
    else:
        at_supply = [a for a, load in zip(load_amps, loads, strict=True) if load.at == SUPPLY]
        resistive_none: tuple[Load, ...] = ()
        supply_amps = math.fsum(
            [_leaving_supply(circuit, known, values, resistive_none), *at_supply]
        )
    return Solution(
        total_ohms=supply_resistance(circuit, loads),
        supply_amps=supply_amps,
        terminal_volts=float(volts[SUPPLY]),
        supply_watts=supply_v * supply_amps,
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
    """What each load draws in A; loads holding one node share what flows into it by their rating."""
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
