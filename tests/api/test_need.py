"""A need in one line over HTTP: the contract's own examples, and what is refused."""

import pytest
from fastapi.testclient import TestClient

# The examples that the contract and the page give, with the tokens of the sheet
EXAMPLES = [
    ("14.4 V to 3 V within 4 % into 1 MΩ, 1 % 0603", "divider",
     {"supply_v": "14.4 V", "target_v": "3 V", "within": "4 %", "load": "1 MΩ",
      "tolerance": "1 %", "rating": "0603"}),
    ("4k53 1%", "resistance", {"target_ohm": "4k53", "tolerance": "1%"}),
    ("0.8 V reference to 3.3 V", "feedback", {"reference_v": "0.8 V", "target_v": "3.3 V"}),
    ("250 ohm from the drawer", "resistance", {"target_ohm": "250 ohm", "values": "drawer"}),
    ("5 V to 3.2 V and 1.4 V", "ladder",
     {"supply_v": "5 V", "tap1_v": "3.2 V", "tap2_v": "1.4 V"}),
]  # fmt: skip


@pytest.mark.parametrize(("text", "kind", "tokens"), EXAMPLES, ids=[e[0] for e in EXAMPLES])
def test_a_need_is_read_and_its_sheet_has_choices(
    client: TestClient, text: str, kind: str, tokens: dict[str, str]
) -> None:
    found = client.post("/api/need/read", json={"text": text}).json()
    assert (found["kind"], found["tokens"], found["unread"]) == (kind, tokens, [])
    for piece in found["understood"]:
        assert set(piece) == {"from", "to", "token"}
        assert text[piece["from"] : piece["to"]]
    if tokens.get("values") != "drawer":
        sheet = client.post("/api/sheet", json={"kind": kind, "brief": found["tokens"]}).json()
        assert sheet["choices"]


def test_what_is_not_understood_is_told_with_its_place(client: TestClient) -> None:
    text = "14.4 V to 3 V, 80 µA"
    found = client.post("/api/need/read", json={"text": text}).json()
    (piece,) = found["unread"]
    assert text[piece["from"] : piece["to"]] == piece["text"] == "80 µA"
    assert "at most" in piece["message"]
    assert client.post("/api/need/read", json={"text": "x" * 401}).status_code == 422
    assert client.post("/api/need/read", json={}).status_code == 422
    assert client.post("/api/need/read", json={"text": ""}).json()["kind"] is None


def test_a_brief_is_written_as_one_line(client: TestClient) -> None:
    brief = {"supply_v": "14.4 V", "target_v": "3 V", "lower_ohm": "56k", "own": "R1 0.5 %"}
    found = client.post("/api/need/write", json={"kind": "divider", "brief": brief}).json()
    assert found == {"line": "14.4 V to 3 V, with 56k lower", "left_out": ["own"]}
    back = client.post("/api/need/read", json={"text": found["line"]}).json()
    assert back["tokens"] == {n: t for n, t in brief.items() if n != "own"}
    wrong = client.post("/api/need/write", json={"kind": "divider", "brief": {"volts": "3"}})
    assert (wrong.status_code, "volts" in wrong.json()["detail"]) == (422, True)


def test_what_may_be_meant_and_what_may_follow_is_told(client: TestClient) -> None:
    found = client.post("/api/need/read", json={"text": "14.4 V to 3 V 56k"}).json()
    assert found["unread"][0]["instead"][:2] == ["into 56k", "with 56k lower"]
    found = client.post("/api/need/read", json={"text": "14.4 V to 3 V wi"}).json()
    assert found["next"][0] == {"from": 14, "text": "within 4 %"}
