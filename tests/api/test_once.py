"""A write whose answer was lost is sent again: it is done once, whatever happened in between."""

from __future__ import annotations

import concurrent.futures
import signal
import time
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from lowfold.store.database import Database
from tests import plain
from tests.conftest import Server

DESIGN = {
    "name": "Battery sense", "kind": "divider",
    "brief": {"supply_v": "14.4 V", "target_v": "3V0", "load": "1M"},
}  # fmt: skip
KEY = {"idempotency-key": "3f0e7b52-5f2c-4be4-9a57-1d5a6f0c2b11"}


def names(client: Any) -> list[str]:
    return [row["name"] for row in client.get("/api/designs").json()]


def test_a_write_sent_again_is_answered_and_not_done_again(client: TestClient) -> None:
    first = client.post("/api/designs", json=DESIGN, headers=KEY)
    again = client.post("/api/designs", json=DESIGN, headers=KEY)
    assert (first.status_code, again.status_code) == (201, 201)
    assert again.json() == first.json()
    assert again.headers["location"] == first.headers["location"]
    assert again.headers["idempotency-replayed"] == "true"
    assert names(client) == ["Battery sense"]
    assert client.post("/api/designs", json=DESIGN).status_code == 201  # without a key: another
    assert len(names(client)) == 2


def test_a_save_sent_again_is_one_revision(client: TestClient) -> None:
    where = client.post("/api/designs", json=DESIGN).headers["location"]
    body = DESIGN | {"why": "it holds", "revision": 1}
    answers = [client.put(where, json=body, headers=KEY) for _ in range(3)]
    assert [one.json()["revision"] for one in answers] == [2, 2, 2]
    assert client.put(where, json=body).status_code == 409  # another's, from the same revision


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("/record", {"kind": "note", "text": "the lid is tight"}),
        ("/copy", None),
    ],
)
def test_what_is_added_once_is_there_once(client: TestClient, path: str, body: Any) -> None:
    where = client.post("/api/designs", json=DESIGN).headers["location"]
    answers = [client.post(where + path, json=body, headers=KEY).json() for _ in range(2)]
    assert answers[0] == answers[1]
    assert len(client.get(where + "/record").json()) == (path == "/record")
    assert len(names(client)) == 1 + (path == "/copy")


def test_what_was_refused_may_be_tried_again(client: TestClient) -> None:
    assert client.post("/api/designs", json={"name": "x"}, headers=KEY).status_code == 422
    assert client.post("/api/designs", json=DESIGN, headers=KEY).status_code == 201


def test_a_key_is_of_one_write_and_has_a_form(client: TestClient) -> None:
    client.post("/api/designs", json=DESIGN, headers=KEY)
    other = client.post("/api/drawer/lines", json={"ohm": 100}, headers=KEY)
    assert other.status_code == 422
    assert "give each write its own" in other.json()["detail"]
    odd = client.post("/api/designs", json=DESIGN, headers={"idempotency-key": "a b"})
    assert odd.status_code == 422
    assert client.get("/api/designs", headers=KEY).status_code == 200  # a question is no write


def test_sent_many_times_at_once_and_after_a_kill(server: Server) -> None:
    url = f"{server.url}/api/designs"

    def send(_: int) -> dict[str, Any]:
        found: dict[str, Any] = plain.post(url, json=DESIGN, headers=KEY, timeout=30).json()
        return found

    with concurrent.futures.ThreadPoolExecutor(8) as pool:
        answers = list(pool.map(send, range(8)))
    server.stop(signal.SIGKILL)
    server.start()
    answers.append(send(0))
    assert [one == answers[0] for one in answers] == [True] * 9
    assert len(plain.get(url).json()) == 1


def test_a_file_that_takes_long_is_taken_in_once_as_a_job(server: Server) -> None:
    with plain.Client(base_url=server.url, timeout=30) as http:
        where = http.post("/api/designs", json=DESIGN).headers["location"]
        file = http.get(f"{where}/handover.json").content
        headers = KEY | {"content-type": "application/json", "prefer": "respond-async, wait=0"}
        begun = [http.post("/api/designs/import", content=file, headers=headers) for _ in range(3)]
        assert [one.status_code for one in begun] == [202, 202, 202]
        assert len({one.headers["location"] for one in begun}) == 1
        job = begun[0].json()
        while job["state"] == "running":
            time.sleep(0.05)
            job = http.get(begun[0].headers["location"]).json()
        assert job["state"] == "done", job
        assert job["result"]["name"] == "Battery sense"
        assert names(http) == ["Battery sense", "Battery sense"]  # the first, and the one taken in
        bad = http.post(
            "/api/designs/import",
            content=b"{}",
            headers=headers | {"idempotency-key": "another-one"},
        )
        job = {"state": "running"}
        while job["state"] == "running":
            time.sleep(0.05)
            job = http.get(bad.headers["location"]).json()
        assert job["state"] == "failed"
        assert len(names(http)) == 2


def test_kept_before_it_could_be_said_is_told_so(client: TestClient, tmp_path: Path) -> None:
    """As if the server had ended between keeping it and answering."""
    client.post("/api/designs", json=DESIGN, headers=KEY)
    database = Database(tmp_path / "lowfold.db")
    with database.engine.execution_options(writes=True).begin() as connection:
        connection.exec_driver_sql("UPDATE once SET status = NULL, body = NULL")
    database.close()
    again = client.post("/api/designs", json=DESIGN, headers=KEY)
    assert (again.status_code, again.json()["kept"]) == (409, True)
    assert "not kept twice" in again.json()["detail"]
    assert names(client) == ["Battery sense"]
