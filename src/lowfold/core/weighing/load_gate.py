"""The Load gate: whether what is wanted stands only while the right load is connected.

A load's figure is rarely better than ±10 %, and the load may be unplugged, asleep or in reset
(common practice). So an output is judged over the whole of what is stated, and without anything: it
passes where the string is stiff, or where it keeps its window with nothing connected as well.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from lowfold.core.checking.check import Check
from lowfold.core.checking.survey import Moved, Survey
from lowfold.core.checking.verdict import ROUNDING, Verdict, verdict_on
from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit
from lowfold.core.solving.nets import Load
from lowfold.core.tolerance.box import LoadRange
from lowfold.core.values.quantities import FRACTION, OHM, VOLT, write
from lowfold.core.weighing.gate import Gate
from lowfold.core.weighing.gate_words import (
    above_words,
    beside_words,
    holding_words,
    load_words,
    stiffness_words,
    unloaded_words,
)
from lowfold.core.weighing.mark import Mark

__all__ = ["Carried", "carried_at", "load_gate", "stiffness"]


@dataclass(frozen=True, slots=True)
class Carried:
    """What a string carries past a junction against what is drawn there."""

    at: str  #: junction
    ratio: float  #: inf where nothing is drawn


def carried_at(
    circuit: Circuit, volts: Sequence[float], loads: Sequence[Load]
) -> tuple[Carried, ...]:
    """Return for each junction with a load how many times its current goes past it.

    What goes past is the lesser of what parts bring to the junction and what they take away.

    Parameters
    ----------
    volts : sequence of float
        Of each node, V.
    loads : sequence of Load
        What hangs from nodes to 0 V, at the values that gave those voltages.
    """
    names = {node: name for name, node in circuit.names.items()}
    found = []
    for node in dict.fromkeys(load.at for load in loads):
        if node in {SUPPLY, GROUND, circuit.low}:
            continue
        here = [load for load in loads if load.at == node]
        fed = volts[node] > 0
        drawn = math.fsum(volts[node] * x.siemens + ((x.amps or 0.0) if fed else 0.0) for x in here)
        away = into = 0.0
        for branch in circuit.branches:
            if node not in (branch.a, branch.b) or branch.a == branch.b:
                continue
            other = branch.b if branch.a == node else branch.a
            amps = (volts[node] - volts[other]) / branch.ohms
            away, into = away + max(amps, 0.0), into + max(-amps, 0.0)
        starved = not fed and any(x.amps for x in here)
        past = 0.0 if starved else min(away, into)
        ratio = past / abs(drawn) if drawn else (0.0 if starved else math.inf)
        found.append(Carried(names.get(node, ""), ratio))
    return tuple(found)


def stiffness(found: Survey) -> Carried | None:
    """Return the junction where the string carries least against its load at its heaviest.

    None where no load draws anything.
    """
    if found.heavy is None or not found.box.loads:
        return None
    heavy = [r.heaviest for r in found.box.loads]
    every = carried_at(found.box.circuit, found.heavy.tolist(), heavy)
    least = min(every, key=lambda c: c.ratio, default=None)
    return None if least is None or math.isinf(least.ratio) else least


def load_gate(
    marks: Sequence[Mark],
    found: Survey,
    check: Check,
    stiff: float | None,
    carried: Carried | None,
) -> Gate:
    """Judge what is wanted over its loads' ranges, and without them.

    Parameters
    ----------
    marks : Sequence[Mark]
        Figures against their targets.
    check : Check
        What was judged.
    stiff : float | None
        How many times its load's current a string is to carry; None where loads are always there.
    carried : Carried | None
        Where the string carries least against its load.
    """
    taps = [m for m in marks if m.kind is VOLT]
    loads = found.box.loads
    if not taps:
        if all(r.load.at == SUPPLY and r.load.ohms is not None for r in loads):
            return _beside_gate(marks[0], found)
        return Gate.unjudged("load", FRACTION, "No voltage is wanted.", of="sag", figure=0.0)
    if not loads:
        alone = taps[0] if len(marks) == 1 else None

        def bare() -> tuple[str, ...]:
            note = "Nothing is connected."
            return (f"{note} {_limits(alone, found)}" if alone is not None else note,)

        return Gate.unjudged("load", FRACTION, bare, of="sag", figure=0.0)
    return _tapped_gate(taps, found, check, stiff, carried)


def _tapped_gate(
    taps: Sequence[Mark],
    found: Survey,
    check: Check,
    stiff: float | None,
    least: Carried | None,
) -> Gate:
    spreads = {o.at: o.spread for o in check.outputs}
    moved = dict(zip(found.asked.outputs, found.moved, strict=True))
    freed = dict(zip(found.asked.outputs, found.freed, strict=False))
    enough = stiff is None or least is None or least.ratio >= stiff * (1 - ROUNDING)
    leaving = [m for m in taps if m.name not in freed or not _inside(m, freed[m.name])]
    outside = [m for m in taps if not _inside(m, Moved(m.lowest, m.highest))]
    above = _above(found, check)
    sag, sagging = min((_sag(spreads[m.name]), m.name) for m in taps)

    def used_by(mark: Mark, ends: Moved) -> float:
        return max(abs(v - mark.target) for v in (ends.lowest, ends.highest)) / (
            mark.within * abs(mark.target)
        )

    governing = max(taps, key=lambda m: used_by(m, moved[m.name]))
    used = used_by(governing, moved[governing.name])
    verdict = Verdict.PASS if enough or not leaving else Verdict.MARGINAL
    if outside or above is not None:
        verdict = Verdict.FAIL
        beyond = [used_by(m, Moved(m.lowest, m.highest)) for m in outside]
        used = max([*beyond, *([above.used] if above is not None else [])])

    alone = taps[0] if len(taps) == 1 else None

    def say() -> tuple[str, ...]:
        first = _first_words(taps, found, check, verdict, leaving)
        if above is not None:
            first = above_words(above.at, above.volts, above.stands)
        asked = f"{stiff:g} × is asked" if stiff is not None else "the load is always there"
        ratio = None if least is None else least.ratio
        at = "" if alone is not None or least is None else least.at
        return first, stiffness_words(ratio, asked, stiff=enough and stiff is not None, at=at)

    of = "sag, counted" if alone is not None else f"sag of {sagging}, counted"
    return Gate("load", verdict, sag, FRACTION, governing.within, of, used, say)


def _sag(spread: object) -> float:
    nominal, unloaded = spread.nominal, spread.unloaded  # type: ignore[attr-defined]
    return nominal / unloaded - 1 if unloaded else 0.0


def _inside(mark: Mark, ends: Moved) -> bool:
    low, high = mark.window
    return low <= ends.lowest and ends.highest <= high


@dataclass(frozen=True, slots=True)
class _Above:
    """An output that comes above what it feeds stands once its load is not there."""

    at: str
    volts: float
    stands: float

    @property
    def used(self) -> float:
        return self.volts / self.stands


def _above(found: Survey, check: Check) -> _Above | None:
    """Return the output that comes furthest above what it feeds stands without its load."""
    over = []
    for output, ends in zip(check.outputs, found.freed, strict=False):
        volts = max(abs(ends.lowest), abs(ends.highest))
        if output.stands is not None and volts > output.stands * (1 + ROUNDING):
            over.append(_Above(output.at, volts, output.stands))
    return max(over, key=lambda a: a.used, default=None)


def _hung(found: Survey, at: str) -> list[LoadRange]:
    node = found.box.circuit.node(at)
    return [r for r in found.box.loads if r.load.at == node]


def _limits(mark: Mark, found: Survey, *, told: bool = True) -> str:
    """Say which loads hold at every corner, and what the output is without one."""
    amps = any(r.load.amps is not None for r in _hung(found, mark.name))
    line = found.lines[0]
    said = load_words(line, mark.window, amps=amps)
    return f"{said} {unloaded_words(line.open_volts)}" if told else said


def _first_words(
    taps: Sequence[Mark],
    found: Survey,
    check: Check,
    verdict: Verdict,
    leaving: Sequence[Mark],
) -> str:
    """Say what governs: over the range, without a load, or at which tap."""
    if len(check.outputs) == 1 == len(taps) and found.lines and _hung(found, taps[0].name):
        if verdict is not Verdict.MARGINAL:
            return _limits(taps[0], found)
        amps = any(r.load.amps is not None for r in _hung(found, taps[0].name))
        return holding_words(found.lines[0], taps[0].window, amps=amps)
    if not found.freed:
        return "With how little connected it holds was not looked at: too many values move."
    if not leaving:
        return "Every tap keeps its window whichever loads are taken off."
    freed = dict(zip(found.asked.outputs, found.freed, strict=True))

    def off(mark: Mark) -> float:
        ends = freed[mark.name]
        return max(abs(v - mark.target) for v in (ends.lowest, ends.highest)) / abs(mark.target)

    worst = max(leaving, key=off)
    ends = freed[worst.name]
    far = max((ends.lowest, ends.highest), key=lambda v: abs(v - worst.target))
    held = "holds" if verdict is not Verdict.FAIL else "does not hold"
    return (
        f"{worst.name} {held} over the loads stated; with one taken off it comes to "
        f"{write(far, VOLT)}, and a load at one tap moves all the others."
    )


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
    furthest, corner = (
        max(abs(r - target) for r in ends) for ends in (beside, (mark.lowest, mark.highest))
    )
    verdict = verdict_on(furthest, within * target)
    if verdict_on(corner, within * target) is Verdict.FAIL:
        verdict, furthest = Verdict.FAIL, corner
    elif verdict is Verdict.MARGINAL:
        verdict = Verdict.PASS
    used, shift = furthest / (within * target), beside[1] / nominal - 1
    return Gate("load", verdict, shift, FRACTION, within, "shift, counted", used, say)
