"""Keep a design's record: entries are added, never changed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Final

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from lowfold.core.errors import TooLargeError
from lowfold.core.record.last_readings import last_readings
from lowfold.store.designs import get_design, now_text
from lowfold.store.evidence import get_evidence
from lowfold.store.models import RecordRow
from lowfold.store.words import index_entry

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
    session: Session,
    design_id: int,
    kind: str,
    text: str,
    facts: Mapping[str, Any],
    at: str | None = None,
) -> RecordRow:
    """Add an entry; committed by the caller.

    Parameters
    ----------
    facts : mapping
        What else is known of it; `corrects` and `of` name an earlier entry, `evidence` a
        photograph.
    at : str, optional
        When, where that is not now.

    Raises
    ------
    NoSuchDesign
    NoSuchEntry, NoSuchEvidence
        Where it names an entry or a photograph that is not there.
    TooLargeError
        If the record is full.
    """
    get_design(session, design_id)
    for named in (facts.get("corrects"), facts.get("of")):
        there = session.get(RecordRow, named) if named is not None else None
        if named is not None and (there is None or there.design_id != design_id):
            raise NoSuchEntry(named)
    if facts.get("evidence") is not None:
        get_evidence(session, design_id, facts["evidence"])
    ours = select(func.count()).select_from(RecordRow).where(RecordRow.design_id == design_id)
    place = session.scalar(ours) or 0
    if place >= MOST_ENTRIES:
        msg = f"a record holds at most {MOST_ENTRIES} entries"
        raise TooLargeError(msg, field="text")
    row = RecordRow(
        design_id=design_id, at=at or now_text(), kind=kind, text=text, facts=dict(facts)
    )
    session.add(row)
    session.flush()
    index_entry(session, design_id, place + 1, text)
    return row


def standing_readings(session: Session, design_id: int) -> list[RecordRow]:
    """Return the readings that stand: the newest at each point of each board, none taken back.

    Raises
    ------
    NoSuchDesign
    """
    rows = {row.id: row for row in entries(session, design_id)}
    told = ({**row.facts, "number": row.id, "kind": row.kind} for row in rows.values())
    return [rows[number] for number in last_readings(told)]
