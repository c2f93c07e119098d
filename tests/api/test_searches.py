"""The search endpoints as the wire contract has them."""

import pytest
from fastapi.testclient import TestClient

from lowfold.core.network import resistance
from lowfold.core.notation import Netlist, read_text


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
