"""Check a network at its worst: outputs, resistance and every part's power, each with a verdict.

What is not given is not judged: no target, no verdict on an output; no rating, none on power.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, partial

from lowfold.core.checking.cautions import (
    Caution,
    FailingLeg,
    Taken,
    cautions_for,
    highest_between,
)
from lowfold.core.checking.faults import Fault
from lowfold.core.checking.survey import Asked, Survey, survey
from lowfold.core.checking.verdict import ROUNDING, Verdict, verdict_on, worst
from lowfold.core.errors import DomainError
from lowfold.core.network.circuit import Circuit
from lowfold.core.parts.limits import REFERENCE_C, Environment, PartLimits, half_width
from lowfold.core.parts.ratings import (
    STRESS,
    derated_watts,
    suggested_watts,
)
from lowfold.core.solving.solution import PartState, Solution
from lowfold.core.tolerance.box import Box, LoadRange, Supply, Tracking
from lowfold.core.tolerance.power import WorstPower
from lowfold.core.tolerance.spread import (
    OutputSpread,
    ResistanceSpread,
)

__all__ = [
    "Check",
    "Demand",
    "Demands",
    "OutputCheck",
    "PartCheck",
    "ResistanceCheck",
    "Warned",
    "check_network",
    "judge",
]


@dataclass(frozen=True, slots=True)
class Demand:
    """What a figure should be, and how far off it may be as a fraction of that."""

    target: float
    allowed: float

    def judge(self, *values: float) -> Verdict:
        """Judge the largest deviation among `values`."""
        furthest = max(abs(v - self.target) for v in values)
        return verdict_on(furthest, self.allowed * abs(self.target))


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
class Warned:
    """What a network is warned of."""

    cautions: tuple[Caution, ...]
    faults: tuple[Fault, ...] = ()  #: each part open and shorted
    shorted: tuple[Fault, ...] = ()  #: each output shorted to 0 V


@dataclass(frozen=True)
class Check:
    """What was found of a network and how it stands against what is demanded."""

    solution: Solution
    outputs: tuple[OutputCheck, ...]
    resistance: ResistanceCheck | None
    parts: tuple[PartCheck, ...]
    verdict: Verdict | None
    #: Works out cautions and faults, which few of many networks are asked for.
    warn: Callable[[], Warned] = field(compare=False, repr=False)
    source_ohms: float | None = None  #: behind the one output asked for with its load line, Ω

    @cached_property
    def warned(self) -> Warned:
        """Return cautions and single faults."""
        return self.warn()

    @property
    def cautions(self) -> tuple[Caution, ...]:
        return self.warned.cautions

    @property
    def faults(self) -> tuple[Fault, ...]:
        return self.warned.faults

    @property
    def shorted(self) -> tuple[Fault, ...]:
        return self.warned.shorted


@dataclass(frozen=True, slots=True, kw_only=True)
class Demands:
    """What is demanded of a network that is surveyed; nothing of it is solved for."""

    outputs: tuple[Demand | None, ...] = ()  #: of each output asked for
    stands: tuple[float | None, ...] = ()  #: what is connected to each, V; empty for none
    resistance: Demand | None = None
    limits: tuple[PartLimits, ...] = ()  #: of each branch; empty where nothing is stated
    high_c: float = REFERENCE_C  #: hottest ambient
    stress: float = STRESS  #: share of the derated rating that may be used, above 0 to 1
    driven: bool = True  #: False where nothing is said to drive it: no current or power means much

    def __post_init__(self) -> None:
        if not 0 < self.stress <= 1:
            msg = (
                "stress is the share of the rating that may be used, above 0 to 1, "
                f"got {self.stress:g}"
            )
            raise DomainError(msg, field="stress")


def judge(found: Survey, demands: Demands) -> Check:
    """Judge what a network does over its box against what is demanded of it.

    Parameters
    ----------
    demands : Demands
        What is demanded of it.
    """
    box = found.box
    circuit, solution = box.circuit, found.solution
    stands = demands.stands or (None,) * len(found.outputs)
    wanted = demands.outputs or (None,) * len(found.outputs)
    outputs = []
    for at, spread, demand, most in zip(
        found.asked.outputs, found.outputs, wanted, stands, strict=True
    ):
        verdict = demand.judge(spread.lowest, spread.highest) if demand else None
        output = OutputCheck(at, spread, verdict, most)
        outputs.append(replace(output, verdict=Verdict.FAIL) if output.overdriven else output)
    resistance = None
    if found.resistance is not None:
        between, demand = found.resistance, demands.resistance
        verdict = demand.judge(between.lowest, between.highest) if demand else None
        resistance = ResistanceCheck(between, verdict)
    limits = demands.limits or (PartLimits(),) * len(circuit.branches)
    parts = tuple(
        _check_part(state, peak, of, demands)
        for state, peak, of in zip(solution.parts, found.powers, limits, strict=True)
    )
    verdicts = [o.verdict for o in outputs] + [p.verdict for p in parts]
    if resistance is not None:
        verdicts.append(resistance.verdict)
    return Check(
        solution=solution,
        outputs=tuple(outputs),
        resistance=resistance,
        parts=parts,
        verdict=worst(verdicts),
        warn=partial(_warned, found, tuple(outputs), parts, driven=demands.driven),
        source_ohms=found.lines[0].source_ohms if len(found.lines) == 1 else None,
    )


def _warned(
    found: Survey,
    outputs: tuple[OutputCheck, ...],
    parts: tuple[PartCheck, ...],
    *,
    driven: bool,
) -> Warned:
    if not driven:
        branches = found.box.circuit.branches
        still = [Taken(b.ref, b.ohms, 0.0, 0.0) for b in branches]
        return Warned(cautions_for(highest_volts=0.0, parts=still))
    box, solution = found.box, found.solution
    circuit, supply = box.circuit, box.supply
    rated, refs = [p.rated_watts for p in parts], [p.ref for p in parts]
    faults, shorted = (tuple(fault.rated(refs, rated) for fault in each) for each in found.failures)
    cautions = cautions_for(
        highest_volts=highest_between(
            v if node == circuit.low else v * (1 + supply.tolerance)
            for node, v in enumerate(solution.voltages)
        ),
        overloaded=[
            p.ref for p in parts if p.rated_watts is not None and p.worst_watts > p.rated_watts
        ],
        starved=[box.load_name(k) for k in solution.held],
        may_starve=[box.load_name(k) for k in found.starving if k not in solution.held],
        overdriven=[(o.at, o.furthest, o.stands) for o in outputs if o.overdriven],
        unsearched=len(circuit.branches) if found.asked.faults else 0,
        supply_amps=abs(solution.supply_amps),
        soft=[
            (o.at, 1 - o.spread.nominal / o.spread.unloaded) for o in outputs if o.spread.unloaded
        ],
        failing=_failing(circuit, supply, outputs, faults),
        parts=[
            Taken(p.ref, b.ohms, p.worst_watts, p.worst_volts)
            for p, b in zip(parts, circuit.branches, strict=True)
        ],
    )
    return Warned(cautions, faults, shorted)


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
    """Survey one circuit over the whole box of its parts, supply and loads, and judge it.

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
    supply : Supply
        What drives it.
    loads : Sequence[LoadRange]
        What hangs from nodes to 0 V, Ω or A.
    environment : Environment | None
        Ambient over the life of the parts; 25 °C where not given.
    resistance : Demand | None
        Demand on the resistance between the supply's ends.

    Returns
    -------
    Check
        Figures, verdicts, faults and cautions.

    Raises
    ------
    DomainError, TopologyError, TooLargeError
        Naming the field that is wrong.
    """
    place = environment or Environment()
    limits = [default or PartLimits()] * len(circuit.branches)
    for ref, own in (parts or {}).items():
        limits[circuit.branch(ref)] = own
    names = tuple(at for at, _ in outputs)
    demands = Demands(
        outputs=tuple(demand for _, demand in outputs),
        stands=tuple((stands or {}).get(at) for at in names),
        resistance=resistance,
        limits=tuple(limits),
        high_c=place.high_c,
        stress=stress,
    )
    halves = (half_width(p.tolerance, p.tcr_ppm, place.largest_dt, p.drift) for p in limits)
    box = Box(circuit, supply, tuple(loads), tuple(halves), tracking)
    asked = Asked(names, judge_resistance or resistance is not None, with_faults)
    return judge(survey([box], asked)[0], demands)


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
        whole = max(abs(supply.volts), abs(supply.low_volts))
        nominal = abs(output.spread.nominal)
        too_far = (
            volts >= WHOLE * whole and nominal < LESS * whole
            if most is None
            else bool(fault.above({node: most}))
        )
        if too_far:
            found.append(FailingLeg(words, output.at, fault.voltages[node] or 0.0, most))
    return found


def _open_first(lifted: tuple[float, Fault]) -> bool:
    return lifted[1].mode != "open"


def _check_part(
    state: PartState, peak: WorstPower, limits: PartLimits, demands: Demands
) -> PartCheck:
    derating = derated_watts(1.0, demands.high_c, limits.full_power_c, limits.zero_power_c)
    rated = None if limits.rated_watts is None else limits.rated_watts * derating
    allowed = None if rated is None else demands.stress * rated
    verdicts = []
    if allowed is not None:
        verdicts.append(verdict_on(peak.watts, allowed))
    if limits.limiting_volts is not None:
        verdicts.append(verdict_on(peak.volts, limits.limiting_volts))
    return PartCheck(
        ref=state.ref,
        nominal_watts=state.watts,
        worst_watts=peak.watts,
        worst_volts=peak.volts,
        rated_watts=rated,
        allowed_watts=allowed,
        allowed_volts=limits.limiting_volts,
        stress=peak.watts / rated if rated else None,
        verdict=worst(verdicts),
        suggested_watts=suggested_watts(peak.watts, demands.stress, derating),
    )
