"""A weighed network looked into: its scatter, what contributes, its load lines, what fails."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.box import LoadRange
from lowfold.core.faults import MODES, MOST_FAULTED, Mode, faulted_ohms
from lowfold.core.feedback import regulated_output
from lowfold.core.loadline import LoadLine, load_line
from lowfold.core.meters import MeterReading, readings
from lowfold.core.needs.choice import Judged, Mark
from lowfold.core.quantities import OHM, Kind
from lowfold.core.sampling import Distribution, Scatter, sampled, sampled_legs, scatter
from lowfold.core.solve import Load

__all__ = [
    "MOST_DRAWN",
    "SAMPLES",
    "Contribution",
    "Line",
    "Opened",
    "contributions_of",
    "look_into",
    "scatters_of",
]

SAMPLES: Final = 100_000
MOST_DRAWN: Final = 10_000_000  #: in a run of its own, with progress
SEED: Final = 1  #: so that the same choice always shows the same picture
#: A line is drawn on to this many times the heaviest of the loads stated and passing.
BEYOND: Final = 1.3
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
class Line:
    """A tap against its load."""

    mark: Mark
    line: LoadLine
    loads: tuple[tuple[str, Load], ...]  #: as stated: lightest, nominal, heaviest
    most_amps: float  #: where the picture ends
    meters: tuple[MeterReading, ...]


@dataclass(frozen=True, slots=True)
class Opened:
    scatters: tuple[tuple[Mark, Scatter], ...]  #: over every half-width, loads nominal
    contributions: tuple[Contribution, ...]  #: largest share first
    lines: tuple[Line, ...]
    failed_ohms: tuple[tuple[str, Mode, float], ...]  #: of a resistance: what is left, inf if open


def look_into(judged: Judged, distribution: Distribution = "uniform") -> Opened:
    """Look into a network weighed against what is wanted of it."""
    return Opened(
        scatters_of(judged, SAMPLES, distribution),
        tuple(sorted(contributions_of(judged), key=lambda c: -abs(c.share))),
        _lines(judged),
        _failed(judged),
    )


def _failed(judged: Judged) -> tuple[tuple[str, Mode, float], ...]:
    """Return what is left of a wanted resistance with each part open and shorted, Ω."""
    branches = judged.circuit.branches
    if all(m.kind is not OHM for m in judged.marks) or len(branches) > MOST_FAULTED:
        return ()
    return tuple(
        (branch.ref, mode, faulted_ohms(judged.circuit, place, mode))
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


def _lines(judged: Judged) -> tuple[Line, ...]:
    """Return the load line of every tap; a regulator's output and a resistance have none."""
    if judged.supply is None or judged.pair is not None:
        return ()
    found = []
    for mark in judged.marks:
        if mark.kind is OHM:
            continue
        node = judged.circuit.node(mark.name)
        line = load_line(judged.box, node)
        here = [r for r in judged.loads if r.load.at == node]
        ends = [end for r in here for end in _ends(r)]
        passing = line.passing(*mark.window)
        amps = [abs(mark.target) / x.ohms if x.ohms else x.amps or 0.0 for _, x in ends]
        most = passing.most_amps if passing else 0.0
        short = abs(line.short_amps)
        reach = max([*amps, most if math.isfinite(most) else 0.0, LEAST_REACH * min(short, 1e3)])
        volts, behind = line.connected([r.load for r in here])
        end = min(BEYOND * reach, short)
        found.append(Line(mark, line, tuple(ends), end, readings(volts, behind)))
    return tuple(found)


def _ends(load: LoadRange) -> list[tuple[str, Load]]:
    """Return a load's nominal value and, where it has a range, its ends."""
    found = [("nominal", load.load)]
    if load.low < load.high:
        if load.load.ohms is not None:
            found.append(("lightest", replace(load.load, ohms=load.high)))
            found.append(("heaviest", replace(load.load, ohms=load.low)))
        else:
            found.append(("lightest", replace(load.load, amps=load.low)))
            found.append(("heaviest", replace(load.load, amps=load.high)))
    return found
