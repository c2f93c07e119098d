"""The command line and the settings behind it."""

import json
import socket
from pathlib import Path

import pytest
from typer.testing import CliRunner

from lowfold.api.app import DOCUMENT
from lowfold.cli import app
from lowfold.demo.designs import DESIGNS, load_demo
from lowfold.settings import Settings
from lowfold.store.database import Database
from lowfold.store.designs import list_designs

RUN = CliRunner()


def test_openapi_document_is_printed() -> None:
    document = json.loads(RUN.invoke(app, ["openapi"]).stdout)
    assert document["info"]["title"] == "Lowfold"
    assert "/api/divider/search" in document["paths"]
    served = json.loads(DOCUMENT.read_text(encoding="utf-8"))
    assert served == document, "run make schema"


def test_a_taken_port_is_said_in_words(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        found = RUN.invoke(app, ["serve", "--port", str(port), "--data", str(tmp_path)])
    assert found.exit_code == 1
    assert f"port {port} of 127.0.0.1 is taken" in found.output


def test_settings_come_from_the_environment(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.setenv("LOWFOLD_PORT", "8123")
    monkeypatch.setenv("LOWFOLD_DATA", str(tmp_path))
    settings = Settings()
    assert (settings.port, settings.database) == (8123, tmp_path / "lowfold.db")


def test_demo_designs_stand_as_the_demo_says_and_load_once(tmp_path: Path) -> None:
    database = Database(tmp_path / "lowfold.db")
    database.migrate()
    with database.sessions() as session:
        load_demo(session)
        load_demo(session)
        rows = list_designs(session)
    database.close()
    stands = {row.name: (row.standing or {}).get("verdict") for row in rows}
    assert stands == {
        "Battery sense": "pass",
        "Loop receiver": "pass",
        "Solar sense": "pass",
        "Wake-line pull-down": "fail",
        "Charger dummy load": "pass",
        "Level switch thresholds": "pass",
        "Radio supply feedback": "marginal",
        "Old probe board": None,
    }
    assert len(rows) == len(DESIGNS)
