"""Lay a network out as dots with its parts slanting straight from one to the other.

As it is sketched on the back of an envelope, and as what is in series is hardest to see. Junctions
lie at heights in the order of their voltages; where they lie across is drawn many times, and the
sketch with the fewest crossings, and the most room for dots and parts, is taken.
"""

from __future__ import annotations

import itertools
import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from lowfold.core.drawing.schematic import Drawing, Metrics, Placed
from lowfold.core.drawing.wires import Wire
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch

__all__ = ["draw_slanted"]

SKETCHES: Final = 300
COLUMNS: Final = 5  #: places across that a junction may lie at
NEAR: Final = 34.0  #: of a dot or of another part, and it is crowded
APART: Final = 58.0  #: between parts that join the same two dots


@dataclass(frozen=True, slots=True)
class _Strand:
    """A part on its way, in the complex plane: a dot, both ends of the symbol, the other dot."""

    ref: str
    start: complex
    upper: complex
    lower: complex
    end: complex

    @property
    def middle(self) -> complex:
        return (self.upper + self.lower) / 2


def draw_slanted(
    edges: Sequence[Branch],
    volts: Mapping[int, float],
    titles: Mapping[int, str],
    metrics: Metrics,
    chance: np.random.Generator,
) -> Drawing:
    """Lay out `edges`, each a straight part between two dots.

    Parameters
    ----------
    edges : sequence of Branch
        Resistances between nodes, Ω.
    volts : mapping of junction to V
        Decides which junction lies above which.
    titles : mapping of junction to str
        What nodes are called; the supply's ends are open terminals.
    metrics : Metrics
        `part_height` from one height to the next, `part_width` from place to place, `symbol` long.
    chance : numpy.random.Generator
        Of the sketches.
    """
    nodes = {n for e in edges for n in (e.a, e.b)} | {SUPPLY, GROUND}
    order = sorted(nodes, key=lambda n: (n == GROUND, n != SUPPLY, -volts.get(n, 0.0), n))
    height = {node: k * metrics.part_height for k, node in enumerate(order)}
    best: dict[int, complex] = {}
    least = math.inf
    for _ in range(SKETCHES):
        across = chance.integers(0, COLUMNS, size=len(order))
        tried = {
            node: complex(x * metrics.part_width, height[node])
            for node, x in zip(order, across.tolist(), strict=True)
        }
        cost = _crowded(edges, tried, metrics)
        if cost < least:
            best, least = tried, cost
    strands = _strands(edges, best, metrics)
    return _drawn(edges, best, strands, order, titles, metrics)


def _strands(
    edges: Sequence[Branch], places: Mapping[int, complex], metrics: Metrics
) -> list[_Strand]:
    """Return the way of each part; those between the same dots side by side."""
    beside: dict[frozenset[int], list[Branch]] = defaultdict(list)
    for e in edges:
        beside[frozenset((e.a, e.b))].append(e)
    found = []
    for group in beside.values():
        a, b = places[group[0].a], places[group[0].b]
        along = (b - a) / (abs(b - a) or 1.0)
        for k, e in enumerate(group):
            middle = (a + b) / 2 + (k - (len(group) - 1) / 2) * APART * along * 1j
            half = along * metrics.symbol / 2
            ends = (a, b) if e.a == group[0].a else (b, a)
            half = half if e.a == group[0].a else -half
            found.append(_Strand(e.ref, ends[0], middle - half, middle + half, ends[1]))
    return found


def _crowded(edges: Sequence[Branch], places: Mapping[int, complex], metrics: Metrics) -> float:
    """Return how hard a sketch is to read: what crosses, lies on a dot, or has no room."""
    strands = _strands(edges, places, metrics)
    ends = {e.ref: (e.a, e.b) for e in edges}
    cost = 0.0
    for one in strands:
        cost += 40.0 * (abs(one.end - one.start) < metrics.symbol + 24)
        cost += 6.0 * (abs(one.end.real - one.start.real) < 1)  # upright, it does not slant
        for node, place in places.items():
            if node not in ends[one.ref]:
                cost += 30.0 * (_distance(place, one.start, one.end) < NEAR)
    for one, other in itertools.combinations(strands, 2):
        cost += 25.0 * (abs(one.middle - other.middle) < 1.6 * NEAR)
        shared = len({*ends[one.ref]} & {*ends[other.ref]})
        if shared < 2:
            cost += 8.0 * _cross(one, other)
            cost += 20.0 * (_distance(one.middle, other.start, other.end) < NEAR)
            cost += 20.0 * (_distance(other.middle, one.start, one.end) < NEAR)
    return cost


def _distance(point: complex, a: complex, b: complex) -> float:
    """Return how far a point is from a stretch."""
    along = b - a
    share = ((point - a) * along.conjugate()).real / max(abs(along) ** 2, 1e-9)
    return abs(point - a - min(max(share, 0.0), 1.0) * along)


def _cross(one: _Strand, other: _Strand) -> bool:
    """Whether two parts' stretches cross."""

    def side(p: complex, q: complex, r: complex) -> float:
        return ((q - p).conjugate() * (r - p)).imag

    a, b, c, d = one.start, one.end, other.start, other.end
    return side(a, b, c) * side(a, b, d) < 0 and side(c, d, a) * side(c, d, b) < 0


def _drawn(
    edges: Sequence[Branch],
    places: Mapping[int, complex],
    strands: Sequence[_Strand],
    order: Sequence[int],
    titles: Mapping[int, str],
    metrics: Metrics,
) -> Drawing:
    ends = {e.ref: (e.a, e.b) for e in edges}
    every = [p for s in strands for p in (s.start, s.upper, s.lower, s.end)]
    corner = complex(min(p.real for p in every), min(p.imag for p in every))
    wires, parts = [], []
    for strand in strands:
        one, other = ends[strand.ref]
        for start, end, node in (
            (strand.start - corner, strand.upper - corner, one),
            (strand.lower - corner, strand.end - corner, other),
        ):
            wires.append(Wire(start.real, start.imag, end.real, end.imag, node))
        run = strand.lower - strand.upper
        run = run if run.imag >= 0 else -run
        at = strand.middle - corner
        parts.append(
            Placed(strand.ref, at.real, at.imag, -math.degrees(math.atan2(run.real, run.imag)))
        )
    dots = {node: place - corner for node, place in places.items()}
    inner = [n for n in order if n not in (SUPPLY, GROUND)]
    return Drawing(
        width=max(p.real for p in every) - corner.real + metrics.part_width / 2,
        height=max(p.imag for p in every) - corner.imag,
        column=metrics.part_width,
        symbol=metrics.symbol,
        lines=metrics.lines,
        stacked=metrics.stacked,
        wires=tuple(wires),
        parts=tuple(parts),
        loads=(),
        dots=tuple(Placed(titles[n], dots[n].real, dots[n].imag) for n in inner),
        supply=None,
        ends=tuple(
            Placed(name, dots[n].real, dots[n].imag) for n, name in ((SUPPLY, "in"), (GROUND, "0"))
        ),
    )
