"""The commands of the terminal: what they print, what they answer as JSON, how they end."""

import csv
import json
import shlex
import subprocess
import sys
from pathlib import Path
from typing import Any
from xml.etree import ElementTree as ET

import pytest
from fastapi.testclient import TestClient
from typer.testing import CliRunner, Result

from lowfold.cli import app
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.editing import as_netlist, write_netlist
from lowfold.core.network.notation import read_text
from lowfold.core.solving.solution import solve

RUN = CliRunner()


def run(line: str, text: str | None = None) -> Result:
    return RUN.invoke(app, shlex.split(line), input=text)


def told(line: str, code: int = 0) -> Any:
    found = run(f"{line} --json")
    assert found.exit_code == code, found.output
    return json.loads(found.stdout)


def test_a_need_is_chosen_for_and_the_careful_choice_is_marked() -> None:
    """By hand: 14.4 V · 56k‖1M / (200k + 56k‖1M) = 14.4 · 53.03 / 253.03 = 3.018 V."""
    found = run('need "14.4 V to 3 V within 4 % into 1 MΩ"')
    assert found.exit_code == 0
    lines = found.stdout.splitlines()
    assert lines[0] == (
        "a divider: supply voltage 14.4 V, wanted voltage 3 V, accepted deviation 4 %, load at the "
        "tap 1 MΩ ± 10 %"
    )
    assert lines[1].split() == [
        "values", "gives", "off", "by", "lowest", "highest", "draws", "series",
    ]  # fmt: skip
    (careful,) = (line for line in lines[2:] if line.startswith("◆ ") and "/" in line)
    assert "● pass" in careful
    assert any("A careful designer takes" in line for line in lines)


def test_figures_stand_on_their_decimal_points() -> None:
    lines = run('solve "200k + @OUT + 5k6" --supply 14.4V').stdout.splitlines()
    points = {line.index(".", 6) for line in lines[2:4]}
    assert len(points) == 1


@pytest.mark.parametrize(
    ("line", "code"),
    [
        ('need "24 V to 5 V within 1 % into 4k7 or open"', 1),
        ('need "14.4 V to 3 V 56k"', 2),
        ('need "hello"', 2),
        ('need "14.4 V to 30 V"', 2),
        ('solve "200k + (" --supply 12', 2),
        ('solve "200k" --supply twelve', 2),
        ('solve "200k" --supply 12 --load OUT', 2),
        ("solve nowhere.net --supply 12", 2),
        ('check "200k + @OUT + 56k" --supply 14.4V --expect "OUT=3.15V ± 4 %"', 0),
        ('check "200k + @OUT + 56k" --supply 14.4V --expect "OUT=3.4V ± 4 %"', 1),
        ('marks "orange blue red gold" --measured 3.58k', 0),
        ('marks "orange blue red gold" --measured 4.7k', 1),
        ('marks "pink elephant"', 2),
        ('diagnose "200k + @OUT + 56k" --supply 14.4V --reading OUT=3.15', 0),
        ('diagnose "200k + @OUT + 56k" --supply 14.4V --reading OUT=14.2', 1),
        ('diagnose "200k + @OUT + 56k" --supply 14.4V --reading "about three"', 2),
    ],
)
def test_exit_codes_tell_what_passes_and_what_is_not_understood(line: str, code: int) -> None:
    found = run(line)
    assert found.exit_code == code, found.output
    if code == 2:
        assert found.stderr.strip()
        assert "Traceback" not in found.output


def test_what_is_not_understood_is_pointed_at_with_what_would_be_right() -> None:
    lines = run('need "14.4 V to 3 V 56k"').stderr.splitlines()
    assert lines[0].index("56k") == lines[1].index("^^^")
    assert "into 56k, or with 56k lower" in lines[2]


def test_json_is_what_the_api_answers(client: TestClient) -> None:
    network = {"network": "R1=200k + @OUT + R2=56k", "supply_v": "14.4"}
    loads = [{"at": "OUT", "ohm": 1e6}]
    line = 'solve "R1=200k + @OUT + R2=56k" --supply 14.4 --load OUT=1M'
    asked = {**network, "loads": loads}
    assert told(line) == client.post("/api/network/solve", json=asked).json()
    line = 'fold "R1=200k + @OUT + R2=56k" --supply 14.4 --load OUT=1M'
    assert told(line) == client.post("/api/network/fold", json=asked).json()
    marks = {"text": "orange blue red gold", "measured_ohm": "3.58k"}
    line = 'marks "orange blue red gold" --measured 3.58k'
    assert told(line) == client.post("/api/marks/read", json=marks).json()
    need = "14.4 V to 3 V within 4 % into 1 MΩ"
    found = told(f'need "{need}"')
    read = client.post("/api/need/read", json={"text": need}).json()
    sheet = {"kind": "divider", "brief": read["tokens"]}
    assert found == {"need": read, "sheet": client.post("/api/sheet", json=sheet).json()}


@pytest.mark.parametrize(
    "network",
    [
        "R1=200k + @OUT + R2=56k",
        "R1=4k7 + @A + (R2=15k || (R3=2k7 + @B + R4=3k9))",
        "(R1=1k || R2=2k2) + R3=330 + @n1 + R4=100",
        "R1 in a 1k\nR2 a 0 2k\nR3 in b 3k\nR4 b 0 4k\nR5 a b 5k",
    ],
)
def test_a_netlist_reads_back_to_the_same_circuit(network: str) -> None:
    text = run(f"netlist {shlex.quote(network)}").stdout.strip()
    one, other = (solve(build_circuit(read_text(t)), 12.0) for t in (network, text))
    assert other.total_ohms == pytest.approx(one.total_ohms)
    assert {p.ref: p.volts for p in other.parts} == pytest.approx(
        {p.ref: p.volts for p in one.parts}
    )


def test_switches_stay_in_a_netlist() -> None:
    text = write_netlist(as_netlist(read_text("R1=1k + (R2=2k || (S1 + R3=3k))")))
    assert text == "R1 in n1 1k\nR2 n1 0 2k\nS1 n1 n2\nR3 n2 0 3k"


BOARD = "name,need\nBattery sense,14.4 V to 3 V within 4 % into 1 MΩ\nLoop,250 Ω within 2 %\n"


def test_a_board_is_chosen_into_a_table(tmp_path: Path) -> None:
    (tmp_path / "needs.csv").write_text(BOARD, encoding="utf-8")
    out = tmp_path / "chosen.csv"
    found = run(f"board {tmp_path / 'needs.csv'} --out {out}")
    assert found.exit_code == 0
    assert "2 needs: 2 pass, 0 fail" in found.stdout
    rows = list(csv.DictReader(out.read_text(encoding="utf-8").splitlines()))
    assert [(r["name"], r["stands"]) for r in rows] == [
        ("Battery sense", "pass"), ("Loop", "pass"),
    ]  # fmt: skip
    assert run("board -", "14.4 V to 3 V within 4 %\n24 V to 5 V 10k\n").exit_code == 2
    assert run("board -", "").exit_code == 2


DIVIDER = """* Battery sense
* supply v: 14.4 V
* wanted: OUT 3.15 V ± {within}
* tolerance: 1 %
R1 in OUT 200k
R2 OUT 0 56k
"""


def test_a_repository_is_judged_a_line_each(tmp_path: Path, client: TestClient) -> None:
    good, bad, needs = (tmp_path / name for name in ("good.net", "bad.net", "needs.csv"))
    good.write_text(DIVIDER.format(within="4 %"), encoding="utf-8")
    bad.write_text(DIVIDER.format(within="1 %"), encoding="utf-8")
    needs.write_text(BOARD, encoding="utf-8")
    design = {"name": "Solar sense", "kind": "divider", "choice": "R1=200k + @OUT + R2=56k",
              "brief": {"supply_v": "14.4 V", "target_v": "3.15 V", "within": "4 %"}}  # fmt: skip
    made = client.post("/api/designs", json=design).json()["id"]
    handed = tmp_path / "solar.lowfold.json"
    handed.write_bytes(client.get(f"/api/designs/{made}/handover.json").content)
    every = f"judge {good} {needs} {handed}"
    found = run(every)
    assert found.exit_code == 0, found.output
    assert found.stdout.count("● pass") == 4
    report, summary = tmp_path / "report.xml", tmp_path / "summary.md"
    found = run(f"{every} {bad} --xml {report} --summary {summary}")
    assert found.exit_code == 1
    assert "✕ fail" in found.stdout
    suite = ET.fromstring(report.read_text(encoding="utf-8"))
    assert (suite.get("tests"), suite.get("failures")) == ("5", "1")
    (failure,) = suite.iter("failure")
    assert "spread" in str(failure.get("message"))
    assert summary.read_text(encoding="utf-8").count("\n") == 7


def test_marginal_passes_where_fail_alone_is_asked_for(tmp_path: Path) -> None:
    """Two 1 % parts spread OUT by 2·(1 − 56/256)·1 % = 1.56 %, with 100 ppm/K none: 1.6 % is near."""
    file = tmp_path / "close.net"
    file.write_text(DIVIDER.format(within="1.7 %"), encoding="utf-8")
    assert run(f"judge {file}").exit_code == 1
    assert run(f"judge {file} --fail-on fail").exit_code == 0
    assert run(f"judge {file} --fail-on never").exit_code == 2


@pytest.mark.parametrize(
    "text",
    ["* supply v: 14.4 V\n* colour: red\nR1 in OUT 200k\nR2 OUT 0 56k\n", '{"format": "other"}',
     "* supply v: fourteen\nR1 in OUT 200k\nR2 OUT 0 56k\n"],
)  # fmt: skip
def test_what_is_not_understood_ends_a_judgement_with_two(text: str) -> None:
    found = run("judge -", text)
    assert found.exit_code == 2, found.output
    assert found.stdout.strip()


def test_a_need_is_kept_and_the_own_drawer_is_used(tmp_path: Path) -> None:
    kept = run(f'need "14.4 V to 3 V within 4 %" --keep --data {tmp_path}')
    assert "kept as design 1" in kept.stdout
    empty = run(f'need "250 Ω from the drawer" --data {tmp_path}')
    assert empty.exit_code == 2
    assert "drawer" in empty.stderr or "value" in empty.stderr


@pytest.mark.parametrize("command", ["need", "solve", "check", "fold", "netlist", "marks", "board",
                                     "diagnose", "judge"])  # fmt: skip
def test_every_command_helps_with_an_example(command: str) -> None:
    helped = run(f"{command} --help")
    assert helped.exit_code == 0
    assert f"lowfold {command} " in " ".join(helped.stdout.split())


def test_no_command_loads_what_it_does_not_use() -> None:
    """A mark is read without arrays, a need without the server and its database."""
    script = (
        "import sys; from typer.testing import CliRunner; from lowfold.cli import app;"
        "found = CliRunner().invoke(app, sys.argv[1:]); assert found.exit_code == 0, found.output;"
        "print([m for m in ('numpy', 'fastapi', 'sqlalchemy', 'scipy') if m in sys.modules])"
    )
    for line, loaded in [
        ('marks "orange blue red gold"', "[]"),
        ('need "14.4 V to 3 V within 4 %"', "['numpy']"),
    ]:
        argv = [sys.executable, "-c", script, *shlex.split(line)]
        found = subprocess.run(argv, capture_output=True, text=True, check=True)
        assert found.stdout.strip() == loaded
