"""The demo's practice: some weeks of it, as somebody who gets better at it would leave them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from datetime import UTC, datetime, timedelta
from typing import Final

from sqlalchemy.orm import Session

from lowfold.core.practice.estimate import estimate_question
from lowfold.core.practice.levels import Drill
from lowfold.core.practice.series import series_question
from lowfold.store.practice import answer_question, put_question
from lowfold.views.practice import drawn, judged

__all__ = ["practise"]

#: By drill: days ago, level, and how far off each estimate was, or whether it was right.
ESTIMATES: Final = (
    (30, 1, (0.12, -0.31, 0.18)), (23, 1, (0.05, -0.11, 0.16, 0.02)), (16, 2, (0.22, 0.08, -0.1)),
    (9, 2, (0.04, -0.06, 0.13, 0.03, -0.15)), (3, 3, (0.09, -0.21, 0.06)),
)  # fmt: skip
SERIES: Final = (
    (29, 1, (True, False, True)), (22, 1, (True, True, True, True)), (8, 2, (True, False, True)),
    (2, 3, (False, True)),
)  # fmt: skip
WRONG: Final = {"series": "parallel", "parallel": "neither", "neither": "series"}
FIRST: Final = 200  #: number of the first question


def practise(session: Session) -> None:
    """Keep some weeks of answered questions; committed by the caller."""
    seed = FIRST
    for days, level, offs in ESTIMATES:
        for off in offs:
            seed += 1
            exact = estimate_question(level, seed).exact
            _answered(session, "estimate", level, seed, {"value": exact * (1 + off)}, days)
    for days, level, marks in SERIES:
        for right in marks:
            seed += 1
            true = series_question(level, seed).relation.kind
            given = {"relation": true if right else WRONG[true]}
            _answered(session, "series", level, seed, given, days)


def _answered(
    session: Session,
    drill: Drill,
    level: int,
    seed: int,
    given: Mapping[str, str | float],
    days: int,
) -> None:
    """Keep one question with its answer, as of some days ago."""
    question = drawn(drill, level, seed, None, 0.0)
    row = put_question(session, drill, level, seed, None, asdict(question))
    told = judged(question, given, [])
    answer_question(session, row.id, dict(given), told.off, right=told.right)
    day = datetime.now(UTC) - timedelta(days=days)
    row.posed = row.answered = f"{day:%Y-%m-%d}T18:{seed % 60:02d}:00.000+00:00"
