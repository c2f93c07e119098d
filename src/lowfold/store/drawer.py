"""Keep the user's drawer: so many parts of each value, tolerance and family."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass

from sqlalchemy import delete, select
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from lowfold.core.parts.stock import DrawerLine
from lowfold.store.models import DrawerRow

__all__ = [
    "NoSuchLine",
    "TwiceInDrawer",
    "add_line",
    "change_line",
    "drawer_lines",
    "drawer_rows",
    "merge_lines",
    "remove_line",
    "replace_lines",
]


@dataclass
class NoSuchLine(LookupError):
    """The drawer has no line of this id."""

    id: int


class TwiceInDrawer(Exception):
    """The drawer has another line of this value, tolerance and family."""


def drawer_rows(session: Session) -> Sequence[DrawerRow]:
    """Return the lines, by rising value."""
    return session.scalars(
        select(DrawerRow).order_by(DrawerRow.ohms, DrawerRow.tolerance_ppm, DrawerRow.family)
    ).all()


def drawer_lines(session: Session) -> tuple[DrawerLine, ...]:
    """Return the drawer as the core takes it."""
    return tuple(
        DrawerLine(row.ohms, row.count, row.tolerance_ppm / 1e6, row.family)
        for row in drawer_rows(session)
    )


def add_line(session: Session, line: DrawerLine) -> DrawerRow:
    """Put one line in; committed on return.

    Raises
    ------
    TwiceInDrawer
    """
    row = DrawerRow(**_columns(line))
    session.add(row)
    with _once_each(session):
        session.commit()
    return row


def change_line(session: Session, line_id: int, line: DrawerLine) -> DrawerRow:
    """Replace one line; committed on return.

    Raises
    ------
    NoSuchLine
    TwiceInDrawer
    """
    row = session.get(DrawerRow, line_id)
    if row is None:
        raise NoSuchLine(line_id)
    row.ohms, row.count, row.family = line.ohms, line.count, line.family
    row.tolerance_ppm = round(line.tolerance * 1e6)
    with _once_each(session):
        session.commit()
    return row


def remove_line(session: Session, line_id: int) -> None:
    """Take one line out; committed on return.

    Raises
    ------
    NoSuchLine
    """
    removed = session.execute(delete(DrawerRow).where(DrawerRow.id == line_id))
    if removed.rowcount == 0:  # type: ignore[attr-defined]  # a DELETE's result has it
        session.rollback()
        raise NoSuchLine(line_id)
    session.commit()


def replace_lines(session: Session, lines: Sequence[DrawerLine]) -> None:
    """Put `lines` in place of everything there is, in one transaction."""
    with _once_each(session):
        session.execute(delete(DrawerRow))
        if lines:
            session.execute(insert(DrawerRow), [_columns(line) for line in lines])
        session.commit()


def merge_lines(session: Session, lines: Sequence[DrawerLine]) -> None:
    """Put `lines` in, over those of the same value, tolerance and family, in one transaction."""
    put = insert(DrawerRow)
    over = put.on_conflict_do_update(
        index_elements=["ohms", "tolerance_ppm", "family"], set_={"count": put.excluded.count}
    )
    with _once_each(session):
        if lines:
            session.execute(over, [_columns(line) for line in lines])
        session.commit()


def _columns(line: DrawerLine) -> dict[str, object]:
    return {
        "ohms": line.ohms,
        "count": line.count,
        "tolerance_ppm": round(line.tolerance * 1e6),
        "family": line.family,
    }


@contextmanager
def _once_each(session: Session) -> Iterator[None]:
    try:
        yield
    except IntegrityError as error:
        session.rollback()
        raise TwiceInDrawer from error
