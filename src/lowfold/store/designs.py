"""Keep designs: every change is committed before it is acknowledged."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session

from lowfold.store.models import DesignRow

__all__ = [
    "NoSuchDesign",
    "StaleDesign",
    "add_design",
    "change_design",
    "get_design",
    "list_designs",
    "remove_design",
    "restand",
]


@dataclass
class NoSuchDesign(LookupError):
    """There is no design of this id."""

    id: int


@dataclass
class StaleDesign(Exception):
    """The change was made from a revision that is no longer the stored one."""

    current: DesignRow


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def list_designs(session: Session) -> Sequence[DesignRow]:
    """Return every design, the one changed last first."""
    return session.scalars(
        select(DesignRow).order_by(DesignRow.updated.desc(), DesignRow.id.desc())
    ).all()


def get_design(session: Session, design_id: int) -> DesignRow:
    """Return one design.

    Raises
    ------
    NoSuchDesign
    """
    row = session.get(DesignRow, design_id, populate_existing=True)
    if row is None:
        raise NoSuchDesign(design_id)
    return row


def add_design(session: Session, fields: Mapping[str, Any]) -> DesignRow:
    """Store a new design with the given columns; committed on return."""
    now = _now()
    row = DesignRow(**fields, revision=1, created=now, updated=now)
    session.add(row)
    session.commit()
    return row


def change_design(
    session: Session, design_id: int, revision: int, fields: Mapping[str, Any]
) -> DesignRow:
    """Replace the given columns if `revision` is still the stored one; committed on return.

    The comparison and the change are one statement, so of two saves made from the same revision
    exactly one succeeds.

    Raises
    ------
    NoSuchDesign
    StaleDesign
        With the stored design; nothing is changed.
    """
    changed = session.execute(
        update(DesignRow)
        .where(DesignRow.id == design_id, DesignRow.revision == revision)
        .values(**fields, revision=revision + 1, updated=_now())
    )
    if changed.rowcount == 0:  # type: ignore[attr-defined]  # an UPDATE's result has it
        session.rollback()
        raise StaleDesign(get_design(session, design_id))
    session.commit()
    return get_design(session, design_id)


def remove_design(session: Session, design_id: int) -> None:
    """Delete one design; committed on return.

    Raises
    ------
    NoSuchDesign
    """
    removed = session.execute(delete(DesignRow).where(DesignRow.id == design_id))
    if removed.rowcount == 0:  # type: ignore[attr-defined]  # a DELETE's result has it
        session.rollback()
        raise NoSuchDesign(design_id)
    session.commit()


def restand(session: Session, design_id: int, standing: Mapping[str, Any]) -> None:
    """Note anew how a design stands; no change of the design, so its revision stays."""
    session.execute(
        update(DesignRow).where(DesignRow.id == design_id).values(standing=dict(standing))
    )
    session.commit()
