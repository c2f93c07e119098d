"""What the parts of a network take at nominal values, before it is weighed as a whole."""

from __future__ import annotations

from lowfold.core.checking.verdict import ROUNDING
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.feedback import FeedbackBrief
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.tree import Element
from lowfold.core.parts.ratings import derated_watts
from lowfold.core.solving.nodes import solve

__all__ = ["too_hot"]


def too_hot(brief: Brief, network: Element) -> bool:
    """Return whether a part takes more than it may already with everything nominal.

    The worst case is no better, so that such a network fails its power gate for certain. Never
    for a feedback pair, which a regulator drives: that is not worked out here.

    Parameters
    ----------
    brief : Brief
        The need as understood.
    network : Element
        The network as a tree, or a netlist.
    """
    conditions = brief.conditions
    if isinstance(brief, FeedbackBrief) or conditions.supply is None:
        return False
    circuit = build_circuit(network)
    supply, hottest = conditions.supply, brief.parts.environment.high_c
    loads = [r.load for r in conditions.loads_of(circuit)]
    solution = solve(circuit, supply.volts, supply.source_ohms, loads)
    for part, limits in zip(solution.parts, conditions.limits_of(circuit), strict=True):
        if limits.rated_watts is None:
            continue
        rated = derated_watts(limits.rated_watts, hottest, limits.full_power_c, limits.zero_power_c)
        if part.watts > brief.parts.stress * rated * (1 + ROUNDING):
            return True
    return False
