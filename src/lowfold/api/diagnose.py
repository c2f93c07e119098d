"""POST /api/bench/diagnose: from readings to the fault, and what to measure next."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from fastapi import APIRouter
from pydantic import Field, model_validator

from lowfold.api.check import read_question
from lowfold.api.computing import ComputedRoute, quick, reported
from lowfold.api.expect import BuiltAsk, box_of
from lowfold.api.meters import meter_of
from lowfold.api.points import PointAsk
from lowfold.api.priors import OwnPriors
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep, MetersDep, PriorsDep
from lowfold.core.bench.points import point_named
from lowfold.core.bench.priors import priors_with
from lowfold.core.bench.readings import Taken
from lowfold.core.errors import LowfoldError
from lowfold.views.diagnosis import (
    DiagnoseAnswer,
    Given,
    diagnosed,
)

__all__ = ["router"]

router = APIRouter(prefix="/api/bench", tags=["bench"], route_class=ComputedRoute)

MOST_READINGS = 60


class ReadingAsk(PointAsk):
    """A reading: where, and what."""

    value: Annotated[float, Field(ge=-1e15, le=1e15)] | None = Field(
        None, description="In SI; null over range"
    )
    overload: bool = False

    @model_validator(mode="after")
    def _read(self) -> Self:
        if (self.value is None) != self.overload:
            msg = "a reading has a value, or overload: true and value: null"
            raise ValueError(msg)
        if self.kind == "resistance" and (self.value or 0.0) < 0:
            msg = "a resistance is not negative: power off, and zero the leads"
            raise ValueError(msg)
        return self


class DiagnoseAsk(BuiltAsk):
    """A network with a range for everything in it, a meter, and what it read."""

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "network": "R1=360k + @OUT + R2=180k",
                    "supply": {"v": 14.4},
                    "parts": {"default": {"tolerance": "1 %"}},
                    "readings": [{"kind": "voltage", "at": "OUT", "value": 14.2}],
                }
            ]
        }
    }

    readings: list[ReadingAsk] = Field(min_length=1, max_length=MOST_READINGS)
    most_at_once: Literal[1, 2] = 1
    limit: Annotated[int, Field(ge=1, le=500, strict=True)] = 12
    priors: OwnPriors = {}


@router.post(
    "/diagnose", openapi_extra=quick(6000, {"most_at_once": 2}), responses=responses(422, 503)
)
def diagnose_readings(
    ask: DiagnoseAsk, families: FamiliesDep, meters: MetersDep, priors: PriorsDep
) -> DiagnoseAnswer:
    """Tell what may be wrong with a board, how probable it is, and which point tells most next."""
    question = read_question(ask, families)
    circuit = question.circuit
    box = box_of(ask, question)
    readings = []
    for place, asked in enumerate(ask.readings):
        try:
            point = point_named(circuit, **asked.named)
        except LowfoldError as error:
            raise type(error)(error.message, field=f"readings.{place}") from error
        taken = Taken("", asked.value, asked.overload)
        readings.append(Given(point, taken, asked.named, asked.range_full))
    return diagnosed(
        box,
        readings,
        meter_of(ask.meter, meters),
        priors_with({str(k): v for k, v in ask.priors.items()}, priors),
        powered=bool(box.supply.volts),
        most_at_once=ask.most_at_once,
        limit=ask.limit,
        progress=reported(),
    )
