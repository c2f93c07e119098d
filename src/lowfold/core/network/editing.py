"""Edit a network part by part: change one, put one in series or in parallel, take one out."""

from __future__ import annotations

import itertools
from dataclasses import replace
from typing import Literal

from lowfold.core.errors import TopologyError
from lowfold.core.network.circuit import GROUND, SUPPLY, build_circuit, junctions
from lowfold.core.network.notation import Netlist, NetlistLine
from lowfold.core.network.tree import (
    Chain,
    Element,
    Group,
    Part,
    Switch,
    Tap,
    chain,
    group,
    number_parts,
    parts_of,
    write_network,
)
from lowfold.core.values.quantities import write_code

__all__ = ["Action", "as_netlist", "edit", "put_in_place", "with_source", "write_netlist"]

Action = Literal["change", "series", "parallel", "remove"]


def edit(network: Element | Netlist, ref: str, action: Action, ohms: float | None = None) -> str:
    """Return the network's text with the part `ref` edited; new parts get fresh names.

    Parameters
    ----------
    ohms : float, optional
        Ω of the changed or the added part; not needed to take one out.
    ref : str
        Designator of the part.
    action : Action
        What is done at the part.

    Raises
    ------
    TopologyError
        If there is no such part, a value is missing, or nothing would be left.
    """
    if action != "remove" and ohms is None:
        msg = "a value is needed, for instance 4k7"
        raise TopologyError(msg, field="ohm")
    if isinstance(network, Netlist):
        return write_netlist(_edited_lines(network, ref, action, ohms or 0.0))
    known = [p.ref for p in parts_of(network) if isinstance(p, Part)]
    if ref.casefold() not in {k.casefold() for k in known}:
        raise _missing(ref, known)
    found = _edited(network, ref.casefold(), action, ohms or 0.0)
    if found is None:
        msg = f"{ref} is all there is: change it instead"
        raise TopologyError(msg, field="ref")
    return write_network(number_parts(found))


def put_in_place(network: Element, ref: str, instead: Element) -> Element:
    """Return the network with the part `ref` replaced by a network of unnamed parts, numbered.

    The other parts keep their names.

    Parameters
    ----------
    ref : str
        Designator of the part.
    instead : Element
        What stands there afterwards.
    """
    return number_parts(_put(network, ref.casefold(), instead))


def _put(item: Element, ref: str, instead: Element) -> Element:
    if isinstance(item, Part | Switch):
        return instead if isinstance(item, Part) and item.ref.casefold() == ref else item
    if isinstance(item, Chain):
        return chain([i if isinstance(i, Tap) else _put(i, ref, instead) for i in item.items])
    return group([_put(b, ref, instead) for b in item.branches])


def _missing(ref: str, known: list[str]) -> TopologyError:
    msg = f"there is no part called “{ref}” to edit; there are: {', '.join(known)}"
    return TopologyError(msg, field="ref")


def _edited(item: Element, ref: str, action: Action, ohms: float) -> Element | None:
    """Return the piece with the part edited; None where nothing of it is left."""
    if isinstance(item, Part | Switch):
        found = isinstance(item, Part) and item.ref.casefold() == ref
        return _made_of(item, action, ohms) if found else item
    if isinstance(item, Chain):
        inner = [i if isinstance(i, Tap) else _edited(i, ref, action, ohms) for i in item.items]
        kept = [i for i in inner if i is not None]
        return chain(kept) if any(not isinstance(i, Tap) for i in kept) else None
    branches = [b for b in (_edited(b, ref, action, ohms) for b in item.branches) if b is not None]
    return group(branches) if branches else None


def _made_of(part: Part | Switch, action: Action, ohms: float) -> Element | None:
    """Return what an edit makes of the part it is about."""
    if action == "remove":
        return None
    if action == "change":
        return Part(ohms, part.ref)
    return chain([part, Part(ohms)]) if action == "series" else group([part, Part(ohms)])


def _edited_lines(netlist: Netlist, ref: str, action: Action, ohms: float) -> Netlist:
    lines = list(netlist.lines)
    place = next((k for k, x in enumerate(lines) if x.ref.casefold() == ref.casefold()), None)
    if place is None or lines[place].ohms is None:
        raise _missing(ref, [x.ref for x in lines if x.ohms is not None])
    line = lines[place]
    used = {x.ref.casefold() for x in lines}
    fresh = next(f"R{k}" for k in itertools.count(1) if f"r{k}" not in used)
    if action == "change":
        lines[place] = replace(line, ohms=ohms)
    elif action == "parallel":
        lines.insert(place + 1, NetlistLine(fresh, line.a, line.b, ohms))
    elif action == "series":
        nodes = {n.casefold() for x in lines for n in (x.a, x.b)}
        node = next(f"n{k}" for k in itertools.count(1) if f"n{k}" not in nodes)
        lines[place] = replace(line, b=node)
        lines.insert(place + 1, NetlistLine(fresh, node, line.b, ohms))
    else:
        del lines[place]
        if not lines:
            msg = f"{ref} is all there is: change it instead"
            raise TopologyError(msg, field="ref")
    return Netlist(tuple(lines))


def write_netlist(netlist: Netlist) -> str:
    """Write a netlist, one part a line.

    Parameters
    ----------
    netlist : Netlist
        One part a line.
    """
    return "\n".join(
        f"{x.ref} {x.a} {x.b}" + ("" if x.ohms is None else f" {write_code(x.ohms)}")
        for x in netlist.lines
    )


def as_netlist(network: Element | Netlist) -> Netlist:
    """Return a network as a netlist: its junctions by their names, else n1, n2 … in order.

    Switches stay as they are: each between the junctions that it joins.

    Parameters
    ----------
    network : Element or Netlist
        A netlist is returned as it is.
    """
    if isinstance(network, Netlist):
        return network
    # A switch is laid out as a part, so that it keeps its two junctions.
    switches = {s.ref for s in parts_of(network) if isinstance(s, Switch)}
    circuit = build_circuit(_as_parts(network))
    called = {node: name for name, node in junctions(circuit).items()}
    ends = {GROUND: "0", SUPPLY: "in"}
    return Netlist(
        tuple(
            NetlistLine(
                b.ref,
                ends.get(b.a, called.get(b.a, "")),
                ends.get(b.b, called.get(b.b, "")),
                None if b.ref in switches else b.ohms,
            )
            for b in circuit.branches
        )
    )


def _as_parts(item: Element) -> Element:
    """Return a network in which each switch is a part of no matter which value."""
    if isinstance(item, Switch):
        return Part(1.0, item.ref)
    if isinstance(item, Group):
        return group([_as_parts(branch) for branch in item.branches])
    if isinstance(item, Chain):
        return chain([i if isinstance(i, Tap) else _as_parts(i) for i in item.items])
    return item


def with_source(network: Element | Netlist, ohms: float) -> tuple[Element | Netlist, str, str]:
    """Return a network with the resistance inside its supply as its first part.

    Its designator and the name of the supply's terminal, between it and the network, come with it;
    both are free in the network.

    Parameters
    ----------
    ohms : float
        Ω inside the supply, above 0.
    """
    if isinstance(network, Netlist):
        refs = {line.ref.casefold() for line in network.lines}
        names = {n.casefold() for line in network.lines for n in (line.a, line.b)}
    else:
        refs = {p.ref.casefold() for p in parts_of(network) if isinstance(p, Part | Switch)}
        names = {p.name.casefold() for p in parts_of(network) if isinstance(p, Tap)}
    ref = next(r for k in itertools.count() if (r := f"R{'I' * (k > 0)}{k}").casefold() not in refs)
    terminal = next(n for k in itertools.count() if (n := f"TERM{k or ''}").casefold() not in names)
    if not isinstance(network, Netlist):
        inner = network.items if isinstance(network, Chain) else (network,)
        return chain([Part(ohms, ref), Tap(terminal), *inner]), ref, terminal

    def moved(node: str) -> str:
        return terminal if node.casefold() == "in" else node

    lines = tuple(replace(line, a=moved(line.a), b=moved(line.b)) for line in network.lines)
    return Netlist((NetlistLine(ref, "in", terminal, ohms), *lines)), ref, terminal
