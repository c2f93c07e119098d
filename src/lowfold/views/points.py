"""A point of measurement by the names of what is there."""

from __future__ import annotations

from lowfold.core.bench.points import THE_SUPPLY, Point, name_of
from lowfold.core.network.circuit import Circuit
from lowfold.views.point import Named

__all__ = ["named_point"]


def named_point(circuit: Circuit, point: Point) -> Named:
    """Return a point as a request has it."""
    if point.supply:
        return {"kind": "current", "through": THE_SUPPLY}
    if point.part is not None:
        ref = circuit.branches[point.part].ref
        if point.kind == "current":
            return {"kind": point.kind, "through": ref}
        return {"kind": point.kind, "part": ref}
    at, against = name_of(circuit, point.at), name_of(circuit, point.against)
    return {"kind": point.kind, "at": at, "against": against}
