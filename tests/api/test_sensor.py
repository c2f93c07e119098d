"""A sensor over HTTP: the contract's fields, notation, and refusals."""

import pytest
from fastapi.testclient import TestClient

SENSOR = [{"ohm": "27k", "label": "0 °C"}, {"ohm": "11k2"}, {"ohm": "5k1", "label": "40 °C"}]


def test_the_contracts_fields_by_hand(client: TestClient) -> None:
    ask = {"supply_v": "3V3", "sensor": SENSOR, "values": {"series": ["E24"]}, "aim": "swing"}
    found = client.post("/api/sensor/search", json=ask).json()
    assert (found["exact"], found["reason"]) == (True, None)
    first = found["candidates"][0]
    assert (first["resistor_ohm"], first["position"]) == (12000, "lower")
    # By the divider rule: 3.3 V · R/(12 kΩ + R)
    assert first["outputs_v"] == pytest.approx([3.3 * r / (12 + r) for r in (27, 11.2, 5.1)])
    assert first["swing_v"] == pytest.approx(first["outputs_v"][0] - first["outputs_v"][2])
    assert first["lowest_v"][0] == pytest.approx(3.3 * 27 / (12.12 + 27))
    assert first["highest_v"][0] == pytest.approx(3.3 * 27 / (11.88 + 27))
    # Hottest where the sensor is nearest to the resistor
    hottest = max(v * v / r for v, r in zip(first["outputs_v"], (27e3, 11.2e3, 5.1e3), strict=True))
    assert first["sensor_w"] == pytest.approx(hottest)
    solved = {"network": first["network"], "supply_v": 3.3}
    nodes = client.post("/api/network/solve", json=solved).json()["nodes"]
    assert nodes["OUT"] == pytest.approx(first["outputs_v"][0])


def test_either_leg_a_window_and_a_load(client: TestClient) -> None:
    ask = {
        "supply_v": 3.3, "sensor": SENSOR, "position": "either", "aim": "window",
        "window_v": ["0.5 V", "2V5"], "load_ohm": "1M", "max_sensor_w": "1 mW",
    }  # fmt: skip
    found = client.post("/api/sensor/search", json=ask).json()
    assert {c["position"] for c in found["candidates"]} == {"lower", "upper"}
    assert all(0.5 <= v <= 2.5 for c in found["candidates"] for v in c["outputs_v"])
    nothing = client.post("/api/sensor/search", json={**ask, "window_v": [3.2, 3.25]}).json()
    assert nothing["candidates"] == []
    assert nothing["reason"].startswith("no value keeps every output inside 3.2 V to 3.25 V")


@pytest.mark.parametrize(
    ("changed", "field"),
    [
        ({"sensor": SENSOR[:1]}, "sensor"),
        ({"sensor": SENSOR * 4}, "sensor"),
        ({"aim": "window"}, "window_v"),
        ({"window_v": [1, 2]}, "window_v"),
        ({"limit": 501}, "limit"),
        ({"supply_v": 0}, "supply_v"),
    ],
)
def test_what_is_wrong_is_told_by_its_field(
    client: TestClient, changed: dict[str, object], field: str
) -> None:
    answer = client.post("/api/sensor/search", json={"supply_v": 3.3, "sensor": SENSOR, **changed})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field


def test_the_sheet_of_a_sensor_shows_what_the_search_finds(client: TestClient) -> None:
    brief = {
        "supply_v": "3V3", "sensor": "0 °C 27k, 20 °C 11k2, 40 °C 5k1", "values": "E24",
        "aim": "swing", "position": "lower", "window": "0.25 V to 2.98765 V", "tolerance": "1 %",
    }  # fmt: skip
    found = client.post("/api/sensor/sheet", json={"brief": brief}).json()
    assert {k: t["message"] for k, t in found["tokens"].items() if t["message"]} == {}
    ask = {"supply_v": "3V3", "sensor": SENSOR, "values": {"series": ["E24"]}, "aim": "swing"}
    searched = client.post("/api/sensor/search", json=ask).json()["candidates"]
    assert [c["network"] for c in found["choices"]] == [
        c["network"] for c in searched[: len(found["choices"])]
    ]
    shown = found["shown"]
    assert [p["volts"] for p in shown["curve"]] == pytest.approx(searched[0]["outputs_v"])
    # Windows are stated to the digit, and shown to four figures
    assert [(e["volts"], e["shown"]) for e in found["window"]] == [
        (0.25, {"text": "250.0", "unit": "mV"}),
        (2.98765, {"text": "2.988", "unit": "V"}),
    ]
    looked = client.post(
        "/api/sensor/sheet", json={"brief": brief, "cursor": found["choices"][1]["network"]}
    ).json()
    assert looked["shown"]["network"] == found["choices"][1]["network"]


def test_a_sheet_whose_brief_is_not_understood_keeps_what_was(client: TestClient) -> None:
    found = client.post("/api/sensor/sheet", json={"brief": {"sensor": "27k"}}).json()
    assert (found["choices"], found["shown"], found["window"]) == ([], None, [])
    assert found["tokens"]["sensor"]["message"]
    assert found["tokens"]["supply_v"]["message"] == ""
