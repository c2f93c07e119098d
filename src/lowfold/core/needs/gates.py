"""Gates: one question about a choice, its governing figure, what is allowed, what governs it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final, Literal

from lowfold.core.checking.check import Check, OutputCheck, PartCheck
from lowfold.core.checking.verdict import Verdict, judge, worst
from lowfold.core.errors import TooLargeError
from lowfold.core.needs.tokens import LoadToken
from lowfold.core.solving.nodes import Load
from lowfold.core.tolerance.box import Box, LoadRange
from lowfold.core.tolerance.loadline import Passing, load_line
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, WATT, Kind, write

__all__ = [
    "OVER_IN_TIMES",
    "STIFF",
    "Gate",
    "GateName",
    "corner_words",
    "load_range",
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


def load_range(token: LoadToken, node: int) -> LoadRange:
    """Return the load that a token states, hung from `node`."""
    load = Load(node, ohms=token.ohms, amps=token.amps)
    nominal = token.ohms if token.ohms is not None else token.amps or 0.0
    return LoadRange(load, nominal * (1 - token.tolerance), nominal * (1 + token.tolerance))


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


def load_words(box: Box, node: int, window: tuple[float, float], *, amps: bool) -> str:
    """Say which loads pass at a junction: at every corner of all else, or at least nominally."""
    try:
        line = load_line(box, node)
    except TooLargeError:
        still = replace(box, half_widths=(0.0,) * len(box.half_widths), tracking=None)
        still = replace(still, supply=replace(box.supply, tolerance=0.0))
        line = load_line(still, node)
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


def value_gate(error: float, within: float, shown: str) -> Gate:
    """Judge a nominal error, a fraction, against the accepted one."""
    verdict = judge(abs(error), within)
    return Gate(
        "value", verdict, error, FRACTION, within, "of target", abs(error) / within, (shown,)
    )


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
        judge(abs(governing), within),
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


def power_gate(parts: tuple[PartCheck, ...], rating: str, *, stated: bool) -> Gate:
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
    used = hottest.used
    if by_volts:
        return Gate(
            "power", verdict, hottest.worst_volts, VOLT, hottest.allowed_volts, "limiting", used,
            tuple(notes),
        )  # fmt: skip
    return Gate("power", verdict, hottest.worst_watts, WATT, allowed, "allowed", used, tuple(notes))
