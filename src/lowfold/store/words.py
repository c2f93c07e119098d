"""Find designs by the words of their names, needs, reasons, tags and records (SQLite's FTS5).

A row of the index is a design, or some entries of its record: its number is the design's, shifted,
and their place in that record, so that what is found needs no other table.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from sqlalchemy import ColumnElement, Integer, column, false, select, table, text
from sqlalchemy.orm import Session

from lowfold.store.models import DesignRow

__all__ = [
    "MOST_PLACES",
    "forget_words",
    "have_words",
    "index_design",
    "index_entry",
    "index_record",
]

#: Entries of one record that the index can hold.
MOST_PLACES: Final = 2**20 - 1
SHIFT: Final = 20
TOGETHER: Final = 16  #: entries in one row of the index
WORDS: Final = table("words")
PLACE: Final = column("rowid", Integer)


def index_design(session: Session, row: DesignRow) -> None:
    """Have a design found by what it says now; committed by the caller."""
    brief = [str(v) for v in row.brief.values()]
    said = " ".join([row.name, row.kind, *brief, row.choice or "", row.why, *row.tags])
    place = {"place": row.id << SHIFT}
    session.execute(text("DELETE FROM words WHERE rowid = :place"), place)
    session.execute(
        text("INSERT INTO words (rowid, text) VALUES (:place, :said)"), {**place, "said": said}
    )


def index_entry(session: Session, design_id: int, place: int, said: str) -> None:
    """Have a design found by an entry of its record, the `place`-th; committed by the caller.

    Some entries share a row, so that a common word is found in fewer of them.
    """
    group, first = divmod(place - 1, TOGETHER)
    row = {"place": (design_id << SHIFT) + 1 + group, "said": said}
    if first == 0:
        session.execute(text("INSERT INTO words (rowid, text) VALUES (:place, :said)"), row)
    else:
        session.execute(
            text("UPDATE words SET text = text || ' ' || :said WHERE rowid = :place"), row
        )


def index_record(session: Session, design_id: int, said: Sequence[str]) -> None:
    """Have a design found by a whole record, where there was none; committed by the caller."""
    rows = [
        {"place": (design_id << SHIFT) + 1 + k, "said": " ".join(said[start : start + TOGETHER])}
        for k, start in enumerate(range(0, len(said), TOGETHER))
    ]
    if rows:
        session.execute(text("INSERT INTO words (rowid, text) VALUES (:place, :said)"), rows)


def forget_words(session: Session, design_id: int) -> None:
    """Have a design found by nothing any more; committed by the caller."""
    session.execute(
        text("DELETE FROM words WHERE rowid BETWEEN :first AND :last"),
        {"first": design_id << SHIFT, "last": (design_id << SHIFT) + MOST_PLACES},
    )


def have_words(words: str) -> list[ColumnElement[bool]]:
    """Return what designs fulfil that have every one of some words, each at its beginning.

    Parameters
    ----------
    words : str
        Parted by blanks; a word of signs alone is left out.
    """
    found: list[ColumnElement[bool]] = []
    for word in words.split():
        if not any(c.isalnum() for c in word):
            continue
        if "\0" in word:  # no text that is kept has one, and a question of the index ends there
            return [false()]
        quoted = word.replace('"', '""')
        places = select(PLACE.op(">>")(SHIFT)).select_from(WORDS)
        match = column(WORDS.name).op("MATCH")(f'"{quoted}"*')
        found.append(DesignRow.id.in_(places.where(match)))
    return found
