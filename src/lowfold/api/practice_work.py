"""Practice as it is worked out, in a worker: questions put, boards measured, answers explained.

What a question is made of is kept as plain facts; everything else follows from them each time. What
is of one drill alone stands in that drill's own module.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any, Final

from pydantic import TypeAdapter

from lowfold.api import practice_estimate, practice_fault, practice_series
from lowfold.api.practice_answer import HungLoad, PracticeQuestion
from lowfold.core.practice.estimate import EstimateQuestion, estimate_question
from lowfold.core.practice.fault_drill import fault_question
from lowfold.core.practice.hidden_fault import FaultQuestion
from lowfold.core.practice.levels import Drill
from lowfold.core.practice.series import LOAD_OHMS, SeriesQuestion, series_question

__all__ = ["judged", "measured", "put", "sheet_line", "shown_question"]

Facts = dict[str, Any]
_Any = EstimateQuestion | SeriesQuestion | FaultQuestion


def put(drill: Drill, level: int, seed: int, network: str | None, volts: float) -> Facts:
    """Return a question by its number, as plain facts.

    Raises
    ------
    LowfoldError
        For an own network that nothing can be asked about.
    """
    question: _Any
    if drill == "estimate":
        question = estimate_question(level, seed, network, volts)
    elif drill == "series":
        question = series_question(level, seed, network, volts)
    else:
        question = fault_question(level, seed, network, volts)
    return asdict(question)


_KEPT: Final[dict[Drill, TypeAdapter[Any]]] = {
    "estimate": TypeAdapter(EstimateQuestion),
    "series": TypeAdapter(SeriesQuestion),
    "fault": TypeAdapter(FaultQuestion),
}


def _read_facts(drill: Drill, facts: Facts) -> _Any:
    """Return a question from its facts."""
    found: _Any = _KEPT[drill].validate_python(facts)
    return found


def shown_question(
    question_id: int, drill: Drill, facts: Facts, again: str, *, own: bool
) -> dict[str, Any]:
    """Return a question as it is put: nothing hidden is in it."""
    question = _read_facts(drill, facts)
    closed = question.closed if isinstance(question, SeriesQuestion) else ()
    loads = []
    if not isinstance(question, EstimateQuestion) and question.load_at:
        loads = [HungLoad(at=question.load_at, ohm=_load_ohms(question))]
    fields: dict[str, Any] = {
        "id": question_id,
        "drill": drill,
        "level": question.level,
        "seed": question.seed,
        "title": f"level {question.level}, number {question.seed}",
        "again": again,
        "network": question.network,
        "own": own,
        "supply_v": question.supply_volts,
        "loads": loads,
        "switches": dict.fromkeys(closed, "closed"),
    }
    if isinstance(question, EstimateQuestion):
        fields |= practice_estimate.asked_fields(question)
    elif isinstance(question, SeriesQuestion):
        fields |= practice_series.asked_fields(question)
    else:
        fields |= practice_fault.asked_fields(question)
    return PracticeQuestion(**fields).model_dump(mode="json")


def _load_ohms(question: SeriesQuestion | FaultQuestion) -> float:
    return question.load_ohms if isinstance(question, FaultQuestion) else LOAD_OHMS


def measured(facts: Facts, before: Sequence[Mapping[str, Any]], ask: Facts) -> dict[str, Any]:
    """Return what the meter shows of the hidden board of a fault question.

    Raises
    ------
    LowfoldError
        For a point, a range or a jack that is not there.
    """
    question = _read_facts("fault", facts)
    assert isinstance(question, FaultQuestion)  # the caller has looked
    return practice_fault.measured(question, before, ask).model_dump(mode="json")


def judged(
    drill: Drill, facts: Facts, given: Facts, readings: Sequence[Mapping[str, Any]]
) -> tuple[bool, float | None, dict[str, Any]]:
    """Return whether an answer is right, how far off it is, and its explanation.

    Raises
    ------
    LowfoldError
        For an answer that is none to this question.
    """
    question = _read_facts(drill, facts)
    if isinstance(question, EstimateQuestion):
        told = practice_estimate.judged(question, given)
    elif isinstance(question, SeriesQuestion):
        told = practice_series.judged(question, given)
    else:
        told = practice_fault.judged(question, given, readings)
    return told.right, told.off, told.model_dump(mode="json")


def sheet_line(drill: Drill, level: int, seed: int) -> dict[str, Any]:
    """Return a question with its answer, for paper; a fault with what a meter shows."""
    facts = put(drill, level, seed, None, 0.0)
    question = _read_facts(drill, facts)
    shown = shown_question(seed + 1, drill, facts, "", own=False)
    readings: list[dict[str, Any]] = []
    if isinstance(question, FaultQuestion):
        electric = [p for p in shown["points"] if p["kind"] != "resistance"]
        readings = [measured(facts, [], point) for point in electric]
        words = practice_fault.in_words(question)
    elif isinstance(question, EstimateQuestion):
        words = practice_estimate.in_words(question)
    else:
        words = practice_series.in_words(question)
    return {"question": shown, "readings": readings, "words": words}
