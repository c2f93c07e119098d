"""Marks and meters over the wire, as the contract has them."""

import pytest
from fastapi.testclient import TestClient


def read(client: TestClient, **ask: object) -> dict[str, list[dict[str, object]]]:
    answer = client.post("/api/marks/read", json=ask)
    assert answer.status_code == 200, answer.text
    found: dict[str, list[dict[str, object]]] = answer.json()
    return found


def refused(client: TestClient, path: str, **ask: object) -> tuple[str, str]:
    answer = client.post(path, json=ask)
    assert answer.status_code == 422, answer.text
    assert answer.headers["content-type"] == "application/problem+json"
    first = answer.json()["errors"][0]
    return first["field"], first["message"]


def test_bands_from_both_ends(client: TestClient) -> None:
    # Trade, section 8: 68.0 Ω ± 2 %; a part that reads 68.7 Ω is inside
    found = read(client, bands=["blue", "grey", "black", "gold", "red"], measured_ohm="68R7")
    first = found["readings"][0]
    assert (first["ohm"], first["tolerance"], first["from"], first["holds"]) == (68.0, 0.02, "left", True)  # fmt: skip
    assert (first["lowest_ohm"], first["highest_ohm"]) == pytest.approx((66.64, 69.36))
    assert first["series"] == ["E6", "E12", "E24"]
    assert {(o["band"], o["seen"], o["instead"]) for o in found["also"]} == {
        (1, "blue", "violet"), (1, "blue", "grey"), (2, "grey", "blue"), (2, "grey", "violet"),
        (4, "gold", "yellow"), (5, "red", "orange"), (5, "red", "brown"),
    }  # fmt: skip


def test_the_meter_decides_whether_a_part_may_be_it(client: TestClient) -> None:
    bands = ["orange", "blue", "red", "gold"]  # 3.6 kΩ ± 5 %: up to 3780 Ω
    held = {
        name: read(client, bands=bands, measured_ohm=3800, meter=name)["readings"][0]["holds"]
        for name in ("handheld", "ideal")
    }
    assert held == {"handheld": True, "ideal": False}
    own = {"ohms": [{"full": 4e3, "accuracy": "0.5 %", "counts": 1, "resolution": 1}], "lead_ohm": 0.5}  # fmt: skip
    assert read(client, bands=bands, measured_ohm=3800, meter=own)["readings"][0]["holds"] is True
    own["lead_ohm"] = 0
    own["ohms"][0]["accuracy"] = 0.001  # type: ignore[index]
    assert read(client, bands=bands, measured_ohm=3800, meter=own)["readings"][0]["holds"] is False


def test_what_is_measured_comes_before_what_is_sold(client: TestClient) -> None:
    bands = ["green", "red", "brown", "black", "brown"]  # 521 Ω, or 10.1 kΩ ± 0.5 % from the right
    assert [r["ohm"] for r in read(client, bands=bands)["readings"]] == [10100, 521]
    measured = read(client, bands=bands, measured_ohm=520)["readings"]
    assert [(r["ohm"], r["holds"]) for r in measured] == [(521, True), (10100, False)]


def test_codes(client: TestClient) -> None:
    assert [r["ohm"] for r in read(client, code="47R")["readings"]] == [47, 3.01]
    assert read(client, code="4K7J")["readings"][0]["tolerance"] == 0.05
    assert read(client, code="4K7")["readings"][0]["tolerance"] is None
    assert read(client, code="4K7")["also"] == []


def test_refusals_name_the_place(client: TestClient) -> None:
    path = "/api/marks/read"
    assert refused(client, path, bands=["red", "mauve", "red"])[0] == "bands.1"
    assert refused(client, path, bands=["red", "red"])[0] == "bands"
    assert refused(client, path, bands=["gold"] * 4)[0] == "bands.0"
    assert refused(client, path, code="4Q7")[0] == "code"
    assert "one of the two" in refused(client, path)[1]
    assert "one of the two" in refused(client, path, code="4K7", bands=["red"] * 4)[1]
    assert refused(client, path, code="4K7", measured_ohm=1, meter="none")[0] == "meter"
    both = {"input_ohm": 1e6, "ohm_per_v": 1e3}
    assert "not both" in refused(client, path, code="4K7", meter=both)[1]


@pytest.mark.parametrize("ohm", [3600, "4k75", 0.47, 10, 99.9, 1e-3, 9.76e7, 0])
def test_what_is_written_reads_back(client: TestClient, ohm: object) -> None:
    ask = {"ohm": ohm, "tolerance": "1 %", "tcr_ppm": 50}
    found = client.post("/api/marks/write", json=ask).json()
    nothing = {f"bands.{k}" for k, v in found["bands"].items() if v is None}
    nothing |= {f"codes.{k}" for k, v in found["codes"].items() if v is None}
    assert set(found["reasons"]) == nothing
    wanted = 4750 if ohm == "4k75" else ohm
    for row in filter(None, found["bands"].values()):
        first = next(r for r in read(client, bands=row)["readings"] if r["from"] == "left")
        assert (first["ohm"], first["tolerance"]) == (wanted, 0.01)
    for code in filter(None, found["codes"].values()):
        assert wanted in [r["ohm"] for r in read(client, code=code)["readings"]]


def test_no_bands_without_a_tolerance(client: TestClient) -> None:
    for tolerance in (None, 0.2, 0.03):
        found = client.post("/api/marks/write", json={"ohm": 4700, "tolerance": tolerance}).json()
        assert found["bands"] == {"4": None, "5": None, "6": None}
        assert {"bands.4", "bands.5", "bands.6"} <= set(found["reasons"])
        assert found["codes"] == {"letter": "4K7", "three": "472", "four": "4701", "e96": None}


def test_the_meters_that_ship_can_be_sent_back(client: TestClient) -> None:
    meters = client.get("/api/meters").json()["meters"]
    assert [m["name"].split(",")[0] for m in meters] == ["handheld", "pocket", "needle", "bench", "ideal"]  # fmt: skip
    assert meters[-1]["input_ohm"] is None
    for meter in meters:
        by_name = read(client, code="4K7J", measured_ohm=4930, meter=meter["name"])
        assert read(client, code="4K7J", measured_ohm=4930, meter=meter) == by_name
