"""A sensor in a leg and a board of needs, kept like any other design."""

from typing import Any

import pytest
from starlette.testclient import TestClient

SENSOR = {
    "name": "Water temperature",
    "kind": "sensor",
    "brief": {"supply_v": "3.3 V", "sensor": "0 °C 27k, 20 °C 11k2, 40 °C 5k1"},
    "choice": "R1=12k + @OUT + RS1=27k",
}
BOARD = {"name": "Logger", "kind": "board", "brief": {"needs": "Sense: 14.4 V to 3 V within 4 %"}}


@pytest.mark.parametrize("design", [SENSOR, BOARD], ids=["sensor", "board"])
def test_it_has_revisions_a_record_a_place_in_the_list_and_is_handed_over(
    client: TestClient, design: dict[str, Any]
) -> None:
    made = client.post("/api/designs", json=design)
    assert made.status_code == 201, made.text
    number = made.json()["id"]
    at = f"/api/designs/{number}"
    changed = client.put(at, json=design | {"why": "As agreed.", "revision": 1})
    assert changed.json()["revision"] == 2
    assert client.post(f"{at}/record", json={"kind": "note", "text": "seen"}).status_code == 201
    rows = client.get("/api/designs").json()
    assert design["name"] in [row["name"] for row in rows]
    file = client.get(f"{at}/handover.json")
    assert client.get(f"{at}/handover.pdf").content.startswith(b"%PDF")
    assert "As agreed." in client.get(f"{at}/handover.md").text
    taken = client.post("/api/designs/import", content=file.content)
    assert taken.status_code == 201, taken.text
    other = client.get(f"/api/designs/{taken.json()['id']}").json()
    assert (other["kind"], other["brief"]) == (design["kind"], design["brief"])


def test_a_sensor_with_its_resistor_is_built_and_measured(client: TestClient) -> None:
    asked = {k: SENSOR[k] for k in ("kind", "brief", "choice")}
    found = client.post("/api/bench/round", json=asked)
    assert found.status_code == 200, found.text
    # By hand: 3.3 V · 27/39 = 2.285 V at the first point
    steps = {s["asked"].get("at"): s for s in found.json()["steps"]}
    assert steps["OUT"]["expected"].startswith("2.28")
    none = client.post("/api/bench/round", json=asked | {"choice": None})
    assert (none.status_code, "nothing is chosen" in none.text) == (422, True)
    board = client.post("/api/bench/round", json={"kind": "board", "brief": BOARD["brief"]})
    assert (board.status_code, "need by need" in board.text) == (422, True)


def test_tokens_of_another_kind_are_refused(client: TestClient) -> None:
    brief = {"needs": "x", "target_v": "3 V"}
    found = client.post("/api/bench/round", json={"kind": "board", "brief": brief})
    assert found.status_code == 422
    assert "target_v" in found.text
