"""The gates of a stated network: what is wanted of it, over everything that may vary."""

from __future__ import annotations

from collections.abc import Mapping

from lowfold.core.box import Box
from lowfold.core.check import Check, Demand, check_network
from lowfold.core.errors import LowfoldError
from lowfold.core.families import Family
from lowfold.core.needs.choice import Judged, Mark
from lowfold.core.needs.gates import Gate, GateName, power_gate
from lowfold.core.needs.network import StatedNetwork, read_stated
from lowfold.core.needs.parts import Parts
from lowfold.core.needs.taps import taps_load_gate, taps_spread_gate, taps_value_gate
from lowfold.core.needs.tokens import TokenReading
from lowfold.core.quantities import AMPERE, FRACTION, OHM, VOLT, WATT, write
from lowfold.core.sheet import Standing, governing_words
from lowfold.core.solve import solve
from lowfold.core.verdict import Verdict, worst

__all__ = ["judge_or_say", "judge_stated", "network_standing", "standing_of"]


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


def network_standing(texts: Mapping[str, str], families: tuple[Family, ...] = ()) -> Standing:
    """Say in one line what a stated network is and folds to, and how it stands."""
    readings, stated = read_stated(texts, families)
    return standing_of(readings, stated, *judge_or_say(stated))


def judge_or_say(stated: StatedNetwork | None) -> tuple[Judged | None, str]:
    """Weigh what is stated, or say why that cannot be done."""
    if stated is None:
        return None, ""
    try:
        return judge_stated(stated), ""
    except LowfoldError as error:
        return None, error.message


def standing_of(
    readings: Mapping[str, TokenReading],
    stated: StatedNetwork | None,
    judged: Judged | None,
    trouble: str,
) -> Standing:
    """Say how a network stands that is read and weighed already."""
    shown = readings["network"].shown or readings["network"].text
    need = f"{shown[:40]}…" if len(shown) > 41 else shown
    if stated is None:
        wrong = next((r.label for r in readings.values() if not r.ok), "network")
        return Standing(None, f"not understood: {wrong}", need, "")
    found = solve(stated.circuit, stated.supply_volts, stated.source_ohms, stated.hung)
    finite = found.total_ohms < 1e300
    figure = write(found.total_ohms, OHM, 4, trim=True) if finite else "open"
    if not stated.wanted and not stated.parts.rated:
        words = (
            f"draws {write(found.supply_amps, AMPERE, 4)} from "
            f"{write(stated.supply_volts, VOLT, 4, trim=True)}"
        )
        return Standing(None, words, need, figure)
    if judged is None:
        return Standing(None, trouble, need, figure)
    gates: dict[str, Verdict | None] = {g.name: g.verdict for g in judged.gates}
    return Standing(judged.verdict, governing_words(judged.gates), need, figure, gates)
