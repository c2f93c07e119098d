"""A network as nodes and branches, switches already thrown: what the solver works on."""

from __future__ import annotations

import itertools
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, replace

from lowfold.core.errors import TopologyError
from lowfold.core.network.notation import Netlist
from lowfold.core.network.tree import Element, Group, Part, Switch, Tap

__all__ = [
    "GROUND",
    "SUPPLY",
    "Branch",
    "Circuit",
    "build_circuit",
    "check_switches",
    "junctions",
    "lifted",
    "load_names",
    "lowered",
    "switch_refs",
]

GROUND = 0  #: index of 0 V: the supply's return, unless that lies elsewhere
SUPPLY = 1  #: index of the supply's positive end


@dataclass(frozen=True, slots=True)
class Branch:
    """A resistance between two nodes; current counts as positive from `a` to `b`."""

    ref: str
    a: int
    b: int
    ohms: float
    made: bool = False  #: by a step of folding: no part and no load

    def far(self, node: int) -> int:
        """Return the end that is not `node`."""
        return self.b if self.a == node else self.a


@dataclass(frozen=True, slots=True)
class Circuit:
    """Parts between numbered nodes, with the names of the nodes one can ask about."""

    branches: tuple[Branch, ...]
    nodes: int  #: how many, GROUND and SUPPLY included
    names: Mapping[str, int]  #: taps and nodes as written, to their index
    low: int = GROUND  #: the node written `0`; of its own where it lies at another voltage than 0 V

    @property
    def ends(self) -> frozenset[int]:
        """Return the nodes whose potential is given: 0 V and both ends of the supply."""
        return frozenset((GROUND, SUPPLY, self.low))

    def node(self, name: str, *, field: str = "at") -> int:
        """Return the index of the node called `name`, in any case.

        Raises
        ------
        TopologyError
            Naming the nodes there are.
        """
        wanted = name.strip().lstrip("@").casefold()
        for written, index in self.names.items():
            if written.casefold() == wanted:
                return index
        if wanted in {"in", "0"}:
            return SUPPLY if wanted == "in" else self.low
        known = ", ".join(sorted(self.names)) or "none is named: mark one with @OUT"
        msg = f"the network has no junction called “{name}”; there are: {known}"
        raise TopologyError(msg, field=field)

    def branch(self, ref: str) -> int:
        """Return the position of the part called `ref`, in any case."""
        for position, branch in enumerate(self.branches):
            if branch.ref.casefold() == ref.strip().casefold():
                return position
        known = ", ".join(b.ref for b in self.branches) or "none at all"
        msg = f"the network has no part called “{ref}”; there are: {known}"
        raise TopologyError(msg, field="parts")


def junctions(circuit: Circuit) -> dict[str, int]:
    """Return every node by its name; those that have none are n1, n2 … in order.

    A number that is taken is left out. The supply's ends are `in` and `0` where unnamed; `0 V` is
    one of its own where `0` lies elsewhere.
    """
    names = dict(circuit.names)
    used = {name.casefold() for name in names} | {"in", "0"}
    called = set(names.values())
    ends = (("in", SUPPLY), ("0", circuit.low), ("0 V", GROUND))
    for name, node in ends:
        if node not in called:
            names[name] = node
            called.add(node)
    fresh = (f"n{k}" for k in itertools.count(1) if f"n{k}" not in used)
    inner = (n for n in range(circuit.nodes) if n not in circuit.ends | called)
    return names | {next(fresh): n for n in inner}


def lifted(circuit: Circuit, low_volts: float) -> Circuit:
    """Return the circuit with its node `0` at another voltage than 0 V, as a node of its own.

    Loads go on to 0 V. At 0 V it is the circuit itself.

    Parameters
    ----------
    low_volts : float
        What its node `0` lies at, V.
    """
    if not low_volts:
        return circuit
    low = circuit.nodes

    def moved(node: int) -> int:
        return low if node == GROUND else node

    branches = tuple(replace(b, a=moved(b.a), b=moved(b.b)) for b in circuit.branches)
    names = {name: moved(node) for name, node in circuit.names.items()}
    return Circuit(branches, circuit.nodes + 1, names, low)


def load_names(circuit: Circuit, count: int) -> list[str]:
    """Return what `count` loads go by: L1, L2 … in order, never the name of a part.

    A name that a part has already gets an x behind it.

    Parameters
    ----------
    count : int
        How many loads there are.
    """
    used = {b.ref.casefold() for b in circuit.branches}
    names = []
    for number in range(1, count + 1):
        name = f"L{number}"
        while name.casefold() in used:
            name += "x"
        used.add(name.casefold())
        names.append(name)
    return names


def lowered(circuit: Circuit) -> Circuit:
    """Return a lifted circuit with its node `0` at 0 V again: what a dead supply makes of it."""
    if circuit.low == GROUND:
        return circuit

    def moved(node: int) -> int:
        return GROUND if node == circuit.low else node

    branches = tuple(replace(b, a=moved(b.a), b=moved(b.b)) for b in circuit.branches)
    names = {name: moved(node) for name, node in circuit.names.items()}
    return Circuit(branches, circuit.nodes - 1, names)


class _Nodes:
    """Node numbers while a circuit is being built, with closed switches joining two into one."""

    def __init__(self) -> None:
        self.parents = [GROUND, SUPPLY]

    def fresh(self) -> int:
        self.parents.append(len(self.parents))
        return len(self.parents) - 1

    def find(self, node: int) -> int:
        while self.parents[node] != node:
            node = self.parents[node]
        return node

    def join(self, a: int, b: int) -> None:
        low, high = sorted((self.find(a), self.find(b)))
        self.parents[high] = low


def switch_refs(network: Element | Netlist) -> tuple[str, ...]:
    """Return the names of the switches, as written."""
    if isinstance(network, Netlist):
        return tuple(line.ref for line in network.lines if line.ohms is None)
    found: list[str] = []
    stack: list[Element | Tap] = [network]
    while stack:
        item = stack.pop()
        if isinstance(item, Switch):
            found.append(item.ref)
        elif not isinstance(item, Part | Tap):
            inner = item.branches if isinstance(item, Group) else item.items
            stack.extend(reversed(inner))
    return tuple(found)


def check_switches(network: Element | Netlist, named: Iterable[str]) -> None:
    """Refuse a switch that the network does not have.

    Parameters
    ----------
    named : Iterable[str]
        Switches named.

    Raises
    ------
    TopologyError
        Naming the switches there are.
    """
    known = switch_refs(network)
    for ref in named:
        if ref.casefold() not in {s.casefold() for s in known}:
            there = ", ".join(known) or "none"
            msg = f"the network has no switch called “{ref}”; there are: {there}"
            raise TopologyError(msg, field="switches")


def build_circuit(network: Element | Netlist, closed: Collection[str] = ()) -> Circuit:
    """Lay `network` out as nodes and branches, the switches in `closed` conducting.

    Parameters
    ----------
    closed : Collection[str]
        Switches that conduct.

    Raises
    ------
    TopologyError
        If `closed` names a switch that is not there, a netlist lacks `in` or `0`, or a junction
        between parts has the name of one of the supply's ends.
    """
    check_switches(network, closed)
    shut = {ref.casefold() for ref in closed}
    nodes = _Nodes()
    names: dict[str, int] = {}
    branches: list[Branch] = []

    def lay(item: Element, a: int, b: int) -> None:
        if isinstance(item, Part):
            branches.append(Branch(item.ref, a, b, item.ohms))
        elif isinstance(item, Switch):
            if item.ref.casefold() in shut:
                nodes.join(a, b)
        elif isinstance(item, Group):
            for branch in item.branches:
                lay(branch, a, b)
        else:
            left = a
            remaining = sum(not isinstance(i, Tap) for i in item.items)
            for inner in item.items:
                if isinstance(inner, Tap):
                    _check_end(inner.name, left)
                    names[inner.name] = left
                    continue
                remaining -= 1
                right = nodes.fresh() if remaining else b
                lay(inner, left, right)
                left = right

    if isinstance(network, Netlist):
        _lay_netlist(network, shut, nodes, names, branches)
    else:
        lay(network, SUPPLY, GROUND)
    return _numbered(nodes, names, branches)


def _check_end(name: str, node: int) -> None:
    """Refuse a junction between parts that is called as an end of the supply is."""
    if {"in": SUPPLY, "0": GROUND}.get(name.casefold(), node) != node:
        msg = f"“{name}” is an end of the supply: give the junction between parts another name"
        raise TopologyError(msg, field="network")


def _lay_netlist(
    netlist: Netlist, shut: set[str], nodes: _Nodes, names: dict[str, int], branches: list[Branch]
) -> None:
    index = {"0": GROUND, "in": SUPPLY}
    for line in netlist.lines:
        for name in (line.a, line.b):
            if name.casefold() not in index:
                index[name.casefold()] = nodes.fresh()
            if name != "0" and name.casefold() not in {n.casefold() for n in names}:
                names[name] = index[name.casefold()]
        a, b = index[line.a.casefold()], index[line.b.casefold()]
        if line.ohms is not None:
            branches.append(Branch(line.ref, a, b, line.ohms))
        elif line.ref.casefold() in shut:
            nodes.join(a, b)
    used = {name.casefold() for line in netlist.lines for name in (line.a, line.b)}
    for end in ("in", "0"):
        if end not in used:
            msg = f"no part reaches node “{end}”: nodes “in” and “0” are the supply's ends"
            raise TopologyError(msg, field="network")


def _numbered(nodes: _Nodes, names: Mapping[str, int], branches: Iterable[Branch]) -> Circuit:
    """Renumber so that joined nodes share one number and numbers have no gaps."""
    if nodes.find(SUPPLY) == GROUND:
        msg = "the closed switches put a short straight across the supply: open one of them"
        raise TopologyError(msg, field="switches")
    dense: dict[int, int] = {GROUND: GROUND, SUPPLY: SUPPLY}
    for node in range(len(nodes.parents)):
        dense.setdefault(nodes.find(node), len(dense))
    return Circuit(
        branches=tuple(
            Branch(b.ref, dense[nodes.find(b.a)], dense[nodes.find(b.b)], b.ohms) for b in branches
        ),
        nodes=len(dense),
        names={name: dense[nodes.find(node)] for name, node in names.items()},
    )
