"""POST /api/bench/expect: what a meter should say, point by point."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Self

from fastapi import APIRouter
from pydantic import Field, model_validator

from lowfold.api.check import BoxAsk, read_question
from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import Answer, Ask, Ohms, Tolerance
from lowfold.api.meters import Meter, meter_of
from lowfold.api.networks import CautionAnswer
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.core.bench.expect import MOST_POINTS, Expected, built, expect_all, shown_on
from lowfold.core.bench.handling import handling
from lowfold.core.bench.points import THE_SUPPLY, Point, careful_round, name_of, words_of
from lowfold.core.errors import LowfoldError
from lowfold.core.network.circuit import GROUND, Circuit, junctions

__all__ = ["router"]

router = APIRouter(prefix="/api/bench", tags=["bench"], route_class=ComputedRoute)

Name = Annotated[str, Field(min_length=1, max_length=80)]


class PointAsk(Ask):
    """Where and what is measured."""

    kind: Literal["voltage", "current", "resistance"]
    at: Name | None = Field(None, description="A junction")
    against: Name | None = Field(None, description="The other lead's; 0 unless said")
    across: Name | None = Field(None, description="A part's own two ends, the first one positive")
    through: Name | None = Field(None, description="A part, or `supply`")
    part: Name | None = Field(None, description="Lifted out")
    range_full: Annotated[float, Field(gt=0, le=1e12)] | None = Field(
        None, description="The range to be read on; not given, the smallest that holds it"
    )

    @model_validator(mode="after")
    def _of_its_kind(self) -> Self:
        wanted = {
            "voltage": [{"at"}, {"at", "against"}, {"across"}],
            "current": [{"through"}],
            "resistance": [{"part"}, {"at"}, {"at", "against"}],
        }[self.kind]
        names = ("at", "against", "across", "through", "part")
        given = {name for name in names if getattr(self, name) is not None}
        if given not in wanted:
            ways = " or ".join(" and ".join(sorted(way, reverse=True)) for way in wanted)
            msg = f"a {self.kind} is told by {ways}; given: {', '.join(sorted(given)) or 'none'}"
            raise ValueError(msg)
        return self

    def to_core(self, circuit: Circuit) -> Point:
        if self.kind == "current":
            if str(self.through).strip().casefold() == THE_SUPPLY:
                return Point("current", supply=True)
            return Point("current", part=circuit.branch(self.through or ""))
        if self.part is not None:
            return Point("resistance", part=circuit.branch(self.part))
        if self.across is not None:
            branch = circuit.branches[circuit.branch(self.across)]
            return Point("voltage", at=branch.a, against=branch.b)
        named = Circuit(circuit.branches, circuit.nodes, junctions(circuit))
        against = GROUND if self.against is None else named.node(self.against)
        return Point(self.kind, at=named.node(self.at or ""), against=against)


class AsBuiltAsk(Ask):
    """A part as it was measured."""

    ohm: Ohms
    uncertainty: Tolerance = Field(0.0, description="Half width, a fraction")


class ExpectAsk(BoxAsk):
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

    meter: Meter | None = Field(None, description="Default the handheld")
    points: list[PointAsk] | None = Field(
        None,
        min_length=1,
        max_length=MOST_POINTS,
        description="Not given: what a careful person measures, in that order",
    )
    as_built: dict[str, AsBuiltAsk] = Field(default_factory=dict, max_length=400)


class PointAnswer(Answer):
    """What the meter should say at a point; the point as it was asked for, or as it can be."""

    kind: Literal["voltage", "current", "resistance"]
    at: str | None = None
    against: str | None = None
    across: str | None = None
    through: str | None = None
    part: str | None = None
    words: str
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


class ExpectAnswer(Answer):
    meter: str
    points: list[PointAnswer]


def _told(circuit: Circuit, point: Point) -> dict[str, Any]:
    """Return a point as a request has it."""
    if point.supply:
        return {"kind": "current", "through": THE_SUPPLY}
    if point.part is not None:
        key = "through" if point.kind == "current" else "part"
        return {"kind": point.kind, key: circuit.branches[point.part].ref}
    at, against = name_of(circuit, point.at), name_of(circuit, point.against)
    return {"kind": point.kind, "at": at, "against": against}


def _answer(circuit: Circuit, found: Expected, told: dict[str, Any]) -> PointAnswer:
    span, chosen = found.span, found.range
    return PointAnswer(
        **told,
        words=words_of(circuit, found.point),
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


@router.post("/expect", responses=responses(422, 503))
def expect(ask: ExpectAsk, families: FamiliesDep) -> ExpectAnswer:
    """Tell what a meter should say: with it connected, without, and the exact ends of both."""
    question = read_question(ask, families)
    circuit = question.circuit
    measured = {}
    for ref, part in ask.as_built.items():
        try:
            measured[circuit.branch(ref)] = (part.ohm, part.uncertainty)
        except LowfoldError as error:
            raise type(error)(error.message, field=f"as_built.{ref}") from error
    box = built(question.box(ask.environment.to_core()), measured)
    meter = meter_of(ask.meter)
    asked: list[dict[str, Any]] = []
    points: list[Point] = []
    if ask.points is None:
        points = list(careful_round(box))
        asked = [_told(circuit, point) for point in points]
    for place, point in enumerate(ask.points or []):
        try:
            points.append(point.to_core(circuit))
        except LowfoldError as error:
            raise type(error)(error.message, field=f"points.{place}") from error
        asked.append(point.model_dump(exclude={"range_full"}, exclude_none=True))
    forced = [p.range_full for p in ask.points] if ask.points else [None] * len(points)
    found = expect_all(box, points, meter, forced)
    answers = [_answer(circuit, each, told) for each, told in zip(found, asked, strict=True)]
    return ExpectAnswer(meter=meter.name, points=answers)
