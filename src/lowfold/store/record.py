"""Keep a design's record: entries are added, never changed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Final

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from lowfold.core.errors import TooLargeError
from lowfold.store.designs import get_design
from lowfold.store.models import RecordRow

__all__ = ["MOST_ENTRIES", "NoSuchEntry", "add_entry", "entries", "standing_readings"]

MOST_ENTRIES: Final = 20_000  #: of one design


@dataclass
class NoSuchEntry(LookupError):
    """A design's record has no entry of this id."""

    id: int


def entries(session: Session, design_id: int) -> Sequence[RecordRow]:
    """Return a design's record, oldest first.

    Raises
    ------
    NoSuchDesign
    """
    get_design(session, design_id)
    found = select(RecordRow).where(RecordRow.design_id == design_id).order_by(RecordRow.id)
    return session.scalars(found).all()


def add_entry(
    session: Session, design_id: int, kind: str, text: str, facts: Mapping[str, Any]
) -> RecordRow:
    """Add an entry; committed on return.

    Parameters
    ----------
    facts : mapping
        What else is known of it; `corrects` names an earlier entry.

    Raises
    ------
    NoSuchDesign
    NoSuchEntry
        Where it corrects an entry that is not there.
    TooLargeError
        If the record is full.
    """
    get_design(session, design_id)
    corrects = facts.get("corrects")
    if corrects is not None:
        there = session.get(RecordRow, corrects)
        if there is None or there.design_id != design_id:
            raise NoSuchEntry(corrects)
    ours = select(func.count()).select_from(RecordRow).where(RecordRow.design_id == design_id)
    if (session.scalar(ours) or 0) >= MOST_ENTRIES:
        msg = f"a record holds at most {MOST_ENTRIES} entries"
        raise TooLargeError(msg, field="text")
    now = datetime.now(UTC).isoformat(timespec="milliseconds")
    row = RecordRow(design_id=design_id, at=now, kind=kind, text=text, facts=dict(facts))
    session.add(row)
    session.commit()
    return row


def standing_readings(session: Session, design_id: int) -> list[RecordRow]:
    """Return the readings that stand: the newest at each point of each board, none taken back.

    Raises
    ------
    NoSuchDesign
    """
    newest: dict[str, RecordRow] = {}
    taken_back = set()
    for row in entries(session, design_id):
        if row.kind == "correction":
            taken_back.add(row.facts.get("corrects"))
        elif row.kind == "reading":
            point = row.facts.get("point") or {}
            where = sorted((k, v) for k, v in point.items() if v is not None and k != "range_full")
            newest[repr((row.facts.get("board"), where))] = row
    return sorted((r for r in newest.values() if r.id not in taken_back), key=lambda r: r.id)
