"""Several voltages from one string: a ladder of one to four taps, each under its own load."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Final

from lowfold.core.checking.check import Demand, check_network
from lowfold.core.checking.verdict import worst
from lowfold.core.needs.choice import Choice, Found, Judged, Mark, NeedKind, Preference
from lowfold.core.needs.gates import (
    load_range,
    power_gate,
)
from lowfold.core.needs.parts import PARTS, Parts, part_misfits, parts_of_values
from lowfold.core.needs.taps import taps_load_gate, taps_spread_gate, taps_value_gate
from lowfold.core.needs.tokens import STANDS, LoadToken, Token, load, optional, quantity
from lowfold.core.network.circuit import Circuit, build_circuit
from lowfold.core.network.tree import Element, Part, parts_of
from lowfold.core.parts.pool import Pool
from lowfold.core.search.ladder import MOST_TAPS, LadderNeed, TapNeed
from lowfold.core.search.ladder_search import search_ladder
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, write

__all__ = ["LADDER", "LadderBrief", "judge_ladder"]


@dataclass(frozen=True, slots=True)
class TapBrief:
    target_volts: float
    load: LoadToken | None


@dataclass(frozen=True, slots=True, kw_only=True)
class LadderBrief:
    """Make several voltages from one string."""

    supply_volts: float
    supply_tolerance: float
    source_ohms: float
    taps: tuple[TapBrief, ...]  #: highest first
    within: float
    feeds_volts: float | None  #: what the taps feed stands
    min_amps: float | None
    max_amps: float | None
    parts: Parts


_AMPS = optional(quantity(AMPERE, 0.0, 1e3, open_low=True), "any current")
_VOLTS = quantity(VOLT, 0.0, 1e5, open_low=True)
_PLACES: Final = ("first", "second", "third", "fourth")
_DEFAULTS: Final = ("3.3 V", "1.8 V", "none", "none")


def _tap_tokens() -> dict[str, Token]:
    found = {}
    for number, (place, default) in enumerate(zip(_PLACES, _DEFAULTS, strict=True), start=1):
        reader = _VOLTS if number == 1 else optional(_VOLTS, "no tap")
        absent = None if number == 1 else "none"
        found[f"tap{number}_v"] = Token(reader, default, f"{place} tap's voltage", absent)
        found[f"tap{number}_load"] = Token(
            optional(load, "nothing"), "none", f"load at the {place} tap", "none"
        )
    return found


TOKENS: Final[dict[str, Token]] = {
    "supply_v": Token(_VOLTS, "5 V", "supply voltage"),
    "supply_tolerance": Token(
        quantity(FRACTION, 0.0, 0.9), "0 %", "tolerance of the supply", "0 %"
    ),
    "source_ohm": Token(quantity(OHM, 0.0, 1e9), "0 Ω", "source resistance", "0 Ω"),
    **_tap_tokens(),
    "within": Token(quantity(FRACTION, 0.0, 1.0, open_low=True), "3 %", "accepted deviation"),
    "feeds_v": STANDS,
    "max_current_a": Token(_AMPS, "none", "largest supply current", "none"),
    "min_current_a": Token(_AMPS, "none", "smallest supply current", "none"),
    **PARTS,
}


def _read(v: Mapping[str, Any]) -> LadderBrief:
    taps = [
        TapBrief(v[f"tap{n}_v"], v[f"tap{n}_load"])
        for n in range(1, MOST_TAPS + 1)
        if v[f"tap{n}_v"] is not None
    ]
    return LadderBrief(
        supply_volts=v["supply_v"],
        supply_tolerance=v["supply_tolerance"],
        source_ohms=v["source_ohm"],
        taps=tuple(taps),
        within=v["within"],
        feeds_volts=v["feeds_v"],
        min_amps=v["min_current_a"],
        max_amps=v["max_current_a"],
        parts=parts_of_values(v),
    )


def _misfits(v: Mapping[str, Any]) -> list[tuple[str, str]]:
    found = part_misfits(v)
    above, over = v.get("supply_v"), "the supply"
    for number in range(1, MOST_TAPS + 1):
        volts = v.get(f"tap{number}_v")
        if not isinstance(volts, float):
            continue
        if isinstance(above, float) and volts >= above:
            shown = write(above, VOLT, 4, trim=True)
            found.append((f"tap{number}_v", f"taps go down: write less than the {shown} of {over}"))
        above, over = volts, "the tap above"
    return found


def _search(brief: LadderBrief, _preference: Preference, pool: Pool, limit: int) -> Found:
    found = search_ladder(
        LadderNeed(
            supply_volts=brief.supply_volts,
            supply_tolerance=brief.supply_tolerance,
            source_ohms=brief.source_ohms,
            taps=tuple(
                TapNeed(
                    target_volts=t.target_volts,
                    load_ohms=t.load.ohms if t.load else None,
                    load_amps=t.load.amps if t.load else None,
                )
                for t in brief.taps
            ),
            pool=pool,
            tolerance=brief.parts.half_width,
            min_amps=brief.min_amps,
            max_amps=brief.max_amps,
            limit=limit,
        )
    )
    return Found(
        networks=tuple(c.network for c in found.candidates),
        errors=tuple(c.worst_error for c in found.candidates),
        searched=found.searched,
        what="ladders",
        advice="" if found.exact else found.method,
        reason=found.reason,
        exact=found.exact,
    )


def _loads(brief: LadderBrief, circuit: Circuit) -> tuple[LoadRange, ...]:
    return tuple(
        load_range(tap.load, circuit.node(f"T{number}", field="choice"))
        for number, tap in enumerate(brief.taps, start=1)
        if tap.load is not None
    )


def _weigh(brief: LadderBrief, network: Element) -> Choice:
    judged = judge_ladder(brief, network)
    values = [p.ohms for p in parts_of(network) if isinstance(p, Part)]
    lines = [write(r, OHM, 6, trim=True) for r in values]
    half = (len(lines) + 1) // 2
    return Choice(
        network=network,
        lines=(", ".join(lines[:half]), ", ".join(lines[half:])),
        amps=judged.check.solution.supply_amps,
        output_ohms=None,
        judged=judged,
    )


def judge_ladder(brief: LadderBrief, network: Element) -> Judged:
    """Weigh a ladder with taps T1, T2 … against its brief; the worst tap governs.

    Raises
    ------
    TopologyError
        If the network lacks a tap.
    """
    circuit = build_circuit(network)
    loads = _loads(brief, circuit)
    supply = Supply(brief.supply_volts, brief.supply_tolerance, brief.source_ohms)
    check = check_network(
        circuit,
        supply,
        loads=loads,
        default=brief.parts.limits,
        parts=brief.parts.limits_of(circuit),
        environment=brief.parts.environment,
        outputs=[
            (f"T{n}", Demand(t.target_volts, brief.within))
            for n, t in enumerate(brief.taps, start=1)
        ],
        stress=brief.parts.stress,
        tracking=brief.parts.tracking,
        with_faults=True,
        stands={f"T{n}": brief.feeds_volts for n, _ in enumerate(brief.taps, start=1)}
        if brief.feeds_volts
        else None,
    )
    marks = tuple(
        Mark(o.at, VOLT, t.target_volts, brief.within, s.nominal, s.lowest, s.highest)
        for o, t in zip(check.outputs, brief.taps, strict=True)
        for s in (o.spread,)
    )
    box = Box(circuit, supply, loads, brief.parts.half_widths(circuit), brief.parts.tracking)
    gates = (
        taps_value_gate(marks),
        taps_spread_gate(marks, check),
        taps_load_gate(box, loads, marks),
        power_gate(check.parts, brief.parts.family.name, stated=True),
    )
    return Judged(
        circuit=circuit,
        box=box,
        check=check,
        marks=marks,
        parts=brief.parts,
        loads=loads,
        supply=supply,
        gates=gates,
        verdict=worst(g.verdict for g in gates),
        stands=brief.feeds_volts,
    )


LADDER: Final = NeedKind(
    tokens=TOKENS,
    preferences=("nearest",),
    unit=VOLT,
    said=("supply_v", "tap1_v"),
    read=_read,
    misfits=_misfits,
    search=_search,
    weigh=_weigh,
)
