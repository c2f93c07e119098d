"""A choice looked into: how it scatters, what contributes how much, and what single faults do."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from lowfold.core.box import Box, Supply
from lowfold.core.faults import Fault, part_faults
from lowfold.core.needs.choice import Choice, Mark
from lowfold.core.needs.kinds import Brief
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.sampling import Scatter, sampled, scatter

__all__ = ["SAMPLES", "Contribution", "Opened", "open_choice"]

SAMPLES: Final = 100_000
SEED: Final = 1  #: so that the same choice always shows the same picture


@dataclass(frozen=True, slots=True)
class Contribution:
    """What one value moves a figure by at the end of its range, first order."""

    at: str  #: the tap; empty for a resistance
    name: str
    moves: float  #: V or Ω, signed
    share: float  #: of the accepted deviation, signed


@dataclass(frozen=True, slots=True)
class Opened:
    scatters: tuple[tuple[Mark, Scatter], ...]  #: uniform over every half-width, loads nominal
    contributions: tuple[Contribution, ...]  #: largest share first
    faults: tuple[Fault, ...]


def open_choice(brief: Brief, choice: Choice) -> Opened:
    """Look into a choice; a feedback pair, whose output drives itself, is not sampled."""
    judged = choice.judged
    halves = [brief.parts.half_width] * len(judged.circuit.branches)
    if isinstance(brief, ResistanceBrief) and brief.in_place_ohms is not None:
        places = [k for k, b in enumerate(judged.circuit.branches) if b.ohms == brief.in_place_ohms]
        halves = [0.0 if k in places[:1] else h for k, h in enumerate(halves)]
    resistive = isinstance(brief, ResistanceBrief)
    supply = judged.supply or Supply(1.0)
    box = Box(judged.circuit, supply, () if resistive else judged.loads, tuple(halves))
    scatters: tuple[tuple[Mark, Scatter], ...] = ()
    if resistive or judged.check.outputs:
        nodes: list[int | None] = (
            [None] if resistive else [judged.circuit.node(m.name) for m in choice.marks]
        )
        drawn = sampled(box, nodes, SAMPLES, "uniform", SEED)
        windows = [
            (m.target * (1 - brief.within), m.target * (1 + brief.within)) for m in choice.marks
        ]
        scatters = tuple(
            (mark, scatter(values, window))
            for mark, values, window in zip(choice.marks, drawn, windows, strict=True)
        )
    contributions = [
        Contribution(o.at, s.name, s.contribution_v, s.contribution_v / (m.target * brief.within))
        for o, m in zip(judged.check.outputs, choice.marks, strict=False)
        for s in o.spread.sensitivities
        if s.contribution_v
    ]
    driven = judged.supply is not None and not resistive and judged.check.outputs
    faults: tuple[Fault, ...] = ()
    if driven:
        rated = [p.rated_watts for p in judged.check.parts]
        loads = [x.load for x in judged.loads]
        faults = part_faults(judged.circuit, supply.volts, supply.source_ohms, loads, rated)
    return Opened(scatters, tuple(sorted(contributions, key=lambda c: -abs(c.share))), faults)
