"""`low_v` over HTTP, wherever a supply is stated; figures worked by hand or by `solve` itself."""

from typing import Any

import pytest
from fastapi.testclient import TestClient

PAIR = "R1=10k + @OUT + R2=20k"
#: 5 V over 10 kΩ, −5 V under 20 kΩ, 30 kΩ to 0 V: (5/10 − 5/20)/(1/10 + 1/20 + 1/30) = 15/11 V.
LOADED = {"supply_v": 5, "low_v": "−5 V", "loads": [{"at": "OUT", "ohm": "30k"}]}


def post(client: TestClient, path: str, body: dict[str, Any]) -> dict[str, Any]:
    answer = client.post(path, json=body)
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def test_solving_and_its_balances(client: TestClient) -> None:
    found = post(client, "/api/network/solve", {"network": PAIR, **LOADED})
    assert found["nodes"]["OUT"] == pytest.approx(15 / 11)
    assert all(check["holds"] for check in found["checks"])
    # The resistance with both ends dead: 10 kΩ + 20 kΩ ∥ 30 kΩ
    assert found["total_ohm"] == pytest.approx(22e3)
    plain = post(client, "/api/network/solve", {"network": PAIR, "supply_v": 5, "low_v": 0})
    assert plain == post(client, "/api/network/solve", {"network": PAIR, "supply_v": 5})


def test_checking_at_the_worst_of_all_corners(client: TestClient) -> None:
    body = {
        "network": PAIR,
        "supply": {"v": 5, "low_v": -5, "tolerance": 0.02},
        "parts": {"default": {"tolerance": 0.01}},
        "outputs": [{"at": "OUT"}],
    }
    out = post(client, "/api/network/check", body)["outputs"][0]
    ends = [
        (v * r2 - 5 * r1) / (r1 + r2)
        for v in (4.9, 5.1)
        for r1 in (9.9, 10.1)
        for r2 in (19.8, 20.2)
    ]
    assert out["lowest_v"] == pytest.approx(min(ends), rel=1e-12)
    assert out["highest_v"] == pytest.approx(max(ends), rel=1e-12)
    # V = (5·20 − 5·10)/30: the supply makes 10/3 V of the 5/3 V
    supply = next(s for s in out["sensitivities"] if s["name"] == "supply")
    assert supply["relative"] == pytest.approx(2.0)


def test_folding_there_and_back_and_where_it_does_not_tell(client: TestClient) -> None:
    bare = post(client, "/api/network/fold", {"network": PAIR, "supply_v": 5, "low_v": -5})
    row = next(r for r in bare["table"] if r["ref"] == "R1")
    assert (row["voltage"]["text"], row["current"]["text"]) == ("3.333", "333.3")
    assert bare["ways"][0]["agree"]
    assert bare["low"] == "−5 V"
    assert [mark["name"] for mark in bare["drawing"]["grounds"]] == ["0 V"]
    loaded = post(client, "/api/network/fold", {"network": PAIR, **LOADED})
    assert loaded["taps"]["OUT"]["text"] == "1.364"
    assert loaded["whole"] is None
    assert "three ends do not fold" in loaded["note"]
    names = [level["name"] for level in loaded["heights"]["levels"]]
    assert names == ["in", "OUT", "0 V", "0"]


def test_an_unknown_part_between_two_supplies(client: TestClient) -> None:
    body = {
        "network": "R1=10k + @OUT + R2=?",
        "supply_v": 5,
        "low_v": -5,
        "node": {"at": "OUT", "v": 0},
    }
    assert post(client, "/api/network/unknown", body)["ohm"] == pytest.approx(10e3)


def test_a_ladder_down_to_a_negative_end(client: TestClient) -> None:
    body = {
        "supply_v": 5,
        "low_v": -5,
        "taps": [{"target_v": 3}, {"target_v": 1}],
        "values": {"series": ["E24"], "min_ohm": "1k", "max_ohm": "100k"},
        "limit": 1,
    }
    first = post(client, "/api/ladder/search", body)["candidates"][0]
    for tap, below in zip(first["taps"], (1, 2), strict=True):
        above = sum(first["resistors"][:below]) / sum(first["resistors"])
        assert tap["output_v"] == pytest.approx(5 - 10 * above)


@pytest.mark.parametrize(
    ("kind", "brief", "token"),
    [
        ("divider", {"supply_v": "5 V", "target_v": "1.2 V", "low_v": "1.3 V"}, "low_v"),
        ("ladder", {"supply_v": "5 V", "low_v": "2 V"}, "low_v"),
    ],
)
def test_a_low_end_above_what_is_wanted_is_told_at_its_token(
    client: TestClient, kind: str, brief: dict[str, str], token: str
) -> None:
    found = post(client, "/api/sheet", {"kind": kind, "brief": brief})
    assert not found["tokens"][token]["ok"]
    assert "is not below" in found["tokens"][token]["message"]


@pytest.mark.parametrize("kind", ["divider", "ladder"])
def test_choices_of_a_sheet_stand_as_the_check_says(client: TestClient, kind: str) -> None:
    sheet = post(
        client, "/api/sheet", {"kind": kind, "brief": {"supply_v": "5 V", "low_v": "-5 V"}}
    )
    choice = sheet["choices"][0]["notation"]
    outputs = [{"at": m["name"] or "OUT"} for m in sheet["choices"][0]["marks"]]
    check = {
        "network": choice,
        "supply": {"v": 5, "low_v": -5},
        "parts": {"default": {"tolerance": 0.01, "tcr_ppm": 100}},
        "environment": {"low_c": -20, "high_c": 60},
        "outputs": outputs,
    }
    found = post(client, "/api/network/check", check)["outputs"]
    for mark, out in zip(sheet["choices"][0]["marks"], found, strict=True):
        target = out["nominal_v"] / (1 + mark["error"])
        assert mark["lowest"] == pytest.approx(out["lowest_v"] / target - 1, abs=1e-9)
        assert mark["highest"] == pytest.approx(out["highest_v"] / target - 1, abs=1e-9)


def test_a_bench_between_two_supplies_reads_against_0_v(client: TestClient) -> None:
    brief = {"network": PAIR, "supply_v": "5 V", "low_v": "-5 V", "loads": "OUT 30k"}
    round_ = post(client, "/api/bench/round", {"kind": "network", "brief": brief})
    shown = {step["name"]: step["leads"] for step in round_["steps"]}
    assert round_["low"] == "−5 V"
    assert ["OUT", "0 V"] in shown.values()
    assert ["0", "0 V"] in shown.values()
    assert {"OUT", "0", "in", "0 V"} <= set(round_["places"])
