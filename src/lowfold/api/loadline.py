"""POST /api/network/load: an output against its load, and which loads pass."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from fastapi import APIRouter
from pydantic import Field

from lowfold.api.check import CheckAsk, read_question
from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import PositiveAmps
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.core.bench.meters import readings
from lowfold.core.errors import DomainError
from lowfold.core.tolerance.loadline import load_line
from lowfold.views.loadline import (
    LinePoints,
    LoadLineAnswer,
    MeterAnswer,
    OutputLoad,
    PassingAnswer,
    _finite,
)

__all__ = ["router"]

router = APIRouter(prefix="/api/network", tags=["network"], route_class=ComputedRoute)

MOST_POINTS = 1000


class LoadLineAsk(CheckAsk):
    """A check request; what hangs at an output is varied, loads elsewhere are as given."""

    points: Annotated[int, Field(ge=2, le=MOST_POINTS, strict=True)] = 41
    most_a: PositiveAmps | None = Field(
        None, description="Heaviest load current of the line; default: a short, or 1 A"
    )


@router.post("/load", responses=responses(422, 503))
def load(ask: LoadLineAsk, families: FamiliesDep) -> LoadLineAnswer:
    """Tell how each output moves from no load to the heaviest, and which loads pass."""
    if not ask.outputs:
        msg = "nothing is asked for: give outputs, for instance [{“at”: “OUT”}]"
        raise DomainError(msg, field="outputs")
    question = read_question(ask, families)
    box = question.box(ask.environment.to_core())
    found = []
    for output in ask.outputs:
        node = question.circuit.node(output.at, field="outputs")
        line = load_line(box, node)
        most = ask.most_a or (line.short_amps if 0 < line.short_amps < np.inf else 1.0)
        amps = np.linspace(0.0, most, ask.points)
        lowest, highest = line.extremes(amps)
        passes = worst = None
        if output.target_v is not None and output.allowed is not None:
            half = abs(output.target_v) * output.allowed
            window = (output.target_v - half, output.target_v + half)
            passes, worst = line.passing(*window), line.passing_at_worst(*window)
        volts, behind = line.connected([r.load for r in box.loads if r.load.at == node])
        found.append(
            OutputLoad(
                at=output.at,
                open_v=line.open_volts,
                source_ohm=line.source_ohms,
                short_a=_finite(line.short_amps),
                line=LinePoints(
                    load_a=amps.tolist(),
                    nominal_v=line.volts(amps).tolist(),
                    lowest_v=lowest.tolist(),
                    highest_v=highest.tolist(),
                ),
                passes=PassingAnswer.from_core(passes),
                passes_at_worst=PassingAnswer.from_core(worst),
                exact=line.proven,
                meters=[
                    MeterAnswer(meter=m.meter, ohm=m.ohms, reads_v=m.volts, off=m.off)
                    for m in readings(volts, behind)
                ],
            )
        )
    return LoadLineAnswer(outputs=found)
