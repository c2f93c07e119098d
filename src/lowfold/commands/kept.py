"""What is kept on this machine, opened for a command beside a server that may be running."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from pathlib import Path

from sqlalchemy.orm import Session

from lowfold.commands.printing import refuse
from lowfold.settings import Settings
from lowfold.store.database import CannotOpen, Database

__all__ = ["opened"]


@contextlib.contextmanager
def opened(data: Path | None) -> Iterator[Session]:
    """Open the database for one piece of work.

    Parameters
    ----------
    data : Path, optional
        Its directory; else where the settings say.

    Yields
    ------
    Session
    """
    settings = Settings() if data is None else Settings(data=data)
    try:
        database = Database(settings.database)
        database.migrate()
    except CannotOpen as error:
        refuse(str(error))
    try:
        with database.writing() as session:
            yield session
    finally:
        database.close()
