"""A whole board over HTTP: lines and tables in, chosen and judged as a job, out as CSV."""

import csv
import io
import time
from typing import Any

import pytest
from fastapi.testclient import TestClient

from lowfold.core.board.board import MOST_LINES, Said, choose_all
from lowfold.core.errors import LowfoldError
from lowfold.core.parts.stock import Stock
from lowfold.formats.board_csv import COLUMNS, read_needs
from tests.api.waiting import ended

LINES = """Battery sense: 14.4 V to 3 V within 4 % into 1 MΩ
# a remark

Loop receiver: 250 Ω within 2 %
Radio: 12 V into a modem
Strobe: 12 V to 3.33 V within 0.5 %
Regulator: 0.8 V reference to 3.3 V within 4 %"""


def chosen(client: TestClient, text: str, *, share: bool = False) -> dict[str, Any]:
    started = client.post("/api/board", json={"text": text, "share": share})
    assert started.status_code == 202, started.text
    job = ended(client, started.json()["id"])
    assert job["state"] == "done", job
    found: dict[str, Any] = job["result"]
    return found


def test_what_fails_comes_first_and_nothing_is_guessed(client: TestClient) -> None:
    found = chosen(client, LINES)
    assert [row["name"] for row in found["rows"]] == [
        "Radio", "Strobe", "Battery sense", "Loop receiver", "Regulator",
    ]  # fmt: skip
    assert (found["failing"], found["marginal"], found["passing"]) == (2, 0, 3)
    radio, strobe, battery = found["rows"][:3]
    assert radio["choice"] == ""
    assert [u["text"] for u in radio["unread"]] == ["12 V", "modem"]
    assert radio["words"].startswith("not understood: ")
    assert strobe["verdict"] == "fail"
    assert battery["line"] == 1
    assert battery["tokens"]["load"] == "1 MΩ"
    # The choice stands so on a sheet of its own
    sheet = client.post(
        "/api/sheet",
        json={"kind": battery["kind"], "brief": battery["tokens"], "choice": battery["choice"]},
    ).json()
    assert sheet["standing"]["verdict"] == battery["verdict"] == "pass"
    assert sheet["careful"]["notation"] == battery["choice"]


def test_the_csv_has_every_line_and_is_read_again_as_the_same_needs(client: TestClient) -> None:
    found = chosen(client, LINES)
    rows = list(csv.reader(io.StringIO(found["csv"])))
    assert rows[0] == list(COLUMNS)
    assert len(rows) == 6
    again = chosen(client, found["csv"])
    assert {r["text"]: r["choice"] for r in again["rows"]} == {
        r["text"]: r["choice"] for r in found["rows"]
    }


def test_shared_values_are_fewer_pass_and_tell_their_cost(client: TestClient) -> None:
    text = "\n".join(
        f"S{k}: {volts} to {target} within 5 %"
        for k, (volts, target) in enumerate([("12 V", "3.3 V"), ("24 V", "5 V"), ("5 V", "1.2 V")])
    )
    plain, shared = chosen(client, text), chosen(client, text, share=True)
    assert plain["fewest"] is None
    assert len(shared["values"]) <= len(plain["values"])
    assert all(row["verdict"] in {"pass", "marginal"} for row in shared["rows"])
    assert all(row["cost"] for row in shared["rows"])


def test_many_lines_are_chosen_with_progress_and_can_be_cancelled(client: TestClient) -> None:
    lines = [f"D{k}: {5 + k % 20} V to {1 + (k % 7) / 3:.2f} V within 5 %" for k in range(60)]
    started = client.post("/api/board", json={"text": "\n".join(lines)}).json()
    seen = set()
    for _ in range(600):
        job = client.get(f"/api/jobs/{started['id']}").json()
        seen.add(job["words"])
        if job["state"] != "running":
            break
        time.sleep(0.05)
    assert job["state"] == "done"
    assert len(job["result"]["rows"]) == 60
    assert any(words.endswith(" of 60 needs") for words in seen)
    other = client.post("/api/board", json={"text": "\n".join(lines[:40])}).json()
    assert client.delete(f"/api/jobs/{other['id']}").json()["state"] == "cancelled"


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("# nothing\n\n", "no line says a need: write one a line, such as Battery sense: "),
        ("4k7\n" * (MOST_LINES + 1), "401 needs are more than the 400 of one board: split it"),
        ('name,need\n"a,4k7\n', "line 2 is no line of a table: "),
    ],
)
def test_what_is_no_board_is_refused_before_any_work(
    client: TestClient, text: str, message: str
) -> None:
    answer = client.post("/api/board", json={"text": text})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["message"].startswith(message)


READ = [
    ("4k53 1 %\n250 ohm", [(1, "", "4k53 1 %"), (2, "", "250 ohm")]),
    ("name,need,qty\nA,4k7,3\n\n,250 Ω,1", [(2, "A", "4k7"), (4, "", "250 Ω")]),
    ("ref;need\nR1;1,5 kΩ", [(2, "R1", "1,5 kΩ")]),
    ("\ufeffneed\tname\n14.4 V to 3 V, 80 µA\tX", [(2, "X", "14.4 V to 3 V, 80 µA")]),
    ("Sense: 12 V to 3 V, at most 80 µA", [(1, "Sense", "12 V to 3 V, at most 80 µA")]),
]


@pytest.mark.parametrize(("text", "expected"), READ)
def test_lines_and_tables_are_read(text: str, expected: list[tuple[int, str, str]]) -> None:
    assert read_needs(text) == expected


def test_a_cell_of_the_table_runs_in_no_spreadsheet(client: TestClient) -> None:
    found = chosen(client, "=cmd: =SUM(A1) 4k7")
    cells = list(csv.reader(io.StringIO(found["csv"])))[1]
    assert not any(cell.startswith(("=", "+", "-", "@")) for cell in cells)


def test_a_line_too_long_is_told_and_the_others_are_chosen() -> None:
    lines = choose_all([Said(1, "", "4k7 " * 200), Said(2, "", "4k7")], Stock())
    assert lines[0].choice is None
    assert "a need is said in 400" in lines[0].words
    assert lines[1].choice is not None
    with pytest.raises(LowfoldError, match="more than the 400 of one board"):
        choose_all([Said(k, "", "4k7") for k in range(401)], Stock())
