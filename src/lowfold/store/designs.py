"""Keep designs: every change is committed before it is acknowledged."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any, Final, Literal, TypeVar

from sqlalchemy import Select, delete, func, select, text, true, update
from sqlalchemy.orm import Session, load_only

from lowfold.store.models import DesignRow, EvidenceRow, RecordRow, RevisionRow
from lowfold.store.revisions import note_revision
from lowfold.store.words import forget_words, have_words, index_design

__all__ = [
    "KEPT_DAYS",
    "NoSuchDesign",
    "Sort",
    "StaleDesign",
    "Wanted",
    "add_design",
    "bring_back",
    "change_design",
    "count_designs",
    "forget_deleted",
    "get_design",
    "keep_standing",
    "list_designs",
    "now_text",
    "page_of_designs",
    "remove_design",
    "stamps",
    "tags_in_use",
]

#: Days are counted from here; the last start's is kept in the database's own header.
EPOCH: Final = datetime(1970, 1, 1, tzinfo=UTC)
KEPT_DAYS: Final = 30  #: how long a design put aside can be brought back
_Asked = TypeVar("_Asked", bound="Select[Any]")


@dataclass
class NoSuchDesign(LookupError):
    """There is no design of this id."""

    id: int


@dataclass
class StaleDesign(Exception):
    """The change was made from a revision that is no longer the stored one."""

    current: DesignRow


def now_text() -> str:
    """Return the time, as it is kept."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")


Sort = Literal["changed", "name", "begun"]
ORDERS: Final = {
    "changed": (DesignRow.updated.desc(), DesignRow.id.desc()),
    "name": (func.lower(DesignRow.name), DesignRow.id.desc()),
    "begun": (DesignRow.created.desc(), DesignRow.id.desc()),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """Which designs are looked for."""

    words: str = ""  #: each begins a word of its name, need, reason, tags or record
    state: str | None = None  #: its verdict; `none` where nothing is judged
    tag: str | None = None
    deleted: bool = False  #: those put aside, and no others
    ids: tuple[int, ...] | None = None  #: of these alone

    def of(self, asked: _Asked) -> _Asked:
        """Return a question about designs, of those that are wanted."""
        gone = DesignRow.deleted
        asked = asked.where(gone.is_not(None) if self.deleted else gone.is_(None))
        asked = asked.where(*have_words(self.words))
        if self.ids is not None:
            asked = asked.where(DesignRow.id.in_(self.ids))
        if self.state is not None:
            state = None if self.state == "none" else self.state
            asked = asked.where(DesignRow.verdict.is_(state))
        if self.tag is not None:
            tags = func.json_each(DesignRow.tags).table_valued("value")
            asked = asked.where(select(tags.c.value).where(tags.c.value == self.tag).exists())
        return asked


def list_designs(
    session: Session,
    wanted: Wanted = Wanted(),
    *,
    sort: Sort = "changed",
    offset: int = 0,
    limit: int | None = None,
) -> Sequence[DesignRow]:
    """Return designs in an order.

    Parameters
    ----------
    sort : str
        Changed last first, by name, or begun last first.
    offset, limit : int
        Which of them.
    """
    found = wanted.of(select(DesignRow)).order_by(*ORDERS[sort]).offset(offset)
    return session.scalars(found.limit(limit) if limit is not None else found).all()


def page_of_designs(
    session: Session, wanted: Wanted, *, sort: Sort = "changed", offset: int = 0, limit: int
) -> tuple[Sequence[DesignRow], int]:
    """Return some of the designs in an order, and how many are wanted in all.

    Words are looked up once for both, and only what decides the order is sorted.
    """
    ids = wanted.of(select(DesignRow.id)).order_by(*ORDERS[sort]).offset(offset).limit(limit)
    if wanted.words.split():
        found = session.execute(ids.add_columns(func.count().over())).all()
        here = [design_id for design_id, _ in found]
        total = found[0][1] if found else count_designs(session, wanted)
    else:
        here, total = list(session.scalars(ids)), count_designs(session, wanted)
    return list_designs(session, Wanted(ids=tuple(here)), sort=sort), total


def count_designs(session: Session, wanted: Wanted = Wanted()) -> int:
    """Return how many designs are wanted."""
    return int(session.scalar(wanted.of(select(func.count(DesignRow.id)))) or 0)


def tags_in_use(session: Session) -> list[str]:
    """Return every tag of a design that is not put aside, in order."""
    tags = func.json_each(DesignRow.tags).table_valued("value")
    found = select(tags.c.value).select_from(DesignRow).join(tags, true())
    found = found.where(DesignRow.deleted.is_(None))
    return sorted({str(tag) for tag in session.scalars(found)}, key=str.casefold)


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
    found = found.where(DesignRow.deleted.is_(None))
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
    if row is None or row.deleted is not None:
        raise NoSuchDesign(design_id)
    return row


def add_design(session: Session, fields: Mapping[str, Any]) -> DesignRow:
    """Store a new design with the given columns; committed on return."""
    now = now_text()
    row = DesignRow(**{"revision": 1, "created": now, "updated": now, "tags": [], **fields})
    session.add(row)
    session.flush()
    note_revision(session, row)
    index_design(session, row)
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
        .where(
            DesignRow.id == design_id,
            DesignRow.revision == revision,
            DesignRow.deleted.is_(None),
        )
        .values(**fields, revision=revision + 1, updated=now_text())
    )
    if changed.rowcount == 0:  # type: ignore[attr-defined]  # an UPDATE's result has it
        session.rollback()
        raise StaleDesign(get_design(session, design_id))
    row = get_design(session, design_id)
    note_revision(session, row)
    index_design(session, row)
    session.commit()
    return row


def remove_design(session: Session, design_id: int) -> None:
    """Put one design aside, with its record; committed on return.

    Raises
    ------
    NoSuchDesign
    """
    get_design(session, design_id).deleted = now_text()
    session.commit()


def bring_back(session: Session, design_id: int) -> DesignRow:
    """Bring a design back that was put aside; committed on return.

    Raises
    ------
    NoSuchDesign
        If none of this id is put aside.
    """
    row = session.get(DesignRow, design_id, populate_existing=True)
    if row is None or row.deleted is None:
        raise NoSuchDesign(design_id)
    row.deleted = None
    session.commit()
    return row


def forget_deleted(session: Session) -> int:
    """Forget what was put aside longer ago than it is kept; committed on return.

    The time is that of the start before this one, if that is earlier: a clock that is ahead at one
    start forgets nothing. Returns how many designs that were.
    """
    days = (datetime.now(UTC) - EPOCH).days
    before = int(session.scalar(text("PRAGMA user_version")) or 0)
    session.execute(text(f"PRAGMA user_version = {days}"))
    seen = datetime.now(UTC) if before >= days else EPOCH + timedelta(days=before)
    since = (seen - timedelta(days=KEPT_DAYS)).isoformat(timespec="milliseconds")
    gone = session.scalars(select(DesignRow.id).where(DesignRow.deleted < since)).all()
    for design_id in gone:
        forget_words(session, design_id)
        for table in (RecordRow, RevisionRow, EvidenceRow):
            session.execute(delete(table).where(table.design_id == design_id))
        session.execute(delete(DesignRow).where(DesignRow.id == design_id))
    session.commit()
    return len(gone)


def keep_standing(
    session: Session, design_id: int, revision: int, standing: Mapping[str, Any], of: str
) -> bool:
    """Note how a revision of a design stands, and what that was worked out from.

    No change of the design, so its revision stays. Returns whether that revision is still there.
    """
    noted = session.execute(
        update(DesignRow)
        .where(DesignRow.id == design_id, DesignRow.revision == revision)
        .values(standing=dict(standing), standing_of=of, verdict=standing.get("verdict"))
    )
    session.commit()
    return bool(noted.rowcount)  # type: ignore[attr-defined]  # an UPDATE's result has it
