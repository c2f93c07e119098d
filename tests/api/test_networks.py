"""Solving and checking networks over HTTP."""

import pytest
from fastapi.testclient import TestClient

LADDER = "R1=6k8 + @A + (R4=12k || (R2=1k + @B + R3=2k2))"
NETLIST = "R1 in A 6k8\nR4 A 0 12k\nR2 A B 1k\nR3 B 0 2k2"


@pytest.mark.parametrize("network", [LADDER, NETLIST, NETLIST.replace("\n", "; ")])
def test_solving_either_form(client: TestClient, network: str) -> None:
    # Common practice: 4.063 V over the 12 kΩ, 2.793 V over the 2.2 kΩ, 1.608 mA total
    answer = client.post("/api/network/solve", json={"network": network, "supply_v": "15 V"}).json()
    assert answer["nodes"]["A"] == pytest.approx(4.063, abs=5e-4)
    assert answer["nodes"]["B"] == pytest.approx(2.793, abs=5e-4)
    assert answer["supply_a"] == pytest.approx(1.608e-3, abs=5e-7)
    assert answer["supply_w"] == pytest.approx(15 * answer["supply_a"])
    by_ref = {p["ref"]: p for p in answer["parts"]}
    assert set(by_ref["R4"]) == {"ref", "ohm", "voltage_v", "current_a", "power_w"}
    assert by_ref["R4"]["current_a"] == pytest.approx(338.6e-6, abs=5e-8)
    assert sum(p["power_w"] for p in answer["parts"]) == pytest.approx(answer["supply_w"])
    assert all(c["holds"] for c in answer["checks"])


def test_total_counts_resistive_loads_and_leaves_the_source_out(client: TestClient) -> None:
    ask = {
        "network": "1k + @OUT + 1k",
        "supply_v": 10,
        "source_ohm": 100,
        "loads": [{"at": "OUT", "ohm": "1k"}],
    }
    answer = client.post("/api/network/solve", json=ask).json()
    assert answer["total_ohm"] == pytest.approx(1500)
    assert answer["supply_a"] == pytest.approx(10 / 1600)
    assert answer["terminal_v"] == pytest.approx(10 * 1500 / 1600)


def test_switches_open_and_closed(client: TestClient) -> None:
    ask = {"network": "1k + @A + (S1 || 2k)", "supply_v": 3}
    assert client.post("/api/network/solve", json=ask).json()["nodes"]["A"] == pytest.approx(2.0)
    closed = client.post("/api/network/solve", json={**ask, "switches": {"S1": "closed"}}).json()
    assert closed["nodes"]["A"] == 0.0
    opened = client.post("/api/network/solve", json={"network": "S1 + 1k", "supply_v": 3}).json()
    assert opened["total_ohm"] is None
    assert opened["supply_a"] == 0.0


def test_a_starved_current_load_brings_a_caution(client: TestClient) -> None:
    ask = {"network": "1k + @OUT + 1k", "supply_v": 5, "loads": [{"at": "OUT", "a": 1}]}
    answer = client.post("/api/network/solve", json=ask).json()
    assert answer["nodes"]["OUT"] == 0.0
    assert "OUT wants more current than the network can give" in answer["caution"]


def test_high_voltage_brings_a_caution(client: TestClient) -> None:
    answer = client.post("/api/network/solve", json={"network": "1M", "supply_v": 325}).json()
    assert [c["code"] for c in answer["cautions"]] == ["hazardous-voltage"]
    assert "licensed practice" in answer["cautions"][0]["message"]


def test_checking_a_divider(client: TestClient) -> None:
    ask = {
        "network": "R1=200k + @OUT + R2=56k",
        "supply": {"v": 14.4},
        "loads": [{"at": "OUT", "ohm": "1M"}],
        "parts": {
            "default": {"tolerance": "1 %", "tcr_ppm": 100, "rating_w": "100 mW", "limiting_v": 75}
        },
        "environment": {"low_c": -20, "high_c": 60, "reference_c": 25},
        "outputs": [{"at": "OUT", "target_v": 3, "allowed": "3 %"}],
        "resistance": {"target_ohm": "253k", "allowed": "2 %"},
    }
    answer = client.post("/api/network/check", json=ask).json()
    output = answer["outputs"][0]
    half = 0.01 + 45 * 100e-6
    up, down = 200e3 * (1 + half), 56e3 * (1 - half)
    lower = down * 1e6 / (down + 1e6)
    assert output["lowest_v"] == pytest.approx(14.4 * lower / (up + lower), rel=1e-12)
    assert output["lowest_corner"] == {"R1": "high", "R2": "low"}
    assert output["verdict"] == "marginal"
    shares = [s["contribution_v"] for s in output["sensitivities"]]
    spread = sum(x * x for x in shares) ** 0.5
    assert output["rss_high_v"] - output["nominal_v"] == pytest.approx(spread)
    assert answer["resistance"]["nominal_ohm"] == pytest.approx(200e3 + 56e3 * 1e6 / 1.056e6)
    assert answer["resistance"]["verdict"] == "pass"
    part = answer["parts"][0]
    assert (part["ref"], part["rated_w"], part["allowed_w"], part["allowed_v"]) == (
        "R1",
        0.1,
        0.05,
        75,
    )
    assert part["stress"] == pytest.approx(part["worst_w"] / 0.1)
    assert answer["verdict"] == "marginal"


def test_what_is_not_given_is_not_judged(client: TestClient) -> None:
    answer = client.post("/api/network/check", json={"network": "1k", "supply": {"v": 5}}).json()
    assert answer["verdict"] is None
    assert answer["resistance"] is None
    assert answer["parts"][0]["verdict"] is None
    assert answer["parts"][0]["rated_w"] is None
    undriven = {"network": "1k", "parts": {"default": {"rating_w": 1}}, "resistance": {}}
    answer = client.post("/api/network/check", json=undriven).json()
    assert answer["resistance"]["nominal_ohm"] == 1000.0
    assert answer["verdict"] is None


REFUSED = [
    ("solve", {"network": "1k +", "supply_v": 1}, "network", "the text ends at character 5"),
    ("solve", {"network": "1k", "supply_v": 1, "loads": [{"at": "X", "ohm": 1}]}, "loads", "the network has no junction called “X”"),
    ("solve", {"network": "1k", "supply_v": 1, "switches": {"S9": "closed"}}, "switches", "the network has no switch called “S9”"),
    ("solve", {"network": "1k", "supply_v": 1, "loads": [{"at": "in"}]}, "loads.0", "a load is a resistance or a current"),
    ("check", {"network": "1k + @A + 1k", "outputs": [{"at": "A"}]}, "body", "outputs need a supply"),
    ("check", {"network": "1k + @A + 1k", "supply": {"v": 1}, "outputs": [{"at": "B"}]}, "outputs", "the network has no junction called “B”"),
    ("check", {"network": "1k", "supply": {"v": 1}, "parts": {"R7": {}}}, "parts", "the network has no part called “R7”"),
    ("check", {"network": "1k + @A + 1k", "supply": {"v": 1}, "loads": [{"at": "A", "ohm": 5, "min_ohm": 9}]}, "loads.0", "the load's range"),
    ("check", {"network": "1k", "supply": {"v": 1}, "environment": {"low_c": 90, "high_c": 10}}, "environment.low_c", "the coldest"),
    ("check", {"network": "1k", "supply": {"v": 1}, "parts": {"default": {"tolerance": "60 %", "drift": "50 %"}}}, "parts", "R1 may deviate by 1.1"),
]  # fmt: skip


@pytest.mark.parametrize(("path", "ask", "field", "message"), REFUSED)
def test_refusals_name_the_field(
    client: TestClient, path: str, ask: dict[str, object], field: str, message: str
) -> None:
    answer = client.post(f"/api/network/{path}", json=ask)
    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"
    error = answer.json()["errors"][0]
    assert error["field"] == field
    assert error["message"].startswith(message)


def test_the_position_of_a_bad_character_is_told(client: TestClient) -> None:
    answer = client.post("/api/network/solve", json={"network": "1k + 4z7", "supply_v": 1}).json()
    assert answer["errors"][0]["position"] == 5
