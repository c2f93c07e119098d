"""A network as somebody wrote it down: switches, loads and parts without current still in it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from lowfold.core.folding.fold import node_titles
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch, build_circuit
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.solving.solution import solve

__all__ = ["Written", "as_written"]


@dataclass(frozen=True, slots=True)
class Written:
    """Everything that is drawn, between junctions that closed switches have not made one."""

    edges: tuple[Branch, ...]  #: parts, switches and loads
    titles: dict[int, str]
    volts: dict[int, float]  #: of every junction, where there are any
    nodes: dict[int, tuple[int, ...]]  #: by node of the circuit, the junctions it is made of


def as_written(network: str, closed: tuple[str, ...] = (), load_at: str = "") -> Written:
    """Return what is drawn of a network.

    Parameters
    ----------
    network : str
        As typed.
    closed : tuple of str
        Switches that conduct.
    load_at : str
        A junction that a load hangs at; empty for none.

    Raises
    ------
    LowfoldError
        For a network that is not understood.
    """
    parsed = read_text(network)
    circuit = build_circuit(parsed, closed)
    solved = dict(enumerate(solve(circuit, 1.0).voltages))
    if not isinstance(parsed, Netlist):
        titles = node_titles(circuit)
        hung = _load(circuit.node(load_at)) if load_at else ()
        volts = {n: v for n, v in solved.items() if math.isfinite(v)}
        alone: dict[int, tuple[int, ...]] = {n: (n,) for n in titles}
        return Written((*circuit.branches, *hung), titles, volts, alone)
    numbers = {"in": SUPPLY, "0": GROUND}
    titles = {SUPPLY: "in", GROUND: "0"}
    edges = []
    for line in parsed.lines:
        ends = []
        for name in (line.a, line.b):
            number = numbers.setdefault(name.casefold(), len(numbers))
            titles.setdefault(number, name)
            ends.append(number)
        edges.append(Branch(line.ref, ends[0], ends[1], line.ohms or 1.0))
    merged = {n.casefold(): node for n, node in circuit.names.items()}
    merged |= {"in": SUPPLY, "0": GROUND}
    nodes: dict[int, tuple[int, ...]] = {}
    volts = {}
    for name, number in numbers.items():
        node = merged[name]
        nodes[node] = (*nodes.get(node, ()), number)
        if math.isfinite(solved[node]):
            volts[number] = solved[node]
    hung = _load(numbers[load_at.casefold()]) if load_at else ()
    return Written((*edges, *hung), titles, volts, nodes)


def _load(node: int) -> tuple[Branch, ...]:
    return (Branch("L1", node, GROUND, 1.0),)
