"""The parts of a design as they have to be fetched: value, tolerance and family of each."""

from __future__ import annotations

from dataclasses import dataclass

from lowfold.core.weighing.choice import Judged

__all__ = ["BillLine", "bill_of"]


@dataclass(frozen=True, slots=True)
class BillLine:
    """One part of a network, as it is bought."""

    ref: str
    ohms: float  #: nominal, Ω
    tolerance: float  #: half width, a fraction
    family: str  #: its name; empty where none is stated
    rated_watts: float | None  #: None where no family is stated


def bill_of(judged: Judged) -> tuple[BillLine, ...]:
    """Return what has to be fetched for a network, in the order it is written."""
    parts = judged.parts
    own = {o.ref.casefold(): o for o in parts.own}
    found = []
    for branch in judged.circuit.branches:
        other = own.get(branch.ref.casefold())
        tolerance = other.tolerance if other else None
        family = (other.family if other else None) or (parts.family if parts.rated else None)
        found.append(
            BillLine(
                branch.ref,
                branch.ohms,
                parts.tolerance if tolerance is None else tolerance,
                family.name if family else "",
                family.rated_watts if family else None,
            )
        )
    return tuple(found)
