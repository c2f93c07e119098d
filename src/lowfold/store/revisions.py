"""Keep every state of a design, those that only went on typing folded into the next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Final

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from lowfold.core.record.revisions import goes_on_typing
from lowfold.store.models import DesignRow, RevisionRow

__all__ = ["FIELDS", "MOST_FOLDED", "NoSuchRevision", "get_revision", "note_revision", "revisions"]

#: What of a design is its state; the rest follows from it, or from when it was kept.
FIELDS: Final = ("name", "kind", "brief", "prefer", "choice", "why", "tags")
MOST_FOLDED: Final = 400  #: folded states of one design, the oldest going first


@dataclass
class NoSuchRevision(LookupError):
    """A design has no state of this number, or it is folded and gone."""

    revision: int


def fields_of(row: DesignRow) -> dict[str, Any]:
    """Return a design's state."""
    return {name: getattr(row, name) for name in FIELDS}


def note_revision(session: Session, row: DesignRow) -> None:
    """Keep the state a design has now; committed by the caller."""
    ours = select(RevisionRow).where(RevisionRow.design_id == row.id)
    heads = session.scalars(
        ours.where(RevisionRow.folded.is_(False)).order_by(RevisionRow.revision.desc()).limit(2)
    ).all()
    now = fields_of(row)
    if len(heads) == 2:
        last, base = heads
        seconds = (_read(row.updated) - _read(last.at)).total_seconds()
        if goes_on_typing(base.fields, last.fields, now, seconds):
            last.folded = True
    session.add(
        RevisionRow(
            design_id=row.id, revision=row.revision, at=row.updated, folded=False, fields=now
        )
    )
    session.flush()
    folded = ours.where(RevisionRow.folded.is_(True)).order_by(RevisionRow.revision.desc())
    old = session.scalars(folded.offset(MOST_FOLDED).limit(1)).first()
    if old is not None:
        session.execute(
            delete(RevisionRow).where(
                RevisionRow.design_id == row.id,
                RevisionRow.folded.is_(True),
                RevisionRow.revision <= old.revision,
            )
        )


def _read(at: str) -> datetime:
    return datetime.fromisoformat(at)


def revisions(session: Session, design_id: int, most: int | None = None) -> Sequence[RevisionRow]:
    """Return the states of a design that are worth having, the newest first, so many at most."""
    found = select(RevisionRow).where(
        RevisionRow.design_id == design_id, RevisionRow.folded.is_(False)
    )
    return session.scalars(found.order_by(RevisionRow.revision.desc()).limit(most)).all()


def get_revision(session: Session, design_id: int, revision: int) -> RevisionRow:
    """Return one state of a design, folded or not.

    Raises
    ------
    NoSuchRevision
    """
    row = session.get(RevisionRow, (design_id, revision))
    if row is None:
        raise NoSuchRevision(revision)
    return row
