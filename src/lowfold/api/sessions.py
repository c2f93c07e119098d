"""What a request gets from the database, and the user's stock as it is now."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated

from fastapi import Depends, Request
from sqlalchemy.orm import Session

from lowfold.core.parts.families import Family
from lowfold.core.parts.stock import DrawerLine, Stock
from lowfold.store.database import Database
from lowfold.store.drawer import drawer_lines
from lowfold.store.families import own_families

__all__ = [
    "DrawerDep",
    "FamiliesDep",
    "SessionDep",
    "StockDep",
    "WritingDep",
    "stock_changed",
]


def _session(request: Request) -> Iterator[Session]:
    database: Database = request.app.state.database
    with database.sessions() as session:
        yield session


def _writing(request: Request) -> Iterator[Session]:
    database: Database = request.app.state.database
    with database.writing() as session:
        yield session


SessionDep = Annotated[Session, Depends(_session)]
#: For what changes something; given back before the answer is sent, so that nobody waits for that.
WritingDep = Annotated[Session, Depends(_writing, scope="function")]


def stock_changed(request: Request, session: Session) -> None:
    """Read the stock anew, and say so to whoever works with it."""
    state = request.app.state
    state.stock = Stock(drawer_lines(session), own_families(session))
    state.lanes.stock_is(state.lanes.version + 1, state.stock)
    state.standings.look_again()


def _stock(request: Request) -> Stock:
    """Return the stock, which this process alone changes: it holds the directory."""
    found: Stock = request.app.state.stock
    return found


def _drawer(request: Request) -> tuple[DrawerLine, ...]:
    return _stock(request).lines


def _families(request: Request) -> tuple[Family, ...]:
    return _stock(request).families


DrawerDep = Annotated[tuple[DrawerLine, ...], Depends(_drawer)]
FamiliesDep = Annotated[tuple[Family, ...], Depends(_families)]
StockDep = Annotated[Stock, Depends(_stock)]
