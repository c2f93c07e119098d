"""Open the user's database, bring its tables up to date, hand out sessions."""

from __future__ import annotations

import sqlite3
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.util import CommandError
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.engine import URL
from sqlalchemy.orm import Session, sessionmaker

__all__ = ["Database", "DatabaseTooNew"]


class DatabaseTooNew(RuntimeError):
    """The database was written by a later version of Lowfold."""


class Database:
    """One SQLite file in the user's data directory."""

    def __init__(self, path: Path) -> None:
        self.path = path
        path.parent.mkdir(parents=True, exist_ok=True)
        self.engine: Engine = create_engine(URL.create("sqlite", database=str(path)))
        event.listen(self.engine, "connect", _configure)
        self.sessions = sessionmaker(self.engine, class_=Session, expire_on_commit=False)

    def migrate(self) -> None:
        """Bring the tables to this version's shape.

        Raises
        ------
        DatabaseTooNew
            If the file is from a later version; it is left as it is.
        """
        config = Config()
        config.set_main_option("script_location", "lowfold.store:migrations")
        with self.engine.begin() as connection:
            config.attributes["connection"] = connection
            try:
                command.upgrade(config, "head")
            except CommandError as error:
                msg = (
                    f"{self.path} was written by a later version of Lowfold ({error}); "
                    "start that version, or give another data directory"
                )
                raise DatabaseTooNew(msg) from error

    def close(self) -> None:
        self.engine.dispose()


def _configure(connection: sqlite3.Connection, _record: Any) -> None:
    cursor = connection.cursor()
    cursor.execute("PRAGMA journal_mode=WAL")
    cursor.execute("PRAGMA synchronous=FULL")  # an acknowledged save survives a power cut too
    cursor.execute("PRAGMA foreign_keys=ON")
    cursor.execute("PRAGMA busy_timeout=5000")
    cursor.close()
