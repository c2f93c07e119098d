"""Long work in a process of its own: started, watched, cancelled.

A job never blocks a request, and cancelling ends its process at once, whatever it is doing.
"""

from __future__ import annotations

import multiprocessing
import os
import secrets
import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from typing import Annotated, Any, Final, Literal

from fastapi import APIRouter, Path, Request
from fastapi.responses import JSONResponse
from pydantic import Field

from lowfold.api.computing import PRELOADED
from lowfold.api.fields import Answer
from lowfold.api.problems import problem_response, responses
from lowfold.core.errors import LowfoldError, TooLargeError

__all__ = ["JobAnswer", "Jobs", "Progress", "install", "router"]

router = APIRouter(prefix="/api/jobs", tags=["jobs"])

MOST_RUNNING: Final = 2
MOST_KEPT: Final = 50

#: Tells how far the work is: a fraction and words.
Progress = Callable[[float, str], None]
#: Work at the top of a module, so that another process can find it: payload and progress in, answer
#: out.
Work = Callable[[Any, Progress], Any]
State = Literal["running", "done", "failed", "cancelled"]


@dataclass
class Job:
    """One piece of work under way or ended."""

    id: str
    process: multiprocessing.process.BaseProcess
    state: State = "running"
    progress: float = 0.0
    words: str = "starting"
    result: Any = None
    lock: threading.Lock = field(default_factory=threading.Lock)

    def end(self, state: State, words: str, result: Any = None) -> None:
        """Settle how the job ended, once."""
        with self.lock:
            if self.state == "running":
                self.state, self.words, self.result = state, words, result
                self.progress = 1.0 if state == "done" else self.progress

    def answer_json(self) -> str:
        """Return how it is going as the body of a response."""
        return JobAnswer.model_validate(self).model_dump_json()


class NoSuchJob(LookupError):
    """There is no job of this id, or it is forgotten."""


def _run(pipe: Connection, work: Work, payload: Any) -> None:
    os.nice(10)  # what is waited for on screen goes first

    def progress(share: float, words: str) -> None:
        pipe.send(("progress", share, words))

    try:
        pipe.send(("done", 1.0, work(payload, progress)))
    except LowfoldError as error:
        pipe.send(("failed", 1.0, error.message))


class Jobs:
    """The jobs of one run of the server."""

    def __init__(self) -> None:
        self._jobs: OrderedDict[str, Job] = OrderedDict()
        self._lock = threading.Lock()
        self._context = multiprocessing.get_context("forkserver")
        self._context.set_forkserver_preload(PRELOADED)

    def start(self, work: Work, payload: Any) -> Job:
        """Start `work` in a process of its own.

        Raises
        ------
        TooLargeError
            If too many are under way already.
        """
        ours, theirs = self._context.Pipe(duplex=False)
        process = self._context.Process(target=_run, args=(theirs, work, payload), daemon=True)
        job = Job(secrets.token_urlsafe(9), process)
        with self._lock:  # counted and entered in one step: of many at once no more are let in
            running = sum(j.state == "running" for j in self._jobs.values())
            if running >= MOST_RUNNING:
                msg = f"{running} long searches are under way already: wait for one, or cancel it"
                raise TooLargeError(msg, field="body")
            self._jobs[job.id] = job
            ended = [j.id for j in self._jobs.values() if j.state != "running"]
            for old in ended[: max(0, len(self._jobs) - MOST_KEPT)]:
                self._jobs.pop(old, None)
        process.start()
        theirs.close()
        threading.Thread(target=self._watch, args=(job, ours), daemon=True).start()
        return job

    def _watch(self, job: Job, pipe: Connection) -> None:
        while True:
            try:
                kind, share, what = pipe.recv()
            except EOFError:
                job.end("failed", "the work stopped before it was done; nothing was changed")
                break
            if kind == "progress":
                job.progress, job.words = share, what
            else:
                job.end(kind, "done" if kind == "done" else what, what if kind == "done" else None)
        job.process.join()

    def get(self, job_id: str) -> Job:
        """Return one job.

        Raises
        ------
        NoSuchJob
        """
        try:
            return self._jobs[job_id]
        except KeyError as error:
            raise NoSuchJob(job_id) from error

    def cancel(self, job_id: str) -> Job:
        """End a job's process, if it is still running.

        Raises
        ------
        NoSuchJob
        """
        job = self.get(job_id)
        job.end("cancelled", "cancelled")
        _ended(job.process)
        return job

    def close(self) -> None:
        for job in list(self._jobs.values()):
            _ended(job.process)


def _ended(process: multiprocessing.process.BaseProcess) -> None:
    if process.pid is not None:  # it may not have been started yet
        process.kill()


class JobAnswer(Answer):
    """How a job is going; `result` once it is done."""

    id: str
    state: State
    progress: float = Field(description="0 to 1")
    words: str = Field(description="What it is doing, or why it ended")
    result: Any = None


def install(app: Any) -> None:
    """Map what the jobs refuse to problems."""

    @app.exception_handler(NoSuchJob)  # type: ignore[untyped-decorator]
    def _missing(request: Request, exc: NoSuchJob) -> JSONResponse:
        return problem_response(404, f"there is no job “{exc.args[0]}”, or it is forgotten")


JobId = Annotated[str, Path(max_length=40)]


@router.get("/{job_id}", responses=responses(404))
def job(job_id: JobId, request: Request) -> JobAnswer:
    """Tell how a job is going."""
    jobs: Jobs = request.app.state.jobs
    return JobAnswer.model_validate(jobs.get(job_id))


@router.delete("/{job_id}", responses=responses(404))
def cancelled_job(job_id: JobId, request: Request) -> JobAnswer:
    """Cancel a job; what it had done so far is dropped."""
    jobs: Jobs = request.app.state.jobs
    return JobAnswer.model_validate(jobs.cancel(job_id))
