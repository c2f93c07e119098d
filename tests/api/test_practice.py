"""Practice over HTTP: put, measured, answered once; nothing hidden is told; progress as it was."""

import json
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient

from lowfold.store import practice as kept


def put(client: TestClient, drill: str, **body: Any) -> dict[str, Any]:
    answer = client.post(f"/api/practice/{drill}", json=body)
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def answered(client: TestClient, question: dict[str, Any], **body: Any) -> dict[str, Any]:
    answer = client.post(f"/api/practice/{question['id']}/answer", json=body)
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def refused(client: TestClient, path: str, body: dict[str, Any], status: int) -> str:
    answer = client.post(path, json=body)
    assert answer.status_code == status, answer.text
    detail: str = answer.json()["detail"]
    return detail


def test_an_estimate_is_judged_within_what_its_level_allows(client: TestClient) -> None:
    # By hand: level 3, number 5 is 3k3 + (1k5 ∥ 9k) = 4585.7 Ω, within 14 %
    for value, right in (
        ("4k6", True),
        (4585.7 * 1.139, True),
        (4585.7 * 1.141, False),
        (0, False),
    ):
        question = put(client, "estimate", level=3, seed=5)
        assert question["asked"]["what"] == "resistance"
        found = answered(client, question, value=value)
        assert found["right"] is right
        assert found["exact"] == pytest.approx(3300 + 1 / (1 / 1500 + 1 / 9000))
        assert found["steps"][-1]["picture"]["hot"] == ["R1", "F2"]
    assert found["off"] == -1
    question = put(client, "estimate", level=3, seed=5)
    refused(client, f"/api/practice/{question['id']}/answer", {"value": 1e308}, 422)


def test_a_question_is_answered_once(client: TestClient) -> None:
    question = put(client, "series", level=1, seed=3)
    answered(client, question, relation="parallel")
    path = f"/api/practice/{question['id']}/answer"
    told = refused(client, path, {"relation": "parallel"}, 409)
    assert told.startswith(f"question {question['id']} is answered already")
    assert (
        refused(client, "/api/practice/99/answer", {"value": 1}, 404) == "there is no question 99"
    )
    again = client.get(f"/api/practice/{question['id']}").json()
    assert again["answer"]["right"] is True
    assert again["given"]["relation"] == "parallel"


@pytest.mark.parametrize("drill", ["estimate", "series", "fault"])
def test_the_same_number_is_the_same_question(client: TestClient, drill: str) -> None:
    one, other = (put(client, drill, level=4, seed=5172) for _ in range(2))
    assert one.pop("id") != other.pop("id")
    assert one == other
    assert one["title"] == "level 4, number 5172"


def test_nothing_hidden_is_in_a_fault_question(client: TestClient) -> None:
    # Two numbers on one own network differ in their fault, and in nothing that is told
    told = []
    for seed in (1, 2, 3, 4):
        question = put(
            client, "fault", level=1, seed=seed, network="R1=10k + @A + R2=22k", supply_v=9
        )
        told.append({k: v for k, v in question.items() if k not in {"id", "seed", "title"}})
    assert all(one == told[0] for one in told)
    assert not {"ohms", "volts", "lifted_sound", "truth"} & set(json.dumps(told[0]).split('"'))


def test_the_contracts_own_fields(client: TestClient) -> None:
    question = put(client, "fault", level=2, seed=8)
    assert question["meter"] == "handheld, 6000 counts"
    assert question["tolerance"] == 0.05
    point = question["points"][-1]
    asked = {k: point[k] for k in ("kind", "at", "against", "through", "part") if point.get(k)}
    path = f"/api/practice/{question['id']}/measure"
    read = client.post(path, json=asked).json()
    assert read["shows"]
    assert read["words"].startswith(point["words"])
    solved = client.post(
        "/api/network/solve",
        json={k: question[k] for k in ("network", "supply_v", "loads", "switches")},
    )
    assert solved.status_code == 200


def test_the_lead_left_in_the_jack_for_current_blows_the_fuse(client: TestClient) -> None:
    question = put(client, "fault", level=2, seed=8)
    path = f"/api/practice/{question['id']}/measure"
    volts = {"kind": "voltage", "at": "in"}
    blown = client.post(path, json={**volts, "jack": "mA"}).json()
    assert (blown["fuse_blown"], blown["value"], blown["blown"]) == (True, 0, ["mA"])
    assert "fuse is blown" in blown["words"]
    nothing = client.post(path, json={"kind": "current", "through": "supply"}).json()
    assert (nothing["fuse_blown"], nothing["value"]) == (True, 0)
    fresh = {"kind": "current", "through": "supply", "new_fuse": True}
    again = client.post(path, json=fresh).json()
    assert (again["fuse_blown"], again["effort"]) == (False, 7)
    assert client.post(path, json=volts).json()["jack"] == "V Ω"
    assert "no jack" in refused(client, path, {**volts, "jack": "X"}, 422)
    assert "no range of volts" in refused(client, path, {**volts, "range_full": 7}, 422)
    assert len(client.get(f"/api/practice/{question['id']}").json()["readings"]) == 4


def test_a_fault_is_named_and_the_ways_to_it_are_told(client: TestClient) -> None:
    question = put(client, "fault", level=1, seed=11)
    path = f"/api/practice/{question['id']}"
    for name in [n for n in question["picture"]["places"] if n != "0"]:
        client.post(f"{path}/measure", json={"kind": "voltage", "at": name})
    assert "told with 1 part" in refused(client, f"{path}/answer", {"kind": "open"}, 422)
    assert "no part" in refused(client, f"{path}/answer", {"kind": "open", "refs": ["R9"]}, 422)
    assert refused(client, f"{path}/answer", {"value": 3}, 422).startswith(
        "this question is answered by a kind of fault"
    )
    found = answered(client, question, kind="open", refs=["r1"])
    truth = found["truth"]
    assert found["right"] is (truth["kind"] == "open" and truth["refs"] == ["R1"])
    taken, short = found["taken"], found["short"]
    assert len(taken) == len(question["picture"]["places"])  # one is 0, and one the start
    for way in (taken, short):
        bits = way[0]["bits_left"] - sum(line["told_bits"] for line in way[1:])
        assert bits == pytest.approx(way[-1]["bits_left"], abs=1e-5)
    assert short[-1]["truth"] >= 0.95
    assert refused(client, f"{path}/measure", {"kind": "voltage", "at": "A"}, 409)


def test_what_was_wrong_comes_again(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    wrong = put(client, "series", level=2, seed=77)
    right = {"series": "parallel", "parallel": "neither", "neither": "series"}
    true = client.get(f"/api/practice/{wrong['id']}").json()
    assert true["answer"] is None
    probe = answered(client, put(client, "series", level=2, seed=77), relation="series")
    answered(client, wrong, relation=right[probe["relation"]])
    fresh = put(client, "series", level=2)
    assert fresh["again"] == ""
    later = (datetime.now(UTC) - timedelta(minutes=11)).isoformat(timespec="milliseconds")
    monkeypatch.setattr(kept, "now_text", lambda: later)
    answered(client, put(client, "series", level=2, seed=78), relation=right[_true(client, 78)])
    monkeypatch.undo()
    again = put(client, "series", level=2)
    assert (again["seed"], again["again"]) == (78, "It comes again: it was answered wrong")
    assert client.get("/api/practice/progress").json()["due"] == {"series": 2}


def _true(client: TestClient, seed: int) -> str:
    """Return what a series question's answer is, by the relation of the two parts on the sheet."""
    question = put(client, "series", level=2, seed=seed)
    one, two = question["refs"]
    ask = {"brief": {"network": question["network"], "supply_v": "5 V"}, "one": one, "two": two}
    kind: str = client.post("/api/network/relation", json=ask).json()["kind"]
    return kind


def test_progress_counts_what_was_asked_and_answered(client: TestClient) -> None:
    empty = client.get("/api/practice/progress").json()
    assert [(d["drill"], d["level"], d["asked"]) for d in empty["drills"]] == [
        ("estimate", 1, 0), ("series", 1, 0), ("fault", 1, 0),
    ]  # fmt: skip
    for value in ("4k6", "4k6", "9k", None):
        question = put(client, "estimate", level=3, seed=5)
        if value:
            answered(client, question, value=value)
    found = client.get("/api/practice/progress").json()
    line = next(d for d in found["drills"] if d["drill"] == "estimate")
    assert (line["level"], line["asked"], line["answered"], line["right"]) == (3, 4, 3, 2)
    assert (line["streak"], line["next_level"]) == (0, 3)
    assert line["typical_off"] == pytest.approx(4600 / 4585.714 - 1, rel=1e-3)
    assert [(w["answered"], w["right"]) for w in found["weeks"]] == [(3, 2)]


def test_ones_own_network_is_put_or_refused(client: TestClient) -> None:
    own = {"network": "360k + @OUT + (180k || 1M)", "supply_v": "14.4 V", "level": 2}
    for drill in ("estimate", "series", "fault"):
        question = put(client, drill, **own)
        assert question["own"] is True
        assert question["supply_v"] == 14.4
    bridge = "R1 in a 1k\nR2 in b 2k\nR3 a b 3k\nR4 a 0 4k\nR5 b 0 5k"
    told = refused(client, "/api/practice/estimate", {"level": 1, "network": bridge}, 422)
    assert told.startswith("it does not fold by series and parallel alone")
    assert put(client, "series", level=3, network=bridge)["picture"]["drawing"]["parts"]


def test_a_sheet_for_a_class_counts_for_nobody(client: TestClient) -> None:
    for drill in ("estimate", "series", "fault"):
        ask = {"drill": drill, "level": 2, "seed": 100, "count": 3}
        lines = client.post("/api/practice/sheet", json=ask).json()["lines"]
        assert [line["question"]["seed"] for line in lines] == [100, 101, 102]
        assert all(line["words"] for line in lines)
        assert bool(lines[0]["readings"]) is (drill == "fault")
        alone = put(client, drill, level=2, seed=101)
        assert alone["network"] == lines[1]["question"]["network"]
    found = client.get("/api/practice/progress").json()
    assert sum(d["asked"] for d in found["drills"]) == 3
    beyond = {"drill": "series", "level": 2, "seed": 2**31 - 2, "count": 10}
    assert "go beyond" in refused(client, "/api/practice/sheet", beyond, 422)


REFUSED = [
    ({"level": 0}, "level"),
    ({"level": 6}, "level"),
    ({"level": "3"}, "level"),
    ({"level": 1, "seed": -1}, "seed"),
    ({"level": 1, "seed": 2**31}, "seed"),
    ({"level": 1, "network": "R1=1k +"}, "network"),
    ({"level": 1, "network": "x" * 5000}, "network"),
    ({"level": 1, "colour": "red"}, "colour"),
]


@pytest.mark.parametrize(("body", "field"), REFUSED)
def test_what_is_no_question_is_refused_by_its_field(
    client: TestClient, body: dict[str, Any], field: str
) -> None:
    answer = client.post("/api/practice/fault", json=body)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field
    assert client.post("/api/practice/chess", json={"level": 1}).status_code == 422
