"""From readings to the fault, and what to measure next, as it is seen."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from itertools import groupby
from typing import Final

from lowfold.core.bench.ahead import Ahead, points_ahead, probe_of
from lowfold.core.bench.arguing import (
    argue,
    changed_words,
    figure_at,
    method_words,
    outcome_words,
    reason_to_measure,
    verdict_words,
)
from lowfold.core.bench.consistent import consistent
from lowfold.core.bench.diagnosis import Diagnosis, Hypothesis, Observed, diagnose
from lowfold.core.bench.expect import Expected, expect_all
from lowfold.core.bench.models import MeterModel
from lowfold.core.bench.next_point import alike, worth_measuring
from lowfold.core.bench.points import Point, name_of, words_of
from lowfold.core.bench.predict import Model
from lowfold.core.bench.priors import Priors
from lowfold.core.bench.readings import Taken, Told, verdict_on_reading
from lowfold.core.bench.suspects import as_designed, suspects
from lowfold.core.errors import TooLargeError
from lowfold.core.network.circuit import Circuit
from lowfold.core.tolerance.box import Box
from lowfold.views.point import Named, PointTold
from lowfold.views.points import named_point
from lowfold.views.view import view

__all__ = [
    "MOST_PARTS",
    "AssumedFault",
    "DiagnoseAnswer",
    "Given",
    "HypothesisAnswer",
    "JudgedReading",
    "NextAnswer",
    "OutcomeAnswer",
    "diagnosed",
    "fault_rows",
]


MOST_PARTS = 60


@view
class JudgedReading(PointTold):
    value: float | None
    overload: bool
    expected: float | None
    lowest: float | None
    highest: float | None
    verdict: Told | None


@view
class AssumedFault:
    kind: str
    refs: list[str]
    ohm: float | None = None
    v: float | None = None


@view
class HypothesisAnswer:
    kind: str
    refs: list[str]
    words: str  #: What it is, what speaks for it and what against, in figures
    name: str  #: What it is, in short
    ohm: float | None = None
    v: float | None = None
    faults: list[AssumedFault] | None = None
    probability: float
    consistent: bool
    predicted: list[float | None]  #: Per reading, nominal; null for no model
    alike: str  #: Shared by those no voltage or current reading tells apart
    volts: dict[str, str]  #: What each junction would read
    course: list[float]  #: Its probability after none, one, two … readings


@view
class OutcomeAnswer:
    shows: str
    then: str
    value: float


@view
class NextAnswer(PointTold):
    gain_bits: float
    effort: float
    reason: str
    outcomes: list[OutcomeAnswer]


@view
class DiagnoseAnswer:
    meter: str
    readings: list[JudgedReading]
    stop: bool
    words: str
    verdict: str  #: Where the search stands, in a sentence
    changed: str  #: What the last reading, or a correction, moved most
    hypotheses: list[HypothesisAnswer]
    unlisted: float  #: Probability of what the limit cut off
    apart: str  #: What would tell apart what no voltage and no current does
    next: list[NextAnswer]
    method: str


@dataclass(frozen=True, slots=True)
class Given:
    """A reading, with the point as it was asked for and the range where one was set."""

    point: Point
    taken: Taken
    asked: Named | None = None
    full: float | None = None


def diagnosed(
    box: Box,
    given: list[Given],
    meter: MeterModel,
    priors: Priors,
    *,
    powered: bool,
    most_at_once: int,
    limit: int,
    before: list[Given] | None = None,
    progress: Callable[[float, str], None] | None = None,
) -> DiagnoseAnswer:
    """Return what readings of a board say of it; and against what was read before, what changed."""
    circuit = box.circuit
    _bounded(circuit)

    def diagnosis(of: list[Given], every: list[Expected | TooLargeError]) -> Diagnosis:
        observed = [_observed(g, e, g.taken.meter or meter) for g, e in zip(of, every, strict=True)]
        return diagnose(
            box,
            observed,
            priors,
            most_at_once=most_at_once,
            powered=powered,
            progress=progress,
        )

    every = _expected(box, given, meter)
    judged = [
        _judged(circuit, g, e, verdict_on_reading(g.taken, e) if isinstance(e, Expected) else None)
        for g, e in zip(given, every, strict=True)
    ]
    found = diagnosis(given, every)
    earlier = diagnosis(before, _expected(box, before, meter)) if before else None
    listed = found.hypotheses[:limit]
    ahead = points_ahead(box, meter, powered=powered)
    labels = alike(found, listed, ahead)
    read = {g.point for g in given}
    candidates = worth_measuring(found, [one for one in ahead if one.probe.point not in read])
    designed = next(h for h in found.hypotheses if h.suspect.kind == "as designed")
    far = [j for j in judged if j.verdict == "far out"]
    words = ""
    if far:
        words = f"Stop at {far[0].words}: find out why before going on"
    volts = _volts(found, listed, ahead) if powered else [{} for _ in listed]
    tied = [h for h, label in zip(listed, labels, strict=True) if labels.count(label) > 1]
    return DiagnoseAnswer(
        meter=meter.name,
        readings=judged,
        stop=bool(far),
        words=words,
        verdict=verdict_words(found),
        changed=changed_words(found, earlier),
        hypotheses=[
            _hypothesis(found, h, label, circuit, designed, v)
            for h, label, v in zip(listed, labels, volts, strict=True)
        ],
        unlisted=max(0.0, 1.0 - math.fsum(h.probability for h in listed)),
        apart=_apart(tied, circuit),
        next=[
            NextAnswer(
                **named_point(circuit, c.probe.point),
                words=words_of(circuit, c.probe.point),
                gain_bits=c.bits,
                effort=c.effort,
                reason=reason_to_measure(c),
                outcomes=[
                    OutcomeAnswer(
                        shows=figure_at(c.probe.point, o.value),
                        then=outcome_words(o),
                        value=o.value,
                    )
                    for o in c.outcomes
                ],
            )
            for c in candidates
        ],
        method=method_words(priors),
    )


def _expected(box: Box, given: list[Given], meter: MeterModel) -> list[Expected | TooLargeError]:
    every: list[Expected | TooLargeError] = []
    for theirs, some in groupby(given, key=lambda g: g.taken.meter or meter):
        alike_read = list(some)
        points = [g.point for g in alike_read]
        every += expect_all(box, points, theirs, [g.full for g in alike_read])
    return every


def _judged(
    circuit: Circuit, g: Given, expected: Expected | TooLargeError, verdict: Told | None
) -> JudgedReading:
    span = expected.span if isinstance(expected, Expected) else None
    known = isinstance(expected, Expected)
    return JudgedReading(
        **(g.asked or named_point(circuit, g.point)),
        words=words_of(circuit, g.point),
        value=g.taken.value,
        overload=g.taken.overload,
        expected=span.nominal if span else None,
        lowest=expected.low if known else None,  # type: ignore[union-attr]
        highest=expected.high if known else None,  # type: ignore[union-attr]
        verdict=verdict,
    )


def _observed(g: Given, expected: Expected | TooLargeError, meter: MeterModel) -> Observed:
    """Return a reading with the range it was read on: the one set, else the meter's own."""
    value = g.taken.value
    if g.full is not None and isinstance(expected, Expected):
        chosen = expected.range
    elif value is None:
        ranges = sorted(getattr(meter, g.point.measured), key=lambda r: r.full)
        chosen = ranges[-1] if ranges else None
    else:
        chosen = meter.range_for(g.point.measured, value)
    limit = chosen.limit(value or 0.0, of_full=meter.of_full) if chosen else 0.0
    return Observed(probe_of(g.point, meter, chosen.full if chosen else None), value, limit)


def _volts(
    found: Diagnosis, listed: tuple[Hypothesis, ...], ahead: list[Ahead]
) -> list[dict[str, str]]:
    """Return what each junction would read under each hypothesis, as written."""
    probes = [one.probe for one in ahead if one.probe.point.kind == "voltage"]
    points, circuit = [probe.point for probe in probes], found.model.box.circuit
    mean = found.model.predict([h.suspect.board for h in listed], probes).mean
    names = [name_of(circuit, p.at) for p in points]
    return [
        {}
        if h.suspect.kind in {"something else", "meter"}
        else {n: figure_at(p, float(v)) for n, p, v in zip(names, points, row, strict=True)}
        for h, row in zip(listed, mean, strict=True)
    ]


def _hypothesis(
    found: Diagnosis,
    h: Hypothesis,
    label: int,
    circuit: Circuit,
    designed: Hypothesis,
    volts: dict[str, str],
) -> HypothesisAnswer:
    suspect = h.suspect
    modelled = suspect.kind not in {"something else", "meter"}
    return HypothesisAnswer(
        kind=suspect.kind,
        refs=list(suspect.refs),
        words=argue(circuit, found, h, designed),
        name=suspect.words,
        ohm=suspect.ohms,
        v=suspect.volts,
        faults=[
            AssumedFault(kind=f.kind, refs=list(f.refs), ohm=f.ohms, v=f.volts)
            for f in suspect.faults
        ]
        or None,
        probability=h.probability,
        consistent=modelled and consistent(found, suspect.board, h.distance),
        predicted=[float(v) if modelled and abs(v) < 1e14 else None for v in h.mean.tolist()],
        alike=chr(ord("a") + label) if label < 26 else f"a{label}",
        volts=volts,
        course=list(h.course),
    )


def _bounded(circuit: Circuit) -> None:
    """Refuse more parts than a fault is looked for among."""
    if len(circuit.branches) > MOST_PARTS:
        msg = f"{len(circuit.branches)} parts; a fault is looked for among up to {MOST_PARTS}"
        raise TooLargeError(msg, field="network")


#: Faults that are tabled; of a swap the two parts are named together.
LIKELY: Final = frozenset(("open", "short", "decade", "bridge", "swapped"))


def fault_rows(box: Box, meter: MeterModel) -> tuple[list[Point], list[tuple[str, list[str]]]]:
    """Return the points with the power on, and what each likely fault would make of them."""
    _bounded(box.circuit)
    ahead = points_ahead(box, meter, powered=True)
    probes = [
        one.probe for one in ahead if one.probe.point.kind == "voltage" or one.probe.point.supply
    ]
    points = [probe.point for probe in probes]
    likely = [s for s in suspects(box).single if s.kind in LIKELY]
    every = [as_designed(), *likely]
    mean = Model(box).predict([s.board for s in every], probes).mean
    return points, [
        (s.words.split(":")[0], [figure_at(p, float(v)) for p, v in zip(points, row, strict=True)])
        for s, row in zip(every, mean, strict=True)
    ]


def _apart(tied: list[Hypothesis], circuit: Circuit) -> str:
    """Say what would tell apart what no voltage and no current does."""
    places = sorted({p for h in tied for p in h.suspect.places})
    if len(tied) < 2 or not places:
        return ""
    refs = [circuit.branches[p].ref for p in places[:4]]
    lifted = " or ".join(refs)
    return f"No voltage and no current tells some of these apart: lift {lifted} and measure it"
