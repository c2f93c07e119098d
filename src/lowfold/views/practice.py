"""Practice as it is seen: questions put, boards measured, answers explained.

Everything follows from what a question is made of, each time anew. What is of one drill alone
stands in that drill's own module.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import partial
from typing import Any, Final

from lowfold.core.practice.estimate import EstimateQuestion, estimate_question
from lowfold.core.practice.fault_drill import fault_question
from lowfold.core.practice.hidden_fault import FaultQuestion
from lowfold.core.practice.levels import Drill
from lowfold.core.practice.series import LOAD_OHMS, SeriesQuestion, series_question
from lowfold.views import practice_estimate, practice_fault, practice_series
from lowfold.views.practice_question import (
    ClassLine,
    HungLoad,
    MeasuredAnswer,
    Measuring,
    PracticeAnswer,
    PracticeQuestion,
)

__all__ = ["QUESTIONS", "Question", "drawn", "judged", "measured", "put", "sheet_line"]

Question = EstimateQuestion | SeriesQuestion | FaultQuestion
QUESTIONS: Final[dict[Drill, type[Question]]] = {
    "estimate": EstimateQuestion,
    "series": SeriesQuestion,
    "fault": FaultQuestion,
}


def drawn(drill: Drill, level: int, seed: int, network: str | None, volts: float) -> Question:
    """Return a question by its number, or of one's own network.

    Raises
    ------
    LowfoldError
        For an own network that nothing can be asked about.
    """
    if drill == "estimate":
        return estimate_question(level, seed, network, volts)
    if drill == "series":
        return series_question(level, seed, network, volts)
    return fault_question(level, seed, network, volts)


def put(
    question: Question, question_id: int, drill: Drill, again: str, *, own: bool
) -> PracticeQuestion:
    """Return a question as it is put: nothing hidden is in it."""
    closed = question.closed if isinstance(question, SeriesQuestion) else ()
    loads = []
    if not isinstance(question, EstimateQuestion) and question.load_at:
        loads = [HungLoad(at=question.load_at, ohm=_load_ohms(question))]
    begun = partial(
        PracticeQuestion,
        id=question_id,
        drill=drill,
        level=question.level,
        seed=question.seed,
        title=f"level {question.level}, number {question.seed}",
        again=again,
        network=question.network,
        own=own,
        supply_v=question.supply_volts,
        loads=loads,
        switches=dict.fromkeys(closed, "closed"),
    )
    if isinstance(question, EstimateQuestion):
        return practice_estimate.asked(question, begun)
    if isinstance(question, SeriesQuestion):
        return practice_series.asked(question, begun)
    return practice_fault.asked(question, begun)


def _load_ohms(question: SeriesQuestion | FaultQuestion) -> float:
    return question.load_ohms if isinstance(question, FaultQuestion) else LOAD_OHMS


def measured(
    question: Question, before: Sequence[MeasuredAnswer], ask: Measuring
) -> MeasuredAnswer:
    """Return what the meter shows of the hidden board of a fault question.

    Raises
    ------
    LowfoldError
        For a point, a range or a jack that is not there.
    """
    assert isinstance(question, FaultQuestion)  # the caller has looked
    return practice_fault.measured(question, before, ask)


def judged(
    question: Question, given: Mapping[str, Any], readings: Sequence[MeasuredAnswer]
) -> PracticeAnswer:
    """Return whether an answer is right, and why.

    Raises
    ------
    LowfoldError
        For an answer that is none to this question.
    """
    if isinstance(question, EstimateQuestion):
        return practice_estimate.judged(question, given)
    if isinstance(question, SeriesQuestion):
        return practice_series.judged(question, given)
    return practice_fault.judged(question, given, readings)


def sheet_line(drill: Drill, level: int, seed: int) -> ClassLine:
    """Return a question with its answer, for paper; a fault with what a meter shows."""
    question = drawn(drill, level, seed, None, 0.0)
    readings: list[MeasuredAnswer] = []
    if isinstance(question, FaultQuestion):
        readings = practice_fault.all_measured(question)
        words = practice_fault.in_words(question)
    elif isinstance(question, EstimateQuestion):
        words = practice_estimate.in_words(question)
    else:
        words = practice_series.in_words(question)
    shown = put(question, seed + 1, drill, "", own=False)
    return ClassLine(question=shown, readings=readings, words=words)
