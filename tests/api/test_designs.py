"""Designs: created, listed, changed from a revision, refused when stale, deleted."""

import pytest
from fastapi.testclient import TestClient

BUOY = {
    "name": "Battery sense",
    "kind": "divider",
    "brief": {"supply_v": "14.4 V", "target_v": "3V0"},
}


def test_a_design_from_creation_to_deletion(client: TestClient) -> None:
    made = client.post("/api/designs", json=BUOY)
    assert made.status_code == 201
    design = made.json()
    assert {"id", "name", "kind", "brief", "revision", "created", "updated"} <= set(design)
    assert (design["revision"], design["brief"]) == (1, BUOY["brief"])
    path = made.headers["location"]
    changed = client.put(path, json={**BUOY, "name": "Cell sense", "revision": 1}).json()
    assert (changed["revision"], changed["name"], changed["id"]) == (2, "Cell sense", design["id"])
    assert changed["created"] == design["created"]
    assert changed["updated"] >= design["updated"]
    assert client.get(path).json() == changed
    assert client.get("/api/designs").json() == [changed]
    assert client.delete(path).status_code == 204
    assert client.get(path).status_code == 404
    assert client.delete(path).status_code == 404
    assert client.put(path, json={**BUOY, "revision": 2}).status_code == 404


def test_a_stale_change_is_refused_and_loses_nothing(client: TestClient) -> None:
    path = client.post("/api/designs", json=BUOY).headers["location"]
    stored = client.put(path, json={**BUOY, "why": "first", "revision": 1}).json()
    stale = client.put(path, json={**BUOY, "why": "second", "revision": 1})
    assert stale.status_code == 409
    assert stale.headers["content-type"] == "application/problem+json"
    assert stale.json()["current"] == stored
    assert client.get(path).json() == stored
    future = client.put(path, json={**BUOY, "revision": 7})
    assert future.status_code == 409
    again = {**BUOY, "why": "second", "revision": stale.json()["current"]["revision"]}
    assert client.put(path, json=again).json()["why"] == "second"


def test_text_is_kept_to_the_letter_understood_or_not(client: TestClient) -> None:
    brief = {"target_v": "3k3 ∥ ?", "load": "Ω — 💡", "within": 4.5, "own": {"a": [1, None]}}
    made = client.post("/api/designs", json={**BUOY, "brief": brief}).json()
    assert client.get(f"/api/designs/{made['id']}").json()["brief"] == brief
    assert made["standing"]["words"] == "brief not understood: wanted voltage"


@pytest.mark.parametrize(
    ("name", "meant"), [("lod", "load"), ("series", "there are"), ("target", "target_v")]
)
def test_a_name_that_is_no_token_is_refused_like_an_unknown_field(
    client: TestClient, name: str, meant: str
) -> None:
    brief = {"supply_v": "14.4 V", name: "1M"}
    for answer in (
        client.post("/api/designs", json={**BUOY, "brief": brief}),
        client.post("/api/sheet", json={"kind": "divider", "brief": brief}),
    ):
        assert answer.status_code == 422
        (error,) = answer.json()["errors"]
        assert error["field"] == f"brief.{name}"
        assert meant in error["message"]
    assert client.get("/api/designs").json() == []


def test_how_a_design_stands_is_kept_with_it(client: TestClient) -> None:
    pull_down = {
        "name": "Wake-line pull-down", "kind": "resistance", "choice": "R1=470",
        "brief": {"target_ohm": "470", "within": "5 %", "use": "12 V", "rating": "0603"},
    }  # fmt: skip
    standing = client.post("/api/designs", json=pull_down).json()["standing"]
    assert standing["verdict"] == "fail"
    assert standing["words"] == "power uses 622 % of the allowed power"
    assert standing["gates"] == {"value": "pass", "spread": "pass", "load": None, "power": "fail"}


def test_an_id_is_never_given_again(client: TestClient) -> None:
    first = client.post("/api/designs", json=BUOY).json()["id"]
    client.delete(f"/api/designs/{first}")
    assert client.post("/api/designs", json=BUOY).json()["id"] > first


@pytest.mark.parametrize(
    "wrong", [{"kind": "poem"}, {"revision": 0}, {"revision": "1"}, {"name": None}, {"brief": "x"}]
)
def test_wrong_changes_are_refused(client: TestClient, wrong: dict[str, object]) -> None:
    path = client.post("/api/designs", json=BUOY).headers["location"]
    answer = client.put(path, json={**BUOY, "revision": 1, **wrong})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == next(iter(wrong))


def test_a_sheet_lists_the_pinned_choice_even_when_it_is_not_among_the_best(
    client: TestClient,
) -> None:
    ask = {"kind": "divider", "brief": BUOY["brief"], "choice": "R1=1M + @OUT + R2=1M"}
    answer = client.post("/api/sheet", json=ask).json()
    first, *rest = answer["choices"]
    assert (first["pinned"], first["listed"], first["notation"]) == (True, False, ask["choice"])
    assert not any(c["pinned"] for c in rest)
    assert first["lines"] == ["1 MΩ", "1 MΩ"]
    assert {g["name"] for g in answer["shown"]["gates"]} == {"value", "spread", "load", "power"}


def test_a_sheet_explains_a_bad_token_and_offers_no_choice(client: TestClient) -> None:
    answer = client.post(
        "/api/sheet", json={"kind": "divider", "brief": {"target_v": "3k3"}}
    ).json()
    assert answer["tokens"]["target_v"]["ok"] is False
    assert answer["tokens"]["target_v"]["message"].startswith("“3k3” is a resistance")
    assert (answer["choices"], answer["scale"]) == ([], None)
