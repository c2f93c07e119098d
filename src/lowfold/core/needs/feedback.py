"""The feedback pair of a regulator: the legs that set its output against its reference."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, Final

from lowfold.core.checking.cautions import FailingLeg, Taken, cautions_for
from lowfold.core.checking.check import Check, Demands, PartCheck, Warned, judge
from lowfold.core.checking.faults import MODES, Fault
from lowfold.core.checking.survey import Asked, Survey, survey
from lowfold.core.checking.verdict import ROUNDING, verdict_on, worst
from lowfold.core.errors import TopologyError
from lowfold.core.needs.brief import Brief, NeedKind
from lowfold.core.needs.divider import leg_lines
from lowfold.core.needs.legs_in_place import LEGS_IN_PLACE, legs_misfit, stays
from lowfold.core.network.circuit import SUPPLY, Circuit, build_circuit
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
from lowfold.core.solving.nets import Load
from lowfold.core.tokens.parts import PARTS, Parts, both, part_misfits, parts_of_values
from lowfold.core.tokens.reading import STANDS, Token, count, optional, quantity
from lowfold.core.tokens.windows import spread, window
from lowfold.core.tolerance.box import TOGETHER, Box, LoadRange, Supply
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, write
from lowfold.core.weighing.choice import Choice, Found, Judged, Pair, Preference
from lowfold.core.weighing.conditions import Conditions, Wanted
from lowfold.core.weighing.gate import Gate
from lowfold.core.weighing.gate_words import spread_words, times, value_words
from lowfold.core.weighing.gates import (
    overdriven_gate,
    power_gate,
    spread_gate,
    value_gate,
)
from lowfold.core.weighing.mark import Mark

__all__ = ["FEEDBACK", "FeedbackBrief", "judge_pairs"]


@dataclass(frozen=True, slots=True, kw_only=True)
class FeedbackBrief(Brief):
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
    upper_ohms: float | None  #: a leg that is in place already
    lower_ohms: float | None
    parts: Parts

    @property
    def conditions(self) -> Conditions:
        """Return what is wanted of the regulated output; a regulator drives the pair."""
        return Conditions(
            supply=Supply(self.reference_volts, self.reference_tolerance),
            wanted=(Wanted("", self.target_volts, self.within),),
            parts=self.parts,
            stands=self.feeds_volts,
        )

    def search(self, preference: Preference, pool: Pool, limit: int) -> Found:
        """Search pairs of legs."""
        prefer = preference if preference in ("worst_case", "least_current") else "nearest"
        found = _searched(
            FeedbackNeed(
                reference_volts=self.reference_volts,
                target_volts=self.target_volts,
                pool=pool,
                reference_tolerance=self.reference_tolerance,
                pin_amps=self.pin_amps,
                max_per_leg=self.per_leg,
                upper_ohms=self.upper_ohms,
                lower_ohms=self.lower_ohms,
                tolerance=self.parts.half_width,
                min_amps=self.min_amps,
                max_amps=self.max_amps,
                max_output_ohms=self.max_output_ohms,
                within=self.within if preference == "least_current" else None,
                limit=limit,
                prefer=prefer,
            )
        )
        return Found(
            networks=tuple(c.network for c in found.ranked),
            errors=tuple(c.error for c in found.ranked),
            searched=found.searched,
            what="pairs",
            reason=found.reason,
        )

    @property
    def in_place(self) -> bool:
        """Whether one of its legs is there already."""
        return self.upper_ohms is not None or self.lower_ohms is not None

    def leaves_in_place(self, network: Element) -> bool:
        """Whether the leg that is there already is still one part of its value."""
        return not self.in_place or stays(_legs(network), self.upper_ohms, self.lower_ohms)

    def lines(self, network: Element) -> tuple[str, ...]:
        """Write it leg by leg."""
        return leg_lines(network)

    def weigh(self, networks: Sequence[Element]) -> list[Choice]:
        """Weigh pairs together; see `judge_pairs`."""
        found = []
        for network, judged in zip(networks, judge_pairs(self, networks), strict=True):
            assert judged.pair is not None  # that is what was judged
            upper, lower = judged.pair.upper, judged.pair.lower
            found.append(
                Choice(
                    network=network,
                    lines=self.lines(network),
                    amps=self.reference_volts / lower,
                    output_ohms=upper * lower / (upper + lower),
                    judged=judged,
                )
            )
        return found


_searched = lru_cache(maxsize=32)(search_feedback)

_VOLTS = quantity(VOLT, 0.0, 1e5, open_low=True)
_AMPS = optional(quantity(AMPERE, 0.0, 1e3, open_low=True), "any current")
TOKENS: Final[dict[str, Token]] = {
    "target_v": Token(spread(VOLT, 0.0, 1e5, "within", open_low=True), "3.3 V", "wanted output"),
    "within": Token(window(VOLT), "4 %", "accepted deviation"),
    "feeds_v": STANDS,
    "reference_v": Token(
        spread(VOLT, 0.0, 1e5, "reference_tolerance", open_low=True), "0.8 V", "reference voltage"
    ),
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
    **LEGS_IN_PLACE,
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
        upper_ohms=v["upper_ohm"],
        lower_ohms=v["lower_ohm"],
        parts=parts_of_values(v),
    )


def _misfits(v: Mapping[str, Any]) -> list[tuple[str, str]]:
    found = part_misfits(v) + legs_misfit(v)
    if (pair := both(v, "target_v", "reference_v")) and pair[0] <= pair[1]:
        shown = write(pair[1], VOLT, 4, trim=True)
        found.append(
            ("target_v", f"a pair sets an output above the reference: write more than {shown}")
        )
    return found


def _legs(network: Element) -> tuple[Element, Element]:
    if isinstance(network, Chain) and Tap("FB") in network.items:
        place = network.items.index(Tap("FB"))
        return chain(network.items[:place]), chain(network.items[place + 1 :])
    msg = "a feedback pair has a tap @FB between its legs, for instance R1=31k6 + @FB + R2=10k"
    raise TopologyError(msg, field="choice")


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
        moves=_moves(brief, network, box),
    )


def judge_pairs(brief: FeedbackBrief, networks: Sequence[Element]) -> list[Judged]:
    """Weigh feedback pairs with their tap FB against a brief.

    The reference drives the lower leg; the upper one carries that current and the pin's. Each leg
    is surveyed on its own source, at the corner that drives it hardest.

    Parameters
    ----------
    brief : FeedbackBrief
        The need as understood.
    networks : Sequence[Element]
        Each with the junctions that are asked about.

    Raises
    ------
    TopologyError
        If a network has no tap FB.
    """
    legs = [_legs(network) for network in networks]
    boxes = [_pair_box(brief, network) for network in networks]
    pairs = [_pair(brief, network, box) for network, box in zip(networks, boxes, strict=True)]
    pin = brief.pin_amps
    outputs = [
        regulated_output(pair.upper, pair.lower, brief.reference_volts, pin) for pair in pairs
    ]
    loads: list[tuple[LoadRange, ...]] = [
        (LoadRange(Load(pair.node, amps=pin), pin, pin),) if pin else () for pair in pairs
    ]
    whole = survey(
        [
            Box(box.circuit, Supply(volts), hung, (0.0,) * len(box.half_widths))
            for box, volts, hung in zip(boxes, outputs, loads, strict=True)
        ],
        Asked(),
    )
    upper, lower = [], []
    for box, (above, below) in zip(boxes, legs, strict=True):
        least = _leg_ends(below, box)[0]
        most = brief.reference_volts * (1 + brief.reference_tolerance) / least + pin
        upper.append(_leg_box(brief, above, Supply(most, 0.0, math.inf)))
        held = Supply(brief.reference_volts, brief.reference_tolerance)
        lower.append(_leg_box(brief, below, held))
    driven = zip(survey(upper, Asked()), survey(lower, Asked()), strict=True)
    return [
        _judged_pair(brief, network, pair, box, by, each)
        for network, pair, box, by, each in zip(networks, pairs, boxes, driven, whole, strict=True)
    ]


def _judged_pair(
    brief: FeedbackBrief,
    network: Element,
    pair: Pair,
    box: Box,
    driven: tuple[Survey, Survey],
    whole: Survey,
) -> Judged:
    nominal = whole.box.supply.volts
    low, high = pair.span(brief.pin_amps)
    stands = brief.feeds_volts
    over = stands is not None and high > stands * (1 + ROUNDING)
    parts = tuple(part for leg in driven for part in _leg_parts(brief, leg))
    taken = {p.ref: p.watts for p in whole.solution.parts}
    parts = tuple(replace(p, nominal_watts=taken[p.ref]) for p in parts)
    hot = [p.ref for p in parts if p.rated_watts is not None and p.worst_watts > p.rated_watts]

    def warned() -> Warned:
        faults = _faults(brief, network, box.circuit)
        cautions = cautions_for(
            highest_volts=high,
            overloaded=hot,
            overdriven=[("the output", high, stands)] if over else (),
            failing=() if over else _failing(faults, nominal, stands),
            parts=[
                Taken(p.ref, b.ohms, p.worst_watts, p.worst_volts)
                for p, b in zip(parts, box.circuit.branches, strict=True)
            ],
        )
        return Warned(cautions, faults)

    check = Check(
        solution=whole.solution,
        outputs=(),
        resistance=None,
        parts=parts,
        verdict=worst(p.verdict for p in parts),
        warn=warned,
    )
    target, within = brief.target_volts, brief.within
    deviations = (low / target - 1, high / target - 1)
    end, other = ("low", "high") if -deviations[0] >= deviations[1] else ("high", "low")
    mark = Mark("", VOLT, target, within, nominal, low, high)

    def spreads() -> tuple[str, ...]:
        corner = f"upper and reference {end}, lower {other}"
        return spread_words(mark, corner, math.hypot(*pair.moves.values()), among=False)

    gates = (
        value_gate(mark.error, within, lambda: value_words(mark, "", among=False)),
        overdriven_gate("", high, stands or 0.0, spreads)
        if over
        else spread_gate(deviations, within, spreads),
        _pin_gate(brief, pair, nominal),
        power_gate(parts, brief.parts.family.name),
    )
    return Judged(
        circuit=whole.box.circuit,
        box=box,
        check=check,
        marks=(mark,),
        parts=brief.parts,
        loads=whole.box.loads,
        supply=Supply(nominal),
        gates=gates,
        verdict=worst(g.verdict for g in gates),
        stands=brief.feeds_volts,
        pair=pair,
    )


def _leg_box(brief: FeedbackBrief, leg: Element, supply: Supply) -> Box:
    circuit = build_circuit(leg)
    return Box(circuit, supply, (), brief.parts.half_widths(circuit))


def _leg_parts(brief: FeedbackBrief, leg: Survey) -> tuple[PartCheck, ...]:
    circuit = leg.box.circuit
    own, others = brief.parts.limits_of(circuit), brief.parts.limits
    demands = Demands(
        limits=tuple(own.get(b.ref, others) for b in circuit.branches),
        high_c=brief.parts.environment.high_c,
        stress=brief.parts.stress,
    )
    return judge(leg, demands).parts


def _faults(brief: FeedbackBrief, network: Element, circuit: Circuit) -> tuple[Fault, ...]:
    """Return each part open and shorted; an output without a value runs away upwards.

    With the upper leg open or the lower one shorted the pin never sees its reference, and the
    regulator drives its output as high as it can.
    """
    legs = _legs(network)
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


def _moves(brief: FeedbackBrief, network: Element, box: Box) -> dict[str, float]:
    """Return what each part and the reference move the output by, first order, V, signed.

    Each part moves its leg by its share of the leg's power; what tracking parts share moves only
    what the pin's current makes, since it leaves their ratio alone.
    """
    above, below = _legs(network)
    upper, lower = resistance(above), resistance(below)
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
        return Gate.unjudged("load", FRACTION, passes, of="moved by the pin", figure=0.0)
    used = abs(nominal - target) / (within * target)
    ratio = brief.reference_volts / pair.lower / brief.pin_amps
    return Gate(
        "load",
        verdict_on(used, 1.0),
        nominal / without - 1,
        FRACTION,
        within,
        "moved by the pin, counted",
        used,
        lambda: (passes, f"The pair carries {times(ratio)} the pin's current."),
    )


FEEDBACK: Final = NeedKind(
    tokens=TOKENS,
    preferences=("nearest", "worst_case", "least_current"),
    unit=VOLT,
    said=("reference_v", "target_v"),
    read=_read,
    misfits=_misfits,
)
