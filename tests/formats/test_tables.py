"""One rule for every CSV file: nothing in it runs, nothing in it is changed on the way back."""

import csv
import io
from typing import Any
from urllib.parse import quote

import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.errors import DomainError
from lowfold.core.values.names import plain_name
from lowfold.formats.tables import plain_cell, read_table, write_table

NASTY = [
    "=1+1",
    "+1",
    "-1+cmd|' /C calc'!A1",
    "@SUM(1)",
    "\t=1",
    "\n=1",
    " =1",
    "\x07=1",
    "=HYPERLINK(1)",
]


def runs(cell: str) -> bool:
    """Whether a spreadsheet takes a cell for a formula (OWASP, CSV injection; from memory)."""
    return cell[:1] in {"=", "+", "-", "@", "\t", "\r"} and not cell[1:2].isdigit()


@given(st.lists(st.text(max_size=12), min_size=2, max_size=2))
def test_nothing_runs_and_the_rest_comes_back(cells: list[str]) -> None:
    text = write_table(("a", "b"), [cells])
    rows = list(csv.reader(io.StringIO(text, newline="")))
    for cell in rows[1]:
        assert not runs(cell.lstrip(" \n"))
        assert not any(ord(c) < 32 and c not in "\t\n\r" for c in cell)


@given(
    st.lists(st.sampled_from([*NASTY, "4k7", "-20 °C", "+50 ppm", "plain"]), min_size=2, max_size=2)
)
def test_what_is_written_is_read_again(cells: list[str]) -> None:
    back = read_table(write_table(("a", "b"), [cells]), ("a", "b"), 10, dict, lambda r: r["a"], "")
    assert list(back[0].values()) == [c.replace("\x07", " ") for c in cells]


@pytest.mark.parametrize("cell", ["-20 °C", "-50 ppm/K", "+5 %", "4k7", "", "R1, R2"])
def test_a_figure_is_left_as_it_is(cell: str) -> None:
    assert plain_cell(cell) == cell


@pytest.mark.parametrize("name", [*NASTY, "", "  ", "a\x00b", "x" * 81])
def test_such_a_name_is_refused(name: str) -> None:
    if name.strip()[:1] not in {"", "x", "a", "\x07"}:
        assert str(plain_cell(name)).startswith("'")
    with pytest.raises(DomainError, match="name of a meter"):
        plain_name(name, "a meter")


@pytest.mark.parametrize("name", [n for n in NASTY if "\n" not in n])
def test_no_address_takes_such_a_name(client: TestClient, name: str) -> None:
    volts: dict[str, Any] = {"input": "10 MΩ", "volts": "6 V: 0.5 % + 2"}
    meter = client.put("/api/meters/" + quote(name, safe=""), json=volts)
    family = client.put("/api/families/" + quote(name, safe=""), json={"rating_w": 0.1})
    line = client.post("/api/drawer/lines", json={"ohm": 100, "family": name})
    assert {meter.status_code, family.status_code, line.status_code} == {422}
    for path in ("drawer", "families", "meters"):
        assert name not in client.get(f"/api/{path}/csv").text


@pytest.mark.parametrize("text", ["bell \x07", "\x00", "\x1b[2J", "\x85"])
def test_control_characters_do_not_come_in(client: TestClient, text: str) -> None:
    refused = client.post("/api/designs", json={"name": text, "kind": "divider"})
    assert refused.status_code == 422
    assert f"control character (U+{ord(text.strip('bel [2J')[0]):04X})" in refused.json()["detail"]
    where = client.post("/api/designs", json={"name": "x", "kind": "divider"}).headers["location"]
    assert client.post(where + "/record", json={"kind": "note", "text": text}).status_code == 422
    fine = client.post(where + "/record", json={"kind": "note", "text": "two\nlines\tand a tab"})
    assert fine.status_code == 201


def test_a_name_leads_out_of_no_folder(client: TestClient) -> None:
    body = {"name": "../../etc/pass\\wd", "kind": "divider", "brief": {"supply_v": "14.4 V"}}
    where = client.post("/api/designs", json=body).headers["location"]
    said = client.get(where + "/handover.json").headers["content-disposition"]
    full = said.split("filename*=UTF-8''")[1]
    assert full == "etc-pass-wd.lowfold.json"
