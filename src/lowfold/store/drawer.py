"""Keep the user's drawer: so many parts of each value, tolerance and family."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import delete, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from lowfold.core.needs.parts import DrawerLine
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


def _row(line: DrawerLine) -> DrawerRow:
    return DrawerRow(
        ohms=line.ohms,
        count=line.count,
        tolerance_ppm=round(line.tolerance * 1e6),
        family=line.family,
    )


def add_line(session: Session, line: DrawerLine) -> DrawerRow:
    """Put one line in; committed on return.

    Raises
    ------
    TwiceInDrawer
    """
    row = _row(line)
    session.add(row)
    _commit(session)
    return row


def change_line(session: Session, line_id: int, line: DrawerLine) -> DrawerRow:
    """Replace one line; committed on return.

    Raises
    ------
    NoSuchLine
    TwiceInDrawer
    """
    row = _get(session, line_id)
    row.ohms, row.count, row.family = line.ohms, line.count, line.family
    row.tolerance_ppm = round(line.tolerance * 1e6)
    _commit(session)
    return row


def remove_line(session: Session, line_id: int) -> None:
    """Take one line out; committed on return.

    Raises
    ------
    NoSuchLine
    """
    session.delete(_get(session, line_id))
    session.commit()


def replace_lines(session: Session, lines: Sequence[DrawerLine]) -> None:
    """Put `lines` in place of everything there is, in one transaction."""
    session.execute(delete(DrawerRow))
    session.add_all([_row(line) for line in lines])
    _commit(session)


def merge_lines(session: Session, lines: Sequence[DrawerLine]) -> None:
    """Put `lines` in, over those of the same value, tolerance and family, in one transaction."""
    present = {(r.ohms, r.tolerance_ppm, r.family): r for r in drawer_rows(session)}
    for line in lines:
        row = _row(line)
        known = present.get((row.ohms, row.tolerance_ppm, row.family))
        if known is None:
            session.add(row)
        else:
            known.count = line.count
    _commit(session)


def _get(session: Session, line_id: int) -> DrawerRow:
    row = session.get(DrawerRow, line_id)
    if row is None:
        raise NoSuchLine(line_id)
    return row


def _commit(session: Session) -> None:
    try:
        session.commit()
    except IntegrityError as error:
        session.rollback()
        raise TwiceInDrawer from error
