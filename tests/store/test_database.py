"""The database: set up by migrations, safe against kills and later versions."""

import hashlib
import io
import json
import signal
import sqlite3
import threading
from pathlib import Path

import httpx2
import pytest
from PIL import Image
from sqlalchemy import inspect, select

import lowfold
from lowfold.store.database import NEWEST, Database, DatabaseTooNew
from lowfold.store.models import Base, DesignRow
from tests import plain
from tests.conftest import Server, at_version

BUOY = {
    "name": "Battery sense",
    "kind": "divider",
    "brief": {"supply_v": "14.4 V", "target_v": "3V0"},
}


def test_migrations_make_the_tables_the_models_describe(tmp_path: Path) -> None:
    database = Database(tmp_path / "deep" / "lowfold.db")
    database.migrate()
    database.migrate()  # nothing is redone
    found = inspect(database.engine)
    for table in Base.metadata.sorted_tables:
        columns = {c["name"]: c["nullable"] for c in found.get_columns(table.name)}
        assert columns == {c.name: c.nullable for c in table.columns}
        indexed = {tuple(i["column_names"]) for i in found.get_indexes(table.name)}
        assert indexed == {tuple(c.name for c in i.columns) for i in table.indexes}
    database.close()


def test_a_database_of_any_earlier_version_is_brought_up_to_date(tmp_path: Path) -> None:
    steps = sorted((Path(lowfold.__file__).parent / "store/migrations/versions").glob("0*.py"))
    for step in steps:
        path = tmp_path / step.stem / "lowfold.db"
        path.parent.mkdir()
        at_version(path, step.stem[:4])
        earlier = Database(path)
        earlier.migrate()
        tables = set(inspect(earlier.engine).get_table_names())
        assert set(Base.metadata.tables) <= tables
        earlier.close()
    assert steps[-1].stem[:4] == NEWEST


#: A design as versions before kept it: its standing not worked out, kept as the JSON null, known.
STANDINGS = {1: None, 2: "null", 3: '{"verdict": "pass", "words": "", "need": "", "figure": ""}'}


def lived_in(path: Path) -> None:
    """Put designs and a record into a database of an earlier version, by its own columns."""
    now = "2026-11-20T10:00:00Z"
    given = {
        "name": "Bilge sense", "kind": "divider", "brief": '{"supply_v": "14.4 V", "target_v": 3}',
        "prefer": "nearest", "choice": None, "why": "as agreed", "revision": 4,
        "created": now, "updated": now, "tags": "[]",
    }  # fmt: skip
    with sqlite3.connect(path) as plain:
        there = {row[1] for row in plain.execute("PRAGMA table_info(design)")}
        for number, standing in STANDINGS.items():
            row = {"id": number, "standing": standing, **given}
            row = {name: value for name, value in row.items() if name in there}
            plain.execute(
                f"INSERT INTO design ({', '.join(row)}) VALUES ({', '.join('?' * len(row))})",
                tuple(row.values()),
            )
        if plain.execute("SELECT 1 FROM sqlite_master WHERE name = 'record'").fetchone():
            plain.execute(
                "INSERT INTO record (design_id, at, kind, text, facts) VALUES (2, ?, ?, ?, '{}')",
                (now, "note", "seen on the bench"),
            )
    plain.close()


def test_a_lived_in_database_of_any_earlier_version_opens_with_all_of_it(tmp_path: Path) -> None:
    steps = sorted((Path(lowfold.__file__).parent / "store/migrations/versions").glob("0*.py"))
    for step in steps:
        path = tmp_path / step.stem / "lowfold.db"
        path.parent.mkdir()
        at_version(path, step.stem[:4])
        lived_in(path)
        earlier = Database(path)
        earlier.migrate()
        with earlier.writing() as session:
            kept = {row.id: row for row in session.scalars(select(DesignRow))}
        assert {n: (r.name, r.why, r.revision) for n, r in kept.items()} == dict.fromkeys(
            STANDINGS, ("Bilge sense", "as agreed", 4)
        )
        assert kept[1].brief == {"supply_v": "14.4 V", "target_v": 3}
        earlier.close()


def test_write_ahead_log_full_sync_and_foreign_keys_are_on(tmp_path: Path) -> None:
    database = Database(tmp_path / "lowfold.db")
    with database.engine.connect() as connection:
        for pragma, value in (("journal_mode", "wal"), ("synchronous", 2), ("foreign_keys", 1)):
            assert connection.exec_driver_sql(f"PRAGMA {pragma}").scalar() == value
    database.close()


def test_a_database_of_a_later_version_is_left_alone(tmp_path: Path) -> None:
    path = tmp_path / "lowfold.db"
    database = Database(path)
    database.migrate()
    with database.engine.begin() as connection:
        connection.exec_driver_sql("UPDATE alembic_version SET version_num = '9999'")
    with pytest.raises(DatabaseTooNew, match="was written by a later version of Lowfold"):
        database.migrate()
    database.close()
    with sqlite3.connect(path) as plain:
        assert plain.execute("SELECT version_num FROM alembic_version").fetchall() == [("9999",)]


def test_a_kill_at_any_instant_loses_no_acknowledged_save(server: Server) -> None:
    with plain.Client(base_url=server.url, timeout=5) as http:
        path = http.post("/api/designs", json=BUOY).raise_for_status().headers["location"]
    acknowledged, begun = 1, threading.Event()

    def save_until_it_dies() -> None:
        nonlocal acknowledged
        with plain.Client(base_url=server.url, timeout=5) as http:
            for revision in range(acknowledged, 10_000):
                try:
                    answer = http.put(
                        path, json={**BUOY, "why": str(revision + 1), "revision": revision}
                    )
                    acknowledged = answer.raise_for_status().json()["revision"]
                    begun.set()
                except httpx2.HTTPError:
                    return

    for pause in (0.1, 0.5):
        begun.clear()
        saving = threading.Thread(target=save_until_it_dies)
        saving.start()
        assert begun.wait(timeout=15)
        saving.join(timeout=pause)
        server.stop(signal.SIGKILL)
        saving.join(timeout=15)
        server.start()
        stored = plain.get(f"{server.url}{path}").json()
        assert stored["revision"] >= acknowledged
        assert stored["why"] == str(stored["revision"])
        acknowledged = stored["revision"]


def test_two_saves_from_one_revision_never_both_succeed(server: Server) -> None:
    path = plain.post(f"{server.url}/api/designs", json=BUOY).headers["location"]
    codes: list[int] = []

    def save(why: str) -> None:
        answer = plain.put(
            f"{server.url}{path}", json={**BUOY, "why": why, "revision": 1}, timeout=10
        )
        codes.append(answer.status_code)

    threads = [threading.Thread(target=save, args=(str(i),)) for i in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(codes) == [200] + [409] * 7


def test_a_kill_loses_no_acknowledged_entry_and_no_photograph(server: Server) -> None:
    found = io.BytesIO()
    Image.effect_noise((60, 40), 40).convert("RGB").save(found, "JPEG")
    with plain.Client(base_url=server.url, timeout=10) as http:
        path = http.post("/api/designs", json=BUOY).raise_for_status().headers["location"]
    written: list[str] = []
    pictures: dict[int, str] = {}
    begun = threading.Event()

    def write_until_it_dies() -> None:
        with plain.Client(base_url=server.url, timeout=10) as http:
            for number in range(10_000):
                try:
                    said = f"entry {len(written)} try {number}"
                    entry = {"kind": "note", "text": said}
                    http.post(f"{path}/record", json=entry).raise_for_status()
                    written.append(said)
                    file = {"file": ("a.jpg", found.getvalue(), "image/jpeg")}
                    kept = http.post(f"{path}/evidence", files=file).raise_for_status().json()
                    pictures[kept["id"]] = kept["sha256"]
                    begun.set()
                except httpx2.HTTPError:
                    return

    writing = threading.Thread(target=write_until_it_dies)
    writing.start()
    assert begun.wait(timeout=60)
    writing.join(timeout=0.3)
    server.stop(signal.SIGKILL)
    writing.join(timeout=15)
    server.start()
    entries = plain.get(f"{server.url}{path}/record").json()
    assert set(written) <= {e["text"] for e in entries}
    for evidence_id, sha256 in pictures.items():
        served = plain.get(f"{server.url}{path}/evidence/{evidence_id}")
        assert hashlib.sha256(served.content).hexdigest() == sha256
    # What was written is found, and what was not acknowledged is whole or not there
    assert len(plain.get(f"{server.url}/api/designs?q=entry").json()) == 1
    for row in plain.get(f"{server.url}{path}/evidence").json():
        served = plain.get(f"{server.url}{path}/evidence/{row['id']}")
        assert hashlib.sha256(served.content).hexdigest() == row["sha256"]


def test_kept_needs_go_on_accepting_what_they_did(tmp_path: Path) -> None:
    path = tmp_path / "lowfold.db"
    at_version(path, "0008")
    needs = [
        ("resistance", '{"target_ohm": "4k32"}'),
        ("resistance", '{"target_ohm": "4k32", "within": "2 %"}'),
        ("feedback", "{}"),
        ("divider", "{}"),
    ]
    with sqlite3.connect(path) as plain:
        for kind, brief in needs:
            plain.execute(
                "INSERT INTO design (name, kind, brief, prefer, why, revision, created, updated) "
                "VALUES ('Buoy', ?, ?, 'nearest', '', 1, '2026-11-01', '2026-11-01')",
                (kind, brief),
            )
        fields = '{"kind": "resistance", "brief": {"target_ohm": "4k32"}}'
        plain.execute("INSERT INTO revision VALUES (1, 1, '2026-11-01', 0, ?)", (fields,))
    database = Database(path)
    database.migrate()
    database.close()
    with sqlite3.connect(path) as plain:
        briefs = [json.loads(b) for (b,) in plain.execute("SELECT brief FROM design ORDER BY id")]
        kept = [json.loads(f) for (f,) in plain.execute("SELECT fields FROM revision")]
    assert [b.get("within") for b in briefs] == ["1 %", "2 %", "3 %", None]
    assert kept[0]["brief"]["within"] == "1 %"
