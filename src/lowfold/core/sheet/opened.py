"""A weighed network looked into: its scatter, what contributes, its load lines, what fails."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.bench.meters import MeterReading, readings
from lowfold.core.checking.faults import MODES, MOST_FAULTED, Mode, faulted_ohms
from lowfold.core.errors import TooLargeError
from lowfold.core.network.circuit import SUPPLY
from lowfold.core.search.feedback import regulated_output
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance.box import Box, LoadRange
from lowfold.core.tolerance.loadline import LoadLine, load_line
from lowfold.core.tolerance.sampling import Distribution, sampled, sampled_legs
from lowfold.core.tolerance.scatter import Scatter, scatter
from lowfold.core.tolerance.spread import resistance_spread
from lowfold.core.values.quantities import AMPERE, OHM, Kind
from lowfold.core.weighing.choice import Judged, Pair
from lowfold.core.weighing.load_gate import carried_at
from lowfold.core.weighing.mark import Mark

__all__ = [
    "MOST_DRAWN",
    "SAMPLES",
    "Contribution",
    "Curve",
    "Opened",
    "contributions_of",
    "look_into",
    "scatters_of",
]

FloatArray = npt.NDArray[np.float64]

SAMPLES: Final = 100_000
MOST_DRAWN: Final = 10_000_000  #: in a run of its own, with progress
SEED: Final = 1  #: so that the same choice always shows the same picture
#: A line is drawn on to this many times the heaviest of the loads stated and passing.
BEYOND: Final = 1.3
POINTS: Final = 61
HEAVIEST: Final = 1e3  #: A, where nothing but the supply limits the current
#: Of the supply's current, drawn to see how what goes past falls; and a current that is none.
PROBE, TINY = 1e-3, 1e-30
LEAST_REACH: Final = 0.02  #: of the current into a short, for a line that nothing hangs on


@dataclass(frozen=True, slots=True)
class Contribution:
    """What one value moves a figure by at the end of its range, first order."""

    at: str  #: the tap; empty for a resistance or a regulator's output
    name: str
    kind: Kind
    moves: float  #: V or Ω, signed
    share: float  #: of the accepted deviation, signed


@dataclass(frozen=True, slots=True)
class Curve:
    """A figure against what hangs on it, nominal and over every corner of all else."""

    mark: Mark
    along: Kind  #: AMPERE drawn at a tap or by a pin, or OHM beside a resistance
    x: FloatArray  #: (n,) in the unit of `along`
    nominal: FloatArray  #: (n,) V or Ω
    lowest: FloatArray
    highest: FloatArray
    leaves: float | None  #: where the nominal curve leaves the window
    points: tuple[tuple[str, Kind, float, float, float], ...]  #: name, as stated, then x and y
    line: LoadLine | None = None  #: of a tap
    stiff: float | None = None  #: where the string carries as many times the load as is asked for
    meters: tuple[MeterReading, ...] = ()


@dataclass(frozen=True, slots=True)
class Opened:
    scatters: tuple[tuple[Mark, Scatter], ...]  #: over every half-width, loads nominal
    contributions: tuple[Contribution, ...]  #: largest share first
    curves: tuple[Curve, ...]
    undrawn: tuple[str, ...]  #: why there is no curve of a tap
    failed_ohms: tuple[tuple[str, Mode, float], ...]  #: of a resistance: what is left, inf if open


def look_into(judged: Judged, distribution: Distribution = "uniform") -> Opened:
    """Look into a network weighed against what is wanted of it.

    Parameters
    ----------
    distribution : Distribution
        How each value lies in its range.

    Returns
    -------
    Opened
        Pictures and what they are of.
    """
    curves, undrawn = _curves(judged)
    return Opened(
        scatters=scatters_of(judged, SAMPLES, distribution),
        contributions=tuple(sorted(contributions_of(judged), key=lambda c: -abs(c.share))),
        curves=curves,
        undrawn=undrawn,
        failed_ohms=_failed(judged),
    )


def _failed(judged: Judged) -> tuple[tuple[str, Mode, float], ...]:
    """Return what is left of a wanted resistance with each part open and shorted, Ω."""
    branches = judged.circuit.branches
    if all(m.kind is not OHM for m in judged.marks) or len(branches) > MOST_FAULTED:
        return ()
    return tuple(
        (branch.ref, mode, faulted_ohms(judged.circuit, place, mode, judged.box.nominal_loads))
        for place, branch in enumerate(branches)
        for mode in MODES
    )


def scatters_of(
    judged: Judged,
    samples: int,
    distribution: Distribution,
    progress: Callable[[float], None] | None = None,
) -> tuple[tuple[Mark, Scatter], ...]:
    """Return how each figure scatters, against its window.

    Parameters
    ----------
    samples : int
        How many are drawn.
    distribution : Distribution
        How each value lies in its range.
    progress : Callable[[float], None] | None
        Told the share done, 0 to 1.

    Raises
    ------
    TooLargeError
        For more than `MOST_DRAWN` samples.
    """
    box, how = judged.box, (samples, distribution, SEED)
    drawn: list[npt.NDArray[np.float64]]
    if judged.pair is not None:
        upper, lower, held = sampled_legs(
            box, judged.pair.node, *how, most=MOST_DRAWN, progress=progress
        )
        pin = np.asarray(judged.pair.pin_amps)
        drawn = [regulated_output(upper, lower, held, pin)]
    else:
        nodes = [None if m.kind is OHM else box.circuit.node(m.name) for m in judged.marks]
        drawn = sampled(box, nodes, *how, most=MOST_DRAWN, progress=progress)
    return tuple(
        (mark, scatter(values, mark.window))
        for mark, values in zip(judged.marks, drawn, strict=True)
    )


def contributions_of(judged: Judged) -> list[Contribution]:
    """Return what moves each figure, in its unit and of the accepted deviation."""
    found = []
    spreads = {o.at: o.spread for o in judged.check.outputs}
    for mark in judged.marks:
        allowed = mark.within * abs(mark.target)
        moved: Iterable[tuple[str, float]]
        if judged.pair is not None:
            moved = judged.pair.moves.items()
        elif mark.kind is OHM:
            assert judged.check.resistance is not None  # there is a mark on it
            moved = judged.check.resistance.spread.moves
        else:
            each = spreads[mark.name].sensitivities
            moved = ((s.name, s.contribution_v) for s in each)
        found += [Contribution(mark.name, n, mark.kind, m, m / allowed) for n, m in moved if m]
    return found


def _curves(judged: Judged) -> tuple[tuple[Curve, ...], tuple[str, ...]]:
    """Return the curve of every figure against what loads it, and why there is none of some."""
    if judged.pair is not None:
        return (_pin_curve(judged.marks[0], judged.pair),), ()
    found: list[Curve] = []
    undrawn = []
    for mark in judged.marks:
        if mark.kind is OHM:
            found.append(_beside_curve(mark, judged.box))
        elif judged.supply is not None:
            try:
                found.append(_tap_curve(mark, judged))
            except TooLargeError as error:
                undrawn.append(f"No load line of {mark.name}: {error.message}.")
    return tuple(found), tuple(undrawn)


def _tap_curve(mark: Mark, judged: Judged) -> Curve:
    """Return an output against the current drawn there: its load line."""
    node = judged.circuit.node(mark.name)
    line = load_line(judged.box, node)
    here = [r for r in judged.loads if r.load.at == node]
    ends = [end for r in here for end in _ends(r)]
    stiff = _stiff_amps(judged, node) if here else None
    passing = line.passing(*mark.window)
    most = passing.most_amps if passing and math.isfinite(passing.most_amps) else 0.0
    points = []
    for name, load in ends:
        volts, _ = line.connected([load])
        if load.ohms is not None:
            points.append((name, OHM, load.ohms, volts / load.ohms, volts))
        else:
            points.append((name, AMPERE, load.amps or 0.0, load.amps or 0.0, volts))
    if points and all(p[3] > 0 for p in points):
        points.append(("open", AMPERE, 0.0, 0.0, line.open_volts))
    short = abs(line.short_amps)
    reach = max([*(p[3] for p in points), most, stiff or 0.0, LEAST_REACH * min(short, HEAVIEST)])
    amps = np.linspace(0.0, min(BEYOND * reach, short), POINTS)
    lowest, highest = line.extremes(amps)
    volts, behind = line.connected([r.load for r in here])
    return Curve(
        mark=mark,
        along=AMPERE,
        x=amps,
        nominal=line.volts(amps),
        lowest=lowest,
        highest=highest,
        leaves=most or None,
        points=tuple(points),
        line=line,
        stiff=stiff,
        meters=readings(volts, behind),
    )


def _stiff_amps(judged: Judged, node: int) -> float | None:
    """Return the load current that the string carries as many times past it as is asked for, A.

    What goes past falls in proportion to what is drawn. None where nothing is asked for, or a load
    elsewhere takes part.
    """
    supply = judged.supply
    if supply is None or judged.stiff is None or any(r.load.at != node for r in judged.loads):
        return None
    past = []
    for amps in (0.0, PROBE * abs(judged.check.solution.supply_amps)):
        loads = [Load(node, amps=amps)]
        circuit, given = judged.circuit, (supply.volts, supply.source_ohms)
        volts = solve(circuit, *given, loads, supply.low_volts).voltages
        (found,) = carried_at(circuit, volts, [Load(node, amps=max(amps, TINY))])
        past.append((amps, found.ratio * max(amps, TINY)))
    (_, whole), (drawn, left) = past
    falls = (whole - left) / drawn if drawn else 0.0
    return whole / (judged.stiff + falls) if whole > 0 else None


def _pin_curve(mark: Mark, pair: Pair) -> Curve:
    """Return a regulated output against the current into its pin: it rises by the upper leg."""
    upper, lower, held = pair.upper, pair.lower, pair.reference[1]
    without = regulated_output(upper, lower, held, 0.0)
    leaves = (mark.window[1] - without) / upper
    reach = max(leaves, pair.pin_amps, LEAST_REACH * held / lower)
    amps = np.linspace(0.0, BEYOND * reach, POINTS)
    spans = np.array([pair.span(pin) for pin in amps.tolist()])
    pin = pair.pin_amps
    point = ("nominal", AMPERE, pin, pin, regulated_output(upper, lower, held, pin))
    return Curve(
        mark=mark,
        along=AMPERE,
        x=amps,
        nominal=without + amps * upper,
        lowest=spans[:, 0],
        highest=spans[:, 1],
        leaves=leaves if leaves > 0 else None,
        points=(point,) if pin else (),
    )


def _beside_curve(mark: Mark, box: Box) -> Curve:
    """Return a resistance against what lies beside it, on a logarithmic scale."""

    def beside(ohms: float, x: FloatArray) -> FloatArray:
        return ohms * x / (ohms + x)

    here = [r for r in box.loads if r.load.at == SUPPLY and r.load.ohms is not None]
    others = tuple(r for r in box.loads if r.load.at != SUPPLY)
    alone = resistance_spread(replace(box, loads=others))
    least, nominal = mark.window[0], alone.nominal
    leaves = nominal * least / (nominal - least) if nominal > least > 0 else None
    ends = [
        (name, load.ohms)
        for r in here
        for name, load in _ends(r)
        if load.ohms is not None and math.isfinite(load.ohms)
    ]
    around = [leaves or 10 * nominal, *(ohms for _, ohms in ends)]
    x = np.geomspace(min(around) / 3, max(around) * 10, POINTS)
    return Curve(
        mark=mark,
        along=OHM,
        x=x,
        nominal=beside(nominal, x),
        lowest=beside(alone.lowest, x),
        highest=beside(alone.highest, x),
        leaves=leaves,
        points=tuple(
            (name, OHM, ohms, ohms, float(beside(nominal, np.array([ohms]))[0]))
            for name, ohms in ends
        ),
    )


def _ends(load: LoadRange) -> list[tuple[str, Load]]:
    """Return a load's nominal value and, where it has a range, the finite ends beside it."""
    stated = load.load
    if stated.ohms is not None:
        ends = {"lightest": load.high, "heaviest": load.low}
        others = [
            (name, replace(stated, ohms=end))
            for name, end in ends.items()
            if math.isfinite(end) and end != stated.ohms
        ]
    else:
        ends = {"lightest": load.low, "heaviest": load.high}
        others = [
            (name, replace(stated, amps=end)) for name, end in ends.items() if end != stated.amps
        ]
    return [("nominal", stated), *others]
