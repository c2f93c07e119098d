"""Yields and faults over HTTP."""

from fastapi.testclient import TestClient

ASK = {
    "network": "R1=10k + @OUT + R2=4k7",
    "supply": {"v": 12, "tolerance": "2 %"},
    "parts": {"default": {"tolerance": "1 %", "rating_w": "20 mW"}},
    "outputs": [{"at": "OUT", "target_v": 3.84, "allowed": "2 %"}],
    "resistance": {"target_ohm": "14k7", "allowed": "0.5 %"},
    "samples": 50_000,
    "seed": 9,
}


def test_yield_answers_with_the_names_of_the_contract(client: TestClient) -> None:
    answer = client.post("/api/network/yield", json=ASK).json()
    output, resistance = answer["outputs"][0], answer["resistance"]
    names = {"yield", "yield_low", "yield_high", "mean", "stdev", "histogram", "percentiles"}
    assert set(output) == names | {"at"}
    assert set(resistance) == names
    for found in (output, resistance):
        assert found["yield_low"] < found["yield"] < found["yield_high"]
        assert sum(found["histogram"]["counts"]) == 50_000
        assert len(found["histogram"]["edges"]) == len(found["histogram"]["counts"]) + 1
    again = client.post("/api/network/yield", json=ASK).json()
    assert again == answer
    normal = client.post("/api/network/yield", json={**ASK, "distribution": "normal"}).json()
    assert normal["outputs"][0]["yield"] > output["yield"]


def test_yield_without_a_window_and_with_nothing_asked(client: TestClient) -> None:
    plain = {**ASK, "outputs": [{"at": "OUT"}]}
    plain.pop("resistance")
    found = client.post("/api/network/yield", json=plain).json()
    assert found["resistance"] is None
    assert found["outputs"][0]["yield"] is None
    assert found["outputs"][0]["mean"] > 3.8
    nothing = client.post("/api/network/yield", json={**plain, "outputs": []})
    assert nothing.json()["detail"] == "nothing is asked for: give outputs, resistance, or both"
    many = client.post("/api/network/yield", json={**ASK, "samples": 2_000_001})
    assert many.status_code == 422
    assert many.json()["errors"][0]["field"] == "samples"


def test_a_check_tells_what_each_fault_does(client: TestClient) -> None:
    ask = {k: v for k, v in ASK.items() if k not in {"samples", "seed"}}
    faults = client.post("/api/network/check", json=ask).json()["faults"]
    found = {(f["ref"], f["mode"]): f for f in faults}
    assert set(found) == {("R1", "open"), ("R1", "short"), ("R2", "open"), ("R2", "short")}
    assert found["R2", "open"]["outputs"] == {"OUT": 12.0}
    assert found["R1", "short"]["overloaded"] == ["R2"]  # by hand: 144/4700 is 30.6 of 20 mW
    assert not found["R1", "short"]["supply_shorted"]
    bare = client.post("/api/network/check", json={"network": "R1=1k", "supply": {"v": 5}}).json()
    assert {f["mode"]: f["supply_shorted"] for f in bare["faults"]} == {
        "open": False,
        "short": True,
    }
