"""Open the user's database, bring its tables up to date, hand out sessions.

One server serves a directory: it holds a lock beside the database, so that what it keeps in memory
is what is stored. Reading and writing have sessions of their own; a write begins by taking the
database's write lock, one after the other, so that what it has read still holds when it commits.
"""

from __future__ import annotations

import fcntl
import os
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO, Any, Final

from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.engine import URL
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session, sessionmaker

from lowfold.store.failures import Moved, broken, cannot_open
from lowfold.store.models import Base
from lowfold.store.once import noted_in

__all__ = ["CannotOpen", "Database", "DatabaseTooNew", "InUse"]

#: Marks a SQLite file as ours ("LoFo" in ASCII), so that a foreign one is never migrated.
APPLICATION_ID: Final = 0x4C6F466F
#: The latest of the migrations.
NEWEST: Final = "0010"
#: The index of words, and what SQLite keeps it in.
INDEX: Final = ("words", *(f"words_{n}" for n in ("data", "idx", "content", "docsize", "config")))
OURS: Final = frozenset({*Base.metadata.tables, *INDEX, "alembic_version"})


class CannotOpen(RuntimeError):
    """The database cannot be used; the text says why and what to do."""


class DatabaseTooNew(CannotOpen):
    """The database was written by a later version of Lowfold."""


class InUse(CannotOpen):
    """Another server holds the directory."""


class Database:
    """One SQLite file in the user's data directory."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._lock: IO[str] | None = None
        self._anchor: sqlite3.Connection | None = None
        self._files: list[tuple[int, int] | None] = []
        self._seen: tuple[int, int] | None = None
        self._writing = threading.Lock()
        _own_directory(path.parent)
        self.engine: Engine = create_engine(
            URL.create("sqlite", database=str(path)), pool_size=4, max_overflow=36, pool_timeout=5
        )
        event.listen(self.engine, "connect", _configure)
        event.listen(self.engine, "begin", _begin)
        self.sessions = sessionmaker(self.engine, class_=Session, expire_on_commit=False)
        writer = self.engine.execution_options(writes=True)
        self._writers = sessionmaker(writer, class_=Session, expire_on_commit=False)

    @contextmanager
    def writing(self) -> Iterator[Session]:
        """Give a session that holds the write lock from its first statement to its commit."""
        with self._writing:
            self._still_there()
            try:
                with self._writers() as session:
                    noted_in(session)
                    yield session
                self._still_there(changed=True)
            finally:
                self._seen = self._as_it_is()

    def trouble(self) -> str:
        """Return in words why nothing can be kept; empty where all is well."""
        try:
            self._still_there(changed=True)
        except Moved as error:
            return str(error)
        return ""

    def watch(self) -> None:
        """Remember which files are written, so that none is written to that nobody will read.

        The write-ahead log is held open for that: the last to close it would take it away.
        """
        self._anchor = sqlite3.connect(self.path, check_same_thread=False)
        self._anchor.execute("SELECT count(*) FROM sqlite_master").fetchone()
        self._files = [self._identity(path) for path in self._paths()]
        self._seen = self._as_it_is()

    def _paths(self) -> list[Path]:
        return [self.path, self.path.with_name(f"{self.path.name}-wal")]

    @staticmethod
    def _identity(path: Path) -> tuple[int, int] | None:
        try:
            found = path.stat()
        except OSError:
            return None
        return found.st_dev, found.st_ino

    def _as_it_is(self) -> tuple[int, int] | None:
        """Return size and time of the main file, which only a write of this process changes."""
        try:
            found = self.path.stat()
        except OSError:
            return None
        return found.st_size, found.st_mtime_ns

    def _still_there(self, *, changed: bool = False) -> None:
        """See that the files are those that the next start will read.

        Parameters
        ----------
        changed : bool
            Whether the main file may have been written since it was last seen.

        Raises
        ------
        Moved
        """
        if self._anchor is None:
            return
        for path, known in zip(self._paths(), self._files, strict=True):
            now = self._identity(path)
            if now != known:
                raise Moved(path, "was deleted or moved away" if now is None else "was replaced")
        if not changed and self._as_it_is() != self._seen:
            raise Moved(self.path, "was changed by another program")

    def hold(self) -> None:
        """Take the directory for this process, until `close`.

        Raises
        ------
        InUse
            Saying who has it.
        """
        path = self.path.parent / "lowfold.lock"
        try:
            held = path.open("a+", encoding="ascii")
        except OSError as error:
            raise CannotOpen(cannot_open(path, error)) from error
        try:
            fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            held.seek(0)
            who = held.read(20).strip()
            held.close()
            msg = (
                f"another Lowfold{f' (process {who})' if who else ''} serves {self.path.parent}: "
                "use that one, stop it, or give another directory with DATA= or --data"
            )
            raise InUse(msg) from error
        self._lock = held
        try:
            held.truncate(0)
            held.write(str(os.getpid()))
            held.flush()
        except OSError as error:
            raise CannotOpen(cannot_open(self.path, error)) from error

    def migrate(self) -> None:
        """Bring the tables to this version's shape; a copy is put aside before they are changed.

        Raises
        ------
        DatabaseTooNew
            If the file is from a later version; it is left as it is.
        CannotOpen
            If it is no database of ours, broken, or cannot be written.
        """
        try:
            self._checked()
            self._upgraded()
        except (DatabaseError, sqlite3.DatabaseError, OSError) as error:
            raise CannotOpen(cannot_open(self.path, error)) from error
        for name in (self.path, *self.path.parent.glob(f"{self.path.name}-*")):
            name.chmod(0o600)

    def _checked(self) -> None:
        """Refuse a file that is not ours, before anything is written into it."""
        if self.path.is_dir():
            raise CannotOpen(cannot_open(self.path, IsADirectoryError()))
        if not self.path.exists() or not self.path.stat().st_size:
            return
        if not os.access(self.path, os.W_OK):
            msg = f"{self.path} cannot be written: make it yours (chmod u+w), or give another DATA="
            raise CannotOpen(msg)
        with self.path.open("rb") as file:
            if file.read(16) != b"SQLite format 3\0":
                msg = (
                    f"{self.path} is no database: it is left as it is. Move it away to begin anew, "
                    "or put a copy of yours in its place"
                )
                raise CannotOpen(msg)
        plain = sqlite3.connect(f"{self.path.absolute().as_uri()}?mode=ro", uri=True)
        try:
            mark = plain.execute("PRAGMA application_id").fetchone()[0]
            rows = plain.execute("SELECT name FROM sqlite_master WHERE type = 'table'")
            tables = {name for (name,) in rows if not name.startswith("sqlite_")}
            sound = plain.execute("PRAGMA quick_check(1)").fetchone()[0]
        finally:
            plain.close()
        if mark not in {0, APPLICATION_ID} or (tables and "alembic_version" not in tables):
            msg = (
                f"{self.path} is a database of another program: it is left as it is. Give another "
                "directory with DATA= or --data"
            )
            raise CannotOpen(msg)
        if not tables <= OURS and mark != APPLICATION_ID:
            msg = (
                f"{self.path} holds tables of another program: it is left as it is. Give another "
                "directory with DATA= or --data"
            )
            raise CannotOpen(msg)
        if sound != "ok":
            raise CannotOpen(broken(self.path, sound))

    def _upgraded(self) -> None:
        if self._stands_at() == NEWEST:
            return
        # Loaded here: only a file that has to be changed needs it.
        from alembic import command  # noqa: PLC0415
        from alembic.config import Config  # noqa: PLC0415
        from alembic.script import ScriptDirectory  # noqa: PLC0415
        from alembic.util import CommandError  # noqa: PLC0415

        config = Config()
        config.set_main_option("script_location", "lowfold.store:migrations")
        script = ScriptDirectory.from_config(config)
        now = self._stands_at()
        if now is not None and now in {s.revision for s in script.walk_revisions()}:
            self._put_aside(now)
        with self.engine.execution_options(writes=True).begin() as connection:
            config.attributes["connection"] = connection
            try:
                command.upgrade(config, "head")
            except CommandError as error:
                msg = (
                    f"{self.path} was written by a later version of Lowfold ({error}); "
                    "start that version, or give another data directory"
                )
                raise DatabaseTooNew(msg) from error
            connection.exec_driver_sql(f"PRAGMA application_id = {APPLICATION_ID}")

    def _stands_at(self) -> str | None:
        """Return the revision of the tables, None where there are none yet."""
        with self.engine.connect() as connection:
            if not connection.dialect.has_table(connection, "alembic_version"):
                return None
            found: str | None = connection.exec_driver_sql(
                "SELECT version_num FROM alembic_version"
            ).scalar()
        return found

    def _put_aside(self, revision: str) -> None:
        """Copy the database as it is, whole, before it is migrated."""
        aside = self.path.with_name(f"{self.path.stem}-before-{revision}.db")
        with sqlite3.connect(self.path) as source, sqlite3.connect(aside) as copy:
            source.backup(copy)
        copy.close()
        source.close()
        aside.chmod(0o600)

    def close(self) -> None:
        if self._anchor is not None:
            self._anchor.close()
            self._anchor = None
        self.engine.dispose()
        if self._lock is not None:
            self._lock.close()
            self._lock = None


def _own_directory(path: Path) -> None:
    """Make a directory that only its user can look into.

    Raises
    ------
    CannotOpen
        Saying why it cannot be used.
    """
    try:
        path.mkdir(parents=True, exist_ok=True, mode=0o700)
        if path.stat().st_uid == os.getuid():
            path.chmod(0o700)
    except OSError as error:
        msg = (
            f"{path} cannot be used as the data directory ({error.strerror or error}): give one "
            "that you may write with DATA= or --data"
        )
        raise CannotOpen(msg) from error
    if not os.access(path, os.W_OK | os.X_OK):
        msg = (
            f"{path} cannot be written: make it yours (chmod u+rwx), or give another directory "
            "with DATA= or --data"
        )
        raise CannotOpen(msg)


def _configure(connection: sqlite3.Connection, _record: Any) -> None:
    connection.isolation_level = None  # transactions begin where `_begin` says, not by themselves
    cursor = connection.cursor()
    cursor.execute("PRAGMA busy_timeout=5000")
    cursor.execute("PRAGMA journal_mode=WAL")
    cursor.execute("PRAGMA synchronous=FULL")  # an acknowledged save survives a power cut too
    cursor.execute("PRAGMA foreign_keys=ON")
    cursor.close()


def _begin(connection: Connection) -> None:
    """Begin a write with the write lock, so that it never has to be given up half way."""
    writes = connection.get_execution_options().get("writes", False)
    connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")
