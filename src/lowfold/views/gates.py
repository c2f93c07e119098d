"""Gates as they are seen."""

from __future__ import annotations

from typing import Literal

from lowfold.core.checking.verdict import Verdict
from lowfold.core.values.quantities import FRACTION, WATT, write
from lowfold.core.weighing.gate import Gate
from lowfold.views.figures import Figure, figure, signed
from lowfold.views.view import view

__all__ = ["MOST_USED", "GateAnswer", "gate_answer"]
MOST_USED = 1e9  #: what is told where nothing is allowed: JSON knows no infinity


@view
class GateAnswer:
    name: Literal["value", "spread", "load", "power"]
    verdict: Verdict | None
    figure: Figure | None
    of: str
    used: float | None  #: Share of the allowance used; may exceed 1 (1e9 where nothing is allowed)
    margin: str  #: What is left of the allowance, or by how much it is exceeded
    notes: list[str]


def gate_answer(gate: Gate) -> GateAnswer:
    """Return a gate as the page shows it."""
    shown: Figure | None
    if gate.figure is None:
        shown, of = None, ""
    elif gate.kind is FRACTION:
        shown = signed(gate.figure)
        of = gate.of
        if gate.name in {"value", "spread"} and gate.allowed is not None:
            of = f"of ± {write(gate.allowed, FRACTION, 3, trim=True)}"
    else:
        shown = figure(gate.figure, gate.kind, 3)
        allowed = write(gate.allowed, gate.kind, 3, trim=True) if gate.allowed is not None else ""
        of = f"of {allowed}" if gate.kind is WATT else f"of {allowed} {gate.of}"
    return GateAnswer(
        name=gate.name,
        verdict=gate.verdict,
        figure=shown,
        of=of,
        used=None if gate.used is None else min(gate.used, MOST_USED),
        margin=gate.margin,
        notes=list(gate.notes),
    )
