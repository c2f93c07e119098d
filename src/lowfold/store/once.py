"""Writes that are sent again are answered again, and not done again.

A client gives each write a key. The key is kept in the transaction that the write is kept in, so
that both are there or neither, whatever ends the server in between; what was answered is put to it
before the answer is sent.
"""

from __future__ import annotations

from collections.abc import Mapping
from contextvars import ContextVar
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Final

from sqlalchemy import delete, event, insert, update
from sqlalchemy.orm import Session

from lowfold.store.models import OnceRow

__all__ = ["WRITING", "Write", "answered", "find_once", "noted_in"]

KEPT: Final = timedelta(days=1)


@dataclass
class Write:
    """The write that is under way, by its client's key."""

    key: str
    asked: str
    kept: bool = False  #: something was committed for it


#: Set while a request with a key is answered, in its threads too.
WRITING: ContextVar[Write | None] = ContextVar("writing", default=None)


def _now(back: timedelta = timedelta()) -> str:
    return (datetime.now(UTC) - back).isoformat(timespec="milliseconds")


def noted_in(session: Session) -> None:
    """Have the key of the write under way kept with the first thing that a session commits."""
    write = WRITING.get()
    if write is None or write.kept:
        return

    def note(session: Session) -> None:
        if write.kept:
            return
        session.execute(delete(OnceRow).where(OnceRow.at < _now(KEPT)))
        session.execute(insert(OnceRow).values(key=write.key, asked=write.asked, at=_now()))

    def kept(_session: Session) -> None:
        write.kept = True

    event.listen(session, "before_commit", note)
    event.listen(session, "after_commit", kept)


def find_once(session: Session, key: str) -> OnceRow | None:
    """Return the write of a key, if it was kept."""
    return session.get(OnceRow, key)


def answered(
    session: Session, key: str, status: int, headers: Mapping[str, str], body: bytes
) -> None:
    """Put to a write what was answered; committed on return."""
    session.execute(
        update(OnceRow)
        .where(OnceRow.key == key)
        .values(status=status, headers=dict(headers), body=body)
    )
    session.commit()
