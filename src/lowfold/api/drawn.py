"""POST /api/sheet/drawn: many samples of a choice, as a job with progress that can be cancelled."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute, begin, quick
from lowfold.api.jobs import JobAnswer
from lowfold.api.opened import OpenedAsk, read_opened
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.api.wire import as_json
from lowfold.core.parts.families import Family
from lowfold.core.sheet.opened import MOST_DRAWN
from lowfold.views.opened import DrawnAnswer, drawn_answer
from lowfold.work.jobs import Progress

__all__ = ["router"]

router = APIRouter(prefix="/api/sheet", tags=["sheet"], route_class=ComputedRoute)


class DrawnAsk(OpenedAsk):
    """A choice, and how many of it are drawn."""

    samples: Annotated[int, Field(ge=1, le=MOST_DRAWN, strict=True)] = MOST_DRAWN


class DrawnJob(JobAnswer):
    """The drawing as a job."""

    result: DrawnAnswer | None = None


def _work(payload: tuple[DrawnAsk, tuple[Family, ...]], progress: Progress) -> Any:
    ask, families = payload
    judged = read_opened(ask, families)
    return as_json(drawn_answer(judged, ask.samples, ask.distribution, progress))


@router.post("/drawn", status_code=202, openapi_extra=quick(3000), responses=responses(422))
def drawn(ask: DrawnAsk, families: FamiliesDep) -> DrawnJob:
    """Start drawing many samples; follow it at `/api/jobs/{id}`, cancel it by DELETE there."""
    read_opened(ask, families)
    job: DrawnJob = begin(_work, (ask, families))
    return job
