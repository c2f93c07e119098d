"""Long work in a process of its own: started, watched, cancelled.

A job never blocks a request, and cancelling ends its process at once, whatever it is doing.
"""

from __future__ import annotations

import contextlib
import logging
import secrets
import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from typing import Any, Final, Literal

from lowfold.core.errors import LowfoldError
from lowfold.work.lanes import Overloaded
from lowfold.work.process import CONTEXT, bounded, ends_with_its_server

__all__ = ["Job", "Jobs", "NoSuchJob", "Progress", "Refused", "State", "Work"]

log = logging.getLogger("lowfold")
MOST_RUNNING: Final = 2
MOST_KEPT: Final = 50
COME_BACK_S: Final = 5  #: to who finds as many under way as may be

#: Tells how far the work is: a fraction and words.
Progress = Callable[[float, str], None]
#: Work at the top of a module, so that another process can find it: payload and progress in, answer
#: out.
Work = Callable[[Any, Progress], Any]
State = Literal["running", "done", "failed", "cancelled"]


class Refused(LowfoldError):
    """What a job is refused with: a problem as a request would have had it."""

    def __init__(self, problem: dict[str, Any]) -> None:
        super().__init__(problem["detail"])
        self.problem = problem

    def __reduce__(self) -> tuple[type[Refused], tuple[dict[str, Any]]]:
        return Refused, (self.problem,)


@dataclass
class Job:
    """One piece of work under way or ended."""

    id: str
    process: BaseProcess | None = None
    state: State = "running"
    progress: float = 0.0
    words: str = "starting"
    result: Any = None
    problem: dict[str, Any] | None = None  #: of a refusal
    keeping: bool = False  #: what it found is being kept: too late to cancel
    lock: threading.Lock = field(default_factory=threading.Lock)

    def end(self, state: State, words: str, result: Any = None) -> None:
        """Settle how the job ended, once; what is being kept is not cancelled any more."""
        with self.lock:
            if self.state == "running" and not (state == "cancelled" and self.keeping):
                self.words, self.result = words, result
                self.progress = 1.0 if state == "done" else self.progress
                self.state = state

    def kill(self) -> None:
        """End its process, if it has one."""
        with self.lock:
            if self.process is not None:
                self.process.kill()


class NoSuchJob(LookupError):
    """There is no job of this id, or it is forgotten."""


def _run(pipe: Connection, work: Work, payload: Any) -> None:
    ends_with_its_server()
    bounded(10)  # what is waited for on screen goes first

    def progress(share: float, words: str) -> None:
        pipe.send(("progress", share, words))

    try:
        pipe.send(("done", 1.0, work(payload, progress)))
    except LowfoldError as error:
        pipe.send(("failed", 1.0, error))


class Jobs:
    """The jobs of one run of the server."""

    def __init__(self, loaded: list[str]) -> None:
        self._jobs: OrderedDict[str, Job] = OrderedDict()
        self._lock = threading.Lock()
        CONTEXT.set_forkserver_preload(loaded)

    def start(self, work: Work, payload: Any, keep: Callable[[Any], Any] | None = None) -> Job:
        """Start `work` in a process of its own.

        Parameters
        ----------
        keep : callable, optional
            Keeps what it found, here and from a thread, and returns the job's result.

        Raises
        ------
        Overloaded
            If too many are under way already.
        """
        job = Job(secrets.token_urlsafe(9))
        with self._lock:  # counted and entered in one step: of many at once no more are let in
            running = sum(j.state == "running" for j in self._jobs.values())
            if running >= MOST_RUNNING:
                why = f"{running} long searches are under way already: wait for one, or cancel it"
                raise Overloaded(COME_BACK_S, why)
            self._jobs[job.id] = job
            ended = [j.id for j in self._jobs.values() if j.state != "running"]
            for old in ended[: max(0, len(self._jobs) - MOST_KEPT)]:
                self._jobs.pop(old, None)
        watch = threading.Thread(target=self._watch, args=(job, work, payload, keep), daemon=True)
        watch.start()
        return job

    def _watch(self, job: Job, work: Work, payload: Any, keep: Callable[[Any], Any] | None) -> None:
        ours, theirs = CONTEXT.Pipe(duplex=False)
        process = CONTEXT.Process(target=_run, args=(theirs, work, payload), daemon=True)
        try:
            process.start()
            theirs.close()
            with job.lock:
                job.process = process
                if job.state != "running":
                    process.kill()
            self._follow(job, ours, keep)
        except Exception:
            log.exception("a job could not be done")
            job.end("failed", "Lowfold made a mistake; nothing that was saved is lost")
        finally:
            ours.close()
            with contextlib.suppress(OSError):
                theirs.close()
            with job.lock:
                job.process = None
            if process.pid is not None:
                process.join()
            process.close()

    @staticmethod
    def _follow(job: Job, pipe: Connection, keep: Callable[[Any], Any] | None) -> None:
        while True:
            try:
                kind, share, what = pipe.recv()
            except EOFError:
                job.end("failed", "the work stopped before it was done; nothing was changed")
                return
            if kind == "progress":
                job.progress, job.words = share, what
                continue
            if kind == "done" and keep is not None:
                with job.lock:
                    job.keeping = job.state == "running"
                if not job.keeping:
                    return
                try:
                    what = keep(what)
                except LowfoldError as error:
                    kind, what = "failed", error
            if kind == "done":
                job.end("done", "done", what)
            else:
                job.problem = getattr(what, "problem", None)
                job.end("failed", what.message)

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
        if job.state == "cancelled":
            job.kill()
        return job

    def close(self) -> None:
        """End all that are under way."""
        for job in list(self._jobs.values()):
            job.end("cancelled", "the server was stopped")
            job.kill()
