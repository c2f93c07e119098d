"""What a request gets from the database, and the user's stock as it is now."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated

from fastapi import Depends, Request
from sqlalchemy.orm import Session

from lowfold.core.bench.inventory import Inventory
from lowfold.core.bench.models import MeterModel
from lowfold.core.bench.priors import Priors
from lowfold.core.parts.families import Family
from lowfold.core.parts.stock import DrawerLine, Stock
from lowfold.store.database import Database
from lowfold.store.drawer import drawer_lines
from lowfold.store.families import own_families
from lowfold.store.meters import own_meters
from lowfold.store.priors import own_priors

__all__ = [
    "DrawerDep",
    "FamiliesDep",
    "MetersDep",
    "PriorsDep",
    "SessionDep",
    "StockDep",
    "WritingDep",
    "inventory",
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


def inventory(session: Session) -> Inventory:
    """Return what is the user's own, as it is kept."""
    return Inventory(
        drawer_lines(session), own_families(session), own_meters(session), own_priors(session)
    )


def stock_changed(request: Request, session: Session) -> None:
    """Read the stock anew, and say so to whoever works with it."""
    state = request.app.state
    state.stock = inventory(session)
    state.computed.stock_is(state.computed.version + 1, state.stock)
    state.standings.look_again()


async def _stock(request: Request) -> Inventory:  # a thread would cost more
    """Return the stock: in a worker as it came with the request, in the server as it is now."""
    sent: Inventory | None = request.scope.get("state", {}).get("stock")
    found: Inventory = request.app.state.stock if sent is None else sent
    return found


_Stock = Annotated[Inventory, Depends(_stock)]


async def _drawer(stock: _Stock) -> tuple[DrawerLine, ...]:
    return stock.lines


async def _families(stock: _Stock) -> tuple[Family, ...]:
    return stock.families


async def _meters(stock: _Stock) -> tuple[MeterModel, ...]:
    return stock.meters


async def _priors(stock: _Stock) -> Priors:
    return stock.priors


DrawerDep = Annotated[tuple[DrawerLine, ...], Depends(_drawer)]
FamiliesDep = Annotated[tuple[Family, ...], Depends(_families)]
MetersDep = Annotated[tuple[MeterModel, ...], Depends(_meters)]
PriorsDep = Annotated[Priors, Depends(_priors)]
StockDep = Annotated[Stock, Depends(_stock)]
