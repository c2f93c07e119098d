"""The way to a hidden fault, reading by reading: what each told, and how it might have gone.

On the table lies a board that has one fault of the kinds that are practised; how probable each is
follows from the diagnosis of the bench. What is not known yet is the entropy over them, in bits.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Final

from lowfold.core.bench.diagnosis import Diagnosis, Hypothesis, Observed, diagnose
from lowfold.core.bench.next_point import NOTHING_TOLD, effort_of, worth_measuring
from lowfold.core.bench.points import Point
from lowfold.core.bench.priors import START, Priors, priors_with
from lowfold.core.practice.hidden_fault import (
    KINDS,
    WRONG_VALUE,
    FaultQuestion,
    board_of,
    box_of,
    observed_at,
    points_of,
)
from lowfold.core.practice.naming import Named, same_fault
from lowfold.core.tolerance.box import Box

__all__ = ["FOUND", "Reached", "findable", "short_way", "way_taken"]

FOUND: Final = 0.95  #: probability from which a fault is found
MOST_READINGS: Final = 12
#: Kinds that share a weight in the trade's list, and are practised.
_NEVER: Final = ("meter", "something else")


@dataclass(frozen=True, slots=True)
class Reached:
    """What is known after a reading."""

    point: Point | None  #: None before the first
    value: float | None  #: read; None is over range
    bits_left: float  #: that are not known yet
    truth: float  #: probability of the true fault, those alike counted
    likeliest: str  #: what would be named now
    effort: float  #: of all so far, a voltage being 1


def _priors(level: int) -> Priors:
    """Return weights of the kinds that are practised at a level, and of no other."""
    every = {kind: START[kind] if kind in KINDS[level] else 0.0 for kind in START}
    return priors_with({str(kind): weight for kind, weight in every.items()})


def _diagnosed(question: FaultQuestion, box: Box, observed: Sequence[Observed]) -> Diagnosis:
    """Return a diagnosis that knows that there is a fault."""
    found = diagnose(box, observed, _priors(question.level))
    kept = [h for h in found.hypotheses if h.suspect.kind not in ("as designed", *_NEVER)]
    count = len(observed) + 1
    whole = [math.fsum(h.course[k] for h in kept) or 1.0 for k in range(count)]
    told = [
        replace(
            h,
            probability=h.course[-1] / whole[-1],
            course=tuple(p / w for p, w in zip(h.course, whole, strict=True)),
        )
        for h in kept
    ]
    return replace(found, hypotheses=tuple(sorted(told, key=lambda h: -h.probability)))


def _right(question: FaultQuestion, h: Hypothesis) -> bool:
    """Return whether a hypothesis would be right if it were named."""
    return same_fault(question, Named(h.suspect.kind, h.suspect.refs))  # type: ignore[arg-type]


def _left(found: Diagnosis, step: int) -> float:
    """Return how many bits are not known after so many readings; a part's wrong values are one."""
    shares: dict[tuple[str, tuple[str, ...]], float] = {}
    for h in found.hypotheses:
        kind = "value" if h.suspect.kind in WRONG_VALUE else h.suspect.kind
        key = (kind, h.suspect.refs)
        shares[key] = shares.get(key, 0.0) + h.course[step]
    return math.fsum(-p * math.log2(p) for p in shares.values() if p > 0)


def _probable(question: FaultQuestion, found: Diagnosis, step: int) -> float:
    """Return how probable the true fault is; what matters not is not looked at."""
    some = [h for h in found.hypotheses if h.course[step] > 1e-3]
    return math.fsum(h.course[step] for h in some if _right(question, h))


def way_taken(question: FaultQuestion, readings: Iterable[tuple[Point, Observed]]) -> list[Reached]:
    """Return what was known after each reading of a way, from before the first on.

    Parameters
    ----------
    readings : iterable of (Point, Observed)
        In the order they were taken.
    """
    taken = list(readings)
    found = _diagnosed(question, box_of(question), [one for _, one in taken])
    effort, way = 0.0, []
    for step in range(len(taken) + 1):
        point, one = taken[step - 1] if step else (None, None)
        effort += effort_of(point) if point is not None else 0.0
        top = max(found.hypotheses, key=lambda h: h.course[step])
        way.append(
            Reached(
                point=point,
                value=one.value if one is not None else None,
                bits_left=_left(found, step),
                truth=_probable(question, found, step),
                likeliest=top.suspect.words,
                effort=effort,
            )
        )
    return way


def short_way(question: FaultQuestion) -> list[Reached]:
    """Return a short way to the fault: each time the reading that tells most for its effort.

    It looks one reading ahead, with no knowledge of the fault, and ends where the fault is found.
    It is not proven to be the shortest: who lifts the right part by luck is there at once.
    """
    box, board = box_of(question), board_of(question)
    ahead = points_of(box)
    taken: list[tuple[Point, Observed]] = []
    for _ in range(MOST_READINGS):
        found = _diagnosed(question, box, [one for _, one in taken])
        if taken and _probable(question, found, len(taken)) >= FOUND:
            break
        there = {point for point, _ in taken}
        left = [one for one in ahead if one.probe.point not in there]
        best = next(iter(worth_measuring(found, left)), None)
        if best is None or best.bits < NOTHING_TOLD:
            break
        point = best.probe.point
        taken.append((point, observed_at(point, board.read(point))))
    return way_taken(question, taken)


def findable(question: FaultQuestion) -> bool:
    """Return whether the readings of all points together find the fault."""
    box, board = box_of(question), board_of(question)
    every = [one.probe.point for one in points_of(box)]
    observed = [observed_at(point, board.read(point)) for point in every]
    found = _diagnosed(question, box, observed)
    return _probable(question, found, len(observed)) >= FOUND
