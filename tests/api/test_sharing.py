"""Sharing values as a job: followed, taken over, cancelled."""

import time

from fastapi.testclient import TestClient

#: Parts so tight that what is near enough passes.
EXACT = {"tolerance": "0.01 %", "tcr": "0 ppm/K", "drift": "0 %"}


def new(client: TestClient, supply: str, target: str, **more: str) -> int:
    brief = {"supply_v": supply, "target_v": target, "within": "0.1 %", **EXACT, **more}
    made = client.post("/api/designs", json={"name": target, "kind": "divider", "brief": brief})
    return int(made.json()["id"])


def ended(client: TestClient, job: dict[str, object]) -> dict[str, object]:
    for _ in range(300):
        job = client.get(f"/api/jobs/{job['id']}").json()
        if job["state"] != "running":
            return job
        time.sleep(0.1)
    raise AssertionError(job)


def test_a_job_finds_few_values_and_changes_nothing(client: TestClient) -> None:
    ids = [new(client, "10 V", "5 V"), new(client, "9 V", "3 V")]
    started = client.post("/api/designs/shared", json={"ids": ids})
    assert started.status_code == 202
    job = ended(client, started.json())
    assert (job["state"], job["progress"]) == ("done", 1.0), job
    result = job["result"]
    assert isinstance(result, dict)
    assert len(result["values"]) == 2  # see tests/core/search/test_sharing.py
    assert [c["id"] for c in result["choices"]] == ids
    assert all(c["verdict"] in {"pass", "marginal"} and c["cost"] for c in result["choices"])
    assert result["left_out"] == []
    assert result["before"] is None
    assert client.get(f"/api/designs/{ids[0]}").json()["choice"] is None


def test_a_design_of_which_nothing_passes_is_left_out_and_named(client: TestClient) -> None:
    loose = {"tolerance": "5 %", "tcr": "100 ppm/K"}
    ids = [new(client, "10 V", "5 V"), new(client, "9 V", "3 V", **loose)]
    job = ended(client, client.post("/api/designs/shared", json={"ids": ids}).json())
    result = job["result"]
    assert isinstance(result, dict)
    assert [c["id"] for c in result["choices"]] == ids[:1]
    assert result["left_out"] == [
        {"id": ids[1], "name": "3 V", "words": "none of its choices passes its own gates"}
    ]


def test_a_need_that_nothing_meets_fails_in_words(client: TestClient) -> None:
    ids = [
        new(client, "10 V", "5 V"),
        new(client, "10 V", "3.33 V", within="0.0001 %", values="E3"),
    ]
    job = ended(client, client.post("/api/designs/shared", json={"ids": ids}).json())
    assert job["state"] == "failed"
    assert job["words"] == "“3.33 V” has no choice within its accepted deviation"


def test_a_job_can_be_cancelled_and_too_many_are_refused(client: TestClient) -> None:
    ids = [new(client, "10 V", f"{n}.1 V", within="9 %", values="E192") for n in range(1, 9)]
    jobs = [client.post("/api/designs/shared", json={"ids": ids}).json() for _ in range(2)]
    third = client.post("/api/designs/shared", json={"ids": ids})
    assert third.status_code == 503
    assert "under way already" in third.json()["detail"]
    for job in jobs:
        assert client.delete(f"/api/jobs/{job['id']}").json()["state"] == "cancelled"
    assert client.get(f"/api/jobs/{jobs[0]['id']}").json()["state"] == "cancelled"
    assert client.get("/api/jobs/nothing").status_code == 404
    assert client.post("/api/designs/shared", json={"ids": [1, 4711]}).status_code == 404
