"""Every figure of many networks at once, before anything is demanded of them.

Networks of one shape that have few values that vary share one grid of corners; others, and those
in which a current load starves, are looked at one by one (see `corners`, `signs`, `starving`).
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, partial

import numpy as np
import numpy.typing as npt

from lowfold.core.checking.faults import MOST_FAULTED, Fault, faults_of
from lowfold.core.errors import TooLargeError
from lowfold.core.network.circuit import GROUND
from lowfold.core.solving.nets import nets_of, nominal_nets
from lowfold.core.solving.nodes import potentials, resistances
from lowfold.core.solving.solution import Solution, solution_of, solve
from lowfold.core.tolerance.box import TOGETHER, Box
from lowfold.core.tolerance.corner_grid import CornerGrid, shape_of, small
from lowfold.core.tolerance.extremes import starving_loads
from lowfold.core.tolerance.loadline import LoadLine, load_line
from lowfold.core.tolerance.power import WorstPower, worst_power
from lowfold.core.tolerance.spread import (
    OutputSpread,
    ResistanceSpread,
    output_spread,
    resistance_spreads,
    sensitivities,
    unconnected,
)

__all__ = ["Asked", "Moved", "Survey", "survey"]

FloatArray = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Asked:
    """What is looked at beside every part's power."""

    outputs: tuple[str, ...] = ()  #: junctions
    resistance: bool = False  #: between the supply's ends
    faults: bool = False  #: each part open and shorted, each output shorted
    loads: bool = False  #: what loads alone do to outputs, and the resistance without them
    lines: bool = False  #: what each output is with nothing hung there


@dataclass(frozen=True, slots=True)
class Moved:
    """An output over the ranges of its loads alone, everything else nominal, V."""

    lowest: float
    highest: float


#: Faults of parts, and outputs shorted.
Failures = tuple[tuple[Fault, ...], tuple[Fault, ...]]


@dataclass(frozen=True)
class Survey:
    """What one network does over its box."""

    box: Box
    asked: Asked
    solution: Solution
    outputs: tuple[OutputSpread, ...]  #: as asked for
    resistance: ResistanceSpread | None
    bare: ResistanceSpread | None  #: the same with no loads
    powers: tuple[WorstPower, ...]  #: of each branch
    starving: tuple[int, ...]  #: current loads that get too little somewhere in the box
    #: Works out the single faults, which few of many networks are asked for.
    fail: Callable[[], Failures] = field(compare=False, repr=False)
    moved: tuple[Moved, ...] = ()
    lines: tuple[LoadLine, ...] = ()  #: of each output
    #: Each output over the box, every load anywhere from nothing connected to its heaviest; empty
    #: where that has too many corners, or nothing is connected.
    freed: tuple[Moved, ...] = ()
    heavy: FloatArray | None = None  #: (nodes,) V with every load at its heaviest, else nominal

    @cached_property
    def failures(self) -> Failures:
        """Return each part open and shorted and each output shorted, not judged by ratings."""
        return self.fail()


@dataclass(slots=True)
class _Figures:
    """A survey being made."""

    box: Box
    solution: Solution | None = None
    outputs: tuple[OutputSpread, ...] = ()
    powers: tuple[WorstPower, ...] = ()
    starving: tuple[int, ...] = ()
    moved: tuple[Moved, ...] = ()
    lines: tuple[LoadLine, ...] = ()
    heavy: FloatArray | None = None


def survey(boxes: Sequence[Box], asked: Asked) -> list[Survey]:
    """Return what each box does; those of one shape are worked out together.

    Parameters
    ----------
    boxes : sequence of Box
        Of any shapes, in any order.
    asked : Asked
        Outputs are junctions that every one of them has.

    Raises
    ------
    TopologyError
        If nothing conducts to an output, or between the supply's ends where that is asked.
    TooLargeError
        If a box has too many values or corners.
    """
    places: dict[Hashable, list[int]] = defaultdict(list)
    for place, box in enumerate(boxes):
        nodes = tuple(box.circuit.node(at, field="outputs") for at in asked.outputs)
        places[shape_of(box), nodes, box.tracking is None].append(place)
    found: dict[int, Survey] = {}
    for (_, nodes, _), together in places.items():  # type: ignore[misc]
        alike = [boxes[place] for place in together]
        found |= zip(together, _surveyed(alike, nodes, asked), strict=True)
    return [found[place] for place in range(len(boxes))]


def _surveyed(boxes: Sequence[Box], nodes: tuple[int, ...], asked: Asked) -> list[Survey]:
    """Survey boxes of one shape."""
    together = _together(boxes, nodes, asked) if all(map(small, boxes)) else {}
    figures = [together.get(k) or _alone(box, nodes, asked) for k, box in enumerate(boxes)]
    spreads: list[ResistanceSpread | None] = [None] * len(boxes)
    bare = spreads
    if asked.resistance:
        bare = spreads = list(resistance_spreads(boxes))
        if asked.loads and boxes[0].loads:
            bare = list(resistance_spreads([replace(box, loads=()) for box in boxes]))
    freed = _freed(boxes, nodes, figures, asked)
    return [
        Survey(
            box=box,
            asked=asked,
            solution=made.solution or solve_box(box),
            outputs=made.outputs,
            resistance=between,
            bare=alone,
            powers=made.powers,
            starving=made.starving,
            fail=partial(_failures, box, nodes, asked),
            moved=made.moved,
            lines=made.lines,
            freed=free,
            heavy=made.heavy,
        )
        for box, made, between, alone, free in zip(
            boxes, figures, spreads, bare, freed, strict=True
        )
    ]


def _freed(
    boxes: Sequence[Box], nodes: tuple[int, ...], figures: Sequence[_Figures], asked: Asked
) -> list[tuple[Moved, ...]]:
    """Return what outputs come to where any load may be lighter than stated, or not there.

    Where all of them hang from the one output its line without load tells: a range's light end
    lies between nothing and its heavy one. Else every load's range is opened.
    """
    found: list[tuple[Moved, ...]] = [()] * len(boxes)
    if not (asked.loads and nodes and boxes[0].loads):
        return found
    opened = []
    for k, (box, made) in enumerate(zip(boxes, figures, strict=True)):
        if made.starving:
            continue  # at 0 V with what is stated already: whatever is lighter mends nothing
        alone = len(nodes) == 1 and all(r.load.at == nodes[0] for r in box.loads)
        if alone and made.lines and made.lines[0].over_box:
            bare, spread = made.lines[0].corner_volts, made.outputs[0]
            ends = min(float(bare.min()), spread.lowest), max(float(bare.max()), spread.highest)
            found[k] = (Moved(*ends),)
        elif any(r.freed != r for r in box.loads):
            opened.append(k)
        else:
            found[k] = tuple(Moved(o.lowest, o.highest) for o in made.outputs)
    boxed = [replace(boxes[k], loads=tuple(r.freed for r in boxes[k].loads)) for k in opened]
    try:
        wider = survey(boxed, Asked(outputs=asked.outputs))
    except TooLargeError:
        return found  # the gate then says that it was not looked at
    for k, each in zip(opened, wider, strict=True):
        found[k] = tuple(Moved(o.lowest, o.highest) for o in each.outputs)
    return found


def _failures(box: Box, nodes: tuple[int, ...], asked: Asked) -> Failures:
    if not asked.faults or len(box.circuit.branches) > MOST_FAULTED:
        return (), ()
    supply = box.supply
    nets = nominal_nets(
        box.circuit, supply.volts, supply.source_ohms, box.nominal_loads, supply.low_volts
    )
    return faults_of([box.circuit], dict(zip(asked.outputs, nodes, strict=True)), nets)[0]


def solve_box(box: Box) -> Solution:
    """Return what a box does with everything nominal."""
    supply = box.supply
    return solve(box.circuit, supply.volts, supply.source_ohms, box.nominal_loads, supply.low_volts)


def _together(boxes: Sequence[Box], nodes: tuple[int, ...], asked: Asked) -> dict[int, _Figures]:
    """Survey small boxes of one shape by their corners; those in which a load starves are left."""
    lined = nodes if asked.lines else ()
    free = [replace(box, tracking=None) if box.tracking else box for box in boxes]
    grid = CornerGrid(free, lined)
    whole = _nominal_resistances(boxes)
    spans = _spans(boxes, grid, nodes, lined)
    watts, ohms, volts = (x.tolist() for x in grid.worst_powers())
    found = {}
    for k, box in enumerate(boxes):
        if grid.starved[k] or any(span.starved for span in spans[k]):
            continue
        gaps = grid.nominal[k]
        supply = box.supply
        starved = grid.starved_nominal[k]
        solution = solution_of(
            box.circuit, supply.volts, supply.source_ohms, box.nominal_loads, gaps, starved,
            whole[k],
        )  # fmt: skip
        powers = tuple(
            WorstPower(*each) if not math.isnan(each[0]) else worst_power(box, place)
            for place, each in enumerate(zip(watts[k], ohms[k], volts[k], strict=True))
        )
        outputs = []
        for node, span in zip(nodes, spans[k], strict=True):
            nominal = float(gaps[node, GROUND])
            if math.isnan(nominal):
                raise unconnected()
            outputs.append(
                OutputSpread(
                    nominal=nominal,
                    unloaded=float(grid.unloaded[k, node]),
                    lowest=span.lowest,
                    highest=span.highest,
                    lowest_corner=span.lowest_corner,
                    highest_corner=span.highest_corner,
                    follow=partial(sensitivities, box, node),
                    proven=box.proven,
                )
            )
        moved = [
            Moved(float(grid.moved[k, :, node].min()), float(grid.moved[k, :, node].max()))
            for node in (nodes if asked.loads else ())
        ]
        lines = [span.line(box, node) for node, span in zip(lined, spans[k], strict=False)]
        found[k] = _Figures(
            box, solution, tuple(outputs), powers, (), tuple(moved), tuple(lines),
            grid.heavy(k) if asked.loads else None,
        )  # fmt: skip
    return found


@dataclass(slots=True)
class _Span:
    """What the corners of all variants of one box tell of one output."""

    lowest: float = math.inf
    highest: float = -math.inf
    lowest_corner: Mapping[str, str] = None  # type: ignore[assignment]
    highest_corner: Mapping[str, str] = None  # type: ignore[assignment]
    starved: bool = False
    open_volts: float = 0.0
    source_ohms: float = 0.0
    corner_volts: tuple[FloatArray, ...] = ()
    corner_ohms: tuple[FloatArray, ...] = ()

    def line(self, box: Box, node: int) -> LoadLine:
        """Return the line of the output with nothing hung there."""
        others = tuple(r for r in box.loads if r.load.at != node)
        drawn = any(r.load.amps is not None and r.high > 0 for r in others)
        return LoadLine(
            self.open_volts,
            self.source_ohms,
            np.concatenate(self.corner_volts),
            np.concatenate(self.corner_ohms),
            proven=replace(box, loads=others).proven and not (drawn and box.above_zero),
        )


def _spans(
    boxes: Sequence[Box], free: CornerGrid, nodes: tuple[int, ...], lined: tuple[int, ...]
) -> list[list[_Span]]:
    """Return by box and output what its corners tell, over all places of what parts share."""
    found = [[_Span() for _ in nodes] for _ in boxes]
    if not nodes:
        return found
    variants = [box.variants() for box in boxes]
    plain = all(len(each) == 1 for each in variants)
    groups: dict[Hashable, list[tuple[int, str, Box]]] = defaultdict(list)
    for k, each in enumerate(variants):
        for end, still in each:
            groups[None if plain else shape_of(still)].append((k, end, still))
    for group in groups.values():
        grid = free if plain else CornerGrid([still for _, _, still in group], lined)
        for row, (k, end, _) in enumerate(group):
            shared = {TOGETHER: end} if end else {}
            for span, node in zip(found[k], nodes, strict=True):
                _widen(span, grid, row, node, shared)
    if not plain:
        for k, spans in enumerate(found):
            for span, node in zip(spans, lined, strict=False):
                volts, seen, _, _ = free.lines[node]
                span.open_volts, span.source_ohms = float(volts[k]), float(seen[k])
    return found


def _widen(span: _Span, grid: CornerGrid, row: int, node: int, shared: Mapping[str, str]) -> None:
    """Take in the corners of one more variant."""
    span.starved |= bool(grid.starved[row])
    volts = grid.corners[row, :, node, GROUND]
    low, high = int(np.argmin(volts)), int(np.argmax(volts))
    if volts[low] < span.lowest:
        span.lowest = float(volts[low])
        span.lowest_corner = {**shared, **grid.ends(row, low)}
    if volts[high] > span.highest:
        span.highest = float(volts[high])
        span.highest_corner = {**shared, **grid.ends(row, high)}
    if node in grid.lines:
        nominal, seen, corner_volts, corner_ohms = grid.lines[node]
        span.open_volts, span.source_ohms = float(nominal[row]), float(seen[row])
        span.corner_volts += (corner_volts[row],)
        span.corner_ohms += (corner_ohms[row],)


def _nominal_resistances(boxes: Sequence[Box]) -> list[float]:
    """Return what lies between the supply's ends, resistive loads connected, Ω."""
    loads = [x for x in boxes[0].nominal_loads if x.ohms is not None]
    beside = [[x.siemens for x in box.nominal_loads if x.ohms is not None] for box in boxes]
    siemens = np.array([[1 / b.ohms for b in box.circuit.branches] for box in boxes])
    ones = np.ones(len(boxes))
    nets = nets_of(boxes[0].circuit, siemens, ones, 0.0, loads, np.array(beside))
    found: list[float] = resistances(nets, potentials(nets)[0]).tolist()
    return found


def _alone(box: Box, nodes: tuple[int, ...], asked: Asked) -> _Figures:
    """Survey one box that is large, or in which a current load starves."""
    still = box.still
    solution = solve_box(box)
    powers = [
        WorstPower(state.watts, state.ohms, abs(state.volts)) if still else worst_power(box, place)
        for place, state in enumerate(solution.parts)
    ]
    made = _Figures(box, solution, powers=tuple(powers))
    made.outputs = tuple(output_spread(box, node) for node in nodes)
    made.starving = tuple(starving_loads(box))
    if asked.loads:
        made.moved = tuple(_moved(box, node) for node in nodes)
        made.heavy = _heavy(box)
    if asked.lines:
        made.lines = tuple(_line(box, node) for node in nodes)
    return made


def _heavy(box: Box) -> FloatArray:
    """Return every junction with the loads at their heaviest, all else nominal, V."""
    supply = box.supply
    loads = [r.heaviest for r in box.loads]
    nets = nominal_nets(box.circuit, supply.volts, supply.source_ohms, loads, supply.low_volts)
    volts: FloatArray = potentials(nets)[0][0, :, GROUND]
    return volts


def _moved(box: Box, node: int) -> Moved:
    """Return an output over the loads' ranges alone."""
    halves = (0.0,) * len(box.half_widths)
    supply = replace(box.supply, tolerance=0.0)
    spread = output_spread(Box(box.circuit, supply, box.loads, halves), node)
    return Moved(spread.lowest, spread.highest)


def _line(box: Box, node: int) -> LoadLine:
    """Return an output's load line; with nominal parts where it has too many corners."""
    try:
        return load_line(box, node)
    except TooLargeError:
        halves = (0.0,) * len(box.half_widths)
        still = Box(box.circuit, replace(box.supply, tolerance=0.0), box.loads, halves)
        return replace(load_line(still, node), over_box=False)
