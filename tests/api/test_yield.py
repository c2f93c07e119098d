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


def test_a_choice_is_looked_into(client: TestClient) -> None:
    brief = {"supply_v": "14.4 V", "target_v": "3 V", "within": "3 %", "load": "1M"}
    ask = {"kind": "divider", "brief": brief, "choice": "R1=200k + @OUT + R2=56k"}
    found = client.post("/api/sheet/opened", json=ask).json()
    picture = found["scatters"][0]
    assert sum(picture["counts"]) == 100_000
    assert picture["lowest"] <= picture["edges"][0] < picture["edges"][-1] <= picture["highest"]
    shares = [abs(c["share"]) for c in found["contributions"]]
    assert shares == sorted(shares, reverse=True)
    # Closed form: S = ∓RU/(RU + RL‖load) for the upper leg, over 1 % + 100 ppm/K · 45 K, of 3 %
    lower = 56e3 * 1e6 / 1.056e6
    nominal = 14.4 * lower / (200e3 + lower)
    upper = next(c["share"] for c in found["contributions"] if c["name"] == "R1")
    expected = -200e3 / (200e3 + lower) * 0.0145 * nominal / (3 * 0.03)
    assert abs(upper - expected) < 1e-9
    faults = {f["words"]: f["outputs"]["OUT"] for f in found["faults"]}
    # By hand: 1 MΩ below 200 kΩ alone leaves 12 V
    assert faults["R2 opens"] == {"text": "12.00", "unit": "V"}
    assert faults["R1 is shorted"] == {"text": "14.40", "unit": "V"}
    assert [p["ref"] for p in found["parts"]] == ["R1", "R2"]
    assert found["derating"].startswith("0603: 100 mW up to 70 °C, 100 mW at 60 °C")


def test_every_kind_of_choice_can_be_looked_into(client: TestClient) -> None:
    for kind in ("resistance", "divider", "feedback", "ladder"):
        choice = client.post("/api/sheet", json={"kind": kind}).json()["choices"][0]["notation"]
        answer = client.post("/api/sheet/opened", json={"kind": kind, "choice": choice})
        assert answer.status_code == 200, answer.text
        taps = {"feedback": 0, "ladder": 2}.get(kind, 1)
        assert len(answer.json()["scatters"]) == taps
    wrong = {"kind": "divider", "brief": {"target_v": "x"}, "choice": "1k + @OUT + 1k"}
    refused = client.post("/api/sheet/opened", json=wrong)
    assert refused.json()["detail"] == "the brief is not understood: see what its tokens say"
