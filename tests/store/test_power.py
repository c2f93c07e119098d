"""Loss of power: every acknowledged write is there, whatever the disk had not been asked to sync."""

from __future__ import annotations

import random
from pathlib import Path

import pytest
from sqlalchemy import event

from lowfold.store.database import CannotOpen, Database
from lowfold.store.designs import NoSuchDesign, add_design, change_design, get_design
from lowfold.store.record import add_entry, entries
from tests.store.forgetful import ForgetfulDisk

FIELDS = {"kind": "divider", "brief": {"supply_v": "14.4 V"}, "prefer": "nearest", "why": ""}


def lost(
    disk: ForgetfulDisk,
    data: Path,
    folder: Path,
    said: dict[int, tuple[int, int]],
    rng: random.Random,
) -> int:
    """How many acknowledged writes are not there once the power has failed and is back."""
    disk.after_power_loss(data, folder, rng)
    database = Database(folder / "lowfold.db")
    database.migrate()
    missing = 0
    with database.sessions() as session:
        for design_id, (revision, lines) in said.items():
            row = get_design(session, design_id)
            missing += row.revision < revision or len(entries(session, design_id)) < lines
    database.close()
    return missing


def write(database: Database, said: dict[int, tuple[int, int]], rng: random.Random) -> None:
    """Keep something, and note what is acknowledged."""
    with database.writing() as session:
        what = rng.choice(["new", "change", "line"]) if said else "new"
        if what == "new":
            row = add_design(session, FIELDS | {"name": f"Sense {len(said)}"})
            said[row.id] = (1, 0)
            return
        design_id = rng.choice(list(said))
        revision, lines = said[design_id]
        if what == "change":
            change_design(session, design_id, revision, {"why": "x" * rng.randint(0, 9000)})
            said[design_id] = (revision + 1, lines)
        else:
            add_entry(session, design_id, "note", "the lid is tight", {})
            session.commit()
            said[design_id] = (revision, lines + 1)


@pytest.mark.parametrize("seed", range(3))
def test_every_acknowledged_write_survives_a_loss_of_power(tmp_path: Path, seed: int) -> None:
    rng = random.Random(seed)
    with ForgetfulDisk().between() as disk:
        database = Database(tmp_path / "data" / "lowfold.db")
        database.migrate()
        said: dict[int, tuple[int, int]] = {}
        for turn in range(40):
            before = disk.syncs
            write(database, said, rng)
            assert disk.syncs > before
            if rng.random() < 0.3:
                assert lost(disk, tmp_path / "data", tmp_path / f"after {turn}", said, rng) == 0
        database.close()
    assert len(said) > 3


def test_the_forgetful_disk_notices_what_is_not_synced(tmp_path: Path) -> None:
    """The same with syncing turned off: something acknowledged is lost."""
    rng = random.Random(7)
    with ForgetfulDisk().between() as disk:
        database = Database(tmp_path / "data" / "lowfold.db")
        event.listen(
            database.engine, "connect", lambda c, _: c.execute("PRAGMA synchronous=OFF").close()
        )
        database.migrate()
        said: dict[int, tuple[int, int]] = {}
        for _ in range(12):
            write(database, said, rng)
        missing = 0
        for turn in range(5):
            try:
                missing += lost(disk, tmp_path / "data", tmp_path / f"after {turn}", said, rng)
            except (CannotOpen, NoSuchDesign):
                missing += len(said)
        database.close()
    assert missing
