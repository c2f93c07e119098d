"""Keep designs: every change is committed before it is acknowledged."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, TypeVar

from sqlalchemy import Select, Text, cast, delete, func, or_, select, update
from sqlalchemy.orm import Session, load_only

from lowfold.store.models import DesignRow

__all__ = [
    "NoSuchDesign",
    "StaleDesign",
    "add_design",
    "change_design",
    "count_designs",
    "get_design",
    "list_designs",
    "remove_design",
    "restand",
    "stamps",
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


def list_designs(
    session: Session, *, offset: int = 0, limit: int | None = None, words: str = ""
) -> Sequence[DesignRow]:
    """Return designs, the one changed last first.

    Parameters
    ----------
    offset, limit : int
        Which of them.
    words : str
        Only those that have every one of these words in their name, brief, choice or reason.
    """
    found = _with_words(select(DesignRow), words)
    found = found.order_by(DesignRow.updated.desc(), DesignRow.id.desc()).offset(offset)
    return session.scalars(found.limit(limit) if limit is not None else found).all()


def count_designs(session: Session, *, words: str = "") -> int:
    """Return how many designs there are, or have every one of the words."""
    counted = session.scalar(_with_words(select(func.count(DesignRow.id)), words))
    return int(counted or 0)


_Asked = TypeVar("_Asked", bound="Select[Any]")


def _with_words(asked: _Asked, words: str) -> _Asked:
    for word in words.split():
        plain = word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
        like = f"%{plain}%"
        asked = asked.where(
            or_(
                *(
                    column.like(like, escape="\\")
                    for column in (
                        DesignRow.name,
                        DesignRow.kind,
                        DesignRow.why,
                        DesignRow.choice,
                        cast(DesignRow.brief, Text),
                    )
                )
            )
        )
    return asked


def stamps(session: Session, design_id: int | None = None) -> Sequence[DesignRow]:
    """Return designs with what their standing follows from and was worked out from, newest first.

    Parameters
    ----------
    design_id : int, optional
        Only this one.
    """
    found = select(DesignRow).options(
        load_only(
            DesignRow.kind,
            DesignRow.brief,
            DesignRow.prefer,
            DesignRow.choice,
            DesignRow.revision,
            DesignRow.standing_of,
        )
    )
    if design_id is not None:
        found = found.where(DesignRow.id == design_id)
    return session.scalars(found.order_by(DesignRow.updated.desc())).all()


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


def restand(
    session: Session, design_id: int, revision: int, standing: Mapping[str, Any], of: str
) -> bool:
    """Note how a revision of a design stands, and what that was worked out from.

    No change of the design, so its revision stays. Returns whether that revision is still there.
    """
    noted = session.execute(
        update(DesignRow)
        .where(DesignRow.id == design_id, DesignRow.revision == revision)
        .values(standing=dict(standing), standing_of=of)
    )
    session.commit()
    return bool(noted.rowcount)  # type: ignore[attr-defined]  # an UPDATE's result has it
