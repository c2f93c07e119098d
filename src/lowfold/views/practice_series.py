"""Drill 2 as it is seen: how two parts stand to each other, and why."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from lowfold.core.practice.series import LOAD_OHMS, WAYS, SeriesQuestion, Way, reasons
from lowfold.views.practice_pictures import question_picture
from lowfold.views.practice_question import (
    Picture,
    PracticeAnswer,
    PracticeQuestion,
    Put,
    StepLine,
    only_answer,
)

__all__ = ["asked", "in_words", "judged"]


def asked(question: SeriesQuestion, put: Put) -> PracticeQuestion:
    """Return a question as it is put."""
    one, two = question.refs
    return put(
        words=f"How do {one} and {two} stand to each other?",
        picture=_picture(question, question.way, answered=False),
        refs=list(question.refs),
    )


def _picture(question: SeriesQuestion, way: Way, *, answered: bool) -> Picture:
    told = question.relation
    return question_picture(
        question.network,
        question.supply_volts,
        way,
        closed=question.closed,
        load_at=question.load_at,
        load_ohms=LOAD_OHMS,
        hot=question.refs,
        beside=told.others if answered else (),
        nodes=told.nodes if answered else (),
        seed=question.seed,
    )


def judged(question: SeriesQuestion, given: Mapping[str, Any]) -> PracticeAnswer:
    """Return whether a relation is the true one, and the drawings that show why."""
    said = only_answer(given, "relation", "a relation: series, parallel or neither")
    true = question.relation.kind
    right = said == true
    one, two = question.refs
    named_so = {
        "series": f"{one} and {two} are in series",
        "parallel": f"{one} and {two} are in parallel",
        "neither": f"{one} and {two} are neither in series nor in parallel",
    }
    first, *others = [*WAYS[3]]
    order = [question.way, *(way for way in (first, *others) if way != question.way)]
    return PracticeAnswer(
        right=right,
        words=named_so[true],
        steps=[StepLine(words=why) for why in reasons(question)],
        relation=true,
        pictures=[_picture(question, way, answered=True) for way in order],
    )


def in_words(question: SeriesQuestion) -> str:
    """Return the true relation with its reasons."""
    return f"{question.relation.kind}. {' '.join(reasons(question))}"
