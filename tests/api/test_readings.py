"""/api/designs/{id}/readings: kept as read, judged by the server, and standing by one rule."""

from typing import Any

import pytest
from fastapi.testclient import TestClient

# A divider of the scenario: 14.4 V · 56 k / (200 k + 56 k) = 3.15 V, both parts 1 %.
SENSE = {
    "name": "Battery sense",
    "kind": "divider",
    "brief": {"supply_v": "14.4", "target_v": "3.15", "load": "none", "tolerance": "1 %"},
    "choice": "R1=200k + @OUT + R2=56k",
}
AT_OUT = {"kind": "voltage", "at": "OUT"}


@pytest.fixture
def path(client: TestClient) -> str:
    kept = client.post("/api/designs", json=SENSE)
    assert kept.status_code == 201, kept.text
    return f"/api/designs/{kept.json()['id']}"


def read(client: TestClient, path: str, text: str, point: dict[str, Any] = AT_OUT, **more: Any):  # type: ignore[no-untyped-def]
    return client.post(f"{path}/readings", json={"point": point, "text": text, **more})


def test_a_reading_is_kept_as_read_and_judged_as_the_round_judges_it(
    client: TestClient, path: str
) -> None:
    for text, value, told in [
        ("3V14", 3.14, "as expected"),
        ("3.0", 3.0, "off"),
        ("1.2 V", 1.2, "far out"),
        ("OL", None, "far out"),
        ("about three", None, None),
    ]:
        answer = read(client, path, text)
        assert answer.status_code == 201
        found = answer.json()
        entry = found["entry"]
        assert (entry["text"], entry["value"], entry["verdict"]) == (text, value, told)
        assert (entry["meter"], entry["board"]) == ("handheld, 6000 counts", SENSE["choice"])
        asked = {"kind": "divider", "brief": SENSE["brief"], "choice": SENSE["choice"]}
        readings = [{**AT_OUT, "text": text}]
        alone = client.post("/api/bench/round", json={**asked, "readings": readings}).json()
        assert {k: v for k, v in found.items() if k != "entry"} == alone
        (step,) = (s for s in found["steps"] if s["reading"])
        assert step["told"] == told
        assert (step["point"]["lowest"], step["point"]["highest"]) == (
            (entry["lowest"], entry["highest"]) if told else (pytest.approx(3.0, rel=0.1),) * 2
        )
    kept = client.get(f"{path}/record").json()
    assert [e["text"] for e in kept] == ["3V14", "3.0", "1.2 V", "OL", "about three"]
    assert [e["text"] for e in client.get(f"{path}/readings").json()] == ["about three"]


def test_earlier_readings_count_when_a_later_one_is_judged(client: TestClient, path: str) -> None:
    """R2 measured 3 % high moves what OUT is expected at: 14.4 · 57.7 / 257.7 = 3.224 V."""
    assert read(client, path, "3.224").json()["entry"]["verdict"] == "off"
    read(client, path, "200k", {"kind": "resistance", "part": "R1"})
    measured = read(client, path, "57k7", {"kind": "resistance", "part": "R2"})
    assert measured.json()["entry"]["verdict"] == "off"
    found = read(client, path, "3.225").json()
    assert found["entry"]["verdict"] == "as expected"
    assert found["build"]["taken"] == 3


def test_what_a_client_says_of_limits_and_verdict_is_refused(client: TestClient, path: str) -> None:
    for more in ({"verdict": "as expected"}, {"lowest": 1}, {"value": 3.1}, {"unit": "V"}):
        answer = read(client, path, "3V14", **more)
        assert answer.status_code == 422
        assert answer.json()["errors"][0]["field"].endswith(next(iter(more)))
    assert client.get(f"{path}/record").json() == []


@pytest.mark.parametrize(
    ("point", "more", "words"),
    [
        ({"kind": "voltage", "at": "ADC"}, {}, "ADC"),
        ({"kind": "resistance", "part": "R9"}, {}, "R9"),
        (AT_OUT, {"meter": "grandfather's"}, "grandfather's"),
        (AT_OUT, {"board": "R1=200k + ("}, ""),
        ({"kind": "voltage", "at": "OUT"}, {"board": "R1=200k + R2=56k"}, "OUT"),
    ],
)
def test_a_reading_of_nothing_there_is_refused_in_words(
    client: TestClient, path: str, point: dict[str, Any], more: dict[str, str], words: str
) -> None:
    answer = read(client, path, "3V14", point, **more)
    assert answer.status_code == 422
    assert words in answer.json()["detail"]
    assert client.get(f"{path}/record").json() == []


def test_a_reading_of_another_board_is_kept_and_not_judged(client: TestClient, path: str) -> None:
    other = "R1=220k + @OUT + R2=56k"
    entry = read(client, path, "2V9", board=other).json()["entry"]
    assert (entry["value"], entry["board"], entry["verdict"]) == (2.9, other, None)
    # As one does that was typed just before the choice was taken away elsewhere.
    design = client.get(path).json()
    undone = {"revision": design["revision"], "choice": None}
    assert client.put(path, json={**SENSE, **undone}).status_code == 200
    assert read(client, path, "3V1", board=SENSE["choice"]).json()["entry"]["value"] == 3.1
    nowhere = read(client, path, "3V1")
    assert (nowhere.status_code, "no choice" in nowhere.json()["detail"]) == (422, True)


def test_what_is_taken_back_stands_nowhere(client: TestClient, path: str) -> None:
    """Bench and paper have one rule: the reading before one that is taken back stands no more."""
    read(client, path, "3V0")
    last = read(client, path, "3V14").json()["entry"]["id"]
    back = {"kind": "correction", "text": "taken back", "corrects": last}
    assert client.post(f"{path}/record", json=back).status_code == 201
    assert client.get(f"{path}/readings").json() == []
    paper = client.get(f"{path}/handover.md").text
    assert "0 of 6" in paper or "3V0" not in paper.split("## Record")[0]


def test_a_reading_of_a_board_too_large_for_a_round_is_kept(client: TestClient) -> None:
    string = " + ".join(f"R{k}=1k + @T{k}" for k in range(1, 150)) + " + R150=1k"
    large = {"name": "", "kind": "network", "brief": {"network": string, "supply_v": "12 V"}}
    path = f"/api/designs/{client.post('/api/designs', json=large).json()['id']}"
    kept = read(client, path, "5V1", {"kind": "voltage", "at": "T75"})
    assert kept.status_code == 201, kept.text
    entry = kept.json()["entry"]
    assert (entry["value"], entry["verdict"], list(kept.json())) == (5.1, None, ["entry"])
    assert read(client, path, "5V1", {"kind": "voltage", "at": "T999"}).status_code == 422
