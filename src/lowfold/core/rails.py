"""Lay any network out: junctions as rails, parts upright between the two rails they join.

For networks that are no series–parallel tree. Rails lie at heights in the order of the junctions'
voltages, so current runs down.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Final

from lowfold.core.circuit import GROUND, SUPPLY
from lowfold.core.fold import Edge
from lowfold.core.schematic import Drawing, Metrics, Placed, Wire

__all__ = ["draw_rails"]

MOST_ORDERED: Final = 24  #: parts whose columns are put in the order with few crossings


def draw_rails(
    edges: Sequence[Edge],
    volts: Mapping[int, float],
    titles: Mapping[int, str],
    metrics: Metrics,
    *,
    driven: bool = True,
) -> Drawing:
    """Lay out `edges`; loads (L1, L2 …) are parts like any other.

    Parameters
    ----------
    volts : mapping of junction to V
        Decides which junction lies above which.
    """
    nodes = {n for e in edges for n in (e.a, e.b)} | {SUPPLY, GROUND}
    order = sorted(nodes, key=lambda n: (n == GROUND, n != SUPPLY, -volts.get(n, 0.0), n))
    level = {node: k for k, node in enumerate(order)}
    upright = _ordered(edges, level)
    left = metrics.terminal
    column = {e.ref: left + metrics.part_width * (k + 0.15) for k, e in enumerate(upright)}
    height = {node: k * metrics.part_height for node, k in level.items()}
    bottom = height[GROUND]
    wires: list[Wire] = []
    dots: list[Placed] = []
    for node in order:
        touching = [column[e.ref] for e in upright if node in (e.a, e.b)]
        along = [*touching, *([0.0] if node in (SUPPLY, GROUND) else [])]
        wires.append(Wire(min(along), height[node], max(along), height[node]))
        inside = [x for x in touching if min(along) < x < max(along)]
        named = "" if node in (SUPPLY, GROUND) else titles[node]
        dots += [Placed("", x, height[node]) for x in inside]
        if named:
            dots.append(Placed(named, min(touching), height[node]))
    placed = []
    for e in upright:
        top, low = sorted((height[e.a], height[e.b]))
        # In the gap below its upper rail, where no other rail runs through its writing.
        x, middle, half = column[e.ref], top + metrics.part_height / 2, metrics.symbol / 2
        wires += [Wire(x, top, x, middle - half), Wire(x, middle + half, x, low)]
        placed.append(Placed(e.ref, x, middle))
    if driven:
        wires.append(Wire(0.0, 0.0, 0.0, bottom))
    open_ends = (Placed("in", 0.0, 0.0), Placed("0", 0.0, bottom))
    return Drawing(
        width=left + metrics.part_width * len(upright),
        height=bottom,
        column=metrics.part_width,
        symbol=metrics.symbol,
        lines=metrics.lines,
        wires=tuple(wires),
        parts=tuple(placed),
        loads=(),
        dots=tuple(dots),
        supply=Placed("supply", 0.0, bottom / 2) if driven else None,
        ends=() if driven else open_ends,
    )


def _ordered(edges: Sequence[Edge], level: Mapping[int, int]) -> list[Edge]:
    """Order the columns so that few wires cross a rail: move one at a time while it helps."""
    found = sorted(edges, key=lambda e: (*sorted((level[e.a], level[e.b])), e.ref))
    best = _crossings(found, level)
    improved = len(found) <= MOST_ORDERED
    while improved and best:
        improved = False
        for start in range(len(found)):
            for end in range(len(found)):
                moved = found[:start] + found[start + 1 :]
                moved.insert(end, found[start])
                crossings = _crossings(moved, level)
                if crossings < best:
                    found, best, improved = moved, crossings, True
    return found


def _crossings(edges: Sequence[Edge], level: Mapping[int, int]) -> int:
    """Count the upright wires that cross a rail they are not joined to."""
    reach: dict[int, list[int]] = {}
    for place, e in enumerate(edges):
        for node in (e.a, e.b):
            reach.setdefault(node, []).append(place)
    for node in (SUPPLY, GROUND):
        reach.setdefault(node, []).append(-1)  # the supply stands at the left
    count = 0
    for place, e in enumerate(edges):
        top, low = sorted((level[e.a], level[e.b]))
        count += sum(
            top < level[node] < low and places[0] < place < places[-1]
            for node, places in reach.items()
        )
    return count
