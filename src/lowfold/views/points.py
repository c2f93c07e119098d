"""A point of measurement as it is seen: as a request names it, and in words."""

from __future__ import annotations

from typing import Literal, Required, TypedDict

from lowfold.core.bench.points import THE_SUPPLY, Kind, Point, name_of
from lowfold.core.network.circuit import Circuit
from lowfold.views.view import view

__all__ = ["Named", "PointTold", "named_point"]


class Named(TypedDict, total=False):
    """A point by the names of what is there, as a request has it."""

    kind: Required[Kind]
    at: str
    against: str
    across: str
    through: str
    part: str


@view
class PointTold:
    """A point as a request has it, and in words."""

    kind: Literal["voltage", "current", "resistance"]
    at: str | None = None
    against: str | None = None
    across: str | None = None
    through: str | None = None
    part: str | None = None
    words: str


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
