"""Gates: one question about a choice, its governing figure, what is allowed, what governs it."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Literal

from lowfold.core.checking.check import Check, OutputCheck, PartCheck
from lowfold.core.checking.survey import Survey
from lowfold.core.checking.verdict import Verdict, verdict_on, worst
from lowfold.core.needs.conditions import Conditions
from lowfold.core.needs.gate_words import (
    beside_words,
    corner_words,
    load_words,
    margin_words,
    overdriven_words,
    power_words,
    spread_words,
    stiffness_words,
    value_words,
)
from lowfold.core.needs.mark import Mark
from lowfold.core.network.circuit import SUPPLY
from lowfold.core.tolerance.box import LoadRange
from lowfold.core.values.quantities import FRACTION, OHM, VOLT, WATT, Kind, write

__all__ = [
    "Gate",
    "GateName",
    "gates_of",
    "overdriven_gate",
    "power_gate",
    "spread_gate",
    "stiffness",
    "value_gate",
]

GateName = Literal["value", "spread", "load", "power"]
#: Says what governs a gate and what would help, when it is read.
Say = Callable[[], tuple[str, ...]]


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
    say: Say = field(compare=False, repr=False)

    @classmethod
    def unjudged(
        cls, name: GateName, kind: Kind, say: Say | str, *, of: str = "",
        figure: float | None = None,
    ) -> Gate:  # fmt: skip
        """Return a gate for which the brief gives nothing to judge by, with the reason."""
        said = (lambda: (say,)) if isinstance(say, str) else say
        return cls(name, None, figure, kind, None, of, None, said)

    @property
    def notes(self) -> tuple[str, ...]:
        """Return what governs it, and what would help."""
        return self.say()

    @property
    def margin(self) -> str:
        """Return what is left of the allowance, or by how much it is exceeded, in words."""
        return margin_words(self.used, self.verdict)


def stiffness(check: Check, loads: Sequence[LoadRange]) -> float | None:
    """Return the current of the string over that of its loads; None where they draw nothing.

    Parameters
    ----------
    check : Check
        What was judged.
    loads : Sequence[LoadRange]
        What hangs from nodes to 0 V, Ω or A.
    """
    drawn = math.fsum(check.solution.load_amps) if loads else 0.0
    return (check.solution.supply_amps - drawn) / drawn if drawn > 0 else None


def gates_of(
    found: Survey, check: Check, marks: Sequence[Mark], conditions: Conditions
) -> tuple[Gate, ...]:
    """Return the gates of a network that is surveyed and judged, whatever its need.

    Parameters
    ----------
    found : Survey
        What was surveyed.
    check : Check
        What was judged.
    marks : Sequence[Mark]
        Figures against their targets.
    conditions : Conditions
        What a network works under, and what is wanted.
    """
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


def value_gate(error: float, within: float, say: Say) -> Gate:
    """Judge a nominal error, a fraction, against the accepted one.

    Parameters
    ----------
    error : float
        Of the nominal figure, a fraction of the target.
    within : float
        Accepted deviation, a fraction of the target.
    say : Say
        Says what governs it, when it is read.
    """
    verdict = verdict_on(abs(error), within)
    return Gate("value", verdict, error, FRACTION, within, "of target", abs(error) / within, say)


def _value_gate(marks: Sequence[Mark], beside: str) -> Gate:
    """Judge the nominal figure that uses the largest share of its window."""
    mark = max(marks, key=lambda m: abs(m.error) / m.within)
    among = len(marks) > 1
    return value_gate(mark.error, mark.within, lambda: value_words(mark, beside, among=among))


def _spread_gate(marks: Sequence[Mark], found: Survey, check: Check, beside: str) -> Gate:
    """Judge the figure whose worst corner uses the largest share of its window."""
    mark = max(marks, key=lambda m: max(map(abs, m.deviations)) / m.within)

    def say() -> tuple[str, ...]:
        low = abs(mark.deviations[0]) >= abs(mark.deviations[1])
        if mark.kind is OHM:
            assert found.resistance is not None  # there is a mark on it
            corner, rss = f"every part{beside} {'low' if low else 'high'}", found.resistance.rss
        else:
            output = next(o.spread for o in check.outputs if o.at == mark.name)
            corner = corner_words(output.lowest_corner if low else output.highest_corner)
            rss = output.rss
        return spread_words(mark, corner, rss, among=len(marks) > 1)

    return spread_gate(mark.deviations, mark.within, say, check.outputs)


def spread_gate(
    deviations: tuple[float, float],
    within: float,
    say: Say,
    outputs: Sequence[OutputCheck] = (),
) -> Gate:
    """Judge the worst corner: deviations from the target downwards and upwards, fractions.

    An output that comes above what it feeds stands fails, however near its target it is.

    Parameters
    ----------
    deviations : tuple[float, float]
        Of the lowest and the highest from the target, fractions.
    within : float
        Accepted deviation, a fraction of the target.
    say : Say
        Says what governs it, when it is read.
    outputs : Sequence[OutputCheck]
        Outputs as judged.
    """
    over = [o for o in outputs if o.overdriven]
    if over:
        output = max(over, key=lambda o: o.furthest / (o.stands or 1.0))
        return overdriven_gate(output.at, output.furthest, output.stands or 0.0, say)
    governing = max(deviations, key=abs)
    used = abs(governing) / within
    verdict = verdict_on(abs(governing), within)
    return Gate("spread", verdict, governing, FRACTION, within, "at worst", used, say)


def overdriven_gate(at: str, volts: float, stands: float, say: Say) -> Gate:
    """Return the gate of an output that may come above what it feeds stands, V.

    Parameters
    ----------
    at : str
        Name of the output.
    volts : float
        How far from 0 V it comes, V.
    stands : float
        What is connected stands, V.
    say : Say
        Says what governs it, when it is read.
    """

    def said() -> tuple[str, ...]:
        return overdriven_words(at, volts, stands), *say()

    used = volts / stands
    return Gate("spread", Verdict.FAIL, volts, VOLT, stands, "it stands", used, said)


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

    def limits() -> tuple[str, str]:
        assert alone is not None  # it is asked of one output only
        here = found.box.circuit.node(alone.name)
        amps = any(r.load.amps is not None for r in loads if r.load.at == here)
        passing = load_words(found.lines[0], alone.window, amps=amps)
        return passing, f"Unloaded: {write(spreads[alone.name].unloaded, VOLT)}."

    if not loads:

        def bare() -> tuple[str, ...]:
            note = "Nothing is connected."
            return (" ".join((note, *reversed(limits()))) if alone is not None else note,)

        return Gate.unjudged("load", FRACTION, bare, of="sag", figure=0.0)
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

    def say() -> tuple[str, ...]:
        if alone is None:
            return (f"{governing.name} moves furthest; a load at one tap moves all the others.",)
        return " ".join(limits()), stiffness_words(stiffness(check, loads))

    of = "sag, counted" if alone is not None else f"sag of {sagging}, counted"
    verdict = verdict_on(most, 1.0)
    return Gate("load", verdict, sag, FRACTION, governing.within, of, most, say)


def _beside_gate(mark: Mark, found: Survey) -> Gate:
    """Judge what lies beside a resistance over its range, parts nominal, and say what passes."""
    assert found.bare is not None  # a resistance is wanted
    target, within, alone = mark.target, mark.within, found.bare
    loads, nominal = found.box.loads, found.bare.nominal

    def say() -> tuple[str, ...]:
        passes = beside_words(alone, target * (1 - within), target * (1 + within))
        if not loads:
            return (f"Nothing lies beside it. {passes}",)
        return (f"{write(nominal, OHM, 6, trim=True)} with nothing beside it. {passes}",)

    if not loads:
        return Gate.unjudged("load", FRACTION, say, of="shift", figure=0.0)
    ends = ([r.low for r in loads], [1 / r.load.siemens for r in loads], [r.high for r in loads])
    hung = (math.fsum(1 / end for end in each) for each in ends)
    beside = [nominal / (1 + nominal * siemens) for siemens in hung]
    furthest = max(abs(r - target) for r in beside)
    used, shift = furthest / (within * target), beside[1] / nominal - 1
    verdict = verdict_on(furthest, within * target)
    return Gate("load", verdict, shift, FRACTION, within, "shift, counted", used, say)


def power_gate(parts: tuple[PartCheck, ...], rating: str) -> Gate:
    """Build the gate of the part that uses the largest share of what it may.

    Parameters
    ----------
    parts : tuple[PartCheck, ...]
        Each part as judged.
    rating : str
        Name of the family.

    Returns
    -------
    Gate
        With its verdict and what governs it.
    """
    hottest = max(parts, key=lambda p: p.used)
    allowed = hottest.allowed_watts or 0.0
    by_volts = (
        hottest.allowed_volts is not None
        and hottest.worst_volts * allowed > hottest.worst_watts * hottest.allowed_volts
    )
    verdict = worst(p.verdict for p in parts)

    def say() -> tuple[str, ...]:
        return power_words(hottest, rating, verdict, by_volts=by_volts)

    used = hottest.used
    if by_volts:
        volts, most = hottest.worst_volts, hottest.allowed_volts
        return Gate("power", verdict, volts, VOLT, most, "limiting", used, say)
    return Gate("power", verdict, hottest.worst_watts, WATT, allowed, "allowed", used, say)
