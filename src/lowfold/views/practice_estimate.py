"""Drill 1 as it is seen: an estimate asked for, judged, and how a practised hand gets there."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any, Final

from lowfold.core.folding.fold import fold
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.practice.estimate import EstimateQuestion, way_of
from lowfold.core.solving.solution import solve
from lowfold.core.values.quantities import FRACTION, OHM, VOLT, read, write
from lowfold.views.practice_pictures import folded_picture, question_picture, values_of
from lowfold.views.practice_question import (
    Asked,
    PracticeAnswer,
    PracticeQuestion,
    Put,
    StepLine,
    only_answer,
)

__all__ = ["UNIT_WORDS", "asked", "in_words", "judged"]
UNIT_WORDS: Final = {"resistance": "Ω", "voltage": "V", "current": "A"}


def asked(question: EstimateQuestion, put: Put) -> PracticeQuestion:
    """Return a question as it is put."""
    supply = write(question.supply_volts, VOLT, 4, trim=True)
    words = {
        "resistance": "Estimate the resistance between the supply’s two ends",
        "voltage": f"Estimate the voltage at {question.at} against 0, with {supply} on it",
        "current": f"Estimate the current through {question.through}, with {supply} on it",
    }[question.what]
    hot = [question.through] if question.through else []
    lit = [build_circuit(read_text(question.network)).names[question.at]] if question.at else []
    return put(
        words=words,
        picture=question_picture(
            question.network, question.supply_volts, "upright", hot=hot, nodes=lit
        ),
        asked=Asked(what=question.what, at=question.at or None, through=question.through or None),
        unit=UNIT_WORDS[question.what],
        within=question.allowed,
    )


def judged(question: EstimateQuestion, given: Mapping[str, Any]) -> PracticeAnswer:
    """Return whether an estimate is within what is allowed, and the way there."""
    said = only_answer(given, "value", "a value")
    value = read(said, question.kind) if isinstance(said, str) else float(said)
    off = question.off(value)
    right = abs(off) <= question.allowed * (1 + 1e-12)
    exact = in_words(question)
    within = write(question.allowed, FRACTION, 2)
    shown = write(value, question.kind, 4, trim=True) if abs(value) > 0 else "0"
    how = f"{shown} is {_off_words(off)}"
    words = f"{exact}. {how}: {'within' if right else 'not within'} {within}"
    return PracticeAnswer(
        right=right, exact=question.exact, off=off, words=words, steps=_steps(question)
    )


def _off_words(off: float) -> str:
    if abs(off) < 5e-4:
        return "it to four figures"
    if off > 1:
        return f"{off + 1:.3g} times too large" if off < 1e4 else "far too large"
    return f"{write(abs(off), FRACTION, 2)} {'high' if off > 0 else 'low'}"


def _steps(question: EstimateQuestion) -> list[StepLine]:
    circuit = build_circuit(read_text(question.network))
    folding = fold(circuit)
    node_volts = {
        n: v
        for n, v in enumerate(solve(circuit, question.supply_volts).voltages)
        if math.isfinite(v)
    }
    supply = write(question.supply_volts, VOLT, 4, trim=True)
    steps = way_of(question)
    shown = values_of(circuit.branches)
    for step in steps:
        shown |= {ref: f"≈ {write(ohms, OHM, 2, trim=True)}" for ref, ohms in step.guesses.items()}
    found = []
    for step in steps:
        picture = folded_picture(folding, step.folds, node_volts, supply, step.members, shown)
        found.append(StepLine(words=step.words, picture=picture))
    return found


def in_words(question: EstimateQuestion) -> str:
    """Return the exact answer as written."""
    return write(question.exact, question.kind, 4, trim=True)
