"""What hides in series, over the wire."""

import pytest
from fastapi.testclient import TestClient

PATH = "/api/bench/hidden"


def test_a_network_or_its_resistance(client: TestClient) -> None:
    # By hand: 180 ‖ 360 is 120 Ω; 3 V reads 24 mA through it, so 5 Ω hide, 2 Ω the handheld's
    ask = {"supply_v": "3 V", "supply_a": "24 mA", "tolerance": "1 %", "supply_tolerance": "2 %"}
    by_network = client.post(PATH, json=ask | {"network": "180 || 360"}).json()
    by_value = client.post(PATH, json=ask | {"resistance_ohm": 120}).json()
    for found in (by_network, by_value):
        assert found["series_ohm"] == pytest.approx(5.0)
        assert (found["burden_ohm"], found["rest_ohm"]) == (2.0, pytest.approx(3.0))
        assert found["lowest_ohm"] == pytest.approx(2.94 / 24.27e-3 - 121.2)
        assert found["highest_ohm"] == pytest.approx(3.06 / 23.73e-3 - 118.8)
        assert found["range_full"] == 0.06
    own = {"amps": [{"full": 1, "accuracy": 0, "burden_ohm": 4.5}]}
    assert client.post(PATH, json=ask | {"resistance_ohm": 120, "meter": own}).json()["burden_ohm"] == 4.5  # fmt: skip


def test_switches_count(client: TestClient) -> None:
    ask = {"supply_v": 3, "supply_a": 0.02, "network": "120 || (S1 + 120)", "meter": "ideal"}
    assert client.post(PATH, json=ask).json()["series_ohm"] == pytest.approx(30)
    closed = client.post(PATH, json=ask | {"switches": {"S1": "closed"}}).json()
    assert closed["series_ohm"] == pytest.approx(90)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"supply_a": 0}, "supply_a"),
        ({"supply_a": -0.02}, "supply_a"),
        ({"network": "1k", "resistance_ohm": 5}, "body"),
        ({"resistance_ohm": None}, "body"),
        ({"switches": {"S1": "open"}}, "body"),
        ({"resistance_ohm": None, "network": "1k + S1"}, "resistance"),
        ({"meter": "none"}, "meter"),
        ({"tolerance": 1}, "tolerance"),
        ({"supply_v": "?"}, "supply_v"),
    ],
)
def test_refusals(client: TestClient, change: dict[str, object], field: str) -> None:
    ask = {"supply_v": 3, "supply_a": 0.02, "resistance_ohm": 120}
    answer = client.post(PATH, json=ask | change)
    assert answer.status_code == 422, answer.text
    assert answer.json()["errors"][0]["field"] == field


def test_a_current_that_may_be_none_has_no_upper_end(client: TestClient) -> None:
    ask = {"supply_v": 3, "supply_a": "10 µA", "resistance_ohm": 120}
    found = client.post(PATH, json=ask).json()
    assert found["highest_ohm"] is None
    assert found["lowest_ohm"] > 0
