"""Keep the user's own meters by name in any case, and where instruments are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from lowfold.core.bench.data_sheet import meter_in_words
from lowfold.core.bench.models import MeterModel
from lowfold.core.errors import TooLargeError
from lowfold.store.models import InstrumentRow, MeterRow

__all__ = [
    "MOST_METERS",
    "NoSuchInstrument",
    "NoSuchMeter",
    "instruments",
    "keep_instrument",
    "keep_meters",
    "own_meters",
    "put_meters",
    "remove_instrument",
    "remove_meter",
]

MOST_METERS: Final = 100  #: and as many instruments


@dataclass
class NoSuchMeter(LookupError):
    """The user has no meter of this name."""

    name: str


@dataclass
class NoSuchInstrument(LookupError):
    """No instrument is kept under this resource name."""

    resource: str


def _key(name: str) -> str:
    return " ".join(name.split()).casefold()


def own_meters(session: Session) -> tuple[MeterModel, ...]:
    """Return the user's own meters, by name."""
    return tuple(row.to_core() for row in session.scalars(select(MeterRow).order_by(MeterRow.key)))


def keep_meters(session: Session, meters: Sequence[MeterModel]) -> None:
    """Keep meters, each over the one of its name, all or none; committed on return.

    Raises
    ------
    TooLargeError
        If there are as many as are kept.
    """
    put_meters(session, meters)
    session.commit()


def put_meters(session: Session, meters: Sequence[MeterModel]) -> None:
    """Put meters in, each over the one of its name; committed by the caller.

    Raises
    ------
    TooLargeError
        If there are as many as are kept.
    """
    for meter in meters:
        row = session.get(MeterRow, _key(meter.name))
        if row is None:
            if session.scalar(select(func.count()).select_from(MeterRow)) == MOST_METERS:
                session.rollback()
                msg = f"at most {MOST_METERS} meters are kept"
                raise TooLargeError(msg, field="name")
            row = MeterRow(key=_key(meter.name))
            session.add(row)
        row.name, row.sheet = meter.name, {**meter_in_words(meter), "of_full": meter.of_full}


def remove_meter(session: Session, name: str) -> None:
    """Forget one of the user's own meters; committed on return.

    Raises
    ------
    NoSuchMeter
    """
    removed = session.execute(delete(MeterRow).where(MeterRow.key == _key(name)))
    if removed.rowcount == 0:  # type: ignore[attr-defined]  # a DELETE's result has it
        session.rollback()
        raise NoSuchMeter(name)
    session.commit()


def instruments(session: Session) -> Sequence[InstrumentRow]:
    """Return where instruments are, by name."""
    return session.scalars(select(InstrumentRow).order_by(InstrumentRow.name)).all()


def keep_instrument(session: Session, resource: str, name: str, meter: str) -> None:
    """Keep where an instrument is, over what was kept for it; committed on return.

    Raises
    ------
    TooLargeError
        If there are as many as are kept.
    """
    row = session.get(InstrumentRow, resource)
    if row is None:
        if session.scalar(select(func.count()).select_from(InstrumentRow)) == MOST_METERS:
            session.rollback()
            msg = f"at most {MOST_METERS} instruments are kept"
            raise TooLargeError(msg, field="resource")
        row = InstrumentRow(resource=resource)
        session.add(row)
    row.name, row.meter = name, meter
    session.commit()


def remove_instrument(session: Session, resource: str) -> None:
    """Forget an instrument; committed on return.

    Raises
    ------
    NoSuchInstrument
    """
    removed = session.execute(delete(InstrumentRow).where(InstrumentRow.resource == resource))
    if removed.rowcount == 0:  # type: ignore[attr-defined]  # a DELETE's result has it
        session.rollback()
        raise NoSuchInstrument(resource)
    session.commit()
