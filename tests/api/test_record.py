"""/api/designs/{id}/record: entries are added, never changed; readings stand until taken back."""

from typing import Any

import pytest
from fastapi.testclient import TestClient

DESIGN = {"name": "Battery sense", "kind": "divider", "brief": {}}
AT_OUT = {"kind": "voltage", "at": "OUT", "against": "0"}


@pytest.fixture
def path(client: TestClient) -> str:
    return f"/api/designs/{client.post('/api/designs', json=DESIGN).json()['id']}"


def reading(text: str, value: float | None, **more: object) -> dict[str, Any]:
    point = {"kind": "reading", "text": text, "point": AT_OUT, "value": value, "unit": "V"}
    return {**point, "meter": "handheld, 6000 counts", "board": "R1=200k + @OUT + R2=56k", **more}


def test_entries_keep_their_order_their_words_and_their_facts(
    client: TestClient, path: str
) -> None:
    noted = client.post(f"{path}/record", json={"kind": "note", "text": "Battery off the charger."})
    assert noted.status_code == 201
    taken = client.post(f"{path}/record", json=reading("3V02", 3.02)).json()
    unread = client.post(f"{path}/record", json=reading("three", None)).json()
    found = client.get(f"{path}/record").json()
    assert [e["id"] for e in found] == [noted.json()["id"], taken["id"], unread["id"]]
    assert found[1] == taken
    assert (taken["value"], taken["shown"], taken["point"]["at"]) == (3.02, "3.02 V", "OUT")
    assert (unread["text"], unread["value"]) == ("three", None)


def test_the_newest_reading_of_a_point_stands_until_it_is_taken_back(
    client: TestClient, path: str
) -> None:
    def standing() -> list[str]:
        return [r["text"] for r in client.get(f"{path}/readings").json()]

    client.post(f"{path}/record", json=reading("3.0", 3.0))
    client.post(f"{path}/record", json=reading("2.9", 2.9, board="R1=220k + @OUT + R2=56k"))
    last = client.post(f"{path}/record", json=reading("3.1", 3.1)).json()
    assert standing() == ["2.9", "3.1"]
    back = {"kind": "correction", "text": "taken back", "corrects": last["id"]}
    assert client.post(f"{path}/record", json=back).status_code == 201
    assert standing() == ["2.9"]
    assert len(client.get(f"{path}/record").json()) == 4


WRONG = [
    (
        {"kind": "reading", "text": "3"},
        "a reading has its point, and nothing but it and a photograph has one",
    ),
    ({"kind": "note", "text": "", "point": AT_OUT}, "a reading has its point"),
    ({"kind": "correction", "text": ""}, "a correction names the entry that it corrects"),
    ({"kind": "note", "text": "", "corrects": 1}, "a correction names the entry that it corrects"),
    ({"kind": "correction", "text": "", "corrects": 99}, "this record has no entry 99"),
    ({"kind": "song", "text": ""}, "kind"),
    ({"kind": "note", "text": "x" * 4001}, "text"),
    # What a client says of a verdict and of limits is none of the record's.
    (reading("3", 3.0, verdict="as expected"), "verdict"),
    (reading("3", 3.0, lowest=2.9), "lowest"),
    (reading("OL", None, overload=True), "overload"),
]


@pytest.mark.parametrize(("entry", "told"), WRONG)
def test_an_entry_that_is_none(
    client: TestClient, path: str, entry: dict[str, Any], told: str
) -> None:
    refused = client.post(f"{path}/record", json=entry)
    assert refused.status_code == 422
    assert told in str(refused.json())
    assert client.get(f"{path}/record").json() == []


@pytest.mark.parametrize(
    ("more", "field", "words"),
    [
        ({"unit": "A"}, "unit", "a voltage is read in V, not in A"),
        ({"point": {"kind": "voltage", "at": "ADC"}}, "point", "ADC"),
        ({"point": {"kind": "resistance", "part": "R9"}, "unit": "Ω"}, "point", "R9"),
    ],
)
def test_a_reading_is_of_its_quantity_and_of_its_board(
    client: TestClient, path: str, more: dict[str, Any], field: str, words: str
) -> None:
    answer = client.post(f"{path}/record", json=reading("3.0", 3.0, **more))
    assert answer.status_code == 422
    (error,) = answer.json()["errors"]
    assert error["field"] == field
    assert words in error["message"]
    assert client.get(f"{path}/record").json() == []


def test_another_designs_entry_is_not_corrected(client: TestClient, path: str) -> None:
    noted = client.post(f"{path}/record", json={"kind": "note", "text": "mine"}).json()
    other = client.post("/api/designs", json=DESIGN).json()["id"]
    wrong = {"kind": "correction", "text": "", "corrects": noted["id"]}
    assert client.post(f"/api/designs/{other}/record", json=wrong).status_code == 422


def test_a_record_outlives_its_design_and_is_not_found_without_it(
    client: TestClient, path: str
) -> None:
    client.post(f"{path}/record", json={"kind": "note", "text": "kept"})
    client.delete(path)
    assert client.get(f"{path}/record").status_code == 404
    assert client.post(f"{path}/record", json={"kind": "note", "text": ""}).status_code == 404
