"""POST /api/bench/round: a design at the bench: each point, what was read of it, what next."""

from __future__ import annotations

from typing import Literal

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute, quick, reported
from lowfold.api.fields import Ask
from lowfold.api.meters import Meter, meter_of
from lowfold.api.points import PointAsk
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep, MetersDep, PriorsDep
from lowfold.api.texts import AskedBrief, known_texts
from lowfold.core.parts.families import Family
from lowfold.core.record.statement import DesignKind
from lowfold.views.diagnosis import DiagnoseAnswer
from lowfold.views.round import (
    Buildable,
    FaultTableAnswer,
    Read,
    RoundAnswer,
    buildable,
    fault_table,
    round_answer,
    suspected,
)

__all__ = ["router"]

router = APIRouter(prefix="/api/bench", tags=["bench"], route_class=ComputedRoute)

MOST_READINGS = 400


class TakenAsk(PointAsk):
    """A reading as typed, and where."""

    text: str = Field(max_length=80)
    meter: str | None = Field(
        None, max_length=60, description="That it was read on; the round's where it is not known"
    )
    board: str | None = Field(
        None, max_length=20_000, description="The network it was read on; one of another is left"
    )

    @property
    def read(self) -> Read:
        return Read(self.named, self.text, self.meter, self.board)


class RoundAsk(Ask):
    """A design, and what was read of it so far."""

    kind: DesignKind
    brief: AskedBrief = Field(default_factory=dict)
    choice: str | None = Field(None, max_length=20_000, description="Of every kind but a network")
    meter: Meter | None = Field(None, description="Default the handheld")
    readings: list[TakenAsk] = Field([], max_length=MOST_READINGS)
    further: list[PointAsk] = Field(
        [], max_length=60, description="Points beside those of a careful round"
    )
    as_built: bool = Field(
        default=True, description="Let what was measured take the place of what is nominal"
    )


@router.post("/round", openapi_extra=quick(12_000), responses=responses(422, 503))
def round_of(ask: RoundAsk, families: FamiliesDep, meters: MetersDep) -> RoundAnswer:
    """Tell what to measure of a design as built, judge what was read, and say what to do next."""
    return round_answer(
        _design(ask, families),
        meter_of(ask.meter, meters),
        [read.read for read in ask.readings],
        meters,
        as_built=ask.as_built,
        further=[point.named for point in ask.further],
        progress=reported(),
    )


def _design(ask: RoundAsk, families: tuple[Family, ...]) -> Buildable:
    return buildable(ask.kind, known_texts(ask.kind, ask.brief), ask.choice, families)


class SuspectsAsk(RoundAsk):
    """A design, what was read of it, and how many faults at once are looked for."""

    most_at_once: Literal[1, 2] = 1
    limit: int = Field(8, ge=1, le=100)
    before: list[TakenAsk] = Field(
        [],
        max_length=MOST_READINGS,
        description="What was read before one was corrected, or a part replaced",
    )


@router.post(
    "/suspects", openapi_extra=quick(12_000, {"most_at_once": 2}), responses=responses(422, 503)
)
def suspects_of(
    ask: SuspectsAsk, families: FamiliesDep, meters: MetersDep, priors: PriorsDep
) -> DiagnoseAnswer:
    """Tell what may be wrong with a design as built, from what was read of it."""
    return suspected(
        _design(ask, families),
        meter_of(ask.meter, meters),
        [read.read for read in ask.readings],
        [read.read for read in ask.before],
        meters,
        priors,
        most_at_once=ask.most_at_once,
        limit=ask.limit,
        progress=reported(),
    )


@router.post("/faults", openapi_extra=quick(6000), responses=responses(422, 503))
def faults_of(ask: RoundAsk, families: FamiliesDep, meters: MetersDep) -> FaultTableAnswer:
    """Tell what the meter would read with each likely fault, to take to the bench on paper."""
    return fault_table(_design(ask, families), meter_of(ask.meter, meters))
