"""Keep photographs of a design's boards: encoded anew, never changed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from sqlalchemy import func, select
from sqlalchemy.orm import Session, undefer

from lowfold.core.errors import TooLargeError
from lowfold.core.record.picture import Picture
from lowfold.store.designs import get_design, now_text
from lowfold.store.models import EvidenceRow

__all__ = [
    "MOST_BYTES",
    "MOST_PICTURES",
    "NoSuchEvidence",
    "add_evidence",
    "evidence_of",
    "get_evidence",
]

MOST_PICTURES: Final = 200  #: of one design
MOST_BYTES: Final = 60_000_000  #: of them together, so that a hand-over can carry them


@dataclass
class NoSuchEvidence(LookupError):
    """A design has no photograph of this id."""

    id: int


def add_evidence(
    session: Session, design_id: int, picture: Picture, at: str | None = None
) -> EvidenceRow:
    """Keep a photograph of a design; committed by the caller.

    Raises
    ------
    NoSuchDesign
    TooLargeError
        If the design has as many, or as much, as is kept.
    """
    get_design(session, design_id)
    counted = select(func.count(), func.coalesce(func.sum(EvidenceRow.size), 0))
    count, size = session.execute(counted.where(EvidenceRow.design_id == design_id)).one()
    if count >= MOST_PICTURES:
        msg = f"a record holds at most {MOST_PICTURES} photographs"
        raise TooLargeError(msg, field="file")
    if size + len(picture.image) > MOST_BYTES:
        msg = (
            f"the photographs of a record have at most {MOST_BYTES // 1_000_000} MB together; this "
            f"one has {len(picture.image) / 1e6:.1f} MB, and there are {size / 1e6:.1f} MB already"
        )
        raise TooLargeError(msg, field="file")
    row = EvidenceRow(
        design_id=design_id,
        at=at or now_text(),
        sha256=picture.sha256,
        media=picture.media,
        width=picture.width,
        height=picture.height,
        size=len(picture.image),
        image=picture.image,
        thumbnail=picture.thumbnail,
    )
    session.add(row)
    session.flush()
    return row


def evidence_of(
    session: Session, design_id: int, *, images: bool = False, thumbnails: bool = False
) -> Sequence[EvidenceRow]:
    """Return the photographs of a design, oldest first; the pictures themselves only if wanted."""
    found = select(EvidenceRow).where(EvidenceRow.design_id == design_id).order_by(EvidenceRow.id)
    if images:
        found = found.options(undefer(EvidenceRow.image))
    if thumbnails:
        found = found.options(undefer(EvidenceRow.thumbnail))
    return session.scalars(found).all()


def get_evidence(session: Session, design_id: int, evidence_id: int) -> EvidenceRow:
    """Return one photograph of a design.

    Raises
    ------
    NoSuchEvidence
    """
    row = session.get(EvidenceRow, evidence_id)
    if row is None or row.design_id != design_id:
        raise NoSuchEvidence(evidence_id)
    return row
