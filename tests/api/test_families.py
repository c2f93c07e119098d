"""/api/families: the typical table, changed and put back; designs follow."""

from fastapi.testclient import TestClient

from lowfold.core.parts.families import TYPICAL
from tests.api.waiting import stands

THIN = {"tolerance": "0.1 %", "tcr_ppm": "25 ppm/K", "rating_w": "1/16 W", "limiting_v": "75 V"}
FAILING = {
    "name": "Wake-line pull-down",
    "kind": "resistance",
    "brief": {"target_ohm": "470", "within": "5 %", "max_parts": "1", "use": "5 V"},
    "choice": "R1=470",
}


def test_the_typical_table_is_there_from_the_start(client: TestClient) -> None:
    found = client.get("/api/families").json()
    assert [f["name"] for f in found] == [f.name for f in TYPICAL]
    chip = next(f for f in found if f["name"] == "0603")
    assert chip["typical"]
    assert chip["shown"]["rating_w"] == "100 mW"
    assert chip["shown"]["critical_ohm"] == "56.3 kΩ"


def test_an_own_family_is_kept_used_and_forgotten(client: TestClient) -> None:
    path = "/api/families/Thin 0603"
    kept = client.put(path, json=THIN)
    assert (kept.status_code, kept.json()["typical"]) == (200, False)
    brief = {"rating": "thin 0603", "tolerance": "family"}
    sheet = client.post("/api/sheet", json={"kind": "divider", "brief": brief}).json()
    assert sheet["tokens"]["tolerance"]["shown"] == "0.1 %, as Thin 0603"
    assert client.delete(path).status_code == 204
    gone = client.delete(path)
    assert gone.status_code == 404
    assert gone.json()["detail"] == "“Thin 0603” is no family of your own: there is none"


def test_a_name_may_hold_a_stroke_and_a_typical_one_comes_back(client: TestClient) -> None:
    path = "/api/families/1/4 W film"
    assert client.put(path, json={"rating_w": 0.25, "limiting_v": 300}).json()["replaces"]
    found = client.get("/api/families").json()
    assert [f["limiting_v"] for f in found if f["name"] == "1/4 W film"] == [300]
    assert client.delete(path).status_code == 204
    assert "it is a typical one, which stays" in client.delete(path).json()["detail"]


def test_designs_stand_anew_where_their_family_changes(client: TestClient) -> None:
    where = client.post("/api/designs", json=FAILING).headers["location"]
    # By hand: 5² / 470 = 53 mW is above half of 1/10 W
    assert stands(client, where)["verdict"] == "fail"
    client.put("/api/families/0603", json={"rating_w": "1/4 W"})
    assert stands(client, where)["verdict"] == "pass"
    client.delete("/api/families/0603")
    assert stands(client, where)["verdict"] == "fail"


def test_bad_families_are_refused_in_words(client: TestClient) -> None:
    flat = client.put("/api/families/flat", json={"rating_w": 1, "full_power_c": 155})
    assert flat.status_code == 422
    assert flat.json()["errors"][0]["field"] == "full_power_c"
    assert client.put("/api/families/a;b", json={"rating_w": 1}).status_code == 422
    assert client.put("/api/families/x", json={"rating_w": 0}).status_code == 422
    assert client.put("/api/families/x", json={"rating_w": 1, "colour": 2}).status_code == 422


def test_a_network_stands_anew_where_its_family_changes(client: TestClient) -> None:
    brief = {"network": "R1=470", "supply_v": "5 V", "rating": "0603"}
    design = {"name": "Pull-down alone", "kind": "network", "brief": brief}
    where = client.post("/api/designs", json=design).headers["location"]
    assert stands(client, where)["verdict"] == "fail"
    client.put("/api/families/0603", json={"rating_w": "1/4 W"})
    assert stands(client, where)["verdict"] == "pass"


def test_families_come_and_go_as_a_file(client: TestClient) -> None:
    csv = {"content-type": "text/csv"}
    written = client.get("/api/families/csv")
    assert written.headers["content-type"] == "text/csv; charset=utf-8"
    again = client.post("/api/families/csv", content=written.content, headers=csv).json()
    assert again == {"lines": len(TYPICAL), "kept": True}
    assert all(f["typical"] for f in client.get("/api/families").json())  # nothing to keep
    text = "family,power,limiting\nthin 0603,1/16 W,75 V\n0805,125 mW,100 V\n"
    tried = client.post("/api/families/csv?only_try=true", content=text, headers=csv).json()
    assert tried == {"lines": 2, "kept": False}
    client.post("/api/families/csv", content=text, headers=csv)
    own = [f["name"] for f in client.get("/api/families").json() if not f["typical"]]
    assert own == ["0805", "thin 0603"]
    broken = client.post("/api/families/csv", content=text + "x,none,\n", headers=csv)
    assert (broken.status_code, broken.json()["errors"][0]["field"]) == (422, "line 4")
