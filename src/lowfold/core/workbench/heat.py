"""What the parts of a network take at nominal values, before it is weighed as a whole."""

from __future__ import annotations

from lowfold.core.checking.verdict import ROUNDING
from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.feedback import FeedbackBrief
from lowfold.core.needs.kinds import Brief
from lowfold.core.needs.ladder import LadderBrief
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.network.circuit import SUPPLY, Circuit, build_circuit
from lowfold.core.network.tree import Element
from lowfold.core.parts.ratings import derated_watts
from lowfold.core.solving.nodes import Load, solve

__all__ = ["too_hot"]


def too_hot(brief: Brief, network: Element) -> bool:
    """Return whether a part takes more than it may already with everything nominal.

    The worst case is no better, so that such a network fails its power gate for certain. Never
    for a feedback pair, which a regulator drives: that is not worked out here.
    """
    circuit = build_circuit(network)
    if isinstance(brief, FeedbackBrief) or (
        isinstance(brief, ResistanceBrief) and brief.supply is None
    ):
        return False
    volts, source, loads = _driven(brief, circuit)
    own = brief.parts.limits_of(circuit)
    hottest = brief.parts.environment.high_c
    for part in solve(circuit, volts, source, loads).parts:
        limits = own.get(part.ref, brief.parts.limits)
        if limits.rated_watts is None:
            continue
        rated = derated_watts(limits.rated_watts, hottest, limits.full_power_c, limits.zero_power_c)
        if part.watts > brief.parts.stress * rated * (1 + ROUNDING):
            return True
    return False


def _driven(brief: Brief, circuit: Circuit) -> tuple[float, float, list[Load]]:
    """Return what drives a network: V (or A of a current source), Ω inside, and its loads."""
    if isinstance(brief, ResistanceBrief):
        supply = brief.supply
        assert supply is not None  # asked only where something drives it
        beside = [Load(SUPPLY, ohms=brief.load.ohms)] if brief.load else []
        return supply.volts, supply.source_ohms, beside
    if isinstance(brief, DividerBrief):
        taps = [("OUT", brief.load)]
    else:
        assert isinstance(brief, LadderBrief)  # the only kind left
        taps = [(f"T{n}", tap.load) for n, tap in enumerate(brief.taps, start=1)]
    loads = [Load(circuit.node(at), x.ohms, x.amps) for at, x in taps if x is not None]
    return brief.supply_volts, brief.source_ohms, loads
