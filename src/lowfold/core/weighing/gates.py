"""The gates of a choice: what is judged of it, each by its governing figure."""

from __future__ import annotations

from collections.abc import Sequence

from lowfold.core.checking.check import Check, OutputCheck, PartCheck
from lowfold.core.checking.survey import Survey
from lowfold.core.checking.verdict import Verdict, verdict_on, worst
from lowfold.core.values.quantities import FRACTION, OHM, VOLT, WATT
from lowfold.core.weighing.conditions import Conditions
from lowfold.core.weighing.gate import Gate, GateName, Say
from lowfold.core.weighing.gate_words import (
    corner_words,
    overdriven_words,
    power_words,
    spread_words,
    value_words,
)
from lowfold.core.weighing.load_gate import Carried, load_gate
from lowfold.core.weighing.mark import Mark

__all__ = ["gates_of", "overdriven_gate", "power_gate", "spread_gate", "value_gate"]


def gates_of(
    found: Survey,
    check: Check,
    marks: Sequence[Mark],
    conditions: Conditions,
    carried: Carried | None,
) -> tuple[Gate, ...]:
    """Return the gates of a network that is surveyed and judged, whatever its need.

    Parameters
    ----------
    check : Check
        What was judged.
    marks : Sequence[Mark]
        Figures against their targets.
    conditions : Conditions
        What a network works under, and what is wanted.
    carried : Carried | None
        Where a string carries least against its load.
    """
    if marks:
        beside = ""
        if marks[0].kind is OHM and any(r.load.ohms is not None for r in found.box.loads):
            beside = " and what lies beside them"
        gates = [
            _value_gate(marks, found, beside),
            _spread_gate(marks, found, check, beside),
            load_gate(marks, found, check, conditions.stiff, carried),
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
    """
    verdict = verdict_on(abs(error), within)
    return Gate("value", verdict, error, FRACTION, within, "of target", abs(error) / within, say)


def _value_gate(marks: Sequence[Mark], found: Survey, beside: str) -> Gate:
    """Judge the nominal figure that uses the largest share of its window, wherever its load is."""
    moved = dict(zip(found.asked.outputs, found.moved, strict=False))

    def ends(mark: Mark) -> tuple[float, float]:
        if mark.kind is OHM:
            return _beside(mark, found)
        there = moved.get(mark.name)
        return (there.lowest, there.highest) if there else (mark.nominal, mark.nominal)

    def off(mark: Mark) -> float:
        return max((v / mark.target - 1 for v in (mark.nominal, *ends(mark))), key=abs)

    mark = max(marks, key=lambda m: abs(off(m)) / m.within)

    def say() -> tuple[str, ...]:
        return value_words(mark, beside, among=len(marks) > 1, ends=ends(mark))

    return value_gate(off(mark), mark.within, say)


def _beside(mark: Mark, found: Survey) -> tuple[float, float]:
    """Return a nominal resistance beside what lies there at its least and at its most, Ω."""
    hung = [r for r in found.box.loads if r.load.ohms is not None]
    if found.bare is None or not hung:
        return mark.nominal, mark.nominal
    nominal = found.bare.nominal
    low, high = (
        sum(1 / end for end in each) for each in ([r.low for r in hung], [r.high for r in hung])
    )
    return nominal / (1 + nominal * low), nominal / (1 + nominal * high)


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
            ends = output.lowest_corner if low else output.highest_corner
            corner = corner_words(ends, found.box.supply.volts)
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
    """

    def said() -> tuple[str, ...]:
        return overdriven_words(at, volts, stands), *say()

    used = volts / stands
    return Gate("spread", Verdict.FAIL, volts, VOLT, stands, "it stands", used, said)


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
