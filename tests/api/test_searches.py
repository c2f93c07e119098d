"""The search endpoints as the wire contract has them."""

import pytest
from fastapi.testclient import TestClient

from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import resistance


def test_health(client: TestClient) -> None:
    answer = client.get("/api/health")
    assert answer.json()["status"] == "ok"
    assert answer.json()["version"]


def test_resistance_search_answers_in_full(client: TestClient) -> None:
    ask = {
        "target_ohm": "4.321 kΩ",
        "values": {"series": ["e24"]},
        "max_parts": 2,
        "tolerance": "1 %",
        "limit": 3,
    }
    answer = client.post("/api/resistance/search", json=ask).json()
    assert set(answer) >= {"candidates", "frontier", "exact"}
    assert answer["exact"] is True
    best = answer["candidates"][0]
    assert set(best) == {
        "expression",
        "parts",
        "resistance_ohm",
        "error",
        "lowest_ohm",
        "highest_ohm",
    }
    assert (best["expression"], best["parts"], best["resistance_ohm"]) == ("4k3 + 20", 2, 4320.0)
    assert best["error"] == pytest.approx(4320 / 4321 - 1, rel=1e-15)
    assert (best["lowest_ohm"], best["highest_ohm"]) == pytest.approx((4320 * 0.99, 4320 * 1.01))
    assert [(f["parts"], f["worthwhile"]) for f in answer["frontier"]] == [(1, True), (2, True)]


def test_resistance_search_takes_numbers_and_a_stock_with_counts(client: TestClient) -> None:
    stock = [{"ohm": 20, "count": 1}, {"ohm": "50", "count": 2}, {"ohm": 20}]
    answer = client.post(
        "/api/resistance/search", json={"target_ohm": 40, "values": {"stock": stock}, "limit": 50}
    ).json()
    assert answer["candidates"][0]["expression"] == "20 + 20"  # the second line brings plenty
    few = {"stock": [{"ohm": 20, "count": 1}]}
    answer = client.post("/api/resistance/search", json={"target_ohm": 40, "values": few}).json()
    assert [c["expression"] for c in answer["candidates"]] == ["20"]


def test_expressions_are_in_the_notation_and_carry_every_digit(client: TestClient) -> None:
    ask = {"target_ohm": 1234.5, "values": {"stock": [{"ohm": 123.456789012}, {"ohm": "1k1"}]}}
    for candidate in client.post("/api/resistance/search", json=ask).json()["candidates"]:
        network = read_text(candidate["expression"])
        assert not isinstance(network, Netlist)
        assert resistance(network) == pytest.approx(candidate["resistance_ohm"], rel=1e-12)


def test_an_empty_list_has_a_reason(client: TestClient) -> None:
    ask = {"target_ohm": 5, "values": {"series": ["E24"], "min_ohm": "1k"}, "within": "1 %"}
    answer = client.post("/api/resistance/search", json=ask)
    assert answer.status_code == 200
    assert answer.json()["candidates"] == []
    assert "nothing lies within" in answer.json()["reason"]


def test_divider_search_answers_in_full(client: TestClient) -> None:
    ask = {
        "supply_v": "14.4 V", "supply_tolerance": "3 %", "target_v": "3V0", "load_ohm": "200k",
        "values": {"series": ["E24"]}, "max_current_a": "80 µA", "limit": 5,
    }  # fmt: skip
    answer = client.post("/api/divider/search", json=ask).json()
    best = answer["candidates"][0]
    assert set(best) == {
        "network", "upper", "lower", "output_v", "error", "unloaded_v", "current_a", "output_ohm",
        "lowest_v", "highest_v", "powers_w",
    }  # fmt: skip
    assert best["network"] == "R1=360k + @OUT + R2=180k"
    assert (best["upper"], best["lower"]) == ("R1=360k", "R2=180k")
    assert best["output_v"] == 3.0
    assert best["unloaded_v"] == pytest.approx(4.8)
    assert set(best["powers_w"]) == {"R1", "R2"}
    assert all(c["current_a"] <= 80e-6 for c in answer["candidates"])


def test_the_checks_agree_with_the_search(client: TestClient) -> None:
    ask = {
        "supply_v": 12,
        "supply_tolerance": 0.05,
        "target_v": 5,
        "load_a": "1 mA",
        "source_ohm": 10,
        "limit": 3,
    }
    for found in client.post("/api/divider/search", json=ask).json()["candidates"]:
        checked = client.post(
            "/api/network/check",
            json={
                "network": found["network"],
                "supply": {"v": 12, "tolerance": 0.05, "source_ohm": 10},
                "loads": [{"at": "out", "a": 1e-3}],
                "parts": {"default": {"tolerance": "1 %"}},
                "outputs": [{"at": "OUT"}],
            },
        ).json()["outputs"][0]
        assert checked["nominal_v"] == pytest.approx(found["output_v"], rel=1e-12)
        assert checked["lowest_v"] == pytest.approx(found["lowest_v"], rel=1e-12)
        assert checked["highest_v"] == pytest.approx(found["highest_v"], rel=1e-12)


UNMET = [
    ({"supply_v": 5, "target_v": 6}, "a divider's output lies between its ends"),
    (
        {"supply_v": 5, "target_v": 3, "max_current_a": "1 nA"},
        "no pair of these values meets every bound",
    ),
]


@pytest.mark.parametrize(("ask", "reason"), UNMET)
def test_what_no_divider_meets_is_answered(
    client: TestClient, ask: dict[str, object], reason: str
) -> None:
    answer = client.post("/api/divider/search", json={**ask, "within": 0.1})
    assert answer.status_code == 200
    assert answer.json()["candidates"] == []
    assert answer.json()["reason"].startswith(reason)


def test_the_openapi_document_carries_working_examples(client: TestClient) -> None:
    schemas = client.get("/openapi.json").json()["components"]["schemas"]
    paths = {
        "ResistanceAsk": "/api/resistance/search", "DividerAsk": "/api/divider/search",
        "SolveAsk": "/api/network/solve", "CheckAsk": "/api/network/check", "SheetAsk": "/api/sheet",
    }  # fmt: skip
    for name, path in paths.items():
        for example in schemas[name]["examples"]:
            assert client.post(path, json=example).status_code == 200


def test_feedback_search_answers_as_a_divider_without_a_supply(client: TestClient) -> None:
    ask = {"reference_v": "0.8 V", "target_v": 3.4, "pin_a": "1 µA", "values": {"stock": [{"ohm": "32k"}, {"ohm": "100k"}]}}  # fmt: skip
    answer = client.post("/api/divider/feedback", json=ask).json()
    best = answer["candidates"][0]
    # By hand: 0.8·(1 + 100/32) + 1 µA·100 kΩ = 3.4 V
    assert (best["network"], best["upper"], best["lower"]) == (
        "R1=100k + @FB + R2=32k", "R1=100k", "R2=32k",
    )  # fmt: skip
    assert (best["output_v"], best["unloaded_v"], best["current_a"]) == (3.4, 3.3, 25e-6)
    assert answer["exact"] is True
    assert set(best["powers_w"]) == {"R1", "R2"}
    refused = client.post("/api/divider/feedback", json={**ask, "supply_v": 5})
    assert refused.json()["errors"][0]["field"] == "supply_v"


def test_ladder_search_answers_top_to_bottom(client: TestClient) -> None:
    # Common practice, worked by hand in the trade: 2, 3 and 5 Ω on 10 V
    ask = {
        "supply_v": "10 V",
        "taps": [{"target_v": "8 V"}, {"target_v": "5 V"}],
        "values": {"stock": [{"ohm": 2}, {"ohm": 3}, {"ohm": 5}]},
        "tolerance": "1 %",
    }
    answer = client.post("/api/ladder/search", json=ask).json()
    best = answer["candidates"][0]
    assert best["resistors"] == [2.0, 3.0, 5.0]
    assert best["network"] == "R1=2 + @T1 + R2=3 + @T2 + R3=5"
    assert [t["output_v"] for t in best["taps"]] == [8.0, 5.0]
    assert (best["worst_error"], best["current_a"]) == (0.0, 1.0)
    # Extremes by hand: 10·5.05/(5.05 + 1.98 + 2.97) and 10·4.95/(4.95 + 2.02 + 3.03)
    assert best["taps"][1]["highest_v"] == pytest.approx(50.5 / 10.0)
    assert best["taps"][1]["lowest_v"] == pytest.approx(49.5 / 10.0)
    assert answer["exact"] is True
    assert answer["method"]
    upside = client.post("/api/ladder/search", json={**ask, "taps": ask["taps"][::-1]})  # type: ignore[index]
    assert upside.status_code == 422
    assert upside.json()["errors"][0]["field"] == "taps.1.target_v"


def test_six_parts_of_a_small_stock_and_no_more(client: TestClient) -> None:
    stock = [{"ohm": 10, "count": 6}, {"ohm": 22, "count": 2}]
    ask = {"target_ohm": 37.7, "values": {"stock": stock}, "max_parts": 6}
    answer = client.post("/api/resistance/search", json=ask).json()
    assert answer["candidates"][0]["parts"] <= 6
    assert len(answer["frontier"]) == 6
    assert client.post("/api/resistance/search", json={**ask, "max_parts": 7}).status_code == 422


def test_a_sheet_of_every_kind_says_what_was_searched(client: TestClient) -> None:
    for kind, what in (("resistance", "combinations"), ("divider", "pairs"), ("feedback", "pairs"), ("ladder", "ladders")):  # fmt: skip
        sheet = client.post("/api/sheet", json={"kind": kind}).json()
        assert (sheet["what"], sheet["exact"]) == (what, True)
        assert len(sheet["choices"]) == 12
        assert sheet["more"]
        row = sheet["choices"][0]
        assert row["parts"] >= row["distinct"] >= 1
        assert row["series"] in {"E3", "E6", "E12", "E24"}
        assert len(sheet["shown"]["gates"]) == 4


def test_a_choice_from_the_trade_off_is_weighed_beside_the_list(client: TestClient) -> None:
    brief = {"supply_v": "14.4 V", "target_v": "3.1 V", "within": "3 %"}
    trades = client.post("/api/sheet/trades", json={"kind": "divider", "brief": brief}).json()
    amps = [t["amps"] for t in trades["trades"]]
    assert amps == sorted(amps)
    errors = [abs(t["error"]) for t in trades["trades"]]
    assert errors == sorted(errors, reverse=True)
    look = trades["trades"][0]["notation"]
    sheet = client.post("/api/sheet", json={"kind": "divider", "brief": brief, "look": look}).json()
    seen = next(c for c in sheet["choices"] if c["notation"] == look)
    assert seen["marks"][0]["error"] == pytest.approx(trades["trades"][0]["error"], abs=1e-12)
