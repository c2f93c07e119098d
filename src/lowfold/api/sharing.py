"""POST /api/designs/shared: one choice for each of several designs, out of few different values."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Request
from pydantic import Field

from lowfold.api.fields import Ask
from lowfold.api.jobs import JobAnswer
from lowfold.api.problems import responses
from lowfold.api.sessions import SessionDep, StockDep
from lowfold.api.wire import as_json
from lowfold.core.errors import DomainError
from lowfold.core.parts.stock import Stock
from lowfold.core.tokens.names import texts_of
from lowfold.store.designs import get_design
from lowfold.views.sharing import SharedAnswer, SharingNeed
from lowfold.work.jobs import Jobs, Progress

__all__ = ["router"]

router = APIRouter(prefix="/api/designs", tags=["designs"])


class SharedAsk(Ask):
    """Designs that should share values."""

    ids: list[Annotated[int, Field(ge=1, le=2**63 - 1)]] = Field(min_length=2, max_length=20)


class SharedJob(JobAnswer):
    """The search as a job."""

    result: SharedAnswer | None = None


def _work(payload: tuple[list[SharingNeed], Stock], progress: Progress) -> Any:
    # Loaded where it is done: the server's own process computes nothing.
    from lowfold.views.sharing_values import shared_answer  # noqa: PLC0415

    return as_json(shared_answer(*payload, progress))


@router.post("/shared", status_code=202, responses=responses(404, 422))
def shared(ask: SharedAsk, session: SessionDep, stock: StockDep, request: Request) -> SharedJob:
    """Start the search for a choice for each design out of as few different values as possible.

    Follow it at `/api/jobs/{id}`; its `result` is a `SharedAnswer`. Nothing is changed: to take the
    choices over, PUT each design with its new `choice`.
    """
    rows = [get_design(session, design_id) for design_id in dict.fromkeys(ask.ids)]
    for row in rows:
        if row.kind in {"network", "sensor", "board"}:
            msg = f"“{row.name}” is a network that is there already: it has no choices to share"
            raise DomainError(msg, field="ids")
    needs = [
        SharingNeed(r.id, r.name, r.revision, r.kind, texts_of(r.brief), r.choice)  # type: ignore[arg-type]  # the kinds that have choices
        for r in rows
    ]
    jobs: Jobs = request.app.state.jobs
    return SharedJob.model_validate(jobs.start(_work, (needs, stock)))
