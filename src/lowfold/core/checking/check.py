"""Check a network at its worst: outputs, resistance and every part's power, each with a verdict.

What is not given is not judged: no target, no verdict on an output; no rating, none on power.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from lowfold.core.checking.cautions import Caution, FailingLeg, cautions_for
from lowfold.core.checking.faults import MOST_FAULTED, Fault, output_shorted, part_faults
from lowfold.core.checking.verdict import ROUNDING, Verdict, judge, worst
from lowfold.core.errors import DomainError
from lowfold.core.network.circuit import Circuit
from lowfold.core.parts.limits import Environment, PartLimits, half_width
from lowfold.core.parts.ratings import (
    STRESS,
    derated_watts,
    suggested_watts,
)
from lowfold.core.solving.nodes import Solution, solve
from lowfold.core.tolerance.box import Box, LoadRange, Supply, Tracking
from lowfold.core.tolerance.extremes import starving_loads
from lowfold.core.tolerance.power import WorstPower, worst_power
from lowfold.core.tolerance.spread import (
    OutputSpread,
    ResistanceSpread,
    output_spread,
    resistance_spread,
)

__all__ = [
    "Check",
    "Demand",
    "OutputCheck",
    "PartCheck",
    "ResistanceCheck",
    "check_network",
]


@dataclass(frozen=True, slots=True)
class Demand:
    """What a figure should be, and how far off it may be as a fraction of that."""

    target: float
    allowed: float

    def judge(self, *values: float) -> Verdict:
        """Judge the largest deviation among `values`."""
        furthest = max(abs(v - self.target) for v in values)
        return judge(furthest, self.allowed * abs(self.target))


@dataclass(frozen=True, slots=True)
class OutputCheck:
    at: str
    spread: OutputSpread
    verdict: Verdict | None
    stands: float | None = None  #: what is connected there stands, V of either sign

    @property
    def furthest(self) -> float:
        """Return how far from 0 V it may come without any fault, V."""
        return max(abs(self.spread.lowest), abs(self.spread.highest))

    @property
    def overdriven(self) -> bool:
        """Whether what is connected there may see more than it stands, with nothing failed."""
        return self.stands is not None and self.furthest > self.stands * (1 + ROUNDING)


@dataclass(frozen=True, slots=True)
class ResistanceCheck:
    spread: ResistanceSpread
    verdict: Verdict | None


@dataclass(frozen=True, slots=True)
class PartCheck:
    """A part against its ratings; None where nothing was stated."""

    ref: str
    nominal_watts: float
    worst_watts: float
    worst_volts: float
    rated_watts: float | None  #: derated to the hottest ambient
    allowed_watts: float | None
    allowed_volts: float | None
    stress: float | None  #: worst over derated rating
    verdict: Verdict | None
    suggested_watts: float | None  #: smallest standard rating that would do

    @property
    def used(self) -> float:
        """Return the larger share of the allowed power and voltage; inf where none is allowed."""
        shares = [
            used / allowed if allowed > 0 else float("inf")
            for used, allowed in (
                (self.worst_watts, self.allowed_watts),
                (self.worst_volts, self.allowed_volts),
            )
            if allowed is not None
        ]
        return max(shares, default=0.0)


@dataclass(frozen=True, slots=True)
class Check:
    solution: Solution
    outputs: tuple[OutputCheck, ...]
    resistance: ResistanceCheck | None
    parts: tuple[PartCheck, ...]
    cautions: tuple[Caution, ...]
    verdict: Verdict | None
    faults: tuple[Fault, ...] = ()
    shorted: tuple[Fault, ...] = ()  #: each output shorted to 0 V


def check_network(
    circuit: Circuit,
    supply: Supply,
    *,
    loads: Sequence[LoadRange] = (),
    default: PartLimits | None = None,
    parts: Mapping[str, PartLimits] | None = None,
    environment: Environment | None = None,
    outputs: Sequence[tuple[str, Demand | None]] = (),
    resistance: Demand | None = None,
    judge_resistance: bool = False,
    stress: float = STRESS,
    tracking: Tracking | None = None,
    with_faults: bool = False,
    stands: Mapping[str, float] | None = None,
) -> Check:
    """Check `circuit` over the whole box of its parts, supply and loads.

    Parameters
    ----------
    default, parts : PartLimits
        What every part is sold under, and what single parts are, by designator.
    outputs : sequence of (node name, Demand)
        A None demand is computed but judged only by what is connected there.
    judge_resistance : bool
        Compute the resistance between the supply's ends even without a demand on it.
    stress : float
        Share of the derated rating that may be used, above 0 to 1.
    tracking : Tracking, optional
        Parts whose ratios are held tighter than their values; power takes them as independent.
    with_faults : bool
        Also look at each part open and shorted, and each output shorted.
    stands : mapping of output to V
        What is connected to it stands: more than that fails, and faults that bring more are told.

    Raises
    ------
    DomainError, TopologyError, TooLargeError
        Naming the field that is wrong.
    """
    if not 0 < stress <= 1:
        msg = f"stress is the share of the rating that may be used, above 0 to 1, got {stress:g}"
        raise DomainError(msg, field="stress")
    place = environment or Environment()
    limits = [default or PartLimits()] * len(circuit.branches)
    for ref, own in (parts or {}).items():
        limits[circuit.branch(ref)] = own
    box = Box(
        circuit,
        supply,
        tuple(loads),
        tuple(half_width(p.tolerance, p.tcr_ppm, place.largest_dt, p.drift) for p in limits),
        tracking,
    )
    solution = solve(circuit, supply.volts, supply.source_ohms, box.nominal_loads)
    found_outputs = []
    for at, demand in outputs:
        spread = output_spread(box, circuit.node(at, field="outputs"))
        verdict = demand.judge(spread.lowest, spread.highest) if demand else None
        output = OutputCheck(at, spread, verdict, (stands or {}).get(at))
        found_outputs.append(replace(output, verdict=Verdict.FAIL) if output.overdriven else output)
    found_resistance = None
    if judge_resistance or resistance is not None:
        between = resistance_spread(box)
        verdict = resistance.judge(between.lowest, between.highest) if resistance else None
        found_resistance = ResistanceCheck(between, verdict)
    checked = tuple(
        _check_part(box, position, limits[position], place.high_c, stress, solution)
        for position in range(len(circuit.branches))
    )
    verdicts = [o.verdict for o in found_outputs] + [p.verdict for p in checked]
    if found_resistance is not None:
        verdicts.append(found_resistance.verdict)
    faults: tuple[Fault, ...] = ()
    shorted: tuple[Fault, ...] = ()
    if with_faults and len(circuit.branches) <= MOST_FAULTED:
        rated = [p.rated_watts for p in checked]
        driven = (supply.volts, supply.source_ohms, box.nominal_loads, rated)
        faults = part_faults(circuit, *driven)
        shorted = tuple(
            output_shorted(o.at, circuit, circuit.node(o.at), *driven) for o in found_outputs
        )
    return Check(
        solution=solution,
        outputs=tuple(found_outputs),
        resistance=found_resistance,
        parts=checked,
        cautions=cautions_for(
            highest_volts=max(abs(v) for v in solution.voltages if not math.isnan(v))
            * (1 + supply.tolerance),
            overloaded=[
                p.ref
                for p in checked
                if p.rated_watts is not None and p.worst_watts > p.rated_watts
            ],
            starved=[box.load_name(k) for k in solution.held],
            may_starve=[box.load_name(k) for k in starving_loads(box) if k not in solution.held],
            overdriven=[(o.at, o.furthest, o.stands) for o in found_outputs if o.overdriven],
            unsearched=len(circuit.branches) if with_faults else 0,
            supply_amps=abs(solution.supply_amps),
            soft=[
                (o.at, 1 - o.spread.nominal / o.spread.unloaded)
                for o in found_outputs
                if o.spread.unloaded
            ],
            failing=_failing(circuit, supply, found_outputs, faults),
        ),
        verdict=worst(verdicts),
        faults=faults,
        shorted=shorted,
    )


#: An output that a fault brings so near to the whole supply has all of it; one that has it anyway
#: is not lifted.
WHOLE, LESS = 0.95, 0.9


def _failing(
    circuit: Circuit,
    supply: Supply,
    outputs: Sequence[OutputCheck],
    faults: Sequence[Fault],
) -> list[FailingLeg]:
    """Return for each output the single fault that lifts it furthest, where that is too far.

    None where it is too far without any fault.
    """
    found = []
    for output in outputs:
        if output.overdriven:
            continue
        node, most = circuit.node(output.at), output.stands
        lifted = [(abs(v), f) for f in faults if (v := f.voltages[node]) is not None]
        if not lifted:
            continue
        volts = max(v for v, _ in lifted)
        # Film parts rather open than short, so of two that lift as far the open one is told.
        fault = next(f for v, f in sorted(lifted, key=_open_first) if v >= volts * (1 - 1e-9))
        words = f"{fault.ref} {'opens' if fault.mode == 'open' else 'is shorted'}"
        whole, nominal = abs(supply.volts), abs(output.spread.nominal)
        too_far = (
            volts >= WHOLE * whole and nominal < LESS * whole
            if most is None
            else bool(fault.above({node: most}))
        )
        if too_far:
            found.append(FailingLeg(words, output.at, volts, most))
    return found


def _open_first(lifted: tuple[float, Fault]) -> bool:
    return lifted[1].mode != "open"


def _check_part(
    box: Box, position: int, limits: PartLimits, high_c: float, stress: float, solution: Solution
) -> PartCheck:
    state = solution.parts[position]
    still = WorstPower(state.watts, state.ohms, abs(state.volts))
    peak = still if box.still else worst_power(box, position)
    derating = derated_watts(1.0, high_c, limits.full_power_c, limits.zero_power_c)
    rated = None if limits.rated_watts is None else limits.rated_watts * derating
    allowed = None if rated is None else stress * rated
    verdicts = []
    if allowed is not None:
        verdicts.append(judge(peak.watts, allowed))
    if limits.limiting_volts is not None:
        verdicts.append(judge(peak.volts, limits.limiting_volts))
    return PartCheck(
        ref=box.circuit.branches[position].ref,
        nominal_watts=solution.parts[position].watts,
        worst_watts=peak.watts,
        worst_volts=peak.volts,
        rated_watts=rated,
        allowed_watts=allowed,
        allowed_volts=limits.limiting_volts,
        stress=peak.watts / rated if rated else None,
        verdict=worst(verdicts),
        suggested_watts=suggested_watts(peak.watts, stress, derating),
    )
