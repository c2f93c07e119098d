"""Practice as it is worked out, in a worker: questions put, boards measured, answers explained.

What a question is made of is kept as plain facts; everything else follows from them each time.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any, Final

from pydantic import TypeAdapter

from lowfold.api.practice_answer import (
    Asked,
    BitsLine,
    HungLoad,
    KindOffered,
    MeasuredAnswer,
    Picture,
    PointOffered,
    PracticeAnswer,
    PracticeQuestion,
    RangeOffered,
    StepLine,
    Truth,
)
from lowfold.api.practice_pictures import (
    board_picture,
    folded_picture,
    question_picture,
    values_of,
)
from lowfold.core.bench.ahead import probe_of
from lowfold.core.bench.arguing import figure_at
from lowfold.core.bench.diagnosis import Observed
from lowfold.core.bench.models import Measured
from lowfold.core.bench.next_point import effort_of
from lowfold.core.bench.points import THE_SUPPLY, Point, name_of, point_named, words_of
from lowfold.core.bench.priors import KIND_WORDS
from lowfold.core.errors import DomainError
from lowfold.core.folding.fold import fold
from lowfold.core.network.circuit import Circuit, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.practice.estimate import EstimateQuestion, estimate_question, way_of
from lowfold.core.practice.fault_drill import fault_question
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
from lowfold.core.practice.levels import Drill
from lowfold.core.practice.meter_in_hand import NEW_FUSE_EFFORT, jacks_of, look, range_words
from lowfold.core.practice.naming import NODES, PARTS, named, same_fault
from lowfold.core.practice.series import (
    LOAD_OHMS,
    WAYS,
    SeriesQuestion,
    reasons,
    series_question,
)
from lowfold.core.practice.ways import Reached, short_way, way_taken
from lowfold.core.solving.nodes import solve
from lowfold.core.values.quantities import FRACTION, OHM, VOLT, read, write

__all__ = ["judged", "measured", "put", "sheet_line", "shown_question"]

Facts = dict[str, Any]
_Any = EstimateQuestion | SeriesQuestion | FaultQuestion

UNIT_WORDS: Final = {"resistance": "Ω", "voltage": "V", "current": "A"}


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
        fields |= _estimate_fields(question)
    elif isinstance(question, SeriesQuestion):
        fields |= _series_fields(question)
    else:
        fields |= _fault_fields(question)
    return PracticeQuestion(**fields).model_dump(mode="json")


def _load_ohms(question: SeriesQuestion | FaultQuestion) -> float:
    return question.load_ohms if isinstance(question, FaultQuestion) else LOAD_OHMS


def _estimate_fields(question: EstimateQuestion) -> dict[str, Any]:
    supply = write(question.supply_volts, VOLT, 4, trim=True)
    words = {
        "resistance": "Estimate the resistance between the supply’s two ends",
        "voltage": f"Estimate the voltage at {question.at} against 0, with {supply} on it",
        "current": f"Estimate the current through {question.through}, with {supply} on it",
    }[question.what]
    hot = [question.through] if question.through else []
    lit = [_circuit(question).names[question.at]] if question.at else []
    return {
        "words": words,
        "picture": question_picture(
            question.network, question.supply_volts, "upright", hot=hot, nodes=lit
        ),
        "asked": Asked(
            what=question.what, at=question.at or None, through=question.through or None
        ),
        "unit": UNIT_WORDS[question.what],
        "within": question.allowed,
    }


def _series_fields(question: SeriesQuestion) -> dict[str, Any]:
    one, two = question.refs
    return {
        "words": f"How do {one} and {two} stand to each other?",
        "picture": _series_picture(question, question.way, answered=False),
        "refs": list(question.refs),
    }


def _series_picture(question: SeriesQuestion, way: Any, *, answered: bool) -> Picture:
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


def _fault_fields(question: FaultQuestion) -> dict[str, Any]:
    box = box_of(question)
    supply = write(question.supply_volts, VOLT, 4, trim=True)
    parts = write(TOLERANCE, FRACTION, 2, trim=True)
    return {
        "words": f"One thing is wrong on this board: find it with few readings. Parts within "
        f"{parts}; the supply should be {supply}",
        "picture": board_picture(
            question.network, question.supply_volts, question.load_at, question.load_ohms
        ),
        "tolerance": TOLERANCE,
        "meter": METER.name,
        "points": [_offered(box.circuit, one.probe.point) for one in points_of(box)],
        "ranges": {kind: _ranges(measured) for kind, measured in _MEASURED.items()},
        "jacks": list(jacks_of(METER)),
        "kinds": [
            KindOffered(kind=kind, words=KIND_WORDS[kind], takes=_takes(kind))
            for kind in KINDS[question.level]
        ],
    }


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


def _told(circuit: Circuit, point: Point) -> dict[str, Any]:
    """Return a point as a request has it, and in words."""
    words = words_of(circuit, point)
    if point.supply:
        return {"kind": "current", "through": THE_SUPPLY, "words": words}
    if point.part is not None:
        key = "through" if point.kind == "current" else "part"
        return {"kind": point.kind, key: circuit.branches[point.part].ref, "words": words}
    at, against = name_of(circuit, point.at), name_of(circuit, point.against)
    return {"kind": point.kind, "at": at, "against": against, "words": words}


def _offered(circuit: Circuit, point: Point) -> PointOffered:
    return PointOffered(**_told(circuit, point), effort=effort_of(point))


_NAMES: Final = ("at", "against", "across", "through", "part")


def measured(facts: Facts, before: Sequence[Mapping[str, Any]], ask: Facts) -> dict[str, Any]:
    """Return what the meter shows of a hidden board.

    Parameters
    ----------
    facts : dict
        Of a fault question.
    before : sequence of mapping
        What was measured before, oldest first.
    ask : dict
        A point, and how the meter is set.

    Raises
    ------
    LowfoldError
        For a point, a range or a jack that is not there.
    """
    question = _read_facts("fault", facts)
    assert isinstance(question, FaultQuestion)  # the caller has looked
    board, circuit = board_of(question), box_of(question).circuit
    point = point_named(circuit, ask["kind"], **{n: ask.get(n) for n in _NAMES})
    blown = set() if ask.get("new_fuse") or not before else set(before[-1]["blown"])
    found = look(board, point, ask.get("range_full"), ask.get("jack"), blown)
    if found.blew:
        blown.add(found.jack)
    effort = effort_of(point) + (NEW_FUSE_EFFORT if ask.get("new_fuse") else 0.0)
    where = words_of(circuit, point)
    words = f"{where}: {found.shows}" + (f": {found.words}" if found.words else "")
    return MeasuredAnswer(
        **{**_told(circuit, point), "words": words},
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
    ).model_dump(mode="json")


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
        told = _judged_estimate(question, given)
    elif isinstance(question, SeriesQuestion):
        told = _judged_series(question, given)
    else:
        told = _judged_fault(question, given, readings)
    return told.right, told.off, told.model_dump(mode="json")


def _only(given: Facts, wanted: str, like: str) -> Any:
    there = {k for k, v in given.items() if v is not None and v != []}
    if wanted not in there or there - {wanted, "refs"}:
        told = f", not by {', '.join(sorted(there - {wanted}))}" if there else ""
        msg = f"this question is answered by {like}{told}"
        raise DomainError(msg, field=wanted)
    return given[wanted]


def _circuit(question: _Any) -> Circuit:
    return build_circuit(read_text(question.network))


def _judged_estimate(question: EstimateQuestion, given: Facts) -> PracticeAnswer:
    said = _only(given, "value", "a value")
    value = read(said, question.kind) if isinstance(said, str) else float(said)
    off = question.off(value)
    right = abs(off) <= question.allowed * (1 + 1e-12)
    exact = write(question.exact, question.kind, 4, trim=True)
    within = write(question.allowed, FRACTION, 2)
    shown = write(value, question.kind, 4, trim=True) if abs(value) > 0 else "0"
    how = f"{shown} is {_off_words(off)}"
    words = f"{exact}. {how}: {'within' if right else 'not within'} {within}"
    return PracticeAnswer(
        right=right, exact=question.exact, off=off, words=words, steps=_estimate_steps(question)
    )


def _off_words(off: float) -> str:
    if abs(off) < 5e-4:
        return "it to four figures"
    if off > 1:
        return f"{off + 1:.3g} times too large" if off < 1e4 else "far too large"
    return f"{write(abs(off), FRACTION, 2)} {'high' if off > 0 else 'low'}"


def _estimate_steps(question: EstimateQuestion) -> list[StepLine]:
    circuit = _circuit(question)
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


def _judged_series(question: SeriesQuestion, given: Facts) -> PracticeAnswer:
    said = _only(given, "relation", "a relation: series, parallel or neither")
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
        pictures=[_series_picture(question, way, answered=True) for way in order],
    )


def _judged_fault(
    question: FaultQuestion, given: Facts, readings: Sequence[Mapping[str, Any]]
) -> PracticeAnswer:
    kind = _only(given, "kind", "a kind of fault, and the parts or junctions it is at")
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
    told = [(p, o) for p, o in (_observed(circuit, r) for r in readings if r["tells"])]
    taken = _with_the_useless(circuit, readings, way_taken(question, told))
    short = [_line(circuit, r, b) for r, b in _pairs(short_way(question))]
    spent = sum(r["effort"] for r in readings)
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


def _observed(circuit: Circuit, reading: Mapping[str, Any]) -> tuple[Point, Observed]:
    point = point_named(circuit, reading["kind"], **{n: reading.get(n) for n in _NAMES})
    probe = probe_of(point, METER, reading["range_full"])
    value = reading["value"]
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
    circuit: Circuit, readings: Sequence[Mapping[str, Any]], way: Sequence[Reached]
) -> list[BitsLine]:
    """Return the way taken, with the readings that a wrongly set meter gave, which told nothing."""
    known = iter(_pairs(way))
    found = [_line(circuit, *next(known))]
    effort = 0.0
    for reading in readings:
        effort += reading["effort"]
        if reading["tells"]:
            line = _line(circuit, *next(known))
        else:
            words = f"{reading['where']}: {reading['told']}"
            line = found[-1].model_copy(update={"words": words, "told_bits": 0.0})
        update = {"effort": effort, "shows": reading["shows"]}
        found.append(line.model_copy(update=update))
    return found


def sheet_line(drill: Drill, level: int, seed: int) -> dict[str, Any]:
    """Return a question with its answer, for paper; a fault with what a meter shows."""
    facts = put(drill, level, seed, None, 0.0)
    question = _read_facts(drill, facts)
    shown = shown_question(seed + 1, drill, facts, "", own=False)
    readings: list[dict[str, Any]] = []
    if isinstance(question, FaultQuestion):
        electric = [p for p in shown["points"] if p["kind"] != "resistance"]
        readings = [measured(facts, [], point) for point in electric]
        truth = truth_of(question, box_of(question)).words
        words = f"{truth} ({KIND_WORDS[question.kind]})"
    elif isinstance(question, EstimateQuestion):
        words = write(question.exact, question.kind, 4, trim=True)
    else:
        words = f"{question.relation.kind}. {' '.join(reasons(question))}"
    return {"question": shown, "readings": readings, "words": words}
