"""POST /api/sheet/drawn: many samples of a choice, as a job with progress that can be cancelled."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Request
from pydantic import Field

from lowfold.api.fields import Answer
from lowfold.api.jobs import JobAnswer
from lowfold.api.opened import OpenedAsk, read_opened
from lowfold.api.opened_answer import ScatterPicture, picture
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.core.parts.families import Family
from lowfold.core.workbench.opened import MOST_DRAWN, scatters_of
from lowfold.work.jobs import Jobs, Progress

__all__ = ["router", "work"]

router = APIRouter(prefix="/api/sheet", tags=["sheet"])


class DrawnAsk(OpenedAsk):
    """A choice, and how many of it are drawn."""

    samples: Annotated[int, Field(ge=1, le=MOST_DRAWN, strict=True)] = MOST_DRAWN


class DrawnAnswer(Answer):
    scatters: list[ScatterPicture]


class DrawnJob(JobAnswer):
    """The drawing as a job."""

    result: DrawnAnswer | None = None


def work(payload: tuple[DrawnAsk, tuple[Family, ...]], progress: Progress) -> dict[str, Any]:
    """Draw; runs in a process of its own."""
    ask, families = payload
    judged = read_opened(ask, families)
    count = f"{ask.samples:,}".replace(",", "\u202f")
    found = scatters_of(
        judged,
        ask.samples,
        ask.distribution,
        lambda share: progress(0.9 * share, f"drawing {count} of them"),
    )
    return DrawnAnswer(scatters=[picture(mark, s) for mark, s in found]).model_dump(mode="json")


@router.post("/drawn", status_code=202, responses=responses(422))
def drawn(ask: DrawnAsk, families: FamiliesDep, request: Request) -> DrawnJob:
    """Start drawing many samples; follow it at `/api/jobs/{id}`, cancel it by DELETE there."""
    read_opened(ask, families)
    jobs: Jobs = request.app.state.jobs
    return DrawnJob.model_validate(jobs.start(work, (ask, families)))
