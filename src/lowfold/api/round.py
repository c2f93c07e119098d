"""POST /api/bench/round: a design at the bench: each point, what was read of it, what next."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute, reported
from lowfold.api.diagnose import DiagnoseAnswer, Given, diagnosed, fault_rows
from lowfold.api.drawing_answer import DrawingAnswer
from lowfold.api.drawings import bench_drawing
from lowfold.api.expect import PointAnswer, point_answer, point_of, told
from lowfold.api.fields import Answer, Ask
from lowfold.api.gates import GateAnswer, gate_answer
from lowfold.api.meters import Meter, meter_of
from lowfold.api.points import PointAsk
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep, MetersDep, PriorsDep
from lowfold.api.shown import low_words
from lowfold.api.texts import AskedBrief, known_texts
from lowfold.api.worn import WornAnswer, worn_parts
from lowfold.core.bench.hidden import words_of as hidden_words
from lowfold.core.bench.models import MeterModel, model_named
from lowfold.core.bench.points import Point, name_of, words_of
from lowfold.core.bench.readings import QUANTITIES, Taken, Told, read_taken
from lowfold.core.bench.round import (
    Bench,
    Group,
    Round,
    Step,
    bench_of,
    go_round,
    points_of,
)
from lowfold.core.bench.round_words import (
    beside,
    build_verdict,
    doing,
    hint,
    limits_words,
    short,
    standing,
    stopping,
)
from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import DomainError
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.choice import Judged
from lowfold.core.needs.kinds import read_brief, weigh
from lowfold.core.needs.network import StatedNetwork, read_stated
from lowfold.core.network.circuit import Circuit, load_names
from lowfold.core.network.editing import write_netlist
from lowfold.core.network.notation import Netlist
from lowfold.core.network.tree import Element, write_network
from lowfold.core.parts.families import Family
from lowfold.core.record.statement import DesignKind, read_statement
from lowfold.core.tolerance.box import LoadRange
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, write
from lowfold.core.workbench.as_built import choice_as_built, network_as_built
from lowfold.core.workbench.sheet import series_parallel

__all__ = ["router"]

router = APIRouter(prefix="/api/bench", tags=["bench"], route_class=ComputedRoute)

MOST_READINGS = 400
DIGITS = 5


class TakenAsk(PointAsk):
    """A reading as typed, and where."""

    text: str = Field(max_length=80)
    meter: str | None = Field(
        None, max_length=60, description="That it was read on; the round's where it is not known"
    )
    board: str | None = Field(
        None, max_length=20_000, description="The network it was read on; one of another is left"
    )


class RoundAsk(Ask):
    """A design, and what was read of it so far."""

    kind: DesignKind
    brief: AskedBrief = Field(default_factory=dict)
    choice: str | None = Field(None, max_length=20_000, description="Of every kind but a network")
    meter: Meter | None = Field(None, description="Default the handheld")
    readings: list[TakenAsk] = Field([], max_length=MOST_READINGS)
    further: list[PointAsk] = Field(
        [], max_length=60, description="Points beside those of a careful round"
    )
    as_built: bool = Field(
        default=True, description="Let what was measured take the place of what is nominal"
    )


class ReadingAnswer(Answer):
    text: str = Field(description="As typed")
    value: float | None
    overload: bool
    shown: str
    wrong: str = Field(description="Why it is not understood")


class StepAnswer(Answer):
    """One point of the round."""

    meter: str = Field(description="That it was read on, where it is another than the round's")
    key: str
    group: Group
    asked: dict[str, Any] = Field(description="The point as a request has it")
    point: PointAnswer
    doing: str
    expected: str
    limits: str
    range: str = Field(description="The range to use, as written; empty for none")
    name: str = Field(description="Where, in a word or two")
    beside: str = Field(description="What the meter itself changes, where that is to be seen")
    low: str = Field(description="The limits, as written; empty over range")
    high: str
    leads: list[str] = Field(description="Junctions the leads are put on, red first")
    ref: str | None = Field(description="The part that it is about")
    reading: ReadingAnswer | None
    told: Told | None
    place: float | None = Field(
        description="The reading's distance from what is expected, in distances to the limit"
    )
    hint: str


class BuildAnswer(Answer):
    verdict: Verdict | None
    words: str
    taken: int
    as_expected: int
    total: int


class LeadPlace(Answer):
    x: float
    y: float


class MeasuredPart(Answer):
    ref: str
    shown: str
    around: str


class RoundAnswer(Answer):
    board: str = Field(description="The network as it is built; readings are of one board")
    elsewhere: int = Field(description="Readings given that are of another board")
    meter: str
    powered: bool
    why: str = Field(description="Why nothing is measured with the power on")
    drawing: DrawingAnswer
    supply: str
    low: str = Field(description="What the other end lies at; empty at 0 V")
    hung: dict[str, str] = Field(description="Loads by their names, as written")
    places: dict[str, LeadPlace] = Field(description="Where the leads go, by junction")
    parts: list[WornAnswer]
    steps: list[StepAnswer]
    following: int | None = Field(description="The first step without a reading")
    stopped: int | None = Field(description="The first step that is far out")
    stop: str = Field(description="Why the round stops; empty where it does not")
    build: BuildAnswer
    measured: list[MeasuredPart] = Field(description="Parts as measured")
    supply_measured: str
    gates: list[GateAnswer] = Field(description="The sheet judged as built; empty as designed")
    hidden: str = Field(description="What hides in series where the current is too low")


@dataclass(frozen=True, slots=True)
class _Design:
    """A design that can be built."""

    judged: Judged
    network: Element | Netlist
    stated: StatedNetwork | Brief

    @property
    def board(self) -> str:
        if isinstance(self.network, Netlist):
            return write_netlist(self.network)
        return write_network(self.network)

    def as_built(self, found: Round) -> Judged:
        if isinstance(self.stated, StatedNetwork):
            return network_as_built(self.stated, found.measured)
        assert not isinstance(self.network, Netlist)  # a choice is none
        return choice_as_built(self.stated, self.network, self.judged.circuit, found.measured)


def _read_design(ask: RoundAsk, families: tuple[Family, ...]) -> _Design:
    texts = known_texts(ask.kind, ask.brief)
    if ask.kind == "network":
        readings, stated = read_stated(texts, families)
        if stated is None:
            wrong = next(t for t in readings.values() if not t.ok)
            msg = f"the network is not understood yet: {wrong.label}: {wrong.message}"
            raise DomainError(msg, field="brief")
        return _Design(stated.weighed(), stated.network, stated)
    if ask.kind in {"sensor", "board"}:
        found = read_statement(ask.kind, texts, ask.choice, families)
        if found.judged is None or found.network is None or found.stated is None:
            raise DomainError(found.wrong, field="choice")
        return _Design(found.judged, found.network, found.stated)
    need = read_brief(ask.kind, texts, families).need  # type: ignore[arg-type]  # the others
    if need is None:
        msg = "the brief is not understood yet, so there is nothing to be built"
        raise DomainError(msg, field="brief")
    if not ask.choice:
        msg = "no choice is pinned yet: pin one on the sheet, then build it"
        raise DomainError(msg, field="choice")
    network = series_parallel(ask.choice)
    return _Design(weigh(need, network).judged, network, need)


@router.post("/round", responses=responses(422, 503))
def round_of(ask: RoundAsk, families: FamiliesDep, meters: MetersDep) -> RoundAnswer:
    """Tell what to measure of a design as built, judge what was read, and say what to do next."""
    design = _read_design(ask, families)
    judged, circuit = design.judged, design.judged.circuit
    bench, meter = bench_of(judged), meter_of(ask.meter)
    readings, elsewhere = _readings(ask.readings, design, meters)
    points = _points(bench, circuit, readings, ask.further)
    found = go_round(
        bench, meter, readings, as_built=ask.as_built, points=points, progress=reported()
    )
    names = load_names(circuit, len(judged.loads))
    at = {node: name for name, node in circuit.names.items()}
    loads = [(n, at.get(r.load.at, "in")) for n, r in zip(names, judged.loads, strict=True)]
    closed = design.stated.closed if isinstance(design.stated, StatedNetwork) else ()
    drawing, places = bench_drawing(
        design.network, circuit, loads if bench.powered else [], closed, driven=bench.powered
    )
    built = design.as_built(found) if found.measured else None
    return RoundAnswer(
        board=design.board,
        elsewhere=elsewhere,
        meter=meter.name,
        powered=bench.powered,
        why=bench.why,
        drawing=drawing,
        supply=write(bench.box.supply.volts, VOLT, 4, trim=True) if bench.powered else "",
        low=low_words(judged) if bench.powered else "",
        hung={n: _load_words(r) for n, r in zip(names, bench.box.loads, strict=False)},
        places={name: LeadPlace(x=x, y=y) for name, (x, y) in places.items()},
        parts=worn_parts(judged),
        steps=[_step(design, meter, step) for step in found.steps],
        following=found.following,
        stopped=found.stopped,
        stop=stopping(circuit, found),
        build=BuildAnswer(
            verdict=build_verdict(found),
            words=standing(found),
            taken=found.taken,
            as_expected=found.count("as expected"),
            total=len(found.steps),
        ),
        measured=[
            MeasuredPart(
                ref=circuit.branches[place].ref,
                shown=write(ohms, OHM, DIGITS, trim=True),
                around=f"± {write(half, FRACTION, 2, trim=True)}",
            )
            for place, (ohms, half) in sorted(found.measured.items())
        ],
        supply_measured=""
        if found.supply_volts is None
        else write(found.supply_volts, VOLT, DIGITS, trim=True),
        gates=[gate_answer(g) for g in built.gates] if built else [],
        hidden=hidden_words(found.hidden) if found.hidden else "",
    )


def _readings(
    given: list[TakenAsk], design: _Design, meters: tuple[MeterModel, ...]
) -> tuple[dict[Point, Taken], int]:
    """Return what was read of this board, in its order, and how much of another."""
    readings: dict[Point, Taken] = {}
    elsewhere = 0
    for asked in given:
        if asked.board is not None and asked.board != design.board:
            elsewhere += 1
            continue
        taken = read_taken(asked.text, asked.kind, _meter_called(asked.meter, meters))
        readings[point_of(asked, design.judged.circuit)] = taken
    return readings, elsewhere


def _points(
    bench: Bench, circuit: Circuit, readings: dict[Point, Taken], further: list[PointAsk]
) -> list[Point]:
    """Return the points of a careful round, then those that were read or asked for beside."""
    wanted = [point_of(asked, circuit) for asked in further]
    return list(dict.fromkeys([*points_of(bench), *readings, *wanted]))


class SuspectsAsk(RoundAsk):
    """A design, what was read of it, and how many faults at once are looked for."""

    most_at_once: Literal[1, 2] = 1
    limit: int = Field(8, ge=1, le=100)
    before: list[TakenAsk] = Field(
        [],
        max_length=MOST_READINGS,
        description="What was read before one was corrected, or a part replaced",
    )


@router.post("/suspects", responses=responses(422, 503))
def suspects_of(
    ask: SuspectsAsk, families: FamiliesDep, meters: MetersDep, priors: PriorsDep
) -> DiagnoseAnswer:
    """Tell what may be wrong with a design as built, from what was read of it."""
    design = _read_design(ask, families)
    bench = bench_of(design.judged)
    given, before = (
        [Given(p, t) for p, t in _readings(some, design, meters)[0].items() if t.understood]
        for some in (ask.readings, ask.before)
    )
    return diagnosed(
        bench.box,
        given,
        meter_of(ask.meter),
        priors,
        powered=bench.powered,
        most_at_once=ask.most_at_once,
        limit=ask.limit,
        before=before,
    )


class FaultRow(Answer):
    words: str
    reads: list[str]


class FaultTableAnswer(Answer):
    """Each likely fault, and what the meter would then read at each point."""

    points: list[str]
    rows: list[FaultRow]


@router.post("/faults", responses=responses(422, 503))
def fault_table(ask: RoundAsk, families: FamiliesDep) -> FaultTableAnswer:
    """Tell what the meter would read with each likely fault, to take to the bench on paper."""
    design = _read_design(ask, families)
    bench, meter = bench_of(design.judged), meter_of(ask.meter)
    if not bench.powered:
        return FaultTableAnswer(points=[], rows=[])
    points, rows = fault_rows(bench.box, meter)
    return FaultTableAnswer(
        points=[words_of(bench.box.circuit, p) for p in points],
        rows=[FaultRow(words=words, reads=reads) for words, reads in rows],
    )


def _meter_called(name: str | None, own: tuple[MeterModel, ...]) -> MeterModel | None:
    """Return a meter by its name; None where it is not said or there is none any more."""
    if name is None:
        return None
    try:
        return model_named(name, own)
    except DomainError:
        return None


def _load_words(hung: LoadRange) -> str:
    load = hung.load
    if load.ohms is not None:
        return write(load.ohms, OHM, 4, trim=True)
    return write(load.amps or 0.0, AMPERE, 4, trim=True)


def _step(design: _Design, meter: MeterModel, step: Step) -> StepAnswer:
    circuit, point = design.judged.circuit, step.point
    asked = told(circuit, point)
    answer = point_answer(circuit, point, step.expected, asked)
    quantity = QUANTITIES[point.kind]

    def shown(value: float | None) -> str:
        return "" if value is None else write(value, quantity, DIGITS, trim=True)

    branch = circuit.branches[point.part] if point.part is not None else None
    leads: list[str] = []
    if branch is not None:
        leads = [name_of(circuit, branch.a), name_of(circuit, branch.b)]
    elif not point.supply:
        leads = [name_of(circuit, point.at), name_of(circuit, point.against)]
    taken = step.taken
    theirs = (taken.meter if taken else None) or meter
    return StepAnswer(
        meter="" if theirs == meter else theirs.name,
        key=" ".join(str(v) for v in asked.values()),
        group=step.group,
        asked=asked,
        point=answer,
        doing=doing(circuit, step),
        expected="over range" if answer.overload else shown(answer.expected),
        limits=limits_words(step),
        range=_range_words(answer, step),
        name=short(circuit, step),
        beside=beside(step),
        low="" if answer.overload else shown(answer.lowest),
        high="" if answer.overload else shown(answer.highest),
        leads=leads,
        ref=branch.ref if branch is not None else None,
        reading=None
        if taken is None
        else ReadingAnswer(
            text=taken.text,
            value=taken.value,
            overload=taken.overload,
            shown="over range" if taken.overload else shown(taken.value),
            wrong=taken.wrong,
        ),
        told=step.told,
        place=_place(answer, taken),
        hint=hint(step),
    )


def _range_words(answer: PointAnswer, step: Step) -> str:
    if answer.range_full is None:
        return ""
    kind = {"voltage": VOLT, "current": AMPERE, "resistance": OHM}[step.point.kind]
    return write(answer.range_full, kind, 4, trim=True)


def _place(answer: PointAnswer, taken: Taken | None) -> float | None:
    """Return where a reading lies on the scale that all points share; 1 is at a limit."""
    value = taken.value if taken else None
    if value is None or answer.expected is None or answer.lowest is None or answer.highest is None:
        return None
    off = value - answer.expected
    width = answer.highest - answer.expected if off >= 0 else answer.expected - answer.lowest
    return off / width if width > 0 else (0.0 if not off else (1e9 if off > 0 else -1e9))
