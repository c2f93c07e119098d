"""A design at the bench as it is seen: each point, what was read of it, what next."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from lowfold.core.bench.hidden import words_of as hidden_words
from lowfold.core.bench.models import MeterModel, model_named
from lowfold.core.bench.points import Point, name_of, point_named, words_of
from lowfold.core.bench.priors import Priors
from lowfold.core.bench.readings import QUANTITIES, Taken, Told, read_taken
from lowfold.core.bench.round import (
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
from lowfold.core.drawing.schematic import Drawing
from lowfold.core.errors import DomainError
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.kinds import read_brief, weigh
from lowfold.core.needs.network import StatedNetwork, read_stated
from lowfold.core.network.circuit import GROUND, load_names
from lowfold.core.network.editing import write_netlist
from lowfold.core.network.notation import Netlist
from lowfold.core.network.tree import Element, write_network
from lowfold.core.parts.families import Family
from lowfold.core.record.statement import DesignKind, read_statement
from lowfold.core.sheet.as_built import choice_as_built, network_as_built
from lowfold.core.sheet.sheet import series_parallel
from lowfold.core.tolerance.box import LoadRange
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, write
from lowfold.core.weighing.choice import Judged
from lowfold.views.diagnosis import DiagnoseAnswer, Given, diagnosed, fault_rows
from lowfold.views.drawings import bench_drawing
from lowfold.views.expected import PointAnswer, point_answer
from lowfold.views.gates import GateAnswer, gate_answer
from lowfold.views.part_look import PartLook, looks_of
from lowfold.views.point import Named
from lowfold.views.points import named_point
from lowfold.views.shown import low_words
from lowfold.views.view import view

__all__ = [
    "DIGITS",
    "BuildAnswer",
    "Buildable",
    "FaultRow",
    "FaultTableAnswer",
    "LeadPlace",
    "MeasuredPart",
    "Read",
    "ReadingAnswer",
    "RoundAnswer",
    "StepAnswer",
    "buildable",
    "round_answer",
    "taken_from",
]


DIGITS = 5


@view
class ReadingAnswer:
    text: str  #: As typed
    value: float | None
    overload: bool
    shown: str
    wrong: str  #: Why it is not understood


@view
class StepAnswer:
    """One point of the round."""

    meter: str  #: That it was read on, where it is another than the round's
    key: str
    group: Group
    asked: dict[str, str]  #: The point as a request has it
    point: PointAnswer
    doing: str
    expected: str
    limits: str
    range: str  #: The range to use, as written; empty for none
    name: str  #: Where, in a word or two
    beside: str  #: What the meter itself changes, where that is to be seen
    low: str  #: The limits, as written; empty over range
    high: str
    leads: list[str]  #: Junctions the leads are put on, red first
    ref: str | None  #: The part that it is about
    reading: ReadingAnswer | None
    told: Told | None
    place: float | None  #: The reading's distance from what is expected, in distances to the limit
    hint: str


@view
class BuildAnswer:
    verdict: Verdict | None
    words: str
    taken: int
    as_expected: int
    total: int


@view
class LeadPlace:
    x: float
    y: float


@view
class MeasuredPart:
    ref: str
    shown: str
    around: str


@view
class RoundAnswer:
    board: str  #: The network as it is built; readings are of one board
    elsewhere: int  #: Readings given that are of another board
    meter: str
    powered: bool
    why: str  #: Why nothing is measured with the power on
    drawing: Drawing
    supply: str
    low: str  #: What the other end lies at; empty at 0 V
    hung: dict[str, str]  #: Loads by their names, as written
    places: dict[str, LeadPlace]  #: Where the leads go, by junction
    parts: list[PartLook]
    steps: list[StepAnswer]
    following: int | None  #: The first step without a reading
    stopped: int | None  #: The first step that is far out
    stop: str  #: Why the round stops; empty where it does not
    build: BuildAnswer
    measured: list[MeasuredPart]  #: Parts as measured
    supply_measured: str
    gates: list[GateAnswer]  #: The sheet judged as built; empty as designed
    hidden: str  #: What hides in series where the current is too low


@dataclass(frozen=True, slots=True)
class Buildable:
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


@view
class FaultRow:
    words: str
    reads: list[str]


@view
class FaultTableAnswer:
    """Each likely fault, and what the meter would then read at each point."""

    points: list[str]
    junctions: list[str]  #: Which one each point is at, against 0; empty for a current
    rows: list[FaultRow]


def _load_words(hung: LoadRange) -> str:
    load = hung.load
    if load.ohms is not None:
        return write(load.ohms, OHM, 4, trim=True)
    return write(load.amps or 0.0, AMPERE, 4, trim=True)


def _step(design: Buildable, meter: MeterModel, step: Step) -> StepAnswer:
    circuit, point = design.judged.circuit, step.point
    asked = named_point(circuit, point)
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
        asked={name: str(said) for name, said in asked.items()},
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


def buildable(
    kind: DesignKind, texts: Mapping[str, str], choice: str | None, families: tuple[Family, ...]
) -> Buildable:
    """Return a design as it can be built.

    Raises
    ------
    LowfoldError
        Where it is not understood yet, or nothing is chosen.
    """
    if kind == "network":
        readings, stated = read_stated(texts, families)
        if stated is None:
            wrong = next(t for t in readings.values() if not t.ok)
            msg = f"the network is not understood yet: {wrong.label}: {wrong.message}"
            raise DomainError(msg, field="brief")
        return Buildable(stated.weighed(), stated.network, stated)
    if kind in {"sensor", "board"}:
        found = read_statement(kind, texts, choice, families)
        if found.judged is None or found.network is None or found.stated is None:
            raise DomainError(found.wrong, field="choice")
        return Buildable(found.judged, found.network, found.stated)
    need = read_brief(kind, texts, families).need  # type: ignore[arg-type]  # the others
    if need is None:
        msg = "the brief is not understood yet, so there is nothing to be built"
        raise DomainError(msg, field="brief")
    if not choice:
        msg = "no choice is pinned yet: pin one on the sheet, then build it"
        raise DomainError(msg, field="choice")
    network = series_parallel(choice)
    return Buildable(weigh(need, network).judged, network, need)


@dataclass(frozen=True, slots=True)
class Read:
    """A reading as it was written down: where, what, on which meter, and of which board."""

    at: Named
    text: str
    meter: str | None = None  #: by its name; the round's where it is not known
    board: str | None = None  #: the network it was read on


def taken_from(
    given: Sequence[Read], design: Buildable, meters: tuple[MeterModel, ...]
) -> tuple[dict[Point, Taken], int]:
    """Return what was read of this board, in its order, and how much of another."""
    readings: dict[Point, Taken] = {}
    elsewhere = 0
    for read in given:
        if read.board is not None and read.board != design.board:
            elsewhere += 1
            continue
        taken = read_taken(read.text, read.at["kind"], _meter_called(read.meter, meters))
        readings[point_named(design.judged.circuit, **read.at)] = taken
    return readings, elsewhere


def round_answer(
    design: Buildable,
    meter: MeterModel,
    given: Sequence[Read],
    meters: tuple[MeterModel, ...],
    *,
    as_built: bool = True,
    further: Sequence[Named] = (),
    progress: Callable[[float, str], None] | None = None,
) -> RoundAnswer:
    """Go round a board with what was read of it.

    Parameters
    ----------
    meter : MeterModel
        Of what is read next.
    given : sequence of Read
        Of this board or of others, oldest first.
    meters : tuple of MeterModel
        The user's own.
    as_built : bool
        Let what was measured take the place of what is nominal.
    further : sequence of Named
        Points beside those of a careful round.

    Raises
    ------
    LowfoldError
        For a point that is not on the board, or more points than are worked out.
    """
    judged, circuit = design.judged, design.judged.circuit
    bench = bench_of(judged)
    readings, elsewhere = taken_from(given, design, meters)
    wanted = [point_named(circuit, **at) for at in further]
    points = list(dict.fromkeys([*points_of(bench), *readings, *wanted]))
    found = go_round(bench, meter, readings, as_built=as_built, points=points, progress=progress)
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
        parts=looks_of(judged),
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


def _meter_called(name: str | None, own: tuple[MeterModel, ...]) -> MeterModel | None:
    """Return a meter by its name; None where it is not said or there is none any more."""
    if name is None:
        return None
    try:
        return model_named(name, own)
    except DomainError:
        return None


def fault_table(design: Buildable, meter: MeterModel) -> FaultTableAnswer:
    """Tell what the meter would read with each likely fault; of no board without a supply."""
    bench = bench_of(design.judged)
    if not bench.powered:
        return FaultTableAnswer(points=[], junctions=[], rows=[])
    points, rows = fault_rows(bench.box, meter)
    circuit = bench.box.circuit
    against_zero = [p.kind == "voltage" and p.against == GROUND for p in points]
    return FaultTableAnswer(
        points=[words_of(circuit, p) for p in points],
        junctions=[
            name_of(circuit, p.at) if own else ""
            for p, own in zip(points, against_zero, strict=True)
        ],
        rows=[FaultRow(words=words, reads=reads) for words, reads in rows],
    )


def suspected(
    design: Buildable,
    meter: MeterModel,
    given: Sequence[Read],
    before: Sequence[Read],
    meters: tuple[MeterModel, ...],
    priors: Priors,
    *,
    most_at_once: int,
    limit: int,
    progress: Callable[[float, str], None] | None = None,
) -> DiagnoseAnswer:
    """Tell what may be wrong with a design as built, from what was read of it.

    Parameters
    ----------
    before : sequence of Read
        What was read before one was corrected, or a part replaced.
    limit : int
        Of hypotheses told.
    """
    bench = bench_of(design.judged)
    now, earlier = (
        [Given(p, t) for p, t in taken_from(some, design, meters)[0].items() if t.understood]
        for some in (given, before)
    )
    return diagnosed(
        bench.box,
        now,
        meter,
        priors,
        powered=bench.powered,
        most_at_once=most_at_once,
        limit=limit,
        before=earlier,
        progress=progress,
    )
