"""Gates of several figures at once: taps of a ladder, or what is wanted of a stated network."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from lowfold.core.checking.check import Check
from lowfold.core.checking.verdict import judge
from lowfold.core.needs.choice import Mark
from lowfold.core.needs.gates import Gate, corner_words, span_words, spread_gate, value_gate
from lowfold.core.tolerance.box import Box, LoadRange
from lowfold.core.tolerance.spread import output_spread
from lowfold.core.values.quantities import FRACTION, OHM, VOLT, write

__all__ = ["taps_load_gate", "taps_spread_gate", "taps_value_gate"]


def taps_value_gate(marks: Sequence[Mark]) -> Gate:
    """Judge the nominal figure that uses the largest share of its window."""
    mark = max(marks, key=lambda m: abs(m.error) / m.within)
    which = f"{_name(mark)} at {write(mark.nominal, mark.kind)}"
    words = f"{which}, the worst one." if len(marks) > 1 else f"{which} with nominal parts."
    return value_gate(mark.error, mark.within, words)


def taps_spread_gate(marks: Sequence[Mark], check: Check) -> Gate:
    """Judge the figure whose worst corner uses the largest share of its window."""
    mark = max(marks, key=lambda m: max(map(abs, m.deviations)) / m.within)
    low = abs(mark.deviations[0]) >= abs(mark.deviations[1])
    if mark.kind is OHM:
        assert check.resistance is not None  # there is a mark on it
        spread = check.resistance.spread
        corner = f"every part {'low' if low else 'high'}"
        rss = spread.rss
    else:
        output = next(o.spread for o in check.outputs if o.at == mark.name)
        corner = corner_words(output.lowest_corner if low else output.highest_corner)
        rss = output.rss
    moves = f"{_name(mark)}: {corner}." if corner else "Nothing may deviate."
    span = span_words(mark.lowest, mark.highest, rss, mark.nominal, mark.kind)
    return spread_gate(mark.deviations, mark.within, (moves, span), check.outputs)


def taps_load_gate(box: Box, loads: Sequence[LoadRange], marks: Sequence[Mark]) -> Gate:
    """Judge every voltage over the loads' ranges alone, parts and supply nominal."""
    taps = [m for m in marks if m.kind is VOLT]
    if not loads or not taps:
        note = "Nothing is connected." if not loads else "No voltage is wanted."
        return Gate("load", None, 0.0, FRACTION, None, "sag", None, (note,))
    still = replace(
        box,
        supply=replace(box.supply, tolerance=0.0),
        loads=tuple(loads),
        half_widths=(0.0,) * len(box.half_widths),
        tracking=None,
    )
    used, sags = [], []
    for mark in taps:
        moved = output_spread(still, box.circuit.node(mark.name))
        furthest = max(abs(v - mark.target) for v in (moved.lowest, moved.highest))
        used.append((furthest / (mark.within * abs(mark.target)), mark))
        sag = moved.nominal / moved.unloaded - 1 if moved.unloaded else 0.0
        sags.append((sag, mark.name))
    most, governing = max(used, key=lambda u: u[0])
    sag, sagging = min(sags)
    return Gate(
        "load",
        judge(most, 1.0),
        sag,
        FRACTION,
        governing.within,
        f"sag of {sagging}, counted",
        most,
        (f"{governing.name} moves furthest; a load at one tap moves all the others.",),
    )


def _name(mark: Mark) -> str:
    return mark.name or "the whole"
