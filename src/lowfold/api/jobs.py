"""/api/jobs: how long work is going, and cancelling it."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Path, Request
from fastapi.responses import JSONResponse
from pydantic import Field

from lowfold.api.fields import Answer
from lowfold.api.problems import Problem, problem_response, responses
from lowfold.work.jobs import Jobs, NoSuchJob, State

__all__ = ["JobAnswer", "install", "router"]

router = APIRouter(prefix="/api/jobs", tags=["jobs"])


class JobAnswer(Answer):
    """How a job is going; `result` once it is done."""

    id: str
    state: State
    progress: float = Field(description="0 to 1")
    words: str = Field(description="What it is doing, or why it ended")
    result: Any = None
    problem: Problem | None = Field(None, description="What it was refused with")


def install(app: Any) -> None:
    """Map what the jobs refuse to problems."""

    @app.exception_handler(NoSuchJob)  # type: ignore[untyped-decorator]
    def _missing(request: Request, exc: NoSuchJob) -> JSONResponse:
        return problem_response(404, f"there is no job “{exc.args[0]}”, or it is forgotten")


JobId = Annotated[str, Path(max_length=40)]


@router.get("/{job_id}", responses=responses(404))
async def job(job_id: JobId, request: Request) -> JobAnswer:
    """Tell how a job is going."""
    jobs: Jobs = request.app.state.jobs
    return JobAnswer.model_validate(jobs.get(job_id))


@router.delete("/{job_id}", responses=responses(404))
async def cancelled_job(job_id: JobId, request: Request) -> JobAnswer:
    """Cancel a job; what it had done so far is dropped."""
    jobs: Jobs = request.app.state.jobs
    return JobAnswer.model_validate(jobs.cancel(job_id))
