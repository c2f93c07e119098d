"""The drawer over HTTP: line by line, as a file, and as a source of values."""

from fastapi.testclient import TestClient

from tests.api.waiting import stands

CSV = (
    "value,count,tolerance,family\r\n150,4,1 %,film 1/4 W\r\n100,4,1 %,film 1/4 W\r\n4k7,,5 %,\r\n"
)


def put_in(client: TestClient, text: str = CSV, **query: object) -> dict[str, object]:
    answer = client.post("/api/drawer/csv", content=text, params=query, headers={"content-type": "text/csv"})  # type: ignore[arg-type]  # fmt: skip
    found: dict[str, object] = answer.json()
    return found


def test_a_line_is_put_in_changed_and_taken_out(client: TestClient) -> None:
    made = client.post("/api/drawer/lines", json={"ohm": "4k7", "count": 3, "tolerance": "5 %"})
    assert made.status_code == 201
    line = made.json()
    assert (line["ohm"], line["value"], line["unit"], line["tolerance_shown"]) == (4700.0, "4.7", "kΩ", "5 %")  # fmt: skip
    again = client.post("/api/drawer/lines", json={"ohm": 4700, "tolerance": 0.05})
    assert again.status_code == 422
    assert again.json()["detail"].startswith("the drawer has this value, tolerance and family")
    path = f"/api/drawer/lines/{line['id']}"
    assert client.put(path, json={"ohm": "4k7", "tolerance": "5 %"}).json()["count"] is None
    drawer = client.get("/api/drawer").json()
    assert (drawer["values"], drawer["parts"]) == (1, None)
    assert client.delete(path).status_code == 204
    assert client.delete(path).status_code == 404
    refused = client.post("/api/drawer/lines", json={"ohm": "4k7", "family": "=SUM(A1)"})
    assert refused.json()["errors"][0]["field"] == "family"


def test_a_file_comes_in_whole_and_goes_out_the_same(client: TestClient) -> None:
    assert put_in(client, only_try=True) == {"lines": 3, "kept": False}
    assert client.get("/api/drawer").json()["lines"] == []
    assert put_in(client) == {"lines": 3, "kept": True}
    out = client.get("/api/drawer/csv")
    assert out.headers["content-type"] == "text/csv; charset=utf-8"
    assert out.text.splitlines()[1:] == [
        "100,4,1 %,film 1/4 W",
        "150,4,1 %,film 1/4 W",
        "4k7,,5 %,",
    ]
    assert put_in(client, out.text) == {"lines": 3, "kept": True}
    assert client.get("/api/drawer/csv").text == out.text
    put_in(client, "value,count,family\n100,9,film 1/4 W\n220,1,\n", how="add")
    counts = {x["ohm"]: x["count"] for x in client.get("/api/drawer").json()["lines"]}
    assert counts == {100.0: 9, 150.0: 4, 220.0: 1, 4700.0: None}


def test_a_bad_file_changes_nothing_and_says_why(client: TestClient) -> None:
    put_in(client)
    answer = put_in(client, CSV + "4x7,1,1 %,\n100,-2,1 %,\n")
    assert answer["status"] == 422
    assert [e["field"] for e in answer["errors"]] == ["line 5", "line 6"]  # type: ignore[attr-defined]
    binary = client.post("/api/drawer/csv", content=b"value\n\xff\xfe", headers={"content-type": "text/csv"})  # fmt: skip
    assert "not UTF-8" in binary.json()["detail"]
    assert len(client.get("/api/drawer").json()["lines"]) == 3


def test_searches_and_sheets_choose_from_the_drawer(client: TestClient) -> None:
    put_in(client)
    ask = {"target_ohm": 250, "values": {"drawer": True}, "max_parts": 2}
    best = client.post("/api/resistance/search", json=ask).json()["candidates"][0]
    assert best["expression"] == "150 + 100"
    brief = {"target_ohm": "250", "values": "drawer", "within": "2 %"}
    design = client.post("/api/designs", json={"kind": "resistance", "brief": brief}).json()
    assert design["standing"]["figure"] == "250 Ω"
    put_in(client, "value\n100\n")  # the standing follows what the drawer has
    assert stands(client, f"/api/designs/{design['id']}")["figure"] == "200 Ω"
    assert client.get(f"/api/designs/{design['id']}").json()["revision"] == design["revision"]
    tight = {**brief, "tolerance": "0.1 %"}
    sheet = client.post("/api/sheet", json={"kind": "resistance", "brief": tight}).json()
    assert sheet["choices"] == []
    assert sheet["reason"].startswith("the drawer has no part that fits: none as tight")
