"""A folded network as it is seen: each step drawn and said, the way back, and other ways."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from typing import Literal

from lowfold.core.drawing.heights import heights
from lowfold.core.drawing.schematic import Drawing, draw
from lowfold.core.errors import TooLargeError
from lowfold.core.folding.ballpark import Ballpark, ballpark
from lowfold.core.folding.fold import Fold, Folding, fold, unfolded
from lowfold.core.folding.other_ways import divider_rule, node_equations
from lowfold.core.folding.unfold import Carried, Unfolded, Unfolding, unfold
from lowfold.core.folding.words import School, rule_of, same_of, worked
from lowfold.core.network.circuit import (
    GROUND,
    SUPPLY,
    Branch,
    Circuit,
    junctions,
    load_names,
)
from lowfold.core.network.notation import Netlist
from lowfold.core.network.tree import Element
from lowfold.core.solving.balance import Balance, balances
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import Solution, solve
from lowfold.core.values.quantities import (
    AMPERE,
    FRACTION,
    OHM,
    VOLT,
    WATT,
    Kind,
    readable_codes,
    write,
)
from lowfold.core.weighing.gate_words import sentence
from lowfold.views.drawings import Writing, edges_drawing, fitting
from lowfold.views.figures import Figure, figure
from lowfold.views.heights import HeightsAnswer, heights_answer
from lowfold.views.view import view

__all__ = [
    "AGREE",
    "MOST_EQUATIONS",
    "MOST_STEPS",
    "NOTHING",
    "CarriedAnswer",
    "CheckLine",
    "EquationsAnswer",
    "FoldAnswer",
    "FoldStep",
    "WayLine",
    "fold_answer",
]


MOST_STEPS = 120  #: of a folding that are drawn; nobody follows more
MOST_EQUATIONS = 32  #: junctions whose equations are written out


#: Ways to one voltage agree within this, relative to the supply.
AGREE = 1e-9
NOTHING = 1e-13  #: of the supply: what a balanced bridge carries but for rounding


@view
class CarriedAnswer:
    """What one resistance carries, and the rule that gave it."""

    ref: str
    resistance: Figure | None
    voltage: Figure | None
    current: Figure | None
    power: Figure | None
    rule: str
    #: What was known beside R and gave the other, on the way back
    given: Literal["V", "I"] | None = None


@view
class FoldStep:
    kind: Literal["series", "parallel", "star-delta"]
    members: list[str]
    results: list[str]
    rule: str  #: In symbols, in the school asked for
    worked: str  #: With the numbers
    same: str  #: What stays the same, and why these may be combined
    estimate: str  #: What one would say in the head, and how far off it is
    remains: str
    drawing: Drawing
    parts: list[CarriedAnswer]  #: What is left after the step, with its figures
    heights: HeightsAnswer | None  #: The same by its potentials
    back: str  #: What the members share on the way back
    unfolded: list[CarriedAnswer]


@view
class CheckLine:
    name: str
    holds: bool
    residual: str


@view
class WayLine:
    """One junction's voltage by each way."""

    at: str
    folded: Figure | None
    divider: Figure | None
    divider_words: str
    equations: Figure | None
    agree: bool


@view
class EquationsAnswer:
    names: list[str]
    rows: list[list[str]]  #: Conductances, a row a junction
    entering: list[str]


@view
class FoldAnswer:
    """A network folded and unfolded."""

    total: Figure | None
    draws: Figure | None
    gives: Figure | None
    terminal: Figure | None
    exact_ohm: float | None
    drawing: Drawing
    heights: HeightsAnswer | None  #: The network by its potentials
    taps: dict[str, Figure]
    supply: str
    low: str  #: What the other end lies at; empty at 0 V
    idle: list[str]
    steps: list[FoldStep]
    whole: CarriedAnswer | None  #: The one resistance and what it carries, where unfolding begins
    table: list[CarriedAnswer]
    checks: list[CheckLine]
    ways: list[WayLine]
    equations: EquationsAnswer
    note: str  #: What folding cannot take into account


def fold_answer(
    circuit: Circuit,
    network: Element | Netlist,
    supply_volts: float,
    source_ohms: float,
    loads: Sequence[Load],
    load_taps: Sequence[str],
    low_volts: float = 0.0,
    *,
    school: School = "reciprocals",
    digits: int = 4,
) -> FoldAnswer:
    """Fold, unfold and cross-check one network, drawn at every step.

    The circuit is lifted by `low_volts`.
    """
    too_long = ""
    try:
        folding = fold(circuit, loads, most_steps=MOST_STEPS)
    except TooLargeError as error:
        folding, too_long = unfolded(circuit, loads), error.message
    solution = solve(circuit, supply_volts, source_ohms, loads, low_volts)
    apart = bool(low_volts) and any(load.ohms for load in loads)
    currents = any(load.amps for load in loads)
    back = (
        None
        if currents or too_long or apart
        else unfold(folding, supply_volts, source_ohms, low_volts)
    )
    guesses = {b.ref: b for b in ballpark(folding)}
    whole = supply_volts - low_volts
    volts = {n: v for n, v in enumerate(solution.voltages) if math.isfinite(v)}
    volts[GROUND] = low_volts  # what a folded network has there
    steps = [
        _step(folding, k, step, back, guesses, volts, school, digits, whole)
        for k, step in enumerate(folding.steps)
    ]
    table = _table(circuit, folding, solution, back, loads, digits, whole)
    live = {n: v for n, v in enumerate(solution.voltages) if math.isfinite(v)}
    every = balances(circuit, solution, supply_volts, loads, low_volts)
    small = circuit.nodes <= MOST_EQUATIONS
    shown = folding.start if small else ()
    equations = node_equations(
        shown,
        folding.titles,
        supply_volts,
        source_ohms,
        low_volts,
        load_names(circuit, len(loads)) if low_volts else (),
    )
    return FoldAnswer(
        total=figure(solution.total_ohms, OHM, digits, trim=True),
        draws=figure(solution.supply_amps, AMPERE, digits),
        gives=figure(solution.supply_watts, WATT, digits),
        terminal=figure(solution.terminal_volts, VOLT, digits),
        exact_ohm=solution.total_ohms if math.isfinite(solution.total_ohms) else None,
        drawing=_whole_drawing(circuit, network, folding, loads, load_taps, solution, table),
        heights=heights_answer(
            heights(_standing_edges(circuit, loads), live, _titles(circuit)), digits
        ),
        taps=_taps(folding, volts, digits),
        supply=write(supply_volts, VOLT, 4, trim=True),
        low=write(low_volts, VOLT, 4, trim=True) if low_volts else "",
        idle=list(folding.idle),
        steps=steps,
        whole=_carried(back.whole, digits, whole) if back else None,
        table=table,
        checks=[CheckLine(name=b.name, holds=b.holds, residual=_residual(b)) for b in every],
        ways=_ways(folding, back, solution, digits),
        equations=EquationsAnswer(
            names=list(equations.names),
            rows=[[_siemens(x) for x in row] for row in equations.matrix.tolist()],
            entering=[write(x, AMPERE, 4) for x in equations.entering.tolist()],
        ),
        note=_note(too_long, currents=currents, apart=apart),
    )


def _note(too_long: str, *, currents: bool, apart: bool) -> str:
    """Say what folding cannot take into account, or that it would be too long to follow."""
    notes = []
    if currents:
        notes.append(
            "Loads that draw a fixed current are no resistance: they stay out of the folding, and "
            "voltages come from the node equations."
        )
    if apart:
        notes.append(
            "Loads go to 0 V, and the network's other end lies elsewhere: three ends do not fold "
            "to one resistance that tells the currents. What is folded is the resistance with both "
            "ends dead; voltages come from the node equations."
        )
    if too_long:
        notes.append(f"{sentence(too_long)[:-1]}: the figures come from the node equations.")
    return " ".join(notes)


def _residual(found: Balance) -> str:
    """Write by how much a balance fails to close: 0 where that is rounding alone."""
    kind = {"junction": AMPERE, "loop": VOLT}.get(found.name.split()[0], WATT)
    return f"0 {kind.unit}" if found.holds else write(found.residual, kind, 2)


_SIEMENS = Kind("a conductance", "S", ("s",), "1 mS")


def _siemens(value: float) -> str:
    return write(value, _SIEMENS, 4) if value else "0"


def _carried(found: Carried, digits: int, whole: float) -> CarriedAnswer:
    """Write what a part carries; what rounding leaves of the whole voltage is nothing."""
    nothing = abs(found.volts) <= NOTHING * abs(whole)
    return CarriedAnswer(
        ref=found.ref,
        resistance=figure(found.ohms, OHM, max(digits, 4), trim=True),
        voltage=figure(0.0 if nothing else abs(found.volts), VOLT, digits),
        current=figure(0.0 if nothing else abs(found.amps), AMPERE, digits),
        power=figure(0.0 if nothing else found.watts, WATT, digits),
        rule=found.rule,
        given=found.given,
    )


def _step(
    folding: Folding,
    place: int,
    step: Fold,
    back: Unfolding | None,
    guesses: Mapping[str, Ballpark],
    volts: Mapping[int, float],
    school: School,
    digits: int,
    whole: float,
) -> FoldStep:
    guess = guesses.get(step.results[0].ref) if len(step.results) == 1 else None
    estimate = ""
    if guess is not None:
        off = write(guess.off, FRACTION, 2)
        about = write(guess.estimate, OHM, 2, trim=True)
        estimate = f"about {about} ({guess.how}); off by {off}"
    unfolded, shared = [], ""
    known: dict[str, Carried] = {}
    if back is not None:
        way = back.steps[len(folding.steps) - 1 - place]
        unfolded = [_carried(m, digits, whole) for m in way.members]
        known = {back.whole.ref: back.whole}
        for later in back.steps[: len(folding.steps) - 1 - place]:
            known |= {m.ref: m for m in later.members}
        shared = _shared_words(step, way, digits)
    parts = [
        _carried(known[e.ref], digits, whole)
        if e.ref in known
        else CarriedAnswer(
            ref=e.ref,
            resistance=figure(e.ohms, OHM, max(digits, 4), trim=True),
            voltage=None,
            current=None,
            power=None,
            rule="",
        )
        for e in step.left
    ]
    return FoldStep(
        kind=step.kind,
        members=[e.ref for e in step.members],
        results=[e.ref for e in step.results],
        rule=rule_of(step, school),
        worked=worked(step, school, digits),
        same=same_of(step),
        estimate=estimate,
        remains=readable_codes(step.remains),
        drawing=edges_drawing(
            step.left,
            folding.titles,
            volts,
            two_ends=bool(volts[GROUND]),
            writing=_writing(parts, folding.titles.values()),
        ),
        heights=heights_answer(heights(step.left, volts, folding.titles), digits),
        parts=parts,
        back=shared,
        unfolded=unfolded,
    )


def _shared_words(step: Fold, way: Unfolded, digits: int) -> str:
    """Say what the members of a step have in common on the way back."""
    result, refs = step.results[0].ref, [e.ref for e in step.members]
    if way.amount is None:
        return "the centre lies at ΣV/R over Σ1/R; each arm has what is between its ends"
    if way.shared == "current":
        return f"{result} is {' + '.join(refs)}: all carry its {write(way.amount, AMPERE, digits)}"
    return f"{result} is {' ∥ '.join(refs)}: all have its {write(way.amount, VOLT, digits)}"


def _whole_drawing(
    circuit: Circuit,
    network: Element | Netlist,
    folding: Folding,
    loads: Sequence[Load],
    load_taps: Sequence[str],
    solution: Solution,
    table: Sequence[CarriedAnswer],
) -> Drawing:
    """Draw the network as it was written, switches and idle parts included, where it is a tree."""
    names = load_names(circuit, len(load_taps))
    two_ends, writing = circuit.low != GROUND, _writing(table, _titles(circuit).values())
    if isinstance(network, Netlist):
        volts = {n: v for n, v in enumerate(solution.voltages) if math.isfinite(v)}
        every = [b for b in circuit.branches if b.a != b.b]
        if not two_ends:
            start = folding.start or every
            return edges_drawing(start, folding.titles, volts, writing=writing)
        edges, titles = _standing_edges(circuit, loads), _titles(circuit)
        return edges_drawing(edges, titles, volts, low=circuit.low, two_ends=True, writing=writing)
    hung = list(zip(names, load_taps, strict=True))
    return fitting(lambda metrics: draw(network, metrics, hung, two_ends=two_ends), writing)


def _standing_edges(circuit: Circuit, loads: Sequence[Load]) -> list[Branch]:
    """Return a network's parts and resistive loads as they stand, before any is folded."""
    hanging = zip(load_names(circuit, len(loads)), loads, strict=True)
    parts = [b for b in circuit.branches if b.a != b.b]
    hung = [Branch(name, x.at, GROUND, x.ohms) for name, x in hanging if x.ohms]
    return [*parts, *(b for b in hung if b.a != b.b)]


def _titles(circuit: Circuit) -> dict[int, str]:
    return {node: name for name, node in junctions(circuit).items()}


def _writing(rows: Sequence[CarriedAnswer], taps: Iterable[str]) -> Writing:
    """Return how much is written beside the parts of a drawing."""

    def size(found: Figure | None) -> int:
        return len(found.text) + len(found.unit) + 1 if found else 0

    return Writing(
        full=max((size(r.voltage) + size(r.current) + 3 for r in rows), default=0),
        stacked=max((max(size(r.voltage), size(r.current)) for r in rows), default=0),
        name=max((len(r.ref) + 1 + size(r.resistance) for r in rows), default=0),
        tap=max(map(len, taps), default=0),
    )


def _taps(folding: Folding, volts: Mapping[int, float], digits: int) -> dict[str, Figure]:
    return {
        title: found
        for node, title in folding.titles.items()
        if node not in (GROUND, SUPPLY)
        and node in volts
        and (found := figure(volts[node], VOLT, digits)) is not None
    }


def _table(
    circuit: Circuit,
    folding: Folding,
    solution: Solution,
    back: Unfolding | None,
    loads: Sequence[Load],
    digits: int,
    whole: float,
) -> list[CarriedAnswer]:
    """Return every part and load; with the rule that gave its figures where it was unfolded."""
    rules = dict.fromkeys(folding.idle, "carries no current")
    rules |= {p.ref: p.rule for p in back.parts} if back else {}
    rows = []
    for p in solution.parts:
        rule = rules.get(p.ref, "node equations")
        rows.append(_carried(Carried(p.ref, p.ohms, p.volts, p.amps, p.watts, rule), digits, whole))
    names = load_names(circuit, len(loads))
    for name, load, amps in zip(names, loads, solution.load_amps, strict=True):
        at = solution.voltages[load.at]
        rows.append(
            CarriedAnswer(
                ref=name,
                resistance=figure(load.ohms, OHM, max(digits, 4), trim=True),
                voltage=figure(at, VOLT, digits),
                current=figure(amps, AMPERE, digits),
                power=figure(at * amps, WATT, digits),
                rule=rules.get(name, "stated current"),
            )
        )
    return rows


def _ways(
    folding: Folding, back: Unfolding | None, solution: Solution, digits: int
) -> list[WayLine]:
    """Set each junction's voltage by folding, divider rule and node equations side by side."""
    if back is None:
        return []
    found = []
    inner = sorted({n for e in folding.start for n in (e.a, e.b)} - {GROUND, SUPPLY})
    low = back.volts[GROUND]
    scale = abs(solution.terminal_volts) or 1.0
    for node in inner:
        across = solution.terminal_volts - low
        rule = divider_rule(folding.start, folding.titles, node, across)
        divided = None if rule.volts is None else low + rule.volts
        folded, equations = back.volts.get(node), solution.voltages[node]
        values = [v for v in (folded, divided, equations) if v is not None]
        words = rule.reason
        if rule.above is not None and rule.below is not None:
            up, down = (write(x, OHM, 4, trim=True) for x in (rule.above, rule.below))
            words = f"{down} of {up} + {down}"
            words += f", above {write(low, VOLT, 4, trim=True)}" if low else ""
        found.append(
            WayLine(
                at=folding.titles[node],
                folded=figure(folded, VOLT, digits),
                divider=figure(divided, VOLT, digits),
                divider_words=words,
                equations=figure(equations, VOLT, digits),
                agree=max(values) - min(values) <= AGREE * scale,
            )
        )
    return found
