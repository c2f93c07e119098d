"""Drill 3 as it is seen: a board with a hidden fault, measured, named, and the ways to it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any, Final

from lowfold.core.bench.ahead import probe_of
from lowfold.core.bench.arguing import figure_at
from lowfold.core.bench.diagnosis import Observed
from lowfold.core.bench.models import Measured
from lowfold.core.bench.next_point import effort_of
from lowfold.core.bench.points import Point, point_named, words_of
from lowfold.core.bench.priors import KIND_WORDS
from lowfold.core.network.circuit import Circuit
from lowfold.core.practice.hidden_fault import (
    KINDS,
    METER,
    TOLERANCE,
    FaultQuestion,
    NamedKind,
    board_of,
    box_of,
    points_of,
    truth_of,
)
from lowfold.core.practice.meter_in_hand import NEW_FUSE_EFFORT, jacks_of, look, range_words
from lowfold.core.practice.naming import NODES, PARTS, named, same_fault
from lowfold.core.practice.ways import Reached, short_way, way_taken
from lowfold.core.values.quantities import FRACTION, VOLT, write
from lowfold.views.points import named_point
from lowfold.views.practice_pictures import board_picture
from lowfold.views.practice_question import (
    BitsLine,
    KindOffered,
    MeasuredAnswer,
    Measuring,
    PointOffered,
    PracticeAnswer,
    PracticeQuestion,
    Put,
    RangeOffered,
    StepLine,
    Truth,
    only_answer,
)

__all__ = ["all_measured", "asked", "in_words", "judged", "measured"]
_NAMES: Final = ("at", "against", "across", "through", "part")


def asked(question: FaultQuestion, put: Put) -> PracticeQuestion:
    """Return a question as it is put."""
    box = box_of(question)
    supply = write(question.supply_volts, VOLT, 4, trim=True)
    parts = write(TOLERANCE, FRACTION, 2, trim=True)
    return put(
        words=f"One thing is wrong on this board: find it with few readings. Parts within "
        f"{parts}; the supply should be {supply}",
        picture=board_picture(
            question.network, question.supply_volts, question.load_at, question.load_ohms
        ),
        tolerance=TOLERANCE,
        meter=METER.name,
        points=[_offered(box.circuit, one.probe.point) for one in points_of(box)],
        ranges={kind: _ranges(measured) for kind, measured in _MEASURED.items()},
        jacks=list(jacks_of(METER)),
        kinds=[
            KindOffered(kind=kind, words=KIND_WORDS[kind], takes=_takes(kind))
            for kind in KINDS[question.level]
        ],
    )


_MEASURED: Final[dict[str, Measured]] = {
    "voltage": "volts",
    "current": "amps",
    "resistance": "ohms",
}


def _ranges(measured: Measured) -> list[RangeOffered]:
    every = getattr(METER, measured)
    return [RangeOffered(full=r.full, shown=range_words(r, measured), jack=r.jack) for r in every]


def _takes(kind: NamedKind) -> Any:
    if kind in PARTS:
        return "part" if PARTS[kind] == 1 else "two parts"
    if kind in NODES:
        return "junction" if NODES[kind] == 1 else "two junctions"
    return "nothing"


def _offered(circuit: Circuit, point: Point) -> PointOffered:
    words = words_of(circuit, point)
    return PointOffered(**named_point(circuit, point), words=words, effort=effort_of(point))


def measured(
    question: FaultQuestion, before: Sequence[MeasuredAnswer], ask: Measuring
) -> MeasuredAnswer:
    """Return what the meter shows of a hidden board.

    Parameters
    ----------
    question : FaultQuestion
        Whose board it is.
    before : sequence of MeasuredAnswer
        What was measured before, oldest first.
    ask : Measuring
        A point, and how the meter is set.

    Raises
    ------
    LowfoldError
        For a point, a range or a jack that is not there.
    """
    board, circuit = board_of(question), box_of(question).circuit
    point = point_named(circuit, **ask.point)
    blown = set() if ask.new_fuse or not before else set(before[-1].blown)
    found = look(board, point, ask.range_full, ask.jack, blown)
    if found.blew:
        blown.add(found.jack)
    effort = effort_of(point) + (NEW_FUSE_EFFORT if ask.new_fuse else 0.0)
    where = words_of(circuit, point)
    words = f"{where}: {found.shows}" + (f": {found.words}" if found.words else "")
    return MeasuredAnswer(
        **named_point(circuit, point),
        words=words,
        where=where,
        value=found.value,
        shows=found.shows,
        overload=found.overload,
        fuse_blown=found.blown,
        tells=found.tells,
        range_full=found.range.full,
        jack=found.jack,
        effort=effort,
        blown=sorted(blown),
        told=found.words,
    )


def all_measured(question: FaultQuestion) -> list[MeasuredAnswer]:
    """Return what a meter shows at every point with the power on."""
    circuit = box_of(question).circuit
    electric = [one.probe.point for one in points_of(box_of(question))]
    return [
        measured(question, [], Measuring(point=named_point(circuit, point)))
        for point in electric
        if point.kind != "resistance"
    ]


def judged(
    question: FaultQuestion, given: Mapping[str, Any], readings: Sequence[MeasuredAnswer]
) -> PracticeAnswer:
    """Return whether a fault is the hidden one, with the way taken and a short way."""
    kind = only_answer(given, "kind", "a kind of fault, and the parts or junctions it is at")
    box = box_of(question)
    circuit = box.circuit
    answer = named(circuit, kind, given.get("refs") or [])
    right = same_fault(question, answer)
    truth = truth_of(question, box)
    exactly = answer.kind == question.kind and set(answer.refs) == set(question.refs)
    words = truth.words.split(":")[0] if question.kind not in ("decade", "misread") else truth.words
    note = ""
    if right and not exactly:
        note = "No reading of volts or amperes tells what you named from what it is. "
    told = [(p, o) for p, o in (_observed(circuit, r) for r in readings if r.tells)]
    taken = _with_the_useless(circuit, readings, way_taken(question, told))
    short = [_line(circuit, r, b) for r, b in _pairs(short_way(question))]
    spent = sum(r.effort for r in readings)
    best = short[-1].effort
    steps = [
        StepLine(words=f"{s.words}: {s.shows}. Likeliest then: {s.likeliest}")
        for s in short
        if s.told_bits is not None
    ]
    return PracticeAnswer(
        right=right,
        words=f"{words}. Yours took {spent:g} of effort, a short way {best:g}",
        steps=steps,
        truth=Truth(kind=question.kind, refs=list(question.refs), words=words),
        taken=taken,
        short=short,
        note=note + "The short way takes each time the reading that tells most for its effort. It "
        "looks one reading ahead and is not proven the shortest: luck can be quicker.",
    )


def _observed(circuit: Circuit, reading: MeasuredAnswer) -> tuple[Point, Observed]:
    names = {n: getattr(reading, n) for n in _NAMES}
    point = point_named(circuit, reading.kind, **names)
    probe = probe_of(point, METER, reading.range_full)
    value = reading.value
    limit = probe.range.limit(value or 0.0, of_full=METER.of_full) if probe.range else 0.0
    return point, Observed(probe, value, limit)


def _pairs(way: Sequence[Reached]) -> list[tuple[Reached, float | None]]:
    """Return what was reached with what the reading before told, in bits."""
    left = [round(max(0.0, r.bits_left), 6) for r in way]
    return [(r, left[k - 1] - left[k] if k else None) for k, r in enumerate(way)]


def _line(circuit: Circuit, reached: Reached, bits: float | None) -> BitsLine:
    point = reached.point
    shows = ""
    if point is not None:
        shows = "OL" if reached.value is None else figure_at(point, reached.value)
    return BitsLine(
        words=words_of(circuit, point) if point is not None else "before the first reading",
        shows=shows,
        told_bits=bits,
        bits_left=round(max(0.0, reached.bits_left), 6),
        truth=min(1.0, reached.truth),
        likeliest=reached.likeliest,
        effort=reached.effort,
    )


def _with_the_useless(
    circuit: Circuit, readings: Sequence[MeasuredAnswer], way: Sequence[Reached]
) -> list[BitsLine]:
    """Return the way taken, with the readings that a wrongly set meter gave, which told nothing."""
    known = iter(_pairs(way))
    found = [_line(circuit, *next(known))]
    effort = 0.0
    for reading in readings:
        effort += reading.effort
        if reading.tells:
            line = _line(circuit, *next(known))
        else:
            words = f"{reading.where}: {reading.told}"
            line = replace(found[-1], words=words, told_bits=0.0)
        found.append(replace(line, effort=effort, shows=reading.shows))
    return found


def in_words(question: FaultQuestion) -> str:
    """Return what is hidden, and of which kind it is."""
    return f"{truth_of(question, box_of(question)).words} ({KIND_WORDS[question.kind]})"
