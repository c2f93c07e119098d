"""What the parts of networks take at nominal values, before they are weighed as a whole."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

import numpy as np

from lowfold.core.checking.verdict import ROUNDING
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.feedback import FeedbackBrief
from lowfold.core.network.circuit import Circuit, build_circuit, lifted
from lowfold.core.network.tree import Element
from lowfold.core.parts.limits import PartLimits
from lowfold.core.parts.ratings import derated_watts
from lowfold.core.solving.nets import nets_of
from lowfold.core.solving.nodes import potentials

__all__ = ["too_hot"]


def too_hot(brief: Brief, networks: Sequence[Element]) -> list[bool]:
    """Return of which networks a part takes more than it may already with everything nominal.

    The worst case is no better, so that such a network fails its power gate for certain. Never
    for a feedback pair, which a regulator drives: that is not worked out here.

    Parameters
    ----------
    networks : sequence of Element
        Each with the junctions that are asked about.
    """
    conditions = brief.conditions
    supply = conditions.supply
    if isinstance(brief, FeedbackBrief) or supply is None:
        return [False] * len(networks)
    circuits = [lifted(build_circuit(network), supply.low_volts) for network in networks]
    shapes: dict[object, list[int]] = defaultdict(list)
    for place, circuit in enumerate(circuits):
        loads = tuple(r.load for r in conditions.loads_of(circuit))
        ends = tuple((b.a, b.b) for b in circuit.branches)
        shapes[circuit.nodes, ends, loads].append(place)
    found = [False] * len(networks)
    for places in shapes.values():
        first = circuits[places[0]]
        siemens = np.array([[1 / b.ohms for b in circuits[k].branches] for k in places])
        emf = np.full(len(places), supply.volts)
        loads = tuple(r.load for r in conditions.loads_of(first))
        nets = nets_of(first, siemens, emf, supply.source_ohms, loads, low_v=supply.low_volts)
        gaps, _ = potentials(nets)
        across = gaps[:, [b.a for b in first.branches], [b.b for b in first.branches]]
        watts = np.nan_to_num(across) ** 2 * siemens
        for k, taken in zip(places, watts.tolist(), strict=True):
            most = _allowed(brief, circuits[k], conditions.limits_of(circuits[k]))
            found[k] = any(
                limit is not None and w > limit * (1 + ROUNDING)
                for w, limit in zip(taken, most, strict=True)
            )
    return found


def _allowed(brief: Brief, circuit: Circuit, limits: Sequence[PartLimits]) -> list[float | None]:
    """Return what each part may take at the hottest ambient, W; None where nothing is stated."""
    hottest, stress = brief.parts.environment.high_c, brief.parts.stress
    return [
        None
        if of.rated_watts is None
        else stress * derated_watts(of.rated_watts, hottest, of.full_power_c, of.zero_power_c)
        for _, of in zip(circuit.branches, limits, strict=True)
    ]
