"""What a meter should say: its figure with the meter connected, and the exact ends over the box.

A voltage has its extremes at corners of the box with the meter's input as one branch more (see
docs/worst-case.md). A current through a part is the voltage across it over its own resistance: at
either end of that resistance, which it is monotonic in, the voltage's extremes give the current's.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Final

import numpy as np

from lowfold.core.bench.models import Measured, MeterModel, Range
from lowfold.core.bench.points import Point, nominal_gaps, with_ammeter, with_voltmeter
from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit
from lowfold.core.solving.nets import nets_of
from lowfold.core.solving.nodes import potentials, supply_resistance
from lowfold.core.tolerance.box import Box, Supply
from lowfold.core.tolerance.corners import metered
from lowfold.core.tolerance.extremes import extremes
from lowfold.core.tolerance.spread import resistance_spread

__all__ = ["MOST_POINTS", "Expected", "built", "displayed", "expect", "expect_all", "shown_on"]

MOST_POINTS: Final = 200


@dataclass(frozen=True, slots=True)
class Span:
    """A figure with its exact ends over the box, in its unit."""

    nominal: float
    low: float
    high: float

    @property
    def furthest(self) -> float:
        return max(abs(self.low), abs(self.high))


#: By the two nodes, and what is between the leads, Ω; None where nothing joins them.
Spans = Mapping[tuple[tuple[int, int], float | None], Span | None]


@dataclass(frozen=True, slots=True)
class Expected:
    """What a meter should say at a point."""

    point: Point
    span: Span | None  #: with the meter connected; None where nothing joins the leads
    low: float | None  #: with the meter's limit of error
    high: float | None
    ideal: float | None  #: without the meter
    range: Range | None  #: None where the meter has none for it
    overload: bool

    @property
    def loading(self) -> float | None:
        """Return what the meter itself changes, as a fraction of the figure without it."""
        if self.span is None or not self.ideal:
            return None
        return self.span.nominal / self.ideal - 1


def expect_all(
    box: Box,
    points: Sequence[Point],
    meter: MeterModel,
    forced: Sequence[float | None],
    *,
    progress: Callable[[float, str], None] | None = None,
) -> list[Expected | TooLargeError]:
    """Return what a meter should say at each point, or why that cannot be searched there.

    Parameters
    ----------
    box : Box
        Without tracking.
    points : sequence of Point
        At most `MOST_POINTS`.
    forced : sequence of float or None
        The full of a range that a point is to be read on; None takes the range that fits.
    progress : callable, optional
        Told after each point how far it is: a share and words.

    Raises
    ------
    TooLargeError
        For too many points.
    DomainError
        For a range that the meter has not.
    """
    if len(points) > MOST_POINTS:
        msg = f"{len(points)} points are asked for at once; ask for up to {MOST_POINTS}"
        raise TooLargeError(msg, field="points")
    together = _together(box, points, meter)
    found: list[Expected | TooLargeError] = []
    for point, full in zip(points, forced, strict=True):
        try:
            found.append(expect(box, point, meter, full, together))
        except TooLargeError as error:
            found.append(error)
        if progress is not None:
            told = f"{len(found)} of {len(points)} points"
            progress(len(found) / len(points), told)
    return found


def _together(box: Box, points: Sequence[Point], meter: MeterModel) -> Spans:
    """Return the spans of all voltages in one pass, where that is the quicker way; else none."""
    asked = dict.fromkeys((p.at, p.against) for p in points if p.kind == "voltage")
    pairs = [pair for pair in asked if pair[0] != pair[1] and not _held(box, pair)]
    if not pairs or meter.ohms_per_volt is not None:
        return {}
    try:
        read = metered(box, pairs, meter.input_ohms)
    except TooLargeError:  # told at the points that it is of
        return {}
    if read is None:
        return {}
    every = zip(pairs, *read, strict=True)
    return {
        (pair, meter.input_ohms): None
        if math.isnan(nominal)
        else Span(float(nominal), float(corners.min()), float(corners.max()))
        for pair, nominal, corners in every
    }


def expect(
    box: Box,
    point: Point,
    meter: MeterModel,
    full: float | None = None,
    together: Spans | None = None,
) -> Expected:
    """Return what a meter should say at a point.

    Parameters
    ----------
    box : Box
        Without tracking.
    full : float, optional
        Of the range to be read on; not given, the smallest that holds every reading of the box.
    together : mapping, optional
        Spans of voltages that are known already.

    Raises
    ------
    DomainError
        For a range that the meter has not.
    """
    ranges = sorted(getattr(meter, point.measured), key=lambda r: r.full)
    if full is not None:
        ranges = [r for r in ranges if math.isclose(r.full, full, rel_tol=1e-9)]
        if not ranges:
            there = ", ".join(f"{r.full:g}" for r in getattr(meter, point.measured)) or "none"
            msg = f"{meter.name} has no range of {point.measured} to {full:g}; there are: {there}"
            raise DomainError(msg, field="points")
    known: dict[float | None, Span | None] = {}

    def on(chosen: Range | None) -> Span | None:
        ohms = _put_in(point, meter, chosen)
        if ohms not in known:
            pair = ((point.at, point.against), ohms)
            if point.kind == "voltage" and together and pair in together:
                known[ohms] = together[pair]
            else:
                known[ohms] = _span(box, point, ohms)
        return known[ohms]

    chosen: Range | None = None
    span = on(None) if not ranges else None
    for chosen in ranges:
        span = on(chosen)
        if span is None or span.furthest <= chosen.full * (1 + 1e-12):
            break
    ideal = _ideal(box, point)
    if span is None:
        return Expected(point, None, None, None, ideal, ranges[-1] if ranges else None, True)
    if chosen is None:
        return Expected(point, span, span.low, span.high, ideal, None, False)
    below, above = (chosen.limit(end, of_full=meter.of_full) for end in (span.low, span.high))
    over = abs(span.nominal) > chosen.full * (1 + 1e-12)
    return Expected(point, span, span.low - below, span.high + above, ideal, chosen, over)


def _put_in(point: Point, meter: MeterModel, chosen: Range | None) -> float | None:
    """Return what a meter puts between its leads, or in series with them, Ω."""
    if point.kind == "resistance":
        return meter.lead_ohms
    if point.kind == "current":
        return chosen.burden_ohms if chosen else 0.0
    return meter.input_on(chosen)


def _span(box: Box, point: Point, ohms: float | None) -> Span | None:
    """Return the figure and its ends with so many Ω of meter; None where it has none."""
    if point.kind == "voltage":
        return _voltage(with_voltmeter(box, point, ohms), (point.at, point.against))
    if point.kind == "current":
        return _current(box, point, ohms or 0.0)
    return _resistance(box, point, ohms or 0.0)


def _ideal(box: Box, point: Point) -> float | None:
    """Return the nominal figure without any meter; None where there is none."""
    if point.kind == "voltage":
        volts = float(nominal_gaps(box)[point.at, point.against])
        return None if math.isnan(volts) else volts
    if point.supply:
        return _leaving(box)
    if point.kind == "current":
        fed, place, nodes = with_ammeter(box, point, 0.0)
        return _amps(fed, place, nodes)
    found = _resistance(box, point, 0.0)
    return None if found is None else found.nominal


def _leaving(box: Box) -> float:
    """Return the supply's own current, A: what leaves its positive end, part by part."""
    gaps, found = nominal_gaps(box), []
    inside = box.supply.source_ohms
    if math.isinf(inside):
        return box.supply.volts
    if inside:  # whatever it feeds, and whether or not that starves
        return (box.supply.volts - float(gaps[SUPPLY, GROUND])) / inside
    for branch in box.circuit.branches:
        if SUPPLY in (branch.a, branch.b) and branch.a != branch.b:
            other = branch.b if branch.a == SUPPLY else branch.a
            found.append(float(gaps[SUPPLY, other]) / branch.ohms)
    for load in box.nominal_loads:
        if load.at == SUPPLY:
            volts = float(gaps[SUPPLY, GROUND])
            found.append(volts / load.ohms if load.ohms else (load.amps or 0.0) * (volts > 0))
    return math.fsum(found) if not any(map(math.isnan, found)) else 0.0


def _amps(fed: Box, place: int, nodes: tuple[int, int]) -> float:
    branch = fed.circuit.branches[place]
    gap = float(nominal_gaps(fed)[nodes])
    return 0.0 if branch.a == branch.b or math.isnan(gap) else gap / branch.ohms


def _voltage(box: Box, between: tuple[int, int]) -> Span | None:
    if between[0] == between[1]:
        return Span(0.0, 0.0, 0.0)
    if _held(box, between):
        supply = box.supply
        at = {box.circuit.low: supply.low_volts, GROUND: 0.0, SUPPLY: supply.volts}
        volts = at[between[0]] - at[between[1]]
        step = abs(supply.volts) * supply.tolerance if SUPPLY in between else 0.0
        return Span(volts, volts - step, volts + step)
    nominal = float(nominal_gaps(box)[between])
    if math.isnan(nominal):
        return None
    low, high = extremes(box, between)
    return Span(nominal, low.volts, high.volts)


def _held(box: Box, between: tuple[int, int]) -> bool:
    """Return whether the supply itself holds both nodes, whatever hangs between them."""
    inside = {SUPPLY} if box.supply.source_ohms else set()
    return {*between} <= box.circuit.ends - inside


def _current(box: Box, point: Point, burden: float) -> Span:
    fed, place, nodes = with_ammeter(box, point, burden)
    branch, half = fed.circuit.branches[place], fed.half_widths[place]
    if point.supply and box.scales:
        return _supply_span(fed, branch.ohms)
    if branch.a == branch.b or math.isnan(nominal_gaps(fed)[nodes]):
        return Span(0.0, 0.0, 0.0)
    ends = []
    for ohms in {branch.ohms * (1 - half), branch.ohms * (1 + half)}:
        branches, halves = [*fed.circuit.branches], [*fed.half_widths]
        branches[place], halves[place] = replace(branch, ohms=ohms), 0.0
        circuit = replace(fed.circuit, branches=tuple(branches))
        still = replace(fed, circuit=circuit, half_widths=tuple(halves))
        ends += [end.volts / ohms for end in extremes(still, nodes)]
    return Span(_amps(fed, place, nodes), min(ends), max(ends))


def _supply_span(fed: Box, series: float) -> Span:
    """Return the supply's current into resistances alone, through so many Ω in series.

    What it feeds never falls when any resistance rises (Rayleigh's monotonicity law), so that its
    ends are all high and all low.
    """
    nominal = [b.ohms for b in fed.circuit.branches]
    hung = [(r.load.ohms, r.high, r.low) for r in fed.loads]
    nets = nets_of(
        fed.circuit,
        1 / np.array([nominal, fed.high, fed.low]),
        np.ones(3),
        0.0,
        [r.load for r in fed.loads],
        1 / np.array(hung, dtype=np.float64).reshape(-1, 3).T,
    )
    inner = fed.circuit.branches[-1].b
    shares = np.nan_to_num(potentials(nets)[0][:, SUPPLY, inner]) / series
    step = abs(fed.supply.volts) * fed.supply.tolerance
    ends = np.outer(shares[1:], (fed.supply.volts - step, fed.supply.volts + step))
    return Span(float(shares[0] * fed.supply.volts), float(ends.min()), float(ends.max()))


def _resistance(box: Box, point: Point, leads: float) -> Span | None:
    if point.part is not None:
        ohms, half = box.circuit.branches[point.part].ohms, box.half_widths[point.part]
        return Span(ohms + leads, ohms * (1 - half) + leads, ohms * (1 + half) + leads)
    if point.at == point.against:
        return Span(leads, leads, leads)
    between = _turned(box, point)
    if math.isinf(supply_resistance(between.circuit)):
        return None
    found = resistance_spread(between)
    return Span(found.nominal + leads, found.lowest + leads, found.highest + leads)


def _turned(box: Box, point: Point) -> Box:
    """Return the network alone, the meter's leads in the supply's place."""
    rest = [n for n in range(box.circuit.nodes) if n not in {point.at, point.against}]
    order = [point.against, point.at, *rest]
    place = {node: number for number, node in enumerate(order)}
    assert (place[point.against], place[point.at]) == (GROUND, SUPPLY)
    branches = tuple(replace(b, a=place[b.a], b=place[b.b]) for b in box.circuit.branches)
    circuit = Circuit(branches, box.circuit.nodes, {})
    return Box(circuit, Supply(1.0), (), box.half_widths)


def built(box: Box, measured: Mapping[int, tuple[float, float]]) -> Box:
    """Return a box with measured parts in place of nominal ones.

    Parameters
    ----------
    measured : mapping
        By position of a branch: Ω, and the half width that is left, a fraction.
    """
    branches, halves = [*box.circuit.branches], [*box.half_widths]
    for place, (ohms, half) in measured.items():
        branches[place], halves[place] = replace(branches[place], ohms=ohms), half
    circuit = replace(box.circuit, branches=tuple(branches))
    return replace(box, circuit=circuit, half_widths=tuple(halves))


#: Powers of ten that a display shows a figure in.
SCALES: Final = ((9, "G"), (6, "M"), (3, "k"), (0, ""), (-3, "m"), (-6, "µ"), (-9, "n"))
UNITS: Final[dict[Measured, str]] = {"volts": "V", "amps": "A", "ohms": "Ω"}


def shown_on(expected: Expected) -> str:
    """Return the figure as the display has it: a whole number of the range's resolution."""
    overload = expected.overload or expected.span is None
    value = None if overload or expected.span is None else expected.span.nominal
    return displayed(value, expected.point.measured, expected.range)


def displayed(value: float | None, measured: Measured, chosen: Range | None) -> str:
    """Return a reading as a range displays it, with its unit.

    Parameters
    ----------
    value : float or None
        In the unit measured; None is over the range.
    measured : str
        `volts`, `amps` or `ohms`.
    chosen : Range or None
        None for a meter without ranges.
    """
    if value is None:
        return "OL"
    unit = UNITS[measured]
    size = chosen.full if chosen else abs(value)
    power, prefix = next(((p, s) for p, s in SCALES if size >= 10.0**p), SCALES[-1])
    if chosen is None or not chosen.resolution:
        text = f"{Decimal(repr(value)).scaleb(-power):.6g}"
    else:
        step = Decimal(f"{chosen.resolution:.12g}")
        whole = (Decimal(repr(value)) / step).to_integral_value() * step
        exponent = step.scaleb(-power).normalize().as_tuple().exponent
        digits = max(0, -exponent) if isinstance(exponent, int) else 0
        text = f"{whole.scaleb(-power) + 0:.{digits}f}"
    return f"{text} {prefix}{unit}".replace("-", "−")
