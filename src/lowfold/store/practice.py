"""Keep the questions that were put, and how they were answered."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Final

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from lowfold.core.practice.coming_again import Answered
from lowfold.store.designs import now_text
from lowfold.store.models import PracticeRow

__all__ = [
    "AlreadyAnswered",
    "NoSuchQuestion",
    "answer_question",
    "find_own",
    "get_question",
    "history_of",
    "note_reading",
    "posed_counts",
    "put_question",
]

MOST_HISTORY: Final = 5000  #: answers that are looked back on, the newest


@dataclass
class NoSuchQuestion(LookupError):
    """There is no question of this id."""

    id: int


@dataclass
class AlreadyAnswered(RuntimeError):
    """A question is answered once."""

    id: int


def put_question(
    session: Session, drill: str, level: int, seed: int, network: str | None, facts: dict[str, Any]
) -> PracticeRow:
    """Keep a question that is put; committed by the caller."""
    row = PracticeRow(
        drill=drill, level=level, seed=seed, network=network, posed=now_text(), facts=facts
    )
    session.add(row)
    session.flush()
    return row


def get_question(session: Session, question_id: int, *, still_open: bool = False) -> PracticeRow:
    """Return a question.

    Raises
    ------
    NoSuchQuestion
    AlreadyAnswered
        For one that is wanted open.
    """
    row = session.get(PracticeRow, question_id)
    if row is None:
        raise NoSuchQuestion(question_id)
    if still_open and row.answered is not None:
        raise AlreadyAnswered(question_id)
    return row


def note_reading(session: Session, question_id: int, reading: dict[str, Any]) -> PracticeRow:
    """Keep what was measured; committed by the caller.

    Raises
    ------
    NoSuchQuestion
    AlreadyAnswered
    """
    row = get_question(session, question_id, still_open=True)
    row.readings = [*row.readings, reading]
    session.flush()
    return row


def answer_question(
    session: Session, question_id: int, given: dict[str, Any], off: float | None, *, right: bool
) -> PracticeRow:
    """Keep an answer; committed by the caller.

    Raises
    ------
    NoSuchQuestion
    AlreadyAnswered
    """
    row = get_question(session, question_id, still_open=True)
    row.answered, row.given, row.right, row.off = now_text(), given, right, off
    session.flush()
    return row


def history_of(session: Session, drill: str) -> list[tuple[str, Answered]]:
    """Return when and how a drill's questions were answered, oldest first."""
    columns = (
        PracticeRow.level, PracticeRow.seed, PracticeRow.network, PracticeRow.answered,
        PracticeRow.right, PracticeRow.off,
    )  # fmt: skip
    newest = (
        select(*columns)
        .where(PracticeRow.drill == drill, PracticeRow.answered.is_not(None))
        .order_by(PracticeRow.answered.desc(), PracticeRow.id.desc())
        .limit(MOST_HISTORY)
    )
    rows = reversed(session.execute(newest).all())
    return [
        (at, Answered(level, seed, network, _seconds(at), bool(right), off))
        for level, seed, network, at, right, off in rows
        if at is not None
    ]


def _seconds(at: str) -> float:
    return datetime.fromisoformat(at).timestamp()


def find_own(session: Session, drill: str, again: Answered) -> PracticeRow | None:
    """Return the newest question of a number about one's own network."""
    found = (
        select(PracticeRow)
        .where(
            PracticeRow.drill == drill,
            PracticeRow.seed == again.seed,
            PracticeRow.network == again.network,
        )
        .order_by(PracticeRow.id.desc())
        .limit(1)
    )
    return session.scalars(found).first()


def posed_counts(session: Session) -> Sequence[tuple[str, int, int]]:
    """Return how many questions were put: drill, level, count."""
    found = select(PracticeRow.drill, PracticeRow.level, func.count()).group_by(
        PracticeRow.drill, PracticeRow.level
    )
    return [(drill, level, count) for drill, level, count in session.execute(found).all()]
