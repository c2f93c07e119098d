"""POST /api/bench/expect: what a meter should say, point by point."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.check import BoxAsk, Question, read_question
from lowfold.api.computing import ComputedRoute, quick, reported
from lowfold.api.fields import Ask, Ohms, Tolerance
from lowfold.api.meters import Meter, meter_of
from lowfold.api.points import PointAsk
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep, MetersDep
from lowfold.core.bench.expect import MOST_POINTS, built, expect_all
from lowfold.core.bench.points import (
    Point,
    careful_round,
    point_named,
)
from lowfold.core.errors import LowfoldError
from lowfold.core.tolerance.box import Box
from lowfold.views.expected import ExpectAnswer, point_answer
from lowfold.views.point import Named
from lowfold.views.points import named_point

__all__ = ["BuiltAsk", "box_of", "router"]

router = APIRouter(prefix="/api/bench", tags=["bench"], route_class=ComputedRoute)


class AsBuiltAsk(Ask):
    """A part as it was measured."""

    ohm: Ohms
    uncertainty: Tolerance = Field(0.0, description="Half width, a fraction")


class BuiltAsk(BoxAsk):
    """A network with a range for everything in it, some of it measured, and a meter."""

    meter: Meter | None = Field(None, description="Default the handheld")
    as_built: dict[str, AsBuiltAsk] = Field(default_factory=dict, max_length=400)


def box_of(ask: BuiltAsk, question: Question) -> Box:
    """Return what varies, with measured parts in place of nominal ones."""
    measured = {}
    for ref, part in ask.as_built.items():
        try:
            measured[question.circuit.branch(ref)] = (part.ohm, part.uncertainty)
        except LowfoldError as error:
            raise type(error)(error.message, field=f"as_built.{ref}") from error
    return built(question.box(ask.environment.to_core()), measured)


class ExpectAsk(BuiltAsk):
    """A network with a range for everything in it, a meter, and where it is put."""

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "network": "R1=360k + @OUT + R2=180k",
                    "supply": {"v": 14.4, "tolerance": "3 %"},
                    "parts": {"default": {"tolerance": "1 %"}},
                    "points": [{"kind": "voltage", "at": "OUT"}],
                }
            ]
        }
    }

    points: list[PointAsk] | None = Field(
        None,
        min_length=1,
        max_length=MOST_POINTS,
        description="Not given: what a careful person measures, in that order",
    )


@router.post("/expect", openapi_extra=quick(1500), responses=responses(422, 503))
def expect(ask: ExpectAsk, families: FamiliesDep, meters: MetersDep) -> ExpectAnswer:
    """Tell what a meter should say: with it connected, without, and the exact ends of both."""
    question = read_question(ask, families)
    circuit = question.circuit
    box = box_of(ask, question)
    meter = meter_of(ask.meter, meters)
    asked: list[Named] = []
    points: list[Point] = []
    if ask.points is None:
        points = list(careful_round(box))
        asked = [named_point(circuit, point) for point in points]
    for place, point in enumerate(ask.points or []):
        try:
            points.append(point_named(circuit, **point.named))
        except LowfoldError as error:
            raise type(error)(error.message, field=f"points.{place}") from error
        asked.append(point.named)
    forced = [p.range_full for p in ask.points] if ask.points else [None] * len(points)
    found = expect_all(box, points, meter, forced, progress=reported())
    every = zip(points, found, asked, strict=True)
    answers = [point_answer(circuit, point, each, asked_for) for point, each, asked_for in every]
    return ExpectAnswer(meter=meter.name, points=answers)
