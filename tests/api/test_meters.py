"""/api/meters: those that ship, and the user's own beside them or in their place."""

from fastapi.testclient import TestClient

WORDS = {
    "input": "10 MΩ", "leads": "0.1 Ω", "volts": "4 V ± (0.2 % + 1), resolution 1 mV",
    "ohms": "4 kΩ ± (0.5 % + 1), resolution 1 Ω",
}  # fmt: skip
ASK = {
    "network": "R1=360k + @OUT + R2=180k", "supply": {"v": 14.4},
    "points": [{"kind": "voltage", "at": "OUT"}],
}  # fmt: skip


def names(client: TestClient) -> list[str]:
    return [m["name"] for m in client.get("/api/meters").json()["meters"]]


def test_an_own_meter_is_kept_used_by_its_name_and_forgotten(client: TestClient) -> None:
    kept = client.put("/api/meters/Shelf, 4000 counts", json=WORDS)
    assert (kept.status_code, kept.json()["typical"]) == (200, False)
    assert names(client)[0] == "Shelf, 4000 counts"
    for name in ("shelf, 4000 counts", "SHELF"):
        found = client.post("/api/bench/expect", json={**ASK, "meter": name}).json()
        assert found["meter"] == "Shelf, 4000 counts"
        assert found["points"][0]["range_full"] == 4.0 or found["points"][0]["overload"]
    assert client.delete("/api/meters/shelf, 4000 counts").status_code == 204
    gone = client.post("/api/bench/expect", json={**ASK, "meter": "shelf"})
    assert gone.status_code == 422
    assert "there is no meter “shelf”; there are: handheld, 6000 counts;" in gone.json()["detail"]


def test_one_that_ships_is_replaced_and_comes_back(client: TestClient) -> None:
    path = "/api/meters/handheld, 6000 counts"
    assert client.put(path, json=WORDS).json()["replaces"]
    assert len(names(client)) == 5
    listed = client.get("/api/meters").json()["meters"][0]
    assert (listed["lead_ohm"], listed["words"]["volts"]) == (0.1, WORDS["volts"])
    assert client.delete(path).status_code == 204
    assert "it is one that ships, which stays" in client.delete(path).json()["detail"]


def test_what_is_wrong_names_its_field_and_line(client: TestClient) -> None:
    wrong = client.put("/api/meters/shelf", json={**WORDS, "volts": "4 V\nmany V"})
    assert wrong.status_code == 422
    assert wrong.json()["errors"][0]["field"] == "volts"
    assert "line 2: " in wrong.json()["errors"][0]["message"]
    assert "shelf" not in names(client)


def test_a_listed_meter_can_be_sent_where_a_meter_stands(client: TestClient) -> None:
    for meter in client.get("/api/meters").json()["meters"]:
        found = client.post("/api/bench/expect", json={**ASK, "meter": meter})
        assert found.status_code == 200
        assert found.json()["meter"] == meter["name"]


def test_csv_goes_out_and_comes_in(client: TestClient) -> None:
    client.put("/api/meters/shelf", json=WORDS)
    text = client.get("/api/meters/csv").text
    client.delete("/api/meters/shelf")
    head = {"content-type": "text/csv"}
    tried = client.post("/api/meters/csv?only_try=true", content=text, headers=head)
    assert tried.json() == {"lines": 5, "kept": False}
    assert "shelf" not in names(client)
    client.post("/api/meters/csv", content=text, headers=head)
    assert names(client)[0] == "shelf"
    assert len(names(client)) == 6  # those that ship need no keeping
    broken = client.post("/api/meters/csv", content="meter,measures\nx,watts\n", headers=head)
    assert broken.status_code == 422
