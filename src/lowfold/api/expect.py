"""POST /api/bench/expect: what a meter should say, point by point."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.check import BoxAsk, Question, read_question
from lowfold.api.computing import ComputedRoute, reported
from lowfold.api.fields import Answer, Ask, Ohms, Tolerance
from lowfold.api.meters import Meter, meter_of
from lowfold.api.networks import CautionAnswer
from lowfold.api.points import PointAsk, PointTold
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.core.bench.expect import MOST_POINTS, Expected, built, expect_all, shown_on
from lowfold.core.bench.handling import handling
from lowfold.core.bench.points import (
    THE_SUPPLY,
    Point,
    careful_round,
    name_of,
    point_named,
    words_of,
)
from lowfold.core.errors import LowfoldError
from lowfold.core.network.circuit import Circuit
from lowfold.core.tolerance.box import Box

__all__ = [
    "BuiltAsk",
    "PointAnswer",
    "box_of",
    "point_answer",
    "point_of",
    "router",
    "told",
]

router = APIRouter(prefix="/api/bench", tags=["bench"], route_class=ComputedRoute)


def point_of(asked: PointAsk, circuit: Circuit) -> Point:
    """Return where a request measures."""
    names = ("at", "against", "across", "through", "part")
    return point_named(circuit, asked.kind, **{n: getattr(asked, n) for n in names})


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


class PointAnswer(PointTold):
    """What the meter should say at a point; the point as it was asked for, or as it can be."""

    expected: float | None = Field(description="With the meter connected; null: nothing joins it")
    lowest: float | None = Field(description="Exact over the box, with the limit of error")
    highest: float | None
    ideal: float | None = Field(description="Without the meter")
    loading: float | None = Field(description="expected / ideal − 1")
    range_full: float | None = Field(description="null for a meter without ranges")
    resolution: float | None
    shows: str = Field(description="As the display has it")
    jack: str | None
    overload: bool
    cautions: list[CautionAnswer]
    unsearched: str = Field("", description="Why the ends could not be worked out at this point")


class ExpectAnswer(Answer):
    meter: str
    points: list[PointAnswer]


def told(circuit: Circuit, point: Point) -> dict[str, Any]:
    """Return a point as a request has it."""
    if point.supply:
        return {"kind": "current", "through": THE_SUPPLY}
    if point.part is not None:
        key = "through" if point.kind == "current" else "part"
        return {"kind": point.kind, key: circuit.branches[point.part].ref}
    at, against = name_of(circuit, point.at), name_of(circuit, point.against)
    return {"kind": point.kind, "at": at, "against": against}


def point_answer(
    circuit: Circuit, point: Point, found: Expected | LowfoldError, asked: dict[str, Any]
) -> PointAnswer:
    """Return what is expected at a point, or why that could not be worked out."""
    words = words_of(circuit, point)
    if isinstance(found, LowfoldError):
        return PointAnswer(**asked, **_UNSEARCHED, words=words, unsearched=found.message)
    span, chosen = found.span, found.range
    return PointAnswer(
        **asked,
        words=words,
        expected=None if span is None else span.nominal,
        lowest=found.low,
        highest=found.high,
        ideal=found.ideal,
        loading=found.loading,
        range_full=chosen.full if chosen else None,
        resolution=chosen.resolution if chosen else None,
        shows=shown_on(found),
        jack=chosen.jack if chosen and chosen.jack else None,
        overload=found.overload,
        cautions=[CautionAnswer.model_validate(c) for c in handling(found)],
    )


_UNSEARCHED: dict[str, Any] = {
    **dict.fromkeys(
        ("expected", "lowest", "highest", "ideal", "loading", "range_full", "resolution", "jack")
    ),
    "shows": "", "overload": False, "cautions": [],
}  # fmt: skip


@router.post("/expect", responses=responses(422, 503))
def expect(ask: ExpectAsk, families: FamiliesDep) -> ExpectAnswer:
    """Tell what a meter should say: with it connected, without, and the exact ends of both."""
    question = read_question(ask, families)
    circuit = question.circuit
    box = box_of(ask, question)
    meter = meter_of(ask.meter)
    asked: list[dict[str, Any]] = []
    points: list[Point] = []
    if ask.points is None:
        points = list(careful_round(box))
        asked = [told(circuit, point) for point in points]
    for place, point in enumerate(ask.points or []):
        try:
            points.append(point_of(point, circuit))
        except LowfoldError as error:
            raise type(error)(error.message, field=f"points.{place}") from error
        asked.append(point.model_dump(exclude={"range_full"}, exclude_none=True))
    forced = [p.range_full for p in ask.points] if ask.points else [None] * len(points)
    found = expect_all(box, points, meter, forced, progress=reported())
    every = zip(points, found, asked, strict=True)
    answers = [point_answer(circuit, point, each, asked_for) for point, each, asked_for in every]
    return ExpectAnswer(meter=meter.name, points=answers)
