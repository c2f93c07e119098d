"""Where the leads go in a drawing: one place for each junction of its circuit."""

from __future__ import annotations

from collections.abc import Collection

from lowfold.core.drawing.schematic import Drawing
from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit

__all__ = ["lead_places", "nets_at"]


def lead_places(
    circuit: Circuit, drawing: Drawing, closed: Collection[str] = ()
) -> dict[int, tuple[float, float]]:
    """Return where a lead is put for each node that is drawn, in the drawing's units.

    The wires of a drawing know which of them meet; from the supply's ends on, each part tells which
    node its other end is.

    Parameters
    ----------
    drawing : Drawing
        Of this circuit, not folded.
    closed : collection of str
        Switches that conduct: what lies on both sides is one node.
    """
    nets = nets_at(circuit, drawing, closed)
    places = {node: _place(drawing, found) for node, found in nets.items()}
    for mark in drawing.grounds:
        if mark.name:
            places[GROUND] = (mark.x, mark.y)
    return {node: place for node, place in places.items() if place is not None}


def nets_at(
    circuit: Circuit, drawing: Drawing, closed: Collection[str] = ()
) -> dict[int, set[int]]:
    """Return the nets of an upright drawing that are at each node.

    Parameters
    ----------
    drawing : Drawing
        Of this circuit, not folded.
    closed : collection of str
        Switches that conduct: what lies on both sides is one node.
    """
    half = drawing.symbol / 2
    ends = {p.name.casefold(): (p.x, p.y) for p in drawing.parts}

    def net_at(x: float, y: float) -> int | None:
        return next((w.net for w in drawing.wires if w.net is not None and w.holds(x, y)), None)

    sides = {name: (net_at(x, y - half), net_at(x, y + half)) for name, (x, y) in ends.items()}
    shut = [sides[name.casefold()] for name in closed if name.casefold() in sides]
    nets: dict[int, set[int]] = {}

    def learn(node: int, net: int | None) -> None:
        found = {net} if net is not None else set()
        for a, b in shut:
            if a in found or b in found:
                found |= {n for n in (a, b) if n is not None}
        nets.setdefault(node, set()).update(found)

    learn(SUPPLY, net_at(0.0, 0.0))
    learn(circuit.low, net_at(0.0, drawing.height))
    left = [b for b in circuit.branches if b.ref.casefold() in sides]
    moved = True
    while left and moved:
        moved = False
        for branch in [*left]:
            pair = set(sides[branch.ref.casefold()])
            for here, there in ((branch.a, branch.b), (branch.b, branch.a)):
                known = pair & nets.get(here, set())
                if known:
                    for other in pair - known or known:
                        learn(there, other)
                    left.remove(branch)
                    moved = True
                    break
    return nets


def _place(drawing: Drawing, nets: set[int]) -> tuple[float, float] | None:
    """Return a dot of a junction, else the middle of its longest wire."""
    wires = [w for w in drawing.wires if w.net in nets]
    if not wires:
        return None
    named = [d for d in drawing.dots if d.name and any(w.holds(d.x, d.y) for w in wires)]
    dots = named or [d for d in drawing.dots if any(w.holds(d.x, d.y) for w in wires)]
    if dots:
        return dots[0].x, dots[0].y
    longest = max(wires, key=lambda w: abs(w.x2 - w.x1) + abs(w.y2 - w.y1))
    return (longest.x1 + longest.x2) / 2, (longest.y1 + longest.y2) / 2
