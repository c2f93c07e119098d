"""What a request gets from the database."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated

from fastapi import Depends, Request
from sqlalchemy.orm import Session

from lowfold.core.needs.parts import DrawerLine
from lowfold.store.database import Database
from lowfold.store.drawer import drawer_lines

__all__ = ["DrawerDep", "SessionDep", "drawer_changed"]


def _session(request: Request) -> Iterator[Session]:
    database: Database = request.app.state.database
    with database.sessions() as session:
        yield session


SessionDep = Annotated[Session, Depends(_session)]


def _drawer(request: Request, session: SessionDep) -> tuple[DrawerLine, ...]:
    """Read the drawer, once until it is changed: it is asked for at every keystroke."""
    known: tuple[DrawerLine, ...] | None = getattr(request.app.state, "drawer", None)
    if known is None:
        known = request.app.state.drawer = drawer_lines(session)
    return known


DrawerDep = Annotated[tuple[DrawerLine, ...], Depends(_drawer)]


def drawer_changed(request: Request) -> None:
    """Forget the drawer as it was read."""
    request.app.state.drawer = None
