"""Gates: one question about a choice, its governing figure, what is allowed, what governs it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final, Literal

from lowfold.core.checking.check import Check, OutputCheck, PartCheck
from lowfold.core.checking.survey import Survey
from lowfold.core.checking.verdict import Verdict, verdict_on, worst
from lowfold.core.needs.conditions import Conditions
from lowfold.core.needs.mark import Mark
from lowfold.core.network.circuit import SUPPLY
from lowfold.core.tolerance.box import LoadRange
from lowfold.core.tolerance.loadline import LoadLine, Passing
from lowfold.core.tolerance.spread import ResistanceSpread
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, WATT, Kind, write

__all__ = [
    "OVER_IN_TIMES",
    "STIFF",
    "Gate",
    "GateName",
    "corner_words",
    "gates_of",
    "load_words",
    "margin_words",
    "overdriven_gate",
    "passing_words",
    "percent",
    "power_gate",
    "sentence",
    "span_words",
    "spread_gate",
    "stiffness",
    "times",
    "value_gate",
]

#: String current at least so many times the load current makes a divider stiff (common practice).
STIFF: Final = 10.0

OVER_IN_TIMES: Final = 10.0  #: beyond so many allowances, how many are told

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
    used: float | None  #: share of the allowance used; may exceed 1; inf where nothing is allowed
    notes: tuple[str, ...]  #: what governs it, and what would help

    @classmethod
    def unjudged(
        cls, name: GateName, kind: Kind, note: str, *, of: str = "", figure: float | None = None
    ) -> Gate:
        """Return a gate for which the brief gives nothing to judge by, with the reason."""
        return cls(name, None, figure, kind, None, of, None, (note,))


def passing_words(passing: Passing | None, *, amps: bool) -> str:
    """Say which loads keep an output inside its window, as currents or as resistances.

    For the middle of a sentence, without a stop. What is told is rounded to the safe side.
    """
    if passing is None:
        return "no load brings it into the window"
    if amps:
        if math.isinf(passing.most_amps):
            most = "any current"
        else:
            most = write(passing.most_amps, AMPERE, 3, rounding="down")
        if not passing.least_amps:
            bounded = math.isfinite(passing.most_amps)
            return f"passes up to {most}" if bounded else "passes with any load"
        return f"passes from {write(passing.least_amps, AMPERE, 3, rounding='up')} to {most}"
    if math.isinf(passing.heaviest_ohms):
        return "passes with no load only"
    if passing.heaviest_ohms <= 0:
        heaviest = "0 Ω"
    else:
        heaviest = write(passing.heaviest_ohms, OHM, 3, rounding="up")
    if math.isinf(passing.lightest_ohms):
        return f"passes from {heaviest} up"
    return f"passes from {heaviest} up to {write(passing.lightest_ohms, OHM, 3, rounding='down')}"


def sentence(words: str) -> str:
    """Make a sentence of words."""
    return f"{words[:1].upper()}{words[1:]}."


def load_words(line: LoadLine, window: tuple[float, float], *, amps: bool) -> str:
    """Say which loads pass at a junction: at every corner of all else, or at least nominally."""
    if not line.over_box:
        return sentence(f"with nominal parts it {passing_words(line.passing(*window), amps=amps)}")
    at_worst = line.passing_at_worst(*window)
    if at_worst is not None:
        return sentence(f"at every corner it {passing_words(at_worst, amps=amps)}")
    nominal = line.passing(*window)
    if nominal is None:
        return "No load brings it into the window."
    words = passing_words(nominal, amps=amps)
    return f"At the worst corner no load passes; with nominal parts it {words}."


def stiffness(check: Check, loads: Sequence[LoadRange]) -> float | None:
    """Return the current of the string over that of its loads; None where they draw nothing."""
    drawn = math.fsum(check.solution.load_amps) if loads else 0.0
    return (check.solution.supply_amps - drawn) / drawn if drawn > 0 else None


def times(ratio: float) -> str:
    """Write how many times one figure is another: `17.9 ×`, `5 760 ×`."""
    text = (
        f"{ratio:.3g}" if ratio < 999.5 else f"{float(f'{ratio:.3g}'):,.0f}".replace(",", "\u202f")
    )
    return f"{text} ×"


def margin_words(gate: Gate) -> str:
    """Say what is left of a gate's allowance, or by how much it is exceeded."""
    if gate.used is None:
        return ""
    if math.isinf(gate.used):
        return "nothing is allowed"
    if gate.used >= OVER_IN_TIMES:
        return f"{times(gate.used)} what is allowed"
    return f"{percent(abs(1 - gate.used), 2)} {'over' if gate.verdict is Verdict.FAIL else 'left'}"


def percent(value: float, digits: int = 3) -> str:
    """Write a fraction as per cent, kept on one line."""
    return write(value, FRACTION, digits).replace(" ", "\u00a0")


def span_words(low: float, high: float, rss: float, nominal: float, kind: Kind) -> str:
    """Say the extremes, and the root-sum-square half width as a fraction of nominal."""
    share = rss / nominal if nominal else 0.0  # a starved output is 0 V whatever the parts
    return f"{write(low, kind)} … {write(high, kind)}; root-sum-square ±\u00a0{percent(share)}."


def corner_words(ends: Mapping[str, str]) -> str:
    """Say a corner in words: `R1 low, R2 and supply high`."""
    by_end: dict[str, list[str]] = {}
    for name, end in ends.items():
        by_end.setdefault(end, []).append(name)
    return ", ".join(
        " and ".join(sorted(names, key=lambda n: (n == "supply", n))) + f" {end}"
        for end, names in sorted(by_end.items(), reverse=True)
    )


def gates_of(
    found: Survey, check: Check, marks: Sequence[Mark], conditions: Conditions
) -> tuple[Gate, ...]:
    """Return the gates of a network that is surveyed and judged, whatever its need."""
    if marks:
        beside = ""
        if marks[0].kind is OHM and any(r.load.ohms is not None for r in found.box.loads):
            beside = " and what lies beside them"
        gates = [
            _value_gate(marks, beside),
            _spread_gate(marks, found, check, beside),
            _load_gate(marks, found, check),
        ]
    else:
        note = "Say what is wanted, like OUT 3V ± 3 %, to judge this."
        names: tuple[GateName, ...] = ("value", "spread", "load")
        gates = [Gate.unjudged(name, FRACTION, note) for name in names]
    if conditions.supply is None:
        note = "State the voltage across it or the current through it to judge power."
        return (*gates, Gate.unjudged("power", WATT, note))
    if not conditions.parts.rated or not check.parts:
        note = "Say what size or family the parts are to judge power."
        return (*gates, Gate.unjudged("power", WATT, note))
    return (*gates, power_gate(check.parts, conditions.parts.family.name))


def value_gate(error: float, within: float, shown: str) -> Gate:
    """Judge a nominal error, a fraction, against the accepted one."""
    verdict = verdict_on(abs(error), within)
    return Gate(
        "value", verdict, error, FRACTION, within, "of target", abs(error) / within, (shown,)
    )


def _name(mark: Mark) -> str:
    return mark.name or "the whole"


def _value_gate(marks: Sequence[Mark], beside: str) -> Gate:
    """Judge the nominal figure that uses the largest share of its window."""
    mark = max(marks, key=lambda m: abs(m.error) / m.within)
    if mark.kind is OHM:
        shown = write(mark.nominal, OHM, 6, trim=True)
    else:
        shown = write(mark.nominal, VOLT)
    words = (
        f"{_name(mark)} at {shown}, the worst one."
        if len(marks) > 1
        else (f"{shown} with nominal parts{beside}.")
    )
    return value_gate(mark.error, mark.within, words)


def _spread_gate(marks: Sequence[Mark], found: Survey, check: Check, beside: str) -> Gate:
    """Judge the figure whose worst corner uses the largest share of its window."""
    mark = max(marks, key=lambda m: max(map(abs, m.deviations)) / m.within)
    low = abs(mark.deviations[0]) >= abs(mark.deviations[1])
    if mark.kind is OHM:
        assert found.resistance is not None  # there is a mark on it
        corner = f"every part{beside} {'low' if low else 'high'}"
        rss = found.resistance.rss
    else:
        output = next(o.spread for o in check.outputs if o.at == mark.name)
        corner = corner_words(output.lowest_corner if low else output.highest_corner)
        rss = output.rss
    which = _name(mark) if len(marks) > 1 else "Worst"
    moves = f"{which}: {corner}." if corner else "Nothing may deviate."
    span = span_words(mark.lowest, mark.highest, rss, mark.nominal, mark.kind)
    return spread_gate(mark.deviations, mark.within, (moves, span), check.outputs)


def _load_gate(marks: Sequence[Mark], found: Survey, check: Check) -> Gate:
    """Judge every figure over the loads' ranges alone, parts and supply nominal."""
    taps = [m for m in marks if m.kind is VOLT]
    loads = found.box.loads
    if not taps:
        if all(r.load.at == SUPPLY and r.load.ohms is not None for r in loads):
            return _beside_gate(marks[0], found)
        return Gate.unjudged("load", FRACTION, "No voltage is wanted.", of="sag", figure=0.0)
    spreads = {o.at: o.spread for o in check.outputs}
    alone = taps[0] if len(marks) == 1 else None
    if alone is not None:
        here = found.box.circuit.node(alone.name)
        amps = any(r.load.amps is not None for r in loads if r.load.at == here)
        limits = load_words(found.lines[0], alone.window, amps=amps)
        unloaded = f"Unloaded: {write(spreads[alone.name].unloaded, VOLT)}."
    if not loads:
        note = "Nothing is connected."
        if alone is not None:
            note = f"{note} {unloaded} {limits}"
        return Gate.unjudged("load", FRACTION, note, of="sag", figure=0.0)
    used, sags = [], []
    moved = dict(zip(found.asked.outputs, found.moved, strict=True))
    for mark in taps:
        ends = (moved[mark.name].lowest, moved[mark.name].highest)
        furthest = max(abs(v - mark.target) for v in ends)
        used.append((furthest / (mark.within * abs(mark.target)), mark))
        spread = spreads[mark.name]
        sags.append((spread.nominal / spread.unloaded - 1 if spread.unloaded else 0.0, mark.name))
    most, governing = max(used, key=lambda u: u[0])
    sag, sagging = min(sags)
    if alone is not None:
        ratio = stiffness(check, loads)
        stiff = "The load draws nothing."
        if ratio is not None:
            word = "stiff" if ratio >= STIFF else "not stiff"
            rule = f"{STIFF:g} × is the rule of thumb"
            stiff = f"The string carries {times(ratio)} the load ({word}: {rule})."
        notes, of = (f"{limits} {unloaded}", stiff), "sag, counted"
    else:
        words = f"{governing.name} moves furthest; a load at one tap moves all the others."
        notes, of = (words,), f"sag of {sagging}, counted"  # type: ignore[assignment]
    return Gate(
        "load", verdict_on(most, 1.0), sag, FRACTION, governing.within, of, most, notes
    )  # fmt: skip


def _beside_gate(mark: Mark, found: Survey) -> Gate:
    """Judge what lies beside a resistance over its range, parts nominal, and say what passes."""
    assert found.bare is not None  # a resistance is wanted
    target, within, alone = mark.target, mark.within, found.bare
    passes = _beside_words(alone, target * (1 - within), target * (1 + within))
    loads = found.box.loads
    if not loads:
        note = f"Nothing lies beside it. {passes}"
        return Gate.unjudged("load", FRACTION, note, of="shift", figure=0.0)
    nominal = alone.nominal
    ends = ([r.low for r in loads], [1 / r.load.siemens for r in loads], [r.high for r in loads])
    hung = (math.fsum(1 / end for end in each) for each in ends)
    beside = [nominal / (1 + nominal * siemens) for siemens in hung]
    furthest = max(abs(r - target) for r in beside)
    bare = write(nominal, OHM, 6, trim=True)
    return Gate(
        "load",
        verdict_on(furthest, within * target),
        beside[1] / nominal - 1,
        FRACTION,
        within,
        "shift, counted",
        furthest / (within * target),
        (f"{bare} with nothing beside it. {passes}",),
    )


def _beside_words(alone: ResistanceSpread, least: float, most: float) -> str:
    """Say beside what it stays within `least` to `most` Ω at every corner of its own parts."""
    if alone.lowest < least:
        return "At its lowest it is too small whatever lies beside it."
    low = alone.lowest * least / (alone.lowest - least) if alone.lowest > least else math.inf
    high = alone.highest * most / (alone.highest - most) if alone.highest > most else math.inf
    if math.isinf(low):
        return "At every corner it passes with nothing beside it only."
    if low > high:
        return "Nothing beside it brings every corner into the window."
    from_ = write(low, OHM, 3, rounding="up")
    if math.isinf(high):
        return f"At every corner it passes beside {from_} or more."
    return f"At every corner it passes beside {from_} to {write(high, OHM, 3, rounding='down')}."


def spread_gate(
    deviations: tuple[float, float],
    within: float,
    notes: tuple[str, ...],
    outputs: Sequence[OutputCheck] = (),
) -> Gate:
    """Judge the worst corner: deviations from the target downwards and upwards, fractions.

    An output that comes above what it feeds stands fails, however near its target it is.
    """
    over = [o for o in outputs if o.overdriven]
    if over:
        output = max(over, key=lambda o: o.furthest / (o.stands or 1.0))
        return overdriven_gate(output.at, output.furthest, output.stands or 0.0, notes)
    governing = max(deviations, key=abs)
    used = abs(governing) / within
    return Gate(
        "spread",
        verdict_on(abs(governing), within),
        governing,
        FRACTION,
        within,
        "at worst",
        used,
        notes,
    )


def overdriven_gate(at: str, volts: float, stands: float, notes: tuple[str, ...]) -> Gate:
    """Return the gate of an output that may come above what it feeds stands, V."""
    reached, most = (write(v, VOLT, 4, trim=True) for v in (volts, stands))
    note = (
        f"{at or 'The output'} comes to {reached} with nothing failed; what it feeds stands {most}."
    )
    used = volts / stands
    return Gate("spread", Verdict.FAIL, volts, VOLT, stands, "it stands", used, (note, *notes))


def power_gate(parts: tuple[PartCheck, ...], rating: str) -> Gate:
    """Build the gate of the part that uses the largest share of what it may."""
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
    used = hottest.used
    if by_volts:
        return Gate(
            "power", verdict, hottest.worst_volts, VOLT, hottest.allowed_volts, "limiting", used,
            tuple(notes),
        )  # fmt: skip
    return Gate("power", verdict, hottest.worst_watts, WATT, allowed, "allowed", used, tuple(notes))
