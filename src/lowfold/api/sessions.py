"""What a request gets from the database."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated

from fastapi import Depends, Request
from sqlalchemy.orm import Session

from lowfold.core.families import Family
from lowfold.core.needs.parts import DrawerLine, Stock
from lowfold.store.database import Database
from lowfold.store.drawer import drawer_lines
from lowfold.store.families import own_families

__all__ = [
    "DrawerDep",
    "FamiliesDep",
    "SessionDep",
    "StockDep",
    "drawer_changed",
    "families_changed",
]


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


def _families(request: Request, session: SessionDep) -> tuple[Family, ...]:
    """Read the user's own families, once until they are changed."""
    known: tuple[Family, ...] | None = getattr(request.app.state, "families", None)
    if known is None:
        known = request.app.state.families = own_families(session)
    return known


FamiliesDep = Annotated[tuple[Family, ...], Depends(_families)]


def families_changed(request: Request) -> None:
    """Forget the families as they were read."""
    request.app.state.families = None


def _stock(drawer: DrawerDep, families: FamiliesDep) -> Stock:
    return Stock(drawer, families)


StockDep = Annotated[Stock, Depends(_stock)]
