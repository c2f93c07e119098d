"""Which wires of a drawing are at one potential: those that meet without a part between them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

__all__ = ["Wire", "with_nets"]

TOUCHING = 0.01  #: CSS pixels that rounding may leave between wires that meet


@dataclass(frozen=True, slots=True)
class Wire:
    """A straight line between two points; those of schematics are level or upright."""

    x1: float
    y1: float
    x2: float
    y2: float
    net: int | None = None  #: the junction it is at; None through a supply's symbol

    def holds(self, x: float, y: float) -> bool:
        """Return whether a point lies on it."""
        across = min(self.x1, self.x2) - TOUCHING <= x <= max(self.x1, self.x2) + TOUCHING
        return across and min(self.y1, self.y2) - TOUCHING <= y <= max(self.y1, self.y2) + TOUCHING

    def meets(self, other: Wire) -> bool:
        """Return whether an end of one lies on the other."""
        return (
            other.holds(self.x1, self.y1)
            or other.holds(self.x2, self.y2)
            or self.holds(other.x1, other.y1)
            or self.holds(other.x2, other.y2)
        )


def with_nets(wires: Sequence[Wire], supply_x: float | None) -> tuple[Wire, ...]:
    """Return the wires with the junction each is at, numbered in the order they are drawn.

    Parameters
    ----------
    wires : sequence of Wire
    supply_x : float, optional
        Where the supply's symbol stands: the wire through it joins nothing.
    """
    own: list[int | None] = []
    for place, wire in enumerate(wires):
        if supply_x is not None and wire.x1 == wire.x2 == supply_x:
            own.append(None)
            continue
        own.append(place)
        met = {
            n for k, n in enumerate(own[:-1]) if n is not None and wire.meets(wires[k])
        }  # fmt: skip
        first = min(met, default=place)
        own = [first if n in met or n == place else n for n in own]
    order = {n: k for k, n in enumerate(sorted({n for n in own if n is not None}))}
    return tuple(
        replace(wire, net=None if n is None else order[n])
        for wire, n in zip(wires, own, strict=True)
    )
