"""A choice looked into: its scatter, what contributes, its load lines, its power, its faults."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.box import Box, LoadRange, Supply
from lowfold.core.faults import MODES, Mode
from lowfold.core.feedback import regulated_output
from lowfold.core.loadline import LoadLine, load_line
from lowfold.core.meters import MeterReading, readings
from lowfold.core.needs.choice import Choice, Mark
from lowfold.core.needs.feedback import FeedbackBrief, feedback_box, feedback_moves
from lowfold.core.needs.kinds import Brief
from lowfold.core.needs.resistance import ResistanceBrief, resistance_halves
from lowfold.core.network import resistance_where
from lowfold.core.sampling import Distribution, Scatter, sampled, sampled_legs, scatter
from lowfold.core.solve import Load

__all__ = [
    "MOST_DRAWN",
    "SAMPLES",
    "Contribution",
    "Line",
    "Opened",
    "choice_scatters",
    "open_choice",
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
    moves: float  #: V or Ω, signed
    share: float  #: of the accepted deviation, signed


@dataclass(frozen=True, slots=True)
class Line:
    """A tap against its load."""

    mark: Mark
    window: tuple[float, float]  #: V
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


def open_choice(brief: Brief, choice: Choice, distribution: Distribution = "uniform") -> Opened:
    """Look into a choice."""
    return Opened(
        choice_scatters(brief, choice, SAMPLES, distribution),
        tuple(sorted(_contributions(brief, choice), key=lambda c: -abs(c.share))),
        _lines(brief, choice),
        _failed(brief, choice),
    )


def _failed(brief: Brief, choice: Choice) -> tuple[tuple[str, Mode, float], ...]:
    """Return what is left of a resistance with each part open and shorted, Ω."""
    if not isinstance(brief, ResistanceBrief):
        return ()
    failed = {"open": math.inf, "short": 0.0}
    return tuple(
        (branch.ref, mode, resistance_where(choice.network, {branch.ref: failed[mode]}))
        for branch in choice.judged.circuit.branches
        for mode in MODES
    )


def _box(brief: Brief, choice: Choice) -> Box:
    if isinstance(brief, FeedbackBrief):
        return feedback_box(brief, choice.network)
    judged = choice.judged
    if isinstance(brief, ResistanceBrief):
        halves = resistance_halves(brief, judged.circuit)
        return Box(judged.circuit, Supply(1.0), (), halves, brief.parts.tracking)
    halves = brief.parts.half_widths(judged.circuit)
    supply = judged.supply or Supply(1.0)
    return Box(judged.circuit, supply, judged.loads, halves, brief.parts.tracking)


def choice_scatters(
    brief: Brief,
    choice: Choice,
    samples: int,
    distribution: Distribution,
    progress: Callable[[float], None] | None = None,
) -> tuple[tuple[Mark, Scatter], ...]:
    """Return how each figure of a choice scatters, against its window.

    Raises
    ------
    TooLargeError
        For more than `MOST_DRAWN` samples.
    """
    box = _box(brief, choice)
    how = (samples, distribution, SEED)
    drawn: list[npt.NDArray[np.float64]]
    if isinstance(brief, FeedbackBrief):
        node = box.circuit.node("FB", field="choice")
        upper, lower, held = sampled_legs(box, node, *how, most=MOST_DRAWN, progress=progress)
        pin = np.asarray(brief.pin_amps)
        drawn = [regulated_output(upper, lower, held, pin)]
    else:
        resistive = isinstance(brief, ResistanceBrief)
        nodes = [None if resistive else box.circuit.node(m.name) for m in choice.marks]
        drawn = sampled(box, nodes, *how, most=MOST_DRAWN, progress=progress)
    return tuple(
        (mark, scatter(values, _window(mark, brief.within)))
        for mark, values in zip(choice.marks, drawn, strict=True)
    )


def _window(mark: Mark, within: float) -> tuple[float, float]:
    half = within * mark.target * (1 + 1e-12)
    return mark.target - half, mark.target + half


def _contributions(brief: Brief, choice: Choice) -> list[Contribution]:
    """Return what moves each figure, in its unit and of the accepted deviation."""
    found = []
    check = choice.judged.check
    if isinstance(brief, FeedbackBrief):
        allowed = brief.target_volts * brief.within
        moves = feedback_moves(brief, choice.network)
        return [Contribution("", n, m, m / allowed) for n, m in moves.items() if m]
    if check.resistance is not None:
        allowed = choice.marks[0].target * brief.within
        moved = check.resistance.spread.moves
        return [Contribution("", n, m, m / allowed) for n, m in moved if m]
    for output, mark in zip(check.outputs, choice.marks, strict=True):
        allowed = mark.target * brief.within
        found += [
            Contribution(output.at, s.name, s.contribution_v, s.contribution_v / allowed)
            for s in output.spread.sensitivities
            if s.contribution_v
        ]
    return found


def _lines(brief: Brief, choice: Choice) -> tuple[Line, ...]:
    """Return the load line of every tap; a regulator's output and a resistance have none."""
    judged = choice.judged
    if isinstance(brief, FeedbackBrief | ResistanceBrief) or judged.supply is None:
        return ()
    box, found = _box(brief, choice), []
    for mark in choice.marks:
        node = judged.circuit.node(mark.name)
        line = load_line(box, node)
        here = [r for r in judged.loads if r.load.at == node]
        ends = [end for r in here for end in _ends(r)]
        window = _window(mark, brief.within)
        passing = line.passing(*window)
        amps = [mark.target / x.ohms if x.ohms else x.amps or 0.0 for _, x in ends]
        reach = max([*amps, passing.most_amps if passing else 0.0, LEAST_REACH * line.short_amps])
        volts, behind = line.connected([r.load for r in here])
        meters = readings(volts, behind)
        most = min(BEYOND * reach, line.short_amps)
        found.append(Line(mark, window, line, tuple(ends), most, meters))
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
