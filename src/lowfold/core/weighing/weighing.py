"""Networks weighed against the conditions of a need: surveyed together, judged one by one."""

from __future__ import annotations

import math
from collections.abc import Hashable, Sequence
from dataclasses import replace
from threading import RLock

from cachetools import LRUCache

from lowfold.core.checking.check import judge
from lowfold.core.checking.survey import Survey, survey
from lowfold.core.checking.verdict import worst
from lowfold.core.network.circuit import Circuit
from lowfold.core.network.notation import Netlist
from lowfold.core.network.tree import Element
from lowfold.core.values.quantities import OHM, VOLT
from lowfold.core.weighing.choice import Judged
from lowfold.core.weighing.conditions import UNSTATED, Conditions
from lowfold.core.weighing.gates import gates_of
from lowfold.core.weighing.load_gate import stiffness
from lowfold.core.weighing.mark import Mark

__all__ = ["weigh_networks"]

#: Surveys by what they follow from, then by network: what is demanded solves nothing anew.
_kept: LRUCache[Hashable, LRUCache[Hashable, Survey]] = LRUCache(64)
_lock = RLock()


def _surveys(
    conditions: Conditions, networks: Sequence[Element | Netlist]
) -> list[tuple[Circuit, Survey]]:
    with _lock:
        kept = _kept.setdefault(conditions.solved_by, LRUCache(256))
        known = {network: kept.get(network) for network in networks}
    missing = [network for network, found in known.items() if found is None]
    circuits = [conditions.circuit_of(network) for network in missing]
    made = survey([conditions.box_of(circuit) for circuit in circuits], conditions.asked)
    with _lock:
        kept.update(zip(missing, made, strict=True))
    known |= zip(missing, made, strict=True)
    found = [known[network] for network in networks]
    return [(each.box.circuit, each) for each in found if each is not None]


def weigh_networks(conditions: Conditions, networks: Sequence[Element | Netlist]) -> list[Judged]:
    """Weigh networks against what is wanted of them, over everything that may vary.

    Parameters
    ----------
    conditions : Conditions
        What a network works under, and what is wanted.
    networks : Sequence[Element | Netlist]
        Each with the junctions that are asked about.

    Raises
    ------
    TopologyError, TooLargeError
        If a network lacks a junction, or the worst case has too many corners.
    """
    found = []
    for circuit, each in _surveys(conditions, networks):
        check = judge(each, conditions.demands_on(circuit))
        carried = stiffness(each) if conditions.outputs else None
        marks = [
            Mark(w.at, VOLT, w.target, w.within, s.nominal, s.lowest, s.highest)
            for w, s in zip(conditions.outputs, each.outputs, strict=True)
        ]
        if conditions.whole is not None and each.resistance is not None:
            w, r = conditions.whole, each.resistance
            marks.append(Mark("", OHM, w.target, w.within, r.nominal, r.lowest, r.highest))
        gates = gates_of(each, check, marks, conditions, carried)
        supply = each.box.supply
        current = math.isinf(supply.source_ohms)  # a resistance is looked into on a voltage
        found.append(
            Judged(
                circuit=circuit,
                box=replace(each.box, supply=UNSTATED) if current else each.box,
                check=check,
                marks=tuple(marks),
                parts=conditions.parts,
                loads=each.box.loads,
                supply=conditions.supply,
                gates=gates,
                verdict=worst(g.verdict for g in gates),
                stands=conditions.stands,
                stiff=conditions.stiff,
                carries=None if carried is None else carried.ratio,
            )
        )
    return found
