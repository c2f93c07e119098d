"""Give a design out whole, and take one in: all of it, or nothing."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from typing import Any

from sqlalchemy.orm import Session

from lowfold.core.errors import TooLargeError
from lowfold.core.record.picture import Picture
from lowfold.store.designs import get_design, now_text
from lowfold.store.evidence import add_evidence, evidence_of
from lowfold.store.models import DesignRow, EvidenceRow, RecordRow, RevisionRow
from lowfold.store.record import MOST_ENTRIES, entries
from lowfold.store.revisions import fields_of, revisions
from lowfold.store.words import index_design, index_record

__all__ = ["give_out", "numbered", "take_in"]


def numbered(rows: Sequence[RecordRow], pictures: Sequence[EvidenceRow]) -> list[dict[str, Any]]:
    """Return entries that name each other, and their photographs, by number from 1.

    Parameters
    ----------
    rows : sequence of RecordRow
        Of one design, oldest first.
    pictures : sequence of EvidenceRow
    """
    entry = {row.id: k for k, row in enumerate(rows, 1)}
    picture = {row.id: k for k, row in enumerate(pictures, 1)}
    found = []
    for row in rows:
        facts = dict(row.facts)
        for name, numbers in (("corrects", entry), ("of", entry), ("evidence", picture)):
            if name in facts:
                facts[name] = numbers[facts[name]]
        found.append({"kind": row.kind, "text": row.text, "at": row.at, **facts})
    return found


def give_out(session: Session, design_id: int, *, whole: bool = True) -> dict[str, Any]:
    """Return a design with its revisions, its record and its photographs.

    Parameters
    ----------
    whole : bool
        With the pictures themselves, in base 64.

    Raises
    ------
    NoSuchDesign
    """
    row = get_design(session, design_id)
    pictures = evidence_of(session, design_id, images=whole)
    shown = []
    for picture in pictures:
        names = ("at", "media", "width", "height", "sha256")
        facts = {name: getattr(picture, name) for name in names}
        data = {"data": base64.b64encode(picture.image).decode()} if whole else {}
        shown.append({**facts, **data})
    states = [
        {"revision": r.revision, "at": r.at, **r.fields}
        for r in reversed(revisions(session, design_id))
    ]
    return {
        **fields_of(row),
        "revision": row.revision,
        "created": row.created,
        "updated": row.updated,
        "revisions": states,
        "record": numbered(entries(session, design_id), pictures),
        "evidence": shown,
    }


def take_in(
    session: Session,
    columns: dict[str, Any],
    revision: int,
    states: Sequence[tuple[int, str, dict[str, Any]]],
    record: Sequence[tuple[str, str, str, dict[str, Any]]],
    pictures: Sequence[tuple[str, Picture]],
) -> DesignRow:
    """Keep a design that was given out elsewhere; committed by the caller.

    Parameters
    ----------
    columns : dict
        Its state, and how it stands.
    revision : int
    states : sequence of (revision, when, state)
    record : sequence of (when, kind, text, facts)
        Naming each other, and photographs, by number from 1.
    pictures : sequence of (when, picture)
    """
    now = now_text()
    row = DesignRow(**columns, revision=revision, created=now, updated=now)
    session.add(row)
    session.flush()
    session.add_all(
        RevisionRow(design_id=row.id, revision=number, at=at, folded=False, fields=fields)
        for number, at, fields in states
    )
    kept = [add_evidence(session, row.id, picture, at).id for at, picture in pictures]
    _take_in_record(session, row.id, record, kept)
    index_design(session, row)
    return row


def _take_in_record(
    session: Session,
    design_id: int,
    record: Sequence[tuple[str, str, str, dict[str, Any]]],
    pictures: Sequence[int],
) -> None:
    """Write a whole record at once: its entries get their ids first, then name each other by them.

    Raises
    ------
    TooLargeError
        If it is longer than a record may be.
    """
    if len(record) > MOST_ENTRIES:
        msg = f"a record holds at most {MOST_ENTRIES} entries"
        raise TooLargeError(msg, field="record")
    rows = [
        RecordRow(design_id=design_id, at=at, kind=kind, text=text, facts=facts)
        for at, kind, text, facts in record
    ]
    session.add_all(rows)
    session.flush()
    ids = [row.id for row in rows]
    for row in rows:
        numbers = {"corrects": ids, "of": ids, "evidence": pictures}
        linked = {n: numbers[n][row.facts[n] - 1] for n in numbers if n in row.facts}
        if linked:
            row.facts = {**row.facts, **linked}
    session.flush()
    index_record(session, design_id, [row.text for row in rows])
