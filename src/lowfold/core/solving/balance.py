"""Kirchhoff's laws over a solved circuit: junction currents, loop drops, power balance."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit, junctions, load_names
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import Solution

__all__ = ["Balance", "balances"]

#: Residual allowed relative to the sum of magnitudes: rounding of some hundred additions.
ROUNDING = 1e-9
#: And relative to the largest current, drop or power there is: what rounding leaves where none is.
LEAST = 1e-12
#: And relative to the largest voltage across a part, in its current: the last digit of a voltage.
LAST_DIGIT = 4e-16


@dataclass(frozen=True, slots=True)
class Balance:
    """One sum that has to vanish."""

    name: str
    residual: float  #: A, V or W
    holds: bool


@dataclass(frozen=True, slots=True)
class _Edge:
    label: str
    a: int
    b: int
    amps: float  #: from a to b
    drop: float  #: from a to b, V


def _edges(
    circuit: Circuit, solution: Solution, supply_v: float, loads: Sequence[Load], low_v: float
) -> list[_Edge]:
    edges = [
        _Edge(p.ref, b.a, b.b, p.amps, p.amps * p.ohms)
        for p, b in zip(solution.parts, circuit.branches, strict=True)
        if not math.isnan(solution.voltages[b.a])
    ]
    names = load_names(circuit, len(loads))
    for name, load, amps in zip(names, loads, solution.load_amps, strict=True):
        drop = amps * load.ohms if load.ohms is not None else solution.voltages[load.at]
        edges.append(_Edge(name, load.at, GROUND, amps, drop))
    inside = supply_v - solution.terminal_volts
    edges.append(_Edge("supply", GROUND, SUPPLY, solution.supply_amps, inside - supply_v))
    if circuit.low != GROUND:
        edges.append(_Edge("low supply", GROUND, circuit.low, _low_amps(circuit, edges), -low_v))
    return edges


def _low_amps(circuit: Circuit, edges: Sequence[_Edge]) -> float:
    """Return what the low end gives, A: what leaves its node through parts."""
    inner = [e for e in edges if e.a != e.b and circuit.low in (e.a, e.b)]
    return math.fsum(e.amps if e.a == circuit.low else -e.amps for e in inner)


def _balance(name: str, terms: Sequence[float], largest: float, spare: float = 0.0) -> Balance:
    residual = math.fsum(terms) + 0.0
    scale = math.fsum(abs(t) for t in terms)
    return Balance(name, residual, abs(residual) <= ROUNDING * scale + LEAST * largest + spare)


def balances(
    circuit: Circuit,
    solution: Solution,
    supply_v: float,
    loads: Sequence[Load] = (),
    low_v: float = 0.0,
) -> tuple[Balance, ...]:
    """Return every junction's, every independent loop's and the power's residual.

    Loops are the fundamental ones of a spanning tree: their sums vanish exactly when every loop's
    do (Kirchhoff's voltage law).

    Parameters
    ----------
    solution : Solution
        What the circuit does.
    supply_v : float
        EMF, V.
    loads : Sequence[Load]
        What hangs from nodes to 0 V, Ω or A.
    low_v : float
        What the supply's low end lies at, V, in a circuit that is `lifted` by that.
    """
    edges = _edges(circuit, solution, supply_v, loads, low_v)
    titles = {index: name for name, index in junctions(circuit).items()}
    most_amps = max(abs(e.amps) for e in edges)
    most_volts = max(abs(e.drop) for e in edges)
    found = []
    for node in range(circuit.nodes):
        flows = [
            e.amps if e.a == node else -e.amps for e in edges if (e.a == node) != (e.b == node)
        ]
        if flows:
            siemens = math.fsum(1 / b.ohms for b in circuit.branches if node in (b.a, b.b))
            spare = LAST_DIGIT * most_volts * siemens
            found.append(_balance(f"junction {titles[node]}", flows, most_amps, spare))
    found.extend(_loops(edges))
    used = [p.watts for p in solution.parts]
    used += [a * solution.voltages[x.at] for a, x in zip(solution.load_amps, loads, strict=True)]
    lost_inside = (supply_v - solution.terminal_volts) * solution.supply_amps
    low_watts = [e.amps * low_v for e in edges if e.label == "low supply" and e.a == GROUND]
    powers = [solution.supply_watts, *low_watts, -lost_inside, *(-w for w in used)]
    found.append(_balance("power", powers, max(map(abs, powers))))
    return tuple(found)


def _loops(edges: Sequence[_Edge]) -> list[Balance]:
    """Close a loop with each edge outside a spanning forest."""
    most_volts = max(abs(e.drop) for e in edges)
    way: dict[int, list[tuple[_Edge, int]]] = {}  # node -> edges from its root, with their sense
    closing = []
    pending = list(edges)
    while pending:
        reach = next((e for e in pending if (e.a in way) != (e.b in way)), None)
        if reach is None:
            inside = [e for e in pending if e.a in way]
            closing.extend(inside)
            pending = [e for e in pending if e.a not in way]
            if pending:
                way[pending[0].a] = []
            continue
        pending.remove(reach)
        known, new, sense = (reach.a, reach.b, 1) if reach.a in way else (reach.b, reach.a, -1)
        way[new] = [*way[known], (reach, sense)]
    found = []
    for edge in closing:
        there, back = way[edge.a], way[edge.b]
        shared = 0
        while shared < min(len(there), len(back)) and there[shared] == back[shared]:
            shared += 1
        members = [*there[shared:], (edge, 1), *((e, -s) for e, s in reversed(back[shared:]))]
        name = "loop " + "–".join(e.label for e, _ in members)
        found.append(_balance(name, [s * e.drop for e, s in members], most_volts))
    return found
