"""Jobs: progress, failure in words, a crash that is told, and cancelling."""

import os
import threading
import time
from typing import Any

import pytest

from lowfold.core.errors import DomainError
from lowfold.work.jobs import MOST_KEPT, Job, Jobs, NoSuchJob, Progress
from lowfold.work.lanes import Overloaded


def count_up(payload: int, progress: Progress) -> int:
    for k in range(payload):
        progress(k / payload, f"step {k}")
    return payload * 2


def refuse(payload: str, progress: Progress) -> None:
    progress(0.1, "looking")
    raise DomainError(payload)


def die(payload: int, progress: Progress) -> None:
    progress(0.5, "half way")
    os._exit(payload)


def sleep(payload: float, progress: Progress) -> str:
    progress(0.0, "asleep")
    time.sleep(payload)
    return "awake"


@pytest.fixture
def jobs() -> Any:
    found = Jobs([])
    yield found
    found.close()


def ended(jobs: Jobs, job: Job) -> Job:
    for _ in range(300):
        if jobs.get(job.id).state != "running":
            return job
        time.sleep(0.05)
    raise AssertionError(job)


def test_a_job_tells_its_progress_and_its_result(jobs: Jobs) -> None:
    job = ended(jobs, jobs.start(count_up, 5))
    assert (job.state, job.progress, job.result, job.words) == ("done", 1.0, 10, "done")


def test_what_a_job_refuses_is_told_in_its_words(jobs: Jobs) -> None:
    job = ended(jobs, jobs.start(refuse, "nothing fits"))
    assert (job.state, job.words, job.result) == ("failed", "nothing fits", None)


def test_a_job_that_dies_says_that_nothing_was_changed(jobs: Jobs) -> None:
    job = ended(jobs, jobs.start(die, 3))
    assert job.state == "failed"
    assert job.words == "the work stopped before it was done; nothing was changed"


def test_cancelling_ends_the_process_at_once(jobs: Jobs) -> None:
    job = jobs.start(sleep, 60.0)
    while job.words != "asleep":
        time.sleep(0.02)
    assert jobs.cancel(job.id).state == "cancelled"
    for _ in range(500):
        if job.process is None:
            break
        time.sleep(0.02)
    assert job.process is None
    assert jobs.cancel(job.id).state == "cancelled"  # again changes nothing


def test_what_is_being_kept_is_not_cancelled_any_more(jobs: Jobs) -> None:
    began, go_on = threading.Event(), threading.Event()

    def keep(found: int) -> int:
        began.set()
        assert go_on.wait(20)
        return found + 1

    job = jobs.start(count_up, 2, keep)
    assert began.wait(20)
    assert jobs.cancel(job.id).state == "running"
    go_on.set()
    assert (ended(jobs, job).state, job.result) == ("done", 5)


def test_only_so_many_run_at_once(jobs: Jobs) -> None:
    running = [jobs.start(sleep, 60.0) for _ in range(2)]
    with pytest.raises(Overloaded, match="2 long searches are under way already"):
        jobs.start(sleep, 60.0)
    jobs.cancel(running[0].id)
    third = jobs.start(count_up, 1)
    assert ended(jobs, third).state == "done"


def test_old_jobs_are_forgotten(jobs: Jobs) -> None:
    first = ended(jobs, jobs.start(count_up, 1))
    for k in range(MOST_KEPT):
        jobs._jobs[str(k)] = first  # noqa: SLF001 as many as are kept, without running them
    ended(jobs, jobs.start(count_up, 1))
    with pytest.raises(NoSuchJob):
        jobs.get(first.id)
