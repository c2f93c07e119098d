"""Starting where that cannot be: one sentence that says what to do, never a traceback."""

from __future__ import annotations

import sqlite3
from datetime import datetime, timedelta, tzinfo
from pathlib import Path
from typing import Self

import pytest
from typer.testing import CliRunner

from lowfold.cli import app
from lowfold.store.database import CannotOpen, Database
from lowfold.store.designs import add_design, bring_back, forget_deleted, remove_design
from lowfold.store.failures import cannot_open
from tests.conftest import Server, at_version

RUN = CliRunner()


def refused(data: Path | None, *more: str, **environment: str) -> str:
    arguments = ["serve", *(["--data", str(data)] if data is not None else []), *more]
    found = RUN.invoke(app, arguments, env=environment)
    assert found.exit_code == 1, found.output
    assert "Traceback" not in found.output
    assert len(found.output.strip().splitlines()) == 1
    return found.output.strip()


def plain(path: Path, script: str) -> None:
    with sqlite3.connect(path) as connection:
        connection.executescript(script)
    connection.close()


@pytest.mark.parametrize("port", ["0", "99999"])
def test_a_bad_port(tmp_path: Path, port: str) -> None:
    assert "a port is a number from 1 to 65535" in refused(tmp_path, "--port", port)


def test_a_port_that_is_no_number() -> None:
    assert "cannot be used: a port is a number" in refused(None, LOWFOLD_PORT="abc")


def test_an_empty_directory_name() -> None:
    assert refused(None, LOWFOLD_DATA="").startswith("the data directory is empty: name one")


def test_a_directory_that_is_a_file(tmp_path: Path) -> None:
    (tmp_path / "taken").write_text("x")
    assert "cannot be used as the data directory" in refused(tmp_path / "taken")


def test_a_file_that_is_no_database(tmp_path: Path) -> None:
    (tmp_path / "lowfold.db").write_bytes(b"no database at all, but something of value" * 50)
    assert "is no database: it is left as it is" in refused(tmp_path)
    assert (tmp_path / "lowfold.db").read_bytes().startswith(b"no database")


def test_a_database_of_another_program_is_not_touched(tmp_path: Path) -> None:
    plain(
        tmp_path / "lowfold.db", "CREATE TABLE songs (title TEXT); INSERT INTO songs VALUES ('a')"
    )
    assert "is a database of another program" in refused(tmp_path)
    with sqlite3.connect(tmp_path / "lowfold.db") as connection:
        tables = connection.execute("SELECT name FROM sqlite_master").fetchall()
    connection.close()
    assert tables == [("songs",)]


def test_a_damaged_database(tmp_path: Path) -> None:
    database = Database(tmp_path / "lowfold.db")
    database.migrate()
    database.close()
    path = tmp_path / "lowfold.db"
    whole = path.read_bytes()
    path.write_bytes(whole[:4096] + b"\xff" * (len(whole) - 4096))
    assert "is damaged" in refused(tmp_path)


def test_a_database_of_a_later_version(tmp_path: Path) -> None:
    database = Database(tmp_path / "lowfold.db")
    database.migrate()
    database.close()
    plain(tmp_path / "lowfold.db", "UPDATE alembic_version SET version_num = '9999'")
    assert "was written by a later version of Lowfold" in refused(tmp_path)


def test_a_second_server_on_one_directory(server: Server) -> None:
    words = refused(server.data, "--port", "1")
    assert f"serves {server.data}: use that one, stop it, or give another directory" in words


def test_a_copy_is_put_aside_before_tables_are_changed(tmp_path: Path) -> None:
    path = tmp_path / "lowfold.db"
    at_version(path, "0003")
    plain(
        path,
        "INSERT INTO design (name, kind, brief, prefer, why, revision, created, updated) "
        "VALUES ('kept', 'divider', '{}', 'nearest', '', 1, '', '')",
    )
    database = Database(path)
    database.migrate()
    database.close()
    aside = tmp_path / "lowfold-before-0003.db"
    for file, columns in ((aside, 0), (path, 1)):
        with sqlite3.connect(file) as connection:
            names = [row[1] for row in connection.execute("PRAGMA table_info(design)")]
            assert connection.execute("SELECT name FROM design").fetchall() == [("kept",)]
        connection.close()
        assert names.count("standing_of") == columns
    assert list(tmp_path.glob("lowfold-before-*")) == [aside]


def test_a_new_database_needs_no_copy(tmp_path: Path) -> None:
    database = Database(tmp_path / "lowfold.db")
    database.migrate()
    database.close()
    assert list(tmp_path.glob("lowfold-before-*")) == []


def test_what_is_wrong_is_a_sentence(tmp_path: Path) -> None:
    (tmp_path / "lowfold.db").write_bytes(b"x" * 100)
    with pytest.raises(CannotOpen, match="Move it away to begin anew"):
        Database(tmp_path / "lowfold.db").migrate()


@pytest.mark.parametrize("name", ["a#b", "a?b", "a%20b", "ä b"])
def test_any_name_of_a_directory(tmp_path: Path, name: str) -> None:
    for _ in range(2):  # made, and opened again
        database = Database(tmp_path / name / "lowfold.db")
        database.hold()
        database.migrate()
        database.close()


def test_a_directory_in_its_place(tmp_path: Path) -> None:
    (tmp_path / "lowfold.db").mkdir()
    assert "is a directory, not a database: it is left as it is" in refused(tmp_path)


@pytest.mark.parametrize(
    ("said", "words"),
    [
        ("database or disk is full", "is full"),
        ("disk I/O error", "is full"),
        ("attempt to write a readonly database", "cannot be opened for writing"),
        ("unable to open database file", "cannot be opened for writing"),
        ("database is locked", "is in use by another program"),
        ("database disk image is malformed", "is damaged"),
    ],
)
def test_each_failure_of_a_start_has_its_sentence(tmp_path: Path, said: str, words: str) -> None:
    told = cannot_open(tmp_path / "lowfold.db", sqlite3.OperationalError(said))
    assert words in told
    assert ("damaged" in told) == (words == "is damaged")


def test_a_clock_ahead_forgets_nothing(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    database = Database(tmp_path / "lowfold.db")
    database.migrate()

    class Ahead(datetime):
        @classmethod
        def now(cls, tz: tzinfo | None = None) -> Self:
            return cls.fromtimestamp((datetime.now(tz) + timedelta(days=400)).timestamp(), tz)

    with database.writing() as session:
        forget_deleted(session)  # a start today
        row = add_design(
            session,
            {"name": "Sense", "kind": "divider", "brief": {}, "prefer": "nearest", "why": ""},
        )
        remove_design(session, row.id)
        with monkeypatch.context() as patch:
            patch.setattr("lowfold.store.designs.datetime", Ahead)
            assert forget_deleted(session) == 0  # a clock ahead, once
        assert forget_deleted(session) == 0  # and right again
        assert bring_back(session, row.id).name == "Sense"
    database.close()
