"""Unfold a folded network: back to every part's voltage, current and power, a step at a time.

What came of a series step shares its current, what came of a parallel step its voltage; the arms
of a star follow from the voltages of its ends (Millman's theorem). Values are carried unrounded.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from lowfold.core.folding.fold import Fold, Folding
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch

__all__ = ["Carried", "Unfolded", "Unfolding", "unfold"]


@dataclass(frozen=True, slots=True)
class Carried:
    """What one resistance carries, and the relation that gave it."""

    ref: str
    ohms: float
    volts: float  #: from its first to its second end
    amps: float
    watts: float
    rule: str  #: how V and I were found, in symbols
    given: Literal["V", "I"] | None = None  #: what was known beside R, and gave the other


@dataclass(frozen=True, slots=True)
class Unfolded:
    """One step back: what the members share, and what each carries."""

    step: Fold
    shared: Literal["current", "voltage", "junction voltages"]
    amount: float | None  #: A or V that all of them have
    members: tuple[Carried, ...]


@dataclass(frozen=True, slots=True)
class Unfolding:
    whole: Carried
    steps: tuple[Unfolded, ...]  #: in the order they are taken, from one resistance outward
    parts: tuple[Carried, ...]  #: the parts and resistive loads of the network
    volts: Mapping[int, float]  #: of the junctions


def unfold(
    folding: Folding, supply_volts: float, source_ohms: float = 0.0, low_volts: float = 0.0
) -> Unfolding | None:
    """Return the way back from one resistance to every part; None where nothing conducts.

    Parameters
    ----------
    supply_volts : float
        EMF, V; the total current is EMF / (inner + total resistance).
    folding : Folding
        A network folded step by step.
    source_ohms : float
        Ω inside the supply.
    low_volts : float
        What the other end lies at, V; loads to 0 V are then none of the folding's.
    """
    total = folding.total
    if total is None:
        return None
    amps = (supply_volts - low_volts) / (source_ohms + total.ohms)
    across = amps * total.ohms
    volts = {GROUND: low_volts, SUPPLY: low_volts + across}
    sign = 1.0 if total.a == SUPPLY else -1.0
    driven = "(E − E₀)" if low_volts else "E"
    rule = f"I = {driven} / R" if not source_ohms else f"I = {driven} / (r + R)"
    given: Literal["V", "I"] = "I" if source_ohms else "V"
    known = {total.ref: _carried(total.ref, total.ohms, sign * across, sign * amps, rule, given)}
    steps = []
    for step in reversed(folding.steps):
        back = _back(step, known, volts)
        known |= {m.ref: m for m in back.members}
        steps.append(back)
    parts = tuple(known[e.ref] for e in folding.start)
    return Unfolding(known[total.ref], tuple(steps), parts, volts)


def _carried(
    ref: str, ohms: float, volts: float, amps: float, rule: str, given: Literal["V", "I"]
) -> Carried:
    return Carried(ref, ohms, volts, amps, volts * amps, rule, given)


def _back(step: Fold, known: Mapping[str, Carried], volts: dict[int, float]) -> Unfolded:
    if step.kind == "star-delta":
        return _star(step, volts)
    result = step.results[0]
    whole = known[result.ref]
    if step.kind == "parallel":
        members = []
        for e in step.members:
            across = whole.volts if e.a == result.a else -whole.volts
            members.append(
                _carried(
                    e.ref, e.ohms, across, across / e.ohms, f"V of {result.ref}, I = V / R", "V"
                )
            )
        return Unfolded(step, "voltage", abs(whole.volts), tuple(members))
    members = []
    here = result.a
    for e in _in_order(step, here):
        along = 1.0 if e.a == here else -1.0
        amps = along * whole.amps
        members.append(
            _carried(e.ref, e.ohms, amps * e.ohms, amps, f"I of {result.ref}, V = I · R", "I")
        )
        volts.setdefault(e.far(here), volts[here] - whole.amps * e.ohms)
        here = e.far(here)
    return Unfolded(step, "current", abs(whole.amps), tuple(members))


def _in_order(step: Fold, start: int) -> list[Branch]:
    members = list(step.members)
    return members if start in (members[0].a, members[0].b) else members[::-1]


def _star(step: Fold, volts: dict[int, float]) -> Unfolded:
    """Find the centre's voltage from its ends': ΣV/R over Σ1/R."""
    assert step.at is not None  # a star has a centre
    into = math.fsum(volts[e.far(step.at)] / e.ohms for e in step.members)
    volts[step.at] = into / math.fsum(1 / e.ohms for e in step.members)
    members = []
    for e in step.members:
        across = volts[e.a] - volts[e.b]
        members.append(
            _carried(e.ref, e.ohms, across, across / e.ohms, "V between junctions, I = V / R", "V")
        )
    return Unfolded(step, "junction voltages", None, tuple(members))
