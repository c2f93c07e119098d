"""Waiting for what the server works out aside."""

import time
from typing import Any

from fastapi.testclient import TestClient


def stands(client: TestClient, where: str) -> dict[str, Any]:
    """How a design stands, once that is worked out of what is stored now."""
    for _ in range(200):
        standing: dict[str, Any] | None = client.get(where).json()["standing"]
        if standing is not None:
            return standing
        time.sleep(0.05)
    raise AssertionError(where)


def ended(client: TestClient, job_id: str) -> dict[str, Any]:
    """A job, once it has ended."""
    for _ in range(600):
        job: dict[str, Any] = client.get(f"/api/jobs/{job_id}").json()
        if job["state"] != "running":
            return job
        time.sleep(0.1)
    raise AssertionError(job)
