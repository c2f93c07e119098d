"""The ladders whose worst tap is nearest to its target, one part a position.

Voltages on the way are counted from the ladder's low end; a load to 0 V draws what it would draw
at that end, and its own conductance times what the tap lies above it.

Built from the bottom up. With every tap allowed a deviation ε, the parts chosen so far leave an
interval for the voltage of the tap reached; the next part up then has to lie in one run of the
sorted values. Nothing that keeps every tap within ε is left out, so once enough ladders are found
the best of them are the best there are (docs/search.md).
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.network.circuit import GROUND, build_circuit, lifted
from lowfold.core.network.tree import Chain, Element, Part, Tap
from lowfold.core.search.ladder import LadderNeed, tap_voltages
from lowfold.core.search.pairing import from_comfortable, spread_out
from lowfold.core.search.ranking import SLACK
from lowfold.core.solving.nets import Load
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.tolerance.extremes import extremes
from lowfold.core.values.quantities import FRACTION, write

__all__ = ["Ladder", "LadderResult", "LadderTap", "search_ladder"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.intp]

FIRST_REACH: Final = 1e-3  #: deviation allowed at first
WIDENING: Final = 2.0
LARGEST_REACH: Final = 1e12
ALL_TOLD: Final = 10.0  #: compared so far that nobody asks for more
#: Unfinished ladders looked at together; more are looked at in turns.
MOST_UNFINISHED: Final = 1_000_000
#: Ladders looked at in all at one reach, by taps; beyond it a smaller reach is tried.
MOST_LOOKED_AT: Final = {1: 40_000_000, 2: 40_000_000, 3: 3_000_000, 4: 3_000_000}
LEAST_COUNTED: Final = 100_000  #: what one turn counts for at least, finished or not
MOST_RETRIES: Final = 5  #: smaller reaches tried; then the search says how far it got


@dataclass(frozen=True, slots=True)
class LadderTap:
    output_volts: float
    error: float
    lowest_volts: float
    highest_volts: float


@dataclass(frozen=True, slots=True)
class Ladder:
    """One candidate; figures unrounded, nominal but for the extremes."""

    network: Chain  #: with taps T1, T2 … from the top
    ohms: tuple[float, ...]  #: top to bottom
    taps: tuple[LadderTap, ...]
    worst_error: float  #: largest |error| of a tap
    amps: float  #: drawn from the supply


@dataclass(frozen=True, slots=True)
class LadderResult:
    candidates: tuple[Ladder, ...]
    exact: bool
    method: str  #: how far the search is exact
    searched: int
    reason: str | None


class _Half:
    """Unfinished ladders: the parts below a tap, and what they leave for its voltage."""

    def __init__(self, rows: IntArray, low: FloatArray, high: FloatArray) -> None:
        self.rows = rows  #: (n, parts so far), bottom first
        self.low, self.high = low, high  #: interval of the tap's voltage, V
        self.siemens = np.zeros(len(low))  #: current into the tap is siemens·V + amps
        self.amps = np.zeros(len(low))

    def kept(self, which: npt.NDArray[np.bool_] | IntArray) -> _Half:
        found = _Half(self.rows[which], self.low[which], self.high[which])
        found.siemens, found.amps = self.siemens[which], self.amps[which]
        return found


def _nearest(need: LadderNeed, values: FloatArray, count: int) -> tuple[FloatArray, float, bool]:
    """Widen what a tap may deviate by until enough ladders keep to it.

    Returns the ladders, the deviation up to which none was left out, and whether that proves them
    the best. Where a step meets too many to look at, a smaller one is tried.
    """
    best, done, reach = np.zeros((0, len(need.taps) + 1)), 0.0, min(FIRST_REACH, need.most_error)
    too_many, retries = math.inf, 0
    while retries <= MOST_RETRIES:
        try:
            best = _within(need, values, reach)
        except _TooMany:
            too_many, retries = reach, retries + 1
            reach = (done + reach) / 2
            continue
        done = reach
        if len(best) >= min(need.limit, count) or reach >= min(need.most_error, LARGEST_REACH):
            return best, reach, True
        wider = min(reach * (WIDENING if reach < 1 else 8 * WIDENING), need.most_error)
        reach = wider if wider < too_many else (reach + too_many) / 2
    return best, done, False


class _TooMany(Exception):
    """More unfinished ladders than are looked at together."""


def search_ladder(need: LadderNeed) -> LadderResult:
    """Return the best ladders for `need`, smallest largest |error| of a tap first.

    Ties go to the total resistance that makes the tap in the middle stiff but light. Only ladders
    in which every current load is fed count.

    Parameters
    ----------
    need : LadderNeed
        What is wanted and must be kept to.

    Raises
    ------
    DomainError, TooLargeError
        For a need that contradicts itself or passes a bound.
    """
    values = np.asarray(need.pool.ohms)
    count = len(values) ** (len(need.taps) + 1)
    if not len(values):
        reason = "there is no value to choose from: widen the range or fill the stock"
        return LadderResult((), True, "nothing to search", 0, reason)
    best, reach, exact = _nearest(need, values, count)
    candidates = _ranked(need, best)
    method = _method(reach, exact=exact)
    return LadderResult(
        tuple(candidates), exact, method, count, None if candidates else _reason(need, exact=exact)
    )


def _method(reach: float, *, exact: bool) -> str:
    """Say how far the ladders were compared: all of them, or those near enough."""
    if exact and reach > ALL_TOLD:
        return "every ladder of these values was built bottom up and compared"
    near = write(reach, FRACTION, 3, trim=True)
    stated = f"every ladder with all taps within {near} was built bottom up and compared"
    return stated if exact else f"{stated}; there are too many beyond it to prove the rest"


def _within(need: LadderNeed, values: FloatArray, reach: float) -> FloatArray:
    """Return the best `limit` ladders, and all that tie, with every tap within `reach`, (n, parts).

    Raises
    ------
    _TooMany
        If there are more to look at than `MOST_LOOKED_AT`.
    """
    # Between two supplies a tap may come out below 0 V, where a current load would starve
    floors = [0.0 if t.amps else min(need.low_volts, 0.0) for t in need.taps]
    windows = [
        (
            max(t.target_volts * (1 - reach), floor) - need.low_volts,
            t.target_volts * (1 + reach) - need.low_volts,
        )
        for t, floor in zip(need.taps, floors, strict=True)
    ]
    found = np.zeros((0, len(need.taps) + 1))
    looked_at = 0
    pending = [_bottom(need, values, windows)]
    while pending:
        part = pending.pop()
        try:
            ohms = _finished(need, part, values, windows)
        except _TooMany:
            half = len(part.low) // 2
            looked_at += MOST_UNFINISHED
            if not half or looked_at > MOST_LOOKED_AT[len(need.taps)]:
                raise
            pending += [part.kept(np.arange(half, len(part.low))), part.kept(np.arange(half))]
            continue
        looked_at += max(len(ohms), LEAST_COUNTED)
        if looked_at > MOST_LOOKED_AT[len(need.taps)]:
            raise _TooMany
        found = _best(need, np.concatenate((found, ohms[_allowed(need, ohms, reach)])))
    return found


def _best(need: LadderNeed, ohms: FloatArray) -> FloatArray:
    if len(ohms) <= need.limit:
        return ohms
    worst = _worst(need, ohms)
    kept: FloatArray = ohms[worst <= np.partition(worst, need.limit - 1)[need.limit - 1] + SLACK]
    return kept


def _worst(need: LadderNeed, ohms: FloatArray) -> FloatArray:
    """Return the largest |error| of a tap, (n,)."""
    volts = tap_voltages(ohms, need.supply_volts, need.source_ohms, *_loads(need), need.low_volts)
    targets = np.array([t.target_volts for t in need.taps])
    worst: FloatArray = np.asarray(np.max(np.abs(volts / targets - 1), axis=1))
    return worst


def _finished(
    need: LadderNeed, half: _Half, values: FloatArray, windows: list[tuple[float, float]]
) -> FloatArray:
    """Return every ladder on top of the bottom parts given whose taps may reach their windows."""
    for place in range(len(need.taps) - 1, -1, -1):
        tap = need.taps[place]
        half.siemens = half.siemens + tap.siemens
        half.amps = half.amps + need.drawn_at_low(tap)
        half = _within_currents(need, half, windows[:place])
        if place:
            half = _up(half, values, windows[place - 1])
    rows = _closed(need, half, values)
    if need.pool.counted:
        rows = rows[need.pool.in_stock(rows.astype(np.int32))]
    return values[rows[:, ::-1]]


def _within_currents(need: LadderNeed, half: _Half, above: list[tuple[float, float]]) -> _Half:
    """Cut the taps' intervals to what the bounds on the supply's current leave."""
    pairs = list(zip(need.taps, above, strict=False))
    # The loads above take at least, and at most, what their windows leave them.
    least, most = (
        sum(t.siemens * w[end] + need.drawn_at_low(t) for t, w in pairs) for end in (0, 1)
    )
    if need.max_amps is not None:
        half.high = np.minimum(half.high, (need.max_amps - least - half.amps) / half.siemens)
    if need.min_amps:
        half.low = np.maximum(half.low, (need.min_amps - most - half.amps) / half.siemens)
    return half.kept(half.low <= half.high * (1 + SLACK) + SLACK)


def _bottom(need: LadderNeed, values: FloatArray, windows: list[tuple[float, float]]) -> _Half:
    rows = np.arange(len(values))[:, None]
    low, high = windows[len(need.taps) - 1]
    half = _Half(rows, np.full(len(values), low), np.full(len(values), high))
    half.siemens = 1 / values
    return half


def _up(half: _Half, values: FloatArray, window: tuple[float, float]) -> _Half:
    """Put every part that can reach `window` on top of the unfinished ladders."""
    least = half.siemens * half.low + half.amps
    most = half.siemens * half.high + half.amps
    with np.errstate(divide="ignore", invalid="ignore"):
        smallest = _least_ohms(window[0] - half.high, most)
        largest = np.where(least > 0, (window[1] - half.low) / least, np.inf)
    largest = np.where((window[1] > half.low) | (least < 0), largest, -1.0)
    at, rows = _grown(values, smallest, largest)
    ohms = values[rows]
    found = half.kept(at)
    found.rows = np.concatenate((found.rows, rows[:, None]), axis=1)
    # V above = V + R·(G·V + c): the interval moves up with it and is cut to the window.
    gain, offset = 1 + ohms * found.siemens, ohms * found.amps
    found.low = np.maximum(found.low * gain + offset, window[0])
    found.high = np.minimum(found.high * gain + offset, window[1])
    found.siemens, found.amps = found.siemens / gain, found.amps / gain
    return found.kept(found.low <= found.high * (1 + SLACK))


def _least_ohms(rise: FloatArray, most_amps: FloatArray) -> FloatArray:
    """Return the least resistance over which a voltage rises so far, Ω; inf where none does.

    A tap below 0 V takes current out of its load, so that none need flow down the string.
    """
    ohms = np.where(most_amps > 0, rise / most_amps, np.inf)
    found: FloatArray = np.where(rise <= 0, 0.0, ohms)
    return found


def _closed(need: LadderNeed, half: _Half, values: FloatArray) -> IntArray:
    """Put every top part on that leaves the first tap where it must be; return rows."""
    least = half.siemens * half.low + half.amps
    most = half.siemens * half.high + half.amps
    with np.errstate(divide="ignore", invalid="ignore"):
        smallest = _least_ohms(need.span_volts - half.high, most) - need.source_ohms
        largest = np.where(least > 0, (need.span_volts - half.low) / least, np.inf)
    largest = largest - need.source_ohms
    if need.max_amps:
        smallest = np.maximum(
            smallest, (need.span_volts - half.high) / need.max_amps - need.source_ohms
        )
    if need.min_amps:
        largest = np.minimum(
            largest, (need.span_volts - half.low) / need.min_amps - need.source_ohms
        )
    at, rows = _grown(values, smallest, largest)
    found: IntArray = np.concatenate((half.rows[at], rows[:, None]), axis=1)
    return found


def _grown(
    values: FloatArray, smallest: FloatArray, largest: FloatArray
) -> tuple[IntArray, IntArray]:
    start = np.searchsorted(values, smallest * (1 - SLACK))
    stop = np.searchsorted(values, largest * (1 + SLACK), side="right")
    if int(np.maximum(stop - start, 0).sum()) > MOST_UNFINISHED:
        raise _TooMany
    return spread_out(start, stop)


def _loads(need: LadderNeed) -> tuple[FloatArray, FloatArray]:
    return np.array([t.siemens for t in need.taps]), np.array([t.amps for t in need.taps])


def _allowed(need: LadderNeed, ohms: FloatArray, reach: float) -> npt.NDArray[np.bool_]:
    """Return which ladders keep every tap within `reach` and every bound, (n,)."""
    volts = tap_voltages(ohms, need.supply_volts, need.source_ohms, *_loads(need), need.low_volts)
    targets = np.array([t.target_volts for t in need.taps])
    kept: npt.NDArray[np.bool_] = (np.abs(volts / targets - 1) <= reach * (1 + SLACK) + SLACK).all(
        axis=1
    )
    # Voltages above the low end are added to it: what is left of one at 0 V feeds no load.
    fed = np.array([t.amps == 0 and need.low_volts < 0 for t in need.taps])
    kept &= ((volts > SLACK * abs(need.low_volts)) | fed).all(axis=1)
    amps = (need.supply_volts - volts[:, 0]) / (ohms[:, 0] + need.source_ohms)
    if need.max_amps is not None:
        kept &= amps <= need.max_amps * (1 + SLACK)
    if need.min_amps is not None:
        kept &= amps >= need.min_amps * (1 - SLACK)
    return kept


def _ranked(need: LadderNeed, ohms: FloatArray) -> list[Ladder]:
    targets = np.array([t.target_volts for t in need.taps])
    volts = tap_voltages(ohms, need.supply_volts, need.source_ohms, *_loads(need), need.low_volts)
    if not len(ohms):
        return []
    worst = np.abs(volts / targets - 1).max(axis=1)
    # What recurs in every decade ties but for rounding; of those the comfortable one is wanted.
    coarse = np.round(worst / SLACK)
    comfort = from_comfortable(ohms.sum(axis=1) / 4)
    first = np.lexsort((comfort, coarse))[: need.limit]
    corners = _corners(need, ohms[first])
    return [
        _ladder(need, ohms[row], volts[row], targets, corners[place])
        for place, row in enumerate(first)
    ]


def _ladder(
    need: LadderNeed,
    ohms: FloatArray,
    volts: FloatArray,
    targets: FloatArray,
    corners: FloatArray,
) -> Ladder:
    items: list[Part | Tap] = [Part(float(ohms[0]), "R1")]
    for place in range(1, len(need.taps) + 1):
        items += [Tap(f"T{place}"), Part(float(ohms[place]), f"R{place + 1}")]
    network = Chain(tuple(items))
    starved = corners.min() <= 0
    plain = list(zip(corners.min(axis=0), corners.max(axis=0), strict=True))
    ends = _spans(need, network) if starved else plain
    taps = tuple(
        LadderTap(float(v), float(v / t - 1), float(low), float(high))
        for v, t, (low, high) in zip(volts, targets, ends, strict=True)
    )
    return Ladder(
        network=network,
        ohms=tuple(float(r) for r in ohms),
        taps=taps,
        worst_error=max(abs(t.error) for t in taps),
        amps=float((need.supply_volts - volts[0]) / (ohms[0] + need.source_ohms)),
    )


def _corners(need: LadderNeed, ohms: FloatArray) -> FloatArray:
    """Return the taps' voltages at every corner of parts and supply, (ladders, corners, taps) V.

    A voltage is monotonic in each value alone, so its extremes are among them (docs/worst-case.md),
    as long as every current load is fed: where one starves, some voltage comes out at or below 0 V.
    """
    count, parts = ohms.shape
    signs = np.array(list(itertools.product((-1, 1), repeat=parts + 1)), dtype=np.float64)
    moved = ohms[:, None, :] * (1 + signs[:, 1:] * need.tolerance)
    supply = np.tile(need.supply_volts * (1 + signs[:, 0] * need.supply_tolerance), count)
    found = tap_voltages(
        moved.reshape(-1, parts), supply, need.source_ohms, *_loads(need), need.low_volts
    )
    return found.reshape(count, len(signs), -1)


def _spans(need: LadderNeed, network: Element) -> list[tuple[float, float]]:
    """Return every tap's extremes where a current load may starve, V."""
    circuit = lifted(build_circuit(network), need.low_volts)
    nodes = [circuit.node(f"T{k}") for k, _ in enumerate(need.taps, start=1)]
    loads = []
    for node, tap in zip(nodes, need.taps, strict=True):
        stated = tap.load_ohms if tap.load_ohms is not None else tap.load_amps
        if stated is not None:
            loads.append(LoadRange(Load(node, tap.load_ohms, tap.load_amps), stated, stated))
    supply = Supply(need.supply_volts, need.supply_tolerance, need.source_ohms, need.low_volts)
    box = Box(circuit, supply, tuple(loads), (need.tolerance,) * len(circuit.branches))
    ends = [extremes(box, (node, GROUND)) for node in nodes]
    return [(low.volts, high.volts) for low, high in ends]


def _reason(need: LadderNeed, *, exact: bool) -> str:
    ways = []
    if need.min_amps is not None or need.max_amps is not None:
        ways.append("loosen the bound on the current")
    if any(t.siemens or t.amps for t in need.taps):
        ways.append("lighten the loads")
    if not exact:
        mend = " or ".join([*ways, "name other values"])
        return (
            "no ladder of these values comes near its targets, and those further off are too many "
            f"to compare: {mend}"
        )
    bounds = [
        f"at least {need.min_amps:g} A" if need.min_amps is not None else "",
        f"at most {need.max_amps:g} A" if need.max_amps is not None else "",
    ]
    stated = ", ".join(b for b in bounds if b)
    if stated:
        fed = " and feeds its loads" if any(t.amps for t in need.taps) else ""
        return f"no ladder of these values draws {stated}{fed}: loosen the bound"
    if any(t.amps for t in need.taps):
        return "the loads take more than any ladder of these values can give: choose lower values"
    return "the stock has too few parts for a ladder"
