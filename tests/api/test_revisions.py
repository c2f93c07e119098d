"""/api/designs/{id}/revisions: looked at, compared, restored; what is deleted comes back."""

import sqlite3
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from lowfold.store.database import Database
from lowfold.store.designs import KEPT_DAYS, forget_deleted

DESIGN: dict[str, Any] = {
    "name": "Battery sense", "kind": "divider", "choice": "R1=200k + @OUT + R2=56k",
    "brief": {"supply_v": "14.4 V", "target_v": "3 V", "within": "3 %", "load": "1 MΩ"},
}  # fmt: skip


@pytest.fixture
def path(client: TestClient) -> str:
    return f"/api/designs/{client.post('/api/designs', json=DESIGN).json()['id']}"


def change(client: TestClient, path: str, **fields: Any) -> dict[str, Any]:
    now = client.get(path).json()
    kept = {n: now[n] for n in ("name", "kind", "brief", "prefer", "choice", "why", "revision")}
    return dict(client.put(path, json={**kept, **fields}).raise_for_status().json())


def wanting(text: str) -> dict[str, Any]:
    return {"brief": {**DESIGN["brief"], "target_v": text}}


def test_steps_of_typing_are_one_revision(client: TestClient, path: str) -> None:
    for text in ("3.", "3.1", "3.1 V"):
        change(client, path, **wanting(text))
    change(client, path, choice="R1=390k + @OUT + R2=120k")
    found = client.get(f"{path}/revisions").json()
    assert [r["revision"] for r in found] == [5, 4, 1]
    assert [r["words"] for r in found] == [
        "choice 200k/56k → 390k/120k", "wanted voltage 3 V → 3.1 V", "begun",
    ]  # fmt: skip
    # None is lost: those between can still be looked at
    assert client.get(f"{path}/revisions/3").json()["brief"]["target_v"] == "3.1"
    assert client.get(f"{path}/revisions/9").status_code == 404
    assert client.get("/api/designs/99/revisions").status_code == 404


def test_of_very_many_the_newest_are_listed(
    client: TestClient, path: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    for k in range(4):
        change(client, path, choice=f"R1={k + 1}k + @OUT + R2=56k")
    monkeypatch.setattr("lowfold.api.revisions.MOST_LISTED", 2)
    found = client.get(f"{path}/revisions").json()
    assert [(r["revision"], r["words"]) for r in found] == [
        (5, "choice 3k/56k → 4k/56k"), (4, "choice 2k/56k → 3k/56k"),
    ]  # fmt: skip
    assert client.get(f"{path}/revisions/1").status_code == 200


def test_two_revisions_beside_each_other(client: TestClient, path: str) -> None:
    change(client, path, **wanting("3.1 V"), choice="R1=390k + @OUT + R2=120k")
    found = client.get(f"{path}/revisions/1/against/2").json()
    changes = {c["what"]: (c["before"], c["after"]) for c in found["changes"]}
    assert changes["wanted voltage"] == ("3 V", "3.1 V")
    assert changes["choice"] == ("200k/56k", "390k/120k")
    assert "spread" in changes
    back = client.get(f"{path}/revisions/2/against/1").json()
    assert {c["what"]: (c["after"], c["before"]) for c in back["changes"]} == changes
    assert client.get(f"{path}/revisions/1/against/7").status_code == 404


def test_a_restored_revision_is_the_newest_and_loses_nothing(client: TestClient, path: str) -> None:
    before = client.get(path).json()
    change(client, path, name="Cell sense", choice=None, why="tried", tags=["old"])
    found = client.post(f"{path}/revisions/1/restore").json()
    assert found["revision"] == 3
    same = ("name", "kind", "brief", "prefer", "choice", "why", "tags", "standing")
    assert {n: found[n] for n in same} == {n: before[n] for n in same}
    assert [r["revision"] for r in client.get(f"{path}/revisions").json()] == [3, 2, 1]
    assert client.get(f"{path}/revisions/2").json()["name"] == "Cell sense"
    assert client.post(f"{path}/revisions/8/restore").status_code == 404


def test_what_is_deleted_comes_back_with_its_record(client: TestClient, path: str) -> None:
    note = {"kind": "note", "text": "a scratched heron sits on it"}
    client.post(f"{path}/record", json=note)
    before = client.get(path).json()
    assert client.delete(path).status_code == 204
    for gone in (path, f"{path}/record", f"{path}/revisions", f"{path}/handover.json"):
        assert client.get(gone).status_code == 404
    assert client.get("/api/designs?q=heron").json() == []
    (listed,) = client.get("/api/designs/deleted").json()
    assert listed["name"] == "Battery sense"
    assert client.post(f"{path}/bring-back").json() == before
    assert client.get("/api/designs/deleted").json() == []
    assert [e["text"] for e in client.get(f"{path}/record").json()] == [note["text"]]
    assert len(client.get("/api/designs?q=heron").json()) == 1
    assert client.post(f"{path}/bring-back").status_code == 404


def test_after_thirty_days_it_is_forgotten(tmp_path: Path, client: TestClient, path: str) -> None:
    client.post(f"{path}/record", json={"kind": "note", "text": "gone for good"})
    client.delete(path)
    database: Database = client.app.state.database  # type: ignore[attr-defined]
    with database.writing() as session:
        assert forget_deleted(session) == 0
    long_ago = (datetime.now(UTC) - timedelta(days=KEPT_DAYS, hours=1)).isoformat()
    with sqlite3.connect(tmp_path / "lowfold.db") as plain:
        plain.execute("UPDATE design SET deleted = ?", (long_ago,))
    with database.writing() as session:
        assert forget_deleted(session) == 1
    with sqlite3.connect(tmp_path / "lowfold.db") as plain:
        for table in ("design", "record", "revision", "evidence", "words"):
            assert plain.execute(f"SELECT count(*) FROM {table}").fetchone() == (0,)


def test_a_copy_begins_a_design_of_its_own(client: TestClient, path: str) -> None:
    change(client, path, tags=["logger"])
    made = client.post(f"{path}/copy")
    found = made.json()
    assert made.status_code == 201
    assert made.headers["location"] == f"/api/designs/{found['id']}"
    assert (found["name"], found["revision"], found["tags"]) == (
        "Battery sense, copy", 1, ["logger"],
    )  # fmt: skip
    assert found["choice"] == DESIGN["choice"]
    assert client.get(f"/api/designs/{found['id']}/record").json() == []


def test_designs_are_found_by_words_states_and_tags(client: TestClient, path: str) -> None:
    heron = {"name": "Réservoir", "kind": "resistance", "brief": {"target_ohm": "4k53"}}
    client.post("/api/designs", json={**heron, "why": "the heron’s scale", "tags": ["lake", "old"]})
    client.post(f"{path}/record", json={"kind": "note", "text": "R1 smells burnt"})

    def names(query: str) -> list[str]:
        return [d["name"] for d in client.get(f"/api/designs?{query}").json()]

    assert names("q=reservoir") == ["Réservoir"]  # without its accent
    assert names("q=4k5") == ["Réservoir"]  # the beginning of a word
    assert names("q=heron+scale") == ["Réservoir"]
    assert names("q=burnt") == ["Battery sense"]
    assert names("q=burnt+heron") == []
    assert names("q=%22+OR+*") == []
    assert set(names("q=%25")) == {"Réservoir", "Battery sense"}  # a sign alone is no word
    assert names("tag=old") == ["Réservoir"]
    assert names("tag=o") == []
    assert client.get("/api/designs/tags").json() == ["lake", "old"]
    assert names("sort=name") == ["Battery sense", "Réservoir"]
    assert names("sort=begun") == ["Réservoir", "Battery sense"]
    stands = client.get(path).json()["standing"]["verdict"]
    assert "Battery sense" in names(f"state={stands}")
    assert client.get("/api/designs?state=fine").status_code == 422
    assert client.get("/api/designs?sort=colour").status_code == 422
    # What a design says no more, it is not found by
    change(client, path, name="Cell sense")
    assert names("q=battery") == []


def test_tags_stay_where_a_change_does_not_name_them(client: TestClient, path: str) -> None:
    assert change(client, path, tags=["logger", "logger", " built  here "])["tags"] == [
        "logger", "built here",
    ]  # fmt: skip
    assert change(client, path, why="later")["tags"] == ["logger", "built here"]
    bad = client.put(path, json={**DESIGN, "revision": 3, "tags": ["  "]})
    assert bad.status_code == 422


def test_what_was_deleted_last_comes_first(client: TestClient) -> None:
    made = [
        client.post("/api/designs", json={"name": f"{k}", "kind": "divider"}).json()["id"]
        for k in range(3)
    ]
    for k in (1, 0, 2):
        client.delete(f"/api/designs/{made[k]}")
        time.sleep(0.005)
    assert [one["name"] for one in client.get("/api/designs/deleted").json()] == ["2", "0", "1"]
