"""The feedback pair of a regulator: the legs that set its output against its reference."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, Final

from lowfold.core.checking.cautions import FailingLeg, cautions_for
from lowfold.core.checking.check import Check, PartCheck, check_network
from lowfold.core.checking.faults import MODES, Fault
from lowfold.core.checking.verdict import ROUNDING, judge, worst
from lowfold.core.errors import TopologyError
from lowfold.core.needs.choice import Choice, Found, Judged, Mark, NeedKind, Pair, Preference
from lowfold.core.needs.divider import leg_lines
from lowfold.core.needs.gates import (
    Gate,
    overdriven_gate,
    power_gate,
    span_words,
    spread_gate,
    times,
    value_gate,
)
from lowfold.core.needs.parts import PARTS, Parts, both, part_misfits, parts_of_values
from lowfold.core.needs.tokens import STANDS, Token, count, optional, quantity
from lowfold.core.network.circuit import SUPPLY, build_circuit
from lowfold.core.network.tree import (
    Chain,
    Element,
    Tap,
    chain,
    part_watts,
    resistance,
    resistance_where,
)
from lowfold.core.parts.pool import Pool
from lowfold.core.search.divider import MOST_PER_LEG
from lowfold.core.search.feedback import FeedbackNeed, regulated_output
from lowfold.core.search.feedback_search import search_feedback
from lowfold.core.solving.nodes import Load, solve
from lowfold.core.tolerance.box import TOGETHER, Box, LoadRange, Supply
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, write

__all__ = ["FEEDBACK", "FeedbackBrief", "judge_feedback"]


@dataclass(frozen=True, slots=True, kw_only=True)
class FeedbackBrief:
    """Set a regulator's output."""

    reference_volts: float
    reference_tolerance: float
    pin_amps: float
    target_volts: float
    within: float
    feeds_volts: float | None  #: what the output feeds stands
    min_amps: float | None
    max_amps: float | None
    max_output_ohms: float | None
    per_leg: int
    parts: Parts


_VOLTS = quantity(VOLT, 0.0, 1e5, open_low=True)
_AMPS = optional(quantity(AMPERE, 0.0, 1e3, open_low=True), "any current")
TOKENS: Final[dict[str, Token]] = {
    "target_v": Token(_VOLTS, "3.3 V", "wanted output"),
    "within": Token(quantity(FRACTION, 0.0, 1.0, open_low=True), "3 %", "accepted deviation"),
    "feeds_v": STANDS,
    "reference_v": Token(_VOLTS, "0.8 V", "reference voltage"),
    "reference_tolerance": Token(
        quantity(FRACTION, 0.0, 0.9), "1 %", "tolerance of the reference", "0 %"
    ),
    "pin_a": Token(quantity(AMPERE, 0.0, 1.0), "0 A", "current into the feedback pin", "0 A"),
    "max_current_a": Token(_AMPS, "none", "largest current in the pair", "none"),
    "min_current_a": Token(_AMPS, "none", "smallest current in the pair", "none"),
    "max_output_ohm": Token(
        optional(quantity(OHM, 0.0, 1e12, open_low=True), "any"),
        "none",
        "largest resistance seen by the pin",
        "none",
    ),
    "per_leg": Token(count(MOST_PER_LEG), "1", "parts in a leg", "1"),
    **PARTS,
}


def _read(v: Mapping[str, Any]) -> FeedbackBrief:
    return FeedbackBrief(
        reference_volts=v["reference_v"],
        reference_tolerance=v["reference_tolerance"],
        pin_amps=v["pin_a"],
        target_volts=v["target_v"],
        within=v["within"],
        feeds_volts=v["feeds_v"],
        min_amps=v["min_current_a"],
        max_amps=v["max_current_a"],
        max_output_ohms=v["max_output_ohm"],
        per_leg=v["per_leg"],
        parts=parts_of_values(v),
    )


def _misfits(v: Mapping[str, Any]) -> list[tuple[str, str]]:
    found = part_misfits(v)
    if (pair := both(v, "target_v", "reference_v")) and pair[0] <= pair[1]:
        shown = write(pair[1], VOLT, 4, trim=True)
        found.append(
            ("target_v", f"a pair sets an output above the reference: write more than {shown}")
        )
    return found


def _search(brief: FeedbackBrief, preference: Preference, pool: Pool, limit: int) -> Found:
    prefer = preference if preference in ("worst_case", "least_current") else "nearest"
    found = search_feedback(
        FeedbackNeed(
            reference_volts=brief.reference_volts,
            target_volts=brief.target_volts,
            pool=pool,
            reference_tolerance=brief.reference_tolerance,
            pin_amps=brief.pin_amps,
            max_per_leg=brief.per_leg,
            tolerance=brief.parts.half_width,
            min_amps=brief.min_amps,
            max_amps=brief.max_amps,
            max_output_ohms=brief.max_output_ohms,
            within=brief.within if preference == "least_current" else None,
            limit=limit,
            prefer=prefer,
        )
    )
    return Found(
        networks=tuple(c.network for c in found.candidates),
        errors=tuple(c.error for c in found.candidates),
        searched=found.searched,
        what="pairs",
        reason=found.reason,
    )


def _legs(network: Element) -> tuple[Element, Element]:
    if isinstance(network, Chain) and Tap("FB") in network.items:
        place = network.items.index(Tap("FB"))
        return chain(network.items[:place]), chain(network.items[place + 1 :])
    msg = "a feedback pair has a tap @FB between its legs, for instance R1=31k6 + @FB + R2=10k"
    raise TopologyError(msg, field="choice")


def _weigh(brief: FeedbackBrief, network: Element) -> Choice:
    judged = judge_feedback(brief, network)
    upper, lower = (resistance(leg) for leg in _legs(network))
    return Choice(
        network=network,
        lines=leg_lines(network),
        amps=brief.reference_volts / lower,
        output_ohms=upper * lower / (upper + lower),
        judged=judged,
    )


def _pair_box(brief: FeedbackBrief, network: Element) -> Box:
    """Return the pair as a box whose supply is the reference."""
    circuit = build_circuit(network)
    reference = Supply(brief.reference_volts, brief.reference_tolerance)
    halves = brief.parts.half_widths(circuit)
    return Box(circuit, reference, (), halves, brief.parts.tracking)


def _leg_ends(leg: Element, box: Box) -> tuple[float, float]:
    """Return one leg all low and all high, Ω (Rayleigh), its parts independent."""
    names = [b.ref for b in box.circuit.branches]
    low, high = (
        resistance_where(leg, dict(zip(names, ohms, strict=True))) for ohms in (box.low, box.high)
    )
    return low, high


def _pair(brief: FeedbackBrief, network: Element, box: Box) -> Pair:
    above, below = _legs(network)
    held, wander = brief.reference_volts, brief.reference_tolerance
    return Pair(
        node=box.circuit.node("FB", field="choice"),
        pin_amps=brief.pin_amps,
        upper=resistance(above),
        lower=resistance(below),
        reference=(held * (1 - wander), held, held * (1 + wander)),
        legs=tuple((_leg_ends(above, b), _leg_ends(below, b)) for _, b in box.variants()),
        moves=_moves(brief, network),
    )


def judge_feedback(brief: FeedbackBrief, network: Element) -> Judged:
    """Weigh a feedback pair with its tap FB against its brief.

    The reference drives the lower leg; the upper one carries that current and the pin's. Each leg
    is checked on its own source, at the corner that drives it hardest.

    Raises
    ------
    TopologyError
        If the network has no tap FB.
    """
    above, below = _legs(network)
    upper, lower = resistance(above), resistance(below)
    reference, pin = brief.reference_volts, brief.pin_amps
    nominal = regulated_output(upper, lower, reference, pin)
    box = _pair_box(brief, network)
    pair = _pair(brief, network, box)
    low, high = pair.span(pin)
    stands = brief.feeds_volts
    over = stands is not None and high > stands * (1 + ROUNDING)
    circuit = build_circuit(network)
    loads: tuple[LoadRange, ...] = ()
    if pin:
        load = Load(circuit.node("FB"), amps=pin)
        loads = (LoadRange(load, pin, pin),)
    solution = solve(circuit, nominal, 0.0, [r.load for r in loads])
    least = _leg_ends(below, box)[0]
    most = reference * (1 + brief.reference_tolerance) / least + pin
    parts = _parts(brief, above, Supply(most, 0.0, math.inf))
    parts += _parts(brief, below, Supply(reference, brief.reference_tolerance))
    faults = _faults(brief, network)
    taken = {p.ref: p.watts for p in solution.parts}
    parts = tuple(replace(p, nominal_watts=taken[p.ref]) for p in parts)
    hot = [p.ref for p in parts if p.rated_watts is not None and p.worst_watts > p.rated_watts]
    check = Check(
        solution=solution,
        outputs=(),
        resistance=None,
        parts=parts,
        cautions=cautions_for(
            highest_volts=high,
            overloaded=hot,
            overdriven=[("the output", high, stands)] if over else (),
            failing=() if over else _failing(faults, nominal, stands),
        ),
        verdict=worst(p.verdict for p in parts),
        faults=faults,
    )
    moves = pair.moves
    target, within = brief.target_volts, brief.within
    deviations = (low / target - 1, high / target - 1)
    end, other = ("low", "high") if -deviations[0] >= deviations[1] else ("high", "low")
    notes = (
        f"Worst: upper and reference {end}, lower {other}.",
        span_words(low, high, math.hypot(*moves.values()), nominal, VOLT),
    )
    gates = (
        value_gate(nominal / target - 1, within, f"{write(nominal, VOLT)} with nominal parts."),
        overdriven_gate("", high, stands or 0.0, notes)
        if over
        else spread_gate(deviations, within, notes),
        _pin_gate(brief, pair, nominal),
        power_gate(parts, brief.parts.family.name, stated=True),
    )
    supply = Supply(nominal)
    return Judged(
        circuit=circuit,
        box=box,
        check=check,
        marks=(Mark("", VOLT, target, within, nominal, low, high),),
        parts=brief.parts,
        loads=loads,
        supply=supply,
        gates=gates,
        verdict=worst(g.verdict for g in gates),
        stands=brief.feeds_volts,
        pair=pair,
    )


def _faults(brief: FeedbackBrief, network: Element) -> tuple[Fault, ...]:
    """Return each part open and shorted; an output without a value runs away upwards.

    With the upper leg open or the lower one shorted the pin never sees its reference, and the
    regulator drives its output as high as it can.
    """
    legs = _legs(network)
    circuit = build_circuit(network)
    found = []
    for branch in circuit.branches:
        for mode in MODES:
            failed = {branch.ref: math.inf if mode == "open" else 0.0}
            upper, lower = (resistance_where(leg, failed) for leg in legs)
            volts = (
                regulated_output(upper, lower, brief.reference_volts, brief.pin_amps)
                if math.isfinite(upper) and lower > 0
                else None
            )
            voltages = (0.0, volts, *[None] * (circuit.nodes - 2))
            found.append(Fault(branch.ref, mode, voltages, (), supply_shorted=False))
    return tuple(found)


def _failing(
    faults: tuple[Fault, ...], nominal: float, stands: float | None
) -> tuple[FailingLeg, ...]:
    """Return the faults that let the output run away, or lift it above what it feeds stands."""
    found: dict[str, FailingLeg] = {}
    for fault in faults:
        volts = fault.voltages[SUPPLY]
        lifted = math.inf if volts is None else volts
        if lifted > max(nominal, stands or math.inf) or math.isinf(lifted):
            words = f"{fault.ref} {'opens' if fault.mode == 'open' else 'is shorted'}"
            found.setdefault(words, FailingLeg(words, "the output", lifted, stands))
    return tuple(sorted(found.values(), key=lambda leg: -leg.volts)[:1])


def _parts(brief: FeedbackBrief, leg: Element, supply: Supply) -> tuple[PartCheck, ...]:
    circuit = build_circuit(leg)
    return check_network(
        circuit,
        supply,
        default=brief.parts.limits,
        parts=brief.parts.limits_of(circuit),
        environment=brief.parts.environment,
        stress=brief.parts.stress,
    ).parts


def _moves(brief: FeedbackBrief, network: Element) -> dict[str, float]:
    """Return what each part and the reference move the output by, first order, V, signed.

    Each part moves its leg by its share of the leg's power; what tracking parts share moves only
    what the pin's current makes, since it leaves their ratio alone.
    """
    above, below = _legs(network)
    upper, lower = resistance(above), resistance(below)
    box = _pair_box(brief, network)
    own = {b.ref: half for b, half in zip(box.circuit.branches, box.own, strict=True)}
    by_upper = upper * (brief.reference_volts / lower + brief.pin_amps)
    by_lower = -upper * brief.reference_volts / lower
    moves: dict[str, float] = {}
    for leg, by in ((above, by_upper), (below, by_lower)):
        watts = part_watts(leg, 1.0)
        whole = math.fsum(w for _, w in watts)
        moves |= {part.ref: by * w / whole * own[part.ref] for part, w in watts}
    if box.common:
        moves[TOGETHER] = upper * brief.pin_amps * box.common
    moves["reference"] = brief.reference_tolerance * brief.reference_volts * (1 + upper / lower)
    return moves


def _pin_gate(brief: FeedbackBrief, pair: Pair, nominal: float) -> Gate:
    """Say what the pin's current moves, and which currents pass at the worst corner too."""
    without = regulated_output(pair.upper, pair.lower, brief.reference_volts, 0.0)
    target, within = brief.target_volts, brief.within
    most = pair.most_pin_amps(target * (1 + within))
    passes = (
        f"Stays below its upper limit with up to {write(most, AMPERE, 3)} into the pin, at worst."
        if most > 0
        else "At its worst the output is high even with no current into the pin."
    )
    if not brief.pin_amps:
        return Gate("load", None, 0.0, FRACTION, None, "moved by the pin", None, (passes,))
    used = abs(nominal - target) / (within * target)
    ratio = brief.reference_volts / pair.lower / brief.pin_amps
    return Gate(
        "load",
        judge(used, 1.0),
        nominal / without - 1,
        FRACTION,
        within,
        "moved by the pin, counted",
        used,
        (passes, f"The pair carries {times(ratio)} the pin's current."),
    )


FEEDBACK: Final = NeedKind(
    tokens=TOKENS,
    preferences=("nearest", "worst_case", "least_current"),
    unit=VOLT,
    said=("reference_v", "target_v"),
    read=_read,
    misfits=_misfits,
    search=_search,
    weigh=_weigh,
)
