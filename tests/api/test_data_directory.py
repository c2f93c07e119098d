"""What happens to the data directory while the server runs: a true sentence, nothing acknowledged in vain."""

import os
import shutil
import sqlite3
import time
from collections.abc import Callable
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from lowfold.store.failures import while_running
from tests.api.waiting import stands

DESIGN = {"name": "Battery sense", "kind": "divider", "brief": {"supply_v": "14.4 V"}}


def deleted(data: Path) -> None:
    (data / "lowfold.db").unlink()


def moved(data: Path) -> None:
    data.rename(data.with_name("elsewhere"))


def replaced(data: Path) -> None:
    shutil.copy(data / "lowfold.db", data / "copy.db")
    (data / "copy.db").replace(data / "lowfold.db")


def overwritten(data: Path) -> None:
    copy = data / "copy.db"
    with sqlite3.connect(data / "lowfold.db") as one, sqlite3.connect(copy) as other:
        one.backup(other)
    (data / "lowfold.db").write_bytes(copy.read_bytes())


def without_its_log(data: Path) -> None:
    (data / "lowfold.db-wal").unlink()


@pytest.mark.parametrize("happens", [deleted, moved, replaced, overwritten, without_its_log])
def test_nothing_is_acknowledged_that_the_next_start_will_not_read(
    client: TestClient, tmp_path: Path, happens: Callable[[Path], None]
) -> None:
    assert client.post("/api/designs", json=DESIGN).status_code == 201
    assert client.get("/api/health").json()["status"] == "ok"
    happens(tmp_path)
    for _ in range(2):
        lost = client.post("/api/designs", json=DESIGN)
        assert (lost.status_code, lost.json()["title"]) == (503, "Cannot be kept")
        assert "nothing of this was kept" in lost.json()["detail"]
    if happens is not overwritten:  # seen as it is written
        health = client.get("/api/health").json()
        assert health["status"] == "degraded"
        assert "while Lowfold ran" in health["words"]


@pytest.mark.skipif(os.getuid() == 0, reason="root may write everything")
def test_a_directory_made_read_only_is_told_as_such(client: TestClient, tmp_path: Path) -> None:
    tmp_path.chmod(0o500)
    (tmp_path / "lowfold.db").chmod(0o400)
    refused = client.post("/api/designs", json=DESIGN)
    tmp_path.chmod(0o700)
    assert refused.status_code == 503


@pytest.mark.parametrize(
    ("said", "kind"),
    [
        ("database or disk is full", "full"),
        ("disk I/O error", "full"),
        ("attempt to write a readonly database", "read-only"),
        ("database disk image is malformed", "damaged"),
        ("no such table: design", "damaged"),
        ("unable to open database file", "gone"),
        ("database is locked", "busy"),
    ],
)
def test_each_failure_is_told_as_what_it_is(said: str, kind: str) -> None:
    found = while_running(sqlite3.OperationalError(said))
    assert found.kind == kind
    assert "nothing of this was kept" in found.words


def test_a_brief_has_a_size_and_a_list_stays_small(client: TestClient) -> None:
    long = {**DESIGN, "brief": {"supply_v": "1" * 70_000}}
    refused = client.post("/api/designs", json=long)
    assert refused.status_code == 422
    assert "60000 characters at most, this one has 70008" in refused.json()["detail"]
    assert client.post("/api/sheet", json=long | {"name": "x"}).status_code == 422
    most = {**DESIGN, "brief": {"supply_v": "1" * 59_000}}
    for k in range(50):
        client.post("/api/designs", json=most | {"name": f"{k}"})
    answer = client.get("/api/designs")
    seen = [row["name"] for row in answer.json()]
    while "link" in answer.headers:
        assert len(answer.content) <= 2_500_000
        answer = client.get(answer.headers["link"].split(">")[0].strip("<"))
        seen += [row["name"] for row in answer.json()]
    assert seen == [f"{k}" for k in range(49, -1, -1)]


def test_standings_go_on_after_whatever_went_wrong(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    standings = client.app.state.standings  # type: ignore[attr-defined]
    monkeypatch.setattr("lowfold.api.standings.TRIES_S", 0.05)
    told: list[int] = []

    def broken(*_: object) -> None:
        told.append(1)
        raise RuntimeError

    where = client.post("/api/designs", json=DESIGN).headers["location"]
    with monkeypatch.context() as patch:
        patch.setattr("lowfold.api.standings.stamps", broken)
        standings.look_again()
        while len(told) < 3:
            time.sleep(0.02)
    assert client.put("/api/families/0603", json={"rating_w": 0.05}).status_code == 200
    assert stands(client, where)["words"]
