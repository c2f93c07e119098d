"""Keep the user's own part families, by name in any case."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from lowfold.core.errors import TooLargeError
from lowfold.core.parts.families import Family
from lowfold.store.models import FamilyRow

__all__ = [
    "MOST_FAMILIES",
    "NoSuchFamily",
    "keep_families",
    "keep_family",
    "own_families",
    "put_family",
    "remove_family",
]

MOST_FAMILIES: Final = 200


@dataclass
class NoSuchFamily(LookupError):
    """The user has no family of this name."""

    name: str


def _key(name: str) -> str:
    return " ".join(name.split()).casefold()


def own_families(session: Session) -> tuple[Family, ...]:
    """Return the user's own families, by name."""
    return tuple(
        row.to_core() for row in session.scalars(select(FamilyRow).order_by(FamilyRow.key))
    )


def keep_family(session: Session, family: Family) -> None:
    """Keep a family, over the one of its name if there is one; committed on return.

    Raises
    ------
    TooLargeError
        If there are as many as are kept.
    """
    keep_families(session, [family])


def keep_families(session: Session, families: Sequence[Family]) -> None:
    """Keep several families in one transaction; see `keep_family`."""
    for family in families:
        put_family(session, family)
    session.commit()


def put_family(session: Session, family: Family) -> None:
    """Put a family in, over the one of its name; committed by the caller.

    Raises
    ------
    TooLargeError
        If there are as many as are kept.
    """
    row = session.get(FamilyRow, _key(family.name))
    if row is None:
        if session.scalar(select(func.count()).select_from(FamilyRow)) == MOST_FAMILIES:
            session.rollback()
            msg = f"at most {MOST_FAMILIES} families are kept"
            raise TooLargeError(msg, field="name")
        row = FamilyRow(key=_key(family.name))
        session.add(row)
    row.name = " ".join(family.name.split())
    row.tolerance, row.tcr_ppm, row.drift = family.tolerance, family.tcr_ppm, family.drift
    row.rated_watts, row.limiting_volts = family.rated_watts, family.limiting_volts
    row.full_power_c, row.zero_power_c = family.full_power_c, family.zero_power_c


def remove_family(session: Session, name: str) -> None:
    """Forget one of the user's own families; committed on return.

    Raises
    ------
    NoSuchFamily
    """
    removed = session.execute(delete(FamilyRow).where(FamilyRow.key == _key(name)))
    if removed.rowcount == 0:  # type: ignore[attr-defined]  # a DELETE's result has it
        session.rollback()
        raise NoSuchFamily(name)
    session.commit()
