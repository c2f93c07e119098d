"""The sheet as the page asks for it at every keystroke."""

from typing import Any

import pytest
from fastapi.testclient import TestClient

BUOY = {"supply_v": "14.4", "target_v": "3V0", "within": "3 %", "load": "1M"}


def sheet(client: TestClient, **ask: object) -> dict[str, Any]:
    answer = client.post("/api/sheet", json={"kind": "divider", "brief": BUOY, **ask})
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def test_tokens_say_what_they_are_and_what_can_be_left_out(client: TestClient) -> None:
    tokens = sheet(client)["tokens"]
    assert tokens["target_v"] == {
        "text": "3V0", "label": "wanted voltage", "ok": True, "shown": "3 V", "message": "",
        "absent": False, "position": None, "by": "",
    }  # fmt: skip
    assert tokens["source_ohm"]["absent"]
    assert not tokens["load"]["absent"]
    wrong = sheet(client, brief={**BUOY, "target_v": "3k3"})
    assert not wrong["tokens"]["target_v"]["ok"]
    assert (wrong["choices"], wrong["scale"]) == ([], None)
    assert wrong["standing"]["words"] == "brief not understood: wanted voltage"


def test_marks_are_deviations_on_one_scale(client: TestClient) -> None:
    answer = sheet(client)
    scale = answer["scale"]
    assert scale["within"] == 0.03
    assert scale["window_shown"] == "2.91 V … 3.09 V"
    for row in answer["choices"]:
        (mark,) = row["marks"]
        assert mark["lowest"] < mark["error"] < mark["highest"]
        assert row["spread"] == max(abs(mark["lowest"]), abs(mark["highest"]))
        assert float(row["off"]["text"].replace("−", "-")) == pytest.approx(
            100 * mark["error"], abs=6e-4
        )
    taps = sheet(client, kind="ladder", brief={"tap3_v": "0.5 V"})
    assert [m["name"] for m in taps["choices"][0]["marks"]] == ["T1", "T2", "T3"]
    assert taps["scale"]["window_shown"] == "± 3 % of each target"


def test_what_is_pinned_or_looked_at_stands_above_the_list(client: TestClient) -> None:
    pinned, seen = "R1=1k + @OUT + R2=1k", "R1=2k + @OUT + R2=1k"
    rows = sheet(client, choice=pinned, look=seen)["choices"]
    assert [(r["notation"], r["pinned"], r["listed"]) for r in rows[:2]] == [
        (pinned, True, False),
        (seen, False, False),
    ]
    assert all(r["listed"] for r in rows[2:])
    best = rows[2]["notation"]
    again = sheet(client, choice=best, look=best)["choices"]
    assert (again[0]["notation"], again[0]["pinned"], again[0]["listed"]) == (best, True, True)
    stray = sheet(client, choice="1k + 2k")
    assert stray["problem"].startswith("the pinned choice does not fit")
    assert len(stray["choices"]) == 12


def test_one_choice_is_shown_in_full(client: TestClient) -> None:
    first, second = sheet(client)["choices"][:2]
    assert sheet(client)["shown"]["notation"] == first["notation"]
    under = sheet(client, cursor=second["notation"])["shown"]
    assert under["notation"] == second["notation"]
    assert {g["name"] for g in under["gates"]} == {"value", "spread", "load", "power"}
    ask = {"kind": "divider", "brief": BUOY, "choice": second["notation"]}
    assert client.post("/api/sheet/shown", json=ask).json() == under
    pinned = sheet(client, choice="R1=1k + @OUT + R2=1k", cursor="gone")["shown"]
    assert pinned["notation"] == "R1=1k + @OUT + R2=1k"
    unread = {**ask, "brief": {**BUOY, "target_v": "3k3"}}
    refused = client.post("/api/sheet/shown", json=unread)
    assert refused.status_code == 422
    assert refused.json()["detail"] == (
        "the brief is not understood yet, so nothing can be weighed against it"
    )


def test_the_list_can_be_longer(client: TestClient) -> None:
    short, long = sheet(client), sheet(client, listed=60)
    assert (len(short["choices"]), short["more"]) == (12, True)
    assert (len(long["choices"]), long["more"]) == (60, False)
    assert [r["notation"] for r in long["choices"][:12]] == [
        r["notation"] for r in short["choices"]
    ]
    refused = client.post("/api/sheet", json={"kind": "divider", "listed": 61})
    assert refused.status_code == 422


def test_too_many_values_are_told_on_the_sheet(client: TestClient) -> None:
    answer = sheet(client, brief={**BUOY, "values": "E192", "per_leg": "2"})
    assert answer["choices"] == []
    # 192 values a decade over seven decades, both ends included
    assert answer["problem"] == (
        "1345 values are more than the 700 searched for legs of two parts: "
        "narrow the range or use one part per leg"
    )
    assert answer["standing"]["words"] == answer["problem"]


def test_a_choice_states_itself_as_a_network(client: TestClient) -> None:
    brief = {**BUOY, "source_ohm": "50"}
    answer = sheet(client, brief=brief, choice="R1=200k + @OUT + R2=56k")
    own = answer["shown"]["as_network"]
    assert own == {
        "network": "R1=200k + @OUT + R2=56k", "supply_v": "14.4 V", "source_ohm": "50 Ω",
        "loads": "OUT 1 MΩ ± 10 %", "wanted": "OUT 3 V ± 3 %", "tolerance": "1 %", "tcr": "100 ppm/K",
        "drift": "0 %", "rating": "0603", "stress": "50 %", "low_c": "−20 °C", "high_c": "60 °C",
    }  # fmt: skip
    folded = client.post("/api/network/sheet", json={"brief": own}).json()["folded"]
    assert folded["taps"]["OUT"] == next(r for r in answer["choices"] if r["pinned"])["output"]


@pytest.mark.parametrize("choice", [None, "R1=200k + @OUT + R2=56k"])
def test_a_save_of_what_is_on_screen_is_not_worked_out_again(
    client: TestClient, monkeypatch: pytest.MonkeyPatch, choice: str | None
) -> None:
    brief = {"supply_v": "14.4 V", "target_v": "3V1", "load": "1M"}
    ask = {"kind": "divider", "brief": brief, "prefer": "nearest", "choice": choice}
    sheet = client.post("/api/sheet", json=ask).json()

    def again(*_: object) -> None:
        pytest.fail("worked out again")

    monkeypatch.setattr("lowfold.api.standings.stand", again)
    saved = client.post("/api/designs", json=ask | {"name": "Sense"})
    assert saved.json()["standing"] == sheet["standing"]
    longer = client.post("/api/sheet", json=ask | {"listed": 40}).json()
    assert longer["standing"] == sheet["standing"]
