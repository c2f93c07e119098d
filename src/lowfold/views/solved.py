"""A network solved, as it is seen."""

from __future__ import annotations

import math
from typing import Literal

from lowfold.core.checking.cautions import Caution
from lowfold.core.folding.fold import Fold
from lowfold.core.network.circuit import Circuit, junctions
from lowfold.core.solving.balance import Balance
from lowfold.core.solving.solution import PartState
from lowfold.views.view import view

__all__ = ["FoldStepAnswer", "SolveAnswer", "finite", "inner", "part_answer"]


@view
class PartAnswer:
    ref: str
    ohm: float
    voltage_v: float
    current_a: float
    power_w: float


@view
class FoldStepAnswer:
    """One step of the reduction to one resistance."""

    kind: Literal["series", "parallel", "star-delta"]
    members: list[str]
    result: str | list[str]  #: A fresh designator; of a star-delta, a list
    result_ohm: float | list[float]
    remains: str  #: The network after the step, in the notation or as a netlist

    @classmethod
    def from_core(cls, step: Fold) -> FoldStepAnswer:
        refs, ohms = [e.ref for e in step.results], [e.ohms for e in step.results]
        several = step.kind == "star-delta"
        return cls(
            kind=step.kind,
            members=[e.ref for e in step.members],
            result=refs if several else refs[0],
            result_ohm=ohms if several else ohms[0],
            remains=step.remains,
        )


@view
class SolveAnswer:
    #: Between the supply's ends, resistive loads connected; null where open
    total_ohm: float | None
    supply_a: float
    terminal_v: float
    supply_w: float
    parts: list[PartAnswer]
    nodes: dict[str, float | None]  #: By tap or node; null where undefined
    #: The reduction with resistive loads as parts L1, L2 …; the last step leaves one resistance,
    #: total_ohm
    folds: list[FoldStepAnswer]
    #: Why there are no folds where there should be: too many steps to write out
    folds_left_out: str | None
    idle: list[str]  #: Parts that carry no current whatever the supply
    checks: list[Balance]
    cautions: list[Caution]
    caution: str | None  #: Set where a current load does not get its current


def part_answer(found: PartState) -> PartAnswer:
    """Return what a part carries."""
    return PartAnswer(
        ref=found.ref,
        ohm=found.ohms,
        voltage_v=found.volts,
        current_a=found.amps,
        power_w=found.watts,
    )


def finite(value: float) -> float | None:
    """Return a figure, or None where it has no end."""
    return value if math.isfinite(value) else None


def inner(circuit: Circuit) -> dict[str, int]:
    """Return junctions by name, the supply's ends only where the user names them."""
    found = junctions(circuit)
    return {n: k for n, k in found.items() if n in circuit.names or k not in circuit.ends}
