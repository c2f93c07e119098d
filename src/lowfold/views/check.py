"""A network checked at its worst, as it is seen."""

from __future__ import annotations

from collections.abc import Mapping

from lowfold.core.checking.cautions import Caution
from lowfold.core.checking.check import Check, OutputCheck, PartCheck, ResistanceCheck
from lowfold.core.checking.faults import Fault, Mode
from lowfold.core.checking.verdict import Verdict
from lowfold.core.tolerance.spread import Sensitivity
from lowfold.views.view import view

__all__ = ["CheckAnswer", "check_answer"]


@view
class OutputAnswer:
    at: str
    nominal_v: float
    unloaded_v: float
    lowest_v: float
    highest_v: float
    lowest_corner: dict[str, str]  #: Which end each value stands at
    highest_corner: dict[str, str]
    rss_low_v: float
    rss_high_v: float
    sensitivities: list[Sensitivity]
    exact: bool  #: False where tracking parts were looked at in steps of what they share
    verdict: Verdict | None

    @classmethod
    def from_core(cls, found: OutputCheck) -> OutputAnswer:
        s = found.spread
        return cls(
            at=found.at,
            nominal_v=s.nominal,
            unloaded_v=s.unloaded,
            lowest_v=s.lowest,
            highest_v=s.highest,
            lowest_corner=dict(s.lowest_corner),
            highest_corner=dict(s.highest_corner),
            rss_low_v=s.nominal - s.rss,
            rss_high_v=s.nominal + s.rss,
            sensitivities=list(s.sensitivities),
            exact=s.proven,
            verdict=found.verdict,
        )


@view
class ResistanceCheckAnswer:
    nominal_ohm: float
    lowest_ohm: float
    highest_ohm: float
    rss_low_ohm: float
    rss_high_ohm: float
    verdict: Verdict | None

    @classmethod
    def from_core(cls, found: ResistanceCheck) -> ResistanceCheckAnswer:
        s = found.spread
        return cls(
            nominal_ohm=s.nominal,
            lowest_ohm=s.lowest,
            highest_ohm=s.highest,
            rss_low_ohm=s.nominal - s.rss,
            rss_high_ohm=s.nominal + s.rss,
            verdict=found.verdict,
        )


@view
class PartCheckAnswer:
    ref: str
    nominal_w: float
    worst_w: float  #: Exact over the box
    worst_v: float
    rated_w: float | None  #: Derated to high_c
    allowed_w: float | None
    allowed_v: float | None
    stress: float | None  #: worst_w / rated_w
    verdict: Verdict | None
    suggested_rating_w: float | None  #: Smallest standard rating that would do


@view
class FaultAnswer:
    """One part failed, or one output shorted to 0 V, in the nominal circuit."""

    ref: str  #: The part, or the output
    mode: Mode
    outputs: dict[str, float | None]  #: By output asked for; null where there is no telling
    overloaded: list[str]  #: Parts above their derated rating
    supply_shorted: bool
    above: list[str]  #: Outputs above what is connected there stands

    @classmethod
    def from_core(
        cls, fault: Fault, nodes: Mapping[str, int], stands: Mapping[str, float]
    ) -> FaultAnswer:
        limits = {nodes[at]: most for at, most in stands.items()}
        above = fault.above(limits)
        return cls(
            ref=fault.ref,
            mode=fault.mode,
            outputs={at: fault.voltages[node] for at, node in nodes.items()},
            overloaded=list(fault.overloaded),
            supply_shorted=fault.supply_shorted,
            above=[at for at in stands if nodes[at] in above],
        )


@view
class CheckAnswer:
    outputs: list[OutputAnswer]
    resistance: ResistanceCheckAnswer | None
    parts: list[PartCheckAnswer]
    faults: list[FaultAnswer]  #: Each part open and shorted
    outputs_shorted: list[FaultAnswer]  #: Each output shorted to 0 V
    cautions: list[Caution]
    verdict: Verdict | None  #: The worst of all that was judged


def check_answer(
    found: Check, nodes: Mapping[str, int], stands: Mapping[str, float]
) -> CheckAnswer:
    """Return a network checked at its worst.

    Parameters
    ----------
    nodes : mapping
        Of the outputs asked for, by name.
    stands : mapping
        What is connected to an output stands so many volts.
    """
    return CheckAnswer(
        outputs=[OutputAnswer.from_core(o) for o in found.outputs],
        resistance=ResistanceCheckAnswer.from_core(found.resistance) if found.resistance else None,
        parts=[_part(p) for p in found.parts],
        faults=[FaultAnswer.from_core(f, nodes, stands) for f in found.faults],
        outputs_shorted=[FaultAnswer.from_core(f, nodes, stands) for f in found.shorted],
        cautions=list(found.cautions),
        verdict=found.verdict,
    )


def _part(found: PartCheck) -> PartCheckAnswer:
    return PartCheckAnswer(
        ref=found.ref,
        nominal_w=found.nominal_watts,
        worst_w=found.worst_watts,
        worst_v=found.worst_volts,
        rated_w=found.rated_watts,
        allowed_w=found.allowed_watts,
        allowed_v=found.allowed_volts,
        stress=found.stress,
        verdict=found.verdict,
        suggested_rating_w=found.suggested_watts,
    )
