"""The gates of a stated network: what is wanted of it, over everything that may vary."""

from __future__ import annotations

from lowfold.core.checking.check import Check, Demand, check_network
from lowfold.core.checking.verdict import worst
from lowfold.core.errors import LowfoldError
from lowfold.core.needs.choice import Judged, Mark
from lowfold.core.needs.gates import Gate, GateName, power_gate
from lowfold.core.needs.network import StatedNetwork
from lowfold.core.needs.parts import Parts
from lowfold.core.needs.taps import taps_load_gate, taps_spread_gate, taps_value_gate
from lowfold.core.tolerance.box import Box
from lowfold.core.values.quantities import FRACTION, OHM, VOLT, WATT

__all__ = ["judge_or_say", "judge_stated"]


def judge_stated(stated: StatedNetwork) -> Judged:
    """Weigh a stated network against what is wanted of it, over everything that may vary.

    Raises
    ------
    TooLargeError, TopologyError
        If the worst case has too many corners, or what is wanted has no value.
    """
    circuit, supply, parts = stated.circuit, stated.supply, stated.parts
    taps = [w for w in stated.wanted if w.at]
    whole = next((w for w in stated.wanted if not w.at), None)
    check = check_network(
        circuit,
        supply,
        loads=stated.loads,
        default=parts.limits,
        parts=parts.limits_of(circuit),
        environment=parts.environment,
        outputs=[(w.at, Demand(w.target, w.within)) for w in taps],
        resistance=Demand(whole.target, whole.within) if whole else None,
        stress=parts.stress,
        tracking=parts.tracking,
        with_faults=True,
        stands={w.at: stated.feeds_volts for w in taps} if stated.feeds_volts else None,
    )
    marks = [
        Mark(w.at, VOLT, w.target, w.within, s.nominal, s.lowest, s.highest)
        for w, o in zip(taps, check.outputs, strict=True)
        for s in (o.spread,)
    ]
    if whole is not None and check.resistance is not None:
        r = check.resistance.spread
        marks.append(Mark("", OHM, whole.target, whole.within, r.nominal, r.lowest, r.highest))
    box = Box(circuit, supply, stated.loads, parts.half_widths(circuit), parts.tracking)
    gates = (*_wanted_gates(marks, check, box, stated), _power_gate(check, parts))
    return Judged(
        circuit=circuit,
        box=box,
        check=check,
        marks=tuple(marks),
        parts=parts,
        loads=stated.loads,
        supply=supply,
        gates=gates,
        verdict=worst(g.verdict for g in gates),
        stands=stated.feeds_volts,
    )


def _wanted_gates(
    marks: list[Mark], check: Check, box: Box, stated: StatedNetwork
) -> tuple[Gate, ...]:
    if marks:
        return (
            taps_value_gate(marks),
            taps_spread_gate(marks, check),
            taps_load_gate(box, stated.loads, marks),
        )
    note = "Say what is wanted, like OUT 3V ± 3 %, to judge this."
    names: tuple[GateName, ...] = ("value", "spread", "load")
    return tuple(Gate(n, None, None, FRACTION, None, "", None, (note,)) for n in names)


def _power_gate(check: Check, parts: Parts) -> Gate:
    if parts.rated and check.parts:
        return power_gate(check.parts, parts.family.name, stated=True)
    note = "Say what size or family the parts are to judge power."
    return Gate("power", None, None, WATT, None, "", None, (note,))


def judge_or_say(stated: StatedNetwork | None) -> tuple[Judged | None, str]:
    """Weigh what is stated, or say why that cannot be done."""
    if stated is None:
        return None, ""
    try:
        return judge_stated(stated), ""
    except LowfoldError as error:
        return None, error.message
