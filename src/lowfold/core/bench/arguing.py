"""What speaks for a hypothesis and what against it, as a person would argue: in figures."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np

from lowfold.core.bench.diagnosis import Diagnosis, Hypothesis, Observed
from lowfold.core.bench.next_point import NOTHING_TOLD, Candidate, Outcome
from lowfold.core.bench.points import Point, words_of
from lowfold.core.bench.priors import START, Priors
from lowfold.core.bench.readings import QUANTITIES
from lowfold.core.network.circuit import Circuit
from lowfold.core.values.quantities import write

__all__ = [
    "argue",
    "changed_words",
    "figure_at",
    "method_words",
    "outcome_words",
    "reason_to_measure",
    "verdict_words",
]

DIGITS: Final = 4
CLOSE: Final = 3.0  #: spreads within which a reading is where it was foreseen
CERTAIN: Final = 0.9
MOVED: Final = 0.02  #: a change of probability that is worth a word


def method_words(priors: Priors) -> str:
    """Say how hypotheses are weighed.

    Parameters
    ----------
    priors : Priors
        How often each kind of fault is met.
    """
    shares = ", ".join(f"{kind} {weight:g}" for kind, weight in priors.items())
    source = "common practice" if priors == START else "your own"
    return (
        "Every single fault of every part, two parts swapped, two junctions bridged, another "
        "supply, resistance hidden in source and leads, loads, and a reading taken wrongly; free "
        "values are mixtures, evenly in the logarithm over three decades to either side. Priors "
        f"({source}): as designed as much as all faults together; of the faults {shares}, shared "
        "evenly within a kind. Readings of one board share the deviations of its parts: they are "
        "weighed together, normal, each tolerance and each limit of error counted with the "
        "variance of a uniform value. Not considered: three faults at once, faults that come and "
        "go, and capacitors."
    )


def figure_at(point: Point, value: float) -> str:
    """Write a value as it is read at a point.

    Parameters
    ----------
    value : float
    """
    kind = QUANTITIES[point.kind]
    if abs(value) >= 1e12 and point.kind == "resistance":
        return "over range"
    if point.kind == "voltage" and abs(value) < 1e-5:
        return "0 V"
    if point.kind == "current" and abs(value) < 1e-9:
        return "0 A"
    return write(value, kind, DIGITS, trim=True)


def _read(observed: Observed) -> str:
    if observed.value is None:
        return "is over range"
    return f"reads {figure_at(observed.probe.point, observed.value)}"


def argue(circuit: Circuit, found: Diagnosis, hypothesis: Hypothesis, designed: Hypothesis) -> str:
    """Say which reading speaks for a hypothesis and which against it.

    Parameters
    ----------
    designed : Hypothesis
        The board as designed, against which a fault is argued.
    """
    suspect, readings = hypothesis.suspect, found.observed
    if not readings:
        return f"{suspect.words}. Nothing is read yet."
    if suspect.kind == "something else":
        return f"{suspect.words}. It has its share, since not everything was tried."
    if suspect.kind == "meter":
        k = int(np.argmax(np.abs(designed.off)))
        where = words_of(circuit, readings[k].probe.point)
        return f"{suspect.words}. Most likely {where}: take it again."
    worst = int(np.argmax(np.abs(hypothesis.off)))
    if suspect.kind == "as designed":
        if abs(designed.off[worst]) <= CLOSE:
            return f"{suspect.words}. Every reading lies where it was expected."
        return f"{suspect.words}. Against it: {_against(circuit, readings, designed, worst)}."
    gains = np.abs(designed.off) - np.abs(hypothesis.off)
    best = int(np.argmax(gains))
    told = []
    if gains[best] > 0.5:
        told.append(f"for it, {_for(circuit, readings, hypothesis, designed, best)}")
    if abs(hypothesis.off[worst]) > CLOSE:
        told.append(f"against it, {_against(circuit, readings, hypothesis, worst)}")
    elif gains[best] > 0.5:
        told.append("nothing read speaks against it")
    else:
        told.append("nothing read tells it from the board as designed")
    return f"{suspect.words}: {'; '.join(told)}."


def _for(
    circuit: Circuit,
    readings: Sequence[Observed],
    hypothesis: Hypothesis,
    designed: Hypothesis,
    k: int,
) -> str:
    point = readings[k].probe.point
    should = figure_at(point, float(hypothesis.mean[k]))
    meant = figure_at(point, float(designed.mean[k]))
    where = words_of(circuit, point)
    return f"{where} {_read(readings[k])}, where it would be {should}, and {meant} as designed"


def _against(circuit: Circuit, readings: Sequence[Observed], hypothesis: Hypothesis, k: int) -> str:
    point = readings[k].probe.point
    should = figure_at(point, float(hypothesis.mean[k]))
    return f"{words_of(circuit, point)} {_read(readings[k])}, where it would be {should}"


def outcome_words(outcome: Outcome) -> str:
    """Say what would be likely after a reading."""
    names = list(dict.fromkeys(h.suspect.words.split(":")[0] for h in outcome.hypotheses))
    first = "; or ".join(names[:3])
    rest = len(names) - 3
    return f"{first}; or {rest} others" if rest > 0 else first


def reason_to_measure(candidate: Candidate) -> str:
    """Say why a point is worth its effort, or that it tells nothing more."""
    if candidate.bits < NOTHING_TOLD:
        return "tells nothing more"
    costs = {1.0: "needs no soldering", 2.0: "asks for the power or a wire off"}
    costs |= {3.0: "opens a wire", 4.0: "asks for the part to be lifted"}
    return f"worth {candidate.bits:.2g} bits, and {costs[candidate.effort]}"


def verdict_words(found: Diagnosis) -> str:
    """Say in a sentence where the search stands."""
    first = found.hypotheses[0]
    share = _percent(first.probability)
    if not found.observed:
        return "Nothing is read yet"
    if first.suspect.kind == "something else":
        return (
            "Nothing that was tried gives these readings: take the one that is furthest off again, "
            "then look for two faults at once"
        )
    name = _name(first)
    if first.probability >= CERTAIN:
        return f"{name}, with {share}"
    return (
        f"Most likely {name[0].lower() + name[1:] if name[1:2].islower() else name}, with {share}"
    )


def changed_words(found: Diagnosis, before: Diagnosis | None = None) -> str:
    """Say which hypotheses gained and lost most; empty where hardly anything moved.

    Parameters
    ----------
    before : Diagnosis, optional
        What was thought before a reading was corrected, or a part replaced; without it, what was
        thought before the last reading.
    """
    if before is None and len(found.observed) < 2:
        return ""
    names: dict[tuple[str, tuple[str, ...]], str] = {}
    earlier: dict[tuple[str, tuple[str, ...]], float] = {}
    now: dict[tuple[str, tuple[str, ...]], float] = {}
    for h in found.hypotheses:
        key = (h.suspect.kind, h.suspect.refs)
        names.setdefault(key, _name(h))
        now[key] = now.get(key, 0.0) + h.probability
        if before is None:
            earlier[key] = earlier.get(key, 0.0) + h.course[-2]
    for h in before.hypotheses if before else ():
        key = (h.suspect.kind, h.suspect.refs)
        names.setdefault(key, _name(h))
        earlier[key] = earlier.get(key, 0.0) + h.probability
    by = {key: now.get(key, 0.0) - earlier.get(key, 0.0) for key in names}
    moved = sorted((key for key in by if abs(by[key]) >= MOVED), key=lambda key: -abs(by[key]))
    return "; ".join(
        f"{names[key]} {_percent(earlier.get(key, 0.0))} → {_percent(now.get(key, 0.0))}"
        for key in moved[:2]
    )


def _name(hypothesis: Hypothesis) -> str:
    return hypothesis.suspect.words.split(":")[0]


def _percent(share: float) -> str:
    """Write a probability; nothing is ever certain."""
    if share >= 0.995:
        return "over 99 %"
    return "under 1 %" if share < 0.005 else f"{100 * share:.0f} %"
