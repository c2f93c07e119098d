"""The gates of a sheet: Value, Spread, Load and Power of one chosen network against its brief.

Each gate is one question with one governing figure, what is allowed, and what governs it.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from lowfold.core.box import LoadRange, Supply
from lowfold.core.brief import DividerBrief, LoadToken, ResistanceBrief
from lowfold.core.check import Check, Demand, PartCheck, PartLimits, check_network
from lowfold.core.circuit import SUPPLY, Circuit, build_circuit
from lowfold.core.network import Element
from lowfold.core.quantities import AMPERE, FRACTION, OHM, VOLT, WATT, Kind, write
from lowfold.core.solve import Load, transfer_ohms
from lowfold.core.spread import OutputSpread
from lowfold.core.verdict import Verdict, judge, worst

__all__ = ["STIFF", "Gate", "Judged", "judge_divider", "judge_resistance"]

#: String current at least so many times the load current makes a divider stiff (common practice).
STIFF = 10.0

GateName = Literal["value", "spread", "load", "power"]


@dataclass(frozen=True, slots=True)
class Gate:
    """One question about a choice."""

    name: GateName
    verdict: Verdict | None  #: None where the brief gives nothing to judge by
    figure: float | None  #: the governing figure, in the unit of `kind`
    kind: Kind
    allowed: float | None
    of: str  #: what the figure is of, in words
    used: float | None  #: share of the allowance used; may exceed 1
    notes: tuple[str, ...]  #: what governs it, and what would help


@dataclass(frozen=True, slots=True)
class Judged:
    """A network weighed against its brief."""

    circuit: Circuit
    check: Check
    loads: tuple[LoadRange, ...]
    supply: Supply | None  #: None where the brief states no use
    gates: tuple[Gate, ...]
    verdict: Verdict | None
    output_ohms: float | None = None  #: Thévenin resistance at a divider's tap


def _limits(brief: ResistanceBrief | DividerBrief) -> PartLimits:
    parts = brief.parts
    return PartLimits(
        tolerance=parts.tolerance,
        tcr_ppm=parts.tcr_ppm,
        rated_watts=parts.rating.watts,
        limiting_volts=parts.rating.limiting_volts,
    )


def _load_range(token: LoadToken, node: int) -> LoadRange:
    load = Load(node, ohms=token.ohms, amps=token.amps)
    nominal = token.ohms if token.ohms is not None else token.amps or 0.0
    return LoadRange(load, nominal * (1 - token.tolerance), nominal * (1 + token.tolerance))


def _percent(value: float, digits: int = 3) -> str:
    return write(value, FRACTION, digits).replace(" ", "\u00a0")


def _signed(value: float) -> str:
    return ("+" if value > 0 else "") + _percent(value)


def _span(low: float, high: float, rss: float, nominal: float, kind: Kind) -> str:
    """Say the extremes, and the root-sum-square half width as a fraction of nominal."""
    share = rss / nominal if nominal else 0.0  # a starved output is 0 V whatever the parts
    return f"{write(low, kind)} … {write(high, kind)}; root-sum-square ±\u00a0{_percent(share)}."


def _corner(ends: Mapping[str, str]) -> str:
    """Say a corner in words: `R1 low, R2 and supply high`."""
    by_end: dict[str, list[str]] = {}
    for name, end in ends.items():
        by_end.setdefault(end, []).append(name)
    return ", ".join(
        " and ".join(sorted(names, key=lambda n: (n == "supply", n))) + f" {end}"
        for end, names in sorted(by_end.items(), reverse=True)
    )


def _value_gate(error: float, within: float, shown: str) -> Gate:
    verdict = judge(abs(error), within)
    return Gate(
        "value", verdict, error, FRACTION, within, "of target", abs(error) / within, (shown,)
    )


def _spread_gate(deviations: tuple[float, float], within: float, notes: tuple[str, ...]) -> Gate:
    governing = max(deviations, key=abs)
    used = abs(governing) / within
    return Gate(
        "spread",
        judge(abs(governing), within),
        governing,
        FRACTION,
        within,
        "at worst",
        used,
        notes,
    )


def _power_gate(parts: tuple[PartCheck, ...], rating: str, *, stated: bool) -> Gate:
    """Build the gate of the part that uses the largest share of what it may."""
    if not stated:
        note = "State the voltage across it or the current through it to judge power."
        return Gate("power", None, None, WATT, None, "", None, (note,))
    hottest = max(parts, key=lambda p: p.used)
    allowed = hottest.allowed_watts or 0.0
    worst_watts, rated = (
        write(w or 0.0, WATT, 3) for w in (hottest.worst_watts, hottest.rated_watts)
    )
    notes = [f"{hottest.ref} at {worst_watts} of {rated} it stands when hottest."]
    by_volts = (
        hottest.allowed_volts is not None
        and hottest.worst_volts * allowed > hottest.worst_watts * hottest.allowed_volts
    )
    if hottest.allowed_volts is not None:
        limit = f"{write(hottest.worst_volts, VOLT, 3)} of {write(hottest.allowed_volts, VOLT, 3)}"
        notes.append(f"{'Its voltage governs' if by_volts else 'Across it'}: {limit}.")
    verdict = worst(p.verdict for p in parts)
    if verdict is Verdict.FAIL:
        if hottest.suggested_watts is None:
            notes.append("No single standard part would do: share it among several.")
        elif hottest.worst_watts > allowed:
            would = write(hottest.suggested_watts, WATT, 3, trim=True)
            notes.append(f"A {would} part would do; {rating} does not.")
    used = hottest.used if math.isfinite(hottest.used) else 99.0
    if by_volts:
        return Gate(
            "power", verdict, hottest.worst_volts, VOLT, hottest.allowed_volts, "across", used,
            tuple(notes),
        )  # fmt: skip
    return Gate("power", verdict, hottest.worst_watts, WATT, allowed, "allowed", used, tuple(notes))


def judge_divider(brief: DividerBrief, network: Element) -> Judged:
    """Weigh a divider with a tap OUT against its brief, over tolerance, temperature and load.

    Raises
    ------
    TopologyError
        If the network has no tap OUT.
    """
    circuit = build_circuit(network)
    node = circuit.node("OUT", field="choice")
    loads = (_load_range(brief.load, node),) if brief.load else ()
    supply = Supply(brief.supply_volts, brief.supply_tolerance, brief.source_ohms)
    check = check_network(
        circuit,
        supply,
        loads=loads,
        default=_limits(brief),
        environment=brief.parts.environment,
        outputs=[("OUT", Demand(brief.target_volts, brief.within))],
        stress=brief.parts.stress,
    )
    spread = check.outputs[0].spread
    target, within = brief.target_volts, brief.within
    deviations = (spread.lowest / target - 1, spread.highest / target - 1)
    corner = (
        spread.lowest_corner if abs(deviations[0]) >= abs(deviations[1]) else spread.highest_corner
    )
    value = _value_gate(
        spread.nominal / target - 1, within, f"{write(spread.nominal, VOLT)} with nominal parts."
    )
    source = float(transfer_ohms(circuit, node, brief.source_ohms)[node])
    notes = [f"Worst: {_corner(corner)}." if corner else "Nothing may deviate."]
    notes.append(_span(spread.lowest, spread.highest, spread.rss, spread.nominal, VOLT))
    gates = (
        value,
        _spread_gate(deviations, within, tuple(notes)),
        _divider_load_gate(brief, spread, source, node, check.solution.supply_amps),
        _power_gate(check.parts, brief.parts.rating.name, stated=True),
    )
    return Judged(circuit, check, loads, supply, gates, worst(g.verdict for g in gates), source)


def _divider_load_gate(
    brief: DividerBrief, spread: OutputSpread, source: float, node: int, amps: float
) -> Gate:
    unloaded, nominal = spread.unloaded, spread.nominal
    low, high = (brief.target_volts * (1 + s * brief.within) for s in (-1, 1))
    limits = _passing_loads(unloaded, source, low, high, amps=bool(brief.load and brief.load.amps))
    if brief.load is None:
        note = f"Nothing is connected. Unloaded: {write(unloaded, VOLT)}. {limits}"
        return Gate("load", None, 0.0, FRACTION, None, "sag", None, (note,))
    stated = _load_range(brief.load, node)
    ends = [
        unloaded * end / (end + source) if brief.load.ohms else max(unloaded - end * source, 0.0)
        for end in (stated.low, stated.high)
    ]
    furthest = max(abs(v - brief.target_volts) for v in (*ends, nominal))
    allowed = brief.within * brief.target_volts
    drawn = nominal / brief.load.ohms if brief.load.ohms else brief.load.amps or 0.0
    ratio = (amps - drawn) / drawn if drawn > 0 else math.inf
    stiff = (
        f"The string carries {ratio:.3g} × the load ({'stiff' if ratio >= STIFF else 'not stiff'}: "
        f"{STIFF:g} × is the rule of thumb)."
        if math.isfinite(ratio)
        else "The load draws nothing."
    )
    return Gate(
        "load",
        judge(furthest, allowed),
        nominal / unloaded - 1,
        FRACTION,
        brief.within,
        "sag, counted",
        furthest / allowed,
        (f"{limits} Unloaded: {write(unloaded, VOLT)}.", stiff),
    )


def _passing_loads(unloaded: float, source: float, low: float, high: float, *, amps: bool) -> str:
    """Say which loads keep the nominal output inside the window."""
    if unloaded < low:
        return "No load passes: the output is low even unloaded."
    if amps:
        most, least = (unloaded - low) / source, (unloaded - high) / source
        if least <= 0:
            return f"Passes up to {write(most, AMPERE, 3)}."
        return f"Passes from {write(least, AMPERE, 3)} to {write(most, AMPERE, 3)}."
    if unloaded == low:
        return "Passes with no load only."
    lightest = math.inf if unloaded <= high else high * source / (unloaded - high)
    heaviest = low * source / (unloaded - low)
    if math.isinf(lightest):
        return f"Passes from {write(heaviest, OHM, 3)} up."
    return f"Passes from {write(heaviest, OHM, 3)} up to {write(lightest, OHM, 3)}."


def judge_resistance(brief: ResistanceBrief, network: Element) -> Judged:
    """Weigh a combination against its brief; its load is what lies in parallel with it."""
    circuit = build_circuit(network)
    use = brief.use
    supply = None
    if use is not None:
        supply = (
            Supply(use.volts) if use.volts is not None else Supply(use.amps or 0.0, 0.0, math.inf)
        )
    check = check_network(
        circuit,
        supply or Supply(1.0),
        default=_limits(brief),
        environment=brief.parts.environment,
        resistance=Demand(brief.target_ohms, brief.within),
        stress=brief.parts.stress,
    )
    assert check.resistance is not None  # a demand was given
    spread = check.resistance.spread
    target, within = brief.target_ohms, brief.within
    deviations = (spread.lowest / target - 1, spread.highest / target - 1)
    end = "low" if abs(deviations[0]) >= abs(deviations[1]) else "high"
    shown = f"{write(spread.nominal, OHM, 6, trim=True)} with nominal parts."
    gates = (
        _value_gate(spread.nominal / target - 1, within, shown),
        _spread_gate(
            deviations,
            within,
            (
                f"Worst: every part {end}.",
                _span(spread.lowest, spread.highest, spread.rss, spread.nominal, OHM),
            ),
        ),
        _parallel_load_gate(brief, spread.nominal),
        _power_gate(check.parts, brief.parts.rating.name, stated=use is not None),
    )
    loads = (_load_range(brief.load, SUPPLY),) if brief.load else ()
    return Judged(circuit, check, loads, supply, gates, worst(g.verdict for g in gates))


def _parallel_load_gate(brief: ResistanceBrief, nominal: float) -> Gate:
    target, within = brief.target_ohms, brief.within
    if brief.load is None or brief.load.ohms is None:
        least = target * (1 - within)
        note = "Nothing lies beside it."
        if nominal > least:
            note += f" Passes beside {write(nominal * least / (nominal - least), OHM, 3)} or more."
        return Gate("load", None, 0.0, FRACTION, None, "shift", None, (note,))
    stated = _load_range(brief.load, SUPPLY)
    beside = [nominal * x / (nominal + x) for x in (stated.low, brief.load.ohms, stated.high)]
    furthest = max(abs(r - target) for r in beside)
    whole, other = (write(r, OHM, 6, trim=True) for r in (beside[1], brief.load.ohms))
    return Gate(
        "load",
        judge(furthest, within * target),
        beside[1] / nominal - 1,
        FRACTION,
        within,
        "shift beside it",
        furthest / (within * target),
        (f"{whole} with {other} beside it.",),
    )
