"""POST /api/bench/round: a design at the bench as the page shows it."""

from typing import Any

import pytest
from fastapi.testclient import TestClient

BRIEF = {
    "supply_v": "14.4 V", "target_v": "3 V", "within": "3 %", "load": "1 MΩ", "tolerance": "1 %",
    "rating": "1/4 W",
}  # fmt: skip
ASK: dict[str, Any] = {"kind": "divider", "brief": BRIEF, "choice": "R1=200k + @OUT + R2=56k"}
BOARD = "R1=200k + @OUT + R2=56k"
OUT = {"kind": "voltage", "at": "OUT", "against": "0"}


def ask(client: TestClient, **more: object) -> dict[str, Any]:
    found = client.post("/api/bench/round", json={**ASK, **more})
    assert found.status_code == 200, found.text
    return dict(found.json())


def test_every_step_says_where_how_and_between_what(client: TestClient) -> None:
    found = ask(client)
    assert (found["board"], found["powered"], found["build"]["words"]) == (BOARD, True, "not built")
    assert [s["name"] for s in found["steps"]] == [
        "R1", "R2", "in to 0", "in to 0", "OUT to 0", "the supply's",
    ]  # fmt: skip
    out = found["steps"][4]
    # By hand: 56k ‖ 1M ‖ 10M = 52.75 kΩ; 14.4 V · 52.75 / 252.75
    assert out["expected"] == "3.0054 V"
    assert out["beside"] == "3.018 V without the meter's input"
    assert out["range"] == "6 V"
    assert out["leads"] == ["OUT", "0"]
    assert set(found["places"]) == {"in", "0", "OUT"}
    assert found["hung"] == {"L1": "1 MΩ"}
    assert [p["bands"][:3] for p in found["parts"]] == [
        ["red", "black", "black"], ["green", "blue", "black"],
    ]  # fmt: skip
    assert found["steps"][0]["beside"] == ""
    assert found["gates"] == []


def test_expected_figures_are_those_of_expect(client: TestClient) -> None:
    found = ask(client)
    same = client.post(
        "/api/bench/expect",
        json={
            "network": BOARD,
            "supply": {"v": 14.4},
            "loads": [{"at": "OUT", "ohm": 1e6, "min_ohm": 0.9e6, "max_ohm": 1.1e6}],
            "parts": {"default": {"tolerance": "1 %"}},
            "points": [step["asked"] for step in found["steps"]],
        },
    ).json()
    for step, point in zip(found["steps"], same["points"], strict=True):
        for name in ("expected", "lowest", "highest", "shows", "range_full", "jack"):
            assert step["point"][name] == point[name]


def test_readings_are_judged_and_what_was_measured_counts(client: TestClient) -> None:
    readings = [
        {"kind": "resistance", "part": "R1", "text": "200k5", "board": BOARD},
        {"kind": "resistance", "part": "R2", "text": "56k4", "board": BOARD},
        {**OUT, "text": "3.03", "board": BOARD},
        {"kind": "current", "through": "supply", "text": "many", "board": BOARD},
        {**OUT, "text": "1.0", "board": "R1=220k + @OUT + R2=56k"},
    ]
    found = ask(client, readings=readings)
    told = [s["told"] for s in found["steps"]]
    assert told == ["as expected", "as expected", None, None, "as expected", None]
    assert found["elsewhere"] == 1
    assert found["following"] == 2
    assert found["build"]["words"] == "3 of 6 as expected"
    # By hand: the meter says 198.4k to 202.6k and 55.86k to 56.94k, the marks ± 1 %: the middle of both
    assert [p["shown"] for p in found["measured"]] == ["200.2 kΩ", "56.211 kΩ"]
    wrong = found["steps"][5]["reading"]
    assert (wrong["text"], wrong["value"]) == ("many", None)
    assert "“many”" in wrong["wrong"]
    assert [g["name"] for g in found["gates"]] == ["value", "spread", "load", "power"]
    plain = ask(client, readings=readings, as_built=False)
    assert plain["measured"] == []
    wide, narrow = (f["steps"][4]["point"] for f in (plain, found))
    assert narrow["highest"] - narrow["lowest"] < wide["highest"] - wide["lowest"]


def test_the_first_far_out_reading_stops_it(client: TestClient) -> None:
    found = ask(client, readings=[{**OUT, "text": "14.2"}])
    assert (found["stopped"], found["build"]["verdict"]) == (4, "fail")
    assert found["stop"].startswith("Stop at OUT against 0: it reads 14.2 V, expected ")
    assert found["steps"][4]["place"] > 4


def test_a_network_of_ones_own_and_a_netlist(client: TestClient) -> None:
    text = "R1 in a 1k\nR2 in b 2k\nR3 a b 3k\nR4 a 0 4k\nR5 b 0 5k"
    brief = {"network": text, "supply_v": "5 V", "tolerance": "1 %", "loads": "none"}
    found = ask(client, kind="network", brief=brief, choice=None)
    assert set(found["places"]) == {"in", "0", "a", "b"}
    assert len(found["steps"]) == 5 + 1 + 3 + 1
    again = ask(
        client, kind="network", brief=brief, choice=None,
        readings=[{"kind": "resistance", "part": "R3", "text": "3k01", "board": found["board"]}],
    )  # fmt: skip
    assert again["elsewhere"] == 0
    assert again["steps"][2]["told"] == "as expected"


REFUSED = [
    ({"choice": None}, "no choice is pinned yet"),
    ({"brief": {"supply_v": "lots"}}, "the brief is not understood yet"),
    ({"meter": "none such"}, "there is no meter “none such”"),
    ({"readings": [{"kind": "voltage", "at": "X", "text": "1"}]}, "no junction called “X”"),
]


@pytest.mark.parametrize(("change", "told"), REFUSED)
def test_refusals_say_what_is_wrong(
    client: TestClient, change: dict[str, object], told: str
) -> None:
    refused = client.post("/api/bench/round", json={**ASK, **change})
    assert refused.status_code == 422
    assert told in refused.json()["detail"]


def test_values_among_the_series(client: TestClient) -> None:
    found = client.post("/api/reference/series", json={"ohm": "4k7"}).json()
    rows = {row["name"]: row for row in found["series"]}
    assert [n for n, r in rows.items() if r["has"]] == ["E3", "E6", "E12", "E24", "E192"]
    e96 = rows["E96"]
    assert (e96["below"], e96["nearest"], e96["above"]) == ("4.64 kΩ", "4.75 kΩ", "4.75 kΩ")
    assert e96["values"][e96["place"]] == "4.75"
    assert (e96["off"], found["power"]) == ("+1.06 %", 3)
    assert [len(r["values"]) for r in found["series"]] == [3, 6, 12, 24, 48, 96, 192]


def test_marks_as_typed_and_what_lies_beside_in_the_bin(client: TestClient) -> None:
    typed = client.post("/api/marks/read", json={"text": "BN BK red gold"}).json()
    assert typed["bands"] == ["brown", "black", "red", "gold"]
    first = typed["readings"][0]
    assert (first["ohm"], first["below_ohm"], first["above_ohm"]) == (1000, 910, 1100)
    code = client.post("/api/marks/read", json={"text": " 66B "}).json()
    assert (code["bands"], code["readings"][0]["ohm"]) == ([], 4750)
    assert code["readings"][0]["bin"] == "4.64 kΩ and 4.87 kΩ lie next to it in E96"
